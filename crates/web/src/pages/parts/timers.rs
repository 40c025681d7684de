//! Waits that were started, as pages show them.

use crate::pages::open_case::OpenCase;
use crate::show;
use crate::words::work;
use suspect_core::case::{Timer, WorkId};
use suspect_core::knowledge::Knowledge;

/// A wait that was started.
pub struct TimerView {
    pub from: String,
    pub until: String,
    pub clock: String,
    /// What it belongs to, with its page.
    pub name: String,
    pub href: String,
    pub work: WorkId,
}

/// The page of a step of some work; 0 shows all steps. A proof has one page for all.
pub fn step_href(case: &OpenCase, work: &WorkId, step: usize) -> String {
    let page = case.below(&work.to_string());
    match (work, step) {
        (WorkId::Proof, _) | (_, 1) => page,
        (_, step) => format!("{page}?step={step}"),
    }
}

/// All waits of a case that were started and whose work is not recorded yet. A held machine waits
/// for its release: the links of a wait would lead back into work that is locked.
pub fn timers(k: &Knowledge, case: &OpenCase) -> Vec<TimerView> {
    let free = case.state.held().is_empty();
    let timers = case.state.timers.iter().filter(|_| free);
    timers.map(|t| timer(k, case, t)).collect()
}

/// One wait.
pub fn timer(k: &Knowledge, case: &OpenCase, timer: &Timer) -> TimerView {
    TimerView {
        from: show::stamp(timer.from),
        until: show::stamp(timer.until),
        clock: show::clock(timer.until),
        name: work::name(k, &timer.work),
        href: step_href(case, &timer.work, timer.step as usize),
        work: timer.work.clone(),
    }
}
