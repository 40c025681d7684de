//! When nothing helps: back to the last known good settings, the first facts once more, help with the brief, another day.

use super::recording::result_words;
use super::{Opened, Page, opened};
use crate::page_error::PageError;
use crate::state::AppState;
use crate::{show, urls};
use askama::Template;
use axum::extract::{Path, State};
use axum::response::Html;
use suspect_core::case::{Change, replay};
use suspect_core::knowledge::TryResult;
use suspect_core::ranking::{LineUp, rank};
use suspect_core::stuck::{Why, stuck, what_matters};
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
pub fn changes(state: &AppState, case: &Opened) -> Vec<ChangeView> {
    let fix = |c: &Change| state.knowledge.fix(c.fix);
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

/// Those that helped nothing and still stand: offered for putting back before anything else is changed.
pub fn to_no_avail(state: &AppState, case: &Opened) -> Vec<ChangeView> {
    let in_vain = |seq: u32| {
        let change = case.state.changes.iter().find(|c| c.seq == seq);
        let result = change
            .and_then(|c| case.state.facts.tried.iter().rev().find(|t| t.fix == c.fix))
            .map(|t| t.result);
        matches!(result, Some(TryResult::Same | TryResult::Worse))
    };
    changes(state, case)
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
#[template(path = "stuck.html")]
struct StuckPage {
    place: &'static str,
    label: String,
    title: String,
    case_href: String,
    seq: u32,
    why: String,
    tried: Vec<String>,
    changes: Vec<ChangeView>,
    put_back_action: String,
    good: Option<GoodView>,
    matters: Vec<MatterView>,
    brief_href: String,
    leave_action: String,
    close_href: String,
}

/// Why a case is stuck, in a sentence; nothing while it is not.
pub fn why_words(case: &Opened, line_up: &LineUp) -> Option<String> {
    stuck(&case.state, line_up).map(|why| match why {
        Why::InVain(n) => format!("{n} fixes in a row changed nothing."),
        Why::Contradiction(d) => format!(
            "The facts do not fit together: surprise {} dB.",
            show::decibans(d)
        ),
    })
}

/// `GET /cases/{id}/stuck`
pub async fn show(State(state): State<AppState>, Path(id): Path<String>) -> Page {
    let case = opened(&state, &id).await?;
    let k = &state.knowledge;
    let facts = &case.state.facts;
    let (line_up, matters) = think(|| {
        let line_up = rank(k, facts);
        let matters = what_matters(k, facts, &line_up);
        (line_up, matters)
    })
    .await;
    let matters = matters.into_iter().map(|m| {
        let name = show::lower_first(&k.cause(m.leader).name);
        MatterView {
            text: show::capital(&facts.findings[&m.finding].answer.phrase(k, m.finding)),
            then: format!(
                "without it {name} {} with {}",
                if m.turns { "would lead" } else { "still leads" },
                show::percent(m.probability)
            ),
            turns: m.turns,
            href: match k.finding(m.finding).check {
                Some(_) => urls::in_case(case.id, &format!("check/{}", k.finding(m.finding).id)),
                None => format!(
                    "{}#q-{}",
                    urls::in_case(case.id, "facts"),
                    k.finding(m.finding).id
                ),
            },
        }
    });
    let page = StuckPage {
        place: "case",
        label: show::case_label(case.row.number),
        title: case.state.title.clone(),
        case_href: urls::case(case.id),
        seq: case.state.last_seq,
        why: why_words(&case, &line_up).unwrap_or_else(|| {
            "Nothing says that you are stuck. This is here when you want it.".into()
        }),
        tried: facts
            .tried
            .iter()
            .map(|t| format!("{}: {}", k.fix(t.fix).work.name, result_words(t.result)))
            .collect(),
        changes: changes(&state, &case),
        put_back_action: urls::in_case(case.id, "put-back"),
        good: last_good(&state, &case).await?,
        matters: matters.collect(),
        brief_href: urls::in_case(case.id, "brief"),
        leave_action: urls::in_case(case.id, "leave"),
        close_href: urls::in_case(case.id, "close"),
    };
    Ok(Html(page.render()?))
}

/// The settings of the last case on this machine that ended fixed and verified, where they differ from those of this case.
async fn last_good(state: &AppState, case: &Opened) -> Result<Option<GoodView>, PageError> {
    let Some(last) = state
        .store
        .last_good_case_of(case.row.machine_id, case.id)
        .await?
    else {
        return Ok(None);
    };
    let then = replay(&state.knowledge, &state.store.case_log(last.id).await?);
    let shown = |value: Option<f64>, unit: &str| {
        value.map_or("not noted".to_string(), |v| {
            format!("{} {unit}", show::number(v)).trim_end().to_string()
        })
    };
    let rows: Vec<_> = then
        .facts
        .settings
        .known()
        .filter(|(n, _)| !n.id.ends_with("_height_mm"))
        .map(|(n, v)| {
            (
                show::capital(n.plain),
                shown(Some(v), n.unit),
                shown(case.state.facts.settings.get(n.id), n.unit),
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
