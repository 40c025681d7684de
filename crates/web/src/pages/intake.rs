//! New case: machine, material, what is seen, the pattern, the numbers, what was tried. The line-up beside it moves along.

use super::line_up::{LineUpView, view};
use super::picker::{self, Picker};
use super::{Choice, Page};
use crate::form::{Errors, Fields};
use crate::page_error::PageError;
use crate::state::AppState;
use crate::{show, urls};
use askama::Template;
use axum::extract::{Query, State};
use axum::http::StatusCode;
use axum::response::{Html, IntoResponse, Redirect, Response};
use std::collections::BTreeMap;
use suspect_core::case::{self, CaseState, Entry, Event, LONGEST_NAME, LONGEST_TITLE, analyse};
use suspect_core::planning::Action;
use suspect_core::profile::{FIELDS, MATERIAL};
use suspect_store::machines::Machine;
use suspect_store::{StoreError, Uuid};

#[derive(Template)]
#[template(path = "intake.html")]
struct IntakePage {
    place: &'static str,
    case_id: Uuid,
    machines: Vec<Choice>,
    materials: Vec<Choice>,
    title: String,
    spool: String,
    errors: Errors,
    tried_error: Option<String>,
    picker: Picker,
    aside: Aside,
}

#[derive(Template)]
#[template(path = "intake_aside.html")]
struct AsidePage {
    aside: Aside,
}

struct Aside {
    facts: usize,
    line_up: LineUpView,
    next: String,
    next_minutes: String,
    stop: Option<String>,
    problems: usize,
}

/// `GET /cases/new?machine=…`
pub async fn form(State(state): State<AppState>, Query(query): Query<BTreeMap<String, String>>) -> Page {
    let machines = state.store.machines().await?;
    let chosen = query.get("machine").cloned().unwrap_or_default();
    let fields = Fields(vec![("machine".into(), chosen)]);
    Ok(Html(page(&state, &machines, &fields, Errors::new())?.render()?))
}

/// `POST /cases/new`: the same page again with the line-up, for those without scripts.
pub async fn show_again(State(state): State<AppState>, fields: Fields) -> Page {
    let machines = state.store.machines().await?;
    let draft = draft(&state, &machines, &fields);
    // A title not yet given is no mistake before the case is opened.
    let mut errors = draft.errors;
    errors.remove("title");
    Ok(Html(page(&state, &machines, &fields, errors)?.render()?))
}

/// `POST /cases/preview`: the part that moves as facts are added.
pub async fn preview(State(state): State<AppState>, fields: Fields) -> Page {
    let machines = state.store.machines().await?;
    let draft = draft(&state, &machines, &fields);
    Ok(Html(AsidePage { aside: aside(&state, &draft) }.render()?))
}

/// `POST /cases`
pub async fn open(State(state): State<AppState>, fields: Fields) -> Result<Response, PageError> {
    let machines = state.store.machines().await?;
    let mut draft = draft(&state, &machines, &fields);
    let (Some(machine), true) = (&draft.machine, draft.errors.is_empty()) else {
        return refused(&state, &machines, &fields, draft.errors);
    };
    // The page made this identifier, so that the same form sent twice opens one case.
    let id: Uuid = fields.get("case_id").parse().unwrap_or_else(|_| Uuid::now_v7());
    match state.store.open_case(&state.knowledge, id, machine.id, &draft.events, state.now()).await {
        Ok(_) => Ok(Redirect::to(&urls::case(id)).into_response()),
        // The form was sent before with other facts: that case stands, and this one is opened beside it.
        Err(StoreError::Conflict { .. }) => {
            let id = Uuid::now_v7();
            state.store.open_case(&state.knowledge, id, machine.id, &draft.events, state.now()).await?;
            Ok(Redirect::to(&urls::case(id)).into_response())
        }
        Err(StoreError::Refused(case::Refusal::Invalid { field, message })) => {
            draft.errors.insert(field, show::sentence(&message));
            refused(&state, &machines, &fields, draft.errors)
        }
        Err(e) => Err(e.into()),
    }
}

fn refused(state: &AppState, machines: &[Machine], fields: &Fields, errors: Errors) -> Result<Response, PageError> {
    let html = page(state, machines, fields, errors)?.render()?;
    Ok((StatusCode::UNPROCESSABLE_ENTITY, Html(html)).into_response())
}

