//! Closed cases that ask whether their fix held: a list, and a calendar to subscribe to.

use crate::pages::parts::asking::{Asking, asking};
use crate::pages::parts::tag::origin;
use crate::pages::{Answer, Page};
use crate::state::AppState;
use crate::urls;
use crate::words::proving;
use askama::Template;
use axum::extract::State;
use axum::http::{HeaderMap, header};
use axum::response::{Html, IntoResponse};
use suspect_core::learning::hold::WATCHED_DAYS;
use suspect_store::Uuid;
use suspect_store::lists::CaseRow;
use suspect_store::machines::Machine;
use time::OffsetDateTime;
use time::macros::format_description;

/// Answers from which a chance of holding is told.
const FROM: i64 = 3;
/// Cases listed at most.
const MOST: u64 = 100;

#[derive(Template)]
#[template(path = "records/again.html")]
struct AgainPage {
    /// How long fixes hold here, once somebody answered.
    holds: Option<String>,
    asking: Vec<Asking>,
    later: Vec<Asking>,
    feed: &'static str,
}

fn name_of(machines: &[Machine], id: Uuid) -> &str {
    let machine = machines.iter().find(|m| m.id == id);
    machine.map_or("", |m| m.name.as_str())
}

/// `GET /again`
pub async fn show(State(state): State<AppState>) -> Page {
    let now = state.now();
    let (rows, machines) = (
        state.store.asking(now, MOST).await?,
        state.store.machines().await?,
    );
    let lines = rows.iter();
    let (due, later): (Vec<_>, Vec<_>) = lines.partition(|r| r.ask_at.is_some_and(|at| at <= now));
    let line = |r: &&CaseRow| asking(&state.knowledge, r, name_of(&machines, r.machine_id));
    let (holding, many) = state.store.holding().await?;
    let page = AgainPage {
        holds: (many >= FROM).then(|| proving::holds(holding.holds(WATCHED_DAYS), WATCHED_DAYS)),
        asking: due.iter().map(line).collect(),
        later: later.iter().map(line).collect(),
        feed: urls::AGAIN_FEED,
    };
    Ok(Html(page.render()?))
}

/// `GET /again.ics`: the same as a calendar.
pub async fn feed(State(state): State<AppState>, headers: HeaderMap) -> Answer {
    let rows = state.store.asking(state.now(), MOST).await?;
    let machines = state.store.machines().await?;
    let origin = origin(&headers);
    let mut lines = vec![
        "BEGIN:VCALENDAR".to_string(),
        "VERSION:2.0".into(),
        "PRODID:-//Usual Suspect//asks again//EN".into(),
        "X-WR-CALNAME:Did it hold?".into(),
    ];
    for row in &rows {
        let Some(at) = row.ask_at else { continue };
        lines.extend(event(
            &state,
            row,
            at,
            name_of(&machines, row.machine_id),
            &origin,
        ));
    }
    lines.push("END:VCALENDAR".into());
    let text: String = lines.iter().map(|line| folded(line)).collect();
    Ok((
        [(header::CONTENT_TYPE, "text/calendar; charset=utf-8")],
        text,
    )
        .into_response())
}

fn event(
    state: &AppState,
    row: &CaseRow,
    at: OffsetDateTime,
    machine: &str,
    origin: &str,
) -> Vec<String> {
    let ask = asking(&state.knowledge, row, machine);
    let date = at.date();
    let day = |date: time::Date| {
        let plain = format_description!("[year][month][day]");
        date.format(plain).unwrap_or_default()
    };
    let stamp = format_description!("[year][month][day]T[hour][minute][second]Z");
    let words = format!("Did it hold? {} {} on {machine}", ask.label, ask.title);
    vec![
        "BEGIN:VEVENT".into(),
        format!("UID:{}-{}@usual-suspect", row.id, day(date)),
        format!(
            "DTSTAMP:{}",
            row.updated_at.format(stamp).unwrap_or_default()
        ),
        format!("DTSTART;VALUE=DATE:{}", day(date)),
        format!("SUMMARY:{}", escaped(&words)),
        format!(
            "DESCRIPTION:{}",
            escaped(&format!("What did it: {}", ask.fix))
        ),
        format!("URL:{origin}{}", ask.href),
        "END:VEVENT".into(),
    ]
}

/// Text as a calendar takes it (RFC 5545, 3.3.11).
fn escaped(text: &str) -> String {
    let mut out = String::new();
    for c in text.chars() {
        match c {
            '\\' | ';' | ',' => out.extend(['\\', c]),
            '\n' => out.push_str("\\n"),
            c if c.is_control() => {}
            c => out.push(c),
        }
    }
    out
}

/// A line with its end, folded at 75 bytes (RFC 5545, 3.1).
fn folded(line: &str) -> String {
    let (mut out, mut width) = (String::new(), 0);
    for c in line.chars() {
        if width + c.len_utf8() > 74 {
            out.push_str("\r\n ");
            width = 1;
        }
        out.push(c);
        width += c.len_utf8();
    }
    out + "\r\n"
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_calendar_line_is_escaped_and_folded() {
        assert_eq!(escaped("a,b;c\\d\ne"), "a\\,b\\;c\\\\d\\ne");
        let long = folded(&"ä".repeat(60));
        assert!(long.split("\r\n").all(|l| l.len() <= 75));
        assert_eq!(long.replace("\r\n ", "").trim_end(), "ä".repeat(60));
    }
}
