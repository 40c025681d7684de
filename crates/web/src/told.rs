//! What was read from people's own words: each telling is read once and kept.

use std::collections::{HashMap, HashSet};
use std::sync::{Arc, Mutex, PoisonError};
use suspect_core::intake::{Matcher, Proposal, Read};
use suspect_core::knowledge::Knowledge;

/// Letters of tellings kept at most; beyond that everything is forgotten and read again when asked.
const MOST_KEPT: usize = 4 * 1024 * 1024;

/// Reads tellings, each once.
#[derive(Debug)]
pub struct Told {
    matcher: Matcher,
    read: Mutex<Kept>,
}

#[derive(Debug, Default)]
struct Kept {
    by_text: HashMap<String, Arc<Read>>,
    letters: usize,
}

impl Told {
    /// Nothing read yet.
    pub fn new(matcher: Matcher) -> Self {
        Self {
            matcher,
            read: Mutex::default(),
        }
    }

    /// What one telling seems to say.
    fn of(&self, knowledge: &Knowledge, text: &str) -> Arc<Read> {
        let kept = self.read.lock().unwrap_or_else(PoisonError::into_inner);
        if let Some(read) = kept.by_text.get(text) {
            return Arc::clone(read);
        }
        drop(kept);
        let read = Arc::new(self.matcher.read(knowledge, text));
        let mut kept = self.read.lock().unwrap_or_else(PoisonError::into_inner);
        if kept.letters + text.len() > MOST_KEPT {
            *kept = Kept::default();
        }
        kept.letters += text.len();
        kept.by_text.insert(text.to_string(), Arc::clone(&read));
        read
    }

    /// What several tellings seem to say, one proposal a finding: what was told later counts.
    pub fn of_all(&self, knowledge: &Knowledge, told: &[String]) -> Vec<Proposal> {
        let mut seen = HashSet::new();
        let mut parts: Vec<Vec<Proposal>> = Vec::new();
        for text in told.iter().rev() {
            let read = self.of(knowledge, text);
            let new = read
                .proposals
                .iter()
                .filter(|p| seen.insert(p.finding))
                .cloned()
                .collect();
            parts.push(new);
        }
        parts.into_iter().rev().flatten().collect()
    }
}

impl Told {
    /// Parts of the latest telling that told nothing, as they were written.
    pub fn unread(&self, knowledge: &Knowledge, told: &[String]) -> Vec<String> {
        let last = told.last().map(|text| self.of(knowledge, text));
        last.map_or_else(Vec::new, |read| read.unread.clone())
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_was_told_later_counts_and_nothing_is_read_twice() {
        let k = Knowledge::shipped();
        let told = Told::new(Matcher::new(&k));
        let texts = ["no strings", "the feeder clicks", "it strings"].map(str::to_string);
        let said: Vec<String> = told
            .of_all(&k, &texts)
            .iter()
            .map(|p| format!("{}={}", k.finding(p.finding).id, p.state))
            .collect();
        assert_eq!(said, ["extruder-clicks=present", "strings=hairs"]);
        let again = told.of(&k, &texts[0]);
        assert!(Arc::ptr_eq(&again, &told.of(&k, &texts[0])));
    }
}
