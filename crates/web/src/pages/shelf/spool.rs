//! A spool: what is left, how it was dried and kept, where it is, its cases; its label.

use super::spools::keeping;
use crate::form::Fields;
use crate::page_error::PageError;
use crate::pages::parts::label::{Label, render};
use crate::pages::{Answer, Page};
use crate::state::AppState;
use crate::words::{journal, refusal};
use crate::{show, urls};
use askama::Template;
use axum::extract::{Path, State};
use axum::http::HeaderMap;
use axum::response::{Html, IntoResponse, Redirect};
use suspect_core::settings::{NumberProblem, read_number};
use suspect_core::shelf::{KEEPING, Shelving, Spool, SpoolEvent, drying_hint};
use suspect_store::machines::Machine;
use suspect_store::shelf::Thing;
use suspect_store::{StoreError, Uuid};

struct Line {
    at: String,
    stamp: String,
    by: Option<String>,
    text: String,
}

#[derive(Template)]
#[template(path = "shelf/spool.html")]
struct SpoolPage {
    label: String,
    name: String,
    left: String,
    of: String,
    tare: Option<String>,
    nearly_out: bool,
    dry_me: bool,
    finished: bool,
    opened: Option<String>,
    dried: Option<String>,
    drying: Option<String>,
    kept: &'static str,
    keeping: [(&'static str, &'static str); 4],
    machine: Option<(String, String)>,
    machines: Vec<(Uuid, String)>,
    was_on: Vec<String>,
    cases: Vec<(String, String, String)>,
    action: String,
    label_href: String,
    seq: u32,
    log: Vec<Line>,
}

async fn read(
    state: &AppState,
    id: &str,
) -> Result<(Thing<Spool>, Vec<Shelving<SpoolEvent>>), PageError> {
    let id: Uuid = id.parse().map_err(|_| PageError::NotFound("spool"))?;
    state.store.thing::<Spool>(id).await.map_err(|e| match e {
        StoreError::NotFound => PageError::NotFound("spool"),
        other => other.into(),
    })
}

/// `GET /spools/{spool}`
pub async fn show(State(state): State<AppState>, Path(id): Path<String>) -> Page {
    let k = &state.knowledge;
    let (spool, log) = read(&state, &id).await?;
    let (is, now) = (&spool.is, state.now());
    let machines = state.store.machines().await?;
    let name_of = |id: &str| machines.iter().find(|m| m.id.to_string() == id);
    let cases = state
        .store
        .cases_with_spool(&show::spool_label(spool.number))
        .await?;
    let page = SpoolPage {
        label: show::spool_label(spool.number),
        name: show::capital(&is.name()),
        left: show::grams(is.left_g),
        of: show::grams(is.net_g),
        tare: is.tare_g.map(show::grams),
        nearly_out: is.nearly_out(),
        dry_me: is.wants_drying(now),
        finished: is.finished,
        opened: is.opened.map(show::date),
        dried: is.dried.as_ref().map(|d| {
            format!(
                "{} at {} °C for {} h",
                show::date(d.at),
                show::number(d.celsius),
                show::number(d.hours)
            )
        }),
        drying: drying_hint(k, &is.family).map(str::to_string),
        kept: keeping(&is.kept),
        keeping: KEEPING,
        machine: name_of(&is.machine).map(|m| (m.name.clone(), urls::machine(m.id))),
        machines: machines.iter().map(|m| (m.id, m.name.clone())).collect(),
        was_on: is
            .was_on
            .iter()
            .filter_map(|id| name_of(id).map(|m| m.name.clone()))
            .collect(),
        cases: cases
            .iter()
            .map(|c| {
                let machine = machines.iter().find(|m| m.id == c.machine_id);
                let machine = machine.map_or(String::new(), |m| m.name.clone());
                (
                    show::case_label(c.number),
                    format!("{} ({machine})", c.title),
                    urls::case(c.id),
                )
            })
            .collect(),
        action: urls::spool(spool.id),
        label_href: format!("{}/label", urls::spool(spool.id)),
        seq: spool.seq,
        log: log.iter().rev().map(|e| line(e, &machines)).collect(),
    };
    Ok(Html(page.render()?))
}

