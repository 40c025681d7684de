//! What a print file takes off a spool: whether there is enough, and the grams off once it printed.

use super::open_file::{For, OpenFile};
use crate::form::Fields;
use crate::page_error::PageError;
use crate::pages::Answer;
use crate::state::AppState;
use crate::words::refusal;
use crate::{show, urls};
use axum::extract::{Path, State};
use axum::response::{IntoResponse, Redirect};
use suspect_core::gcode::{Reading, USUAL_DIAMETER, spent};
use suspect_core::measures::density_of;
use suspect_core::settings::NumberId;
use suspect_core::shelf::{Spool, SpoolEvent};
use suspect_store::shelf::Thing;
use suspect_store::{StoreError, Uuid};

/// A spool that the file may be printed from.
pub struct FromSpool {
    pub name: String,
    pub href: String,
    pub left: String,
    pub takes: String,
    pub enough: bool,
    /// It is on the machine that the file is looked at for.
    pub here: bool,
    /// Where its grams are taken off.
    pub action: String,
    pub seq: u32,
}

/// Grams that a file takes of a filament.
fn grams(reading: &Reading, to: &For, spool: &Spool) -> Option<f64> {
    let diameter = to.facts.settings.get(NumberId::FilamentMm);
    let used = spent(reading, None, diameter.unwrap_or(USUAL_DIAMETER))?;
    Some(used.grams(density_of(Some(&spool.family))))
}

/// Spools that the file may be printed from, those on the machine first.
pub async fn from_spools(
    state: &AppState,
    file: &OpenFile,
    to: &For,
) -> Result<Vec<FromSpool>, PageError> {
    let all = state.store.things::<Spool>().await?;
    let machine = match (&to.machine, &to.case) {
        (Some(machine), _) => machine.id.to_string(),
        (None, Some(case)) => case.machine.id.to_string(),
        (None, None) => String::new(),
    };
    let line = |s: &Thing<Spool>| {
        let takes = grams(&file.reading, to, &s.is)?;
        Some(FromSpool {
            name: format!("{} {}", show::spool_label(s.number), s.is.name()),
            href: urls::spool(s.id),
            left: show::grams(s.is.left_g),
            takes: show::with_unit(takes, "g"),
            enough: s.is.enough_for(takes),
            here: !machine.is_empty() && s.is.machine == machine,
            action: format!("{}/from/{}", urls::print_file(file.row.id), s.id),
            seq: s.seq,
        })
    };
    let open = all.iter().filter(|s| !s.is.finished);
    let mut lines: Vec<FromSpool> = open.filter_map(line).collect();
    lines.sort_by_key(|l| !l.here);
    Ok(lines)
}

/// `POST /files/{file}/from/{spool}`: it was printed from this spool.
pub async fn printed(
    State(state): State<AppState>,
    file: OpenFile,
    Path((_, spool)): Path<(String, String)>,
    fields: Fields,
) -> Answer {
    let not_there = || PageError::NotFound("spool");
    let spool: Uuid = spool.parse().map_err(|_| not_there())?;
    let to = For::read(&state, &fields).await?;
    let back = to.address(file.row.id, "", &[]);
    let (thing, _) = match state.store.thing::<Spool>(spool).await {
        Err(StoreError::NotFound) => return Err(not_there()),
        other => other?,
    };
    let grams = grams(&file.reading, &to, &thing.is).ok_or(PageError::NotFound("print file"))?;
    let events = [SpoolEvent::Used {
        grams,
        of: to.name_of(file.row.id),
    }];
    let (k, stamp) = (&state.knowledge, fields.stamp(state.now()));
    let seq = fields.seq().max(1);
    let written = state
        .store
        .append_to_thing::<Spool>(k, spool, seq, &events, stamp);
    match written.await {
        Ok(_) => Ok(Redirect::to(&format!("{back}#spools")).into_response()),
        Err(StoreError::Refused(refused)) => Err(PageError::Refused {
            message: refusal::refusal(k, &refused),
            back,
        }),
        Err(e) => Err(e.into()),
    }
}
