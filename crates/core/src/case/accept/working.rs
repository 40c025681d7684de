//! What is done at the machine: checks, waits, parts, fixes, proofs. Under a stop only what leads
//! to its clearing.

use super::facts::observed;
use super::proving;
use super::{amount, known_fix, no_check, optional, required};
use crate::case::event::Event;
use crate::case::state::{CaseState, Status};
use crate::knowledge::{CheckId, Knowledge, Work};
use crate::measures::{self, Reading, ReadingProblem, Readings, holds};
use crate::nearest::short;
use crate::refusal::{NotNow, Problem, Refusal, Stopped};
use crate::safety;
use crate::settings::Conversion;
use crate::text::{LONGEST_NAME, LONGEST_TEXT, LONGEST_TITLE};
use crate::work_id::{NoWork, WorkId};

/// Longest wait, in minutes: two days of drying.
const LONGEST_WAIT: f64 = 2_880.0;

pub(super) fn accept(
    knowledge: &Knowledge,
    case: &CaseState,
    event: &Event,
) -> Result<(), Refusal> {
    match event {
        Event::Checked {
            check,
            outcome,
            minutes,
            ..
        } => {
            amount("minutes", *minutes)?;
            let id = knowledge.check_id(check);
            let id = id.ok_or_else(|| no_check(knowledge, check))?;
            check_allowed(knowledge, case, id)?;
            observed(knowledge, check, outcome)
        }
        Event::Gauged {
            check,
            readings,
            note,
            minutes,
            ..
        } => {
            amount("minutes", *minutes)?;
            gauged(knowledge, case, check, readings, note.as_ref())
        }
        Event::TimerSet {
            work,
            step,
            minutes,
        } => timer(knowledge, case, work, *step, *minutes),
        Event::PartKept { work, part, back } => part_kept(knowledge, case, work, part, *back),
        Event::SetAside { step, minutes, .. } => {
            amount("minutes", *minutes)?;
            may_be_set_aside(knowledge, step)
        }
        Event::TakenUp { step } => match case.set_aside.contains_key(step) {
            true => Ok(()),
            false => Err(NotNow::NotSetAside.into()),
        },
        Event::Benched { reading, minutes } => benched(knowledge, case, reading, *minutes),
        Event::PutBack { fixed } => put_back(case, *fixed),
        Event::LeftForLater { note } => optional("note", note, LONGEST_TEXT),
        Event::Fixed { .. } => fixed(knowledge, case, event),
        Event::Printed { .. } | Event::Struck(_) | Event::Lost(_) | Event::Beside { .. } => {
            proving::accept(knowledge, case, event)
        }
        _ => Ok(()),
    }
}

fn put_back(case: &CaseState, fixed: u32) -> Result<(), Refusal> {
    match case.changes.iter().find(|c| c.seq == fixed) {
        Some(change) if !change.put_back => Ok(()),
        Some(_) => Err(NotNow::PutBackBefore.into()),
        None => Err(Refusal::invalid("fixed", Problem::ChangedNothing(fixed))),
    }
}

fn may_be_set_aside(knowledge: &Knowledge, step: &WorkId) -> Result<(), Refusal> {
    known_work(knowledge, step)?;
    match step {
        WorkId::Check(_) | WorkId::Fix(_) => Ok(()),
        _ => Err(Refusal::invalid("step", Problem::CannotBeSetAside)),
    }
}

fn benched(
    knowledge: &Knowledge,
    case: &CaseState,
    reading: &Reading,
    minutes: f64,
) -> Result<(), Refusal> {
    amount("minutes", minutes)?;
    if let Some(check) = knowledge.check_id(&reading.measure) {
        check_allowed(knowledge, case, check)?;
    }
    holds(reading).map_err(|why| {
        let problem = ReadingProblem::Together(why.to_string());
        Refusal::invalid("reading", problem)
    })
}

fn gauged(
    knowledge: &Knowledge,
    case: &CaseState,
    check: &str,
    readings: &Readings,
    note: Option<&Conversion>,
) -> Result<(), Refusal> {
    if let Some(Conversion::Typed { typed: text } | Conversion::InWords(text)) = note {
        optional("note", text, LONGEST_TEXT)?;
    }
    let Some((id, gauge)) = knowledge.check_id(check).zip(measures::gauge(check)) else {
        let known = measures::gauges().iter().map(|g| g.check);
        let problem = Problem::unknown("check", check, known);
        return Err(Refusal::invalid("check", problem));
    };
    check_allowed(knowledge, case, id)?;
    let accepted = gauge.accept(knowledge, &case.facts, readings);
    accepted.map_err(|(field, problem)| Refusal::invalid(&field, problem))
}

