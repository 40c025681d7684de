//! The next step of a case as its page shows it, and those that may be done instead.

use crate::pages::open_case::OpenCase;
use crate::pages::parts::link::Link;
use crate::pages::parts::schools::{self, SchoolLine};
use crate::pages::parts::work::{self, OutcomeRow, WorkView};
use crate::state::AppState;
use crate::words::{self, learned, next};
use crate::{screen, show};
use suspect_core::case::{Analysis, What, WorkId, prefer};
use suspect_core::knowledge::{CheckId, FixId, Knowledge};
use suspect_core::planning::{Action, Step, preview};

/// Steps offered beside the best.
const OTHER_STEPS: usize = 3;

/// What kind of step it is, with what only that kind shows.
pub enum NextKind {
    Check {
        outcomes: Vec<OutcomeRow>,
    },
    /// Something else locks the machine: another case, or how it is built.
    Elsewhere {
        by_case: bool,
    },
    Fix {
        cures: String,
        /// How it did here for the suspect in the lead, beside the book's figure.
        here: Option<String>,
    },
    Stop,
    GiveUp,
    /// Nothing is known yet.
    Tell,
    Verify,
    Close,
    Done,
}

/// The next step.
pub struct NextStep {
    pub kind: NextKind,
    /// The check or fix, so that it can be put off.
    pub work_id: Option<WorkId>,
    pub href: String,
    pub action: String,
    pub plain: String,
    pub saves: Option<String>,
    pub work: Option<WorkView>,
    /// Who suggested it, when it stands first because somebody here took that up.
    pub wanted: Option<String>,
    /// Where practice differs in this step.
    pub schools: Vec<SchoolLine>,
    /// The plan's own first step, where whoever is here may not do it.
    pub elsewhere: Option<String>,
}

/// A step that may be done instead.
pub struct OtherStep {
    pub href: String,
    pub name: String,
    pub minutes: String,
    pub what: String,
}

/// Checks that need the machine in the state the first one brings it into.
pub struct Together {
    pub words: String,
    pub checks: Vec<Link>,
}

impl NextStep {
    /// A step without figures of its own.
    fn plain(kind: NextKind, href: String, plain: String) -> Self {
        Self {
            kind,
            work_id: None,
            action: href.clone(),
            href,
            plain,
            saves: None,
            work: None,
            wanted: None,
            schools: Vec::new(),
            elsewhere: None,
        }
    }

    /// Whether it comes from the plan, and not from a stop, a proof or the end.
    pub fn is_planned(&self) -> bool {
        matches!(self.kind, NextKind::Check { .. } | NextKind::Fix { .. })
    }
}

/// The next step of a case.
pub fn next_step(state: &AppState, case: &OpenCase, analysis: &Analysis) -> NextStep {
    let k = &state.knowledge;
    let now = next::words(k, case.id, case.machine.id, &analysis.next.what);
    match &analysis.next.what {
        What::ClearStop(stop) => {
            let stop = &k.stops[*stop];
            NextStep {
                work: Some(work::view(k, &case.state.facts, &stop.work)),
                ..NextStep::plain(NextKind::Stop, now.href, stop.why.clone())
            }
        }
        What::Locked(lock) => {
            let name = show::lower_first(&k.stops[lock.stop].name);
            let by_case = lock.case().is_some();
            let plain = format!("{}: {name}", now.name);
            NextStep::plain(NextKind::Elsewhere { by_case }, now.href, plain)
        }
        What::Closed => NextStep::plain(NextKind::Done, String::new(), String::new()),
        What::Prove(fix) => NextStep::plain(NextKind::Verify, now.href, k.fix(*fix).verify.clone()),
        What::Close(_) => NextStep::plain(
            NextKind::Close,
            now.href,
            match case.state.proven() {
                true => "The proof is good. Say which cause it was, so that the workshop learns.",
                false => "The fault is gone so far. Say which cause it was, and how sure that is.",
            }
            .into(),
        ),
        What::Check(check) => check_step(state, case, analysis, *check, now.href),
        What::Fix(fix) => fix_step(state, case, analysis, *fix, now.href),
        What::Tell => NextStep::plain(
            NextKind::Tell,
            now.href,
            "Touch the place on the drawing where the fault is, or tell it in your own words. A \
             step is advised as soon as there is something to go by."
                .into(),
        ),
        What::AskMaker => NextStep::plain(
            NextKind::GiveUp,
            case.below("close"),
            "No check or fix here is worth its time any more. Ask the maker with this case in \
             hand, or close it for another day."
                .into(),
        ),
    }
}

/// What whoever signed in may do comes first; what the plan would begin with is said, with who may.
pub fn elsewhere(k: &Knowledge, analysis: &mut Analysis) -> Option<String> {
    let role = screen::with_present(|p| p.member.as_ref().map(|m| m.role)).flatten()?;
    let other = prefer(k, analysis, role)?;
    let who = screen::with_present(|p| p.who_may(other.needs.deed)).unwrap_or_default();
    let names = match who.is_empty() {
        true => String::new(),
        false => format!(": {}", who.join(", ")),
    };
    let lead = match other.instead {
        true => "By the plan",
        false => "Next",
    };
    Some(format!(
        "{lead} “{}” comes first. It needs {}{names}.",
        other.action.name(k),
        other.needs.words()
    ))
}

