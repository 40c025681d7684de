//! The spool of a case: what is left of it, and other machines on which it gave trouble.

use crate::form::Fields;
use crate::page_error::PageError;
use crate::pages::Answer;
use crate::pages::open_case::OpenCase;
use crate::state::AppState;
use crate::{show, urls};
use axum::extract::State;
use suspect_core::case::Event;
use suspect_core::evidence::Confidence;
use suspect_core::shelf::{Spool, spool_number};

/// What a person answers when the trouble goes with the spool.
const FOLLOWS: (&str, &str) = ("follows", "follows-spool");

/// What the shelf says of the spool of a case.
pub struct SpoolNote {
    pub name: String,
    pub href: String,
    pub left: String,
    pub dry_me: bool,
    /// Cases of other machines that name it: label, machine, address.
    pub elsewhere: Vec<(String, String, String)>,
    /// Nobody said yet what the trouble follows.
    pub asks: bool,
}

/// What the shelf says of the spool; nothing where the case names none of it.
pub async fn view(state: &AppState, case: &OpenCase) -> Result<Option<SpoolNote>, PageError> {
    let Some(number) = spool_number(&case.state.spool) else {
        return Ok(None);
    };
    let spools = state.store.things::<Spool>().await?;
    let Some(spool) = spools.iter().find(|s| s.number == number) else {
        return Ok(None);
    };
    let others = state
        .store
        .cases_with_spool(&show::spool_label(number))
        .await?;
    let machines = state.store.machines().await?;
    let elsewhere = others.iter().filter(|c| c.machine_id != case.machine.id);
    let elsewhere = elsewhere.map(|c| {
        let machine = machines.iter().find(|m| m.id == c.machine_id);
        let machine = machine.map_or(String::new(), |m| m.name.clone());
        (show::case_label(c.number), machine, urls::case(c.id))
    });
    let answered = state.knowledge.finding_id(FOLLOWS.0);
    let answered = answered.is_some_and(|f| case.state.facts.findings.contains_key(&f));
    Ok(Some(SpoolNote {
        name: format!("{} {}", show::spool_label(number), spool.is.name()),
        href: urls::spool(spool.id),
        left: show::grams(spool.is.left_g),
        dry_me: spool.is.wants_drying(state.now()),
        elsewhere: elsewhere.collect(),
        asks: !answered && !case.state.resolved(),
    }))
}

/// `POST /cases/{id}/follows-spool`: one spool, two machines.
pub async fn follows(State(state): State<AppState>, case: OpenCase, fields: Fields) -> Answer {
    let event = Event::Observed {
        finding: FOLLOWS.0.into(),
        state: FOLLOWS.1.into(),
        confidence: Confidence::Sure,
        asked: false,
    };
    let form = case.form(&state, &fields, "follows-spool");
    form.record_or_explain(&[event], case.href()).await
}
