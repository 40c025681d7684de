//! Opening a case from whatever a person begins with: words, a photo, a place touched on the
//! drawing. Before a twin is made, open cases of the same trouble are asked about.

use super::carried::last_case;
use super::new_case::{problems, refused};
use super::proposals::open_proposals;
use super::show;
use super::twins::{Twin, twins};
use super::upload::Taken;
use crate::form::{Errors, Fields};
use crate::page_error::PageError;
use crate::pages::Answer;
use crate::pages::open_case::OpenCase;
use crate::pages::parts::loss;
use crate::state::AppState;
use crate::urls;
use crate::words::refusal;
use axum::extract::{FromRequest, Multipart, Request, State};
use axum::http::header;
use axum::response::{IntoResponse, Redirect, Response};
use suspect_core::case::{Event, Lost, Refusal};
use suspect_core::intake::{Carried, title};
use suspect_core::machine::Described;
use suspect_store::machines::Machine;
use suspect_store::{Stamp, StoreError, Uuid};

/// What the only machine of a hobbyist is called until it is given a name.
const FIRST_MACHINE: &str = "My printer";

/// What became of the words of the form.
enum Begun {
    Case(Uuid),
    /// Something is wrong or to be asked first.
    Page(Response),
}

/// `POST /cases`
pub async fn open(State(state): State<AppState>, request: Request) -> Answer {
    let kind = request.headers().get(header::CONTENT_TYPE);
    let kind = kind.and_then(|v| v.to_str().ok()).unwrap_or("");
    if kind.starts_with("multipart/form-data") {
        let form = Multipart::from_request(request, &state).await;
        return with_pictures(&state, form.map_err(|_| PageError::NotAForm)?).await;
    }
    let fields = Fields::from_request(request, &state).await?;
    match begin(&state, &fields).await? {
        Begun::Case(case) => onward(&state, case, &fields).await,
        Begun::Page(page) => Ok(page),
    }
}

/// The fields of the form come before its pictures: what opens the case is known by then.
async fn with_pictures(state: &AppState, mut form: Multipart) -> Answer {
    let mut taken = Taken::default();
    let mut case: Option<OpenCase> = None;
    while let Some(field) = taken.next(&mut form).await {
        if field.file_name().is_none() {
            if !taken.words(field).await? {
                break;
            }
            continue;
        }
        let there = match case {
            Some(case) => case,
            None => match begin(state, &taken.fields).await? {
                Begun::Case(id) => OpenCase::read(state, id).await?,
                Begun::Page(page) => return Ok(page),
            },
        };
        let seq = there.state.last_seq.to_string();
        taken.fields.push("seq".into(), seq);
        let whole = taken.picture(state, &there, field).await?;
        case = Some(there);
        if !whole {
            break;
        }
    }
    let Taken { fields, errors, .. } = taken;
    let id = match case {
        Some(case) => case.id,
        None => match begin(state, &fields).await? {
            Begun::Case(id) => id,
            Begun::Page(page) => return Ok(page),
        },
    };
    if errors.is_empty() {
        return onward(state, id, &fields).await;
    }
    // The case is there; the page says which picture could not be kept, and why.
    let case = OpenCase::read(state, id).await?;
    show::refused(state, &case, ("pictures", ""), &fields, &errors).await
}

/// Where a case goes on that was just opened: the place touched, else what was read from the words,
/// else the drawing. An open case that is gone on with and has nothing to confirm shows its next
/// step.
async fn onward(state: &AppState, case: Uuid, fields: &Fields) -> Answer {
    let to = match (fields.given("at"), fields.given("join")) {
        (Some(place), _) => urls::intake(case, "print", place),
        (None, None) => urls::intake(case, "", ""),
        (None, Some(_)) => {
            let open = OpenCase::read(state, case).await?;
            match open_proposals(state, &open).is_empty() {
                true => urls::case(case),
                false => urls::intake(case, "words", ""),
            }
        }
    };
    Ok(Redirect::to(&to).into_response())
}

