//! The workshop's own rates and tools: what a minute is worth here, and what is at hand.

use crate::form::{Errors, Fields};
use crate::page_error::PageError;
use crate::pages::parts::link::Choice;
use crate::pages::{Answer, Page, again};
use crate::state::AppState;
use crate::words::refusal;
use crate::{show, urls};
use askama::Template;
use axum::extract::State;
use axum::http::StatusCode;
use axum::response::{Html, IntoResponse, Redirect};
use std::collections::BTreeMap;
use suspect_core::case::{Standing, What, analyse, replay};
use suspect_core::knowledge::{Knowledge, School, Side};
use suspect_core::nearest::short;
use suspect_core::planning::{RATE_GROUPS, RATES, Rate, Workshop};
use suspect_core::text;
use suspect_store::{StoreError, think};

/// Letters of a currency.
const LONGEST_CURRENCY: usize = 8;
/// Latest cases among which an open one is looked for.
const LOOKED_AT: u64 = 20;

/// Rates that answer one question.
struct RateGroup {
    question: &'static str,
    rates: Vec<RateView>,
}

/// What an open case is advised with the settings that count and with those on the page.
struct Trial {
    case: String,
    href: String,
    now: String,
    then: Option<String>,
}

struct RateView {
    id: &'static str,
    label: &'static str,
    unit: String,
    why: &'static str,
    value: String,
    usual: String,
    error: Option<String>,
}

/// A disagreement of practice with the side chosen.
struct SchoolChoice {
    /// Name of its field.
    field: String,
    title: String,
    href: String,
    sides: Vec<Choice>,
}

struct ToolView {
    name: String,
    uses: usize,
    at_hand: bool,
}

#[derive(Template)]
#[template(path = "floor/workshop.html")]
struct WorkshopPage {
    seq: u32,
    groups: Vec<RateGroup>,
    currency: String,
    currency_error: Option<String>,
    trial: Option<Trial>,
    tools: Vec<ToolView>,
    schools: Vec<SchoolChoice>,
    zones: Vec<Choice>,
    zone_error: Option<String>,
    zone_now: String,
    learning: Vec<Choice>,
    moved_on: bool,
}

/// Every tool the knowledge names with the number of steps that need it, most needed first.
fn tools(knowledge: &Knowledge) -> Vec<(String, usize)> {
    let works = knowledge
        .checks
        .iter()
        .map(|c| &c.work)
        .chain(knowledge.fixes.iter().map(|f| &f.work));
    let mut uses: BTreeMap<&str, usize> = BTreeMap::new();
    for tool in works.flat_map(|w| &w.tools) {
        *uses.entry(tool).or_default() += 1;
    }
    let mut tools: Vec<(String, usize)> =
        uses.into_iter().map(|(t, n)| (t.to_string(), n)).collect();
    tools.sort_by(|a, b| b.1.cmp(&a.1).then(a.0.cmp(&b.0)));
    tools
}

fn page(
    state: &AppState,
    now: &Workshop,
    seq: u32,
    fields: &Fields,
    errors: &Errors,
    moved_on: bool,
    trial: Option<Trial>,
) -> Result<String, PageError> {
    let sent = |id: &str| fields.sent(id).map(str::to_string);
    let at_hand = |tool: &str| match fields.is_empty() {
        true => !now.missing_tools.iter().any(|t| t == tool),
        false => fields.all("tool").any(|v| v == tool),
    };
    let page = WorkshopPage {
        seq,
        groups: groups(now, fields, errors),
        currency: sent("currency").unwrap_or_else(|| now.currency.clone()),
        currency_error: errors.get("currency").cloned(),
        trial,
        tools: tools(&state.knowledge)
            .into_iter()
            .map(|(name, uses)| ToolView {
                at_hand: at_hand(&name),
                name,
                uses,
            })
            .collect(),
        schools: schools(state, now, fields),
        zones: zones(&sent("time_zone").unwrap_or_else(|| now.time_zone.clone())),
        zone_error: errors.get("time_zone").cloned(),
        zone_now: show::moment_in_zone(state.now()),
        learning: learning(fields.sent("learning").map_or(now.learning, |l| l == "on")),
        moved_on,
    };
    Ok(page.render()?)
}

