//! A trial series: what is known, the next piece, the pieces so far.

use super::next_piece::{self, PieceView};
use super::open_series::{OpenSeries, Recorded};
use super::wall::{Wall, leader, wall};
use crate::form::Fields;
use crate::page_error::PageError;
use crate::pages::{Answer, Page};
use crate::state::AppState;
use crate::words::{next, trial as words};
use crate::{show, urls};
use askama::Template;
use axum::extract::State;
use axum::response::Html;
use suspect_core::knowledge::Knowledge;
use suspect_core::planning::Workshop;
use suspect_core::series::Piece;
use suspect_core::trials::{
    CONTRADICTION_DB, Course, Finding, Goal, Planned, Set, State as Known, Weighing, work_around,
};
use suspect_store::think;

/// A piece in the list.
struct PieceLine {
    label: String,
    href: String,
    what: String,
    grades: String,
    graded: bool,
    place: String,
}

/// How it ended: in words, what is kept at which value, a note.
type Ended = (String, Vec<(String, String)>, String);

/// A cell of hardware and configuration.
struct Cell {
    title: String,
    grade: String,
}

#[derive(Template)]
#[template(path = "trials/show.html")]
struct SeriesPage {
    name: String,
    machine: (String, String),
    case: Option<(String, String)>,
    href: String,
    seq: u32,
    /// Why nothing is printed on the machine.
    lock: Option<(String, String)>,
    listed: usize,
    problem: Option<String>,
    known: Option<String>,
    verdict: Option<String>,
    wall: Option<Wall>,
    contradiction: Option<String>,
    next: Option<PieceView>,
    owed: bool,
    others: Vec<PieceView>,
    around: Option<String>,
    cells: Vec<Cell>,
    tells: Vec<(String, String)>,
    pieces: Vec<PieceLine>,
    waiting: usize,
    ended: Option<Ended>,
    end_entry: Option<u32>,
    /// What is enough to find out, and the button that asks for the other: value, words.
    aim: Option<(&'static str, &'static str)>,
    /// Fixes that it proposes to its case, while that is open: name, address.
    fixes: Vec<(String, String)>,
}

/// What is enough to find out, as the button of the other says it.
fn aim(open: &OpenSeries) -> Option<(&'static str, &'static str)> {
    if open.now.ended.is_some() || open.now.list.len() < 2 {
        return None;
    }
    Some(match open.now.goal {
        Goal::Repair => (
            "name",
            "Name both where it takes two; about twice the pieces",
        ),
        Goal::Name => ("repair", "One that cures is enough"),
    })
}

/// Fixes for its case, each where it is done and recorded there.
fn fixes(k: &Knowledge, open: &OpenSeries, case_open: bool) -> Vec<(String, String)> {
    let Some(case) = open.row.case.filter(|_| case_open) else {
        return Vec::new();
    };
    let fix = |x| {
        let fix = k.fix(x);
        let href = urls::in_case(case, &format!("fix/{}", fix.id));
        (fix.work.name.clone(), href)
    };
    open.now.fixes(k).into_iter().map(fix).collect()
}

/// `POST /trials/{series}/aim`: one that cures is enough, or both are named.
pub async fn aim_at(State(state): State<AppState>, open: OpenSeries, fields: Fields) -> Answer {
    let goal = match fields.get("goal") {
        "name" => Goal::Name,
        _ => Goal::Repair,
    };
    let event = suspect_core::series::Event::Aimed { goal };
    match open.record(&state, &fields, &[event], &open.href()).await? {
        Recorded::Done(answer) => Ok(answer),
        Recorded::Not(message) => Err(PageError::Refused {
            message,
            back: open.href(),
        }),
    }
}

/// `GET /trials/{series}`
pub async fn show(State(state): State<AppState>, open: OpenSeries) -> Page {
    let (workshop, _) = state.workshop().await?;
    let k = &state.knowledge;
    let (case, case_open) = match open.row.case {
        Some(id) => {
            let row = state.store.case_row(id).await?;
            let label = show::case_label(row.number);
            let words = format!("{label} {}", row.title);
            (Some((words, urls::case(id))), row.closed_at.is_none())
        }
        None => (None, false),
    };
    let html = think(|| {
        let mut page = empty(&open, case);
        page.fixes = fixes(k, &open, case_open);
        page.lock = open.lock.as_ref().map(|lock| {
            let stop = &k.stops[lock.stop].name;
            let words = format!("{}: {stop}", show::capital(&next::locked_by(lock)));
            (words, next::lock_href(k, open.machine.id, lock))
        });
        match open.now.planned(&workshop) {
            Ok(planned) => fill(&mut page, &open, &planned, &workshop),
            Err(_) if open.now.list.is_empty() => {}
            Err(e) => page.problem = Some(show::sentence(&show::capital(&e.to_string()))),
        }
        page.tells = open
            .now
            .weight(&workshop)
            .causes
            .into_iter()
            .map(|(id, db)| {
                let name = k.cause_id(&id).map_or(id, |c| k.cause(c).name.clone());
                (name, show::decibans(db))
            })
            .collect();
        page.render()
    });
    Ok(Html(html.await?))
}

