//! The end of a shift: what is handed over, in one page.

use super::begin::write;
use super::evening::Evening;
use super::tasks::Task;
use crate::form::Fields;
use crate::page_error::PageError;
use crate::pages::{Answer, Page};
use crate::state::AppState;
use crate::words::entry::line;
use crate::words::{journal, title};
use crate::{screen, show, urls};
use askama::Template;
use axum::extract::State;
use axum::response::{Html, IntoResponse, Redirect};
use suspect_core::case::{Entry, Event, active};
use suspect_core::shift::{HandOver, JobLine, ShiftEvent};
use suspect_store::machines::Machine;
use time::OffsetDateTime;

/// Cases and entries looked through at most.
const MOST_CASES: u64 = 200;
const MOST_ENTRIES: u64 = 500;
/// Things named as first to look at.
const FIRST: usize = 3;

/// A line as it is shown, with the name behind its author.
pub struct LineView {
    pub text: String,
    pub href: String,
    pub by: Option<String>,
}

/// A page as it is shown.
pub struct PageView {
    pub groups: Vec<(&'static str, Vec<LineView>)>,
    pub word: String,
}

impl PageView {
    /// A page that was handed over, or would be.
    pub fn of(page: &HandOver) -> Self {
        let lines = |all: &[JobLine]| {
            let line = |l: &JobLine| LineView {
                text: l.text.clone(),
                href: l.href.clone(),
                by: l.by.as_deref().map(Evening::name),
            };
            all.iter().map(line).collect::<Vec<_>>()
        };
        Self {
            groups: vec![
                ("Look at first", lines(&page.first)),
                ("Locked", lines(&page.locked)),
                ("Waits", lines(&page.waits)),
                ("Done", lines(&page.done)),
            ],
            word: page.word.clone(),
        }
    }
}

#[derive(Template)]
#[template(path = "shift/end.html")]
struct EndPage {
    page: PageView,
    seq: u32,
    signs_in: bool,
}

/// `GET /shift/end`
pub async fn form(State(state): State<AppState>) -> Page {
    let evening = Evening::read(&state).await?;
    let (_, seq) = evening.thing().ok_or_else(never)?;
    let page = EndPage {
        page: PageView::of(&page(&state, &evening, String::new()).await?),
        seq,
        signs_in: screen::signs_in(),
    };
    Ok(Html(page.render()?))
}

/// `POST /shift/end`
pub async fn end(State(state): State<AppState>, fields: Fields) -> Answer {
    let evening = Evening::read(&state).await?;
    let (id, _) = evening.thing().ok_or_else(never)?;
    let word = fields.get("word").trim().to_string();
    let page = page(&state, &evening, word).await?;
    write(&state, &fields, id, ShiftEvent::Ended { page }).await?;
    Ok(Redirect::to(&format!("{}/pages/{id}", urls::SHIFT)).into_response())
}

fn never() -> PageError {
    PageError::Refused {
        message: "No shift goes on: there is nothing to hand over.".into(),
        back: urls::SHIFT.into(),
    }
}

/// What is handed over now.
async fn page(state: &AppState, evening: &Evening, word: String) -> Result<HandOver, PageError> {
    let began = evening.shift.as_ref().and_then(|s| s.is.began);
    let since = began.unwrap_or(evening.now);
    let machines = state.store.machines().await?;
    let waits = evening.tasks.iter().chain(&evening.left);
    let waits = waits.filter_map(|t| Some((t, t.until?)));
    let waits = waits.map(|(t, until)| plain(t, &format!("until {}", show::clock(until))));
    let stops = evening
        .tasks
        .iter()
        .chain(&evening.left)
        .filter(|t| t.job.stop);
    let blocked = evening.blocked.iter().map(|b| JobLine {
        text: format!("{}: {}", b.name, b.why),
        href: b.href.clone(),
        by: None,
    });
    Ok(HandOver {
        done: done(state, &machines, since).await?,
        waits: waits.collect(),
        locked: stops.map(|t| plain(t, &t.next)).chain(blocked).collect(),
        first: first(evening),
        word,
    })
}

fn plain(task: &Task, words: &str) -> JobLine {
    JobLine {
        text: format!("{}: {words}", task.name),
        href: task.href.clone(),
        by: None,
    }
}

/// What the plan would begin with, and what was handed over with a word.
fn first(evening: &Evening) -> Vec<JobLine> {
    let shift = evening.shift.as_ref().map(|s| &s.is);
    let said = |task: &Task| {
        let shift = shift?;
        let said = shift
            .words
            .get(&task.id)
            .or_else(|| shift.not_tonight.get(&task.id))?;
        (!said.word.is_empty()).then(|| JobLine {
            by: said.by.clone(),
            ..plain(task, &format!("“{}”", said.word))
        })
    };
    let mut lines: Vec<JobLine> = evening
        .tasks
        .iter()
        .chain(&evening.left)
        .filter_map(said)
        .collect();
    let mut begun: Vec<usize> = Vec::new();
    for placed in &evening.plan.placed {
        if !begun.contains(&placed.job) && begun.len() < FIRST {
            begun.push(placed.job);
            let task = &evening.tasks[placed.job];
            lines.push(plain(task, &task.next));
        }
    }
    lines
}

/// What was done since a moment: in cases, and at machines.
async fn done(
    state: &AppState,
    machines: &[Machine],
    since: OffsetDateTime,
) -> Result<Vec<JobLine>, PageError> {
    let k = &state.knowledge;
    let name_of = |id| {
        machines
            .iter()
            .find(|m| m.id == id)
            .map_or("", |m| m.name.as_str())
    };
    let mut lines = Vec::new();
    for row in state.store.cases_since(since, MOST_CASES).await? {
        let log = state.store.case_log(row.id).await?;
        let counts = active(&log);
        let told = log
            .iter()
            .zip(counts)
            .filter(|(e, counts)| *counts && e.at >= since && worth_telling(e));
        let name = format!(
            "{} · {}",
            show::case_label(row.number),
            title(&row.title, name_of(row.machine_id))
        );
        lines.extend(told.map(|(e, _)| {
            let line = JobLine {
                text: format!("{name}: {}", line(k, e)),
                href: urls::case(row.id),
                by: e.by.clone(),
            };
            (e.at, line)
        }));
    }
    for (machine, entry) in state
        .store
        .machine_entries_since(since, MOST_ENTRIES)
        .await?
    {
        let Some(words) = journal::line(k, &entry.event) else {
            continue;
        };
        let line = JobLine {
            text: format!("{}: {words}", name_of(machine)),
            href: urls::machine(machine),
            by: entry.by,
        };
        lines.push((entry.at, line));
    }
    lines.sort_by_key(|(at, _)| *at);
    Ok(lines.into_iter().map(|(_, line)| line).collect())
}

/// What somebody who comes next wants to know: what was done, not what was answered.
fn worth_telling(entry: &Entry) -> bool {
    matches!(
        entry.event,
        Event::Opened { .. }
            | Event::Checked { .. }
            | Event::Gauged { .. }
            | Event::Fixed { .. }
            | Event::Printed { .. }
            | Event::OwnFixed { .. }
            | Event::OwnChecked { .. }
            | Event::Noted { .. }
            | Event::LeftForLater { .. }
            | Event::StopCleared { .. }
            | Event::Resolved { .. }
            | Event::Reopened { .. }
    )
}
