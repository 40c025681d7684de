//! What was said in a case, for whoever looks for it later.

use super::event::{Entry, Event};
use super::replay::active;
use crate::knowledge::Knowledge;
use crate::series::Word;

/// Characters of a case that are looked through.
const MOST: usize = 100_000;

/// All words of a case that count: title, tellings, notes, names of what it was and what did it.
pub fn words(knowledge: &Knowledge, log: &[Entry]) -> String {
    let counts = active(log);
    let mut all = String::new();
    for (entry, _) in log.iter().zip(counts).filter(|(_, counts)| *counts) {
        for text in said(knowledge, &entry.event) {
            if !text.trim().is_empty() && all.len() + text.len() < MOST {
                all.push_str(text.trim());
                all.push('\n');
            }
        }
    }
    all
}

fn said<'a>(knowledge: &'a Knowledge, event: &'a Event) -> Vec<&'a str> {
    match event {
        Event::Opened { title, spool, .. } | Event::Described { title, spool, .. } => {
            vec![title, spool]
        }
        Event::Told { text } | Event::Noted { text } | Event::LeftForLater { note: text } => {
            vec![text]
        }
        Event::Suggested { by, text, .. } => vec![by, text],
        Event::Filed { name, .. } | Event::Pictured { name, .. } => vec![name],
        Event::Fixed {
            fix, before, after, ..
        } => {
            let values = [before, after].into_iter().flatten();
            values
                .map(String::as_str)
                .chain([fixed(knowledge, fix)])
                .collect()
        }
        Event::OwnChecked { name, outcome, .. } => vec![name, outcome],
        Event::OwnFixed { name, .. }
        | Event::OwnSuspected { name }
        | Event::Trialled(Word { name, .. }) => vec![name],
        Event::StopCleared { by, reason, .. } | Event::Moved { by, reason, .. } => {
            vec![by, reason]
        }
        Event::Resolved {
            cause, fix, note, ..
        } => {
            let cause = cause.as_deref().map(|id| caused(knowledge, id));
            let fix = fix.as_deref().map(|id| fixed(knowledge, id));
            [Some(note.as_str()), cause, fix]
                .into_iter()
                .flatten()
                .collect()
        }
        Event::Reopened { reason, .. } => vec![reason],
        _ => Vec::new(),
    }
}

fn caused<'a>(knowledge: &'a Knowledge, id: &'a str) -> &'a str {
    let known = knowledge.cause_id(id);
    known.map_or(id, |c| knowledge.cause(c).name.as_str())
}

fn fixed<'a>(knowledge: &'a Knowledge, id: &'a str) -> &'a str {
    let known = knowledge.fix_id(id);
    known.map_or(id, |x| knowledge.fix(x).work.name.as_str())
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::testing::{entry, noted, opened};

    #[test]
    fn what_was_taken_back_is_not_found_and_nothing_is_too_long() {
        let k = Knowledge::shipped();
        let log = vec![
            entry(1, opened()),
            entry(2, noted("the grub screw was loose")),
            entry(3, noted("nonsense")),
            entry(4, Event::Retracted { seq: 3 }),
            entry(5, noted(&"long ".repeat(30_000))),
        ];
        let said = words(&k, &log);
        assert!(said.contains("grub screw"));
        assert!(!said.contains("nonsense") && !said.contains("long long"));
    }
}
