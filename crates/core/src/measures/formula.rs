//! The formulas of a measure with names, and with the numbers put in.

use super::maths::mean;
use super::{Given, Measure, Out, Output};

/// A piece of a formula.
#[derive(Debug, Clone, PartialEq)]
pub enum Piece {
    /// Signs and words between.
    Text(&'static str),
    /// An input or output.
    Value {
        /// Its identifier.
        name: &'static str,
        /// Which of several readings, from 1.
        nth: Option<usize>,
        /// Its value; of several readings their mean. Nothing where it is not known.
        value: Option<f64>,
    },
}

/// A formula, piece by piece.
pub type Formula = Vec<Piece>;

/// The formulas of a measure with what is known; of alternatives the first of which all is known,
/// and none of which a value is missing.
pub fn formulas(measure: &Measure, given: &Given, out: &Out) -> Vec<Formula> {
    let known = |f: &Formula| {
        f.iter()
            .all(|p| !matches!(p, Piece::Value { value: None, .. }))
    };
    let first = |text: &&'static str| {
        let ways = text.split(" | ").filter_map(|way| guarded(way, given));
        ways.map(|way| pieces(way, given, out)).find(known)
    };
    measure.card.formulas.iter().filter_map(first).collect()
}

/// The formulas of a measure by names alone: every alternative.
pub fn by_name(measure: &Measure) -> Vec<Formula> {
    let ways = measure.card.formulas.iter().flat_map(|f| f.split(" | "));
    let bare = ways.map(|way| way.split_once("] ").map_or(way, |(_, rest)| rest));
    let (given, out) = (Given::default(), Out::default());
    bare.map(|way| pieces(way, &given, &out)).collect()
}

/// What a result stands against, where that is known.
pub fn against(measure: &Measure, given: &Given, out: &Out) -> Option<f64> {
    let name = measure.card.against;
    name.parse().ok().or_else(|| value(name, None, given, out))
}

/// A way without its guard; nothing when the guard does not hold.
fn guarded<'a>(way: &'a str, given: &Given) -> Option<&'a str> {
    let Some((guard, rest)) = way.strip_prefix('[').and_then(|w| w.split_once("] ")) else {
        return Some(way);
    };
    let (input, word) = guard.split_once('=')?;
    (given.word(input) == word).then_some(rest)
}

fn pieces(way: &'static str, given: &Given, out: &Out) -> Formula {
    let mut all = Vec::new();
    for part in way.split('{') {
        let Some((name, rest)) = part.split_once('}') else {
            all.push(Piece::Text(part));
            continue;
        };
        let (name, nth) = match name.split_once('#') {
            Some((name, nth)) => (name, nth.parse().ok()),
            None => (name, None),
        };
        let value = value(name, nth, given, out);
        all.push(Piece::Value { name, nth, value });
        all.push(Piece::Text(rest));
    }
    all.retain(|p| *p != Piece::Text(""));
    all
}

/// An output, else an input.
fn value(name: &str, nth: Option<usize>, given: &Given, out: &Out) -> Option<f64> {
    if let Some(nth) = nth {
        return given.list(name).get(nth - 1).copied();
    }
    let reckoned = out.outputs.iter().find(|(n, _)| n == name);
    if let Some((_, Output::Number(value))) = reckoned {
        return Some(*value);
    }
    let list = given.list(name);
    given
        .maybe(name)
        .or_else(|| (!list.is_empty()).then(|| mean(list)))
}
