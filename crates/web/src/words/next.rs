//! The answer to "what now" in words: the same on the case, its papers, its intake and the floor.

use crate::screen::Held;
use crate::{show, urls};
use suspect_core::case::{CaseState, Holder, Lock, What};
use suspect_core::knowledge::Knowledge;
use suspect_store::Uuid;

/// What to do next, and where.
pub struct NextWords {
    /// "Mark the pulley and its shaft", "The machine is locked by C-033".
    pub name: String,
    /// Where it is done or said.
    pub href: String,
    /// Nothing may run on the machine.
    pub locked: bool,
}

/// The answer for a case in words.
pub fn words(k: &Knowledge, case: Uuid, machine: Uuid, what: &What) -> NextWords {
    let below = |what: &str| urls::in_case(case, what);
    let (name, href) = match what {
        What::ClearStop(stop) => {
            let stop = &k.stops[*stop];
            (stop.work.name.clone(), below(&format!("stop/{}", stop.id)))
        }
        What::Locked(lock) => (show::capital(&locked_by(lock)), lock_href(k, machine, lock)),
        What::Tell => (
            "Say first what you see".to_string(),
            urls::intake(case, "print", ""),
        ),
        What::Check(check) => (
            k.check(*check).work.name.clone(),
            below(&format!("check/{}", k.check_name(*check))),
        ),
        What::Fix(fix) => (
            k.fix(*fix).work.name.clone(),
            below(&format!("fix/{}", k.fix(*fix).id)),
        ),
        What::Prove(fix) => {
            let name = show::lower_first(&k.fix(*fix).work.name);
            (format!("Prove it by printing: {name}"), below("verify"))
        }
        What::Close(_) => ("Close the case".to_string(), below("close")),
        What::AskMaker => ("Ask the maker".to_string(), below("brief")),
        What::Closed => ("Nothing: the case is closed".to_string(), urls::case(case)),
    };
    NextWords {
        name,
        href,
        locked: matches!(what, What::ClearStop(_) | What::Locked(_)),
    }
}

/// "the machine is locked by C-033", "the machine is locked as it is built".
pub fn locked_by(lock: &Lock) -> String {
    match &lock.holder {
        Holder::Case { number, .. } => {
            format!("the machine is locked by {}", show::case_label(*number))
        }
        Holder::Build => "the machine is locked because of how it is built".to_string(),
    }
}

/// Where what locks a machine from elsewhere is lifted.
pub fn lock_href(k: &Knowledge, machine: Uuid, lock: &Lock) -> String {
    match &lock.holder {
        Holder::Case { id, .. } => format!("{}/{id}", urls::CASES),
        Holder::Build => urls::machine_stop(machine, &k.stops[lock.stop].id),
    }
}

/// Stops of a case and what else locks its machine.
pub fn held(k: &Knowledge, case: Uuid, machine: Uuid, state: &CaseState) -> Vec<Held> {
    let own = state.stops.iter().map(|s| &k.stops[*s]).map(|stop| Held {
        words: format!("{}. {}", stop.name, stop.why),
        href: urls::in_case(case, &format!("stop/{}", stop.id)),
        link: "Clear this stop".into(),
    });
    let lock = state.locked_by.as_ref().filter(|_| !state.resolved());
    let elsewhere = lock.map(|lock| Held {
        words: format!(
            "{}: {}. Nothing heats, moves or prints on it until that stop is lifted.",
            show::capital(&locked_by(lock)),
            show::lower_first(&k.stops[lock.stop].name)
        ),
        href: lock_href(k, machine, lock),
        link: match &lock.holder {
            Holder::Case { number, .. } => format!("To {}", show::case_label(*number)),
            Holder::Build => "To the machine".into(),
        },
    });
    own.chain(elsewhere).collect()
}