/// Whether closed cases move the figures.
fn learning(on: bool) -> Vec<Choice> {
    let choice = |value: &str, label: &str, chosen| Choice {
        value: value.into(),
        label: label.into(),
        chosen,
    };
    vec![
        choice("on", "by the book, moved by what happened here", on),
        choice("off", "by the book alone", !on),
    ]
}

/// The rates by what they answer.
fn groups(now: &Workshop, fields: &Fields, errors: &Errors) -> Vec<RateGroup> {
    let usual = Workshop::default();
    let view = |r: &Rate| RateView {
        id: r.id,
        label: r.plain,
        unit: r.unit.replace("money", &now.currency),
        why: r.why,
        value: fields
            .sent(r.id)
            .map_or_else(|| show::number(r.of(now)), str::to_string),
        usual: show::number(r.of(&usual)),
        error: errors.get(r.id).cloned(),
    };
    let mut rates = RATES.iter();
    let group = |(question, many): &(&'static str, usize)| RateGroup {
        question,
        rates: rates.by_ref().take(*many).map(view).collect(),
    };
    RATE_GROUPS.iter().map(group).collect()
}

/// The case on whose plan a change of the settings is shown: the one last worked on.
async fn trial(
    state: &AppState,
    now: &Workshop,
    then: Option<&Workshop>,
) -> Result<Option<Trial>, PageError> {
    let rows = state.store.latest_cases(LOOKED_AT).await?;
    let Some(row) = rows.into_iter().find(|r| r.status == Standing::Open) else {
        return Ok(None);
    };
    let log = state.store.case_log(row.id).await?;
    let k = &state.knowledge;
    let advice = |workshop: &Workshop| {
        let analysis = analyse(k, &replay(k, &log), workshop);
        let name = match &analysis.next.what {
            What::Check(check) => k.check(*check).work.name.clone(),
            What::Fix(fix) => k.fix(*fix).work.name.clone(),
            _ => "nothing planned".to_string(),
        };
        let minutes = show::minutes(analysis.plan.expected_minutes);
        format!("{name}; {minutes} expected to the end")
    };
    Ok(Some(Trial {
        case: format!("{} {}", show::case_label(row.number), row.title),
        href: urls::case(row.id),
        now: think(|| advice(now)).await,
        then: match then {
            Some(then) => Some(think(|| advice(then)).await),
            None => None,
        },
    }))
}

/// Every disagreement of practice with its sides.
fn schools(state: &AppState, now: &Workshop, fields: &Fields) -> Vec<SchoolChoice> {
    let view = |school: &School| {
        let field = side_field(&school.id);
        let stored = now.sides.get(&school.id).cloned().unwrap_or_default();
        let own = fields.sent(&field).map_or(stored, str::to_string);
        let side = |s: &Side| Choice {
            value: s.id.clone(),
            label: s.name.clone(),
            chosen: s.id == own,
        };
        SchoolChoice {
            title: school.title.clone(),
            href: urls::school(&school.id),
            sides: school.sides.iter().map(side).collect(),
            field,
        }
    };
    state.knowledge.schools.iter().map(view).collect()
}

fn side_field(school: &str) -> String {
    format!("side-{school}")
}

/// Time zones by name, with places; the computer's own first.
fn zones(chosen: &str) -> Vec<Choice> {
    let own = Choice {
        value: String::new(),
        label: "as this computer".into(),
        chosen: chosen.is_empty(),
    };
    let names = jiff::tz::db().available().map(|name| name.to_string());
    let mut names: Vec<String> = names.filter(|n| n.contains('/') || n == "UTC").collect();
    names.sort();
    let zone = |name: String| Choice {
        label: name.replace('_', " "),
        chosen: name == chosen,
        value: name,
    };
    std::iter::once(own)
        .chain(names.into_iter().map(zone))
        .collect()
}

