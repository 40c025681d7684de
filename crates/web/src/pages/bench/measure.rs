//! A measure: where to measure, the numbers, what follows from them.

use crate::form::Fields;
use crate::page_error::PageError;
use crate::pages::Page;
use crate::pages::bench::context::{For, carried};
use crate::pages::bench::form::{Typed, in_words};
use crate::pages::bench::over_time::{OverTime, over_time};
use crate::pages::bench::says::{Moves, Says, moves, says};
use crate::pages::open_case::CaseHead;
use crate::pages::parts::link::Choice;
use crate::pages::parts::reading::{InputView, taken};
use crate::state::AppState;
use crate::words::measure as words;
use crate::{show, urls};
use askama::Template;
use axum::extract::{Path, RawQuery, State};
use axum::response::Html;
use std::collections::BTreeMap;
use suspect_core::knowledge::Knowledge;
use suspect_core::measures::{self, Bench, Measure};
use suspect_store::think;

/// Where a reading may be kept.
pub struct Keeping {
    pub action: String,
    /// "Record it in C-029".
    pub label: String,
    /// Whether it is the main thing to do.
    pub main: bool,
    pub seq: u32,
    /// Minutes it usually takes, where a check of this name says so.
    pub minutes: Option<String>,
}

#[derive(Template)]
#[template(path = "bench/measure.html")]
struct MeasurePage {
    title: String,
    hold: &'static str,
    hold_href: String,
    bench: String,
    handbook: String,
    sheet: String,
    plain_address: String,
    action: String,
    drawing: String,
    inputs: Vec<InputView>,
    more: Vec<InputView>,
    taken: String,
    open: bool,
    safety: String,
    not: String,
    example: String,
    /// What is still to be read, in words.
    missing: Option<String>,
    wrong: Option<String>,
    says: Option<Says>,
    moves: Option<Moves>,
    sure: bool,
    sent: Vec<(&'static str, String)>,
    cases: Vec<Choice>,
    machines: Vec<Choice>,
    case: Option<CaseHead>,
    machine: Option<String>,
    keepings: Vec<Keeping>,
    past: Option<OverTime>,
    error: Option<String>,
}

/// The measure an address names.
///
/// # Errors
/// When there is none.
pub fn named(id: &str) -> Result<&'static Measure, PageError> {
    measures::measure(id).map_err(|_| PageError::NotFound("measure"))
}

/// The fields of an address.
pub fn of_query(query: Option<String>) -> Fields {
    let query = query.unwrap_or_default();
    Fields::of(form_urlencoded::parse(query.as_bytes()).into_owned())
}

/// `GET /bench/{measure}?case=…&machine=…` and the inputs by name.
pub async fn show(
    State(state): State<AppState>,
    Path(id): Path<String>,
    RawQuery(query): RawQuery,
) -> Page {
    let measure = named(&id)?;
    let fields = of_query(query);
    Ok(Html(page(&state, measure, &fields, None).await?))
}

/// The page of a measure with what was sent; `error` is why it could not be kept.
///
/// # Errors
/// When what the fields name is not there, or the database cannot be reached.
pub async fn page(
    state: &AppState,
    measure: &'static Measure,
    fields: &Fields,
    error: Option<String>,
) -> Result<String, PageError> {
    let to = For::read(state, fields).await?;
    let (cases, machines) = to.choices(state).await;
    let html = think(|| {
        let mut page = view(&state.knowledge, measure, fields, &to);
        page.cases = cases;
        page.machines = machines;
        page.error = error;
        page.render()
    });
    Ok(html.await?)
}

fn view(k: &Knowledge, measure: &'static Measure, fields: &Fields, to: &For) -> MeasurePage {
    let typed = Typed::new(measure, fields, measure.known(k, &to.facts));
    let sure = fields.get("sure") == "yes";
    let (mut missing, mut wrong_together) = (None, None);
    let (mut follows, mut before_after) = (None, None);
    let mut wrong = BTreeMap::new();
    match measure.bench(&typed.raw(), sure) {
        Bench::Missing(all) => {
            let names: Vec<&str> = all.iter().map(|i| i.plain).collect();
            missing = Some(names.join("; "));
        }
        Bench::Wrong(by_input, together) => {
            wrong = by_input;
            wrong_together = together.map(|why| in_words(measure, &why));
        }
        Bench::Says(given, out) => {
            follows = Some(says(k, measure, (&given, &out), sure));
            before_after = moves(k, measure, &out, to);
        }
    }
    let drawn = typed.drawing();
    let (inputs, more) = typed.views(&drawn, &wrong);
    let carried = carried(fields);
    let hold = measure.card.hold;
    let mut sent = typed.parameters();
    sent.extend(carried.clone());
    MeasurePage {
        title: show::capital(measure.plain),
        hold: words::hold(hold).0,
        hold_href: format!("{}#{}", urls::with(urls::BENCH, &carried), hold.id()),
        bench: urls::with(urls::BENCH, &carried),
        handbook: urls::handbook_measure(measure.id),
        sheet: format!("{}/sheet", urls::measure(measure.id)),
        plain_address: urls::with(&urls::measure(measure.id), &carried),
        action: urls::measure(measure.id),
        taken: taken(&more),
        open: more.iter().any(|i| i.error.is_some()),
        inputs,
        more,
        safety: show::sentence(measure.safety),
        not: show::sentence(measure.not),
        example: example(measure, &carried),
        missing,
        wrong: wrong_together,
        keepings: keepings(k, measure, follows.as_ref(), to),
        says: follows,
        moves: before_after,
        sure,
        sent,
        cases: Vec::new(),
        machines: Vec::new(),
        case: to.case.as_ref().map(|c| c.head()),
        machine: to.machine.as_ref().map(|m| m.name.clone()),
        past: over_time(k, measure, to),
        drawing: drawn.svg,
        error: None,
    }
}

/// The address of the example; empty where there is none.
fn example(measure: &Measure, carried: &[(&'static str, String)]) -> String {
    let mut all = words::example(measure);
    if all.is_empty() {
        return String::new();
    }
    all.extend(carried.iter().cloned());
    urls::with(&urls::measure(measure.id), &all)
}

/// Where what follows may be kept.
fn keepings(k: &Knowledge, measure: &Measure, says: Option<&Says>, to: &For) -> Vec<Keeping> {
    let mut all = Vec::new();
    let Some(says) = says.filter(|s| !s.asks) else {
        return all;
    };
    if let Some(case) = to
        .case
        .as_ref()
        .filter(|c| !c.state.resolved() && says.speaks)
    {
        let check = k.check_id(measure.id).map(|c| &k.check(c).work);
        all.push(Keeping {
            action: case.below(&format!("bench/{}", measure.id)),
            label: format!("Record it in {}", show::case_label(case.row.number)),
            main: true,
            seq: case.state.last_seq,
            minutes: check.map(|w| show::number(w.whole_minutes())),
        });
    }
    if let Some(machine) = &to.machine {
        all.push(Keeping {
            action: urls::in_machine(machine.id, &format!("bench/{}", measure.id)),
            label: match measure.calibrates() {
                true => format!("Keep it as {}'s value", machine.name),
                false => format!("Keep it in {}'s log", machine.name),
            },
            main: all.is_empty(),
            seq: to.log.last().map_or(0, |e| e.seq),
            minutes: None,
        });
    }
    all
}
