//! The machine map: parts to touch for what they do, and the hours of what wears on them.

use super::print::tally;
use super::sign::{SignCard, card};
use super::{Scene, page};
use crate::drawing::machine_map::{PartLink, svg};
use crate::form::{Errors, Fields};
use crate::page_error::PageError;
use crate::pages::opened;
use crate::state::AppState;
use crate::{show, urls};
use axum::extract::{Path, State};
use axum::http::StatusCode;
use axum::response::{Html, IntoResponse, Redirect, Response};
use suspect_core::case::Refusal;
use suspect_core::knowledge::{FindingId, MACHINE_REGIONS, Section};
use suspect_core::machine::MachineEvent;
use suspect_core::parts;
use suspect_core::settings::read_number;
use suspect_store::StoreError;

pub struct PartRow {
    pub id: &'static str,
    pub name: &'static str,
    pub hours: String,
    pub fitted: String,
}

pub struct Chosen {
    pub name: &'static str,
    pub signs: Vec<SignCard>,
    pub parts: Vec<PartRow>,
    pub open: usize,
    pub rest_action: String,
    pub region: &'static str,
}

pub struct MachineView {
    pub map: String,
    pub profile: Vec<String>,
    pub chosen: Option<Chosen>,
    pub counter: Option<String>,
    pub hours_action: String,
    pub fitted_action: String,
    pub seq: u32,
    pub at: String,
    pub typed: String,
    pub error: Option<String>,
}

pub async fn view(
    scene: &Scene<'_>,
    fields: &Fields,
    errors: &Errors,
) -> Result<MachineView, PageError> {
    let (k, case) = (&scene.state.knowledge, &scene.case.state);
    let log = scene
        .state
        .store
        .machine_log(scene.case.row.machine_id)
        .await?;
    let hours = parts::hours(&case.facts.context, &log);
    let behaviours = |region: &str| -> Vec<FindingId> {
        let of_region = |f: &suspect_core::knowledge::Finding| {
            f.section == Section::Machine && f.region == region && f.fits(&case.facts.context)
        };
        k.findings
            .iter()
            .enumerate()
            .filter(|(_, f)| of_region(f))
            .map(|(at, _)| FindingId(at as u16))
            .collect()
    };
    let chosen = MACHINE_REGIONS.iter().find(|(id, _)| *id == scene.at);
    let link = |(region, _): &(&'static str, &'static str)| PartLink {
        region,
        href: urls::intake(scene.case.id, "machine", region),
        chosen: chosen.is_some_and(|(id, _)| id == region),
        tally: tally(scene, |f| {
            k.finding(f).section == Section::Machine && k.finding(f).region == *region
        }),
    };
    // An open machine has no chamber to touch.
    let there = |(region, _): &&(&str, &str)| {
        !behaviours(region).is_empty() || hours.iter().any(|p| p.part.region == *region)
    };
    let links: Vec<PartLink> = MACHINE_REGIONS.iter().filter(there).map(link).collect();
    let row = |p: &parts::PartHours| PartRow {
        id: p.part.id,
        name: p.part.name,
        hours: p.hours.map_or_else(
            || "hours not known".into(),
            |h| format!("{}\u{a0}h", show::number(h.round())),
        ),
        fitted: p
            .fitted
            .map_or_else(String::new, |at| format!("fitted {}", show::date(at))),
    };
    Ok(MachineView {
        map: svg(&case.facts.context, &links),
        profile: case
            .facts
            .context
            .known()
            .filter(|(f, _)| f.id != "material")
            .map(|(f, v)| format!("{}: {}", f.plain, v.plain))
            .collect(),
        chosen: chosen.map(|(region, name)| {
            let signs = behaviours(region);
            let open = signs.iter().filter(|f| {
                k.finding(**f).presence()
                    && !case.facts.findings.contains_key(f)
                    && !case.passed.contains(f)
            });
            Chosen {
                name,
                region,
                open: open.count(),
                signs: signs.iter().map(|f| card(scene, *f)).collect(),
                parts: hours
                    .iter()
                    .filter(|p| p.part.region == *region)
                    .map(row)
                    .collect(),
                rest_action: urls::in_case(scene.case.id, "rest"),
            }
        }),
        counter: parts::counter(&log).map(|h| format!("{}\u{a0}h", show::number(h))),
        hours_action: urls::in_case(scene.case.id, "hours"),
        fitted_action: urls::in_case(scene.case.id, "fitted"),
        seq: case.last_seq,
        at: scene.at.clone(),
        typed: fields.get("hours").into(),
        error: errors.get("hours").cloned(),
    })
}

/// `POST /cases/{id}/hours`: the machine's counter was read.
pub async fn hours(
    State(state): State<AppState>,
    Path(id): Path<String>,
    fields: Fields,
) -> Result<Response, PageError> {
    append(&state, &id, &fields, |hours| MachineEvent::Counter {
        hours,
    })
    .await
}

/// `POST /cases/{id}/fitted`: a part was fitted new, at what the counter shows.
pub async fn fitted(
    State(state): State<AppState>,
    Path(id): Path<String>,
    fields: Fields,
) -> Result<Response, PageError> {
    let part = fields.get("fitted").to_string();
    append(&state, &id, &fields, |hours| MachineEvent::Fitted {
        part,
        hours,
    })
    .await
}

async fn append(
    state: &AppState,
    id: &str,
    fields: &Fields,
    event: impl FnOnce(f64) -> MachineEvent,
) -> Result<Response, PageError> {
    let case = opened(state, id).await?;
    let machine = case.row.machine_id;
    let last = parts::counter(&state.store.machine_log(machine).await?);
    // A part may be noted as new without reading the counter again.
    let hours = match (fields.given("hours"), last) {
        (None, Some(last)) if fields.given("fitted").is_some() => Ok(last),
        (text, _) => read_number("the counter", text.unwrap_or("")),
    };
    let problem = match hours {
        Ok(hours) => match state
            .store
            .append_to_machine(
                &state.knowledge,
                machine,
                None,
                &event(hours),
                fields.stamp(state.now()),
            )
            .await
        {
            Ok(()) => {
                return Ok(
                    Redirect::to(&urls::intake(case.id, "machine", fields.get("at")))
                        .into_response(),
                );
            }
            Err(StoreError::Refused(Refusal::Invalid { message, .. })) => message,
            Err(e) => return Err(e.into()),
        },
        Err(message) => message,
    };
    let errors = Errors::from([("hours".to_string(), show::sentence(&problem))]);
    let html = page(
        state,
        &case,
        "machine",
        fields.get("at").to_string(),
        fields,
        &errors,
    )
    .await?;
    Ok((StatusCode::UNPROCESSABLE_ENTITY, Html(html)).into_response())
}
