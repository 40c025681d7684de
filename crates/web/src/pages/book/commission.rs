//! Bringing a machine into service: a guided list from what it is and where it comes from.

use super::write::{append, open_case};
use crate::form::Fields;
use crate::page_error::PageError;
use crate::pages::open_case::OpenMachine;
use crate::pages::parts::work::{CautionView, cautions};
use crate::pages::{Answer, Page};
use crate::state::AppState;
use crate::words::journal;
use crate::{show, urls};
use askama::Template;
use axum::extract::State;
use axum::response::{Html, IntoResponse, Redirect};
use suspect_core::book::{Book, Stage, StepNow, steps};
use suspect_core::knowledge::{History, Knowledge};
use suspect_core::machine::{MachineEvent, build};
use suspect_store::Uuid;
use suspect_store::machines::Machine;

struct StepView {
    id: String,
    name: String,
    text: String,
    minutes: String,
    stage: &'static str,
    said: String,
    cautions: Vec<CautionView>,
    wrong: Vec<String>,
    /// A measure or a piece that belongs to it: words and address.
    with: Option<(String, String)>,
    case: Uuid,
}

#[derive(Template)]
#[template(path = "book/commission.html")]
struct CommissionPage {
    name: String,
    back: String,
    action: String,
    histories: Vec<(&'static str, String)>,
    /// Where it comes from, once somebody said so.
    history: Option<&'static str>,
    cold: Vec<StepView>,
    warm: Vec<StepView>,
    well: usize,
    of: usize,
    held: bool,
    ends: bool,
}

/// `GET /machines/{id}/commission`
pub async fn show(State(state): State<AppState>, OpenMachine(machine): OpenMachine) -> Page {
    let k = &state.knowledge;
    let book = state.store.book(machine.id).await?;
    let context = build(&machine.profile);
    let on = book.commissioning.as_ref();
    let lock = state.store.lock_of(k, machine.id, Uuid::nil()).await?;
    let held = lock.is_some();
    let all = on.map_or_else(Vec::new, |on| steps(k, &context, on, held));
    let view = |warm: bool| {
        let of = all.iter().filter(|s| s.step.heats == warm);
        of.map(|s| step_view(k, machine.id, s)).collect()
    };
    let page = CommissionPage {
        back: urls::machine(machine.id),
        action: urls::in_machine(machine.id, "commission"),
        histories: History::ALL
            .into_iter()
            .map(|h| (h.id(), show::capital(journal::history_words(h))))
            .collect(),
        history: on.map(|on| journal::history_words(on.history)),
        cold: view(false),
        warm: view(true),
        well: all.iter().filter(|s| s.stage == Stage::Well).count(),
        of: all.len(),
        held,
        ends: !all.is_empty() && all.iter().all(|s| s.stage == Stage::Well),
        name: machine.name,
    };
    Ok(Html(page.render()?))
}

fn step_view(k: &Knowledge, machine: Uuid, now: &StepNow<'_>) -> StepView {
    let step = now.step;
    let said = now.answer.map(|a| {
        let by = crate::screen::shown_of(a.by.as_deref());
        let by = by.map_or(String::new(), |by| format!(" by {by}"));
        journal::with_note(&format!("{}{by}", show::moment(a.at)), &a.note)
    });
    let of_machine = [("machine", machine.to_string())];
    let measure = step.measure.as_deref().map(|id| {
        let address = urls::with(&urls::measure(id), &of_machine);
        ("Measure it at the bench".to_string(), address)
    });
    let piece = step.piece.as_deref().map(|id| {
        let name = suspect_pieces::piece(id).map_or(id, |p| p.name);
        let address = urls::with(&format!("/pieces/{id}"), &of_machine);
        (format!("Test piece: {name}"), address)
    });
    StepView {
        id: step.id.clone(),
        name: step.name.clone(),
        text: step.text.clone(),
        minutes: show::minutes(step.minutes),
        stage: match now.stage {
            Stage::Well => "well",
            Stage::Wrong => "wrong",
            Stage::Open => "open",
            Stage::Held => "held",
        },
        said: said.unwrap_or_default(),
        cautions: cautions(k, &step.cautions),
        wrong: step.wrong.iter().map(|w| w.say.clone()).collect(),
        with: measure.or(piece),
        case: Uuid::now_v7(),
    }
}

/// `POST /machines/{id}/commission`: where it comes from, or the answer to a step.
pub async fn answer(
    State(state): State<AppState>,
    OpenMachine(machine): OpenMachine,
    fields: Fields,
) -> Answer {
    let here = urls::in_machine(machine.id, "commission");
    let refused = |message: &str| PageError::Refused {
        message: message.into(),
        back: here.clone(),
    };
    if let Some(history) = History::from_id(fields.get("history")) {
        let event = MachineEvent::Commissioning { history };
        append(&state, &machine, &event, &fields).await?;
        return Ok(Redirect::to(&here).into_response());
    }
    let k = &state.knowledge;
    let book = state.store.book(machine.id).await?;
    let on = book.commissioning.as_ref();
    let on = on.ok_or_else(|| refused("Say first where this machine comes from."))?;
    let context = build(&machine.profile);
    let lock = state.store.lock_of(k, machine.id, Uuid::nil()).await?;
    let all = steps(k, &context, on, lock.is_some());
    let now = all.iter().find(|s| s.step.id == fields.get("step"));
    let now = now.ok_or_else(|| refused("This machine has no such step."))?;
    if now.stage == Stage::Held {
        let words = "This step heats: first every cold step is answered and well, and no stop \
            holds the machine.";
        return Err(refused(words));
    }
    let well = fields.get("found") == "well";
    let wrong = fields.get("found").parse::<usize>().ok();
    let wrong = wrong.and_then(|n| now.step.wrong.get(n));
    let note = fields.given("note").or(wrong.map(|w| w.say.as_str()));
    let event = MachineEvent::Commissioned {
        step: now.step.id.clone(),
        well,
        note: note.unwrap_or_default().to_string(),
    };
    let to = match wrong {
        Some(wrong) => urls::case(open_case(&state, &machine, wrong, &fields).await?),
        None => format!("{here}#{}", now.step.id),
    };
    append(&state, &machine, &event, &fields).await?;
    follow(&state, &machine, (&book, now), well, &fields).await?;
    Ok(Redirect::to(&to).into_response())
}

/// What follows from an answer: a build that is not safe is written down and its stop holds; a good
/// first print makes its settings known good.
async fn follow(
    state: &AppState,
    machine: &Machine,
    (book, now): (&Book, &StepNow<'_>),
    well: bool,
    fields: &Fields,
) -> Result<(), PageError> {
    let untouched = Fields::default();
    if let (Some((field, value)), false) = (&now.step.unless, well) {
        let mut described = machine.described();
        described.profile.insert(field.clone(), value.clone());
        let event = MachineEvent::Described {
            machine: described.clone(),
            lifts: None,
        };
        // The same form sent again finds it written down.
        if described != machine.described() {
            append(state, machine, &event, &untouched).await?;
        }
    }
    let told = now.answer.filter(|a| a.well).map(|a| a.at);
    let good = book.good.as_ref().map(|g| g.at);
    let known = told.is_some() && good >= told;
    if now.step.good && well && !known {
        let note = fields.given("note").unwrap_or("first print in service");
        let event = MachineEvent::Good {
            case: String::new(),
            note: note.to_string(),
        };
        append(state, machine, &event, &untouched).await?;
    }
    Ok(())
}
