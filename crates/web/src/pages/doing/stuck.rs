//! When nothing helps: back to the last known good settings, the first facts once more, help with
//! the brief, another day.

use crate::page_error::PageError;
use crate::pages::Page;
use crate::pages::open_case::{CaseHead, OpenCase};
use crate::state::AppState;
use crate::words::outcome;
use crate::{show, urls};
use askama::Template;
use axum::extract::State;
use axum::response::Html;
use suspect_core::case::{Change, replay};
use suspect_core::knowledge::{Knowledge, TryResult};
use suspect_core::ranking::{LineUp, rank};
use suspect_core::stuck::{FactThatMatters, Stuck, stuck, what_matters};
use suspect_store::think;

/// A value that a fix changed.
pub struct ChangeView {
    pub seq: u32,
    pub fix: String,
    pub what: String,
    pub before: String,
    pub after: String,
    pub put_back: bool,
}

/// Values that fixes of a case changed, in their order.
pub fn changes(k: &Knowledge, case: &OpenCase) -> Vec<ChangeView> {
    let fix = |c: &Change| k.fix(c.fix);
    let view = |c: &Change| ChangeView {
        seq: c.seq,
        fix: fix(c).work.name.clone(),
        what: show::capital(&fix(c).changes),
        before: c.before.clone(),
        after: c.after.clone().unwrap_or_else(|| "not noted".into()),
        put_back: c.put_back,
    };
    case.state.changes.iter().map(view).collect()
}

/// Those that helped nothing and still stand: offered for putting back before anything else is
/// changed.
pub fn to_no_avail(k: &Knowledge, case: &OpenCase) -> Vec<ChangeView> {
    let in_vain = |seq: u32| {
        let change = case.state.changes.iter().find(|c| c.seq == seq);
        let result = change
            .and_then(|c| case.state.facts.tried.iter().rev().find(|t| t.fix == c.fix))
            .map(|t| t.result);
        matches!(result, Some(TryResult::Same | TryResult::Worse))
    };
    changes(k, case)
        .into_iter()
        .filter(|c| !c.put_back && in_vain(c.seq))
        .collect()
}

struct MatterView {
    text: String,
    then: String,
    turns: bool,
    href: String,
}

struct GoodView {
    label: String,
    href: String,
    /// Setting, then and now.
    rows: Vec<(String, String, String)>,
}

#[derive(Template)]
#[template(path = "doing/stuck.html")]
struct StuckPage {
    head: CaseHead,
    why: String,
    tried: Vec<String>,
    changes: Vec<ChangeView>,
    good: Option<GoodView>,
    matters: Vec<MatterView>,
}

/// Why a case is stuck, in a sentence; nothing while it is not.
pub fn why_words(case: &OpenCase, line_up: &LineUp) -> Option<String> {
    stuck(&case.state, line_up).map(|why| match why {
        Stuck::InVain(n) => format!("{n} fixes in a row changed nothing."),
        Stuck::Contradiction(d) => format!(
            "The facts do not fit together: surprise {} dB.",
            show::decibans(d)
        ),
    })
}

/// `GET /cases/{id}/stuck`
pub async fn show(State(state): State<AppState>, case: OpenCase) -> Page {
    let k = &state.knowledge;
    let facts = &case.state.facts;
    let (line_up, matters) = think(|| {
        let line_up = rank(k, facts);
        let matters = what_matters(k, facts, &line_up);
        (line_up, matters)
    })
    .await;
    let tried = facts.tried.iter().map(|t| outcome::tried_line(k, t));
    let page = StuckPage {
        head: case.head(),
        why: why_words(&case, &line_up).unwrap_or_else(|| {
            "Nothing says that you are stuck. This is here when you want it.".into()
        }),
        tried: tried.collect(),
        changes: changes(k, &case),
        good: last_good(&state, &case).await?,
        matters: matters.into_iter().map(|m| matter(k, &case, &m)).collect(),
    };
    Ok(Html(page.render()?))
}

/// A fact on which much hangs, and where to look at it once more.
fn matter(k: &Knowledge, case: &OpenCase, m: &FactThatMatters) -> MatterView {
    let finding = k.finding(m.finding);
    let name = show::lower_first(&k.cause(m.leader).name);
    let leads = match m.turns {
        true => "would lead",
        false => "still leads",
    };
    let answer = case.state.facts.findings[&m.finding].answer;
    MatterView {
        text: show::capital(&answer.phrase(k, m.finding)),
        then: format!(
            "without it {name} {leads} with {}",
            show::percent(m.probability)
        ),
        turns: m.turns,
        href: match finding.check {
            Some(_) => case.below(&format!("check/{}", finding.id)),
            None => format!("{}#q-{}", case.below("facts"), finding.id),
        },
    }
}

/// The settings of the last case on this machine that ended fixed and verified, where they differ
/// from those of this case.
async fn last_good(state: &AppState, case: &OpenCase) -> Result<Option<GoodView>, PageError> {
    let Some(last) = state
        .store
        .last_good_case_of(case.row.machine_id, case.id)
        .await?
    else {
        return Ok(None);
    };
    let then = replay(&state.knowledge, &state.store.case_log(last.id).await?);
    let shown = |value: Option<f64>, unit: &str| {
        value.map_or("not noted".to_string(), |v| show::with_unit(v, unit))
    };
    let rows: Vec<_> = then
        .facts
        .settings
        .known()
        .filter(|(n, _)| !n.is_height())
        .map(|(id, v)| {
            let (n, now) = (id.number(), case.state.facts.settings.get(id));
            (
                show::capital(n.plain),
                shown(Some(v), n.unit),
                shown(now, n.unit),
            )
        })
        .filter(|(_, then, now)| then != now)
        .collect();
    Ok(Some(GoodView {
        label: show::case_label(last.number),
        href: urls::case(last.id),
        rows,
    }))
}
