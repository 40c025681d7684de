//! What was read from the words of a case and waits to be confirmed.

use crate::form::Fields;
use crate::pages::open_case::OpenCase;
use crate::state::AppState;
use suspect_core::intake::Proposal;

/// What was read from the words and neither answered nor waved away.
pub fn open_proposals(state: &AppState, case: &OpenCase) -> Vec<Proposal> {
    let mut proposals = state.told.of_all(&state.knowledge, &case.state.told);
    proposals.retain(|p| {
        !case.state.facts.findings.contains_key(&p.finding)
            && !case.state.passed.contains(&p.finding)
    });
    proposals
}

/// Whether this answers the last of what was read from the words: then the case has a next step to
/// show.
pub fn all_answered(state: &AppState, case: &OpenCase, fields: &Fields) -> bool {
    let open = open_proposals(state, case);
    let answered = |p: &Proposal| state.knowledge.finding(p.finding).id == fields.get("finding");
    fields.get("part") == "words"
        && open.iter().any(answered)
        && open.iter().all(answered)
        && state
            .told
            .unread(&state.knowledge, &case.state.told)
            .is_empty()
}
