//! "I want to do something else": any check, any fix, and what the handbook does not list, in one's
//! own words.

use crate::form::{Errors, Fields};
use crate::page_error::PageError;
use crate::pages::doing::amount;
use crate::pages::open_case::{CaseHead, OpenCase};
use crate::pages::parts::link::Choice;
use crate::pages::record::Recorded;
use crate::pages::{Answer, Page, again};
use crate::show;
use crate::state::AppState;
use crate::words::outcome;
use askama::Template;
use axum::extract::{Query, State};
use axum::response::Html;
use std::collections::BTreeMap;
use suspect_core::case::{Event, MOST_OWN_OUTCOMES, Speaks, SpeaksHow};
use suspect_core::knowledge::{Knowledge, TryResult};
use suspect_core::ranking::rank;
use suspect_core::search::Topic;
use suspect_store::own_words::OwnWords;
use suspect_store::think;

/// Suspects offered as the one an outcome speaks of.
const SUSPECTS: usize = 12;
/// Checks and fixes shown for the words looked for.
const FOUND: usize = 12;

/// A check or fix to open.
struct WorkLink {
    href: String,
    name: String,
    what: String,
}

/// A check of the workshop's own that was done before.
struct OwnCheck {
    name: String,
    outcomes: Vec<String>,
}

#[derive(Template)]
#[template(path = "doing/other.html")]
struct OtherPage {
    head: CaseHead,
    q: String,
    found: Vec<WorkLink>,
    checks: Vec<WorkLink>,
    fixes: Vec<WorkLink>,
    own_checks: Vec<OwnCheck>,
    own_fixes: Vec<String>,
    own_suspects: Vec<String>,
    suspects: Vec<Choice>,
    hows: Vec<Choice>,
    results: Vec<Choice>,
    currency: String,
    /// What was sent with a form that came back.
    sent: Fields,
    errors: Errors,
}

impl OtherPage {
    fn of(&self, field: &str) -> &str {
        self.sent.get(field)
    }

    fn error(&self, field: &str) -> Option<&String> {
        self.errors.get(field)
    }
}

/// `GET /cases/{id}/other?q=…`
pub async fn show(
    State(state): State<AppState>,
    case: OpenCase,
    Query(query): Query<BTreeMap<String, String>>,
) -> Page {
    let own = state.store.own_words().await?;
    let sent = Fields::of(query);
    let draw = || page(&state, &case, &own, &sent, Errors::new());
    Ok(Html(think(draw).await?))
}

fn page(
    state: &AppState,
    case: &OpenCase,
    own: &OwnWords,
    sent: &Fields,
    errors: Errors,
) -> Result<String, PageError> {
    let k = &state.knowledge;
    let own_check = |(name, outcomes): &(String, Vec<String>)| OwnCheck {
        name: name.clone(),
        outcomes: outcomes.clone(),
    };
    let page = OtherPage {
        head: case.head_again(sent),
        q: sent.get("q").into(),
        found: found(state, case, sent.get("q")),
        checks: checks(k, case),
        fixes: fixes(k, case),
        own_checks: own.checks.iter().map(own_check).collect(),
        own_fixes: own.fixes.clone(),
        own_suspects: own.suspects.clone(),
        suspects: suspects(state, case, sent),
        hows: choices(SpeaksHow::ALL, sent.get("check-how"), |h| {
            (h.id(), format!("speaks {}", outcome::speaks(h)))
        }),
        results: choices(TryResult::ALL, sent.get("fix-result"), |r| {
            (r.id(), show::capital(outcome::result(r)))
        }),
        currency: case.workshop.currency.clone(),
        sent: sent.clone(),
        errors,
    };
    Ok(page.render()?)
}

