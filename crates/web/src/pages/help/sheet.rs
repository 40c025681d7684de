//! A case as one page for print: what it looked like, what was decided and why, what was done, how
//! it ended.

use crate::pages::help::brief::{Brief, brief};
use crate::pages::help::markdown::tidy;
use crate::pages::open_case::OpenCase;
use crate::pages::{Answer, Page};
use crate::show;
use crate::state::AppState;
use crate::words::{entry, evidence, outcome, proving};
use askama::Template;
use axum::extract::State;
use axum::http::header;
use axum::response::{Html, IntoResponse};
use suspect_core::case::{Event, HeldAnswer, Status, account, active};
use suspect_core::evidence::Facts;
use suspect_core::knowledge::{CauseId, Knowledge};
use suspect_core::ranking::LineUp;
use suspect_store::think;

/// Facts that weigh less, in decibans, are left out of the sheet.
const SAYS_SOMETHING: f64 = 0.25;
/// Suspects named beside the one it was.
const OTHERS: usize = 4;

/// A fact with what it weighed.
pub struct Reason {
    pub text: String,
    pub weight: String,
    pub speaks_for: bool,
}

impl Reason {
    /// The side it speaks for, as styles know it.
    fn speaks(&self) -> &'static str {
        if self.speaks_for { "for" } else { "against" }
    }
}

/// Why it was decided so.
pub struct Decision {
    /// Whose account it is.
    pub cause: String,
    pub share: String,
    pub reasons: Vec<Reason>,
    /// Others as they stood then: name and share.
    pub others: Vec<(String, String)>,
    /// Whether that was at the decision, or is as it stands now.
    pub decided: bool,
}

/// Something that was done.
pub struct Done {
    pub when: String,
    pub text: String,
    pub by: String,
}

/// The sheet.
pub struct Sheet {
    pub brief: Brief,
    pub opened: String,
    pub decision: Option<Decision>,
    pub done: Vec<Done>,
    /// Proof, and whether it held.
    pub proof: Vec<String>,
    pub failed: Option<String>,
}

#[derive(Template)]
#[template(path = "help/sheet.html")]
struct SheetPage<'a> {
    brief: &'a Brief,
    case_href: String,
    file_href: String,
    account_href: Option<String>,
    sheet: &'a Sheet,
}

#[derive(Template)]
#[template(path = "help/sheet.md", escape = "none")]
struct SheetText<'a> {
    brief: &'a Brief,
    sheet: &'a Sheet,
}

/// `GET /cases/{id}/sheet`
pub async fn show(State(state): State<AppState>, case: OpenCase) -> Page {
    let sheet = sheet(&state, &case).await;
    let page = SheetPage {
        brief: &sheet.brief,
        case_href: case.href(),
        file_href: case.below("sheet.md"),
        account_href: case.state.resolved().then(|| case.below("account")),
        sheet: &sheet,
    };
    Ok(Html(page.render()?))
}

/// `GET /cases/{id}/sheet.md`
pub async fn file(State(state): State<AppState>, case: OpenCase) -> Answer {
    let sheet = sheet(&state, &case).await;
    let text = SheetText {
        brief: &sheet.brief,
        sheet: &sheet,
    };
    let text = tidy(&text.render()?);
    let label = show::case_label(case.row.number);
    let headers = [
        (
            header::CONTENT_TYPE,
            "text/markdown; charset=utf-8".to_string(),
        ),
        (
            header::CONTENT_DISPOSITION,
            format!("attachment; filename=\"{label}.md\""),
        ),
    ];
    Ok((headers, text).into_response())
}

async fn sheet(state: &AppState, case: &OpenCase) -> Sheet {
    let k = &state.knowledge;
    let analysis = case.analysis(state).await;
    let decided = think(|| account(k, &case.log, &case.state)).await;
    let decision = match &decided {
        Some(a) => a
            .cause
            .and_then(|c| decision(k, &a.facts, &a.line_up, c, true)),
        None => analysis
            .line_up
            .leader()
            .and_then(|l| decision(k, &case.state.facts, &analysis.line_up, l.cause, false)),
    };
    let counts = active(&case.log);
    let entries = case.log.iter().zip(counts);
    let entries = entries.filter(|(e, counts)| *counts && !is_listed(&e.event));
    let done = entries.map(|(e, _)| Done {
        when: show::moment(e.at),
        text: entry::line_in(k, &case.log, e),
        by: crate::screen::shown_of(e.by.as_deref()).unwrap_or_default(),
    });
    Sheet {
        brief: brief(state, case, &analysis),
        opened: show::date(case.row.opened_at),
        decision,
        done: done.collect(),
        proof: proof(case),
        failed: case.state.lost.as_ref().map(proving::lost),
    }
}

/// Whether a fact stands in a list of the sheet already.
fn is_listed(event: &Event) -> bool {
    matches!(
        event,
        Event::Measured { .. }
            | Event::Observed { .. }
            | Event::Passed { .. }
            | Event::Told { .. }
            | Event::Lost(_)
    )
}

/// The account of a suspect in a line-up.
fn decision(
    k: &Knowledge,
    facts: &Facts,
    line_up: &LineUp,
    cause: CauseId,
    decided: bool,
) -> Option<Decision> {
    let line = line_up.line(cause)?;
    let items = line_up.evidence.items.iter().zip(&line.ledger);
    let mut told: Vec<(f64, String)> = items
        .filter(|(_, d)| d.abs() >= SAYS_SOMETHING)
        .map(|(item, d)| (*d, evidence::source(k, facts, &item.source)))
        .collect();
    told.sort_by(|a, b| b.0.total_cmp(&a.0));
    let others = line_up.causes.iter().filter(|l| l.cause != cause);
    Some(Decision {
        cause: k.cause(cause).name.clone(),
        share: show::percent(line.probability),
        reasons: told
            .into_iter()
            .map(|(d, text)| Reason {
                text,
                weight: show::decibans(d),
                speaks_for: d >= 0.0,
            })
            .collect(),
        others: others
            .take(OTHERS)
            .map(|l| (k.cause(l.cause).name.clone(), show::percent(l.probability)))
            .collect(),
        decided,
    })
}

/// How the fix was proved, and what was said later.
fn proof(case: &OpenCase) -> Vec<String> {
    let now = &case.state;
    let mut lines: Vec<String> = now.strikes.iter().map(proving::struck).collect();
    lines.extend(now.proving().and_then(|p| proving::so_far(&p)));
    if let Status::Resolved(end) = &now.status {
        lines.push(match now.proven() {
            true => format!(
                "Closed as {}: the proof was complete",
                outcome::outcome(end.outcome)
            ),
            false => format!("Closed as {}", outcome::outcome(end.outcome)),
        });
        lines.extend(end.asked.iter().map(|(at, answer)| match answer {
            HeldAnswer::Held => format!("It held, said on {}", show::date(*at)),
            HeldAnswer::CannotSay => format!("Nobody could say, asked on {}", show::date(*at)),
        }));
    }
    lines
}
