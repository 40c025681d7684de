//! Bringing a machine into service: which steps there are, which may be done now.

use crate::knowledge::{CommissionStep, History, Knowledge};
use crate::machine::MachineEntry;
use crate::profile::Context;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use time::OffsetDateTime;

/// What was answered to a step.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Answered {
    /// It is as it should be.
    pub well: bool,
    /// When.
    #[serde(with = "time::serde::rfc3339")]
    pub at: OffsetDateTime,
    /// Who.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub by: Option<String>,
    /// A word about it.
    #[serde(default)]
    pub note: String,
}

/// How far a machine is brought into service.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Commissioning {
    /// Where it comes from.
    pub history: History,
    /// When it was begun.
    #[serde(with = "time::serde::rfc3339")]
    pub begun: OffsetDateTime,
    /// Answers by step, the latest of each.
    pub answers: BTreeMap<String, Answered>,
}

impl Commissioning {
    pub(super) fn begun(history: History, begun: OffsetDateTime) -> Self {
        Self {
            history,
            begun,
            answers: BTreeMap::new(),
        }
    }

    pub(super) fn answered(&mut self, entry: &MachineEntry, step: &str, well: bool, note: &str) {
        let answer = Answered {
            well,
            at: entry.at,
            by: entry.by.clone(),
            note: note.to_string(),
        };
        self.answers.insert(step.to_string(), answer);
    }
}

/// How a step stands.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Stage {
    /// It is well.
    Well,
    /// It was found not to be as it should.
    Wrong,
    /// It may be done now.
    Open,
    /// It heats, and not every cold step is well yet, or a stop holds the machine.
    Held,
}

/// A step with how it stands.
#[derive(Debug, Clone)]
pub struct StepNow<'a> {
    /// The step.
    pub step: &'a CommissionStep,
    /// How it stands.
    pub stage: Stage,
    /// What was answered.
    pub answer: Option<&'a Answered>,
}

/// The steps of a machine in their order. A step that heats is held until every cold one is well,
/// and so is every step that heats while one of them was found wrong, or while a stop holds the
/// machine (`stopped`).
pub fn steps<'a>(
    knowledge: &'a Knowledge,
    context: &Context,
    of: &'a Commissioning,
    stopped: bool,
) -> Vec<StepNow<'a>> {
    let there = |s: &&CommissionStep| {
        let history = s.history.is_empty() || s.history.contains(&of.history);
        history && s.needs.iter().all(|n| n.holds(context) != Some(false))
    };
    let there: Vec<&CommissionStep> = knowledge.commissioning.iter().filter(there).collect();
    let well = |s: &CommissionStep| of.answers.get(&s.id).is_some_and(|a| a.well);
    let cold = there.iter().filter(|s| !s.heats).all(|s| well(s));
    let now = |step: &&'a CommissionStep| {
        let answer = of.answers.get(&step.id);
        let stage = match answer {
            _ if step.heats && (stopped || !cold) => Stage::Held,
            Some(a) if a.well => Stage::Well,
            Some(_) => Stage::Wrong,
            None => Stage::Open,
        };
        StepNow {
            step,
            stage,
            answer,
        }
    };
    there.iter().map(now).collect()
}
