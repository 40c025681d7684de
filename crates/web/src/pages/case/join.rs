//! The same trouble opened twice: this case goes into another one, which keeps what both knew.

use crate::form::Fields;
use crate::page_error::PageError;
use crate::pages::open_case::{CaseHead, OpenCase};
use crate::pages::{Answer, Page};
use crate::state::AppState;
use crate::words::{refusal, title};
use crate::{show, urls};
use askama::Template;
use axum::extract::State;
use axum::response::Html;
use suspect_core::case::{Event, Outcome, taken_over};
use suspect_store::{Stamp, StoreError, Uuid};

/// Open cases of the machine offered.
const OFFERED: u64 = 20;

struct OtherCase {
    id: Uuid,
    label: String,
    title: String,
    since: String,
}

#[derive(Template)]
#[template(path = "case/join.html")]
struct JoinPage {
    head: CaseHead,
    machine: String,
    others: Vec<OtherCase>,
}

/// `GET /cases/{id}/join`
pub async fn form(State(state): State<AppState>, case: OpenCase) -> Page {
    let rows = state
        .store
        .open_cases_of(case.machine.id, 0, OFFERED)
        .await?;
    let rows = rows
        .iter()
        .filter(|r| r.id != case.id && r.closed_at.is_none());
    let other = |r: &suspect_store::lists::CaseRow| OtherCase {
        id: r.id,
        label: show::case_label(r.number),
        title: title(&r.title, &case.machine.name),
        since: show::since(r.opened_at),
    };
    let page = JoinPage {
        head: case.head(),
        machine: case.machine.name.clone(),
        others: rows.map(other).collect(),
    };
    Ok(Html(page.render()?))
}

/// `POST /cases/{id}/join`: what this case knows is added to the other first, then this one is
/// closed. Broken off between the two, it is done again: nothing is added twice.
pub async fn join(State(state): State<AppState>, case: OpenCase, fields: Fields) -> Answer {
    let into: Uuid = fields
        .get("into")
        .parse()
        .map_err(|_| PageError::NotFound("case"))?;
    let keeps = OpenCase::read(&state, into).await?;
    let one_machine = keeps.machine.id == case.machine.id && keeps.id != case.id;
    if !one_machine || keeps.state.resolved() {
        return Err(PageError::Refused {
            message: "A case goes into another open one of the same machine.".into(),
            back: case.below("join"),
        });
    }
    let k = &state.knowledge;
    let mut events = taken_over(k, &keeps.state, &case.log);
    let this = case.id.to_string();
    let named = |e: &&suspect_core::case::Entry| match &e.event {
        Event::Joined { case, .. } => *case == this,
        _ => false,
    };
    if !keeps.log.iter().any(|e| named(&e)) {
        let (from, number) = (case.id.to_string(), case.row.number);
        events.insert(0, Event::Joined { case: from, number });
    }
    let stamp = Stamp {
        touch: None,
        ..fields.stamp(state.now())
    };
    let stored = match events.is_empty() {
        true => Ok(()),
        false => {
            let seq = keeps.state.last_seq;
            let stored = state.store.append(k, into, seq, &events, stamp).await;
            stored.map(|_| ())
        }
    };
    match stored {
        Ok(()) => {}
        Err(StoreError::Refused(refused)) => {
            return Err(PageError::Refused {
                message: refusal::refusal(k, &refused),
                back: case.below("join"),
            });
        }
        Err(e) => return Err(e.into()),
    }
    let closed = Event::Resolved {
        outcome: Outcome::Joined,
        cause: None,
        fix: None,
        note: format!("Goes on in {}", show::case_label(keeps.row.number)),
    };
    let form = case.form(&state, &fields, "join");
    form.record_or_explain(&[closed], urls::case(into)).await
}
