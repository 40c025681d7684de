//! Outcomes, results and kinds in words.

use crate::show;
use suspect_core::case::{Outcome, PutOff, SpeaksHow};
use suspect_core::evidence::{Confidence, Tried};
use suspect_core::knowledge::{Family, FixKind, Knowledge, TryResult};

/// What became of the fault.
pub fn result(result: TryResult) -> &'static str {
    match result {
        TryResult::Cured => "the fault is gone",
        TryResult::Better => "weaker, but there",
        TryResult::Same => "no change",
        TryResult::Worse => "worse than before",
    }
}

/// What became of a fix that was tried.
pub fn tried(tried: &Tried) -> &'static str {
    match tried.came_undone {
        true => "the fault was gone, and came back",
        false => result(tried.result),
    }
}

/// What was tried, in one line: "Tighten the pulley: no change"; several fixes before one print by
/// all their names.
pub fn tried_line(k: &Knowledge, tried: &Tried) -> String {
    format!("{}: {}", tried_names(k, tried), self::tried(tried))
}

/// The names of what was tried: "Clean the plate", "Level the bed together with clean the plate".
pub fn tried_names(k: &Knowledge, tried: &Tried) -> String {
    let name = &k.fix(tried.fix).work.name;
    let others = tried.together.iter();
    let others = others.map(|x| show::lower_first(&k.fix(x).work.name));
    match others.collect::<Vec<_>>() {
        others if others.is_empty() => name.clone(),
        others => format!("{name} together with {}", others.join(" and ")),
    }
}

/// How a case ended.
pub fn outcome(outcome: Outcome) -> &'static str {
    match outcome {
        Outcome::FixedAndVerified => "fixed and verified",
        Outcome::BelievedFixed => "believed fixed, not proved",
        Outcome::OpenedByError => "opened by error",
        Outcome::Joined => "joined with another case",
        Outcome::Improved => "improved",
        Outcome::WorkedAround => "worked around",
        Outcome::NotAFault => "not a fault",
        Outcome::Unsolved => "unsolved",
    }
}

/// Why a step is not done now.
pub fn put_off(why: PutOff) -> &'static str {
    match why {
        PutOff::NotNow => "not now",
        PutOff::Unfinished => "could not be finished",
        PutOff::BrokeOff => "broke off half-way",
        PutOff::Unclear => "done, result unclear",
    }
}

/// The kind of a fix.
pub fn fix_kind(kind: FixKind) -> &'static str {
    match kind {
        FixKind::Easy => "easy fix",
        FixKind::Involved => "involved fix",
        FixKind::WorkAround => "work-around",
    }
}

/// A word behind what was answered, unless it was sure.
pub fn unless_sure(said: String, confidence: Confidence) -> String {
    match confidence {
        Confidence::Sure => said,
        Confidence::Likely => format!("{said} (likely)"),
        Confidence::Hunch => format!("{said} (hunch)"),
    }
}

/// A family of suspects.
pub fn family(family: Family) -> &'static str {
    match family {
        Family::Path => "Filament path",
        Family::Feeder => "Feeder",
        Family::HotEnd => "Hot end",
        Family::Heat => "Heat and air",
        Family::Flow => "Slicer amounts",
        Family::MotionSettings => "Motion settings",
        Family::Bed => "Bed and first layer",
        Family::Mechanics => "Mechanics",
        Family::Electric => "Electrics",
        Family::Material => "Material",
        Family::Model => "Model",
        Family::Normal => "Not a fault",
    }
}

/// How strongly an outcome in own words speaks of a suspect: "clearly for".
pub fn speaks(how: SpeaksHow) -> &'static str {
    match how {
        SpeaksHow::ClearlyFor => "clearly for",
        SpeaksHow::RatherFor => "rather for",
        SpeaksHow::RatherAgainst => "rather against",
        SpeaksHow::ClearlyAgainst => "clearly against",
    }
}
