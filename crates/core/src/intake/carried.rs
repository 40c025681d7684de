//! What hardly changes from one case of a machine to the next: shown for confirmation instead of
//! asked again.

use crate::case::{CaseState, Event};
use crate::profile::FieldId;
use crate::settings::NumberId;
use std::collections::BTreeMap;

/// What a case can take over from the one before.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Carried {
    /// Material family.
    pub material: Option<String>,
    /// The spool in words.
    pub spool: String,
    /// Numbers. Heights belong to a piece or a fault, never to the next case.
    pub numbers: Vec<(NumberId, f64)>,
}

/// What the last case of a machine leaves for the next.
pub fn carried(last: &CaseState) -> Carried {
    Carried {
        material: last.facts.context.id(FieldId::Material).map(str::to_string),
        spool: last.spool.clone(),
        numbers: last
            .facts
            .settings
            .known()
            .filter(|(n, _)| !n.is_height())
            .collect(),
    }
}

impl Carried {
    /// Whether there is nothing to take over.
    pub fn is_empty(&self) -> bool {
        self.material.is_none() && self.spool.is_empty() && self.numbers.is_empty()
    }

    /// What `case` does not know yet.
    pub fn beyond(&self, case: &CaseState) -> Carried {
        let material = self
            .material
            .clone()
            .filter(|_| case.facts.context.id(FieldId::Material).is_none());
        let spool = if case.spool.is_empty() {
            self.spool.clone()
        } else {
            String::new()
        };
        let numbers = self
            .numbers
            .iter()
            .filter(|(id, _)| case.facts.settings.get(*id).is_none())
            .copied()
            .collect();
        Carried {
            material,
            spool,
            numbers,
        }
    }

    /// The events by which a person takes it over.
    pub fn events(&self, case: &CaseState) -> Vec<Event> {
        let mut events = Vec::new();
        if self.material.is_some() || !self.spool.is_empty() {
            let spool = if self.spool.is_empty() {
                case.spool.clone()
            } else {
                self.spool.clone()
            };
            events.push(Event::Described {
                title: case.title.clone(),
                material: self.material.clone(),
                spool,
                machine: BTreeMap::new(),
            });
        }
        let measured = |(id, value): &(NumberId, f64)| Event::Measured {
            number: id.to_string(),
            value: *value,
            note: None,
        };
        events.extend(self.numbers.iter().map(measured));
        events
    }
}
