//! Spool, material, numbers with their windows, what can be carried over, what was tried before.

use super::{Scene, page};
use crate::form::{Errors, Fields, not_shown};
use crate::page_error::PageError;
use crate::pages::new_case::{self, CarriedView};
use crate::pages::picker::TriedRow;
use crate::pages::picker::tried_row;
use crate::pages::recording::{self, Recorded};
use crate::pages::{Choice, opened};
use crate::state::AppState;
use crate::{show, urls};
use axum::extract::{Path, State};
use axum::http::StatusCode;
use axum::response::{Html, IntoResponse, Response};
use std::collections::BTreeMap;
use suspect_core::case::Event;
use suspect_core::evidence::window_for;
use suspect_core::profile::{FIELDS, MATERIAL};
use suspect_core::settings::{NUMBERS, position};

pub struct NumberRow {
    pub id: &'static str,
    pub label: String,
    pub unit: &'static str,
    pub value: String,
    /// "PETG 225 to 250 °C".
    pub window: Option<String>,
    /// Where it lies outside: "above", "below".
    pub outside: Option<&'static str>,
    /// What was converted when it was read.
    pub note: Option<String>,
    pub error: Option<String>,
}

pub struct ProfileRow {
    pub id: &'static str,
    pub label: &'static str,
    pub options: Vec<Choice>,
}

pub struct NumbersView {
    pub action: String,
    pub carry_action: String,
    pub tried_action: String,
    pub seq: u32,
    pub title: String,
    pub spool: String,
    pub materials: Vec<Choice>,
    pub numbers: Vec<NumberRow>,
    /// Fields of the machine's profile that are not known.
    pub profile: Vec<ProfileRow>,
    pub carried: Option<CarriedView>,
    pub tried: Vec<String>,
    pub tried_row: TriedRow,
    pub errors: Errors,
}

pub async fn view(
    scene: &Scene<'_>,
    fields: &Fields,
    errors: &Errors,
) -> Result<NumbersView, PageError> {
    let (k, case) = (&scene.state.knowledge, &scene.case.state);
    let context = &case.facts.context;
    let sent = |name: &str, known: String| fields.sent(name).map_or(known, str::to_string);
    let material = context.id("material").unwrap_or("");
    // Only a lined hot end has a liner to spare.
    let lined = context.id("hotend") == Some("lined");
    let row = |n: &'static suspect_core::settings::Number| {
        let name = format!("n.{}", n.id);
        let known = case.facts.settings.get(n.id);
        let window = window_for(k, context, n.id);
        NumberRow {
            id: n.id,
            label: show::capital(n.plain),
            unit: n.unit,
            value: sent(&name, known.map(show::exact).unwrap_or_default()),
            window: window.map(|(low, high)| {
                format!(
                    "{} {} to {}\u{a0}{}",
                    material.to_uppercase(),
                    show::number(low.max(0.0)),
                    show::number(high),
                    n.unit
                )
            }),
            outside: known.zip(window).and_then(|(v, (low, high))| {
                if v > high {
                    Some("above")
                } else if v < low {
                    Some("below")
                } else {
                    None
                }
            }),
            note: case.converted.get(n.id).cloned(),
            error: errors.get(&name).cloned(),
        }
    };
    let last =
        new_case::last_case(scene.state, scene.case.row.machine_id, Some(scene.case.id)).await?;
    let material_sent = sent("material", material.to_string());
    Ok(NumbersView {
        action: urls::in_case(scene.case.id, "numbers"),
        carry_action: urls::in_case(scene.case.id, "carry"),
        tried_action: urls::in_case(scene.case.id, "tried"),
        seq: case.last_seq,
        title: sent("title", case.title.clone()),
        spool: sent("spool", case.spool.clone()),
        materials: FIELDS[MATERIAL]
            .values
            .iter()
            .map(|v| Choice {
                value: v.id.into(),
                label: v.plain.into(),
                chosen: v.id == material_sent,
            })
            .collect(),
        numbers: NUMBERS
            .iter()
            .filter(|n| !n.id.ends_with("_height_mm") && (n.id != "lined_limit_c" || lined))
            .map(row)
            .collect(),
        profile: FIELDS[..MATERIAL]
            .iter()
            .filter(|f| context.id(f.id).is_none())
            .map(|f| {
                let given = fields.get(&format!("m.{}", f.id));
                let option = |v: &suspect_core::profile::Value| Choice {
                    value: v.id.into(),
                    label: show::capital(v.plain),
                    chosen: given == v.id,
                };
                ProfileRow {
                    id: f.id,
                    label: f.plain,
                    options: f.values.iter().map(option).collect(),
                }
            })
            .collect(),
        carried: last.and_then(|(id, number, kept)| new_case::view(id, number, &kept.beyond(case))),
        tried: case
            .facts
            .tried
            .iter()
            .map(|t| {
                format!(
                    "{}: {}",
                    k.fix(t.fix).work.name,
                    recording::result_words(t.result)
                )
            })
            .collect(),
        tried_row: tried_row(k, 0, fields),
        errors: errors.clone(),
    })
}

/// `POST /cases/{id}/numbers`
pub async fn record(
    State(state): State<AppState>,
    Path(id): Path<String>,
    fields: Fields,
) -> Result<Response, PageError> {
    let case = opened(&state, &id).await?;
    let mut errors = Errors::new();
    let mut events: Vec<Event> = described(&case.state, &fields).into_iter().collect();
    events.extend(crate::pages::picker::events(
        &state.knowledge,
        &fields,
        &case.state,
        &mut errors,
    ));
    let here = urls::intake(case.id, "numbers", "");
    if errors.is_empty() {
        if events.is_empty() {
            return Ok(axum::response::Redirect::to(&here).into_response());
        }
        match recording::record(
            &state,
            &case,
            &fields,
            &urls::in_case(case.id, "numbers"),
            &events,
            here,
        )
        .await?
        {
            Recorded::Done(response) => return Ok(response),
            Recorded::Invalid { field, message } => {
                let own = ["title", "spool", "material"].contains(&field.as_str());
                errors.insert(if own { field } else { "form".into() }, message);
            }
        }
    }
    // A number that no form of ours asks for has no field to stand beside.
    let shown = |f: &str| f.strip_prefix("n.").is_none_or(|id| position(id).is_ok());
    if let Some(message) = not_shown(&errors, shown).into_iter().next() {
        errors.insert("form".into(), message);
    }
    let html = page(&state, &case, "numbers", String::new(), &fields, &errors).await?;
    Ok((StatusCode::UNPROCESSABLE_ENTITY, Html(html)).into_response())
}

/// Title, material, spool and what became known of the machine, when the form changes any of them. A material once known is not unsaid by an empty choice.
fn described(case: &suspect_core::case::CaseState, fields: &Fields) -> Option<Event> {
    let (title, spool) = (fields.get("title"), fields.get("spool"));
    let material = fields.given("material");
    let machine: BTreeMap<String, String> = fields
        .with_prefix("m.")
        .filter(|(_, v)| !v.is_empty())
        .map(|(f, v)| (f.to_string(), v.to_string()))
        .collect();
    let said = title != case.title || spool != case.spool;
    let changed = said
        || !machine.is_empty()
        || (material.is_some() && material != case.facts.context.id("material"));
    let sent = fields.sent("title").is_some();
    (sent && changed).then(|| Event::Described {
        title: title.into(),
        material: material.map(str::to_string),
        spool: spool.into(),
        machine,
    })
}
