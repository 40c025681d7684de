//! A thing in stock: what it is, what came and went, its label.

use super::stock::{Asked, described, kinds, parts};
use crate::form::{Errors, Fields};
use crate::page_error::PageError;
use crate::pages::parts::label::{Label, render};
use crate::pages::{Answer, Page, again};
use crate::state::AppState;
use crate::words::refusal;
use crate::{show, urls};
use askama::Template;
use axum::extract::{Path, State};
use axum::http::HeaderMap;
use axum::response::{Html, IntoResponse, Redirect};
use suspect_core::case::Refusal;
use suspect_core::knowledge::parts::part;
use suspect_core::settings::read_number;
use suspect_core::shelf::{Shelving, Stock, StockEvent};
use suspect_store::machines::Machine;
use suspect_store::shelf::Thing;
use suspect_store::{StoreError, Uuid};

struct Line {
    at: String,
    stamp: String,
    by: Option<String>,
    text: String,
    /// The machine or the case it was used for: words, address.
    of: Option<(String, String)>,
}

#[derive(Template)]
#[template(path = "shelf/stock_thing.html")]
struct ThingPage {
    name: String,
    part: &'static str,
    fits: String,
    pieces: u32,
    href: String,
    seq: u32,
    asked: Asked,
    errors: Errors,
    log: Vec<Line>,
}

fn not_there() -> PageError {
    PageError::NotFound("part")
}

type Read = (Thing<Stock>, Vec<Shelving<StockEvent>>);

async fn read(state: &AppState, id: &str) -> Result<Read, PageError> {
    let id: Uuid = id.parse().map_err(|_| not_there())?;
    state.store.thing::<Stock>(id).await.map_err(|e| match e {
        StoreError::NotFound => not_there(),
        other => other.into(),
    })
}

/// `GET /stock/{thing}`
pub async fn show(State(state): State<AppState>, Path(id): Path<String>) -> Page {
    let read = read(&state, &id).await?;
    let page = page(&state, read, &Fields::default(), Errors::new()).await?;
    Ok(Html(page))
}

/// A thing with its log; what was sent of it stands where it was typed.
async fn page(
    state: &AppState,
    (thing, log): Read,
    fields: &Fields,
    errors: Errors,
) -> Result<String, PageError> {
    let (workshop, _) = state.workshop().await?;
    let machines = state.store.machines().await?;
    let is = &thing.is;
    let sent = |name: &str, known: &str| fields.sent(name).unwrap_or(known).to_string();
    let number = |given: Option<f64>| given.map_or(String::new(), show::exact);
    let page = ThingPage {
        name: is.name.clone(),
        part: part(&is.part).map_or("", |p| p.name),
        fits: is.fits.clone(),
        pieces: is.pieces,
        href: urls::in_stock(thing.id),
        seq: thing.seq,
        asked: Asked {
            parts: parts(&sent("part", &is.part)),
            kinds: kinds(state).await?,
            currency: workshop.currency.clone(),
            name: sent("name", &is.name),
            fits: sent("fits", &is.fits),
            reorder_at: sent("reorder_at", &number(is.reorder_at.map(f64::from))),
            money: sent("money", &number(is.money)),
        },
        errors,
        log: log.iter().rev().map(|e| line(e, &machines)).collect(),
    };
    Ok(page.render()?)
}

fn line(entry: &Shelving<StockEvent>, machines: &[Machine]) -> Line {
    let pieces = |n: u32| match n {
        1 => "1 piece".to_string(),
        n => format!("{n} pieces"),
    };
    let (text, of) = match &entry.event {
        StockEvent::Described { name, .. } => (format!("It is: {name}"), ""),
        StockEvent::Came { pieces: n } => (format!("Came in: {}", pieces(*n)), ""),
        StockEvent::Counted { pieces: n } => (format!("Counted: {}", pieces(*n)), ""),
        StockEvent::Used { pieces: n, of } => (format!("Used: {}", pieces(*n)), of.as_str()),
    };
    let machine = machines.iter().find(|m| m.id.to_string() == of);
    let case = || {
        of.parse()
            .ok()
            .map(|id| ("in a case".into(), urls::case(id)))
    };
    Line {
        at: show::moment(entry.at),
        stamp: show::stamp(entry.at),
        by: crate::screen::shown_of(entry.by.as_deref()),
        text,
        of: match machine {
            Some(m) => Some((format!("on {}", m.name), urls::machine(m.id))),
            None => case(),
        },
    }
}

