//! A drill: one card after the other, answered by hand or by digit.

use super::owner;
use crate::drawing::finding;
use crate::form::Fields;
use crate::page_error::PageError;
use crate::pages::{Answer, Page};
use crate::state::AppState;
use crate::{show, urls};
use askama::Template;
use axum::extract::{Query, State};
use axum::response::{Html, IntoResponse};
use std::collections::BTreeMap;
use suspect_core::knowledge::Knowledge;
use suspect_rehearsal::practice::drill::{Card, Kind, Memory, deck, lay};
use suspect_store::practice::CardRow;
use time::OffsetDateTime;

struct AnswerView {
    n: usize,
    value: String,
    words: String,
    /// Right, chosen wrongly, or neither; nothing before the answer.
    mark: &'static str,
}

struct Answered {
    right: bool,
    because: String,
    /// "in 3 days".
    again: String,
    more: Option<String>,
}

#[derive(Template)]
#[template(path = "practice/drill.html")]
struct DrillPage {
    /// Kinds: address, name, chosen.
    kinds: Vec<(String, &'static str, bool)>,
    kind: &'static str,
    card: String,
    turn: u32,
    question: String,
    picture: String,
    answers: Vec<AnswerView>,
    answered: Option<Answered>,
    due: usize,
    next: String,
}

/// What a kind is called.
fn named(kind: Kind) -> &'static str {
    match kind {
        Kind::Sign => "Signs",
        Kind::Ordinary => "Fault or ordinary",
        Kind::Apart => "Look-alikes",
        Kind::Caution => "Cautions",
        Kind::Reading => "Readings",
    }
}

/// `GET /practice/drills?kind=…`
pub async fn show(
    State(state): State<AppState>,
    Query(query): Query<BTreeMap<String, String>>,
) -> Page {
    let k = &state.knowledge;
    let kind = query.get("kind").and_then(|id| Kind::from_id(id));
    let cards = state.store.practice_cards(&owner()).await?;
    let now = state.now();
    let id = next(k, &cards, kind, now);
    let row = cards.iter().find(|c| c.card == id);
    let turn = row.map_or(0, |c| c.turns.unsigned_abs());
    let card = lay(k, &id, turn).ok_or(PageError::NotFound("card"))?;
    let due = due(&cards, kind, now);
    Ok(Html(page(k, &card, turn, (kind, due), None).render()?))
}

/// Cards of a kind that are due.
fn due(cards: &[CardRow], kind: Option<Kind>, now: OffsetDateTime) -> usize {
    let of = |c: &&CardRow| kind.is_none_or(|k| Kind::from_id(&c.card) == Some(k));
    cards.iter().filter(of).filter(|c| c.due_at <= now).count()
}

/// The card that comes now: the first that is due; else a new one, kind after kind; else the one
/// that is due soonest.
fn next(k: &Knowledge, cards: &[CardRow], kind: Option<Kind>, now: OffsetDateTime) -> String {
    let of = |c: &&CardRow| kind.is_none_or(|k| Kind::from_id(&c.card) == Some(k));
    let mut own = cards.iter().filter(of);
    let first = own.next();
    if let Some(due) = first.filter(|c| c.due_at <= now) {
        return due.card.clone();
    }
    let kinds = match kind {
        Some(kind) => vec![kind],
        None => Kind::ALL.to_vec(),
    };
    let decks: Vec<Vec<String>> = kinds.into_iter().map(|kind| deck(k, kind)).collect();
    let longest = decks.iter().map(Vec::len).max().unwrap_or(0);
    // One of each kind in turn, and not neighbours of a deck one after the other.
    let fresh = (0..longest).flat_map(|n| {
        decks.iter().filter_map(move |d| {
            let step = 7 * n % d.len().max(1);
            d.get(step).or(d.get(n))
        })
    });
    let mut fresh = fresh.filter(|id| cards.iter().all(|c| c.card != **id));
    match (fresh.next(), first) {
        (Some(id), _) => id.clone(),
        (None, Some(soonest)) => soonest.card.clone(),
        (None, None) => String::new(),
    }
}

