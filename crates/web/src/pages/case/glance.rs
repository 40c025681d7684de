//! "Does anything else look wrong?", where it comes before the next step.

use crate::pages::open_case::OpenCase;
use crate::state::AppState;
use crate::{show, urls};
use suspect_core::case::Analysis;

/// The question with what it saves.
pub struct Glance {
    pub href: String,
    pub minutes: String,
    pub saves: String,
    pub signs: String,
}

/// Signs named in the question.
const SIGNS_NAMED: usize = 4;

/// The question of a case, where it is worth its minutes.
pub fn glance(state: &AppState, case: &OpenCase, analysis: &Analysis) -> Option<Glance> {
    let look = analysis.look_over.as_ref()?;
    let k = &state.knowledge;
    let named = look.signs.iter().take(SIGNS_NAMED);
    let named: Vec<&str> = named.map(|f| k.finding(*f).plain.as_str()).collect();
    Some(Glance {
        href: urls::intake(case.id, "print", ""),
        minutes: show::minutes(look.minutes),
        saves: show::minutes(look.saves),
        signs: named.join("; "),
    })
}