/// `GET /stock/{thing}/label`: for the drawer or the bag it lies in.
pub async fn print(
    State(state): State<AppState>,
    Path(id): Path<String>,
    headers: HeaderMap,
) -> Page {
    let (thing, _) = read(&state, &id).await?;
    let is = thing.is;
    let mut lines = vec![part(&is.part).map_or("", |p| p.name).to_string()];
    if !is.fits.is_empty() {
        lines.push(format!("fits {}", is.fits));
    }
    lines.retain(|l| !l.is_empty());
    let href = urls::in_stock(thing.id);
    render(
        &headers,
        Label {
            title: is.name,
            lines,
            back: href.clone(),
            href,
        },
    )
}

/// What it is, said anew.
async fn describe(state: &AppState, id: Uuid, fields: &Fields) -> Answer {
    const MEANWHILE: &str = "Something happened to it after you opened your page. What you \
        entered is still here; send it again to make it count.";
    let mut errors = Errors::new();
    let k = &state.knowledge;
    let Some(event) = described(fields, &mut errors) else {
        let read = read(state, &id.to_string()).await?;
        return Ok(again(page(state, read, fields, errors).await?));
    };
    let (stamp, events) = (fields.stamp(state.now()), [event]);
    let written = state
        .store
        .append_to_thing::<Stock>(k, id, fields.seq(), &events, stamp);
    let (field, words) = match written.await {
        Ok(_) => return Ok(Redirect::to(&urls::in_stock(id)).into_response()),
        Err(StoreError::NotFound) => return Err(not_there()),
        Err(StoreError::Conflict { .. }) => ("form".to_string(), MEANWHILE.to_string()),
        Err(StoreError::Refused(Refusal::Invalid { field, problem })) => {
            let words = refusal::problem(&field, &problem);
            (field, words)
        }
        Err(e) => return Err(e.into()),
    };
    errors.insert(field, words);
    let read = read(state, &id.to_string()).await?;
    Ok(again(page(state, read, fields, errors).await?))
}

/// `POST /stock/{thing}`: some came, were used, were counted; or what it is, said anew.
pub async fn write(
    State(state): State<AppState>,
    Path(id): Path<String>,
    fields: Fields,
) -> Answer {
    let refused = |message: String| PageError::Refused {
        message,
        back: crate::urls::STOCK.into(),
    };
    let id: Uuid = id.parse().map_err(|_| not_there())?;
    if fields.get("say") == "described" {
        return describe(&state, id, &fields).await;
    }
    let pieces = match fields.get("say") {
        "one" => 1.0,
        _ => read_number("pieces", fields.get("pieces"))
            .map_err(|problem| refused(refusal::number(&problem)))?,
    };
    if !(0.0..=10_000.0).contains(&pieces) || pieces.fract() != 0.0 {
        return Err(refused(format!(
            "{} pieces: give a whole number up to 10 000.",
            show::number(pieces)
        )));
    }
    let pieces = pieces as u32;
    let event = match fields.get("say") {
        "one" => StockEvent::Used {
            pieces,
            of: String::new(),
        },
        "came" => StockEvent::Came { pieces },
        _ => StockEvent::Counted { pieces },
    };
    let events = [event];
    let (k, stamp) = (&state.knowledge, fields.stamp(state.now()));
    let written = state
        .store
        .append_to_thing::<Stock>(k, id, fields.seq().max(1), &events, stamp);
    match written.await {
        Ok(_) => Ok(Redirect::to(crate::urls::STOCK).into_response()),
        Err(StoreError::Refused(problem)) => Err(refused(refusal::refusal(k, &problem))),
        Err(StoreError::NotFound) => Err(not_there()),
        Err(e) => Err(e.into()),
    }
}
