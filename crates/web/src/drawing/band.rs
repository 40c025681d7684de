//! A result with its uncertainty as a band, beside what it stands against.

use super::escape;
use std::fmt::Write;

/// Width and height of the drawing, and the margin at its sides.
const SIZE: (f64, f64) = (320.0, 74.0);
const MARGIN: f64 = 26.0;

/// A number with one standard deviation, and what was expected.
pub struct Band<'a> {
    pub value: f64,
    pub u: f64,
    pub against: Option<f64>,
    /// "0.475 ± 0.021 mm", for screen readers.
    pub words: &'a str,
    /// What stands below the number and what was expected, with units.
    pub shown: String,
    pub expected: String,
}

/// The drawing.
pub fn svg(band: &Band) -> String {
    let reach = 3.2 * band.u.max(f64::MIN_POSITIVE);
    let against = band.against.unwrap_or(band.value);
    let low = (band.value - reach).min(against);
    let high = (band.value + reach).max(against);
    let at = |v: f64| MARGIN + (v - low) / (high - low) * (SIZE.0 - 2.0 * MARGIN);
    let (w, h) = SIZE;
    let label = escape(&format!(
        "{}; the band is one and two standard deviations",
        band.words
    ));
    let mut svg = format!(
        r#"<svg class="band-of" viewBox="0 0 {w} {h}" role="img" aria-label="{label}"><path
            class="axis" d="M8 40H{:.1}"/>"#,
        w - 8.0
    );
    for (class, many) in [("two", 2.0), ("one", 1.0)] {
        let (a, b) = (
            at(band.value - many * band.u),
            at(band.value + many * band.u),
        );
        let _ = write!(
            svg,
            r#"<rect class="{class}" x="{a:.1}" y="28" width="{:.1}" height="24" rx="4"/>"#,
            (b - a).max(1.0)
        );
    }
    let x = at(band.value);
    let inside = |x: f64| x.clamp(46.0, w - 46.0);
    let _ = write!(
        svg,
        r#"<path class="value" d="M{x:.1} 24V56"/><text class="number" x="{:.1}" y="70">{}</text>"#,
        inside(x),
        escape(&band.shown)
    );
    if let Some(against) = band.against {
        let x = at(against);
        let _ = write!(
            svg,
            r#"<path class="wanted" d="M{x:.1} 20V60"/><text class="expected" x="{:.1}"
                y="14">{}</text>"#,
            inside(x),
            escape(&band.expected)
        );
    }
    svg + "</svg>"
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_band_holds_its_number_and_what_was_expected_within_the_drawing() {
        for against in [None, Some(0.45), Some(-30.0), Some(0.475)] {
            let svg = svg(&Band {
                value: 0.475,
                u: 0.021,
                against,
                words: "x",
                shown: "0.475 <mm".into(),
                expected: "0.45 mm".into(),
            });
            assert!(svg.contains("0.475 &#60;mm") && !svg.contains("NaN"));
            assert_eq!(svg.contains("wanted"), against.is_some());
        }
    }
}
