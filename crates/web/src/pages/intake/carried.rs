//! What the machine's last case leaves for the next one, in words.

use crate::page_error::PageError;
use crate::state::AppState;
use crate::{show, urls};
use suspect_core::case::replay;
use suspect_core::intake::{Carried, carried};
use suspect_core::settings::NumberId;
use suspect_store::Uuid;

/// The machine's latest case besides one, and what it leaves for the next.
pub struct LastCase {
    pub id: Uuid,
    pub number: i64,
    pub kept: Carried,
}

/// What can be carried over, in words, with the case it comes from.
pub struct CarriedView {
    pub from: String,
    pub from_href: String,
    pub parts: Vec<String>,
}

/// The machine's latest case besides one.
pub async fn last_case(
    state: &AppState,
    machine: Uuid,
    besides: Option<Uuid>,
) -> Result<Option<LastCase>, PageError> {
    let Some(id) = state.store.last_case_of(machine, besides).await? else {
        return Ok(None);
    };
    let number = state.store.case_row(id).await?.number;
    let log = state.store.case_log(id).await?;
    let kept = carried(&replay(&state.knowledge, &log));
    Ok(Some(LastCase { id, number, kept }))
}

/// What can be carried over, in words; nothing when there is nothing.
pub fn view(last: &LastCase, kept: &Carried) -> Option<CarriedView> {
    if kept.is_empty() {
        return None;
    }
    let material = kept.material.iter().map(|m| m.to_uppercase());
    let spool = Some(kept.spool.clone()).filter(|s| !s.is_empty());
    let number = |(id, value): &(NumberId, f64)| {
        let n = id.number();
        let said = format!("{} {}\u{a0}{}", n.plain, show::number(*value), n.unit);
        said.trim_end().to_string()
    };
    Some(CarriedView {
        from: show::case_label(last.number),
        from_href: urls::case(last.id),
        parts: material
            .chain(spool)
            .chain(kept.numbers.iter().map(number))
            .collect(),
    })
}
