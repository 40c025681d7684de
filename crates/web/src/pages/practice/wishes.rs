//! Cases that somebody asks another to pass before a role or a kind of procedure is opened to them.
//! What was passed is shown to whoever asked with leave alone.

use super::{owner, wanted};
use crate::form::{Errors, Fields};
use crate::page_error::PageError;
use crate::pages::parts::link::Choice;
use crate::pages::{Answer, Page, again};
use crate::state::AppState;
use crate::words::practice as words;
use crate::{screen, show};
use askama::Template;
use axum::extract::State;
use axum::response::{Html, IntoResponse, Redirect};
use suspect_core::people::Deed;
use suspect_rehearsal::practice::Level;
use suspect_store::Uuid;
use suspect_store::practice::Wish;

/// Most cases one may ask for.
const MOST: i32 = 50;
/// Longest reason.
const LONGEST: usize = 200;
/// The page.
const HERE: &str = "/practice/wishes";

struct WishLine {
    id: Uuid,
    /// Who asks, or who is asked.
    who: String,
    what: String,
    reason: String,
    made: String,
    /// "2 of 3 passed"; nothing without leave.
    passed: Option<String>,
    met: bool,
    shown: bool,
}

#[derive(Template)]
#[template(path = "practice/wishes.html")]
struct WishesPage {
    asked: Vec<WishLine>,
    asking: Vec<WishLine>,
    /// Nothing where one may not ask.
    form: Option<[Vec<Choice>; 2]>,
    many: String,
    reason: String,
    id: Uuid,
    errors: Errors,
}

/// Members by how practice knows them.
fn members() -> Vec<(String, String)> {
    let all = screen::with_present(|p| {
        let names = p.names.iter();
        names
            .map(|(id, name)| (id.simple().to_string(), name.clone()))
            .collect::<Vec<_>>()
    });
    all.unwrap_or_default()
}

fn asks() -> bool {
    screen::with_present(|p| p.may(Deed::Rate)).unwrap_or(false)
}

async fn page(state: &AppState, fields: &Fields, errors: Errors) -> Result<String, PageError> {
    let members = members();
    let name = |of: &str| {
        let known = members.iter().find(|(id, _)| id == of);
        known.map_or("former member".to_string(), |(_, name)| name.clone())
    };
    let line = |(wish, shown): (Wish, bool), who: String| WishLine {
        id: wish.id,
        who,
        what: words::asked(wish.many, &wish.level),
        made: show::date(wish.made_at),
        passed: wish.passed.map(|n| words::passed(n, wish.many)),
        met: wish.passed.is_some_and(|n| n >= i64::from(wish.many)),
        reason: wish.reason,
        shown,
    };
    let me = owner();
    let asked = state.store.wishes_of(&me).await?;
    let asking = state.store.wishes_by(&me).await?;
    let others = members
        .iter()
        .filter(|(id, _)| *id != me)
        .map(|(id, name)| Choice {
            value: id.clone(),
            label: name.clone(),
            chosen: fields.get("member") == id,
        });
    let page = WishesPage {
        asked: asked
            .into_iter()
            .map(|w| {
                let who = name(&w.0.asked_by);
                line(w, who)
            })
            .collect(),
        asking: asking
            .into_iter()
            .map(|w| {
                let who = name(&w.0.owner);
                line(w, who)
            })
            .collect(),
        form: asks().then(|| [others.collect(), wanted::levels(fields.get("level"))]),
        many: fields.given("many").unwrap_or("3").to_string(),
        reason: fields.get("reason").to_string(),
        id: Uuid::now_v7(),
        errors,
    };
    Ok(page.render()?)
}

/// `GET /practice/wishes`
pub async fn show(State(state): State<AppState>) -> Page {
    let html = page(&state, &Fields::default(), Errors::new()).await?;
    Ok(Html(html))
}

/// `POST /practice/wishes`: somebody is asked.
pub async fn ask(State(state): State<AppState>, fields: Fields) -> Answer {
    let mut errors = Errors::new();
    let members = members();
    let owner_of = members.iter().find(|(id, _)| id == fields.get("member"));
    if owner_of.is_none() {
        errors.insert("member".into(), "Choose who is asked.".into());
    }
    let level = Level::from_id(fields.get("level"));
    if level.is_none() {
        errors.insert("level".into(), "Choose a level.".into());
    }
    let many = fields.get("many").parse::<i32>().ok();
    let many = many.filter(|n| (1..=MOST).contains(n));
    if many.is_none() {
        errors.insert("many".into(), format!("A whole number from 1 to {MOST}."));
    }
    let reason = fields.get("reason");
    if reason.is_empty() || reason.chars().count() > LONGEST {
        let words = format!("Say what for, in at most {LONGEST} letters.");
        errors.insert("reason".into(), words);
    }
    let (Some((member, _)), Some(level), Some(many), true) =
        (owner_of, level, many, errors.is_empty())
    else {
        return Ok(again(page(&state, &fields, errors).await?));
    };
    let wish = Wish {
        id: fields
            .get("wish")
            .parse()
            .unwrap_or_else(|_| Uuid::now_v7()),
        owner: member.clone(),
        asked_by: owner(),
        level: level.id().into(),
        many,
        reason: reason.into(),
        made_at: state.now(),
        passed: None,
    };
    state.store.wish_practice(&wish).await?;
    Ok(Redirect::to(HERE).into_response())
}

/// `POST /practice/wishes/answer`: leave is given or taken back, a wish taken back.
pub async fn answer(State(state): State<AppState>, fields: Fields) -> Answer {
    let wish: Uuid = fields
        .get("wish")
        .parse()
        .map_err(|_| PageError::NotFound("wish"))?;
    let me = owner();
    match fields.get("say") {
        "show" => state.store.show_passed(&me, wish, true).await?,
        "hide" => state.store.show_passed(&me, wish, false).await?,
        "back" => state.store.take_wish_back(&me, wish).await?,
        _ => return Err(PageError::NotAForm),
    }
    Ok(Redirect::to(HERE).into_response())
}
