//! Doing a step: led through, recorded, put off; stops and their tags.

pub mod check;
pub mod fix;
mod gauge;
mod guide;
mod locked;
pub mod other;
pub mod progress;
pub mod proof;
pub mod stop;
pub mod struck;
pub mod stuck;
pub mod tag;

use crate::form::{Errors, Fields};
use crate::words::refusal;
use std::collections::BTreeMap;

/// What the address of a procedure asks for.
#[derive(Clone, Copy)]
struct Asked {
    /// The step, from 1; 0 shows all of them with their cautions.
    step: usize,
    /// The person has looked already: what was seen may be said at once.
    knows: bool,
}

impl Asked {
    /// `?step=2&know=yes`; the first step where none is named.
    fn of(query: &BTreeMap<String, String>) -> Self {
        Self {
            step: query.get("step").and_then(|s| s.parse().ok()).unwrap_or(1),
            knows: query.get("know").is_some_and(|k| k == "yes"),
        }
    }

    /// A form that came back: it stays as it was.
    const AGAIN: Self = Self {
        step: 1,
        knows: true,
    };
}

/// Reads minutes, grams or money; what is no number goes to `errors`.
fn amount(fields: &Fields, name: &str, usual: f64, errors: &mut Errors) -> f64 {
    fields.number(name, usual).unwrap_or_else(|problem| {
        errors.insert(name.into(), refusal::number(&problem));
        usual
    })
}
