//! What happened in a case, as its page tells it, and what can be taken back.

use crate::pages::open_case::OpenCase;
use crate::show;
use crate::words::entry::line;
use suspect_core::case::{Entry, Event, active};
use suspect_core::knowledge::Knowledge;

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

/// What a line without others folded into it says of an entry.
fn entry_line(k: &Knowledge, case: &OpenCase, entry: &Entry, counts: bool) -> HistoryLine {
    let stays = matches!(entry.event, Event::Retracted { .. } | Event::Noted { .. });
    HistoryLine {
        time: show::moment(entry.at),
        by: entry.by.clone(),
        stamp: show::stamp(entry.at),
        text: line(k, entry),
        more: Vec::new(),
        seq: entry.seq,
        undone: !counts,
        may_undo: counts && entry.seq > 1 && !case.state.resolved() && !stays,
    }
}

/// Entries of one moment are told as one line with the rest folded in, latest first.
pub fn history(k: &Knowledge, case: &OpenCase) -> Vec<HistoryLine> {
    let mut groups: Vec<(&Entry, Vec<HistoryLine>)> = Vec::new();
    for (entry, counts) in case.log.iter().zip(active(&case.log)) {
        let line = entry_line(k, case, entry, counts);
        match groups.last_mut() {
            Some((first, lines)) if first.at == entry.at && first.by == entry.by => {
                lines.push(line);
            }
            _ => groups.push((entry, vec![line])),
        }
    }
    let folded = groups.into_iter().rev();
    folded
        .filter_map(|(first, lines)| fold(first, lines))
        .collect()
}

/// Several lines of one moment as one. The opening heads what was told with it.
fn fold(first: &Entry, mut lines: Vec<HistoryLine>) -> Option<HistoryLine> {
    let many = lines.len();
    if many < 2 {
        return lines.pop();
    }
    if matches!(first.event, Event::Opened { .. }) {
        let more = lines.split_off(1);
        let facts = if many == 2 { "fact" } else { "facts" };
        let opening = lines.pop()?;
        return Some(HistoryLine {
            text: format!("{}, {} {facts}", opening.text, many - 1),
            more,
            ..opening
        });
    }
    let head = lines.first()?;
    Some(HistoryLine {
        time: head.time.clone(),
        stamp: head.stamp.clone(),
        by: head.by.clone(),
        text: format!("{many} facts recorded"),
        seq: head.seq,
        undone: head.undone,
        may_undo: false,
        more: lines,
    })
}

/// The entry that the key `u` takes back.
pub fn last_entry(case: &OpenCase) -> Option<u32> {
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
