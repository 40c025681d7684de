//! A machine: its state, what holds it, its open cases, its log; putting it out of service and back.

use super::floor::{OpenCase, lock_of, open_case};
use super::{Page, next, opened_machine};
use crate::form::Fields;
use crate::page_error::PageError;
use crate::state::AppState;
use crate::{show, urls};
use askama::Template;
use axum::extract::{Path, Query, State};
use axum::response::{Html, IntoResponse, Redirect, Response};
use std::collections::BTreeMap;
use suspect_core::machine::{Described, MachineEntry, MachineEvent, build};
use suspect_core::parts::PARTS;
use suspect_core::profile::FIELDS;
use suspect_store::StoreError;

/// Open cases on a page.
const PER_PAGE: u64 = 25;

struct Line {
    at: String,
    stamp: String,
    by: Option<String>,
    text: String,
}

#[derive(Template)]
#[template(path = "machine.html")]
struct MachinePage {
    place: &'static str,
    name: String,
    model: String,
    stands: String,
    note: String,
    profile: Vec<(String, String)>,
    unknown: Vec<String>,
    /// What locks it: words and where it is lifted.
    lock: Option<(String, String)>,
    out_of_service: Option<String>,
    service_action: String,
    edit_href: String,
    new_case: String,
    before: String,
    cases: Vec<OpenCase>,
    earlier: Option<String>,
    later: Option<String>,
    log: Vec<Line>,
    seq: u32,
}

/// `GET /machines/{id}?page=…`
pub async fn show(
    State(state): State<AppState>,
    Path(id): Path<String>,
    Query(query): Query<BTreeMap<String, String>>,
) -> Page {
    let machine = opened_machine(&state, &id).await?;
    let page = query
        .get("page")
        .and_then(|p| p.parse().ok())
        .unwrap_or(0)
        .min(10_000u64);
    let cases = state
        .store
        .open_cases_of(machine.id, page, PER_PAGE)
        .await?;
    let log = state.store.machine_log(machine.id).await?;
    // A stop comes first in the list: those of later pages hold nothing that the first one does not.
    let first = match page {
        0 => cases.clone(),
        _ => state.store.open_cases_of(machine.id, 0, 1).await?,
    };
    let lock = lock_of(&state, &machine, first.iter());
    let known = build(&machine.profile);
    let missing = FIELDS
        .iter()
        .filter(|f| f.id != "material" && known.id(f.id).is_none());
    let turn = |to: u64| format!("{}?page={to}", urls::machine(machine.id));
    let view = MachinePage {
        place: "floor",
        stands: machine.place.clone(),
        note: machine.note.clone(),
        profile: known
            .known()
            .map(|(f, v)| (f.plain.to_string(), v.plain.to_string()))
            .collect(),
        unknown: missing.map(|f| show::lower_first(f.plain)).collect(),
        lock: lock.as_ref().map(|lock| {
            let name = state.knowledge.stops[lock.stop].name.clone();
            let words = format!("{}: {name}", show::capital(&next::locked_by(lock)));
            (words, next::lock_href(&state, machine.id, lock))
        }),
        out_of_service: machine.out_of_service.clone(),
        service_action: urls::in_machine(machine.id, "service"),
        edit_href: urls::in_machine(machine.id, "edit"),
        new_case: urls::new_case_on(machine.id),
        before: urls::before(machine.id),
        earlier: (cases.len() as u64 == PER_PAGE).then(|| turn(page + 1)),
        later: (page > 0).then(|| turn(page - 1)),
        cases: cases
            .iter()
            .map(|c| open_case(&state, c, lock.as_ref()))
            .collect(),
        seq: log.last().map_or(0, |e| e.seq),
        log: history(&log),
        name: machine.name,
        model: machine.model,
    };
    Ok(Html(view.render()?))
}

/// A machine's log in words, latest first.
fn history(log: &[MachineEntry]) -> Vec<Line> {
    let mut known: Option<&Described> = None;
    let mut lines = Vec::new();
    for entry in log {
        lines.push(Line {
            at: show::moment(entry.at),
            stamp: show::stamp(entry.at),
            by: entry.by.clone(),
            text: line(&entry.event, known),
        });
        if let MachineEvent::Described { machine, .. } = &entry.event {
            known = Some(machine);
        }
    }
    lines.reverse();
    lines
}

fn line(event: &MachineEvent, before: Option<&Described>) -> String {
    match event {
        MachineEvent::Counter { hours } => format!("Counter read: {} h", show::number(*hours)),
        MachineEvent::Fitted { part, hours } => {
            let name = PARTS
                .iter()
                .find(|p| p.id == part)
                .map_or(part.as_str(), |p| p.name);
            format!(
                "Fitted new at {} h: {}",
                show::number(*hours),
                show::lower_first(name)
            )
        }
        MachineEvent::Described { machine, lifts } => {
            let what = before.map_or_else(|| "Written down".to_string(), |b| changed(b, machine));
            match lifts {
                Some(l) => format!("{what}. Stop lifted by {}: {}", l.by, l.reason),
                None => what,
            }
        }
        MachineEvent::OutOfService { reason } => format!("Out of service: {reason}"),
        MachineEvent::BackInService => "Back in service".into(),
    }
}

/// What a change of the description changed.
fn changed(before: &Described, after: &Described) -> String {
    let texts = [
        ("name", &before.name, &after.name),
        ("kind", &before.model, &after.model),
        ("place", &before.place, &after.place),
        ("note", &before.note, &after.note),
    ];
    let said = |text: &str| {
        if text.is_empty() {
            "nothing".into()
        } else {
            format!("“{text}”")
        }
    };
    let texts = texts.into_iter().filter(|(_, b, a)| b != a);
    let texts = texts.map(|(what, b, a)| format!("{what} {} instead of {}", said(a), said(b)));
    let (old, new) = (build(&before.profile), build(&after.profile));
    let fields = FIELDS
        .iter()
        .filter(|f| old.id(f.id) != new.id(f.id))
        .map(|f| {
            let value =
                |c: &suspect_core::profile::Context| c.get(f.id).map_or("not known", |v| v.plain);
            format!(
                "{} {} instead of {}",
                show::lower_first(f.plain),
                value(&new),
                value(&old)
            )
        });
    let all: Vec<String> = texts.chain(fields).collect();
    if all.is_empty() {
        "Nothing changed".into()
    } else {
        format!("Changed: {}", all.join("; "))
    }
}

/// `POST /machines/{id}/service`: out of service with a reason, or back.
pub async fn service(
    State(state): State<AppState>,
    Path(id): Path<String>,
    fields: Fields,
) -> Result<Response, PageError> {
    let machine = opened_machine(&state, &id).await?;
    let back = urls::machine(machine.id);
    let event = match fields.get("to") {
        "in" => MachineEvent::BackInService,
        _ => MachineEvent::OutOfService {
            reason: fields.get("reason").to_string(),
        },
    };
    let stamp = fields.stamp(state.now());
    let stored = state.store.append_to_machine(
        &state.knowledge,
        machine.id,
        Some(fields.seq()),
        &event,
        stamp,
    );
    match stored.await {
        Ok(()) => Ok(Redirect::to(&back).into_response()),
        Err(StoreError::Refused(refusal)) => Err(PageError::refused(&refusal, back)),
        Err(StoreError::Conflict { .. }) => Err(PageError::Refused {
            message: "Someone else changed this machine first. Look at it, then send it again."
                .into(),
            back,
        }),
        Err(e) => Err(e.into()),
    }
}