fn empty(open: &OpenSeries, case: Option<(String, String)>) -> SeriesPage {
    let now = &open.now;
    let pieces: Vec<PieceLine> = now.standing().map(|p| line(open, p)).collect();
    let end_entry = open
        .log
        .iter()
        .rev()
        .find(|e| matches!(e.event, suspect_core::series::Event::Ended { .. }));
    SeriesPage {
        name: now.name.clone(),
        machine: (open.machine.name.clone(), urls::machine(open.machine.id)),
        case,
        href: open.href(),
        seq: now.seq,
        lock: None,
        listed: now.list.len(),
        problem: None,
        known: None,
        verdict: None,
        wall: None,
        contradiction: None,
        next: None,
        owed: false,
        others: Vec::new(),
        around: None,
        cells: Vec::new(),
        tells: Vec::new(),
        waiting: pieces.iter().filter(|p| !p.graded).count(),
        pieces,
        ended: now.ended.as_ref().map(|(how, keep, note)| {
            let kept = keep.iter().map(|k| (k.name.clone(), k.value.clone()));
            (words::ended(*how).to_owned(), kept.collect(), note.clone())
        }),
        aim: aim(open),
        fixes: Vec::new(),
        end_entry: end_entry.map(|e| e.seq).filter(|_| now.ended.is_some()),
    }
}

fn line(open: &OpenSeries, piece: &Piece) -> PieceLine {
    let grades: Vec<String> = piece.looks.iter().map(|l| words::grade(l.grade)).collect();
    PieceLine {
        label: piece.label.to_string(),
        href: open.of_piece(piece.label, ""),
        what: next_piece::what(&open.now, piece),
        graded: !grades.is_empty(),
        grades: grades.join(", "),
        place: piece.made.place.clone(),
    }
}

/// What is reckoned of a list that makes a plan.
fn fill(page: &mut SeriesPage, open: &OpenSeries, planned: &Planned, workshop: &Workshop) {
    let course = open.now.course(planned);
    page.wall = Some(wall(
        &open.now,
        planned,
        &course,
        &open.below("differences"),
    ));
    page.known = Some(leader(&open.now, planned, &course));
    page.cells = cells(open, planned);
    let verdict = course.verdict(open.now.goal);
    page.verdict =
        (verdict.state == Known::Proven).then(|| words::proven(&open.now, planned, verdict));
    page.owed = matches!(verdict.state, Known::Owes(_));
    if verdict.finding == Finding::ComesAndGoes && verdict.state == Known::Proven {
        return;
    }
    page.contradiction = (course.contradiction_db() >= CONTRADICTION_DB)
        .then(|| contradiction(open, planned, &course));
    if page.lock.is_some() || open.now.ended.is_some() {
        return;
    }
    if page.owed || page.verdict.is_some() {
        let owed = course.next(open.now.goal);
        page.next = owed.map(|p| next_piece::view(open, planned, &course, &p, workshop));
        return;
    }
    let weighing = course.weighing(open.now.goal);
    let best = next_piece::first_offer(&course, &weighing, planned);
    let best = best.unwrap_or_else(|| weighing.best());
    page.next = Some(next_piece::view(open, planned, &course, &best, workshop));
    let all = next_piece::others(open, planned, &course, (&weighing, &best), workshop);
    page.others = all;
    page.around = around(open, planned, &course, &weighing);
}

/// Which piece the leader explains worst, to be repeated with the baseline.
fn contradiction(open: &OpenSeries, planned: &Planned, course: &Course) -> String {
    let worst = course
        .worst_explained()
        .and_then(|k| open.now.looks(planned).get(k).cloned());
    let also = worst.map_or_else(String::new, |l| format!(", and {} once more", l.piece));
    format!(
        "The results contradict each other ({}): print the baseline again{also}.",
        show::decibans(course.contradiction_db())
    )
}

/// "Living with the old value is cheaper from here."
fn around(
    open: &OpenSeries,
    planned: &Planned,
    course: &Course,
    weighing: &Weighing,
) -> Option<String> {
    let around = work_around(course, &weighing.best());
    let names = open.now.names(planned, around.old);
    // Where nobody said what a good value costs for good, living with all of them is no advice.
    let priced = planned.plan.units.iter().any(|u| u.live > 0.0);
    (priced && around.stop() && !names.is_empty()).then(|| {
        format!(
            "Living with {} at the good value costs {}, going on {}: it is cheaper to stop here.",
            names.join(", "),
            show::minutes(around.price),
            show::minutes(around.going_on)
        )
    })
}

/// Hardware and configuration: four cells, with what stands in them.
fn cells(open: &OpenSeries, planned: &Planned) -> Vec<Cell> {
    let units = &planned.plan.units;
    let [a, b] = units.as_slice() else {
        return Vec::new();
    };
    let graded = |names: [bool; 2]| {
        let units: Set = names
            .iter()
            .enumerate()
            .filter(|(_, old)| **old)
            .map(|(i, _)| i)
            .collect();
        let old = open.now.names(planned, units);
        let pieces = open.now.standing().filter(|p| {
            p.made.old.len() == old.len() && p.made.old.iter().all(|n| old.contains(n))
        });
        let grades: Vec<String> = pieces
            .flat_map(|p| &p.looks)
            .map(|l| words::grade(l.grade))
            .collect();
        match grades.is_empty() {
            true => "not printed".to_owned(),
            false => grades.join(", "),
        }
    };
    let word = |old: bool| if old { "good" } else { "bad" };
    [[true, true], [true, false], [false, true], [false, false]]
        .into_iter()
        .map(|old| Cell {
            title: format!("{} {}, {} {}", a.name, word(old[0]), b.name, word(old[1])),
            grade: graded(old),
        })
        .collect()
}
