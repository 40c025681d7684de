//! A check or a fix in a practice case: its procedure with the cautions before each step, as on the
//! floor, and how the machine stands when one begins.

use super::open::OpenPractice;
use crate::pages::Page;
use crate::pages::open_case::Known;
use crate::pages::parts::work::{self, CautionView, WorkView, cautions};
use crate::show;
use crate::state::AppState;
use askama::Template;
use axum::extract::State;
use axum::response::Html;
use suspect_core::doing::guided_steps;
use suspect_core::knowledge::{CheckId, FixId, Work};
use suspect_rehearsal::practice::{Desk, Play};

struct StepView {
    text: String,
    cautions: Vec<CautionView>,
}

#[derive(Template)]
#[template(path = "practice/work.html")]
struct WorkPage {
    here: String,
    kind: &'static str,
    id: String,
    plain: String,
    work: WorkView,
    steps: Vec<StepView>,
    /// What it would find, one of these.
    outcomes: Vec<String>,
    ended: bool,
}

/// `GET /practice/cases/{id}/check/{check}`
pub async fn check(
    State(state): State<AppState>,
    open: OpenPractice,
    Known(check): Known<CheckId>,
) -> Page {
    let k = &state.knowledge;
    let finding = k.finding(k.check(check).finding);
    let outcomes = finding.states.iter().map(|s| show::capital(&s.phrase));
    let page = WorkPage {
        kind: "check",
        id: finding.id.clone(),
        plain: show::sentence(&finding.plain),
        outcomes: outcomes.collect(),
        ..of(&state, &open, &k.check(check).work)
    };
    Ok(Html(page.render()?))
}

/// `GET /practice/cases/{id}/fix/{fix}`
pub async fn fix(
    State(state): State<AppState>,
    open: OpenPractice,
    Known(fix): Known<FixId>,
) -> Page {
    let fix = state.knowledge.fix(fix);
    let page = WorkPage {
        kind: "fix",
        id: fix.id.clone(),
        ..of(&state, &open, &fix.work)
    };
    Ok(Html(page.render()?))
}

fn of(state: &AppState, open: &OpenPractice, procedure: &Work) -> WorkPage {
    let k = &state.knowledge;
    let desk = Desk::new(k, &open.workshop, &open.case);
    let play = Play::after(&desk, open.acts());
    let steps = guided_steps(k, play.facts(), procedure, play.present(), &open.workshop);
    WorkPage {
        here: open.href(),
        kind: "",
        id: String::new(),
        plain: String::new(),
        work: work::view(k, play.facts(), procedure),
        steps: steps
            .into_iter()
            .map(|s| StepView {
                cautions: cautions(k, &s.cautions),
                text: show::keep_units(&s.text),
            })
            .collect(),
        outcomes: Vec::new(),
        ended: open.row.ended.is_some(),
    }
}
