//! Kinds of machines: what they are built like, what tends to be wrong with them.

use super::own_kind::OwnView;
use super::view::{QuirkWords, by_time, quirk_words};
use crate::page_error::PageError;
use crate::pages::Page;
use crate::state::AppState;
use crate::words::journal;
use crate::{show, urls};
use askama::Template;
use axum::extract::{Path, State};
use axum::response::Html;
use suspect_core::knowledge::MachineKind;
use suspect_core::knowledge::parts::part;
use suspect_core::machine::build;
use suspect_core::text::look;
use suspect_store::books::Books;

struct KindLine {
    name: String,
    href: String,
    text: String,
    quirks: usize,
    machines: usize,
}

#[derive(Template)]
#[template(path = "book/kinds.html")]
struct KindsPage {
    kinds: Vec<KindLine>,
}

/// `GET /kinds`
pub async fn list(State(state): State<AppState>) -> Page {
    let books = state.store.books(&state.knowledge).await?;
    let of = |kind: &MachineKind| KindLine {
        name: kind.name.clone(),
        href: urls::kind(&kind.id),
        text: kind.text.clone(),
        quirks: kind.quirks.len(),
        machines: machines_of(&books, &kind.name).len(),
    };
    let page = KindsPage {
        kinds: books.kinds.iter().map(of).collect(),
    };
    Ok(Html(page.render()?))
}

/// Machines of a kind: name and address.
fn machines_of(books: &Books, kind: &str) -> Vec<(String, String)> {
    let kind = look(kind);
    let here = books.all.iter().map(|s| &s.machine);
    let here = here.filter(|m| look(&m.model) == kind);
    here.map(|m| (m.name.clone(), urls::machine(m.id)))
        .collect()
}

#[derive(Template)]
#[template(path = "book/kind.html")]
struct KindPage {
    name: String,
    text: String,
    facts: Vec<(String, String)>,
    profile: Vec<(String, String)>,
    lives: Vec<(String, String)>,
    every: Vec<(String, String)>,
    quirks: Vec<(&'static str, Vec<QuirkWords>)>,
    machines: Vec<(String, String)>,
    /// It is the workshop's own and may be written on.
    own: Option<OwnView>,
}

/// `GET /kinds/{kind}`
pub async fn show(State(state): State<AppState>, Path(id): Path<String>) -> Page {
    let k = &state.knowledge;
    let books = state.store.books(&state.knowledge).await?;
    let own = books.own_kinds.iter().find(|own| own.id.to_string() == id);
    // One that is removed is still read by its address.
    let removed = own
        .filter(|own| own.is.removed)
        .map(|own| own.is.as_kind(k, &id));
    let kind = books
        .kinds
        .iter()
        .find(|kind| kind.id == id)
        .or(removed.as_ref());
    let kind = kind.ok_or(PageError::NotFound("kind of machine"))?;
    let (workshop, _) = state.workshop().await?;
    let lives = kind.lives.iter().map(|(id, hours)| {
        let name = part(id).map_or(id.as_str(), |p| p.name);
        (name.to_string(), format!("{} h", show::number(*hours)))
    });
    let every = kind.every.iter().filter_map(|(id, every)| {
        let task = k.upkeep.iter().find(|t| t.id == *id)?;
        Some((task.name.clone(), journal::interval(every)))
    });
    let page = KindPage {
        name: kind.name.clone(),
        text: kind.text.clone(),
        facts: facts(kind, &workshop.currency),
        profile: build(&kind.profile)
            .known()
            .map(|(f, v)| (f.plain.to_string(), v.plain.to_string()))
            .collect(),
        lives: lives.collect(),
        every: every.collect(),
        quirks: by_time(kind, |q| quirk_words(k, q, &workshop.currency)),
        machines: machines_of(&books, &kind.name),
        own: own.map(|own| OwnView::of(k, own)),
    };
    Ok(Html(page.render()?))
}

fn facts(kind: &MachineKind, currency: &str) -> Vec<(String, String)> {
    let melt = kind.melt_limit_mm3_s;
    let melt = melt.map(|m| {
        (
            "Melts at most".to_string(),
            format!("{} mm³/s", show::number(m)),
        )
    });
    let price = show::money(kind.price, currency).map(|p| ("A new one costs".to_string(), p));
    kind.facts
        .iter()
        .cloned()
        .chain(melt)
        .chain(price)
        .collect()
}
