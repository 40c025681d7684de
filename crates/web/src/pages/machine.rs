//! Adding a machine to the floor.

use super::{Choice, Page};
use crate::form::{Errors, Fields};
use crate::page_error::PageError;
use crate::state::AppState;
use crate::urls;
use askama::Template;
use axum::extract::State;
use axum::http::StatusCode;
use axum::response::{Html, IntoResponse, Redirect, Response};
use std::collections::BTreeMap;
use suspect_core::case::LONGEST_NAME;
use suspect_core::profile::{FIELDS, MATERIAL};
use suspect_store::Uuid;
use suspect_store::machines::Machine;

struct ProfileRow {
    id: &'static str,
    label: &'static str,
    options: Vec<Choice>,
    error: Option<String>,
}

#[derive(Template)]
#[template(path = "machine.html")]
struct MachinePage {
    place: &'static str,
    name: String,
    model: String,
    name_error: Option<String>,
    model_error: Option<String>,
    rows: Vec<ProfileRow>,
}

/// `GET /machines/new`
pub async fn form() -> Page {
    Ok(Html(page(&Fields::default(), &Errors::new()).render()?))
}

fn page(fields: &Fields, errors: &Errors) -> MachinePage {
    let rows = FIELDS[..MATERIAL]
        .iter()
        .map(|f| ProfileRow {
            id: f.id,
            label: f.plain,
            options: f
                .values
                .iter()
                .map(|v| Choice {
                    value: v.id.into(),
                    label: crate::show::capital(v.plain),
                    chosen: fields.get(f.id) == v.id,
                })
                .collect(),
            error: errors.get(f.id).cloned(),
        })
        .collect();
    MachinePage {
        place: "floor",
        name: fields.get("name").into(),
        model: fields.get("model").into(),
        name_error: errors.get("name").cloned(),
        model_error: errors.get("model").cloned(),
        rows,
    }
}

/// `POST /machines`
pub async fn add(State(state): State<AppState>, fields: Fields) -> Result<Response, PageError> {
    let mut errors = Errors::new();
    for (field, what) in [("name", "The name"), ("model", "The model")] {
        let length = fields.get(field).chars().count();
        if length == 0 {
            errors.insert(field.into(), format!("{what} is missing."));
        } else if length > LONGEST_NAME || fields.get(field).contains('\0') {
            errors.insert(
                field.into(),
                format!("{what} has {length} characters: at most {LONGEST_NAME} fit."),
            );
        }
    }
    let machines = state.store.machines().await?;
    if machines.iter().any(|m| m.name == fields.get("name")) {
        errors.insert(
            "name".into(),
            format!(
                "{} stands on the floor already: choose another name.",
                fields.get("name")
            ),
        );
    }
    let mut profile = BTreeMap::new();
    let mut context = suspect_core::profile::Context::default();
    for field in &FIELDS[..MATERIAL] {
        if let Some(value) = fields.given(field.id) {
            match context.set(field.id, value) {
                Ok(()) => {
                    profile.insert(field.id.to_string(), value.to_string());
                }
                Err(e) => {
                    errors.insert(field.id.into(), e);
                }
            }
        }
    }
    if !errors.is_empty() {
        return Ok((
            StatusCode::UNPROCESSABLE_ENTITY,
            Html(page(&fields, &errors).render()?),
        )
            .into_response());
    }
    let position = machines.iter().map(|m| m.position).max().unwrap_or(0) + 1;
    let machine = Machine {
        id: Uuid::now_v7(),
        name: fields.get("name").into(),
        model: fields.get("model").into(),
        profile,
        position,
    };
    state.store.add_machine(&machine).await?;
    Ok(Redirect::to(urls::FLOOR).into_response())
}
