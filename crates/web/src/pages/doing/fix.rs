//! A fix: one change, led through and recorded. Its proof by printing comes next.

use crate::form::{Errors, Fields, not_shown};
use crate::page_error::PageError;
use crate::pages::doing::guide::{GuideView, guide};
use crate::pages::doing::{Asked, amount, locked};
use crate::pages::open_case::{CaseHead, Known, OpenCase};
use crate::pages::parts::proving::{look_for, may_bring, proof_takes};
use crate::pages::parts::schools::{self, SchoolLine};
use crate::pages::parts::work::{self, WorkView};
use crate::pages::record::Recorded;
use crate::pages::{Answer, Page, again};
use crate::state::AppState;
use crate::words::learned::cured_here;
use crate::words::outcome;
use crate::{show, urls};
use askama::Template;
use axum::extract::{Query, State};
use axum::response::Html;
use std::collections::BTreeMap;
use suspect_core::case::{Event, Status, WorkId};
use suspect_core::doing::{self, NewValue};
use suspect_core::evidence::Facts;
use suspect_core::knowledge::{CauseId, FixId, Knowledge};
use suspect_core::ranking::rank;
use suspect_store::think;

struct Mends {
    name: String,
    href: String,
    chance: String,
    /// How it went here.
    here: Option<String>,
}

/// A rung of the ladder: easy way, involved way, work-around.
struct RungView {
    name: String,
    href: String,
    reason: String,
    here: bool,
    tried: bool,
}

#[derive(Template)]
#[template(path = "doing/fix.html")]
struct FixPage {
    head: CaseHead,
    action: String,
    kind: &'static str,
    work: WorkView,
    guide: GuideView,
    mends: Vec<Mends>,
    ladder_of: String,
    ladder: Vec<RungView>,
    may_bring: Vec<String>,
    verify: String,
    verify_takes: String,
    look_for: Vec<String>,
    warranty: String,
    schools: Vec<SchoolLine>,
    changes: String,
    before: String,
    after: String,
    /// What is changed, from what to what, as far as it is known.
    value_here: Option<String>,
    minutes: String,
    money: String,
    currency: String,
    errors: Errors,
    /// Messages about fields this page does not show.
    elsewhere: Vec<String>,
    tried: bool,
    /// The fix whose proof is still to come.
    waits: Option<String>,
}

fn page(
    state: &AppState,
    case: &OpenCase,
    id: FixId,
    asked: Asked,
    fields: &Fields,
    errors: Errors,
) -> Result<String, PageError> {
    let (k, facts) = (&state.knowledge, &case.state.facts);
    let fix = k.fix(id);
    let work_id = WorkId::Fix(fix.id.clone());
    let (ladder_of, ladder) = ladder(state, case, id);
    let work = work::view(k, facts, &fix.work);
    let given = |name: &str| fields.given(name).map(str::to_string);
    let value_is = doing::new_value(k, facts, fix);
    let notes_value = !fix.changes.is_empty();
    let shown = |field: &str| {
        ["minutes", "money"].contains(&field)
            || (notes_value && ["before", "after"].contains(&field))
    };
    let page = FixPage {
        head: case.head_again(fields),
        action: case.below(&work_id.to_string()),
        kind: outcome::fix_kind(fix.kind),
        guide: guide(state, case, &work_id, &fix.work, asked),
        mends: mends(k, facts, id),
        ladder_of,
        ladder,
        may_bring: may_bring(k, fix),
        verify: fix.verify.clone(),
        verify_takes: proof_takes(fix),
        look_for: look_for(k, facts, id),
        warranty: fix.warranty.clone(),
        schools: schools::of_fix(k, Some(&case.workshop), id),
        changes: fix.changes.clone(),
        before: given("before").unwrap_or_else(|| value(value_is.as_ref(), |v| v.now)),
        after: given("after").unwrap_or_else(|| value(value_is.as_ref(), |v| v.then)),
        value_here: value_is.as_ref().and_then(value_here),
        minutes: given("minutes").unwrap_or_else(|| show::number(fix.work.whole_minutes())),
        money: given("money").unwrap_or_else(|| show::number(work.money)),
        currency: case.workshop.currency.clone(),
        work,
        elsewhere: not_shown(&errors, shown),
        errors,
        tried: facts.tried.iter().any(|t| t.tries(id)),
        waits: waits(k, case),
    };
    Ok(page.render()?)
}

