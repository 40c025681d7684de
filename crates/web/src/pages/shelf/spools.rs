//! The shelf of spools: what is on it, what wants drying, what is nearly out; a new one.

use crate::form::{Errors, Fields};
use crate::page_error::PageError;
use crate::pages::parts::link::Choice;
use crate::pages::{Answer, Page, again};
use crate::state::AppState;
use crate::words::refusal;
use crate::{show, urls};
use askama::Template;
use axum::extract::{Query, State};
use axum::response::{Html, IntoResponse, Redirect};
use std::collections::BTreeMap;
use suspect_core::case::Refusal;
use suspect_core::profile::{FIELDS, MATERIAL};
use suspect_core::shelf::{KEEPING, Spool, SpoolEvent};
use suspect_store::machines::Machine;
use suspect_store::shelf::Thing;
use suspect_store::{StoreError, Uuid};
use time::OffsetDateTime;

/// A spool holds so much when nobody says otherwise, in grams.
const USUAL_NET_G: &str = "1000";
/// Width of the bar that shows what is left.
const BAR: f64 = 80.0;

struct SpoolLine {
    label: String,
    name: String,
    href: String,
    left: String,
    bar: u32,
    nearly_out: bool,
    dry_me: bool,
    kept: &'static str,
    open: String,
    machine: Option<(String, String)>,
    finished: bool,
}

#[derive(Template)]
#[template(path = "shelf/spools.html")]
struct SpoolsPage {
    here: Vec<SpoolLine>,
    dry_me: usize,
    nearly_out: usize,
    gone: Vec<SpoolLine>,
    all: bool,
    families: Vec<Choice>,
    maker: String,
    colour: String,
    net_g: String,
    tare_g: String,
    errors: Errors,
}

/// `GET /spools?all=yes`
pub async fn list(
    State(state): State<AppState>,
    Query(query): Query<BTreeMap<String, String>>,
) -> Page {
    let all = query.contains_key("all");
    Ok(Html(
        page(&state, all, &Fields::default(), Errors::new()).await?,
    ))
}

async fn page(
    state: &AppState,
    all: bool,
    fields: &Fields,
    errors: Errors,
) -> Result<String, PageError> {
    let now = state.now();
    let machines = state.store.machines().await?;
    let spools = state.store.things::<Spool>().await?;
    let line = |s: &Thing<Spool>| line(s, &machines, now);
    let (gone, here): (Vec<_>, Vec<_>) = spools.iter().partition(|s| s.is.finished);
    let family = |v: &suspect_core::profile::Value| Choice {
        value: v.id.into(),
        label: v.plain.into(),
        chosen: fields.get("family") == v.id,
    };
    let here: Vec<SpoolLine> = here.into_iter().map(line).collect();
    let page = SpoolsPage {
        dry_me: here.iter().filter(|s| s.dry_me).count(),
        nearly_out: here.iter().filter(|s| s.nearly_out).count(),
        here,
        gone: if all {
            gone.into_iter().map(line).collect()
        } else {
            Vec::new()
        },
        all,
        families: FIELDS[MATERIAL].values.iter().map(family).collect(),
        maker: fields.get("maker").into(),
        colour: fields.get("colour").into(),
        net_g: fields.given("net_g").unwrap_or(USUAL_NET_G).into(),
        tare_g: fields.get("tare_g").into(),
        errors,
    };
    Ok(page.render()?)
}

fn line(s: &Thing<Spool>, machines: &[Machine], now: OffsetDateTime) -> SpoolLine {
    let on = machines.iter().find(|m| m.id.to_string() == s.is.machine);
    let share = if s.is.net_g > 0.0 {
        s.is.left_g / s.is.net_g
    } else {
        0.0
    };
    SpoolLine {
        label: show::spool_label(s.number),
        name: show::capital(&s.is.name()),
        href: urls::spool(s.id),
        left: show::grams(s.is.left_g),
        bar: (share.clamp(0.0, 1.0) * BAR).round() as u32,
        nearly_out: s.is.nearly_out(),
        dry_me: s.is.wants_drying(now),
        kept: keeping(&s.is.kept),
        open: s
            .is
            .open_days(now)
            .map_or("sealed".into(), |days| match days {
                0 => "open since today".into(),
                1 => "open for a day".into(),
                n => format!("open for {n} days"),
            }),
        machine: on.map(|m| (m.name.clone(), urls::machine(m.id))),
        finished: s.is.finished,
    }
}

/// How a spool is kept, in words.
pub fn keeping(how: &str) -> &'static str {
    KEEPING
        .iter()
        .find(|(id, _)| *id == how)
        .map_or("", |(_, words)| words)
}

/// `POST /spools`: a spool more, or what one is, anew.
pub async fn add(State(state): State<AppState>, fields: Fields) -> Answer {
    let mut errors = Errors::new();
    let event = described(&fields, &mut errors);
    let Some(event) = event else {
        return Ok(again(page(&state, false, &fields, errors).await?));
    };
    let id = fields
        .get("spool")
        .parse()
        .unwrap_or_else(|_| Uuid::now_v7());
    let (k, stamp) = (&state.knowledge, fields.stamp(state.now()));
    let seq = fields.seq();
    match state
        .store
        .append_to_thing::<Spool>(k, id, seq, &[event], stamp)
        .await
    {
        Ok(_) => Ok(Redirect::to(&urls::spool(id)).into_response()),
        Err(StoreError::Refused(Refusal::Invalid { field, problem })) => {
            let words = refusal::problem(&field, &problem);
            errors.insert(field, words);
            Ok(again(page(&state, false, &fields, errors).await?))
        }
        Err(e) => Err(e.into()),
    }
}

/// What a form says of a spool; what is no number stands in `errors`.
pub fn described(fields: &Fields, errors: &mut Errors) -> Option<SpoolEvent> {
    let net = fields.optional_or_say("net_g", "grams when new", errors);
    let tare = fields.optional_or_say("tare_g", "the empty spool", errors);
    Some(SpoolEvent::Described {
        family: fields.get("family").to_string(),
        maker: fields.get("maker").to_string(),
        colour: fields.get("colour").to_string(),
        net_g: net?.unwrap_or(0.0),
        tare_g: tare?,
    })
}
