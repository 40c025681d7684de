//! What an entry changes of the case.

mod facts;
mod own;
mod proving;
mod settling;
mod working;

use super::event::{Entry, Event};
use super::state::CaseState;
use crate::evidence::{Confidence, Sighting};
use crate::knowledge::Knowledge;
use crate::measures;
use crate::safety::{self, Fact};
use std::mem;

impl CaseState {
    /// Takes an entry in that counts.
    pub(super) fn apply(&mut self, knowledge: &Knowledge, entry: &Entry) {
        match &entry.event {
            Event::Opened { .. }
            | Event::Measured { .. }
            | Event::Observed { .. }
            | Event::Told { .. }
            | Event::Passed { .. }
            | Event::Described { .. }
            | Event::Pictured { .. }
            | Event::Marked { .. }
            | Event::Filed { .. }
            | Event::Suggested { .. }
            | Event::Weighed { .. }
            | Event::Tried { .. }
            | Event::Cleared { .. } => self.learn(knowledge, entry),
            Event::Checked { .. }
            | Event::Gauged { .. }
            | Event::Benched { .. }
            | Event::TimerSet { .. }
            | Event::PartKept { .. }
            | Event::SetAside { .. }
            | Event::TakenUp { .. }
            | Event::PutBack { .. }
            | Event::LeftForLater { .. }
            | Event::Fixed { .. }
            | Event::Struck(_)
            | Event::Lost(_)
            | Event::Beside { .. }
            | Event::Printed { .. } => self.work(knowledge, entry),
            Event::StopCleared { .. }
            | Event::Moved { .. }
            | Event::Resolved { .. }
            | Event::Reopened { .. }
            | Event::AskedAgain { .. }
            | Event::LeftOut { .. } => self.settle(knowledge, entry),
            Event::OwnChecked { .. }
            | Event::OwnFixed { .. }
            | Event::OwnSuspected { .. }
            | Event::Trialled(_) => {
                self.own_words(knowledge, entry);
            }
            Event::Noted { .. }
            | Event::SameAs { .. }
            | Event::Joined { .. }
            | Event::Retracted { .. } => {}
        }
        self.settle_stops(knowledge, entry);
    }

    /// Readings become answers when everything else of the case is known: what they mean may depend
    /// on it.
    pub(super) fn read_gauges(&mut self, knowledge: &Knowledge) {
        let readings = mem::take(&mut self.readings);
        for (finding, readings) in &readings {
            let id = &knowledge.finding(*finding).id;
            let gauge = measures::gauge(id);
            match gauge.and_then(|g| g.answer(knowledge, &self.facts, *finding, readings)) {
                Some(answer) => {
                    let confidence = Confidence::Sure;
                    let sighting = Sighting { answer, confidence };
                    self.facts.findings.insert(*finding, sighting);
                }
                None => self.unknown.push(format!("readings of {id}")),
            }
        }
        self.readings = readings;
    }

    /// Which stops hold after an entry, and since when.
    fn settle_stops(&mut self, knowledge: &Knowledge, entry: &Entry) {
        let stated = |fact: Fact| match fact {
            Fact::Finding(f) => self.source.get(&f).copied().unwrap_or(0),
            other => self.stated.get(&other).copied().unwrap_or(0),
        };
        let counts = |stop: usize, fact: Fact| {
            let lifted = self.lifted.get(&stop);
            lifted.is_none_or(|lifted| stated(fact) > *lifted)
        };
        self.stops = safety::stops_of_case(knowledge, &self.facts, counts);
        self.stops_since.retain(|stop, _| self.stops.contains(stop));
        for stop in &self.stops {
            let since = (entry.seq, entry.at);
            self.stops_since.entry(*stop).or_insert(since);
        }
    }
}
