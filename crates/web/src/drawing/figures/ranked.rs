//! Level bars, one a row, each with the interval it lies in.

use crate::drawing::escape;
use std::fmt::Write;

/// Width of the drawing, and of a row.
const WIDTH: f64 = 640.0;
const ROW: f64 = 30.0;
/// Where bars begin and end: words stand at both sides.
const FROM: f64 = 220.0;
const TO: f64 = 540.0;

/// One row.
pub struct Row {
    /// What it is.
    pub name: String,
    /// Its value and interval, 0 to 1 of the bar's whole length.
    pub value: f64,
    pub low: f64,
    pub high: f64,
    /// "83 % (68–94 %)".
    pub shown: String,
}

/// Level bars.
pub struct Ranked<'a> {
    /// For screen readers.
    pub title: &'a str,
    pub rows: &'a [Row],
}

impl Ranked<'_> {
    /// The drawing.
    pub fn svg(&self) -> String {
        let h = 8.0 + ROW * self.rows.len() as f64;
        let label = escape(self.title);
        let mut svg = format!(
            r#"<svg class="figure-chart ranked" viewBox="0 0 {WIDTH} {h}" role="img"
                aria-label="{label}">"#
        );
        let at = |v: f64| FROM + v.clamp(0.0, 1.0) * (TO - FROM);
        for (n, row) in self.rows.iter().enumerate() {
            let top = 4.0 + ROW * n as f64;
            let middle = top + ROW / 2.0;
            let _ = write!(
                svg,
                r#"<text class="scale" x="{:.1}" y="{:.1}">{}</text><rect class="whole" x="{FROM}"
                    y="{:.1}" width="{:.1}" height="14" rx="3"/><rect class="value" x="{FROM}"
                    y="{:.1}" width="{:.1}" height="14" rx="3"/>"#,
                FROM - 8.0,
                middle + 4.0,
                escape(&cut(&row.name)),
                middle - 7.0,
                TO - FROM,
                middle - 7.0,
                at(row.value) - FROM
            );
            let (low, high) = (at(row.low), at(row.high));
            let (up, down) = (middle - 5.0, middle + 5.0);
            let _ = write!(
                svg,
                r#"<path class="between" d="M{low:.1} {middle:.1}H{high:.1}M{low:.1}
                    {up:.1}V{down:.1}M{high:.1} {up:.1}V{down:.1}"/><text class="shown"
                    x="{:.1}" y="{:.1}">{}</text>"#,
                TO + 8.0,
                middle + 4.0,
                escape(&row.shown)
            );
        }
        svg + "</svg>"
    }
}

/// A name as long as fits beside its bar: the whole one stands in the table.
fn cut(name: &str) -> String {
    const FITS: usize = 32;
    match name.chars().count() > FITS {
        true => name.chars().take(FITS - 1).collect::<String>() + "…",
        false => name.to_string(),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn an_interval_beyond_the_bar_ends_with_it() {
        let rows = [Row {
            name: "a suspect of a name that is far too long for its place".into(),
            value: 0.5,
            low: -1.0,
            high: f64::INFINITY,
            shown: "50 %".into(),
        }];
        let svg = Ranked {
            title: "x",
            rows: &rows,
        }
        .svg();
        assert!(svg.contains("M220.0") && svg.contains("H540.0"), "{svg}");
        assert!(svg.contains('…') && !svg.contains("inf"));
    }
}
