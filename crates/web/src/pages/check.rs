//! A check: led through step by step, and its outcome, seen or read as a number.

use super::gauge::{self, GaugeView};
use super::guide::{GuideView, guide};
use super::next;
use super::recording::{Recorded, record as append};
use super::work::{self, OutcomeRow, WorkView};
use super::{Opened, Page, opened};
use crate::form::{Errors, Fields};
use crate::page_error::PageError;
use crate::state::AppState;
use crate::{show, urls};
use askama::Template;
use axum::extract::{Path, Query, State};
use axum::http::StatusCode;
use axum::response::{Html, IntoResponse, Response};
use std::collections::BTreeMap;
use suspect_core::case::Event;
use suspect_core::evidence::Confidence;
use suspect_core::knowledge::CheckId;
use suspect_core::measures;
use suspect_core::planning::preview;
use suspect_core::ranking::rank;
use suspect_store::think;

#[derive(Template)]
#[template(path = "check.html")]
struct CheckPage {
    place: &'static str,
    label: String,
    title: String,
    case_href: String,
    action: String,
    aside_action: String,
    seq: u32,
    work: WorkView,
    guide: GuideView,
    plain: String,
    gauge: Option<GaugeView>,
    outcomes: Vec<OutcomeRow>,
    minutes: String,
    likely: bool,
    error: Option<String>,
    minutes_error: Option<String>,
    done: Option<String>,
}

fn find(state: &AppState, id: &str) -> Result<CheckId, PageError> {
    state
        .knowledge
        .check_id(id)
        .ok_or(PageError::NotFound("check"))
}

/// Under a stop only the step that clears it may be done.
fn locked(state: &AppState, case: &Opened, check: Option<CheckId>) -> Option<PageError> {
    if let Some(lock) = case.lock() {
        return Some(PageError::Refused {
            message: format!(
                "{}: {}. Nothing is done on it until that stop is lifted.",
                show::capital(&next::locked_by(lock)),
                show::lower_first(&state.knowledge.stops[lock.stop].name)
            ),
            back: next::lock_href(state, case.machine.id, lock),
        });
    }
    let stops: Vec<_> = case
        .state
        .stops
        .iter()
        .map(|s| &state.knowledge.stops[*s])
        .collect();
    let first = stops.first()?;
    if check.is_some_and(|c| suspect_core::safety::allowed_under(&stops, c)) {
        return None;
    }
    Some(PageError::Refused {
        message: format!(
            "The machine is locked: {}. Clear the stop before anything else.",
            show::lower_first(&first.name)
        ),
        back: urls::in_case(case.id, &format!("stop/{}", first.id)),
    })
}

/// A page for a fix under a stop.
pub fn locked_for_fixes(state: &AppState, case: &Opened) -> Option<PageError> {
    locked(state, case, None)
}

/// The step asked for by `?step=`; 0 is the overview.
pub fn asked_step(query: &BTreeMap<String, String>) -> usize {
    query.get("step").and_then(|s| s.parse().ok()).unwrap_or(0)
}

struct Asked<'a> {
    check: CheckId,
    step: usize,
    fields: &'a Fields,
    errors: &'a Errors,
    reckoned: Option<gauge::ReckonedView>,
}

fn page(state: &AppState, case: &Opened, asked: Asked) -> Result<String, PageError> {
    let k = &state.knowledge;
    let (fields, errors) = (asked.fields, asked.errors);
    let c = k.check(asked.check);
    let finding = k.finding(c.finding);
    let line_up = rank(k, &case.state.facts);
    let outcomes = work::outcome_rows(
        state,
        c.finding,
        &preview(k, &case.state.facts, &line_up, asked.check),
    );
    let work = work::view(state, &case.state.facts, &c.work);
    let work_id = format!("check/{}", finding.id);
    let page = CheckPage {
        place: "case",
        label: show::case_label(case.row.number),
        title: case.state.title.clone(),
        case_href: urls::case(case.id),
        action: urls::in_case(case.id, &work_id),
        aside_action: urls::in_case(case.id, "aside"),
        seq: if fields.is_empty() {
            case.state.last_seq
        } else {
            fields.seq()
        },
        minutes: fields
            .given("minutes")
            .map_or_else(|| show::number(work.minutes), str::to_string),
        likely: fields.get("likely") == "yes",
        plain: show::sentence(&finding.plain),
        gauge: measures::gauge(&finding.id).map(|g| GaugeView {
            reckoned: asked.reckoned,
            ..gauge::view(case, g, fields, errors)
        }),
        outcomes,
        guide: guide(state, case, &work_id, &c.work, asked.step),
        work,
        error: errors.get("outcome").cloned(),
        minutes_error: errors.get("minutes").cloned(),
        done: case
            .state
            .facts
            .findings
            .get(&c.finding)
            .map(|s| s.answer.phrase(k, c.finding)),
    };
    Ok(page.render()?)
}

