//! A procedure on the page: an overview, then one step at a time, with its cautions before it, its drawing and its wait.

use super::Opened;
use super::work::{CautionView, cautions};
use crate::drawing::hand;
use crate::state::AppState;
use crate::{show, urls};
use suspect_core::case::Timer;
use suspect_core::doing::{Kind, Stage, stages};
use suspect_core::knowledge::Work;

/// A wait that was started.
pub struct TimerView {
    pub from: String,
    pub until: String,
    pub clock: String,
    /// What it belongs to, with its page.
    pub name: String,
    pub href: String,
}

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
    pub kind: &'static str,
    pub text: String,
    pub cautions: Vec<CautionView>,
    pub drawing: Option<String>,
    /// Minutes to wait, as told and as sent.
    pub wait: Option<(String, String)>,
    pub timer: Option<TimerView>,
    pub parts: Vec<PartView>,
    pub ways: Vec<WayView>,
}

/// The procedure.
pub struct GuideView {
    /// `check/cold-pull`
    pub work: String,
    pub seq: u32,
    pub all: Vec<StageView>,
    /// The step on show, from 1; 0 shows the overview.
    pub at: usize,
    pub stage: Option<StageView>,
    pub begin: String,
    pub back: String,
    pub next: Option<String>,
    pub timer_action: String,
    pub parts_action: String,
    /// The step that was reached before, when a wait runs there.
    pub running: Option<TimerView>,
}

/// The procedure of a piece of work, `at` the step asked for.
pub fn guide(state: &AppState, case: &Opened, work_id: &str, work: &Work, at: usize) -> GuideView {
    let all = stages(
        &state.knowledge,
        &case.state.facts,
        work,
        case.state.present,
        &case.workshop,
    );
    let at = at.min(all.len());
    let href = |n: usize| step_href(case, work_id, n);
    GuideView {
        work: work_id.to_string(),
        seq: case.state.last_seq,
        stage: at
            .checked_sub(1)
            .map(|i| stage_view(state, case, work_id, i, &all[i])),
        at,
        begin: href(1),
        back: href(at.saturating_sub(1)),
        next: (at > 0 && at < all.len()).then(|| href(at + 1)),
        timer_action: urls::in_case(case.id, "timer"),
        parts_action: urls::in_case(case.id, "parts"),
        running: timers(state, case)
            .into_iter()
            .find(|t| t.href.starts_with(&urls::in_case(case.id, work_id))),
        all: all
            .iter()
            .enumerate()
            .map(|(i, s)| stage_view(state, case, work_id, i, s))
            .collect(),
    }
}

/// The page of a step; 0 is the overview.
pub fn step_href(case: &Opened, work: &str, n: usize) -> String {
    let page = urls::in_case(case.id, work);
    if n == 0 {
        page
    } else {
        format!("{page}?step={n}")
    }
}

fn stage_view(state: &AppState, case: &Opened, work: &str, i: usize, stage: &Stage) -> StageView {
    let k = &state.knowledge;
    let out = |part: &String| {
        case.state
            .parts_out
            .contains(&(work.to_string(), part.clone()))
    };
    let timer = case
        .state
        .timers
        .iter()
        .find(|t| t.work == work && t.step as usize == i + 1);
    StageView {
        n: i + 1,
        kind: match stage.kind {
            Kind::Ready => "Get ready",
            Kind::Do => "Do",
            Kind::Back => "Put back",
        },
        text: show::keep_units(&stage.text),
        cautions: cautions(state, &stage.cautions),
        drawing: stage
            .drawing
            .as_deref()
            .and_then(|d| hand::svg(d, &stage.text)),
        wait: (stage.wait > 0.0).then(|| (show::minutes(stage.wait), show::number(stage.wait))),
        timer: timer.map(|t| timer_view(state, case, t)),
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
                    cautions: cautions(state, &work.cautions),
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

/// All waits of a case that were started and whose work is not recorded yet. A held machine waits
/// for its release: the links of a wait would lead back into work that is locked.
pub fn timers(state: &AppState, case: &Opened) -> Vec<TimerView> {
    let free = case.state.held().is_empty();
    case.state
        .timers
        .iter()
        .filter(|_| free)
        .map(|t| timer_view(state, case, t))
        .collect()
}

fn timer_view(state: &AppState, case: &Opened, timer: &Timer) -> TimerView {
    TimerView {
        from: show::stamp(timer.from),
        until: show::stamp(timer.until),
        clock: show::clock(timer.until),
        name: work_name(state, &timer.work),
        href: step_href(
            case,
            &timer.work,
            if timer.work == "verify" {
                0
            } else {
                timer.step as usize
            },
        ),
    }
}

/// `check/cold-pull` in words.
pub fn work_name(state: &AppState, work: &str) -> String {
    let k = &state.knowledge;
    let name = match work.split_once('/') {
        Some(("check", id)) => k.check_id(id).map(|c| k.check(c).work.name.clone()),
        Some(("fix", id)) => k.fix_id(id).map(|x| k.fix(x).work.name.clone()),
        Some(("stop", id)) => k
            .stops
            .iter()
            .find(|s| s.id == id)
            .map(|s| s.work.name.clone()),
        _ if work == "verify" => Some("Proof by printing".into()),
        _ => None,
    };
    name.unwrap_or_else(|| work.to_string())
}
