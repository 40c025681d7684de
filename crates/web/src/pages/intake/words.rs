//! Plain words: what happened, in the person's own words, and the findings read from them, each to
//! be confirmed.

use super::scene::Scene;
use crate::drawing::finding;
use crate::form::{Errors, Fields};
use crate::pages::open_case::OpenCase;
use crate::state::AppState;
use crate::words::evidence;
use suspect_core::evidence::Confidence;
use suspect_core::intake::Proposal;

pub struct ProposalRow {
    pub n: usize,
    pub finding: String,
    pub state: String,
    pub confidence: &'static str,
    pub phrase: String,
    pub words: String,
    pub picture: String,
    pub hedged: bool,
}

pub struct WordsView {
    pub told: Vec<String>,
    pub proposals: Vec<ProposalRow>,
    /// Everything said was read before: nothing waits.
    pub all_read: bool,
    pub text: String,
    pub error: Option<String>,
}

/// What was read from the words and neither answered nor waved away.
pub fn open_proposals(state: &AppState, case: &OpenCase) -> Vec<Proposal> {
    let mut proposals = state.told.of_all(&state.knowledge, &case.state.told);
    proposals.retain(|p| {
        !case.state.facts.findings.contains_key(&p.finding)
            && !case.state.passed.contains(&p.finding)
    });
    proposals
}

pub fn view(scene: &Scene, fields: &Fields, errors: &Errors) -> WordsView {
    let (state, case) = (scene.state, scene.case);
    let row = |(n, p): (usize, Proposal)| ProposalRow {
        n: n + 1,
        finding: state.knowledge.finding(p.finding).id.clone(),
        phrase: evidence::phrase(&state.knowledge, p.finding, &p.state),
        confidence: p.confidence.id(),
        hedged: p.confidence != Confidence::Sure,
        state: p.state,
        words: p.words,
        picture: finding::svg(&state.knowledge, p.finding),
    };
    let proposals: Vec<ProposalRow> = open_proposals(state, case)
        .into_iter()
        .enumerate()
        .map(row)
        .collect();
    WordsView {
        told: case.state.told.clone(),
        all_read: proposals.is_empty() && !case.state.told.is_empty(),
        proposals,
        text: fields.get("text").into(),
        error: errors.get("told").cloned(),
    }
}
