//! What was done and named in the workshop's own words.

use crate::case::event::{Entry, Event};
use crate::case::improving::Since;
use crate::case::speaks::{Speaks, SpeaksHow};
use crate::case::state::CaseState;
use crate::evidence::{OwnWord, TrialWord};
use crate::knowledge::{CauseId, Knowledge, TryResult};
use crate::planning::Present;
use crate::series::Word;

/// A cure by a fix aimed at a suspect speaks for it as clearly as an outcome can; no change speaks
/// rather against it: nobody knows how surely an unlisted fix works.
fn of_a_fix(result: TryResult) -> Option<SpeaksHow> {
    match result {
        TryResult::Cured => Some(SpeaksHow::ClearlyFor),
        TryResult::Better => Some(SpeaksHow::RatherFor),
        TryResult::Same => Some(SpeaksHow::RatherAgainst),
        TryResult::Worse => None,
    }
}

impl CaseState {
    pub(super) fn own_words(&mut self, knowledge: &Knowledge, entry: &Entry) {
        match &entry.event {
            Event::OwnChecked {
                name,
                outcome,
                speaks,
                minutes,
                ..
            } => {
                self.minutes += minutes;
                self.resting = None;
                let speaks = speaks.as_ref();
                let speaks = speaks.and_then(|s| Some((self.of(knowledge, &s.cause)?, s.how)));
                self.said(name, outcome, speaks);
            }
            Event::OwnFixed {
                name,
                aimed_at,
                result,
                minutes,
                money,
                grams,
            } => {
                self.minutes += minutes;
                self.money += money;
                self.grams += grams;
                self.resting = None;
                self.present = Present::PRINTED;
                let aimed = aimed_at.as_deref();
                let aimed = aimed.and_then(|id| self.of(knowledge, id));
                self.said(name, result.id(), aimed.zip(of_a_fix(*result)));
                self.own_print(name, *result);
                if *result == TryResult::Cured {
                    self.own_fix = Some(name.clone());
                    self.gone(knowledge, entry, None);
                }
            }
            Event::OwnSuspected { name } => {
                self.own_suspects.retain(|n| n != name);
                self.own_suspects.push(name.clone());
            }
            Event::Trialled(word) => self.trialled(knowledge, word),
            _ => {}
        }
    }

    /// Each print of a fix in own words is told with it: the same fix again is a print more.
    fn own_print(&mut self, name: &str, result: TryResult) {
        let known = self.since.take();
        let known = known.filter(|s| s.own.as_deref() == Some(name));
        let mut since = known.unwrap_or_else(|| Since::own(name));
        since.print(result);
        self.since = Some(since);
    }

    /// What a series says replaces what it said before.
    fn trialled(&mut self, knowledge: &Knowledge, word: &Word) {
        let mut causes = Vec::new();
        for (id, decibans) in &word.weight.causes {
            match knowledge.cause_id(id) {
                Some(cause) => causes.push((cause, *decibans)),
                None => self.unknown.push(id.clone()),
            }
        }
        self.facts.trials.retain(|t| t.series != word.series);
        self.facts.trials.push(TrialWord {
            series: word.series.clone(),
            name: word.name.clone(),
            looks: word.weight.looks,
            causes,
        });
    }

    /// Whom an identifier names: a cause, or whoever is not listed. What the knowledge does not
    /// know any more counts for nothing.
    fn of(&mut self, knowledge: &Knowledge, id: &str) -> Option<Option<CauseId>> {
        if id == Speaks::SOMEONE_ELSE {
            return Some(None);
        }
        let known = knowledge.cause_id(id);
        if known.is_none() {
            self.unknown.push(id.to_string());
        }
        known.map(Some)
    }

    fn said(&mut self, name: &str, outcome: &str, speaks: Option<(Option<CauseId>, SpeaksHow)>) {
        self.facts.own.push(OwnWord {
            name: name.to_string(),
            outcome: outcome.to_string(),
            speaks: speaks.map(|(cause, how)| (cause, how.decibans())),
        });
    }
}
