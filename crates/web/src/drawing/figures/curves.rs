//! Curves with their bands: chances that go down with time, shares against what was said.

use super::axes::Field;
use crate::drawing::chart::round_values;
use crate::drawing::escape;
use crate::show;
use std::fmt::Write;

/// One value with its interval.
#[derive(Debug, Clone, Copy)]
pub struct Point {
    pub x: f64,
    pub y: f64,
    pub low: f64,
    pub high: f64,
}

/// A curve, or points that stand by themselves.
pub struct Curve<'a> {
    /// Its look: `first`, `second`, `third`.
    pub look: &'a str,
    pub points: &'a [Point],
    /// Points with whiskers, and no line between them.
    pub apart: bool,
}

/// Shares, 0 to 1, over something.
pub struct Curves<'a> {
    /// For screen readers.
    pub title: &'a str,
    pub x_words: &'a str,
    pub y_words: &'a str,
    /// Least and greatest across.
    pub x: (f64, f64),
    pub curves: &'a [Curve<'a>],
    /// The line on which what was said comes true.
    pub diagonal: bool,
    /// How a value across is written.
    pub told: fn(f64) -> String,
}

impl Curves<'_> {
    /// The drawing.
    pub fn svg(&self) -> String {
        let field = Field {
            x: self.x,
            y: (0.0, 1.0),
        };
        let mut svg = field.begin(self.title, (self.x_words, self.y_words), show::percent);
        for v in round_values(self.x.0, self.x.1, 6.0) {
            field.below(&mut svg, v, &(self.told)(v));
        }
        if self.diagonal {
            let ends = [(self.x.0, 0.0), (self.x.1, 1.0)];
            let _ = write!(svg, r#"<path class="said" d="{}"/>"#, line(&field, ends));
        }
        for curve in self.curves {
            match curve.apart {
                true => apart(&mut svg, &field, curve),
                false => joined(&mut svg, &field, curve),
            }
        }
        svg + "</svg>"
    }
}

fn line(field: &Field, points: impl IntoIterator<Item = (f64, f64)>) -> String {
    let points = points.into_iter();
    let points: Vec<String> = points
        .map(|(x, y)| format!("{:.1} {:.1}", field.at_x(x), field.at_y(y)))
        .collect();
    format!("M{}", points.join("L"))
}

fn joined(svg: &mut String, field: &Field, curve: &Curve) {
    if curve.points.is_empty() {
        return;
    }
    let up = curve.points.iter().map(|p| (p.x, p.high));
    let down = curve.points.iter().rev().map(|p| (p.x, p.low));
    let look = escape(curve.look);
    let _ = write!(
        svg,
        r#"<path class="within {look}" d="{}Z"/><path class="curve {look}" d="{}"/>"#,
        line(field, up.chain(down)),
        line(field, curve.points.iter().map(|p| (p.x, p.y)))
    );
}

fn apart(svg: &mut String, field: &Field, curve: &Curve) {
    let look = escape(curve.look);
    for p in curve.points {
        let (x, y) = (field.at_x(p.x), field.at_y(p.y));
        let (low, high) = (field.at_y(p.low), field.at_y(p.high));
        let _ = write!(
            svg,
            r#"<path class="between" d="M{x:.1} {low:.1}V{high:.1}M{0:.1} {low:.1}H{1:.1}M{0:.1}
                {high:.1}H{1:.1}"/><circle class="dot {look}" cx="{x:.1}" cy="{y:.1}" r="5"/>"#,
            x - 4.0,
            x + 4.0
        );
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn bands_close_and_points_keep_their_whiskers() {
        let at = |x, y| Point {
            x,
            y,
            low: y - 0.1,
            high: y + 0.1,
        };
        let points = [at(0.0, 1.0), at(30.0, 0.8), at(90.0, 0.6)];
        let curve = |apart| Curve {
            look: "first",
            points: &points,
            apart,
        };
        let svg = Curves {
            title: "holds",
            x_words: "days",
            y_words: "holds",
            x: (0.0, 90.0),
            curves: &[curve(false), curve(true)],
            diagonal: true,
            told: |v| v.to_string(),
        }
        .svg();
        assert_eq!(svg.matches("class=\"dot first\"").count(), 3);
        assert!(svg.contains("Z\"/><path class=\"curve first\""));
        assert!(!svg.contains("NaN"));
    }
}
