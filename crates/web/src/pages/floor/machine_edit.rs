//! Adding a machine to the floor, and changing what one is. A change that ends a stop of the build
//! takes a named person, a reason, and each step of the stop.

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
use axum::extract::State;
use axum::http::StatusCode;
use axum::response::{Html, IntoResponse, Redirect};
use suspect_core::case::{Problem, Refusal};
use suspect_core::knowledge::Knowledge;
use suspect_core::lifting::Lifting;
use suspect_core::machine::{Described, MachineEvent, ended_by, problems};
use suspect_core::profile::{FIELDS, Field, MATERIAL, Value};
use suspect_core::text::look;
use suspect_store::machines::Machine;
use suspect_store::{StoreError, Uuid};

struct ProfileRow {
    id: &'static str,
    label: &'static str,
    options: Vec<Choice>,
    error: Option<String>,
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
    machine_id: Uuid,
    seq: u32,
    name: String,
    model: String,
    stands: String,
    note: String,
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
    let profile = |id: &str| match fields.sent(id) {
        Some(sent) => sent.to_string(),
        None => machine
            .and_then(|m| m.profile.get(id).cloned())
            .unwrap_or_default(),
    };
    let row = |f: &'static Field| {
        let chosen = profile(f.id);
        let option = |v: &Value| Choice {
            value: v.id.into(),
            label: show::capital(v.plain),
            chosen: chosen == v.id,
        };
        ProfileRow {
            id: f.id,
            label: f.plain,
            options: f.values.iter().map(option).collect(),
            error: shown.errors.get(f.id).cloned(),
        }
    };
    let page = EditPage {
        changing: machine.map(|m| (m.name.clone(), urls::machine(m.id))),
        action: machine.map_or("/machines".to_string(), |m| urls::in_machine(m.id, "edit")),
        machine_id: fields
            .get("machine_id")
            .parse()
            .unwrap_or_else(|_| Uuid::now_v7()),
        seq: if fields.is_empty() || shown.moved_on {
            shown.seq
        } else {
            fields.seq()
        },
        name: value("name", |m| &m.name),
        model: value("model", |m| &m.model),
        stands: value("place", |m| &m.place),
        note: value("note", |m| &m.note),
        rows: FIELDS[..MATERIAL].iter().map(row).collect(),
        ending: ending(state, machine, fields),
        errors: shown.errors,
        moved_on: shown.moved_on,
    };
    Ok(page.render()?)
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
            by: fields.by(),
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

/// `GET /machines/new`
pub async fn form(State(state): State<AppState>) -> Page {
    let shown = Shown {
        machine: None,
        seq: 0,
        fields: &Fields::default(),
        errors: Errors::new(),
        moved_on: false,
    };
    Ok(Html(page(&state, shown)?))
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

/// `GET /machines/{id}/edit`
pub async fn edit(State(state): State<AppState>, OpenMachine(machine): OpenMachine) -> Page {
    let shown = Shown {
        seq: last_seq(&state, &machine).await?,
        machine: Some(&machine),
        fields: &Fields::default(),
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
        by: fields.get("by").into(),
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
