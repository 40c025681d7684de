//! What happened in a case, as its page tells it, and what can be taken back.

use crate::pages::open_case::OpenCase;
use crate::show;
use crate::words::entry::line_in;
use suspect_core::case::{Entry, Event, active};
use suspect_core::knowledge::Knowledge;
use time::OffsetDateTime;

/// What happened on one day.
pub struct HistoryDay {
    /// "Today", "23 Nov 2026".
    pub name: String,
    pub lines: Vec<HistoryLine>,
}

/// One line of the history; entries of one moment are folded into it.
pub struct HistoryLine {
    /// "14:05".
    pub time: String,
    /// "23 Nov 2026, 14:05".
    pub exact: String,
    pub stamp: String,
    /// Who was at the screen, when somebody had said so.
    pub by: Option<String>,
    pub text: String,
    pub more: Vec<HistoryLine>,
    pub seq: u32,
    /// The last entry folded into it.
    pub last: u32,
    pub undone: bool,
    pub may_undo: bool,
}

/// What a line without others folded into it says of an entry.
fn entry_line(k: &Knowledge, case: &OpenCase, entry: &Entry, counts: bool) -> HistoryLine {
    let stays = matches!(entry.event, Event::Retracted { .. } | Event::Noted { .. });
    HistoryLine {
        time: show::clock(entry.at),
        exact: show::moment(entry.at),
        by: crate::screen::shown_of(entry.by.as_deref()),
        stamp: show::stamp(entry.at),
        text: line_in(k, &case.log, entry),
        more: Vec::new(),
        seq: entry.seq,
        last: entry.seq,
        undone: !counts,
        may_undo: counts && entry.seq > 1 && !case.state.resolved() && !stays,
    }
}

/// What happened day by day, the latest first.
pub fn history(k: &Knowledge, case: &OpenCase) -> Vec<HistoryDay> {
    let mut days: Vec<HistoryDay> = Vec::new();
    for (at, line) in lines(k, case) {
        let name = show::day(at);
        match days.last_mut() {
            Some(day) if day.name == name => day.lines.push(line),
            _ => days.push(HistoryDay {
                name,
                lines: vec![line],
            }),
        }
    }
    days
}

/// Entries of one moment are told as one line with the rest folded in, latest first.
fn lines(k: &Knowledge, case: &OpenCase) -> Vec<(OffsetDateTime, HistoryLine)> {
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
        .filter_map(|(first, lines)| Some((first.at, fold(first, lines)?)))
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
            last: more.last().map_or(opening.last, |l| l.last),
            text: format!("{}, {} {facts}", opening.text, many - 1),
            more,
            ..opening
        });
    }
    let head = lines.first()?;
    Some(HistoryLine {
        time: head.time.clone(),
        exact: head.exact.clone(),
        stamp: head.stamp.clone(),
        by: head.by.clone(),
        text: format!("{many} facts recorded"),
        seq: head.seq,
        last: lines.last().map_or(head.last, |l| l.last),
        undone: head.undone,
        may_undo: false,
        more: lines,
    })
}

/// The entry that the key `u` takes back.
pub struct LastEntry {
    pub seq: u32,
    pub text: String,
}

/// The last entry that can be taken back.
pub fn last_entry(k: &Knowledge, case: &OpenCase) -> Option<LastEntry> {
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
        .map(|(e, _)| LastEntry {
            seq: e.seq,
            text: line_in(k, &case.log, e),
        })
}