/// `GET /cases/{id}/check/{check}?step=…`
pub async fn show(
    State(state): State<AppState>,
    Path((id, check)): Path<(String, String)>,
    Query(query): Query<BTreeMap<String, String>>,
) -> Page {
    let case = opened(&state, &id).await?;
    let check = find(&state, &check)?;
    if let Some(stop) = locked(&state, &case, Some(check)) {
        return Err(stop);
    }
    let asked = Asked {
        check,
        step: asked_step(&query),
        fields: &Fields::default(),
        errors: &Errors::new(),
        reckoned: None,
    };
    Ok(Html(think(|| page(&state, &case, asked)).await?))
}

/// `POST /cases/{id}/check/{check}`
pub async fn record(
    State(state): State<AppState>,
    Path((id, check)): Path<(String, String)>,
    fields: Fields,
) -> Result<Response, PageError> {
    let case = opened(&state, &id).await?;
    let check = find(&state, &check)?;
    if let Some(stop) = locked(&state, &case, Some(check)) {
        return Err(stop);
    }
    let finding_id = state.knowledge.check(check).finding;
    let finding = state.knowledge.finding(finding_id).id.clone();
    let mut errors = Errors::new();
    let usual = state.knowledge.check(check).work.minutes;
    let minutes = fields.number("minutes", usual).unwrap_or_else(|e| {
        errors.insert("minutes".into(), show::sentence(&e));
        usual
    });
    let mut reckoned = None;
    let event = match measures::gauge(&finding).filter(|_| fields.given("read").is_some()) {
        Some(gauge) => {
            let given = gauge::read(gauge, &fields, &mut errors);
            if errors.is_empty() && fields.get("read") != "record" {
                reckoned = Some(gauge::reckoned(&state, &case, gauge, finding_id, &given));
            }
            let note = Some(given.notes.join("; ")).filter(|n| !n.is_empty());
            Event::Gauged {
                check: finding.clone(),
                readings: given.readings,
                note,
                minutes,
            }
        }
        None => {
            let outcome = fields.get("outcome").to_string();
            if outcome.is_empty() {
                errors.insert("outcome".into(), "Choose what you saw.".into());
            }
            let confidence = if fields.get("likely") == "yes" {
                Confidence::Likely
            } else {
                Confidence::Sure
            };
            Event::Checked {
                check: finding.clone(),
                outcome,
                confidence,
                minutes,
            }
        }
    };
    let asks_first = reckoned.is_some();
    if errors.is_empty() && !asks_first {
        let action = urls::in_case(case.id, &format!("check/{finding}"));
        match append(
            &state,
            &case,
            &fields,
            &action,
            &[event],
            urls::case(case.id),
        )
        .await?
        {
            Recorded::Done(response) => return Ok(response),
            Recorded::Invalid { field, message } => {
                let known = field == "minutes"
                    || measures::gauge(&finding).is_some_and(|g| g.input(&field).is_some());
                errors.insert(if known { field } else { "outcome".into() }, message);
            }
        }
    }
    let asked = Asked {
        check,
        step: 0,
        fields: &fields,
        errors: &errors,
        reckoned,
    };
    let status = if asks_first {
        StatusCode::OK
    } else {
        StatusCode::UNPROCESSABLE_ENTITY
    };
    let html = think(|| page(&state, &case, asked)).await?;
    Ok((status, Html(html)).into_response())
}
