//! How a kind of the workshop's own is built: profile, facts, lives of parts, intervals.

use crate::form::{Errors, Fields};
use crate::page_error::PageError;
use crate::pages::parts::link::Choice;
use crate::pages::{Answer, Page, again};
use crate::state::AppState;
use crate::words::refusal;
use crate::{show, urls};
use askama::Template;
use axum::extract::{Path, State};
use axum::response::{Html, IntoResponse, Redirect};
use std::collections::BTreeMap;
use suspect_core::case::Refusal;
use suspect_core::knowledge::parts::PARTS;
use suspect_core::knowledge::{Interval, Knowledge};
use suspect_core::profile::{FIELDS, Field, MATERIAL};
use suspect_core::shelf::{OwnDescription, OwnKind, OwnKindEvent, Shelved};
use suspect_store::{StoreError, Uuid};

const MEANWHILE: &str = "Somebody else wrote of this kind after you opened your page. What you \
    entered is still here; send it again to make it count.";

/// A number of the form with its unit.
struct NumberField {
    id: String,
    label: String,
    value: String,
    unit: &'static str,
    error: Option<String>,
}

#[derive(Template)]
#[template(path = "book/describe.html")]
struct DescribePage {
    is: OwnDescription,
    seq: u32,
    back: String,
    price: String,
    melt: String,
    facts: String,
    currency: String,
    profile: Vec<(&'static str, &'static str, Vec<Choice>)>,
    profile_open: bool,
    lives: Vec<NumberField>,
    every: Vec<NumberField>,
    errors: Errors,
}

/// `GET /kinds/{kind}/describe`
pub async fn show(State(state): State<AppState>, Path(id): Path<String>) -> Page {
    let id: Uuid = id.parse().map_err(|_| not_ours())?;
    let page = page(&state, id, &Fields::default(), Errors::new()).await?;
    Ok(Html(page))
}

fn not_ours() -> PageError {
    PageError::NotFound("kind of machine")
}

/// What is kept of the kind, or what was sent of it where something was.
async fn page(
    state: &AppState,
    id: Uuid,
    fields: &Fields,
    errors: Errors,
) -> Result<String, PageError> {
    let k = &state.knowledge;
    let (workshop, _) = state.workshop().await?;
    let (own, _) = match state.store.thing::<OwnKind>(id).await {
        Err(StoreError::NotFound) => return Err(not_ours()),
        other => other?,
    };
    let is = own.is.described;
    let sent = |name: &str, known: String| fields.sent(name).map_or(known, str::to_string);
    let number = |given: Option<f64>| given.map_or(String::new(), show::exact);
    let facts: Vec<String> = is.facts.iter().map(|(n, v)| format!("{n}: {v}")).collect();
    let profile: Vec<_> = FIELDS[..MATERIAL]
        .iter()
        .map(|f| (f.id, f.plain, choices(f, &sent(f.id, known(&is, f)))))
        .collect();
    let page = DescribePage {
        seq: own.seq,
        back: urls::kind(&id.to_string()),
        price: sent("price", number(Some(is.price).filter(|p| *p > 0.0))),
        melt: sent("melt_limit_mm3_s", number(is.melt_limit_mm3_s)),
        facts: sent("facts", facts.join("\n")),
        currency: workshop.currency,
        profile_open: FIELDS.iter().any(|f| errors.contains_key(f.id)),
        profile,
        lives: lives(&is, &sent, &errors),
        every: every(k, &is, &sent, &errors),
        is: OwnDescription {
            name: sent("name", is.name.clone()),
            text: sent("text", is.text.clone()),
            ..is
        },
        errors,
    };
    Ok(page.render()?)
}

fn known(is: &OwnDescription, field: &Field) -> String {
    is.profile.get(field.id).cloned().unwrap_or_default()
}

fn choices(field: &'static Field, chosen: &str) -> Vec<Choice> {
    let choice = |v: &suspect_core::profile::Value| Choice {
        value: v.id.into(),
        label: v.plain.into(),
        chosen: v.id == chosen,
    };
    field.values.iter().map(choice).collect()
}

fn lives(
    is: &OwnDescription,
    sent: &impl Fn(&str, String) -> String,
    errors: &Errors,
) -> Vec<NumberField> {
    let field = |part: &suspect_core::knowledge::parts::Part| {
        let id = format!("life-{}", part.id);
        let known = is.lives.get(part.id).copied();
        NumberField {
            value: sent(&id, known.map_or(String::new(), show::exact)),
            error: errors.get(&id).cloned(),
            id,
            label: part.name.into(),
            unit: "h",
        }
    };
    PARTS.iter().map(field).collect()
}

