//! A closed case of the workshop's own past as a practice case: what was told first, who it was.

use super::case::{Level, Past, PracticeCase, in_vain};
use super::draw::{in_order, likeliest, said};
use crate::{PRACTICE, seeded};
use suspect_core::case::{Entry, Event, Status, replay};
use suspect_core::evidence::Facts;
use suspect_core::knowledge::{CauseId, Knowledge, TryResult};
use suspect_core::safety;

/// Why a case of the past makes no practice.
#[derive(Debug, Clone, Copy, PartialEq, Eq, thiserror::Error)]
pub enum NoPast {
    /// It is open, or ended without a proved cause.
    #[error("the case ended without a proved cause")]
    NotProved,
    /// Nothing was told before the first check or fix.
    #[error("nothing was told of it before the first check or fix")]
    NothingTold,
}

/// Whether something was done to find or mend the fault.
fn does(event: &Event) -> bool {
    matches!(
        event,
        Event::Checked { .. } | Event::Gauged { .. } | Event::Fixed { .. } | Event::Resolved { .. }
    )
}

/// Makes a practice case of the log of a closed one. Nobody's name and no free words of it are in
/// there: what is told is told in the phrases of the knowledge.
///
/// # Errors
/// [`NoPast`] where it ended without a proved cause, or nothing was told.
pub fn of_past(
    k: &Knowledge,
    label: &str,
    log: &[Entry],
    done: Vec<String>,
) -> Result<PracticeCase, NoPast> {
    let whole = replay(k, log);
    let Status::Resolved(end) = &whole.status else {
        return Err(NoPast::NotProved);
    };
    let cause = end.cause.as_deref().and_then(|id| k.cause_id(id));
    let proved = end.outcome == suspect_core::case::Outcome::FixedAndVerified;
    let cause = cause.filter(|_| proved).ok_or(NoPast::NotProved)?;
    let first = log.iter().position(|e| does(&e.event)).unwrap_or(log.len());
    let before = replay(k, &log[..first]).facts;
    let mut told = Facts {
        context: before.context,
        ..Facts::default()
    };
    for (f, sighting) in &before.findings {
        if sighting.answer.state().is_some() {
            told.findings.insert(*f, *sighting);
        }
    }
    if told.findings.is_empty() {
        return Err(NoPast::NothingTold);
    }
    let vain = before.tried.iter().filter(|t| t.result == TryResult::Same);
    told.tried = in_vain(&vain.map(|t| t.fix).collect::<Vec<_>>());
    let found = whole.facts.findings.iter().filter_map(|(f, s)| {
        let finding = k.finding(*f);
        let state = &finding.states[s.answer.state()?];
        Some((finding.id.clone(), state.id.clone()))
    });
    let seed = seed_of_label(label);
    let past = Past {
        label: label.into(),
        found: found.collect(),
        fix: end.fix.clone(),
        done,
    };
    Ok(PracticeCase {
        seed,
        level: level_of(k, cause, &told),
        perturb: 0.0,
        acting: vec![cause],
        words: said(k, &told, &mut seeded(seed, PRACTICE, 0)),
        asked: in_order(likeliest(k, &told).0),
        told,
        wrong: None,
        past: Some(past),
        surprise: true,
    })
}

/// What was hard about it.
fn level_of(k: &Knowledge, cause: CauseId, told: &Facts) -> Level {
    if !safety::stops(k, told).is_empty() {
        return Level::Dangerous;
    }
    match likeliest(k, told).0.first() {
        Some(lead) if *lead == cause => Level::Clear,
        Some(lead) if k.cause(*lead).weight >= k.cause(cause).weight => Level::PopularWrong,
        _ => Level::Messy,
    }
}

/// A seed of a label: its letters, folded.
fn seed_of_label(label: &str) -> u64 {
    let fold = |sum: u64, b: u8| (sum ^ u64::from(b)).wrapping_mul(0x0100_0000_01b3);
    label.bytes().fold(0xcbf2_9ce4_8422_2325, fold)
}
