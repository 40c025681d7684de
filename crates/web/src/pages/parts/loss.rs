//! What a failed print cost, as forms ask for it.

use crate::form::{Errors, Fields};
use crate::show;
use crate::words::refusal;
use suspect_core::case::Lost;

/// The fields, as they stand.
pub struct LossFields {
    pub hours: String,
    pub grams: String,
    pub first_layer: bool,
    /// Something stands in them: they are not folded away.
    pub open: bool,
}

impl LossFields {
    /// The fields as they were sent, else as the case has them.
    pub fn of(fields: &Fields, known: Option<&Lost>) -> Self {
        let number = |v: Option<f64>| v.map(show::exact).unwrap_or_default();
        let sent = fields.sent("lost_hours").is_some();
        let given = |name, known| {
            fields
                .sent(name)
                .map_or_else(|| number(known), str::to_string)
        };
        let hours = given("lost_hours", known.and_then(|l| l.hours));
        let grams = given("lost_grams", known.and_then(|l| l.grams));
        let first_layer = match sent {
            true => fields.get("lost_first") == "yes",
            false => known.is_some_and(|l| l.first_layer),
        };
        Self {
            open: first_layer || !hours.is_empty() || !grams.is_empty(),
            hours,
            grams,
            first_layer,
        }
    }
}

/// What a form says; nothing where it says nothing. What makes no sense goes to `errors`.
pub fn read(fields: &Fields, errors: &mut Errors) -> Option<Lost> {
    let mut number = |name: &str| {
        fields.given(name)?;
        let read = fields.number(name, 0.0);
        let told = read.map_err(|problem| {
            errors.insert(name.into(), refusal::number(&problem));
        });
        told.ok()
    };
    let lost = Lost {
        hours: number("lost_hours"),
        grams: number("lost_grams"),
        first_layer: fields.get("lost_first") == "yes",
    };
    lost.says_anything().then_some(lost)
}
