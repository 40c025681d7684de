//! Readings of one measure over time, each with its uncertainty, and what was done in between.

use super::escape;
use std::fmt::Write;

const SIZE: (f64, f64) = (640.0, 190.0);
/// Left, right, top, bottom.
const MARGINS: (f64, f64, f64, f64) = (64.0, 18.0, 20.0, 34.0);

/// A reading.
pub struct Point {
    /// Moment, in seconds.
    pub at: f64,
    pub value: f64,
    pub u: f64,
    /// Shown below: "3 Nov".
    pub day: String,
}

/// Something done in between, that readings before and after are compared by.
pub struct Step {
    pub at: f64,
    pub what: String,
}

/// The drawing; `unit` stands with a blank before it.
pub fn svg(points: &[Point], steps: &[Step], what: &str, unit: &str) -> String {
    let (w, h) = SIZE;
    let (left, right, top, bottom) = MARGINS;
    let values = points.iter().flat_map(|p| [p.value - p.u, p.value + p.u]);
    let (low, high) = values.fold((f64::INFINITY, f64::NEG_INFINITY), |(l, h), v| {
        (l.min(v), h.max(v))
    });
    let spare = 0.12 * (high - low).max(1e-9 + 0.01 * high.abs());
    let (low, high) = (low - spare, high + spare);
    let (first, last) = (points[0].at, points[points.len() - 1].at);
    let span = (last - first).max(1.0);
    let x = |at: f64| match points.len() {
        1 => f64::midpoint(left, w - right),
        _ => left + (at - first) / span * (w - left - right),
    };
    let y = |v: f64| top + (high - v) / (high - low) * (h - top - bottom);
    let label = escape(&format!("{what} over time, {} readings", points.len()));
    let mut svg =
        format!(r#"<svg class="series" viewBox="0 0 {w} {h}" role="img" aria-label="{label}">"#);
    for n in 0..=3 {
        let v = low + (high - low) * f64::from(n) / 3.0;
        let _ = write!(
            svg,
            r#"<path class="rule" d="M{left} {0:.1}H{1:.1}"/><text class="scale" x="{2:.1}"
                y="{3:.1}">{4}{unit}</text>"#,
            y(v),
            w - right,
            left - 6.0,
            y(v) + 4.0,
            rounded(v, high - low),
        );
    }
    let within = steps.iter().filter(|s| (first..=last).contains(&s.at));
    // Words of neighbours stand at different heights, so that they can be read.
    for (n, step) in within.enumerate() {
        let _ = write!(
            svg,
            r#"<path class="step" d="M{0:.1} {top}V{1:.1}"><title>{2}</title></path><text
                class="done" x="{3:.1}" y="{4:.1}">{2}</text>"#,
            x(step.at),
            h - bottom,
            escape(&step.what),
            x(step.at) + 4.0,
            top + 12.0 + 13.0 * (n % 4) as f64,
        );
    }
    let line: Vec<String> = points
        .iter()
        .map(|p| format!("{:.1} {:.1}", x(p.at), y(p.value)))
        .collect();
    let _ = write!(svg, r#"<path class="way" d="M{}"/>"#, line.join("L"));
    for (n, p) in points.iter().enumerate() {
        let (px, py) = (x(p.at), y(p.value));
        let _ = write!(
            svg,
            r#"<path class="bar" d="M{px:.1} {:.1}V{:.1}"/><circle class="dot" cx="{px:.1}"
                cy="{py:.1}" r="4.500"/>"#,
            y(p.value + p.u),
            y(p.value - p.u)
        );
        if n == 0 || n + 1 == points.len() {
            let _ = write!(
                svg,
                r#"<text class="day" x="{:.1}" y="{:.1}">{}</text>"#,
                px.clamp(left + 14.0, w - right - 20.0),
                h - 12.0,
                escape(&p.day)
            );
        }
    }
    svg + "</svg>"
}

/// A number to as many decimals as a span of the scale asks for.
fn rounded(v: f64, span: f64) -> String {
    let decimals = (2.0 - span.max(1e-9).log10().floor()).clamp(0.0, 4.0) as usize;
    format!("{v:.decimals$}").replace('-', "\u{2212}")
}
