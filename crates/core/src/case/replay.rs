//! From the log to what the case is now.

use super::event::{Entry, Event};
use super::state::CaseState;
use crate::knowledge::Knowledge;

/// Which entries count: those no counting retraction names. A retraction can itself be retracted.
pub fn active(log: &[Entry]) -> Vec<bool> {
    let mut active = vec![true; log.len()];
    for i in (0..log.len()).rev() {
        if let (true, Event::Retracted { seq }) = (active[i], &log[i].event)
            && let Ok(target) = log[..i].binary_search_by_key(seq, |e| e.seq)
        {
            active[target] = false;
        }
    }
    active
}

/// Replays a log, whose entries stand in the order of their numbers. Never fails: what the
/// knowledge no longer knows is listed in [`CaseState::unknown`].
pub fn replay(knowledge: &Knowledge, log: &[Entry]) -> CaseState {
    let mut case = CaseState::default();
    for (entry, counts) in log.iter().zip(active(log)) {
        if counts {
            case.apply(knowledge, entry);
        } else {
            case.taken_back.insert(entry.seq);
        }
    }
    if let Some(last) = log.last() {
        case.last_seq = last.seq;
        case.updated_at = Some(last.at);
    }
    case.read_gauges(knowledge);
    case
}

/// The state after one entry more, the last of `log`; `before` is the state without it. The same
/// as replaying the whole, at the price of one entry: only a retraction takes a replay.
pub fn advance(knowledge: &Knowledge, before: &CaseState, log: &[Entry]) -> CaseState {
    let mut case = match log.last() {
        Some(Entry {
            event: Event::Retracted { .. },
            ..
        }) => replay(knowledge, log),
        Some(entry) => {
            let mut case = before.clone();
            case.apply(knowledge, entry);
            case.last_seq = entry.seq;
            case.updated_at = Some(entry.at);
            case.read_gauges(knowledge);
            case
        }
        None => before.clone(),
    };
    case.locked_by = before.locked_by.clone();
    case
}
