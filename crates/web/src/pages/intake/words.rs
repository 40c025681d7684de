//! Plain words: what happened, in the person's own words, and the findings read from them, each to
//! be confirmed.

use super::proposals::open_proposals;
use super::scene::Scene;
use crate::drawing::finding;
use crate::form::{Errors, Fields};
use crate::pages::open_case::OpenCase;
use crate::state::AppState;
use crate::words::evidence;
use suspect_core::evidence::Confidence;
use suspect_core::intake::Proposal;
use suspect_core::knowledge::{FindingId, Section, StopTerm};
use suspect_core::search::Topic;

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

/// Words that told nothing.
pub struct UnreadRow {
    pub words: String,
    pub near: Vec<NearRow>,
}

/// A sign that may be meant.
pub struct NearRow {
    pub finding: String,
    pub phrase: String,
    pub picture: String,
}

pub struct WordsView {
    pub told: Vec<String>,
    pub proposals: Vec<ProposalRow>,
    /// What was said and not understood, each with the signs that come nearest.
    pub unread: Vec<UnreadRow>,
    /// Facts that hardly go together.
    pub clashes: Vec<String>,
    /// A danger told in the words and not yet answered: what to do at once.
    pub danger: Option<String>,
    /// Everything said was read before: nothing waits.
    pub all_read: bool,
    pub text: String,
    pub error: Option<String>,
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
    let open = open_proposals(state, case);
    let danger = danger(state, &open);
    let proposals: Vec<ProposalRow> = open.into_iter().enumerate().map(row).collect();
    WordsView {
        told: case.state.told.clone(),
        unread: unread(state, case),
        danger,
        clashes: evidence::clashing(&state.knowledge, &case.state.facts),
        all_read: proposals.is_empty() && !case.state.told.is_empty(),
        proposals,
        text: fields.get("text").into(),
        error: errors.get("told").cloned(),
    }
}

/// Parts of a telling that are asked about, and signs shown for each.
const UNREAD: usize = 2;
const NEAR: usize = 3;
/// A sign is shown when it fits the words at least so well as this share of the best find.
const NEAR_ENOUGH: f64 = 0.5;

/// What was said and not understood, with the signs nearest to it that nobody has answered.
fn unread(state: &AppState, case: &OpenCase) -> Vec<UnreadRow> {
    let k = &state.knowledge;
    let words = state.told.unread(k, &case.state.told);
    let row = |words: String| {
        let asked = |f: &FindingId| {
            let finding = k.finding(*f);
            matches!(finding.section, Section::Print | Section::Machine)
                && finding.presence()
                && !case.state.facts.findings.contains_key(f)
                && !case.state.passed.contains(f)
        };
        let hits = state.index.find(&words);
        let best = hits.first().map_or(0.0, |hit| hit.score);
        let near = hits
            .into_iter()
            .filter(|hit| hit.score >= NEAR_ENOUGH * best);
        let signs = near.filter_map(|hit| match hit.topic {
            Topic::Finding(f) => Some(f),
            _ => None,
        });
        let near = |f: FindingId| NearRow {
            finding: k.finding(f).id.clone(),
            phrase: evidence::phrase(k, f, "present"),
            picture: finding::svg(k, f),
        };
        let near = signs.filter(asked).take(NEAR).map(near).collect();
        UnreadRow { words, near }
    };
    words.into_iter().take(UNREAD).map(row).collect()
}

/// What a danger told in words asks for at once, before anything is confirmed: the lock comes with
/// the confirming.
fn danger(state: &AppState, open: &[Proposal]) -> Option<String> {
    let k = &state.knowledge;
    let raises = |p: &&Proposal| {
        let state = k.finding(p.finding).state(&p.state);
        let term = |t: &StopTerm| match t {
            StopTerm::Finding(finding, s) => *finding == p.finding && Some(*s) == state,
            _ => false,
        };
        k.stops.iter().any(|s| {
            s.holds
                .iter()
                .any(|all| all.len() == 1 && all.iter().all(term))
        })
    };
    let told = open.iter().find(raises)?;
    Some(format!(
        "\u{201c}{}\u{201d}: if that is so, switch off and pull the plug now. Do not heat or move \
         the machine to find out.",
        told.words
    ))
}