/// How often a task comes round may be told in these: identifier, unit, what is told.
const SPANS: [(&str, &str); 2] = [("hours", "h"), ("days", "days")];

fn every(
    k: &Knowledge,
    is: &OwnDescription,
    sent: &impl Fn(&str, String) -> String,
    errors: &Errors,
) -> Vec<NumberField> {
    let fields = k.upkeep.iter().flat_map(|task| {
        let known = is.every.get(&task.id).copied().unwrap_or_default();
        let told = [known.hours, known.days];
        SPANS.into_iter().zip(told).map(|((span, unit), told)| {
            let id = format!("every-{}-{span}", task.id);
            NumberField {
                value: sent(&id, told.map_or(String::new(), show::exact)),
                error: errors.get(&id).cloned(),
                id,
                label: format!("{}, {span}", task.name),
                unit,
            }
        })
    });
    fields.collect()
}

/// What was sent; what is no number stands beside its field.
fn described(
    k: &Knowledge,
    before: &OwnDescription,
    fields: &Fields,
    errors: &mut Errors,
) -> OwnDescription {
    let mut number = |name: &str, plain: &str| {
        fields
            .optional_or_say(name, plain, errors)
            .unwrap_or_default()
    };
    let lives = PARTS.iter().filter_map(|part| {
        let hours = number(&format!("life-{}", part.id), part.name)?;
        Some((part.id.to_string(), hours))
    });
    let lives = lives.collect();
    let mut every = BTreeMap::new();
    for task in &k.upkeep {
        let of = |span: &str| format!("every-{}-{span}", task.id);
        let interval = Interval {
            hours: number(&of("hours"), &task.name),
            days: number(&of("days"), &task.name),
            // Told elsewhere, and not asked here.
            ..before.every.get(&task.id).copied().unwrap_or_default()
        };
        if interval != Interval::default() {
            every.insert(task.id.clone(), interval);
        }
    }
    let price = number("price", "the price").unwrap_or(0.0);
    let melt_limit_mm3_s = number("melt_limit_mm3_s", "what it melts");
    let field = |f: &Field| Some((f.id.to_string(), fields.given(f.id)?.to_string()));
    OwnDescription {
        name: fields.get("name").to_string(),
        text: fields.get("text").to_string(),
        price,
        profile: FIELDS[..MATERIAL].iter().filter_map(field).collect(),
        facts: facts(fields.get("facts"), errors),
        melt_limit_mm3_s,
        lives,
        every,
    }
}

/// Facts as they are typed: one a line, its name before the first colon.
fn facts(text: &str, errors: &mut Errors) -> Vec<(String, String)> {
    let mut all = Vec::new();
    for line in text.lines().filter(|line| !line.trim().is_empty()) {
        match line.split_once(':') {
            Some((name, value)) => all.push((name.trim().into(), value.trim().into())),
            None => {
                let words = format!(
                    "“{}” has no colon: write what it is, a colon, and its value.",
                    suspect_core::nearest::short(line)
                );
                errors.insert("facts".into(), words);
            }
        }
    }
    all
}

/// The kind described anew: a part of what `POST /kinds/{kind}` takes.
pub(super) async fn describe(state: &AppState, id: Uuid, fields: &Fields) -> Answer {
    let k = &state.knowledge;
    let (own, _) = match state.store.thing::<OwnKind>(id).await {
        Err(StoreError::NotFound) => return Err(not_ours()),
        other => other?,
    };
    let mut errors = Errors::new();
    let event = OwnKindEvent::Described(described(k, &own.is.described, fields, &mut errors));
    if let Err(refused) = own.is.accept(k, &event, false) {
        let (field, words) = match &refused {
            Refusal::Invalid { field, problem } => {
                (field.clone(), refusal::problem(field, problem))
            }
            other => ("form".to_string(), refusal::refusal(k, other)),
        };
        errors.entry(field).or_insert(words);
    }
    if !errors.is_empty() {
        return Ok(again(page(state, id, fields, errors).await?));
    }
    let (stamp, events) = (fields.stamp(state.now()), [event]);
    let written = state
        .store
        .append_to_thing::<OwnKind>(k, id, fields.seq(), &events, stamp);
    match written.await {
        Ok(_) => {
            state.ask_to_rebuild();
            Ok(Redirect::to(&urls::kind(&id.to_string())).into_response())
        }
        Err(StoreError::Conflict { .. }) => {
            errors.insert("form".into(), MEANWHILE.into());
            Ok(again(page(state, id, fields, errors).await?))
        }
        Err(e) => Err(e.into()),
    }
}
