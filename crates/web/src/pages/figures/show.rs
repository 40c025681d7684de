//! The page of the workshop's own figures.

use super::asked::{Asked, SPANS};
use super::section::Section;
use super::{advice, care, cost, fixes, lives, machines, minutes, strikes};
use crate::pages::Page;
use crate::pages::parts::link::Choice;
use crate::state::AppState;
use askama::Template;
use axum::extract::{Query, State};
use axum::response::Html;
use std::collections::{BTreeMap, BTreeSet};
use suspect_store::machines::Machine;
use suspect_store::think;

#[derive(Template)]
#[template(path = "figures/show.html")]
struct FiguresPage {
    machines: Vec<Choice>,
    kinds: Vec<Choice>,
    spans: Vec<Choice>,
    sections: Vec<Section>,
}

/// `GET /statistics?machine=…&kind=…&span=…`
pub async fn show(
    State(state): State<AppState>,
    Query(query): Query<BTreeMap<String, String>>,
) -> Page {
    let (k, now, store) = (&state.knowledge, state.now(), &state.store);
    let asked = Asked::read(&query, now);
    let all = store.machines().await?;
    let figures = store.figures(&asked.filter(&all)).await?;
    let (workshop, _) = state.workshop().await?;
    let learned = match of(&asked, &all) {
        Some(machine) => store.machine_learned(k, machine.id, now).await?,
        None => store.shop_learned(k, now).await?,
    };
    let (shop, answers) = store.holding().await?;
    let fixes_held = store.holding_of_fixes().await?;
    let busy = store.busy(now).await?;
    let books = store.books(k).await?;
    let html = think(|| {
        let rests = learned.as_ref().is_some_and(|l| l.rests());
        let learned = learned.map(|l| l.awake());
        let learned = learned.as_deref();
        let (sums, months) = (&figures.all, &figures.months);
        let page = FiguresPage {
            sections: vec![
                strikes::section(k, (sums, months), (learned, rests), &asked),
                fixes::holding(k, (&shop, answers), &fixes_held, &asked),
                cost::section(sums, months, &workshop, &asked),
                minutes::section(sums, &asked),
                machines::section(&all, &busy),
                lives::section(&books),
                care::section(sums, &asked),
                advice::section(k, sums, &asked),
                fixes::curing(k, learned, &asked),
            ],
            machines: all.iter().map(|m| machine(m, &asked)).collect(),
            kinds: kinds(&all, &asked),
            spans: SPANS.iter().map(|s| span(*s, &asked)).collect(),
        };
        page.render()
    });
    Ok(Html(html.await?))
}

/// The machine whose level is asked for: itself, or any of its kind.
fn of<'a>(asked: &Asked, all: &'a [Machine]) -> Option<&'a Machine> {
    match (asked.machine, &asked.kind) {
        (Some(id), _) => all.iter().find(|m| m.id == id),
        (None, Some(kind)) => all.iter().find(|m| m.model == *kind),
        (None, None) => None,
    }
}

fn machine(m: &Machine, asked: &Asked) -> Choice {
    Choice {
        value: m.id.to_string(),
        label: m.name.clone(),
        chosen: asked.machine == Some(m.id),
    }
}

fn kinds(all: &[Machine], asked: &Asked) -> Vec<Choice> {
    let kinds: BTreeSet<&String> = all.iter().map(|m| &m.model).collect();
    let named = kinds.into_iter().filter(|kind| !kind.is_empty());
    let choice = |kind: &String| Choice {
        value: kind.clone(),
        label: kind.clone(),
        chosen: asked.kind.as_ref() == Some(kind),
    };
    named.map(choice).collect()
}

fn span((id, label): (&str, &str), asked: &Asked) -> Choice {
    Choice {
        value: id.into(),
        label: label.into(),
        chosen: asked.span == id,
    }
}