fn fixed(knowledge: &Knowledge, case: &CaseState, event: &Event) -> Result<(), Refusal> {
    let Event::Fixed {
        fix,
        minutes,
        money,
        before,
        after,
        together,
    } = event
    else {
        return Ok(());
    };
    known_fix(knowledge, fix)?;
    amount("minutes", *minutes)?;
    amount("money", *money)?;
    optional("before", before.as_deref().unwrap_or(""), LONGEST_TITLE)?;
    optional("after", after.as_deref().unwrap_or(""), LONGEST_TITLE)?;
    free(knowledge, case)?;
    match case.status {
        Status::Verifying(open) if !together => Err(NotNow::ProofFirst(open).into()),
        _ => Ok(()),
    }
}

fn part_kept(
    knowledge: &Knowledge,
    case: &CaseState,
    work: &WorkId,
    part: &String,
    back: bool,
) -> Result<(), Refusal> {
    let known = known_work(knowledge, work)?;
    required("part", part, LONGEST_NAME)?;
    let mut steps = known.iter().flat_map(|w| &w.steps);
    let kept = steps.any(|s| s.keep.contains(part));
    let out = case.parts_out.contains(&(work.clone(), part.clone()));
    if back && !out {
        return Err(NotNow::PartIsBack(part.clone()).into());
    }
    match kept || out {
        true => Ok(()),
        false => Err(Refusal::invalid("part", Problem::NoSuchPart(short(part)))),
    }
}

/// A wait in a step of some work.
fn timer(
    knowledge: &Knowledge,
    case: &CaseState,
    work: &WorkId,
    step: u32,
    minutes: f64,
) -> Result<(), Refusal> {
    // Getting ready and putting back stand around the steps that are written down.
    let steps = known_work(knowledge, work)?.map_or(1, |w| w.steps.len() as u32 + 2);
    if !(1..=steps).contains(&step) {
        return Err(Refusal::invalid(
            "step",
            Problem::NoSuchStep { step, steps },
        ));
    }
    if !(minutes > 0.0 && minutes <= LONGEST_WAIT) {
        let problem = Problem::Wait {
            given: minutes,
            most: LONGEST_WAIT,
        };
        return Err(Refusal::invalid("minutes", problem));
    }
    match work {
        WorkId::Check(id) => match knowledge.check_id(id) {
            Some(check) => check_allowed(knowledge, case, check),
            None => free(knowledge, case),
        },
        _ => free(knowledge, case),
    }
}

/// Nothing may heat or move while a stop holds here or elsewhere on the machine.
pub(super) fn free(knowledge: &Knowledge, case: &CaseState) -> Result<(), Refusal> {
    if let Some(stop) = case.stops.first() {
        return Err(Refusal::Stopped {
            stop: knowledge.stops[*stop].id.clone(),
            why: Stopped::Held,
        });
    }
    match &case.locked_by {
        None => Ok(()),
        Some(lock) => Err(Refusal::Locked { lock: lock.clone() }),
    }
}

/// Under a stop of its own case only the check that leads to the clearing may be done.
fn check_allowed(knowledge: &Knowledge, case: &CaseState, check: CheckId) -> Result<(), Refusal> {
    let stops: Vec<_> = case.stops.iter().map(|s| &knowledge.stops[*s]).collect();
    match case.locked_by.is_none() && safety::allowed_under(&stops, check) {
        true => Ok(()),
        false => free(knowledge, case),
    }
}

/// Work a timer, a part or a reason belongs to; nothing for a proof by printing.
fn known_work<'a>(knowledge: &'a Knowledge, work: &WorkId) -> Result<Option<&'a Work>, Refusal> {
    if *work == WorkId::Proof {
        return Ok(None);
    }
    match knowledge.work(work) {
        Some(known) => Ok(Some(known)),
        None => Err(Refusal::invalid("step", NoWork(short(&work.to_string())))),
    }
}
