//! Upright bars, one a place, each of parts that add up.

use super::axes::{Field, plain};
use crate::drawing::escape;
use std::fmt::Write;

/// Looks of parts there are; more share the last one.
const LOOKS: usize = 6;
/// Share of a place that its bar fills.
const FILLED: f64 = 0.72;
/// Characters of all words below the places at most: more would touch on a telephone.
const CHARACTERS: usize = 48;

/// One bar.
pub struct Place {
    /// "Nov 2026".
    pub name: String,
    /// Its parts from the ground up, one for each part of the chart.
    pub parts: Vec<f64>,
}

/// Upright bars.
pub struct Stacked<'a> {
    /// Unlike any other on the page: patterns hang on it.
    pub id: &'a str,
    /// For screen readers.
    pub title: &'a str,
    /// "cases", "€".
    pub unit: &'a str,
    pub places: &'a [Place],
    /// What the parts are called.
    pub parts: &'a [String],
}

/// The lines of a look over its colour.
fn lines(look: usize) -> &'static str {
    match look {
        0 => "",
        1 => "M-1 9L9 -1M-1 1L1 -1M7 9L9 7",
        2 => "M0 4H8",
        3 => "M-1 -1L9 9M-1 7L1 9M7 -1L9 1",
        4 => "M4 0V8",
        _ => "",
    }
}

/// A look as a small square for a legend. `id` is unlike any other on the page.
pub fn swatch(id: &str, look: usize) -> String {
    let look = look.min(LOOKS - 1);
    format!(
        r#"<svg class="swatch" viewBox="0 0 16 16" aria-hidden="true"><defs>{}</defs><rect
            width="16" height="16" rx="2" {}/></svg>"#,
        pattern(id, look),
        filled(id, look)
    )
}

/// What fills a part: its plain colour, or the pattern over it.
fn filled(id: &str, look: usize) -> String {
    match lines(look) {
        "" => format!(r#"class="part look-{look}""#),
        _ => format!(r#"class="part" fill="url(#{id}-{look})""#),
    }
}

fn pattern(id: &str, look: usize) -> String {
    let lines = lines(look);
    format!(
        r#"<pattern id="{id}-{look}" width="8" height="8" patternUnits="userSpaceOnUse"><rect
            class="look-{look}" width="8" height="8"/><path class="look-lines"
            d="{lines}"/></pattern>"#
    )
}

impl Stacked<'_> {
    /// The drawing.
    pub fn svg(&self) -> String {
        let tallest = self.places.iter().map(|p| p.parts.iter().sum::<f64>());
        let tallest = tallest.fold(0.0, f64::max);
        let field = Field::up_to((0.0, self.places.len().max(1) as f64), tallest);
        let mut svg = field.begin(self.title, ("", self.unit), plain);
        svg.push_str("<defs>");
        let looks = self.parts.len().min(LOOKS);
        (0..looks).for_each(|look| svg.push_str(&pattern(self.id, look)));
        svg.push_str("</defs>");
        let longest = self.places.iter().map(|p| p.name.chars().count()).max();
        let words = (CHARACTERS / longest.unwrap_or(1).max(1)).max(1);
        let every = self.places.len().div_ceil(words).max(1);
        for (n, place) in self.places.iter().enumerate() {
            let middle = n as f64 + 0.5;
            self.bar(&mut svg, &field, middle, place);
            // The last place is named, and others at a distance from it.
            if (self.places.len() - 1 - n).is_multiple_of(every) {
                field.below(&mut svg, middle, &place.name);
            }
        }
        svg + "</svg>"
    }

    fn bar(&self, svg: &mut String, field: &Field, middle: f64, place: &Place) {
        let (left, right) = (
            field.at_x(middle - FILLED / 2.0),
            field.at_x(middle + FILLED / 2.0),
        );
        let mut from = 0.0;
        for (at, part) in place.parts.iter().enumerate().filter(|(_, p)| **p > 0.0) {
            let (bottom, top) = (field.at_y(from), field.at_y(from + part));
            from += part;
            let name = self.parts.get(at).map_or("", String::as_str);
            let _ = write!(
                svg,
                r#"<rect {} x="{left:.1}" y="{top:.1}" width="{:.1}"
                    height="{:.1}"><title>{}</title></rect>"#,
                filled(self.id, at.min(LOOKS - 1)),
                right - left,
                bottom - top,
                escape(&format!("{}: {name} {}", place.name, plain(*part)))
            );
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn chart(places: &[Place]) -> String {
        let parts = ["wet <filament>".to_string(), "slack belt".to_string()];
        let chart = Stacked {
            id: "t",
            title: "what strikes & when",
            unit: "cases",
            places,
            parts: &parts,
        };
        chart.svg()
    }

    #[test]
    fn bars_stand_on_each_other_and_reach_their_sum() {
        let parts = vec![2.0, 3.0];
        let svg = chart(&[Place {
            name: "Nov".into(),
            parts,
        }]);
        assert_eq!(svg.matches(r#"class="part"#).count(), 2);
        let edges: Vec<(f64, f64)> = svg
            .split(r#"class="part"#)
            .skip(1)
            .map(|part| {
                let number = |name: &str| {
                    let from = part.split_once(&format!(r#" {name}=""#)).unwrap().1;
                    from.split('"').next().unwrap().parse::<f64>().unwrap()
                };
                (number("y"), number("height"))
            })
            .collect();
        let [(lower, tall), (upper, taller)] = edges[..] else {
            panic!("{svg}");
        };
        assert!((upper + taller - lower).abs() < 0.11, "no gap: {edges:?}");
        assert!((taller / tall - 1.5).abs() < 0.01, "to scale: {edges:?}");
        assert!(svg.contains("wet &#60;filament&#62;"));
    }

    #[test]
    fn nothing_and_nought_are_drawn_without_a_number_that_is_none() {
        for places in [
            vec![],
            vec![Place {
                name: String::new(),
                parts: vec![0.0, 0.0],
            }],
        ] {
            let svg = chart(&places);
            assert!(!svg.contains("NaN") && !svg.contains("inf"), "{svg}");
        }
    }
}
