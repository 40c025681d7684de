//! A ladder: bands with their grades, the best value and its interval.

use crate::show;
use std::fmt::Write;
use suspect_core::trials::{Best, Ladder};

const WIDE: f64 = 520.0;
const TALL: f64 = 190.0;
const LEFT: f64 = 40.0;
const FLOOR: f64 = 150.0;
const GRADE: f64 = 26.0;

/// Draws it, the lowest value left.
pub fn svg(ladder: &Ladder, best: &Best, unit: &str) -> String {
    let mut bands: Vec<(f64, Option<u8>)> = ladder
        .values
        .iter()
        .copied()
        .zip(ladder.grades.iter().copied())
        .collect();
    bands.sort_by(|a, b| a.0.total_cmp(&b.0));
    let (least, most) = (bands[0].0, bands[bands.len() - 1].0);
    let step = (most - least) / (bands.len() - 1) as f64;
    let span = most - least + 4.0 * step;
    let x = |v: f64| LEFT + (v - least + 2.0 * step) / span * (WIDE - LEFT - 10.0);
    let mut s = format!(
        r#"<svg class="ladder" viewBox="0 0 {WIDE} {TALL}" role="img"
            aria-label="Best at {} {unit}">"#,
        show::exact((best.best * 100.0).round() / 100.0)
    );
    let (low, high) = (x(best.low), x(best.high));
    let _ = write!(
        s,
        r#"<rect class="interval" x="{low:.1}" y="14" width="{:.1}" height="{:.1}"/>
        <line class="best" x1="{2:.1}" x2="{2:.1}" y1="10" y2="{FLOOR}"/>"#,
        high - low,
        FLOOR - 14.0,
        x(best.best)
    );
    for grade in 0..=5 {
        let y = FLOOR - f64::from(grade) * GRADE;
        let _ = write!(
            s,
            r#"<line class="rule" x1="{LEFT}" x2="{WIDE}" y1="{y}" y2="{y}"/><text
                x="{}" y="{}">{grade}</text>"#,
            LEFT - 16.0,
            y + 4.0
        );
    }
    for (n, (value, grade)) in bands.iter().enumerate() {
        let at = x(*value);
        if let Some(grade) = grade {
            let y = FLOOR - f64::from(*grade) * GRADE;
            let _ = write!(s, r#"<circle class="grade" cx="{at:.1}" cy="{y}" r="5"/>"#);
        }
        let low = FLOOR + if n % 2 == 0 { 16.0 } else { 32.0 };
        let _ = write!(
            s,
            r#"<text x="{at:.1}" y="{low}" text-anchor="middle">{}</text>"#,
            show::exact(*value)
        );
    }
    s + "</svg>"
}
