//! A formula of the bench in words, and with its numbers.

use crate::show;
use crate::words::measure::bare;
use crate::words::reading::{name_of, signed, unit_of};
use suspect_core::measures::{Formula, Measure, Piece};

/// "Flow full = flow set now · thickness it should have / mean".
pub fn in_words(measure: &Measure, formula: &Formula) -> String {
    let word = |piece: &Piece| match piece {
        Piece::Text(text) => (*text).to_string(),
        Piece::Value { name, nth, .. } => {
            let name = named(measure, name);
            match nth {
                Some(nth) => format!("{name} ({nth})"),
                None => name,
            }
        }
    };
    show::capital(&formula.iter().map(word).collect::<String>())
}

/// "0.905 = 0.98 · 0.9 mm / 0.975 mm"; nothing for a formula without numbers.
pub fn in_numbers(measure: &Measure, formula: &Formula) -> Option<String> {
    let has = |p: &Piece| matches!(p, Piece::Value { .. });
    let number = |piece: &Piece| match piece {
        Piece::Text(text) => (*text).to_string(),
        Piece::Value { name, value, .. } => {
            let value = signed(figures(value.unwrap_or(f64::NAN)));
            let unit = match measure.input(name) {
                Some(input) if !input.unit.shown().is_empty() => format!(" {}", input.unit.shown()),
                Some(_) => String::new(),
                None => unit_of(name).to_string(),
            };
            format!("{value}{unit}")
        }
    };
    let whole = || formula.iter().map(number).collect();
    formula.iter().any(has).then(whole)
}

/// What an input or output is called within a sentence.
pub fn named(measure: &Measure, name: &str) -> String {
    match measure.input(name) {
        Some(input) => bare(input).to_string(),
        None => show::lower_first(&name_of(name)),
    }
}

/// A number to six figures: more is dust of the division.
fn figures(value: f64) -> f64 {
    format!("{value:.5e}").parse().unwrap_or(value)
}