/// The fix whose proof is still to come, by name.
fn waits(k: &Knowledge, case: &OpenCase) -> Option<String> {
    match case.state.status {
        Status::Verifying(fix) => Some(show::lower_first(&k.fix(fix).work.name)),
        _ => None,
    }
}

fn mends(k: &Knowledge, facts: &Facts, fix: FixId) -> Vec<Mends> {
    let learned = facts.learned.as_deref();
    let view = |(c, p): &(CauseId, f64)| {
        let cause = k.cause(*c);
        let here = learned.and_then(|l| l.cure(fix, *c));
        Mends {
            name: cause.name.clone(),
            href: urls::suspect(&cause.id),
            chance: show::percent(*p),
            here: here.map(|cure| cured_here(&cure)),
        }
    };
    k.fix(fix).cures.iter().map(view).collect()
}

/// A value that a fix changes, with its unit; empty where it is not known.
fn value(of: Option<&NewValue>, which: fn(&NewValue) -> Option<f64>) -> String {
    let known = of.and_then(|v| Some((v.number, which(v)?)));
    known.map_or_else(String::new, |(n, v)| show::with_unit(v, n.number().unit))
}

/// "Nozzle temperature 205 °C now, the window goes from 190 to 220 °C."
fn value_here(of: &NewValue) -> Option<String> {
    let n = of.number.number();
    let now = of
        .now
        .map(|v| format!("{} now", show::with_unit(v, n.unit)));
    let then = of
        .then
        .map(|v| format!("{} then", show::with_unit(v, n.unit)));
    let window = of.window.map(|(low, high)| {
        let high = show::with_unit(high, n.unit);
        format!("the window goes from {} to {high}", show::number(low))
    });
    let parts: Vec<String> = [now, then, window].into_iter().flatten().collect();
    let said = format!("{}: {}", show::capital(n.plain), parts.join(", "));
    (!parts.is_empty()).then(|| show::sentence(&said))
}

/// The ways to mend the likeliest suspect that this fix mends.
fn ladder(state: &AppState, case: &OpenCase, fix: FixId) -> (String, Vec<RungView>) {
    let (k, facts) = (&state.knowledge, &case.state.facts);
    let Some((cause, rungs)) = doing::ladder(k, facts, &rank(k, facts), fix) else {
        return (String::new(), Vec::new());
    };
    let view = |r: doing::Rung| RungView {
        name: k.fix(r.fix).work.name.clone(),
        href: case.below(&format!("fix/{}", k.fix(r.fix).id)),
        reason: r.reason,
        here: r.fix == fix,
        tried: r.tried,
    };
    let name = show::lower_first(&k.cause(cause).name);
    (name, rungs.into_iter().map(view).collect())
}

/// `GET /cases/{id}/fix/{fix}?step=…`
pub async fn show(
    State(state): State<AppState>,
    case: OpenCase,
    Known(fix): Known<FixId>,
    Query(query): Query<BTreeMap<String, String>>,
) -> Page {
    locked::may_run(&state.knowledge, &case)?;
    let asked = Asked::of(&query);
    let draw = || page(&state, &case, fix, asked, &Fields::default(), Errors::new());
    Ok(Html(think(draw).await?))
}

/// `POST /cases/{id}/fix/{fix}`
pub async fn record(
    State(state): State<AppState>,
    case: OpenCase,
    Known(id): Known<FixId>,
    fields: Fields,
) -> Answer {
    let fix = state.knowledge.fix(id);
    let given = |name: &str| fields.given(name).map(str::to_string);
    let mut errors = Errors::new();
    let event = Event::Fixed {
        fix: fix.id.clone(),
        minutes: amount(&fields, "minutes", fix.work.whole_minutes(), &mut errors),
        money: amount(&fields, "money", fix.work.money, &mut errors),
        before: given("before"),
        after: given("after"),
        together: fields.given("together").is_some(),
    };
    if errors.is_empty() {
        let form = case.form(&state, &fields, &format!("fix/{}", fix.id));
        match form.record(&[event], case.below("verify")).await? {
            Recorded::Done(response) => return Ok(response),
            Recorded::Invalid { field, message } => {
                errors.insert(field, message);
            }
        }
    }
    let html = think(|| page(&state, &case, id, Asked::AGAIN, &fields, errors)).await?;
    Ok(again(html))
}