/// Opens the case the words of a form ask for, or goes on with the open one they name.
async fn begin(state: &AppState, fields: &Fields) -> Result<Begun, PageError> {
    if let Some(case) = fields.given("join").and_then(|id| id.parse().ok()) {
        return go_on(state, case, fields).await;
    }
    let mut machines = state.store.machines().await?;
    if machines.is_empty() {
        machines = first_machine(state, fields).await?;
    }
    let mut errors = problems(&machines, fields);
    let machine = super::new_case::chosen(&machines, fields).filter(|_| errors.is_empty());
    let Some(machine) = machine else {
        return page(state, fields, errors, Vec::new()).await;
    };
    if fields.get("twin") != "no" {
        let twins = twins(state, machine, fields.get("told")).await?;
        if !twins.is_empty() {
            return page(state, fields, errors, twins).await;
        }
    }
    let kept = match fields.get("still_so") {
        "yes" => last_case(state, machine.id, None).await?,
        _ => None,
    };
    let kept = kept.map(|last| last.kept).unwrap_or_default();
    let lost = loss::read(fields, &mut errors);
    let events = events(machine, fields.get("told"), &kept, lost);
    match store(state, machine, &events, fields).await {
        Ok(case) => Ok(Begun::Case(case)),
        Err(StoreError::Refused(refused_by)) => {
            let message = refusal::refusal(&state.knowledge, &refused_by);
            let field = match &refused_by {
                Refusal::Invalid { field, .. } if field.starts_with("lost_") => field,
                _ => "told",
            };
            errors.insert(field.into(), message);
            page(state, fields, errors, Vec::new()).await
        }
        Err(e) => Err(e.into()),
    }
}

async fn page(
    state: &AppState,
    fields: &Fields,
    errors: Errors,
    twins: Vec<Twin>,
) -> Result<Begun, PageError> {
    Ok(Begun::Page(refused(state, fields, errors, twins).await?))
}

/// It is the open case: what was told is added there.
async fn go_on(state: &AppState, case: Uuid, fields: &Fields) -> Result<Begun, PageError> {
    let row = state.store.case_row(case).await.map_err(|e| match e {
        StoreError::NotFound => PageError::NotFound("case"),
        other => other.into(),
    })?;
    if let Some(told) = fields.given("told") {
        let told = Event::Told { text: told.into() };
        let stamp = fields.stamp(state.now());
        let k = &state.knowledge;
        let stored = state
            .store
            .append(k, case, row.last_seq, &[told], stamp)
            .await;
        match stored {
            Ok(_) | Err(StoreError::OtherTouch) => {}
            Err(StoreError::Refused(refused)) => {
                return Err(PageError::Refused {
                    message: refusal::refusal(k, &refused),
                    back: urls::case(case),
                });
            }
            Err(e) => return Err(e.into()),
        }
    }
    Ok(Begun::Case(case))
}

/// An empty workshop gets its first machine with its first case: what it is built like is asked
/// when it would matter.
async fn first_machine(state: &AppState, fields: &Fields) -> Result<Vec<Machine>, PageError> {
    let machine = Described {
        name: FIRST_MACHINE.into(),
        ..Described::default()
    };
    let stamp = Stamp {
        touch: None,
        ..fields.stamp(state.now())
    };
    let k = &state.knowledge;
    let added = state.store.add_machine(k, Uuid::now_v7(), &machine, stamp);
    match added.await {
        // Somebody else opened the first case at the same moment: one machine is enough.
        Ok(()) | Err(StoreError::Refused(_)) => Ok(state.store.machines().await?),
        Err(e) => Err(e.into()),
    }
}

/// What opens a case: the machine, what is still as it was, what happened.
fn events(machine: &Machine, told: &str, kept: &Carried, lost: Option<Lost>) -> Vec<Event> {
    let mut events = vec![Event::Opened {
        title: title(told).unwrap_or_default(),
        machine_name: machine.name.clone(),
        machine: machine.profile.clone(),
        material: kept.material.clone(),
        spool: kept.spool.clone(),
    }];
    events.extend(kept.numbers.iter().map(|(id, value)| Event::Measured {
        number: id.to_string(),
        value: *value,
        note: None,
    }));
    if !told.is_empty() {
        let text = told.to_string();
        events.push(Event::Told { text });
    }
    events.extend(lost.map(Event::Lost));
    events
}

/// Stores a case. The page made its identifier, so that the same form sent twice opens one case.
async fn store(
    state: &AppState,
    machine: &Machine,
    events: &[Event],
    fields: &Fields,
) -> Result<Uuid, StoreError> {
    let k = &state.knowledge;
    let stamp = fields.stamp(state.now());
    let given = fields.get("case_id").parse();
    let id = given.unwrap_or_else(|_| Uuid::now_v7());
    let opened = state
        .store
        .open_case(k, id, machine.id, events, stamp.clone());
    match opened.await {
        Ok(_) => Ok(id),
        // The form was sent before with other words: that case stands, and this one is opened
        // beside it.
        Err(StoreError::Conflict { .. } | StoreError::OtherTouch) => {
            let id = Uuid::now_v7();
            let touch = None;
            let stamp = Stamp { touch, ..stamp };
            let opened = state.store.open_case(k, id, machine.id, events, stamp);
            opened.await.map(|_| id)
        }
        Err(e) => Err(e),
    }
}
