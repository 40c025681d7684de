//! The question how often a fault struck, and when in a print.

use crate::form::{Errors, Fields};
use crate::pages::open_case::OpenCase;
use crate::pages::parts::link::Choice;
use crate::show;
use crate::words::proving;
use suspect_core::case::Shows;

/// What the form asks, as it stands.
pub struct StruckForm {
    /// Told before: the form is folded.
    pub told: bool,
    /// Something of it made no sense: it stays open.
    pub wrong: bool,
    pub prints: String,
    pub of: String,
    pub clean: String,
    pub shows: Vec<Choice>,
    pub hours: String,
}

impl StruckForm {
    /// The form: as it was sent, else as the case has it.
    pub fn of(case: &OpenCase, fields: &Fields, errors: &Errors) -> Self {
        let struck = case.state.struck();
        let told = case.state.strikes.is_some();
        let given = |name: &str, usual: String| fields.sent(name).map_or(usual, str::to_string);
        let some = !struck.every && struck.of > 1;
        let many = |n: u32| match some {
            true => n.to_string(),
            false => String::new(),
        };
        let shown = fields.given("shows").unwrap_or(struck.shows.id());
        let shows = Shows::ALL.into_iter().map(|s| Choice {
            value: s.id().into(),
            label: show::capital(proving::shows(s)),
            chosen: s.id() == shown,
        });
        let clean = struck.clean_before.map_or(String::new(), |n| n.to_string());
        Self {
            told,
            wrong: ["prints", "of", "clean", "struck_hours", "hours"]
                .iter()
                .any(|f| errors.contains_key(*f) && fields.sent("often").is_some()),
            prints: given("prints", many(struck.prints)),
            of: given("of", many(struck.of)),
            clean: given("clean", clean),
            shows: shows.collect(),
            hours: given(
                "struck_hours",
                struck.hours.map(show::exact).unwrap_or_default(),
            ),
        }
    }
}
