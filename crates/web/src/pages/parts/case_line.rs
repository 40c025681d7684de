//! A case in the lists of floor and machine.

use crate::words::next::words;
use crate::words::{title, work};
use crate::{show, urls};
use suspect_core::case::{Holder, Lock, Standing, What};
use suspect_core::knowledge::Knowledge;
use suspect_core::{machine, safety};
use suspect_store::lists::CaseRow;
use suspect_store::machines::Machine;

/// A case as floor and machine page list it.
pub struct CaseLine {
    pub href: String,
    pub label: String,
    pub title: String,
    pub leader: String,
    pub next: String,
    /// "Monday".
    pub since: String,
    pub since_exact: String,
    pub locked: bool,
    /// "1 suggestion waits".
    pub hearsay: Option<String>,
    /// A wait that runs, or is over and not yet gone on from.
    pub wait: Option<WaitLine>,
}

/// A wait in the middle of a step.
pub struct WaitLine {
    pub name: String,
    pub from: String,
    pub until: String,
    pub clock: String,
}

/// What locks a machine, of its cases and of its build; the most severe.
pub fn lock_of<'a>(
    k: &Knowledge,
    machine: &Machine,
    cases: impl Iterator<Item = &'a CaseRow>,
) -> Option<Lock> {
    let of_case = |case: &CaseRow| {
        let first = case.stops.first()?;
        Some(Lock {
            holder: Holder::Case {
                id: case.id.to_string(),
                number: case.number,
            },
            stop: k.stop_at(first).unwrap_or(0),
        })
    };
    let of_build = safety::stops_of_build(k, &machine::build(&machine.profile));
    let of_build = of_build.first().map(|stop| Lock {
        holder: Holder::Build,
        stop: *stop,
    });
    cases
        .filter_map(of_case)
        .chain(of_build)
        .min_by_key(|lock| lock.stop)
}

/// A case in a list, under what locks its machine.
pub fn case_line(k: &Knowledge, machine: &str, case: &CaseRow, lock: Option<&Lock>) -> CaseLine {
    let leader = case.leader.as_ref().and_then(|(id, p)| {
        let cause = k.cause(k.cause_id(id)?);
        Some(format!("{} {}", cause.name, show::percent(*p)))
    });
    let elsewhere = lock.filter(|l| l.case().is_none_or(|(id, _)| id != case.id.to_string()));
    let kept = case
        .next_step
        .as_deref()
        .and_then(|text| What::parse(k, text));
    let next = match (kept, case.status) {
        (_, Standing::Resolved) => "Closed, the stop still holds".to_string(),
        // Written by another program and not rebuilt yet.
        (None, _) if elsewhere.is_none() => "See the case".to_string(),
        (kept, _) => {
            let what = kept.unwrap_or(What::AskMaker).under(elsewhere.cloned());
            let now = words(k, case.id, case.machine_id, &what);
            match now.locked {
                true => now.name,
                false if case.resting => "Left for another day".to_string(),
                false => now.name,
            }
        }
    };
    CaseLine {
        href: urls::case(case.id),
        label: show::case_label(case.number),
        title: title(&case.title, machine),
        leader: leader.unwrap_or_default(),
        next,
        since: show::since(case.opened_at),
        since_exact: show::moment(case.opened_at),
        hearsay: match case.hearsay {
            0 => None,
            1 => Some("1 suggestion waits".to_string()),
            n => Some(format!("{n} suggestions wait")),
        },
        wait: case
            .wait
            .as_ref()
            .filter(|_| lock.is_none())
            .map(|t| WaitLine {
                name: work::name(k, &t.work),
                from: show::stamp(t.from),
                until: show::stamp(t.until),
                clock: show::clock(t.until),
            }),
        locked: !case.stops.is_empty(),
    }
}
