//! Before a print: what is worth a look on this machine for this job.

use crate::form::Fields;
use crate::page_error::PageError;
use crate::pages::open_case::OpenMachine;
use crate::pages::parts::case_line::{CaseLine, case_line};
use crate::pages::parts::link::Choice;
use crate::pages::parts::work::{CautionView, cautions};
use crate::pages::{Answer, Page};
use crate::state::AppState;
use crate::words::{journal, refusal};
use crate::{show, urls};
use askama::Template;
use axum::extract::{Query, State};
use axum::response::{Html, IntoResponse, Redirect};
use std::collections::BTreeMap;
use suspect_core::book::{Book, Looked, due};
use suspect_core::knowledge::{CauseId, Knowledge};
use suspect_core::machine::{MachineEvent, build};
use suspect_core::preventive::{Job, Known, Look, before};
use suspect_core::profile::{Context, FIELDS, FieldId, MATERIAL};
use suspect_core::settings::read_number;
use suspect_core::shelf::Spool;
use suspect_store::books::Books;
use suspect_store::machines::Machine;
use suspect_store::shelf::Thing;
use suspect_store::{StoreError, Uuid, think};
use time::OffsetDateTime;

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
    id: String,
    /// Ticked before on the same day.
    ticked: bool,
    /// Found not well.
    wrong: bool,
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
    /// Who ticked last today, and when.
    ticked_by: Option<String>,
    /// Upkeep that is due: name and reason.
    due: Vec<(String, String)>,
    /// Spools on the machine against the job.
    spools: Vec<SpoolLine>,
    /// The machine's own prints were counted: words.
    own: Option<String>,
}

/// A spool on the machine.
struct SpoolLine {
    name: String,
    href: String,
    left: String,
    enough: bool,
    dry_me: bool,
}

