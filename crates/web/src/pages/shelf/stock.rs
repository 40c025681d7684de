//! Spare parts: how many there are, when to order, the list to order as a table.

use crate::form::{Errors, Fields};
use crate::page_error::PageError;
use crate::pages::parts::link::Choice;
use crate::pages::{Answer, Page, again};
use crate::show;
use crate::state::AppState;
use crate::words::refusal;
use askama::Template;
use axum::extract::State;
use axum::http::header;
use axum::response::{Html, IntoResponse, Redirect};
use suspect_core::case::Refusal;
use suspect_core::knowledge::parts::{PARTS, part};
use suspect_core::shelf::{Shopping, Stock, StockEvent, shopping};
use suspect_store::shelf::Thing;
use suspect_store::{StoreError, Uuid};

struct StockLine {
    name: String,
    part: &'static str,
    fits: String,
    pieces: u32,
    at: String,
    order: u32,
    money: Option<String>,
    action: String,
    seq: u32,
}

#[derive(Template)]
#[template(path = "shelf/stock.html")]
struct StockPage {
    lines: Vec<StockLine>,
    order: usize,
    asked: Asked,
    pieces: String,
    errors: Errors,
}

/// What is asked of a thing: answers to choose from, and what was answered.
pub(super) struct Asked {
    pub parts: Vec<Choice>,
    pub kinds: Vec<String>,
    pub currency: String,
    pub name: String,
    pub fits: String,
    pub reorder_at: String,
    pub money: String,
}

/// Parts that wear, one of them chosen.
pub(super) fn parts(chosen: &str) -> Vec<Choice> {
    let choice = |p: &'static suspect_core::knowledge::parts::Part| Choice {
        value: p.id.into(),
        label: p.name.into(),
        chosen: chosen == p.id,
    };
    PARTS.iter().map(choice).collect()
}

/// Kinds of the machines that there are.
pub(super) async fn kinds(state: &AppState) -> Result<Vec<String>, PageError> {
    let machines = state.store.machines().await?;
    let mut kinds: Vec<String> = machines.into_iter().map(|m| m.model).collect();
    kinds.sort();
    kinds.dedup();
    kinds.retain(|k| !k.is_empty());
    Ok(kinds)
}

/// Things in stock with what to order of each.
async fn listed(state: &AppState) -> Result<Vec<(Thing<Stock>, Shopping)>, PageError> {
    let books = state.store.books(&state.knowledge).await?;
    let machines = books
        .all
        .iter()
        .filter(|s| s.machine.out_of_service.is_none());
    let machines: Vec<_> = machines
        .map(suspect_store::books::Shelved::beside)
        .collect();
    let all = state.store.things::<Stock>().await?;
    let with = |thing: Thing<Stock>| {
        let shopping = shopping(&thing.is, &machines, &books.kinds);
        (thing, shopping)
    };
    let mut all: Vec<_> = all.into_iter().map(with).collect();
    all.sort_by_key(|(thing, shopping)| (shopping.order == 0, thing.number));
    Ok(all)
}

/// `GET /stock`
pub async fn list(State(state): State<AppState>) -> Page {
    Ok(Html(page(&state, &Fields::default(), Errors::new()).await?))
}

async fn page(state: &AppState, fields: &Fields, errors: Errors) -> Result<String, PageError> {
    let (workshop, _) = state.workshop().await?;
    let all = listed(state).await?;
    let asked = Asked {
        parts: parts(fields.get("part")),
        kinds: kinds(state).await?,
        currency: workshop.currency.clone(),
        name: fields.get("name").into(),
        fits: fields.get("fits").into(),
        reorder_at: fields.get("reorder_at").into(),
        money: fields.get("money").into(),
    };
    let page = StockPage {
        order: all.iter().filter(|(_, s)| s.order > 0).count(),
        lines: all
            .iter()
            .map(|(t, s)| line(t, s, &workshop.currency))
            .collect(),
        asked,
        pieces: fields.get("pieces").into(),
        errors,
    };
    Ok(page.render()?)
}