fn choices<T: Copy>(
    all: impl IntoIterator<Item = T>,
    chosen: &str,
    words: impl Fn(T) -> (&'static str, String),
) -> Vec<Choice> {
    let choice = |one: T| {
        let (id, label) = words(one);
        Choice {
            value: id.into(),
            label,
            chosen: id == chosen,
        }
    };
    all.into_iter().map(choice).collect()
}

/// The likeliest suspects, and whoever is not listed.
fn suspects(state: &AppState, case: &OpenCase, sent: &Fields) -> Vec<Choice> {
    let k = &state.knowledge;
    let chosen = sent.given("check-speaks").or(sent.given("fix-speaks"));
    let chosen = chosen.unwrap_or("");
    let line_up = rank(k, &case.state.facts);
    let likeliest = line_up.causes.iter().take(SUSPECTS).map(|l| Choice {
        value: k.cause(l.cause).id.clone(),
        label: k.cause(l.cause).name.clone(),
        chosen: k.cause(l.cause).id == chosen,
    });
    let someone = Choice {
        value: Speaks::SOMEONE_ELSE.into(),
        label: "Someone else, not listed".into(),
        chosen: Speaks::SOMEONE_ELSE == chosen,
    };
    likeliest.chain([someone]).collect()
}

fn checks(k: &Knowledge, case: &OpenCase) -> Vec<WorkLink> {
    let mut all: Vec<WorkLink> = k
        .checks
        .iter()
        .map(|c| WorkLink {
            href: case.below(&format!("check/{}", k.finding(c.finding).id)),
            name: c.work.name.clone(),
            what: show::minutes(c.work.minutes + c.work.waiting),
        })
        .collect();
    all.sort_by(|a, b| a.name.cmp(&b.name));
    all
}

fn fixes(k: &Knowledge, case: &OpenCase) -> Vec<WorkLink> {
    let mut all: Vec<WorkLink> = k
        .fixes
        .iter()
        .map(|f| WorkLink {
            href: case.below(&format!("fix/{}", f.id)),
            name: f.work.name.clone(),
            what: show::minutes(f.work.minutes + f.work.waiting),
        })
        .collect();
    all.sort_by(|a, b| a.name.cmp(&b.name));
    all
}

/// Checks and fixes that the words speak of.
fn found(state: &AppState, case: &OpenCase, q: &str) -> Vec<WorkLink> {
    if q.is_empty() {
        return Vec::new();
    }
    let k = &state.knowledge;
    let link = |topic: Topic| match topic {
        Topic::Check(c) => Some(WorkLink {
            href: case.below(&format!("check/{}", k.check_name(c))),
            name: k.check(c).work.name.clone(),
            what: "check".into(),
        }),
        Topic::Fix(x) => Some(WorkLink {
            href: case.below(&format!("fix/{}", k.fix(x).id)),
            name: k.fix(x).work.name.clone(),
            what: "fix".into(),
        }),
        _ => None,
    };
    let hits = state.index.find(q).into_iter();
    hits.filter_map(|hit| link(hit.topic)).take(FOUND).collect()
}

/// `POST /cases/{id}/other`: a check, a fix or a suspect in one's own words.
pub async fn record(State(state): State<AppState>, case: OpenCase, fields: Fields) -> Answer {
    let mut errors = Errors::new();
    let event = match fields.get("what") {
        "check" => own_check(&fields, &mut errors),
        "fix" => own_fix(&fields, &mut errors),
        _ => Event::OwnSuspected {
            name: fields.get("suspect-name").into(),
        },
    };
    let what = fields.get("what");
    if errors.is_empty() {
        let form = case.form(&state, &fields, "other");
        match form.record(&[event], case.href()).await? {
            Recorded::Done(response) => return Ok(response),
            Recorded::Invalid { field, message } => {
                errors.insert(format!("{what}-{field}"), message);
            }
        }
    }
    let own = state.store.own_words().await?;
    let draw = || page(&state, &case, &own, &fields, errors);
    Ok(again(think(draw).await?))
}

fn own_check(fields: &Fields, errors: &mut Errors) -> Event {
    let outcome = fields.get("check-outcome").to_string();
    let listed = fields
        .get("check-outcomes")
        .split([';', '\n'])
        .map(str::trim);
    let mut outcomes: Vec<String> = Vec::new();
    for one in listed.chain([outcome.as_str()]) {
        if !one.is_empty() && !outcomes.iter().any(|o| o == one) {
            outcomes.push(one.to_string());
        }
    }
    outcomes.truncate(MOST_OWN_OUTCOMES);
    let how = SpeaksHow::from_id(fields.get("check-how"));
    let speaks = fields.given("check-speaks").map(str::to_string);
    if speaks.is_some() && how.is_none() {
        let message = "Say whether it speaks for or against that suspect.";
        errors.insert("check-how".into(), message.into());
    }
    Event::OwnChecked {
        name: fields.get("check-name").into(),
        outcomes,
        outcome,
        speaks: speaks.zip(how).map(|(cause, how)| Speaks { cause, how }),
        minutes: amount(fields, "check-minutes", 0.0, errors),
    }
}

fn own_fix(fields: &Fields, errors: &mut Errors) -> Event {
    let result = TryResult::from_id(fields.get("fix-result"));
    if result.is_none() {
        let message = "Say what became of the fault in the print after it.";
        errors.insert("fix-result".into(), message.into());
    }
    Event::OwnFixed {
        name: fields.get("fix-name").into(),
        aimed_at: fields.given("fix-speaks").map(str::to_string),
        result: result.unwrap_or(TryResult::Same),
        minutes: amount(fields, "fix-minutes", 0.0, errors),
        money: amount(fields, "fix-money", 0.0, errors),
        grams: amount(fields, "fix-grams", 0.0, errors),
    }
}
