//! Beginning a series: on a machine, for a case or not, with the kept baseline.

use super::open_series::not_recorded;
use crate::form::{Errors, Fields};
use crate::page_error::PageError;
use crate::pages::parts::link::Choice;
use crate::pages::{Answer, Page, again};
use crate::state::AppState;
use crate::{show, urls};
use askama::Template;
use axum::extract::{RawQuery, State};
use axum::response::{Html, IntoResponse, Redirect};
use suspect_core::gcode::Reading;
use suspect_core::gcode::differences::compare;
use suspect_core::series::{Baseline, Event, Listed, Printed, pasted, suspects_of};
use suspect_pieces::PIECES;
use suspect_store::print_files::FileRow;
use suspect_store::{Uuid, think};

#[derive(Template)]
#[template(path = "trials/begin.html")]
struct BeginPage {
    id: Uuid,
    machines: Vec<Choice>,
    case: Option<(String, String, String)>,
    files: Option<(String, String)>,
    pieces: Vec<Choice>,
    values: Values,
    errors: Errors,
    problem: Option<String>,
}

/// What the fields show.
struct Values {
    name: String,
    settings: String,
    file: String,
    place: String,
    bad: Vec<Choice>,
    print: String,
    hands: String,
    grams: String,
    blind: bool,
}

/// `GET /trials/new?machine=&case=&before=&after=`
pub async fn form(State(state): State<AppState>, RawQuery(query): RawQuery) -> Page {
    let fields = Fields::of_query(query);
    Ok(Html(page(&state, &fields, Errors::default(), None).await?))
}

async fn page(
    state: &AppState,
    fields: &Fields,
    errors: Errors,
    problem: Option<String>,
) -> Result<String, PageError> {
    let machines = state.store.machines().await?;
    let case = match fields.given("case").and_then(|id| id.parse::<Uuid>().ok()) {
        Some(id) => Some(state.store.case_row(id).await?),
        None => None,
    };
    let chosen = match &case {
        Some(row) => row.machine_id.to_string(),
        None => fields.get("machine").to_owned(),
    };
    let piece = fields.get("piece");
    let named = case.as_ref().map_or_else(String::new, |c| c.title.clone());
    let page = BeginPage {
        id: fields.get("id").parse().unwrap_or_else(|_| Uuid::now_v7()),
        machines: machines
            .into_iter()
            .map(|m| Choice {
                chosen: m.id.to_string() == chosen,
                value: m.id.to_string(),
                label: m.name,
            })
            .collect(),
        case: case.map(|c| {
            let label = format!("{} {}", show::case_label(c.number), c.title);
            (c.id.to_string(), label, urls::case(c.id))
        }),
        files: fields
            .given("before")
            .zip(fields.given("after"))
            .map(|(b, a)| (b.into(), a.into())),
        pieces: PIECES
            .iter()
            .map(|p| Choice {
                value: p.id.into(),
                label: p.name.into(),
                chosen: p.id == piece,
            })
            .collect(),
        values: values(fields, &named),
        errors,
        problem,
    };
    Ok(page.render()?)
}

/// What the fields show: as they were sent, else what is usual.
fn values(fields: &Fields, named: &str) -> Values {
    let or = |name: &str, otherwise: &str| fields.sent(name).unwrap_or(otherwise).to_owned();
    let grade = fields.given("bad").unwrap_or("1");
    let choice = |g: u8| Choice {
        value: g.to_string(),
        label: g.to_string(),
        chosen: g.to_string() == grade,
    };
    Values {
        name: or("name", named),
        settings: or("settings", ""),
        file: or("file", ""),
        place: or("place", ""),
        bad: (0..=4).map(choice).collect(),
        print: or("print", "30"),
        hands: or("hands", "5"),
        grams: or("grams", "6"),
        blind: fields.sent("blind").is_some(),
    }
}

/// `POST /trials`
pub async fn begin(State(state): State<AppState>, fields: Fields) -> Answer {
    let mut errors = Errors::default();
    let machine = fields.get("machine").parse::<Uuid>();
    if machine.is_err() {
        errors.insert("machine".into(), "On which machine?".into());
    }
    let mut number = |name: &str, otherwise: f64| {
        fields.number(name, otherwise).unwrap_or_else(|e| {
            errors.insert(name.into(), show::sentence(&e.to_string()));
            otherwise
        })
    };
    let printed = Printed {
        piece: fields.get("piece").to_owned(),
        print_minutes: number("print", 30.0),
        hands_minutes: number("hands", 5.0),
        grams: number("grams", 6.0),
    };
    let (Ok(machine), true) = (machine, errors.is_empty()) else {
        return Ok(again(page(&state, &fields, errors, None).await?));
    };
    let mut events = vec![Event::Begun {
        name: fields.get("name").trim().to_owned(),
        baseline: Baseline {
            settings: fields.get("settings").trim().to_owned(),
            file: fields.get("file").trim().to_owned(),
            place: fields.get("place").trim().to_owned(),
        },
        bad_grade: fields.get("bad").parse().unwrap_or(1),
        printed,
        blind: fields.sent("blind").is_some(),
    }];
    let list = from_files(&state, &fields).await?;
    if !list.is_empty() {
        events.push(Event::Listed {
            list,
            fights: Vec::new(),
            group_minutes: Default::default(),
        });
    }
    let id = fields.get("id").parse().unwrap_or_else(|_| Uuid::now_v7());
    let case = fields.given("case").and_then(|id| id.parse().ok());
    let stamp = fields.stamp(state.now());
    match state
        .store
        .begin_series(id, (machine, case), &events, stamp)
        .await
    {
        Ok(_) => Ok(Redirect::to(&format!("{}/differences", urls::series(id))).into_response()),
        Err(e) => {
            let why = not_recorded(e)?;
            Ok(again(page(&state, &fields, errors, Some(why)).await?))
        }
    }
}

/// The differences of two files, good before and bad after.
async fn from_files(state: &AppState, fields: &Fields) -> Result<Vec<Listed>, PageError> {
    let id = |name: &str| fields.given(name).and_then(|id| id.parse::<Uuid>().ok());
    let (Some(before), Some(after)) = (id("before"), id("after")) else {
        return Ok(Vec::new());
    };
    let before = state.store.print_file(before).await?;
    let after = state.store.print_file(after).await?;
    let k = state.knowledge.clone();
    Ok(think(|| {
        let read = |row: &FileRow| Reading::from_stored(&row.reading).map(|(reading, _)| reading);
        let (Some(before), Some(after)) = (read(&before), read(&after)) else {
            return Vec::new();
        };
        let text = serde_json::to_string(&compare(&before, &after)).unwrap_or_default();
        let mut list = pasted(&text);
        for listed in &mut list {
            listed.causes = suspects_of(&k, &listed.difference.name);
        }
        list.truncate(suspect_core::trials::MOST_UNITS);
        list
    })
    .await)
}