/// A case as far as the form tells it.
struct Draft {
    machine: Option<Machine>,
    events: Vec<Event>,
    errors: Errors,
}

fn draft(state: &AppState, machines: &[Machine], fields: &Fields) -> Draft {
    let mut errors = Errors::new();
    let chosen = fields.get("machine");
    let machine = machines.iter().find(|m| m.id.to_string() == chosen).cloned();
    if machine.is_none() {
        let message = if chosen.is_empty() { "Choose the machine." } else { "There is no such machine on the floor: choose one." };
        errors.insert("machine".into(), message.into());
    }
    for (field, longest, needed) in [("title", LONGEST_TITLE, true), ("spool", LONGEST_NAME, false)] {
        let length = fields.get(field).chars().count();
        if needed && length == 0 {
            errors.insert(field.into(), "Give the trouble a name, such as “Bracket, gaps in the top”.".into());
        } else if length > longest {
            errors.insert(field.into(), format!("This has {length} characters: at most {longest} fit. Put the rest into a note."));
        } else if fields.get(field).contains('\0') {
            errors.insert(field.into(), "This holds a character that cannot be kept (a null).".into());
        }
    }
    let material = fields.given("material");
    if let Some(m) = material
        && let Err(e) = suspect_core::profile::Context::default().set("material", m)
    {
        errors.insert("material".into(), show::sentence(&e));
    }
    let mut events = vec![Event::Opened {
        title: fields.get("title").to_string(),
        machine_name: machine.as_ref().map_or_else(String::new, |m| m.name.clone()),
        machine: machine.as_ref().map_or_else(BTreeMap::new, |m| m.profile.clone()),
        material: material.map(str::to_string),
        spool: fields.get("spool").to_string(),
    }];
    events.extend(picker::events(&state.knowledge, fields, &CaseState::default(), &mut errors));
    Draft { machine, events, errors }
}

fn page(state: &AppState, machines: &[Machine], fields: &Fields, errors: Errors) -> Result<IntakePage, PageError> {
    let draft = draft(state, machines, fields);
    let choice = |value: String, label: String, chosen: bool| Choice { value, label, chosen };
    Ok(IntakePage {
        place: "new",
        case_id: fields.get("case_id").parse().unwrap_or_else(|_| Uuid::now_v7()),
        machines: machines
            .iter()
            .map(|m| choice(m.id.to_string(), format!("{} ({})", m.name, m.model), m.id.to_string() == fields.get("machine")))
            .collect(),
        materials: FIELDS[MATERIAL].values.iter().map(|v| choice(v.id.into(), v.plain.into(), v.id == fields.get("material"))).collect(),
        title: fields.get("title").into(),
        spool: fields.get("spool").into(),
        tried_error: errors.get("tried").cloned(),
        picker: picker::picker(&state.knowledge, fields, &errors, true),
        aside: aside(state, &draft),
        errors,
    })
}

fn aside(state: &AppState, draft: &Draft) -> Aside {
    let k = &state.knowledge;
    let now = state.now();
    let log: Vec<Entry> =
        draft.events.iter().enumerate().map(|(n, event)| Entry { seq: n as u32 + 1, at: now, event: event.clone() }).collect();
    let case = case::replay(k, &log);
    let analysis = analyse(k, &case, &state.workshop);
    // The ghost is the line-up before the last fact.
    let before = (log.len() > 1).then(|| suspect_core::ranking::rank(k, &case::replay(k, &log[..log.len() - 1]).facts));
    let leader = analysis.line_up.leader().filter(|_| log.len() > 1).map(|l| k.cause(l.cause).id.as_str());
    let line_up = view(k, &analysis.line_up, before.as_ref(), leader, urls::suspect);
    let first = analysis.plan.steps.first();
    let (next, minutes) = match first.map(|s| (s.action, s.minutes)) {
        Some((Action::Check(c), m)) => (k.check(c).work.name.clone(), m),
        Some((Action::Fix(x), m)) => (k.fix(x).work.name.clone(), m),
        Some((Action::ClearStop(s), m)) => (k.stops[s].work.name.clone(), m),
        _ => ("Ask the maker".into(), 0.0),
    };
    Aside {
        facts: log.len() - 1,
        line_up,
        next,
        next_minutes: show::minutes(minutes),
        stop: analysis.plan.stops.first().map(|s| k.stops[*s].name.clone()),
        problems: draft.errors.keys().filter(|f| f.contains('.')).count(),
    }
}
