//! A figure with the print's height upward: each layer a step, the height of the fault across.

use crate::drawing::chart::round_values;
use crate::drawing::escape;
use crate::show;
use std::fmt::Write;

/// Width and height, in units of the drawing. The script that reads heights off a chart knows
/// them from attributes.
const SIZE: (f64, f64) = (150.0, 400.0);
/// Left, right, top, bottom.
const MARGINS: (f64, f64, f64, f64) = (28.0, 8.0, 26.0, 24.0);
/// Rows told apart: what lies closer is drawn as its least and most.
const ROWS: usize = 360;

/// A layer's value: from, to, and the figure there.
pub type Step = (f64, f64, f64);

/// A chart.
pub struct ByHeight<'a> {
    /// What is shown, with its unit.
    pub title: &'a str,
    /// The name of the figure, for the script.
    pub figure: &'a str,
    /// Layers from below.
    pub steps: &'a [Step],
    /// A second, thinner line: the most in a layer.
    pub most: &'a [Step],
    /// An upright line with a word: a limit.
    pub limit: Option<(f64, String)>,
    /// Height of the whole, mm.
    pub tall: f64,
    /// Height of the fault, mm.
    pub fault: Option<f64>,
    /// Height looked at, mm.
    pub at: f64,
}

/// The drawing.
pub fn svg(chart: &ByHeight<'_>) -> String {
    let (w, h) = SIZE;
    let (left, right, top, bottom) = MARGINS;
    let values = chart.steps.iter().chain(chart.most).map(|step| step.2);
    let most = values
        .fold(0.0, f64::max)
        .max(chart.limit.as_ref().map_or(0.0, |l| l.0));
    let least = chart
        .steps
        .iter()
        .map(|step| step.2)
        .fold(f64::INFINITY, f64::min);
    // Temperatures tell nothing from zero on; what may be nothing does.
    let from_zero = least < 0.5 * most || least <= 0.0;
    let (low, high) = if from_zero {
        (0.0, if most > 0.0 { most * 1.08 } else { 1.0 })
    } else {
        let spare = (most - least).max(0.04 * most) * 0.5;
        ((least - spare).max(0.0), most + spare)
    };
    let x = |v: f64| left + (v - low) / (high - low) * (w - left - right);
    let y = |z: f64| h - bottom - z / chart.tall.max(0.1) * (h - top - bottom);
    let label = escape(&format!("{}, by height", chart.title));
    let mut svg = format!(
        r#"<svg class="by-height" viewBox="0 0 {w} {h}" role="img" aria-label="{label}"
            data-top="{top}" data-bottom="{}" data-tall="{}" data-figure="{}"><text class="name"
            x="6" y="16">{}</text>"#,
        h - bottom,
        chart.tall,
        chart.figure,
        escape(chart.title),
    );
    for z in round_values(0.0, chart.tall, 5.0) {
        let _ = write!(
            svg,
            r#"<path class="rule" d="M{left} {0:.1}H{1}"/><text class="up" x="{2}"
                y="{3:.1}">{4}</text>"#,
            y(z),
            w - right,
            left - 5.0,
            y(z) + 4.0,
            show::number(z),
        );
    }
    for v in round_values(low, high, 2.0) {
        let _ = write!(
            svg,
            r#"<path class="rule" d="M{0:.1} {top}V{1}"/><text class="along" x="{3:.1}"
                y="{2}">{4}</text>"#,
            x(v),
            h - bottom,
            h - 8.0,
            // The last one stays on the drawing.
            x(v).min(w - 14.0),
            show::number(v),
        );
    }
    if let Some((limit, word)) = &chart.limit {
        // The word stands on the side that has room for it.
        let near = x(*limit) < left + 56.0;
        let (side, place) = if near {
            ("after", 3.0)
        } else {
            ("before", -3.0)
        };
        let _ = write!(
            svg,
            r#"<path class="limit" d="M{0:.1} {top}V{1}"/><text class="limit-word {side}"
                x="{2:.1}" y="{3}">{4}</text>"#,
            x(*limit),
            h - bottom,
            x(*limit) + place,
            top + 11.0,
            escape(word),
        );
    }
    if !chart.most.is_empty() {
        let _ = write!(
            svg,
            r#"<path class="most" d="{}"/>"#,
            line(chart.most, chart.tall, x, y)
        );
    }
    let _ = write!(
        svg,
        r#"<path class="way" d="{}"/>"#,
        line(chart.steps, chart.tall, x, y)
    );
    if let Some(z) = chart.fault {
        let _ = write!(
            svg,
            r#"<path class="fault" d="M{left} {0:.1}H{1}"/>"#,
            y(z),
            w - right
        );
    }
    let _ = write!(
        svg,
        r#"<path class="here" d="M{left} 0H{1}" transform="translate(0 {0:.1})"/>"#,
        y(chart.at),
        w - right
    );
    svg + "</svg>"
}

/// Steps upward. Where layers lie closer than rows, a row shows its least and its most.
fn line(steps: &[Step], tall: f64, x: impl Fn(f64) -> f64, y: impl Fn(f64) -> f64) -> String {
    let mut path = String::new();
    let row = |z: f64| (z / tall.max(0.1) * ROWS as f64) as usize;
    let mut at = 0;
    let mut down = false;
    while at < steps.len() {
        let first = row(steps[at].0);
        let same = steps[at..]
            .iter()
            .take_while(|s| row(s.0) == first)
            .count()
            .max(1);
        let rows = &steps[at..at + same];
        let (from, to) = (rows[0].0, rows[same - 1].1);
        // Another object from the plate up is another line.
        down |= at > 0 && steps[at].0 < steps[at - 1].1 - 1.0;
        let pen = if at == 0 || down { 'M' } else { 'L' };
        down = false;
        let least = rows.iter().map(|s| s.2).fold(f64::INFINITY, f64::min);
        let most = rows.iter().map(|s| s.2).fold(f64::NEG_INFINITY, f64::max);
        let _ = write!(path, "{pen}{:.1} {:.1}V{:.1}", x(rows[0].2), y(from), y(to));
        if most - least > 1e-9 {
            let _ = write!(
                path,
                "H{:.1}H{:.1}H{:.1}",
                x(least),
                x(most),
                x(rows[same - 1].2)
            );
        }
        at += same;
    }
    path
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn ticks_are_round_and_within() {
        assert_eq!(round_values(0.0, 40.0, 5.0), [0.0, 10.0, 20.0, 30.0, 40.0]);
        assert_eq!(round_values(0.0, 7.5, 2.0), [0.0, 5.0]);
        assert!(round_values(3.0, 3.0, 4.0).is_empty());
    }

    #[test]
    fn many_layers_make_no_more_steps_than_rows_and_lose_no_extreme() {
        let steps: Vec<Step> = (0..5000)
            .map(|n| {
                (
                    f64::from(n) * 0.01,
                    f64::from(n + 1) * 0.01,
                    if n == 2500 { 9.0 } else { 1.0 },
                )
            })
            .collect();
        let path = line(&steps, 50.0, |v| v, |z| z);
        assert!(path.matches(['M', 'L']).count() <= ROWS + 1);
        assert!(path.contains("H9.0"), "the odd layer is drawn");
    }
}
