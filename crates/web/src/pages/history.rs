//! What happened in a case, as its page tells it, and what can be taken back.

use super::Opened;
use super::recording::line;
use crate::show;
use crate::state::AppState;
use suspect_core::case::{Event, active};

/// One line of the history; entries of one moment are folded into it.
pub struct HistoryLine {
    pub time: String,
    pub stamp: String,
    /// Who was at the screen, when somebody had said so.
    pub by: Option<String>,
    pub text: String,
    pub more: Vec<HistoryLine>,
    pub seq: u32,
    pub undone: bool,
    pub may_undo: bool,
}

/// Entries of one moment are told as one line with the rest folded in.
pub fn history(state: &AppState, case: &Opened) -> Vec<HistoryLine> {
    let counts = active(&case.log);
    let mut lines: Vec<HistoryLine> = Vec::new();
    let mut last_at = None;
    for (entry, counts) in case.log.iter().zip(counts) {
        let entry_line = HistoryLine {
            time: show::moment(entry.at),
            by: entry.by.clone(),
            stamp: show::stamp(entry.at),
            text: line(state, entry),
            more: Vec::new(),
            seq: entry.seq,
            undone: !counts,
            may_undo: counts
                && entry.seq > 1
                && !case.state.resolved()
                && !matches!(entry.event, Event::Retracted { .. } | Event::Noted { .. }),
        };
        match lines.last_mut() {
            Some(group) if last_at == Some(entry.at) && group.by == entry.by => {
                group.more.push(entry_line)
            }
            _ => lines.push(entry_line),
        }
        last_at = Some(entry.at);
    }
    for group in &mut lines {
        if group.text == "Case opened" && !group.more.is_empty() {
            let n = group.more.len();
            group.text = format!("Case opened, {n} fact{}", if n == 1 { "" } else { "s" });
        } else if !group.more.is_empty() {
            let (first, n) = (std::mem::take(&mut group.text), group.more.len() + 1);
            group.text = format!("{n} facts recorded");
            group.more.insert(
                0,
                HistoryLine {
                    text: first,
                    time: group.time.clone(),
                    stamp: group.stamp.clone(),
                    by: group.by.clone(),
                    more: Vec::new(),
                    seq: group.seq,
                    undone: group.undone,
                    may_undo: group.may_undo,
                },
            );
            group.may_undo = false;
        }
    }
    lines.reverse();
    lines
}

/// The entry that the key `u` takes back.
pub fn last_entry(case: &Opened) -> Option<u32> {
    if case.state.resolved() {
        return None;
    }
    let counts = active(&case.log);
    let mut entries = case.log.iter().zip(counts).rev();
    entries
        .find(|(e, counts)| {
            *counts
                && e.seq > 1
                && !matches!(e.event, Event::Retracted { .. } | Event::Noted { .. })
        })
        .map(|(e, _)| e.seq)
}
