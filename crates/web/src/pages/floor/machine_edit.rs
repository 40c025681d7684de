//! Adding a machine to the floor, and changing what one is, by touching pictures: the drawing
//! beside them follows every answer. A change that ends a stop of the build takes a named person, a
//! reason, and each step of the stop.

use crate::drawing::machine_map;
use crate::form::{Errors, Fields};
use crate::page_error::PageError;
use crate::pages::open_case::OpenMachine;
use crate::pages::parts::link::Choice;
use crate::pages::parts::work::{Tick, ticks};
use crate::pages::{Answer, Page, again};
use crate::state::AppState;
use crate::words::refusal;
use crate::{show, urls};
use askama::Template;
use axum::extract::{Query, State};
use axum::http::StatusCode;
use axum::response::{Html, IntoResponse, Redirect};
use std::collections::BTreeMap;
use suspect_core::case::{Problem, Refusal};
use suspect_core::kinds::{self, KINDS, Kind};
use suspect_core::knowledge::Knowledge;
use suspect_core::lifting::Lifting;
use suspect_core::machine::{Described, MachineEvent, build, ended_by, problems};
use suspect_core::profile::{FIELDS, Field, FieldId, MATERIAL, Value};
use suspect_core::text::look;
use suspect_store::machines::Machine;
use suspect_store::{StoreError, Uuid};

/// One question about the machine.
struct ProfileRow {
    id: &'static str,
    label: &'static str,
    options: Vec<Pictured>,
    /// Nothing is known of it.
    open: bool,
    /// That it is not known is one of its own answers.
    may_be_unknown: bool,
    error: Option<String>,
}

/// An answer with the machine as it would look with it; fields that cannot be drawn have none.
struct Pictured {
    choice: Choice,
    picture: String,
}

/// A common kind to begin with.
struct KindView {
    id: &'static str,
    plain: &'static str,
    picture: String,
}

/// A stop that the change would end.
struct Ending {
    name: String,
    why: String,
    steps: Vec<Tick>,
    by: String,
    reason: String,
}

#[derive(Template)]
#[template(path = "floor/machine_edit.html")]
struct EditPage {
    /// The machine that is changed; none when one is added.
    changing: Option<(String, String)>,
    action: String,
    /// Where the page is drawn anew with other answers.
    follow: String,
    machine_id: Uuid,
    seq: u32,
    name: String,
    model: String,
    stands: String,
    note: String,
    kinds: Vec<KindView>,
    drawing: String,
    rows: Vec<ProfileRow>,
    ending: Vec<Ending>,
    errors: Errors,
    moved_on: bool,
}

/// What the fields show: as they were sent, else as the machine is.
struct Shown<'a> {
    machine: Option<&'a Machine>,
    seq: u32,
    fields: &'a Fields,
    errors: Errors,
    moved_on: bool,
}

fn page(state: &AppState, shown: Shown) -> Result<String, PageError> {
    let Shown {
        machine, fields, ..
    } = shown;
    let value = |field: &str, known: fn(&Machine) -> &String| {
        let sent = fields.sent(field).map(str::to_string);
        sent.or(machine.map(|m| known(m).clone()))
            .unwrap_or_default()
    };
    let profile = profile(machine, fields);
    let page = EditPage {
        changing: machine.map(|m| (m.name.clone(), urls::machine(m.id))),
        action: machine.map_or("/machines".to_string(), |m| urls::in_machine(m.id, "edit")),
        follow: machine.map_or("/machines/new".to_string(), |m| {
            urls::in_machine(m.id, "edit")
        }),
        machine_id: fields
            .get("machine_id")
            .parse()
            .unwrap_or_else(|_| Uuid::now_v7()),
        seq: if fields.sent("seq").is_none() || shown.moved_on {
            shown.seq
        } else {
            fields.seq()
        },
        name: value("name", |m| &m.name),
        model: value("model", |m| &m.model),
        stands: value("place", |m| &m.place),
        note: value("note", |m| &m.note),
        kinds: KINDS
            .iter()
            .filter(|_| machine.is_none())
            .map(kind)
            .collect(),
        drawing: machine_map::picture(&build(&profile), "The machine as it is described"),
        rows: rows(&profile, &shown.errors),
        ending: ending(state, machine, fields),
        errors: shown.errors,
        moved_on: shown.moved_on,
    };
    Ok(page.render()?)
}

