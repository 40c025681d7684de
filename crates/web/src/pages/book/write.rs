//! What a person writes into a machine's journal.

use crate::form::Fields;
use crate::page_error::PageError;
use crate::pages::Answer;
use crate::pages::open_case::OpenMachine;
use crate::state::AppState;
use crate::urls;
use crate::words::refusal;
use axum::extract::State;
use axum::response::{IntoResponse, Redirect};
use std::collections::BTreeMap;
use suspect_core::book::Book;
use suspect_core::case::{Event, Problem, Refusal};
use suspect_core::evidence::Confidence;
use suspect_core::knowledge::{Knowledge, Wrong};
use suspect_core::machine::{
    Calibration, Change, Changing, MachineEntry, MachineEvent, QuirkNow, counter, value_of,
};
use suspect_core::settings::{NumberProblem, read_number};
use suspect_core::text::TextProblem;
use suspect_store::machines::Machine;
use suspect_store::{Stamp, StoreError, Uuid};
use time::OffsetDateTime;

/// Why a form makes no entry.
enum Odd {
    Number(NumberProblem),
    Problem(&'static str, Problem),
}

impl From<NumberProblem> for Odd {
    fn from(problem: NumberProblem) -> Self {
        Odd::Number(problem)
    }
}

/// `POST /machines/{id}/journal`
pub async fn write(
    State(state): State<AppState>,
    OpenMachine(machine): OpenMachine,
    fields: Fields,
) -> Answer {
    let log = state.store.machine_log(machine.id).await?;
    let refused = |message| PageError::Refused {
        message,
        back: urls::machine(machine.id),
    };
    let odd_day = |given| refused(format!("“{given}” is no day. A day is like 2026-11-20."));
    let day = fields.earlier("on", state.now()).map_err(odd_day)?;
    let shown = shown_on(&log, day);
    let event = event(&fields, shown).map_err(|odd| match odd {
        Odd::Number(problem) => refused(refusal::number(&problem)),
        Odd::Problem(field, problem) => refused(refusal::problem(field, &problem)),
    })?;
    let event = match day {
        None => event,
        Some(at) => MachineEvent::Earlier {
            at,
            what: Box::new(event),
        },
    };
    keep(&state, &machine, &event, &fields, urls::machine(machine.id)).await
}

/// What the counter shows, or showed on an earlier day.
fn shown_on(log: &[MachineEntry], day: Option<OffsetDateTime>) -> Option<f64> {
    let Some(day) = day else { return counter(log) };
    let book = Book::of(log);
    book.total_on(day)
        .map(|hours| (hours - book.carried).max(0.0).round())
}

/// Writes an entry that stands on its own, and leads back.
pub(super) async fn keep(
    state: &AppState,
    machine: &Machine,
    event: &MachineEvent,
    fields: &Fields,
    back: String,
) -> Answer {
    append(state, machine, event, fields).await?;
    Ok(Redirect::to(&back).into_response())
}

/// Writes an entry that stands on its own.
pub(super) async fn append(
    state: &AppState,
    machine: &Machine,
    event: &MachineEvent,
    fields: &Fields,
) -> Result<(), PageError> {
    let stamp = fields.stamp(state.now());
    let (k, id) = (&state.knowledge, machine.id);
    match state
        .store
        .append_to_machine(k, id, None, event, stamp)
        .await
    {
        Ok(()) => {
            state.ask_to_rebuild();
            Ok(())
        }
        Err(StoreError::Refused(refused)) => Err(PageError::Refused {
            message: told(&state.knowledge, &refused),
            back: urls::machine(id),
        }),
        Err(e) => Err(e.into()),
    }
}

/// A refusal; a counter that runs backwards is asked about.
fn told(k: &Knowledge, refused: &Refusal) -> String {
    let words = refusal::refusal(k, refused);
    match refused {
        Refusal::Invalid {
            problem: Problem::CounterBackwards { .. },
            ..
        } => format!("{words} Is it a new counter, or was it set back? Then tick that beside it."),
        _ => words,
    }
}

fn event(fields: &Fields, last: Option<f64>) -> Result<MachineEvent, Odd> {
    let text = |name: &str| fields.get(name).to_string();
    Ok(match fields.get("say") {
        "counter" => MachineEvent::Counter {
            hours: read_number("the counter", fields.get("hours"))?,
            kilograms: fields.optional("kilograms", "kilograms")?,
            prints: fields.optional("prints", "prints")?,
            restarted: fields.given("restarted").is_some(),
        },
        "fitted" => MachineEvent::Fitted {
            part: text("part"),
            hours: match (fields.optional("fitted_hours", "the counter")?, last) {
                (Some(hours), _) | (None, Some(hours)) => hours,
                (None, None) => read_number("the counter", "")?,
            },
            early: fields.given("early").is_some(),
        },
        "changed" => MachineEvent::Changed(Change {
            what: Changing::from_id(fields.get("what")).unwrap_or(Changing::Setting),
            name: text("name"),
            before: text("before"),
            after: text("after_value"),
        }),
        "good" => MachineEvent::Good {
            case: String::new(),
            note: text("good_note"),
        },
        "quirk" => MachineEvent::Quirk {
            quirk: text("quirk"),
            now: QuirkNow::from_id(fields.get("now")).unwrap_or(QuirkNow::Open),
            note: text("note"),
        },
        "calibrated" => calibrated(fields)?,
        _ => MachineEvent::Noted { text: text("text") },
    })
}

fn calibrated(fields: &Fields) -> Result<MachineEvent, Odd> {
    let id = fields.get("value");
    let Some(of) = value_of(id) else {
        return Err(Odd::Problem("value", TextProblem::Missing.into()));
    };
    let amount = read_number(of.number.plain, fields.get("amount"))?;
    Ok(MachineEvent::Calibrated(Calibration {
        nozzle_mm: read_number("nozzle size", fields.get("nozzle_mm"))?,
        material: fields.get("material").to_string(),
        values: BTreeMap::from([(of.id.to_string(), amount)]),
        piece: fields.get("piece").to_string(),
    }))
}

/// `POST /machines/{id}/kept`: upkeep was seen to, or something looked wrong there. What looked
/// wrong opens a case with the sign already told.
pub async fn kept(
    State(state): State<AppState>,
    OpenMachine(machine): OpenMachine,
    fields: Fields,
) -> Answer {
    let k = &state.knowledge;
    let task = k.upkeep.iter().find(|t| t.id == fields.get("task"));
    let which = fields.get("found").parse::<usize>().ok();
    let wrong = task.zip(which).and_then(|(t, n)| t.wrong.get(n));
    let note = fields.given("note").or(wrong.map(|w| w.say.as_str()));
    let event = MachineEvent::Kept {
        task: fields.get("task").to_string(),
        wrong: fields.get("found") != "fine",
        note: note.unwrap_or_default().to_string(),
    };
    let back = match (wrong, fields.get("back")) {
        (Some(wrong), _) => urls::case(open_case(&state, &machine, wrong, &fields).await?),
        (None, "round") => format!("{}#m-{}", urls::ROUND, machine.id),
        _ => format!("{}#due", urls::machine(machine.id)),
    };
    keep(&state, &machine, &event, &fields, back).await
}

/// A case on a machine that begins with what looked wrong. The page chose its identifier: sent
/// twice, it is opened once.
pub(super) async fn open_case(
    state: &AppState,
    machine: &Machine,
    wrong: &Wrong,
    fields: &Fields,
) -> Result<Uuid, PageError> {
    let k = &state.knowledge;
    let finding = k.finding(wrong.sign.0);
    let events = [
        Event::Opened {
            title: wrong.say.clone(),
            machine_name: machine.name.clone(),
            machine: machine.profile.clone(),
            material: None,
            spool: String::new(),
        },
        Event::Observed {
            finding: finding.id.clone(),
            state: finding.states[wrong.sign.1].id.clone(),
            confidence: Confidence::Sure,
            asked: false,
        },
    ];
    let id = fields
        .get("case")
        .parse()
        .unwrap_or_else(|_| Uuid::now_v7());
    let stamp = Stamp {
        touch: None,
        ..fields.stamp(state.now())
    };
    match state
        .store
        .open_case(k, id, machine.id, &events, stamp)
        .await
    {
        Ok(_) | Err(StoreError::Conflict { .. }) => Ok(id),
        Err(e) => Err(e.into()),
    }
}
