//! Before a print: what is worth a look on this machine for this job.

use super::work::{CautionView, cautions};
use super::{Choice, Page};
use crate::page_error::PageError;
use crate::state::AppState;
use crate::{show, urls};
use askama::Template;
use axum::extract::{Path, Query, State};
use axum::response::Html;
use std::collections::BTreeMap;
use suspect_core::preventive::{Job, Past, before};
use suspect_core::profile::{Context, FIELDS, MATERIAL};
use suspect_store::{Uuid, think};

/// A job as small as most, until one is told.
const USUAL: Job = Job {
    hours: 3.0,
    grams: 40.0,
};

struct LookView {
    n: usize,
    text: String,
    minutes: String,
    because: String,
    cautions: Vec<CautionView>,
}

#[derive(Template)]
#[template(path = "before.html")]
struct BeforePage {
    place: &'static str,
    machine: String,
    action: String,
    materials: Vec<Choice>,
    hours: String,
    grams: String,
    error: Option<String>,
    looks: Vec<LookView>,
    minutes: String,
    risk_without: String,
    risk_with: String,
    failure: String,
    cases: usize,
    locked: bool,
}

/// `GET /machines/{id}/before?material=…&hours=…&grams=…`
pub async fn show(
    State(state): State<AppState>,
    Path(id): Path<String>,
    Query(query): Query<BTreeMap<String, String>>,
) -> Page {
    let id: Uuid = id.parse().map_err(|_| PageError::NotFound("machine"))?;
    let machine = state.store.machine(id).await.map_err(|e| match e {
        suspect_store::StoreError::NotFound => PageError::NotFound("machine"),
        other => other.into(),
    })?;
    let k = &state.knowledge;
    let past = past(&state, id, &machine.model).await?;
    let mut context = Context::default();
    // What the present program does not know of a stored profile counts as not known.
    machine
        .profile
        .iter()
        .for_each(|(field, value)| drop(context.set(field, value)));
    let material = query.get("material").cloned().unwrap_or_default();
    if !material.is_empty() {
        context
            .set("material", &material)
            .map_err(|message| PageError::Refused {
                message: show::sentence(&message),
                back: urls::before(id),
            })?;
    }
    let mut error = None;
    let mut amount = |name: &str, plain: &str, usual: f64| match query
        .get(name)
        .map(String::as_str)
        .filter(|v| !v.trim().is_empty())
    {
        None => usual,
        Some(text) => match suspect_core::settings::read_number(plain, text) {
            Ok(value)
                if (0.0..=1000.0).contains(&value)
                    || (name == "grams" && (0.0..=50_000.0).contains(&value)) =>
            {
                value
            }
            Ok(value) => {
                error = Some(format!(
                    "{plain} of {} make no sense: the usual {usual} are taken.",
                    show::number(value)
                ));
                usual
            }
            Err(e) => {
                error = Some(show::sentence(&e));
                usual
            }
        },
    };
    let job = Job {
        hours: amount("hours", "Hours", USUAL.hours),
        grams: amount("grams", "Grams", USUAL.grams),
    };
    let (workshop, _) = state.workshop().await?;
    let list = think(|| before(k, &context, &past, job, &workshop)).await;
    let because = |causes: &[(suspect_core::knowledge::CauseId, usize)]| {
        let told = causes.iter().map(|(c, n)| {
            let name = show::lower_first(&k.cause(*c).name);
            match n {
                0 => name,
                1 => format!("{name} (once here)"),
                n => format!("{name} ({n} times here)"),
            }
        });
        told.collect::<Vec<_>>().join(", ")
    };
    let looks = list.looks.iter().enumerate().map(|(n, l)| LookView {
        n,
        text: k.precautions[l.precaution].text.clone(),
        minutes: seconds(k.precautions[l.precaution].minutes),
        because: because(&l.because),
        cautions: cautions(&state, &k.precautions[l.precaution].cautions),
    });
    let page = BeforePage {
        place: "floor",
        machine: machine.name,
        action: urls::before(id),
        materials: FIELDS[MATERIAL]
            .values
            .iter()
            .map(|v| Choice {
                value: v.id.into(),
                label: v.plain.into(),
                chosen: v.id == material,
            })
            .collect(),
        hours: show::number(job.hours),
        grams: show::number(job.grams),
        error,
        looks: looks.collect(),
        minutes: show::minutes(list.minutes.max(1.0)),
        risk_without: show::percent(list.risk.0),
        risk_with: show::percent(list.risk.1),
        failure: show::minutes(list.failure),
        cases: past.iter().filter(|p| p.same_machine).count(),
        locked: state.store.lock_of(k, id, Uuid::nil()).await?.is_some(),
    };
    Ok(Html(page.render()?))
}

fn seconds(minutes: f64) -> String {
    if minutes < 1.0 {
        format!("{:.0}\u{a0}s", minutes * 60.0)
    } else {
        show::minutes(minutes)
    }
}

/// Closed cases of the workshop that name a cause, as the list learns from them.
async fn past(state: &AppState, machine: Uuid, model: &str) -> Result<Vec<Past>, PageError> {
    let same_kind: Vec<Uuid> = state
        .store
        .machines()
        .await?
        .into_iter()
        .filter(|m| m.model == model)
        .map(|m| m.id)
        .collect();
    let now = state.now();
    let closed = state.store.closed_causes().await?;
    let past = closed.into_iter().filter_map(|row| {
        Some(Past {
            cause: state.knowledge.cause_id(&row.cause)?,
            outcome: suspect_core::case::Outcome::from_id(&row.outcome)?,
            days: (now - row.closed_at).as_seconds_f64() / 86_400.0,
            same_machine: row.machine == machine,
            same_kind: same_kind.contains(&row.machine),
        })
    });
    Ok(past.collect())
}
