//! A closed case that asks whether its fix held.

use crate::words::{title, work};
use crate::{show, urls};
use suspect_core::knowledge::Knowledge;
use suspect_store::lists::CaseRow;

/// A case that asks.
pub struct Asking {
    pub label: String,
    pub title: String,
    pub href: String,
    pub machine: String,
    pub fix: String,
    pub closed: String,
    pub since: String,
    pub action: String,
    pub seq: u32,
}

/// A row that asks, in words.
pub fn asking(k: &Knowledge, row: &CaseRow, machine: &str) -> Asking {
    Asking {
        label: show::case_label(row.number),
        title: title(&row.title, machine),
        href: urls::case(row.id),
        machine: machine.to_string(),
        fix: row
            .fix
            .as_deref()
            .map_or_else(|| "what was done".into(), |id| work::fix(k, id)),
        closed: row.closed_at.map(show::date).unwrap_or_default(),
        since: row.ask_at.map(show::date).unwrap_or_default(),
        action: urls::in_case(row.id, "held"),
        seq: row.last_seq,
    }
}
