//! A curve over its axes, with what was recognised marked on it.

use super::escape;
use std::fmt::Write;

const SIZE: (f64, f64) = (640.0, 220.0);
/// Left, right, top, bottom.
const MARGINS: (f64, f64, f64, f64) = (58.0, 16.0, 26.0, 36.0);
/// Rules across, and down, about.
const RULES: (f64, f64) = (4.0, 7.0);

/// What an axis shows.
pub struct Axis<'a> {
    /// "temperature, °C".
    pub words: &'a str,
    /// Least and greatest value on it; nothing where the curve decides.
    pub range: Option<(f64, f64)>,
    /// Equal steps are equal factors.
    pub factors: bool,
}

/// Something marked.
pub enum Mark {
    /// An upright line at a place, with a word.
    At(f64, String),
    /// A level line, with a word above its right end.
    Level(f64, String),
    /// The same, with the word below its left end.
    Low(f64, String),
    /// A spot on the curve.
    Spot(f64),
}

/// A chart.
pub struct Chart<'a> {
    /// For screen readers.
    pub title: &'a str,
    pub x: Axis<'a>,
    pub y: Axis<'a>,
    /// What was measured, thin.
    pub raw: &'a [(f64, f64)],
    /// What was made of it, bold.
    pub curve: &'a [(f64, f64)],
    pub marks: Vec<Mark>,
}

/// About so many round values between two, both counted.
pub fn round_values(low: f64, high: f64, about: f64) -> Vec<f64> {
    let raw = (high - low) / about;
    if raw <= 0.0 || !raw.is_finite() {
        return Vec::new();
    }
    let decade = 10f64.powf(raw.log10().floor());
    let steps = [1.0, 2.0, 5.0, 10.0].map(|m| m * decade);
    let step = steps.into_iter().find(|s| *s >= raw).unwrap_or(raw);
    let (first, last) = ((low / step).ceil() as i64, (high / step).floor() as i64);
    (first..=last).map(|n| n as f64 * step).collect()
}

/// How values of an axis lie on the drawing.
struct Scale {
    low: f64,
    high: f64,
    from: f64,
    to: f64,
    factors: bool,
}

impl Scale {
    fn of(axis: &Axis, values: impl Iterator<Item = f64>, from: f64, to: f64) -> Self {
        let (low, high) = axis.range.unwrap_or_else(|| {
            values.fold((f64::INFINITY, f64::NEG_INFINITY), |(l, h), v| {
                (l.min(v), h.max(v))
            })
        });
        let (low, high) = match low < high {
            true => (low, high),
            false if low.is_finite() => (low - 1.0, low + 1.0),
            false => (0.0, 1.0),
        };
        // Equal factors know no nought.
        let low = match axis.factors {
            true => low.max(high.max(1e-6) / 1e4),
            false => low,
        };
        let high = if low < high { high } else { low * 10.0 };
        let spare = match axis.range {
            None if !axis.factors => 0.06 * (high - low),
            _ => 0.0,
        };
        Self {
            low: low - spare,
            high: high + spare,
            from,
            to,
            factors: axis.factors,
        }
    }

    fn at(&self, v: f64) -> f64 {
        let share = match self.factors {
            true => (v.max(self.low) / self.low).ln() / (self.high / self.low).ln(),
            false => (v - self.low) / (self.high - self.low),
        };
        self.from + share.clamp(-0.02, 1.02) * (self.to - self.from)
    }

    /// Round values on the scale, about so many.
    fn rules(&self, about: f64) -> Vec<f64> {
        if self.factors {
            let first = self.low.log10().floor() as i32;
            let decades =
                (first..first + 8).flat_map(|e| [1.0, 2.0, 5.0].map(|m| m * 10f64.powi(e)));
            return decades.filter(|v| self.holds(*v)).collect();
        }
        round_values(self.low, self.high, about)
    }

    fn holds(&self, v: f64) -> bool {
        (self.low..=self.high).contains(&v)
    }
}

/// A round value as it is told.
fn told(v: f64) -> String {
    crate::show::number((v * 1e6).round() / 1e6).replace('-', "\u{2212}")
}

