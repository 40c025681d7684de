//! A check: led through step by step, and its outcome, seen or read as a number.

use crate::form::{Errors, Fields};
use crate::page_error::PageError;
use crate::pages::doing::gauge::{self, GaugeView, ReckonedView};
use crate::pages::doing::guide::{GuideView, guide};
use crate::pages::doing::{Asked, amount, locked};
use crate::pages::open_case::{CaseHead, Known, OpenCase};
use crate::pages::parts::schools::{self, SchoolLine};
use crate::pages::parts::work::{self, OutcomeRow, WorkView};
use crate::pages::record::Recorded;
use crate::pages::{Answer, Page, again};
use crate::state::AppState;
use crate::{show, urls};
use askama::Template;
use axum::extract::{Query, State};
use axum::response::{Html, IntoResponse};
use std::collections::BTreeMap;
use suspect_core::case::{Event, WorkId};
use suspect_core::evidence::Confidence;
use suspect_core::knowledge::CheckId;
use suspect_core::measures::{self, Gauge};
use suspect_core::planning::preview;
use suspect_core::ranking::rank;
use suspect_core::settings::Conversion;
use suspect_store::think;

#[derive(Template)]
#[template(path = "doing/check.html")]
struct CheckPage {
    head: CaseHead,
    action: String,
    work: WorkView,
    guide: GuideView,
    plain: String,
    gauge: Option<GaugeView>,
    /// The measure of the bench that answers it.
    bench: Option<String>,
    schools: Vec<SchoolLine>,
    /// Several of its outcomes may be seen at one look.
    several: bool,
    outcomes: Vec<OutcomeRow>,
    minutes: String,
    likely: bool,
    error: Option<String>,
    minutes_error: Option<String>,
    done: Option<String>,
}

/// Says in a form that what was seen is ticked.
const SEVERAL: &str = "several";

/// What a page of a check shows.
struct Shown<'a> {
    check: CheckId,
    at: Asked,
    fields: &'a Fields,
    errors: &'a Errors,
    reckoned: Option<ReckonedView>,
}

fn page(state: &AppState, case: &OpenCase, asked: Shown) -> Result<String, PageError> {
    let (k, facts) = (&state.knowledge, &case.state.facts);
    let (fields, errors) = (asked.fields, asked.errors);
    let check = k.check(asked.check);
    let finding = k.finding(check.finding);
    let previews = preview(k, facts, &rank(k, facts), asked.check);
    let work = work::view(k, facts, &check.work);
    let work_id = WorkId::Check(finding.id.clone());
    let minutes = fields.given("minutes").map(str::to_string);
    let done = facts.findings.get(&check.finding);
    let page = CheckPage {
        head: case.head_again(fields),
        action: case.below(&work_id.to_string()),
        minutes: minutes.unwrap_or_else(|| show::number(check.work.whole_minutes())),
        likely: fields.get("likely") == "yes",
        plain: show::sentence(&finding.plain),
        gauge: measures::gauge(&finding.id).map(|g| GaugeView {
            reckoned: asked.reckoned,
            ..gauge::view(case, g, fields, errors)
        }),
        bench: measures::for_check(&finding.id)
            .map(|m| urls::with(&urls::measure(m.id), &[("case", case.id.to_string())])),
        schools: schools::of_check(k, Some(&case.workshop), asked.check),
        several: finding.several,
        outcomes: work::outcome_rows(k, check.finding, &previews),
        guide: guide(state, case, &work_id, &check.work, asked.at),
        work,
        error: errors.get("outcome").cloned(),
        minutes_error: errors.get("minutes").cloned(),
        done: done.map(|s| s.answer.phrase(k, check.finding)),
    };
    Ok(page.render()?)
}