fn line(entry: &Shelving<SpoolEvent>, machines: &[Machine]) -> Line {
    Line {
        at: show::moment(entry.at),
        stamp: show::stamp(entry.at),
        by: crate::screen::shown_of(entry.by.as_deref()),
        text: words(&entry.event, machines),
    }
}

fn words(event: &SpoolEvent, machines: &[Machine]) -> String {
    match event {
        SpoolEvent::Described {
            family,
            colour,
            net_g,
            ..
        } => {
            format!(
                "Written down: {colour} {}, {}",
                journal::material(family),
                show::grams(*net_g)
            )
        }
        SpoolEvent::Opened => "Opened".into(),
        SpoolEvent::Dried { celsius, hours } => {
            format!(
                "Dried at {} °C for {} h",
                show::number(*celsius),
                show::number(*hours)
            )
        }
        SpoolEvent::Kept { how } => format!("Kept: {}", keeping(how)),
        SpoolEvent::Weighed { gross_g } => {
            format!("Weighed with its spool: {}", show::grams(*gross_g))
        }
        SpoolEvent::Used { grams, of } => {
            journal::with_note(&format!("Used {}", show::grams(*grams)), of)
        }
        SpoolEvent::Put { machine } if machine.is_empty() => "Taken off its machine".into(),
        SpoolEvent::Put { machine } => {
            let name = machines.iter().find(|m| m.id.to_string() == *machine);
            format!(
                "Put on {}",
                name.map_or("a machine that is gone", |m| m.name.as_str())
            )
        }
        SpoolEvent::Finished => "Used up".into(),
        SpoolEvent::FoundAgain { grams } => format!("In use again: {} left", show::grams(*grams)),
    }
}

/// `POST /spools/{spool}`: something happened to it.
pub async fn write(
    State(state): State<AppState>,
    Path(id): Path<String>,
    fields: Fields,
) -> Answer {
    let (spool, _) = read(&state, &id).await?;
    let back = urls::spool(spool.id);
    let event = event(&fields).map_err(|problem| PageError::Refused {
        message: refusal::number(&problem),
        back: back.clone(),
    })?;
    let events = [event];
    let (k, stamp) = (&state.knowledge, fields.stamp(state.now()));
    let written =
        state
            .store
            .append_to_thing::<Spool>(k, spool.id, fields.seq().max(1), &events, stamp);
    match written.await {
        Ok(_) => Ok(Redirect::to(&back).into_response()),
        Err(StoreError::Refused(refused)) => Err(PageError::Refused {
            message: refusal::refusal(k, &refused),
            back,
        }),
        Err(e) => Err(e.into()),
    }
}

fn event(fields: &Fields) -> Result<SpoolEvent, NumberProblem> {
    let number = |name: &str, plain: &str| read_number(plain, fields.get(name));
    Ok(match fields.get("say") {
        "opened" => SpoolEvent::Opened,
        "dried" => SpoolEvent::Dried {
            celsius: number("celsius", "degrees")?,
            hours: number("hours", "hours")?,
        },
        "kept" => SpoolEvent::Kept {
            how: fields.get("how").to_string(),
        },
        "weighed" => SpoolEvent::Weighed {
            gross_g: number("gross_g", "grams on the scale")?,
        },
        "used" => SpoolEvent::Used {
            grams: number("grams", "grams")?,
            of: fields.get("of").to_string(),
        },
        "put" => SpoolEvent::Put {
            machine: fields.get("machine").to_string(),
        },
        "again" => SpoolEvent::FoundAgain {
            grams: number("grams", "grams")?,
        },
        _ => SpoolEvent::Finished,
    })
}

/// `GET /spools/{spool}/label`
pub async fn print(
    State(state): State<AppState>,
    Path(id): Path<String>,
    headers: HeaderMap,
) -> Page {
    let (spool, _) = read(&state, &id).await?;
    let mut lines = vec![show::capital(&spool.is.name())];
    lines.extend(
        spool
            .is
            .opened
            .map(|at| format!("opened {}", show::date(at))),
    );
    lines.extend(
        spool
            .is
            .tare_g
            .map(|g| format!("empty spool {}", show::grams(g))),
    );
    let href = urls::spool(spool.id);
    render(
        &headers,
        Label {
            title: show::spool_label(spool.number),
            lines,
            back: href.clone(),
            href,
        },
    )
}