/// The drawing.
pub fn svg(chart: &Chart) -> String {
    let (w, h) = SIZE;
    let (left, right, top, bottom) = MARGINS;
    let all = || chart.raw.iter().chain(chart.curve);
    let levels = chart.marks.iter().filter_map(|m| match m {
        Mark::Level(v, _) | Mark::Low(v, _) => Some(*v),
        _ => None,
    });
    let x = Scale::of(&chart.x, all().map(|p| p.0), left, w - right);
    let y = Scale::of(&chart.y, all().map(|p| p.1).chain(levels), h - bottom, top);
    let mut svg = format!(
        r#"<svg class="series chart" viewBox="0 0 {w} {h}" role="img" aria-label="{}">"#,
        escape(chart.title)
    );
    rules(&mut svg, chart, &x, &y);
    for (class, curve) in [("raw", chart.raw), ("way", chart.curve)] {
        let points = curve.iter().filter(|p| x.holds(p.0));
        let points: Vec<String> = points
            .map(|p| format!("{:.1} {:.1}", x.at(p.0), y.at(p.1)))
            .collect();
        if points.len() > 1 {
            let _ = write!(svg, r#"<path class="{class}" d="M{}"/>"#, points.join("L"));
        }
    }
    for mark in &chart.marks {
        marked(&mut svg, mark, &x, &y, all());
    }
    svg + "</svg>"
}

fn rules(svg: &mut String, chart: &Chart, x: &Scale, y: &Scale) {
    let (w, h) = SIZE;
    let (left, right, top, bottom) = MARGINS;
    for v in y.rules(RULES.0) {
        let at = y.at(v);
        let _ = write!(
            svg,
            r#"<path class="rule" d="M{left} {at:.1}H{:.1}"/><text class="scale" x="{:.1}"
                y="{:.1}">{}</text>"#,
            w - right,
            left - 6.0,
            at + 4.0,
            told(v)
        );
    }
    for v in x.rules(RULES.1) {
        let _ = write!(
            svg,
            r#"<text class="day" x="{:.1}" y="{:.1}">{}</text>"#,
            x.at(v),
            h - bottom + 15.0,
            told(v)
        );
    }
    let _ = write!(
        svg,
        r#"<text class="words" x="{left}" y="{:.1}">{}</text><text class="words" x="6"
            y="{:.1}">{}</text>"#,
        h - 4.0,
        escape(chart.x.words),
        top - 12.0,
        escape(chart.y.words)
    );
}

fn marked<'a>(
    svg: &mut String,
    mark: &Mark,
    x: &Scale,
    y: &Scale,
    curve: impl Iterator<Item = &'a (f64, f64)>,
) {
    let (w, h) = SIZE;
    let (_, right, top, bottom) = MARGINS;
    match mark {
        Mark::At(v, words) if x.holds(*v) => {
            let at = x.at(*v);
            let _ = write!(
                svg,
                r#"<path class="step" d="M{at:.1} {top}V{:.1}"/><text class="done" x="{:.1}"
                    y="{:.1}">{}</text>"#,
                h - bottom,
                (at + 4.0).min(w - 7.0 * words.len() as f64),
                top + 10.0,
                escape(words)
            );
        }
        Mark::Level(v, words) if y.holds(*v) => {
            let at = y.at(*v);
            let _ = write!(
                svg,
                r#"<path class="level" d="M{:.1} {at:.1}H{:.1}"/><text class="done end" x="{:.1}"
                    y="{:.1}">{}</text>"#,
                MARGINS.0,
                w - right,
                w - right - 2.0,
                at - 4.0,
                escape(words)
            );
        }
        Mark::Low(v, words) if y.holds(*v) => {
            let at = y.at(*v);
            let _ = write!(
                svg,
                r#"<path class="level" d="M{0:.1} {at:.1}H{1:.1}"/><text class="done" x="{2:.1}"
                    y="{3:.1}">{4}</text>"#,
                MARGINS.0,
                w - right,
                MARGINS.0 + 4.0,
                at + 14.0,
                escape(words)
            );
        }
        Mark::Spot(v) => {
            let near = curve.min_by(|a, b| (a.0 - v).abs().total_cmp(&(b.0 - v).abs()));
            if let Some((px, py)) = near {
                let _ = write!(
                    svg,
                    r#"<circle class="spot" cx="{:.1}" cy="{:.1}" r="6"/>"#,
                    x.at(*px),
                    y.at(*py)
                );
            }
        }
        Mark::At(..) | Mark::Level(..) | Mark::Low(..) => {}
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn any_curve_is_drawn_without_a_number_that_is_none() {
        let axis = |factors| Axis {
            words: "x",
            range: None,
            factors,
        };
        for curve in [
            vec![],
            vec![(1.0, 5.0)],
            vec![(1.0, 5.0), (2.0, 5.0)],
            vec![(1.0, -5.0), (20.0, 1e9)],
        ] {
            for factors in [false, true] {
                let svg = svg(&Chart {
                    title: "a <curve>",
                    x: axis(factors),
                    y: axis(false),
                    raw: &curve,
                    curve: &[],
                    marks: vec![
                        Mark::At(1.5, "fan".into()),
                        Mark::Level(5.0, "set".into()),
                        Mark::Spot(2.0),
                    ],
                });
                assert!(!svg.contains("NaN") && !svg.contains("inf"), "{svg}");
                assert!(svg.contains("a &#60;curve&#62;"));
            }
        }
    }
}
