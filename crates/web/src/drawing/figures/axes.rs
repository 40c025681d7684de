//! The field of a chart: scales, rules, words at the axes.

use crate::drawing::chart::round_values;
use crate::drawing::escape;
use crate::show;
use std::fmt::Write;

/// Width and height of a chart.
pub(super) const SIZE: (f64, f64) = (640.0, 250.0);
/// Left, right, top, bottom.
const MARGINS: [f64; 4] = [60.0, 26.0, 26.0, 26.0];
/// Room below for what the scale across shows.
const WORDS: f64 = 18.0;
/// Rules, about.
const RULES: f64 = 4.0;

/// A field with a scale across and one up.
pub(super) struct Field {
    pub x: (f64, f64),
    pub y: (f64, f64),
}

impl Field {
    /// A scale up from nought to a round value at or above `top`.
    pub fn up_to(x: (f64, f64), top: f64) -> Self {
        let top = if top > 0.0 && top.is_finite() {
            top
        } else {
            1.0
        };
        let rules = round_values(0.0, top, RULES);
        let step = rules.get(1).map_or(top, |second| second - rules[0]);
        let y = (0.0, (top / step - 1e-9).ceil() * step);
        Self { x, y }
    }

    pub fn at_x(&self, v: f64) -> f64 {
        let [left, right, ..] = MARGINS;
        left + share(v, self.x) * (SIZE.0 - left - right)
    }

    pub fn at_y(&self, v: f64) -> f64 {
        let [.., top, bottom] = MARGINS;
        SIZE.1 - bottom - share(v, self.y) * (SIZE.1 - top - bottom)
    }

    /// The bottom of the field.
    pub fn ground(&self) -> f64 {
        SIZE.1 - MARGINS[3]
    }

    /// The head of a drawing with its rules; `told` says how a value of the scale is written.
    pub fn begin(
        &self,
        title: &str,
        (x_words, y_words): (&str, &str),
        told: impl Fn(f64) -> String,
    ) -> String {
        let (w, mut h) = SIZE;
        if !x_words.is_empty() {
            h += WORDS;
        }
        let label = escape(title);
        let mut svg = format!(
            r#"<svg class="figure-chart" viewBox="0 0 {w} {h}" role="img" aria-label="{label}">"#
        );
        for v in round_values(self.y.0, self.y.1, RULES) {
            let (at, from, to) = (self.at_y(v), MARGINS[0], w - MARGINS[1]);
            let _ = write!(
                svg,
                r#"<path class="rule" d="M{from} {at:.1}H{to:.1}"/><text class="scale" x="{:.1}"
                    y="{:.1}">{}</text>"#,
                from - 6.0,
                at + 4.0,
                escape(&told(v))
            );
        }
        let _ = write!(
            svg,
            r#"<text class="axis-words" x="4" y="14">{}</text>"#,
            escape(y_words)
        );
        if !x_words.is_empty() {
            let _ = write!(
                svg,
                r#"<text class="axis-words middle" x="{:.1}" y="{:.1}">{}</text>"#,
                f64::midpoint(MARGINS[0], w - MARGINS[1]),
                h - 6.0,
                escape(x_words)
            );
        }
        svg
    }

    /// A word below a place of the scale across.
    pub fn below(&self, svg: &mut String, v: f64, words: &str) {
        let _ = write!(
            svg,
            r#"<text class="along" x="{:.1}" y="{:.1}">{}</text>"#,
            self.at_x(v),
            self.ground() + 16.0,
            escape(words)
        );
    }
}

fn share(v: f64, (low, high): (f64, f64)) -> f64 {
    match high > low && v.is_finite() {
        true => ((v - low) / (high - low)).clamp(0.0, 1.0),
        false => 0.0,
    }
}

/// A value of a scale: as few digits as it needs.
pub(super) fn plain(v: f64) -> String {
    show::number((v * 1e6).round() / 1e6)
}
