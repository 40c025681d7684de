//! Names of pieces of work.

use crate::show;
use suspect_core::case::WorkId;
use suspect_core::knowledge::{Knowledge, Stands};
use suspect_core::own::own_name;

/// The name of a piece of work: "Mark the pulley and its shaft".
pub fn name(k: &Knowledge, work: &WorkId) -> String {
    match (work, k.work(work)) {
        (_, Some(known)) => known.name.clone(),
        (WorkId::Proof, None) => "Proof by printing".into(),
        (unknown, None) => unknown.to_string(),
    }
}

/// The name of a cause, by identifier; the identifier where the knowledge does not know it any
/// more.
pub fn cause(k: &Knowledge, id: &str) -> String {
    let named = || own_name(id).map_or_else(|| id.to_string(), own);
    k.cause_id(id)
        .map_or_else(named, |c| k.cause(c).name.clone())
}

/// What the workshop named in its own words, as such: "bent spool rod (own words)".
fn own(name: &str) -> String {
    format!("{} (own words)", show::capital(name))
}

/// The same for a fix.
pub fn fix(k: &Knowledge, id: &str) -> String {
    let named = || own_name(id).map_or_else(|| id.to_string(), own);
    k.fix_id(id)
        .map_or_else(named, |x| k.fix(x).work.name.clone())
}

/// The same for a check.
pub fn check(k: &Knowledge, id: &str) -> String {
    k.check_id(id)
        .map_or_else(|| id.to_string(), |c| k.check(c).work.name.clone())
}

/// How a machine stands, in words: "nozzle hot, filament out".
pub fn standing(stands: &[Stands]) -> String {
    let word = |s: &Stands| match s {
        Stands::Hot => "nozzle hot",
        Stands::Cold => "cold",
        Stands::HotBed => "bed hot",
        Stands::Powered => "switched on",
        Stands::Off => "switched off",
        Stands::Unplugged => "unplugged",
        Stands::Loaded => "filament in",
        Stands::Unloaded => "filament out",
        Stands::Open => "covers off",
        Stands::Closed => "covers on",
    };
    stands.iter().map(word).collect::<Vec<_>>().join(", ")
}
