//! What a check, a fix or a stop takes, as pages show it.

use crate::words;
use crate::{screen, show};
use suspect_core::evidence::Facts;
use suspect_core::knowledge::{Caution, CautionLevel, FindingId, Knowledge, ProcedureStep, Work};
use suspect_core::people::Needs;
use suspect_core::planning::Preview;
use suspect_core::safety;

/// A caution with its level.
pub struct CautionView {
    /// As the style sheet calls it: `caution`, `warning`.
    pub level: &'static str,
    /// What it is headed by.
    pub word: &'static str,
    pub text: String,
}

/// Cautions by index, as they are read.
pub fn cautions(k: &Knowledge, indices: &[usize]) -> Vec<CautionView> {
    indices.iter().map(|c| said(&k.cautions[*c])).collect()
}

/// A caution under its heading.
pub fn said(caution: &Caution) -> CautionView {
    CautionView {
        level: caution.level.id(),
        word: match caution.level {
            CautionLevel::Caution => "Caution.",
            CautionLevel::Warning => "Warning.",
        },
        text: caution.text.clone(),
    }
}

/// A step's work.
pub struct WorkView {
    pub name: String,
    pub steps: Vec<String>,
    pub tools: String,
    pub hands_on: String,
    pub waiting: Option<String>,
    pub state: String,
    pub money: f64,
    pub cautions: Vec<CautionView>,
    /// Who may do it, where that is to be said.
    pub who: Option<String>,
}

/// Shows a step's work with the cautions that belong to it and to the case.
pub fn view(k: &Knowledge, facts: &Facts, work: &Work) -> WorkView {
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
        state: words::work::standing(&work.stands),
        money: work.money,
        cautions: cautions(k, &safety::cautions(k, facts, work)),
        who: who(k, work),
    }
}

/// Who may do a procedure: said where people sign in, and wherever a trade must be known.
pub fn who(k: &Knowledge, work: &Work) -> Option<String> {
    let said = screen::signs_in() || work.trade.is_some();
    said.then(|| Needs::work(k, work).words())
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
pub fn outcome_rows(k: &Knowledge, finding: FindingId, previews: &[Preview]) -> Vec<OutcomeRow> {
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

/// A step that a person ticks when it is done.
pub struct Tick {
    /// From 1.
    pub n: u32,
    pub text: String,
    pub ticked: bool,
}

/// The steps of some work to be ticked, those that are among `ticked` already.
pub fn ticks(work: &Work, ticked: &[u32]) -> Vec<Tick> {
    let tick = |(step, n): (&ProcedureStep, u32)| Tick {
        n,
        text: show::keep_units(&step.text),
        ticked: ticked.contains(&n),
    };
    work.steps.iter().zip(1u32..).map(tick).collect()
}