fn line(thing: &Thing<Stock>, shopping: &Shopping, currency: &str) -> StockLine {
    let is = &thing.is;
    let at = match (shopping.at, shopping.by_wear, shopping.machines) {
        (0, false, _) => "no mark".to_string(),
        (at, false, _) => format!("order at {at}"),
        (at, true, 1) => format!("order at {at}, by the wear of one machine"),
        (at, true, n) => format!("order at {at}, by the wear of {n} machines"),
    };
    StockLine {
        name: is.name.clone(),
        part: part(&is.part).map_or("", |p| p.name),
        fits: is.fits.clone(),
        pieces: is.pieces,
        at,
        order: shopping.order,
        money: is.money.and_then(|m| show::money(m, currency)),
        action: crate::urls::in_stock(thing.id),
        seq: thing.seq,
    }
}

/// `GET /stock.csv`: what to order.
pub async fn table(State(state): State<AppState>) -> Answer {
    let mut text = String::from("name,part,fits,pieces,order,price_each\r\n");
    for (thing, shopping) in listed(&state).await? {
        if shopping.order == 0 {
            continue;
        }
        let is = &thing.is;
        let price = is.money.map_or(String::new(), |m| format!("{m:.2}"));
        let cells = [
            is.name.clone(),
            part(&is.part).map_or(String::new(), |p| p.name.to_string()),
            is.fits.clone(),
            is.pieces.to_string(),
            shopping.order.to_string(),
            price,
        ];
        let cells: Vec<String> = cells.iter().map(|c| cell(c)).collect();
        text += &cells.join(",");
        text += "\r\n";
    }
    let headers = [
        (header::CONTENT_TYPE, "text/csv; charset=utf-8"),
        (
            header::CONTENT_DISPOSITION,
            "attachment; filename=\"to-order.csv\"",
        ),
    ];
    Ok((headers, text).into_response())
}

/// A cell that no table program takes for a formula.
fn cell(text: &str) -> String {
    let formula = text.starts_with(['=', '+', '-', '@', '\t', '\r']);
    let text = if formula {
        format!("'{text}")
    } else {
        text.to_string()
    };
    match text.contains([',', '"', '\n', '\r']) {
        true => format!("\"{}\"", text.replace('"', "\"\"")),
        false => text,
    }
}

/// What a thing is, as it was sent; what is no number stands beside its field.
pub(super) fn described(fields: &Fields, errors: &mut Errors) -> Option<StockEvent> {
    let mut number = |name: &str, plain: &str| fields.optional_or_say(name, plain, errors);
    let (reorder_at, money) = (
        number("reorder_at", "the mark"),
        number("money", "the price"),
    );
    Some(StockEvent::Described {
        name: fields.get("name").to_string(),
        part: fields.get("part").to_string(),
        fits: fields.get("fits").to_string(),
        reorder_at: reorder_at?.map(|n| n.max(0.0) as u32),
        money: money?,
    })
}

/// `POST /stock`: a thing more.
pub async fn add(State(state): State<AppState>, fields: Fields) -> Answer {
    let mut errors = Errors::new();
    let described = described(&fields, &mut errors);
    let pieces = fields.optional_or_say("pieces", "pieces", &mut errors);
    let (Some(described), Some(pieces)) = (described, pieces) else {
        return Ok(again(page(&state, &fields, errors).await?));
    };
    let pieces = pieces.unwrap_or(0.0).max(0.0) as u32;
    let events = [described, StockEvent::Came { pieces }];
    let (k, stamp) = (&state.knowledge, fields.stamp(state.now()));
    match state
        .store
        .append_to_thing::<Stock>(k, Uuid::now_v7(), 0, &events, stamp)
        .await
    {
        Ok(_) => Ok(Redirect::to(crate::urls::STOCK).into_response()),
        Err(StoreError::Refused(Refusal::Invalid { field, problem })) => {
            let words = refusal::problem(&field, &problem);
            errors.insert(field, words);
            Ok(again(page(&state, &fields, errors).await?))
        }
        Err(e) => Err(e.into()),
    }
}
