//! Ending a series with settings to keep, and its report.

use super::open_series::{OpenSeries, Recorded};
use super::wall::leader;
use crate::form::Fields;
use crate::page_error::PageError;
use crate::pages::{Answer, Page, again};
use crate::state::AppState;
use crate::words::trial as words;
use askama::Template;
use axum::extract::State;
use axum::http::header;
use axum::response::{Html, IntoResponse};
use suspect_core::machine::MachineEvent;
use suspect_core::planning::Workshop;
use suspect_core::series::{Event, How, Keep, report};
use suspect_core::trials::{Finding, Set, State as Known, work_around};
use suspect_store::{Stamp, think};

struct Row {
    name: String,
    old: String,
    new: String,
    keep_old: bool,
}

#[derive(Template)]
#[template(path = "trials/finish.html")]
struct FinishPage {
    name: String,
    href: String,
    seq: u32,
    known: String,
    hows: Vec<(&'static str, &'static str, bool)>,
    rows: Vec<Row>,
    /// Where the piece with everything back but the guilty is made, while it was not printed.
    counter_proof: Option<String>,
    note: String,
    problem: Option<String>,
}

/// What a series would end as, by what is known now: the end, and what would stay at its good
/// value.
fn proposed(open: &OpenSeries, workshop: &Workshop) -> (How, Vec<String>, String) {
    let Ok(planned) = open.now.planned(workshop) else {
        return (How::LeftOff, Vec::new(), String::new());
    };
    let course = open.now.course(&planned);
    let verdict = course.verdict(open.now.goal);
    let known = leader(&open.now, &planned, &course);
    let (how, set) = match (verdict.finding, verdict.state) {
        (Finding::Set(set), Known::Proven) => (How::Solved, planned.plan.close(set)),
        (Finding::Together(a, b), Known::Proven) => {
            // Either of the two put back cures: the one that is cheaper to live without.
            let price = |unit: usize| planned.plan.units[unit].live;
            let one = if price(a) <= price(b) { a } else { b };
            (How::Solved, planned.plan.close(Set::one(one)))
        }
        (Finding::Elsewhere, Known::Proven) => (How::Elsewhere, Default::default()),
        (Finding::ComesAndGoes, Known::Proven) => (How::ComesAndGoes, Default::default()),
        _ => match work_around(&course, &course.best(open.now.goal)) {
            around if around.stop() && planned.plan.units.iter().any(|u| u.live > 0.0) => {
                (How::LivingWithIt, around.old)
            }
            _ => (How::LeftOff, Default::default()),
        },
    };
    (how, open.now.names(&planned, set), known)
}

/// `GET /trials/{series}/finish`
pub async fn form(State(state): State<AppState>, open: OpenSeries) -> Page {
    let (workshop, _) = state.workshop().await?;
    let fields = Fields::default();
    Ok(Html(think(|| page(&open, &fields, &workshop, None)).await?))
}

fn page(
    open: &OpenSeries,
    fields: &Fields,
    workshop: &Workshop,
    problem: Option<String>,
) -> Result<String, PageError> {
    let (how, old, known) = proposed(open, workshop);
    let sent: Vec<&str> = fields.all("old").collect();
    let chosen = How::of(fields.get("how")).unwrap_or(how);
    let row = |l: &suspect_core::series::Listed| {
        let d = &l.difference;
        let value = |v: &Option<String>, w: &str| v.clone().unwrap_or_else(|| w.to_owned());
        Row {
            keep_old: match problem.is_some() {
                true => sent.contains(&d.name.as_str()),
                false => old.contains(&d.name),
            },
            name: d.name.clone(),
            old: value(&d.old, "the good value"),
            new: value(&d.new, "the new value"),
        }
    };
    let page = FinishPage {
        name: open.now.name.clone(),
        href: open.href(),
        seq: open.now.seq,
        known,
        hows: How::ALL
            .iter()
            .map(|(h, id)| (*id, words::ended(*h), *h == chosen))
            .collect(),
        rows: open.now.list.iter().map(row).collect(),
        counter_proof: (how == How::Solved && !countered(open, &old))
            .then(|| counter_href(open, &old)),
        note: fields.get("note").to_owned(),
        problem,
    };
    Ok(page.render()?)
}

/// Whether the piece with everything back but the guilty was printed.
fn countered(open: &OpenSeries, guilty: &[String]) -> bool {
    let all = open.now.list.len();
    open.now.standing().any(|p| {
        p.made.old.len() + guilty.len() == all && guilty.iter().all(|g| !p.made.old.contains(g))
    })
}

/// The page on which that piece is weighed and made.
fn counter_href(open: &OpenSeries, guilty: &[String]) -> String {
    let mut query = form_urlencoded::Serializer::new(String::new());
    query.append_pair("ask", "1");
    let others = open.now.list.iter().map(|l| &l.difference.name);
    for name in others.filter(|n| !guilty.contains(n)) {
        query.append_pair("old", name);
    }
    format!("{}?{}", open.below("choose"), query.finish())
}

/// `POST /trials/{series}/finish`
pub async fn end(State(state): State<AppState>, open: OpenSeries, fields: Fields) -> Answer {
    let (workshop, _) = state.workshop().await?;
    let Some(how) = How::of(fields.get("how")) else {
        let why = "Choose what the series found.".to_owned();
        return Ok(again(page(&open, &fields, &workshop, Some(why))?));
    };
    let old: Vec<&str> = fields.all("old").collect();
    let keep = open.now.list.iter().map(|l| {
        let d = &l.difference;
        let is_old = old.contains(&d.name.as_str());
        let value = if is_old { &d.old } else { &d.new };
        let otherwise = if is_old {
            "the good value"
        } else {
            "the new value"
        };
        Keep {
            name: d.name.clone(),
            value: value.clone().unwrap_or_else(|| otherwise.to_owned()),
            old: is_old,
        }
    });
    let keep: Vec<Keep> = keep.collect();
    let event = Event::Ended {
        how,
        keep: keep.clone(),
        note: fields.get("note").trim().to_owned(),
    };
    match open.record(&state, &fields, &[event], &open.href()).await? {
        Recorded::Done(answer) => {
            if open.now.ended.is_none() {
                settle(&state, &open, keep).await?;
            }
            Ok(answer)
        }
        Recorded::Not(why) => Ok(again(page(&open, &fields, &workshop, Some(why))?)),
    }
}

/// The machine's log says what is kept.
async fn settle(state: &AppState, open: &OpenSeries, keep: Vec<Keep>) -> Result<(), PageError> {
    let event = MachineEvent::Settled {
        series: open.row.id.to_string(),
        name: open.now.name.clone(),
        keep,
    };
    let stamp = Stamp {
        at: state.now(),
        by: crate::screen::who(),
        touch: None,
    };
    let k = &state.knowledge;
    state
        .store
        .append_to_machine(k, open.machine.id, None, &event, stamp)
        .await?;
    Ok(())
}

/// `GET /trials/{series}/report.md`: for those who make the firmware or the profile; no names.
pub async fn markdown(State(state): State<AppState>, open: OpenSeries) -> Answer {
    let (workshop, _) = state.workshop().await?;
    let machine = if open.machine.model.is_empty() {
        "not said"
    } else {
        &open.machine.model
    };
    let text = think(|| report(&open.now, machine, &workshop)).await;
    let head = [
        (header::CONTENT_TYPE, "text/markdown; charset=utf-8"),
        (
            header::CONTENT_DISPOSITION,
            r#"inline; filename="trials.md""#,
        ),
    ];
    Ok((head, text).into_response())
}