/// `GET /workshop`
pub async fn show(State(state): State<AppState>) -> Page {
    let (now, seq) = state.workshop().await?;
    Ok(Html(page(
        &state,
        &now,
        seq,
        &Fields::default(),
        &Errors::new(),
        false,
        trial(&state, &now, None).await?,
    )?))
}

/// `POST /workshop`
pub async fn set(State(state): State<AppState>, fields: Fields) -> Answer {
    let (now, seq) = state.workshop().await?;
    let mut errors = Errors::new();
    let workshop = asked(&state.knowledge, &now, &fields, &mut errors);
    if !errors.is_empty() {
        let html = page(&state, &now, fields.seq(), &fields, &errors, false, None)?;
        return Ok(again(html));
    }
    if fields.get("then") == "try" {
        let trial = trial(&state, &now, Some(&workshop)).await?;
        let html = page(&state, &now, fields.seq(), &fields, &errors, false, trial)?;
        return Ok(Html(html).into_response());
    }
    let stamp = fields.stamp(state.now());
    let stored = state.store.set_workshop(fields.seq(), &workshop, stamp);
    match stored.await {
        Ok(()) => {
            state.tell_time_in(&workshop.time_zone);
            state.ask_to_rebuild();
            Ok(Redirect::to(urls::WORKSHOP).into_response())
        }
        Err(StoreError::Conflict { .. }) => {
            let html = page(&state, &now, seq, &fields, &errors, true, None)?;
            Ok((StatusCode::CONFLICT, Html(html)).into_response())
        }
        Err(other) => Err(other.into()),
    }
}

/// The settings a form asks for; what makes no sense goes to `errors`.
fn asked(k: &Knowledge, now: &Workshop, fields: &Fields, errors: &mut Errors) -> Workshop {
    let mut workshop = now.clone();
    for rate in &RATES {
        let read = fields.number(rate.id, rate.of(now));
        let read = read.map_err(|_| refusal::no_rate(rate, fields.get(rate.id)));
        let put = |value| {
            rate.put(&mut workshop, value)
                .map_err(|e| refusal::rate(&e))
        };
        if let Err(message) = read.and_then(put) {
            errors.insert(rate.id.into(), message);
        }
    }
    // A page from before there was one does not send it.
    if fields.sent("currency").is_some() {
        match text::optional(fields.get("currency"), LONGEST_CURRENCY) {
            Ok(()) => workshop.currency = fields.get("currency").to_string(),
            Err(problem) => {
                let message = refusal::words_of("currency", &problem);
                errors.insert("currency".into(), message);
            }
        }
    }
    let zone = fields.get("time_zone");
    match zone.is_empty() || jiff::tz::TimeZone::get(zone).is_ok() {
        true => workshop.time_zone = zone.to_string(),
        false => {
            let message = format!(
                "\"{}\" is no time zone known here: choose one of the list.",
                short(zone)
            );
            errors.insert("time_zone".into(), message);
        }
    }
    if let Some(learning) = fields.sent("learning") {
        workshop.learning = learning == "on";
    }
    for school in &k.schools {
        let Some(side) = fields.sent(&side_field(&school.id)) else {
            continue;
        };
        match school.side(side) {
            Some(side) => workshop.sides.insert(school.id.clone(), side.id.clone()),
            None => workshop.sides.remove(&school.id),
        };
    }
    let ticked: Vec<&str> = fields.all("tool").collect();
    let all = tools(k).into_iter().map(|(tool, _)| tool);
    let missing = all.filter(|tool| !ticked.contains(&tool.as_str()));
    workshop.missing_tools = missing.collect();
    workshop
}