/// The build as it was sent, where nothing was sent as the machine is known; a kind that was
/// touched fills in what is usual for it.
fn profile(machine: Option<&Machine>, fields: &Fields) -> BTreeMap<String, String> {
    if let Some(kind) = kinds::profile(fields.get("kind")) {
        return kind;
    }
    let known = |id: &str| match fields.sent(id) {
        Some(sent) => Some(sent.to_string()),
        None => machine.and_then(|m| m.profile.get(id).cloned()),
    };
    let fields = FIELDS[..MATERIAL].iter();
    let filled = fields.filter_map(|f| Some((f.id.to_string(), known(f.id)?)));
    filled.filter(|(_, value)| !value.is_empty()).collect()
}

fn kind(kind: &'static Kind) -> KindView {
    let profile = kinds::profile(kind.id).unwrap_or_default();
    KindView {
        id: kind.id,
        plain: kind.plain,
        picture: machine_map::picture(&build(&profile), ""),
    }
}

/// Every question about a machine, each answer drawn on the machine as it is known so far.
fn rows(profile: &BTreeMap<String, String>, errors: &Errors) -> Vec<ProfileRow> {
    let fields = FIELDS[..MATERIAL].iter().zip(FieldId::ALL.iter());
    let row = |(f, id): (&'static Field, &FieldId)| {
        let chosen = profile.get(f.id).map_or("", String::as_str);
        let option = |v: &Value| Pictured {
            picture: drawn(profile, *id, f.id, v.id),
            choice: Choice {
                value: v.id.into(),
                label: show::capital(v.plain),
                chosen: chosen == v.id,
            },
        };
        ProfileRow {
            id: f.id,
            label: f.plain,
            open: chosen.is_empty(),
            may_be_unknown: f.values.iter().any(|v| v.id == "unknown"),
            options: f.values.iter().map(option).collect(),
            error: errors.get(f.id).cloned(),
        }
    };
    fields.map(row).collect()
}

/// The machine with one answer more; nothing for what cannot be seen.
fn drawn(profile: &BTreeMap<String, String>, id: FieldId, field: &str, value: &str) -> String {
    if id == FieldId::BoardAge {
        return String::new();
    }
    let mut with = profile.clone();
    with.insert(field.to_string(), value.to_string());
    // A thread is seen on a screw only.
    if id == FieldId::ZScrew {
        with.insert("z_drive".into(), "one-screw".into());
        with.insert("motion".into(), "bed-slinger".into());
    }
    machine_map::detail(&build(&with), id)
}

/// Stops of the build that what was sent would end.
fn ending(state: &AppState, machine: Option<&Machine>, fields: &Fields) -> Vec<Ending> {
    let Some(machine) = machine.filter(|_| !fields.is_empty()) else {
        return Vec::new();
    };
    let k = &state.knowledge;
    let ended = ended_by(k, Some(&machine.described()), &described(fields));
    let ticked = fields.ticked();
    let view = |stop: usize| {
        let stop = &k.stops[stop];
        Ending {
            name: stop.name.clone(),
            why: stop.why.clone(),
            steps: ticks(&stop.work, &ticked),
            by: crate::screen::shown(&fields.by()),
            reason: fields.get("reason").to_string(),
        }
    };
    ended.into_iter().map(view).collect()
}

/// What was sent, as a description.
fn described(fields: &Fields) -> Described {
    let field = |f: &Field| Some((f.id.to_string(), fields.given(f.id)?.to_string()));
    Described {
        name: fields.get("name").into(),
        model: fields.get("model").into(),
        profile: FIELDS[..MATERIAL].iter().filter_map(field).collect(),
        place: fields.get("place").into(),
        note: fields.get("note").into(),
    }
}

/// All messages, each beside its field: what the store refused, and whatever else makes no sense.
fn beside(k: &Knowledge, refused: Refusal, sent: &Described) -> Errors {
    let said = |(field, problem): (String, Problem)| {
        let message = refusal::problem(&field, &problem);
        (field, message)
    };
    let mut errors: Errors = problems(sent).into_iter().map(said).collect();
    let (field, message) = match refused {
        Refusal::Invalid { field, problem } => said((field, problem)),
        other => ("form".to_string(), refusal::refusal(k, &other)),
    };
    errors.entry(field).or_insert(message);
    errors
}

