//! A procedure on the page: an overview, then one step at a time, with its cautions before it, its
//! drawing and its wait.

use crate::drawing::hand;
use crate::pages::doing::Asked;
use crate::pages::open_case::OpenCase;
use crate::pages::parts::timers::{self, TimerView, step_href, timers};
use crate::pages::parts::work::{CautionView, cautions};
use crate::show;
use crate::state::AppState;
use crate::words;
use suspect_core::case::WorkId;
use suspect_core::doing::{GuidedStep, StepKind, guided_steps};
use suspect_core::knowledge::Work;

/// A part that comes off in a step.
pub struct PartView {
    pub name: String,
    pub out: bool,
}

/// A procedure that leads on when a step does not go as it should.
pub struct WayView {
    pub when: String,
    pub name: String,
    pub cautions: Vec<CautionView>,
    pub steps: Vec<String>,
}

/// One step as it is done.
pub struct StageView {
    pub n: usize,
    pub kind: StepKind,
    pub text: String,
    /// Where it is led through.
    pub href: String,
    /// What its general words mean here: "nozzle 205 °C".
    pub here: String,
    /// How the machine stands when the step is done; empty where nothing is known of it.
    pub stands: String,
    /// Tools in hand.
    pub tools: String,
    pub cautions: Vec<CautionView>,
    pub drawing: Option<String>,
    /// Minutes to wait, as told and as sent.
    pub wait: Option<(String, String)>,
    pub timer: Option<TimerView>,
    pub parts: Vec<PartView>,
    pub ways: Vec<WayView>,
}

impl StageView {
    /// Whether it is a step of the procedure itself.
    pub fn is_work(&self) -> bool {
        self.kind == StepKind::Do
    }

    /// What stands around the procedure: getting ready, putting back.
    pub fn around(&self) -> Option<&'static str> {
        match self.kind {
            StepKind::Ready => Some("get ready"),
            StepKind::Do => None,
            StepKind::Back => Some("put back"),
        }
    }
}

/// The procedure.
pub struct GuideView {
    pub work: WorkId,
    pub all: Vec<StageView>,
    /// The step on show, from 1; 0 shows all with their cautions.
    pub at: usize,
    pub stage: Option<StageView>,
    /// All steps with their cautions, to read or print.
    pub overview: String,
    /// The step before; nothing at the first.
    pub back: Option<String>,
    /// The looking is done, or somebody knows already: what came of it may be said.
    pub may_say: bool,
    /// Where it may be said at once.
    pub know: String,
    pub next: Option<String>,
    /// The step that was reached before, when a wait runs there.
    pub running: Option<TimerView>,
}

/// The procedure of a piece of work, `at` the step asked for.
pub fn guide(
    state: &AppState,
    case: &OpenCase,
    work_id: &WorkId,
    work: &Work,
    asked: Asked,
) -> GuideView {
    let all = guided_steps(
        &state.knowledge,
        &case.state.facts,
        work,
        case.state.present,
        &case.workshop,
    );
    let at = asked.step.min(all.len());
    let href = |n: usize| step_href(case, work_id, n);
    let here = href(at);
    let joint = if here.contains('?') { '&' } else { '?' };
    GuideView {
        work: work_id.clone(),
        stage: at
            .checked_sub(1)
            .map(|i| stage_view(state, case, work_id, i, &all[i])),
        at,
        overview: href(0),
        back: (at > 1).then(|| href(at - 1)),
        may_say: asked.knows || at == all.len() || at == 0,
        know: format!("{here}{joint}know=yes"),
        next: (at > 0 && at < all.len()).then(|| href(at + 1)),
        running: timers(&state.knowledge, case)
            .into_iter()
            .find(|t| t.work == *work_id && t.href != here),
        all: all
            .iter()
            .enumerate()
            .map(|(i, s)| stage_view(state, case, work_id, i, s))
            .collect(),
    }
}

fn stage_view(
    state: &AppState,
    case: &OpenCase,
    work: &WorkId,
    i: usize,
    stage: &GuidedStep,
) -> StageView {
    let k = &state.knowledge;
    let out = |part: &String| case.state.parts_out.contains(&(work.clone(), part.clone()));
    let timer = case
        .state
        .timers
        .iter()
        .find(|t| t.work == *work && t.step as usize == i + 1);
    StageView {
        n: i + 1,
        kind: stage.kind,
        text: show::keep_units(&stage.text),
        href: step_href(case, work, i + 1),
        here: show::keep_units(&stage.here.join(", ")),
        stands: words::work::standing(&stage.stands),
        tools: stage.tools.join(", "),
        cautions: cautions(k, &stage.cautions),
        drawing: stage
            .drawing
            .as_deref()
            .and_then(|d| hand::svg(d, &stage.text)),
        wait: (stage.wait > 0.0).then(|| (show::minutes(stage.wait), show::number(stage.wait))),
        timer: timer.map(|t| timers::timer(k, case, t)),
        parts: stage
            .parts
            .iter()
            .map(|p| PartView {
                name: p.clone(),
                out: out(p),
            })
            .collect(),
        ways: stage
            .otherwise
            .iter()
            .map(|(when, fix)| {
                let work = &k.fix(*fix).work;
                WayView {
                    when: when.clone(),
                    name: work.name.clone(),
                    cautions: cautions(k, &work.cautions),
                    steps: work
                        .steps
                        .iter()
                        .map(|s| show::keep_units(&s.text))
                        .collect(),
                }
            })
            .collect(),
    }
}
