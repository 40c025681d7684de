//! The one answer to "what now": pages, papers, lists and command line only word it.

use super::state::{CaseState, Status};
use crate::knowledge::{CheckId, FixId, Knowledge};
use crate::lock::Lock;
use crate::planning::{Action, Plan, Step};
use std::fmt;

/// What is to be done now.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum What {
    /// A stop of this case holds: only its clearing may be done.
    ClearStop(usize),
    /// Something else locks the machine: nothing is done on it until that is lifted.
    Locked(Lock),
    /// Nothing is known yet: say first what is seen.
    Tell,
    /// Do this check.
    Check(CheckId),
    /// Apply this fix.
    Fix(FixId),
    /// A fix was applied: print, compare, say what came of it.
    Prove(FixId),
    /// The proof was good: say what it was.
    Close(Option<FixId>),
    /// No step is worth its time any more.
    AskMaker,
    /// The case is closed.
    Closed,
}

/// The answer with the figures that go with it.
#[derive(Debug, Clone, PartialEq)]
pub struct Next {
    /// What is to be done.
    pub what: What,
    /// Hands-on and waiting minutes; 0 where nobody can say.
    pub minutes: f64,
    /// Counted minutes saved against trying fixes in turn; for checks.
    pub saves: f64,
    /// Probability that it cures now; for fixes.
    pub cures: f64,
    /// Left for another day, with a word for whoever goes on.
    pub resting: Option<String>,
}

/// What is to be done now in a case, the lock of its machine ([`CaseState::locked_by`]) included.
///
/// A stop of the case comes first, then what else locks the machine, then the proof of a fix, then
/// the plan. A closed case is told nothing but a stop of its own that still holds.
pub fn next(case: &CaseState, plan: &Plan) -> Next {
    next_under(case, case.locked_by.as_ref(), plan)
}

/// The same under a lock, or none, that is known from elsewhere.
pub(super) fn next_under(case: &CaseState, lock: Option<&Lock>, plan: &Plan) -> Next {
    // Somebody here took up a check a helper suggested: it comes first, but never before the cold
    // look that stands before any heat.
    let wanted = case.wanted.filter(|_| !plan.before_heat);
    let wanted = wanted.map(Action::Check);
    let planned = match wanted {
        Some(wanted) => plan.steps.iter().find(|s| s.action == wanted),
        None => plan.steps.first(),
    };
    let planned = planned.filter(|_| case.status == Status::Open);
    let what = match (&case.status, case.stops.first(), lock) {
        (_, Some(stop), _) => What::ClearStop(*stop),
        (Status::Resolved(_), _, _) => What::Closed,
        (_, _, Some(lock)) => What::Locked(lock.clone()),
        (Status::Verifying(fix), _, _) => What::Prove(*fix),
        (Status::Cured(fix), _, _) => What::Close(*fix),
        (Status::Open, _, _) if knows_nothing(case) => What::Tell,
        (Status::Open, _, _) => match wanted.or(planned.map(|s| s.action)) {
            Some(Action::Check(check)) => What::Check(check),
            Some(Action::Fix(fix)) => What::Fix(fix),
            Some(Action::GiveUp | Action::ClearStop(_)) | None => What::AskMaker,
        },
    };
    let of_the_plan = matches!(what, What::Check(_) | What::Fix(_));
    let figure = |of: fn(&Step) -> f64| planned.filter(|_| of_the_plan).map_or(0.0, of);
    Next {
        minutes: figure(|s| s.minutes),
        saves: figure(|s| s.saves),
        cures: figure(|s| s.cures),
        resting: case.resting.clone().filter(|_| !case.resolved()),
        what,
    }
}

/// Whether nobody has said anything that speaks for or against a suspect.
fn knows_nothing(case: &CaseState) -> bool {
    let facts = &case.facts;
    facts.findings.is_empty()
        && facts.tried.is_empty()
        && facts.cleared.is_empty()
        && facts.settings.known().next().is_none()
}

impl What {
    /// Whether something heats, moves or prints when it is done.
    pub fn runs_the_machine(&self) -> bool {
        matches!(self, What::Check(_) | What::Fix(_) | What::Prove(_))
    }

    /// The same once something else locks the machine: what was kept beside a case does not know.
    pub fn under(self, lock: Option<Lock>) -> What {
        match (self, lock) {
            (own @ (What::ClearStop(_) | What::Closed), _) => own,
            (_, Some(lock)) => What::Locked(lock),
            (own, None) => own,
        }
    }

    /// Reads what [`What::written`] wrote; nothing when the present knowledge does not know it.
    pub fn parse(knowledge: &Knowledge, text: &str) -> Option<What> {
        let (kind, id) = text.split_once('/').unwrap_or((text, ""));
        let stop = |id: &str| knowledge.stops.iter().position(|s| s.id == id);
        match kind {
            "tell" => Some(What::Tell),
            "clear" => stop(id).map(What::ClearStop),
            "check" => knowledge.check_id(id).map(What::Check),
            "fix" => knowledge.fix_id(id).map(What::Fix),
            "prove" => knowledge.fix_id(id).map(What::Prove),
            "close" if id.is_empty() => Some(What::Close(None)),
            "close" => Some(What::Close(knowledge.fix_id(id))),
            "ask" => Some(What::AskMaker),
            "closed" => Some(What::Closed),
            _ => None,
        }
    }

    /// As it is kept beside a case: `check/pulley-mark`, `prove/tighten-pulley`, `clear/burning`.
    /// What locks the machine from elsewhere is never kept: it is known when it is read.
    pub fn written<'a>(&'a self, knowledge: &'a Knowledge) -> impl fmt::Display + 'a {
        Written(self, knowledge)
    }
}

struct Written<'a>(&'a What, &'a Knowledge);

impl fmt::Display for Written<'_> {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let Written(what, k) = self;
        match what {
            What::ClearStop(stop) => write!(f, "clear/{}", k.stops[*stop].id),
            What::Locked(_) => f.write_str("locked"),
            What::Tell => f.write_str("tell"),
            What::Check(check) => write!(f, "check/{}", k.check_name(*check)),
            What::Fix(fix) => write!(f, "fix/{}", k.fix(*fix).id),
            What::Prove(fix) => write!(f, "prove/{}", k.fix(*fix).id),
            What::Close(Some(fix)) => write!(f, "close/{}", k.fix(*fix).id),
            What::Close(None) => f.write_str("close"),
            What::AskMaker => f.write_str("ask"),
            What::Closed => f.write_str("closed"),
        }
    }
}
