//! What needs hands, as a feed: of the whole floor, or what is somebody's.

use super::evening::{Evening, here};
use super::tasks::Task;
use crate::page_error::PageError;
use crate::pages::Answer;
use crate::pages::parts::tag::origin;
use crate::state::AppState;
use atom_syndication::{Entry, Feed, FixedDateTime, Link, Text};
use axum::extract::State;
use axum::http::{HeaderMap, header};
use axum::response::{IntoResponse, Response};
use suspect_core::shift::JobId;
use suspect_store::Uuid;
use time::OffsetDateTime;
use time::format_description::well_known::Rfc3339;

/// `GET /feeds/{secret}/floor.atom`
pub async fn floor(State(state): State<AppState>, headers: HeaderMap) -> Answer {
    let evening = Evening::read(&state).await?;
    let all = evening.tasks.iter().chain(&evening.left);
    feed(&state, "What needs hands", all, &origin(&headers)).await
}

/// `GET /feeds/{secret}/mine.atom`: what somebody took, or what was handed to them.
pub async fn mine(State(state): State<AppState>, headers: HeaderMap) -> Answer {
    let evening = Evening::read(&state).await?;
    let you = here().by;
    let shift = evening.shift.as_ref().map(|s| &s.is);
    let yours = |t: &&Task| shift.and_then(|s| s.taken.get(&t.id)) == Some(&you);
    let all = evening.tasks.iter().filter(yours);
    feed(&state, "What is yours", all, &origin(&headers)).await
}

async fn feed<'t>(
    state: &AppState,
    title: &str,
    tasks: impl Iterator<Item = &'t Task>,
    origin: &str,
) -> Result<Response, PageError> {
    let rows = state.store.open_cases(200).await?;
    let now = state.now();
    let changed = |id: &JobId| match id {
        JobId::Case(id) => {
            let id = id.parse::<Uuid>().ok();
            let row = rows.iter().find(|r| Some(r.id) == id);
            row.map_or(now, |r| r.updated_at)
        }
        JobId::Round | JobId::Ask => now.replace_time(time::Time::MIDNIGHT),
    };
    let mut last = OffsetDateTime::UNIX_EPOCH;
    let mut entries = Vec::new();
    for task in tasks {
        let at = changed(&task.id);
        last = last.max(at);
        entries.push(entry(task, at, origin));
    }
    let feed = Feed {
        title: Text::plain(format!("{title}: Usual Suspect")),
        id: format!("{origin}/shift#{}", title.to_lowercase().replace(' ', "-")),
        updated: moment(last.max(OffsetDateTime::UNIX_EPOCH)),
        entries,
        links: vec![link(format!("{origin}/shift"))],
        ..Feed::default()
    };
    let kind = [(header::CONTENT_TYPE, "application/atom+xml; charset=utf-8")];
    Ok((kind, feed.to_string()).into_response())
}

fn link(href: String) -> Link {
    Link {
        href,
        rel: "alternate".into(),
        ..Link::default()
    }
}

fn moment(at: OffsetDateTime) -> FixedDateTime {
    let text = at.format(&Rfc3339).unwrap_or_default();
    text.parse().unwrap_or_default()
}

/// An entry is new again whenever its next step is another.
fn entry(task: &Task, at: OffsetDateTime, origin: &str) -> Entry {
    let href = format!("{origin}{}", task.href);
    Entry {
        title: Text::plain(format!("{}: {}", task.name, task.next)),
        id: format!("{href}#{}", at.unix_timestamp()),
        updated: moment(at),
        summary: Some(Text::plain(format!("For {}.", task.needs.words()))),
        links: vec![link(href)],
        ..Entry::default()
    }
}
