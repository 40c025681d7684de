//! Making a piece: the proposed one, or one chosen by hand with what that costs.

use super::next_piece::{PieceView, dearer, view};
use super::open_series::{OpenSeries, Recorded};
use crate::form::Fields;
use crate::page_error::PageError;
use crate::pages::{Answer, Page, again};
use crate::show;
use crate::state::AppState;
use askama::Template;
use axum::extract::{RawQuery, State};
use axum::response::Html;
use suspect_core::planning::Workshop;
use suspect_core::series::{Event, Label, Made};
use suspect_store::think;

/// A difference to tick.
struct Tick {
    name: String,
    old: String,
    new: String,
    ticked: bool,
}

#[derive(Template)]
#[template(path = "trials/choose.html")]
struct ChoosePage {
    name: String,
    href: String,
    seq: u32,
    ticks: Vec<Tick>,
    piece: Option<PieceView>,
    added: Vec<String>,
    problem: Option<String>,
}

/// `GET /trials/{series}/choose?old=…`
pub async fn choose(
    State(state): State<AppState>,
    open: OpenSeries,
    RawQuery(query): RawQuery,
) -> Page {
    let fields = Fields::of_query(query);
    let (workshop, _) = state.workshop().await?;
    let html = think(|| page(&open, &fields, &workshop, None));
    Ok(Html(html.await?))
}

fn page(
    open: &OpenSeries,
    fields: &Fields,
    workshop: &Workshop,
    problem: Option<String>,
) -> Result<String, PageError> {
    let chosen: Vec<String> = fields.all("old").map(String::from).collect();
    let asked = !chosen.is_empty() || fields.sent("ask").is_some();
    let planned = open.now.planned(workshop);
    let mut page = ChoosePage {
        name: open.now.name.clone(),
        href: open.href(),
        seq: open.now.seq,
        ticks: Vec::new(),
        piece: None,
        added: Vec::new(),
        problem,
    };
    let mut old = chosen.clone();
    match &planned {
        Ok(planned) if asked && open.lock.is_none() => {
            let course = open.now.course(planned);
            let set = planned.plan.close(open.now.set(planned, &chosen));
            let weighing = course.weighing(open.now.goal);
            let (proposal, best) = (weighing.of(set), weighing.best());
            let mut piece = view(open, planned, &course, &proposal, workshop);
            piece.dearer = Some(dearer(&proposal, &best));
            old.clone_from(&piece.old);
            page.added = piece
                .old
                .iter()
                .filter(|n| !chosen.contains(n))
                .cloned()
                .collect();
            page.piece = Some(piece);
        }
        Ok(_) => {}
        Err(e) => page.problem = Some(show::sentence(&show::capital(&e.to_string()))),
    }
    page.ticks = open
        .now
        .list
        .iter()
        .map(|l| Tick {
            name: l.difference.name.clone(),
            old: l.difference.old.clone().unwrap_or_default(),
            new: l.difference.new.clone().unwrap_or_default(),
            ticked: old.contains(&l.difference.name),
        })
        .collect();
    Ok(page.render()?)
}

/// `POST /trials/{series}/pieces`
pub async fn make(State(state): State<AppState>, open: OpenSeries, fields: Fields) -> Answer {
    let old: Vec<String> = fields.all("old").map(String::from).collect();
    let label = fields.get("label").to_owned();
    let text = |name: &str| fields.get(name).trim().to_owned();
    let then = match Label::parse(&label) {
        Some(label) => open.of_piece(label, ""),
        None => open.href(),
    };
    if open.lock.is_some() {
        return Err(PageError::Refused {
            message: "The machine is locked: nothing is printed on it until that stop is lifted."
                .into(),
            back: open.href(),
        });
    }
    let event = Event::Made {
        label,
        made: Made {
            old,
            settings: text("settings"),
            spool: text("spool"),
            file: text("file"),
            place: text("place"),
            earlier: fields.sent("earlier").is_some(),
        },
    };
    match open.record(&state, &fields, &[event], &then).await? {
        Recorded::Done(answer) => Ok(answer),
        Recorded::Not(why) => {
            let (workshop, _) = state.workshop().await?;
            let html = think(|| page(&open, &fields, &workshop, Some(why)));
            Ok(again(html.await?))
        }
    }
}
