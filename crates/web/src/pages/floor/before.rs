//! Before a print: what is worth a look on this machine for this job.

use crate::page_error::PageError;
use crate::pages::Page;
use crate::pages::open_case::OpenMachine;
use crate::pages::parts::case_line::{CaseLine, case_line};
use crate::pages::parts::link::Choice;
use crate::pages::parts::work::{CautionView, cautions};
use crate::state::AppState;
use crate::words::refusal;
use crate::{show, urls};
use askama::Template;
use axum::extract::{Query, State};
use axum::response::Html;
use std::collections::BTreeMap;
use suspect_core::knowledge::{CauseId, Knowledge};
use suspect_core::machine::build;
use suspect_core::preventive::{Job, Known, Look, before};
use suspect_core::profile::{FIELDS, FieldId, MATERIAL};
use suspect_core::settings::read_number;
use suspect_store::machines::Machine;
use suspect_store::{Uuid, think};

/// A job as small as most, until one is told.
const USUAL: Job = Job {
    hours: 3.0,
    grams: 40.0,
};

/// The largest job that makes sense.
const MOST: Job = Job {
    hours: 1_000.0,
    grams: 50_000.0,
};

struct LookView {
    n: usize,
    text: String,
    minutes: String,
    because: String,
    cautions: Vec<CautionView>,
}

/// Open cases named at most.
const OPEN_NAMED: u64 = 5;

#[derive(Template)]
#[template(path = "floor/before.html")]
struct BeforePage {
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
    /// Open cases of the machine: trouble that is not over.
    open: Vec<CaseLine>,
    locked: bool,
}

/// `GET /machines/{id}/before?material=…&hours=…&grams=…`
pub async fn show(
    State(state): State<AppState>,
    OpenMachine(machine): OpenMachine,
    Query(query): Query<BTreeMap<String, String>>,
) -> Page {
    let k = &state.knowledge;
    let struck = struck(&state, &machine).await?;
    let learned = state.store.learned(k, machine.id, state.now()).await?;
    let known = Known {
        learned: learned.as_deref(),
        struck: &struck,
    };
    let mut context = build(&machine.profile);
    let material = query.get("material").cloned().unwrap_or_default();
    if !material.is_empty() {
        let set = context.set(FieldId::Material.id(), &material);
        set.map_err(|problem| PageError::Refused {
            message: refusal::problem("material", &problem.into()),
            back: urls::before(machine.id),
        })?;
    }
    let (job, error) = job(&query);
    let (workshop, _) = state.workshop().await?;
    let list = think(|| before(k, &context, known, job, &workshop)).await;
    let looks = list.looks.iter().enumerate();
    let choices = FIELDS[MATERIAL].values.iter().map(|v| Choice {
        value: v.id.into(),
        label: v.plain.into(),
        chosen: v.id == material,
    });
    let lock = state.store.lock_of(k, machine.id, Uuid::nil()).await?;
    let rows = state.store.open_cases_of(machine.id, 0, OPEN_NAMED).await?;
    let rows = rows.iter().filter(|r| r.closed_at.is_none());
    let open = rows.map(|r| case_line(k, &machine.name, r, lock.as_ref()));
    let page = BeforePage {
        open: open.collect(),
        machine: machine.name,
        action: urls::before(machine.id),
        materials: choices.collect(),
        hours: show::number(job.hours),
        grams: show::number(job.grams),
        error,
        looks: looks.map(|(n, l)| look(k, n, l)).collect(),
        minutes: show::minutes(list.minutes.max(1.0)),
        risk_without: show::percent(list.risk.0),
        risk_with: show::percent(list.risk.1),
        failure: show::minutes(list.failure),
        cases: struck.len(),
        locked: lock.is_some(),
    };
    Ok(Html(page.render()?))
}

/// The job asked about; where a figure makes no sense the usual one, and a word about it.
fn job(query: &BTreeMap<String, String>) -> (Job, Option<String>) {
    let mut error = None;
    let mut amount = |name: &str, plain: &str, usual: f64, most: f64| {
        let text = query.get(name).map_or("", |v| v.trim());
        if text.is_empty() {
            return usual;
        }
        match read_number(plain, text) {
            Ok(value) if (0.0..=most).contains(&value) => return value,
            Ok(value) => {
                error = Some(format!(
                    "{plain} of {} make no sense: the usual {usual} are taken.",
                    show::number(value)
                ));
            }
            Err(problem) => error = Some(refusal::number(&problem)),
        }
        usual
    };
    let job = Job {
        hours: amount("hours", "Hours", USUAL.hours, MOST.hours),
        grams: amount("grams", "Grams", USUAL.grams, MOST.grams),
    };
    (job, error)
}

fn look(k: &Knowledge, n: usize, look: &Look) -> LookView {
    let precaution = &k.precautions[look.precaution];
    let because = look.because.iter().map(|(c, n): &(CauseId, usize)| {
        let name = show::lower_first(&k.cause(*c).name);
        match n {
            0 => name,
            1 => format!("{name} (once here)"),
            n => format!("{name} ({n} times here)"),
        }
    });
    LookView {
        n,
        text: precaution.text.clone(),
        minutes: seconds(precaution.minutes),
        because: because.collect::<Vec<_>>().join(", "),
        cautions: cautions(k, &precaution.cautions),
    }
}

fn seconds(minutes: f64) -> String {
    if minutes < 1.0 {
        format!("{:.0}\u{a0}s", minutes * 60.0)
    } else {
        show::minutes(minutes)
    }
}

/// Causes of closed cases of this machine.
async fn struck(state: &AppState, machine: &Machine) -> Result<Vec<CauseId>, PageError> {
    let closed = state.store.closed_causes().await?;
    let here = closed.into_iter().filter(|row| row.machine == machine.id);
    Ok(here
        .filter_map(|row| state.knowledge.cause_id(&row.cause))
        .collect())
}