/// `GET /machines/{id}/before?material=…&hours=…&grams=…`
pub async fn show(
    State(state): State<AppState>,
    OpenMachine(machine): OpenMachine,
    Query(query): Query<BTreeMap<String, String>>,
) -> Page {
    let k = &state.knowledge;
    let struck = struck(&state, &machine).await?;
    let books = state.store.books(k).await?;
    let book = &books
        .of(machine.id)
        .ok_or(PageError::NotFound("machine"))?
        .book;
    let own = own(&state, machine.id, book).await?;
    let learned = state.store.learned(k, machine.id, state.now()).await?;
    let known = Known {
        learned: learned.as_deref(),
        struck: &struck,
        own,
    };
    let material = query.get("material").cloned().unwrap_or_default();
    let context = with_material(&machine, &material)?;
    let (job, error) = job(&query);
    let (workshop, _) = state.workshop().await?;
    let list = think(|| before(k, &context, known, job, &workshop)).await;
    let ticks = ticks(book, state.now());
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
        looks: list.looks.iter().map(|l| look(k, l, ticks)).collect(),
        ticked_by: ticks.map(ticked_by),
        due: overdue(&state, &books, machine.id),
        spools: spools(&state, machine.id, job.grams).await?,
        own: own.map(own_words),
        minutes: show::minutes(list.minutes.max(1.0)),
        risk_without: chance(list.risk.0),
        risk_with: chance(list.risk.1),
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

/// The machine's build with the material of the job, where one was said.
fn with_material(machine: &Machine, material: &str) -> Result<Context, PageError> {
    let mut context = build(&machine.profile);
    if !material.is_empty() {
        let set = context.set(FieldId::Material.id(), material);
        set.map_err(|problem| PageError::Refused {
            message: refusal::problem("material", &problem.into()),
            back: urls::before(machine.id),
        })?;
    }
    Ok(context)
}

/// "224 prints and 7 cases".
fn own_words((cases, prints): (f64, f64)) -> String {
    format!(
        "{} prints and {} cases",
        show::number(prints),
        show::number(cases)
    )
}

/// Who ticked today, and when.
fn ticked_by(looked: &Looked) -> String {
    let by = crate::screen::shown_of(looked.by.as_deref());
    let by = by.map_or(String::new(), |by| format!("{by}, "));
    format!("{by}{}", show::clock(looked.at))
}

/// A chance that may be small, with a tenth where that tells two apart.
fn chance(p: f64) -> String {
    match p < 0.1 {
        true => format!("{:.1}\u{a0}%", p * 100.0),
        false => show::percent(p),
    }
}

/// Cases and prints of the machine since its prints were first counted.
async fn own(
    state: &AppState,
    machine: Uuid,
    book: &Book,
) -> Result<Option<(f64, f64)>, PageError> {
    let (Some(prints), Some(since)) = (book.counted_prints(), book.begun) else {
        return Ok(None);
    };
    let cases = state.store.cases_of_since(machine, since).await? as f64;
    Ok((prints > 0.0).then_some((cases, prints)))
}

/// Ticks of today.
fn ticks(book: &Book, now: OffsetDateTime) -> Option<&Looked> {
    let looked = book.looked.as_ref()?;
    (show::date(looked.at) == show::date(now)).then_some(looked)
}

/// Upkeep that is due on the machine.
fn overdue(state: &AppState, books: &Books, machine: Uuid) -> Vec<(String, String)> {
    let (k, now) = (&state.knowledge, state.now());
    let Some(shelved) = books.of(machine) else {
        return Vec::new();
    };
    let kind = books.kind(&shelved.machine.model);
    let states = books.states(machine, now);
    let all = due(k, &shelved.context, &shelved.book, kind, &states, now);
    let over = all.iter().filter(|d| d.now());
    over.map(|d| (d.task.name.clone(), journal::due_reason(&d.reason)))
        .collect()
}

/// Spools on the machine, and whether one holds enough for the job.
async fn spools(state: &AppState, machine: Uuid, grams: f64) -> Result<Vec<SpoolLine>, PageError> {
    let (all, now) = (state.store.things::<Spool>().await?, state.now());
    let here = machine.to_string();
    let here = all.iter().filter(|s| s.is.machine == here);
    let line = |s: &Thing<Spool>| SpoolLine {
        name: format!("{} {}", show::spool_label(s.number), s.is.name()),
        href: urls::spool(s.id),
        left: show::grams(s.is.left_g),
        enough: s.is.enough_for(grams),
        dry_me: s.is.wants_drying(now),
    };
    Ok(here.map(line).collect())
}

/// `POST /machines/{id}/before`: looks that are well, or one that is not.
pub async fn keep(
    State(state): State<AppState>,
    OpenMachine(machine): OpenMachine,
    fields: Fields,
) -> Answer {
    let wrong: Vec<String> = fields
        .given("wrong")
        .map(str::to_string)
        .into_iter()
        .collect();
    let seen = fields
        .all("seen")
        .filter(|id| !wrong.iter().any(|w| w == id));
    let event = MachineEvent::LookedOver {
        seen: seen.map(str::to_string).collect(),
        wrong: wrong.clone(),
    };
    let (k, stamp) = (&state.knowledge, fields.stamp(state.now()));
    let stored = state
        .store
        .append_to_machine(k, machine.id, None, &event, stamp);
    let back = urls::before(machine.id);
    match stored.await {
        // What is not well is looked into before anything prints.
        Ok(()) if !wrong.is_empty() => {
            Ok(Redirect::to(&urls::new_case_on(machine.id)).into_response())
        }
        Ok(()) => Ok(Redirect::to(&back).into_response()),
        Err(StoreError::Refused(refused)) => Err(PageError::Refused {
            message: refusal::refusal(k, &refused),
            back,
        }),
        Err(e) => Err(e.into()),
    }
}

fn look(k: &Knowledge, look: &Look, ticks: Option<&Looked>) -> LookView {
    let precaution = &k.precautions[look.precaution];
    let because = look.because.iter().map(|(c, n): &(CauseId, usize)| {
        let name = show::lower_first(&k.cause(*c).name);
        match n {
            0 => name,
            1 => format!("{name} (once here)"),
            n => format!("{name} ({n} times here)"),
        }
    });
    let told =
        |of: fn(&Looked) -> &Vec<String>| ticks.is_some_and(|t| of(t).contains(&precaution.id));
    LookView {
        id: precaution.id.clone(),
        ticked: told(|t| &t.seen),
        wrong: told(|t| &t.wrong),
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