/// `GET /cases/{id}/check/{check}?step=…`
pub async fn show(
    State(state): State<AppState>,
    case: OpenCase,
    Known(check): Known<CheckId>,
    Query(query): Query<BTreeMap<String, String>>,
) -> Page {
    locked::may_check(&state.knowledge, &case, check)?;
    let asked = Shown {
        check,
        at: Asked::of(&query),
        fields: &Fields::default(),
        errors: &Errors::new(),
        reckoned: None,
    };
    Ok(Html(think(|| page(&state, &case, asked)).await?))
}

/// `POST /cases/{id}/check/{check}`
pub async fn record(
    State(state): State<AppState>,
    case: OpenCase,
    Known(check): Known<CheckId>,
    fields: Fields,
) -> Answer {
    locked::may_check(&state.knowledge, &case, check)?;
    let id = state.knowledge.check_name(check).to_string();
    let mut errors = Errors::new();
    let read = measures::gauge(&id).filter(|_| fields.given("read").is_some());
    let (event, reckoned) = match read {
        Some(gauge) => measured(&state, &case, check, gauge, &fields, &mut errors),
        None => (seen(&state, check, &fields, &mut errors), None),
    };
    let asks_first = reckoned.is_some();
    if errors.is_empty() && !asks_first {
        let form = case.form(&state, &fields, &format!("check/{id}"));
        match form.record(&[event], case.href()).await? {
            Recorded::Done(response) => return Ok(response),
            Recorded::Invalid { field, message } => {
                let known = field == "minutes"
                    || measures::gauge(&id).is_some_and(|g| g.input(&field).is_some());
                let field = if known { field } else { "outcome".into() };
                errors.insert(field, message);
            }
        }
    }
    let asked = Shown {
        check,
        at: Asked::AGAIN,
        fields: &fields,
        errors: &errors,
        reckoned,
    };
    let html = think(|| page(&state, &case, asked)).await?;
    match asks_first {
        true => Ok(Html(html).into_response()),
        false => Ok(again(html)),
    }
}

/// An outcome that was seen.
fn seen(state: &AppState, check: CheckId, fields: &Fields, errors: &mut Errors) -> Event {
    let k = &state.knowledge;
    let outcome = match fields.get("outcome") {
        // Ticked one by one: several things at one look.
        SEVERAL => fields.all("also").collect::<Vec<_>>().join("+"),
        one => one.to_string(),
    };
    if outcome.is_empty() {
        errors.insert("outcome".into(), "Choose what you saw.".into());
    }
    Event::Checked {
        check: k.check_name(check).to_string(),
        outcome,
        confidence: match fields.get("likely") {
            "yes" => Confidence::Likely,
            _ => Confidence::Sure,
        },
        minutes: amount(
            fields,
            "minutes",
            k.check(check).work.whole_minutes(),
            errors,
        ),
    }
}

/// An outcome read as numbers; with what follows from them while it is still to be looked at.
fn measured(
    state: &AppState,
    case: &OpenCase,
    check: CheckId,
    gauge: &Gauge,
    fields: &Fields,
    errors: &mut Errors,
) -> (Event, Option<ReckonedView>) {
    let k = &state.knowledge;
    let minutes = amount(
        fields,
        "minutes",
        k.check(check).work.whole_minutes(),
        errors,
    );
    let given = gauge::read(k, case, gauge, fields, errors);
    let look_first = errors.is_empty() && fields.get("read") != "record";
    let finding = k.check(check).finding;
    let reckoned = match look_first {
        true => gauge::reckoned(k, case, gauge, finding, &given),
        false => None,
    };
    // Pressing "It is so" is what confirms a reading that looks like a slip.
    let out = gauge.reckon(k, &case.state.facts, &given.told());
    let confirmed = out.is_ok_and(|out| out.slipped);
    let typed: Vec<String> = given.converted.iter().map(|c| c.typed.clone()).collect();
    let note = (!typed.is_empty()).then(|| Conversion::Typed {
        typed: typed.join("; "),
    });
    let event = Event::Gauged {
        check: k.check_name(check).to_string(),
        readings: given.readings,
        confirmed,
        note,
        minutes,
    };
    (event, reckoned)
}