/// The message for a name that stands on the floor already, also while something else is wrong.
async fn taken(state: &AppState, id: Uuid, name: &str) -> Result<Option<String>, PageError> {
    let machines = state.store.machines().await?;
    let alike = machines
        .iter()
        .find(|m| m.id != id && look(&m.name) == look(name));
    Ok(alike.map(|m| {
        format!(
            "{} stands on the floor already: choose another name.",
            m.name
        )
    }))
}

/// `GET /machines/new?feed=…`: the page as it looks with these answers.
pub async fn form(
    State(state): State<AppState>,
    Query(asked): Query<BTreeMap<String, String>>,
) -> Page {
    let shown = Shown {
        machine: None,
        seq: 0,
        fields: &Fields::of(asked),
        errors: Errors::new(),
        moved_on: false,
    };
    Ok(Html(page(&state, shown)?))
}

/// `GET /machines`: the form anew.
pub async fn again_by_address() -> Redirect {
    Redirect::to("/machines/new")
}

/// `POST /machines`
pub async fn add(State(state): State<AppState>, fields: Fields) -> Answer {
    let id = fields
        .get("machine_id")
        .parse()
        .unwrap_or_else(|_| Uuid::now_v7());
    let stamp = fields.stamp(state.now());
    let added = state
        .store
        .add_machine(&state.knowledge, id, &described(&fields), stamp)
        .await;
    let errors = match added {
        Ok(()) => return Ok(Redirect::to(urls::FLOOR).into_response()),
        Err(StoreError::Refused(refused)) => {
            let mut errors = beside(&state.knowledge, refused, &described(&fields));
            if let Some(message) = taken(&state, id, fields.get("name")).await? {
                errors.insert("name".into(), message);
            }
            errors
        }
        Err(e) => return Err(e.into()),
    };
    let shown = Shown {
        machine: None,
        seq: 0,
        fields: &fields,
        errors,
        moved_on: false,
    };
    Ok(again(page(&state, shown)?))
}

async fn last_seq(state: &AppState, machine: &Machine) -> Result<u32, PageError> {
    Ok(state
        .store
        .machine_log(machine.id)
        .await?
        .last()
        .map_or(0, |e| e.seq))
}

/// `GET /machines/{id}/edit?feed=…`
pub async fn edit(
    State(state): State<AppState>,
    OpenMachine(machine): OpenMachine,
    Query(asked): Query<BTreeMap<String, String>>,
) -> Page {
    let shown = Shown {
        seq: last_seq(&state, &machine).await?,
        machine: Some(&machine),
        fields: &Fields::of(asked),
        errors: Errors::new(),
        moved_on: false,
    };
    Ok(Html(page(&state, shown)?))
}

/// `POST /machines/{id}/edit`
pub async fn change(
    State(state): State<AppState>,
    OpenMachine(machine): OpenMachine,
    fields: Fields,
) -> Answer {
    let new = described(&fields);
    if new == machine.described() {
        return Ok(Redirect::to(&urls::machine(machine.id)).into_response());
    }
    let ends = !ended_by(&state.knowledge, Some(&machine.described()), &new).is_empty();
    let lifts = ends.then(|| Lifting {
        by: fields.by(),
        reason: fields.get("reason").into(),
        seen: fields.ticked(),
    });
    let event = MachineEvent::Described {
        machine: new,
        lifts,
    };
    let (seq, stamp) = (Some(fields.seq()), fields.stamp(state.now()));
    let k = &state.knowledge;
    let stored = state
        .store
        .append_to_machine(k, machine.id, seq, &event, stamp)
        .await;
    let (errors, moved_on) = match stored {
        Ok(()) => return Ok(Redirect::to(&urls::machine(machine.id)).into_response()),
        Err(StoreError::Refused(refused)) => (
            beside(&state.knowledge, refused, &described(&fields)),
            false,
        ),
        Err(StoreError::Conflict { .. }) => (Errors::new(), true),
        Err(e) => return Err(e.into()),
    };
    let shown = Shown {
        seq: last_seq(&state, &machine).await?,
        machine: Some(&machine),
        fields: &fields,
        errors,
        moved_on,
    };
    let status = match moved_on {
        true => StatusCode::CONFLICT,
        false => StatusCode::UNPROCESSABLE_ENTITY,
    };
    Ok((status, Html(page(&state, shown)?)).into_response())
}