/// `POST /practice/drills`
pub async fn answer(State(state): State<AppState>, fields: Fields) -> Answer {
    let k = &state.knowledge;
    let id = fields.get("card").to_string();
    let turn: u32 = fields
        .get("turn")
        .parse()
        .map_err(|_| PageError::NotAForm)?;
    let kind = Kind::from_id(fields.get("kind"));
    let card = lay(k, &id, turn).ok_or(PageError::NotFound("card"))?;
    let given = fields.get("answer");
    if !card.answers.iter().any(|(v, _)| v == given) {
        return Err(PageError::NotAForm);
    }
    let (store, now) = (&state.store, state.now());
    let cards = store.practice_cards(&owner()).await?;
    let row = cards.iter().find(|c| c.card == id);
    let memory = match row {
        Some(row) => Memory::read(&row.memory).map_err(|_| PageError::Broken)?,
        None => Memory::new(now),
    };
    let right = given == card.right;
    let after = memory.answered(right, now);
    let before = row.map_or((0, 0), |r| (r.turns, r.wrong));
    let kept = CardRow {
        card: id.clone(),
        memory: after.kept(),
        due_at: after.due(),
        turns: before.0 + 1,
        wrong: before.1 + i32::from(!right),
    };
    // What was answered before stays as it was answered first.
    let fresh = before.0.unsigned_abs() == turn && store.answer_card(&owner(), &kept).await?;
    let again = match fresh {
        true => coming(after.due(), now),
        false => "it was answered before, and that stands".to_string(),
    };
    let answered = Answered {
        right,
        because: show::sentence(&card.because),
        again,
        more: card.suspect.map(|c| urls::suspect(&k.cause(c).id)),
    };
    let cards = store.practice_cards(&owner()).await?;
    let about = (kind, due(&cards, kind, now));
    let page = page(k, &card, turn, about, Some((given, answered)));
    Ok(Html(page.render()?).into_response())
}

/// When a card comes again.
fn coming(due: OffsetDateTime, now: OffsetDateTime) -> String {
    let minutes = (due - now).as_seconds_f64() / 60.0;
    match minutes {
        m if m < 60.0 * 20.0 => format!("comes again in {}", show::minutes(m.max(1.0))),
        m => format!("comes again in {}", show::days((m / 1440.0).max(1.0))),
    }
}

fn page(
    k: &Knowledge,
    card: &Card,
    turn: u32,
    (kind, due): (Option<Kind>, usize),
    answered: Option<(&str, Answered)>,
) -> DrillPage {
    let given = answered.as_ref().map(|(given, _)| *given);
    let mark = |value: &str| match given {
        None => "",
        Some(_) if value == card.right => "right",
        Some(given) if value == given => "wrong",
        Some(_) => "other",
    };
    let answers = card.answers.iter().enumerate();
    let address = |kind: Kind| format!("/practice/drills?kind={}", kind.id());
    let kinds = Kind::ALL.map(|of| (address(of), named(of), kind == Some(of)));
    let every = ("/practice/drills".to_string(), "All", kind.is_none());
    DrillPage {
        kinds: std::iter::once(every).chain(kinds).collect(),
        kind: kind.map_or("", Kind::id),
        card: card.id.clone(),
        turn,
        question: card.question.clone(),
        picture: card
            .picture
            .map(|f| finding::unnamed(k, f))
            .unwrap_or_default(),
        answers: answers
            .map(|(n, (value, words))| AnswerView {
                n: n + 1,
                mark: mark(value),
                value: value.clone(),
                words: show::capital(words),
            })
            .collect(),
        answered: answered.map(|(_, a)| a),
        due,
        next: kind.map_or("/practice/drills".into(), address),
    }
}
