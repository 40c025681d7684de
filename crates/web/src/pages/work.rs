//! What a check, a fix or a stop takes, as pages show it.

use crate::show;
use crate::state::AppState;
use suspect_core::evidence::Facts;
use suspect_core::knowledge::{FindingId, Work};
use suspect_core::planning::Preview;
use suspect_core::safety;

/// A caution with its level.
pub struct CautionView {
    pub level: String,
    pub text: String,
}

/// Cautions by index, as they are read.
pub fn cautions(state: &AppState, indices: &[usize]) -> Vec<CautionView> {
    let of = |c: &usize| &state.knowledge.cautions[*c];
    indices
        .iter()
        .map(of)
        .map(|c| CautionView {
            level: c.level.clone(),
            text: c.text.clone(),
        })
        .collect()
}

/// A step's work.
pub struct WorkView {
    pub name: String,
    pub steps: Vec<String>,
    pub tools: String,
    pub hands_on: String,
    pub waiting: Option<String>,
    pub state: String,
    pub minutes: f64,
    pub money: f64,
    pub cautions: Vec<CautionView>,
}

/// Shows a step's work with the cautions that belong to it and to the case.
pub fn view(state: &AppState, facts: &Facts, work: &Work) -> WorkView {
    let words: Vec<&str> = work.state_words.iter().map(String::as_str).collect();
    WorkView {
        name: work.name.clone(),
        steps: work
            .steps
            .iter()
            .map(|s| show::keep_units(&s.text))
            .collect(),
        tools: if work.tools.is_empty() {
            "no tools".into()
        } else {
            work.tools.join(", ")
        },
        hands_on: show::minutes(work.minutes),
        waiting: (work.waiting > 0.0).then(|| show::minutes(work.waiting)),
        state: words.join(", "),
        minutes: work.minutes,
        money: work.money,
        cautions: cautions(state, &safety::cautions(&state.knowledge, facts, work)),
    }
}

/// An outcome of a check with what it would do to the line-up.
pub struct OutcomeRow {
    pub n: usize,
    pub value: String,
    pub phrase: String,
    pub share: String,
    pub then: String,
}

/// Rows of a check's outcomes, likeliest first, numbered for the keys.
pub fn outcome_rows(state: &AppState, finding: FindingId, previews: &[Preview]) -> Vec<OutcomeRow> {
    let k = &state.knowledge;
    let row = |(n, o): (usize, &Preview)| {
        let s = &k.finding(finding).states[o.state];
        OutcomeRow {
            n: n + 1,
            value: s.id.clone(),
            phrase: show::capital(&s.phrase),
            share: show::percent(o.probability),
            then: if s.id == "cured" {
                "then the case is solved".into()
            } else {
                format!(
                    "then {} {}",
                    show::lower_first(&k.cause(o.leader).name),
                    show::percent(o.leader_probability)
                )
            },
        }
    };
    previews.iter().enumerate().map(row).collect()
}
