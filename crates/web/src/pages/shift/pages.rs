//! Pages that were handed over.

use super::end::PageView;
use super::evening::Evening;
use crate::page_error::PageError;
use crate::pages::Page;
use crate::state::AppState;
use crate::{show, urls};
use askama::Template;
use axum::extract::{Path, State};
use axum::response::Html;
use suspect_core::shift::Shift;
use suspect_store::shelf::Thing;
use suspect_store::{StoreError, Uuid};

/// Pages listed.
const LISTED: u64 = 60;

struct Line {
    href: String,
    day: String,
    people: String,
    word: String,
}

#[derive(Template)]
#[template(path = "shift/pages.html")]
struct PagesPage {
    lines: Vec<Line>,
}

#[derive(Template)]
#[template(path = "shift/page.html")]
struct OnePage {
    day: String,
    ended: String,
    people: String,
    page: PageView,
}

fn people(shift: &Shift) -> String {
    let names = shift.people.iter().map(|p| Evening::name(&p.by));
    names.collect::<Vec<_>>().join(", ")
}

fn line(thing: &Thing<Shift>) -> Option<Line> {
    let page = thing.is.ended.as_ref()?;
    Some(Line {
        href: format!("{}/pages/{}", urls::SHIFT, thing.id),
        day: show::moment(thing.changed_at),
        people: people(&thing.is),
        word: page.word.clone(),
    })
}

/// `GET /shift/pages`
pub async fn list(State(state): State<AppState>) -> Page {
    let all = state.store.latest_things::<Shift>(LISTED).await?;
    let page = PagesPage {
        lines: all.iter().filter_map(line).collect(),
    };
    Ok(Html(page.render()?))
}

/// `GET /shift/pages/{shift}`
pub async fn show(State(state): State<AppState>, Path(id): Path<String>) -> Page {
    const WHAT: PageError = PageError::NotFound("page that was handed over");
    let id: Uuid = id.parse().map_err(|_| WHAT)?;
    let (thing, _) = state.store.thing::<Shift>(id).await.map_err(|e| match e {
        StoreError::NotFound => WHAT,
        other => other.into(),
    })?;
    let page = thing.is.ended.as_ref().ok_or(WHAT)?;
    let page = OnePage {
        day: show::date(thing.is.began.unwrap_or(thing.changed_at)),
        ended: show::clock(thing.changed_at),
        people: people(&thing.is),
        page: PageView::of(page),
    };
    Ok(Html(page.render()?))
}
