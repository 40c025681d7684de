//! Doing a step: led through, recorded, put off; stops and their tags.

pub mod check;
pub mod fix;
mod gauge;
mod guide;
mod locked;
pub mod progress;
pub mod proof;
pub mod stop;
pub mod stuck;
pub mod tag;

use crate::form::{Errors, Fields};
use crate::words::refusal;
use std::collections::BTreeMap;

/// The step asked for by `?step=`; 0 is the overview.
fn asked_step(query: &BTreeMap<String, String>) -> usize {
    query.get("step").and_then(|s| s.parse().ok()).unwrap_or(0)
}

/// Reads minutes, grams or money; what is no number goes to `errors`.
fn amount(fields: &Fields, name: &str, usual: f64, errors: &mut Errors) -> f64 {
    fields.number(name, usual).unwrap_or_else(|problem| {
        errors.insert(name.into(), refusal::number(&problem));
        usual
    })
}