fn check_step(
    state: &AppState,
    case: &OpenCase,
    analysis: &Analysis,
    check: CheckId,
    href: String,
) -> NextStep {
    let k = &state.knowledge;
    let schools = schools::of_check(k, Some(&case.workshop), check);
    let steps = &analysis.plan.steps;
    let planned = steps.iter().find(|s| s.action == Action::Check(check));
    let previews = match planned {
        Some(step) => step.outcomes.clone(),
        None => preview(k, &case.state.facts, &analysis.line_up, check),
    };
    let wanted = (case.state.wanted == Some(check)).then(|| wanted_by(k, case, check));
    let check = k.check(check);
    let finding = k.finding(check.finding);
    let outcomes = work::outcome_rows(k, check.finding, &previews);
    let saves = analysis.next.saves;
    NextStep {
        work_id: Some(WorkId::Check(finding.id.clone())),
        saves: (saves >= 0.5).then(|| show::minutes(saves)),
        work: Some(work::view(k, &case.state.facts, &check.work)),
        schools,
        wanted: wanted.flatten(),
        ..NextStep::plain(
            NextKind::Check { outcomes },
            href,
            show::sentence(&finding.plain),
        )
    }
}

/// Whose suggestion a check is.
fn wanted_by(k: &Knowledge, case: &OpenCase, check: CheckId) -> Option<String> {
    let id = k.check_name(check);
    let suggested = case.state.suggestions.iter().rev();
    let mut taken = suggested.filter(|s| s.taken == Some(true));
    taken
        .find(|s| s.check.as_deref() == Some(id))
        .map(|s| s.by.clone())
}

fn fix_step(
    state: &AppState,
    case: &OpenCase,
    analysis: &Analysis,
    fix: FixId,
    href: String,
) -> NextStep {
    let k = &state.knowledge;
    let schools = schools::of_fix(k, Some(&case.workshop), fix);
    let leader = analysis.line_up.leader();
    let here = leader.and_then(|l| learned::cure(k, &case.state.facts, fix, l.cause));
    let fix = k.fix(fix);
    let first = fix.work.steps.first().map(|s| s.text.clone());
    let cures = show::percent(analysis.next.cures);
    NextStep {
        work_id: Some(WorkId::Fix(fix.id.clone())),
        work: Some(work::view(k, &case.state.facts, &fix.work)),
        schools,
        ..NextStep::plain(
            NextKind::Fix { cures, here },
            href,
            first.unwrap_or_default(),
        )
    }
}

/// Steps that may be done instead, best first.
pub fn others(state: &AppState, case: &OpenCase, analysis: &Analysis) -> Vec<OtherStep> {
    let first = match analysis.next.what {
        What::Check(check) => Some(Action::Check(check)),
        What::Fix(fix) => Some(Action::Fix(fix)),
        _ => analysis.plan.steps.first().map(|s| s.action),
    };
    let steps = analysis.plan.steps.iter();
    let rest = steps.filter(|s| Some(s.action) != first);
    rest.filter_map(|s| other(state, case, s))
        .take(OTHER_STEPS)
        .collect()
}

/// A check or a fix; a stop stands alone, and giving up is no step to choose.
fn other(state: &AppState, case: &OpenCase, step: &Step) -> Option<OtherStep> {
    let k = &state.knowledge;
    let (href, name, what) = match step.action {
        Action::Check(c) => {
            let what = match step.saves >= 0.5 {
                true => format!("check, saves {}", show::minutes(step.saves)),
                false => "check".into(),
            };
            let href = case.below(&format!("check/{}", k.check_name(c)));
            (href, k.check(c).work.name.clone(), what)
        }
        Action::Fix(x) => {
            let what = format!("fix, cures {}", show::percent(step.cures));
            let href = case.below(&format!("fix/{}", k.fix(x).id));
            (href, k.fix(x).work.name.clone(), what)
        }
        Action::ClearStop(_) | Action::GiveUp => return None,
    };
    Some(OtherStep {
        href,
        name,
        minutes: show::minutes(step.minutes),
        what,
    })
}

/// "While it is hot": what else is worth a look then.
pub fn together(state: &AppState, case: &OpenCase, analysis: &Analysis) -> Option<Together> {
    let k = &state.knowledge;
    let first = analysis.plan.steps.first()?.action.work(k)?;
    let check = |c: &CheckId| Link {
        href: case.below(&format!("check/{}", k.check_name(*c))),
        name: k.check(*c).work.name.clone(),
    };
    let checks: Vec<Link> = analysis.plan.together.iter().map(check).collect();
    (!checks.is_empty()).then(|| Together {
        words: words::work::standing(&first.stands),
        checks,
    })
}
