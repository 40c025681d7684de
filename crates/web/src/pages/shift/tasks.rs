//! What needs hands, over all machines: open cases with their courses, the round, closed cases that
//! ask.

use crate::expecting::{Key, Known};
use crate::page_error::PageError;
use crate::pages::parts::case_line::lock_of;
use crate::state::AppState;
use crate::words::{next, title};
use crate::{show, urls};
use std::sync::Arc;
use suspect_core::book::due;
use suspect_core::case::{Holder, Lock, analyse, replay};
use suspect_core::knowledge::Knowledge;
use suspect_core::people::{Deed, Needs};
use suspect_core::planning::Workshop;
use suspect_core::shift::{Act, Expected, Job, JobId, Piece, expected};
use suspect_store::lists::CaseRow;
use suspect_store::machines::Machine;
use suspect_store::{Uuid, think};
use time::OffsetDateTime;

/// Open cases that are planned.
const MOST_CASES: u64 = 200;
/// Closed cases that ask, counted so far.
const MOST_ASKING: u64 = 100;
/// Minutes to ask once whether a fix held.
const ASKING: f64 = 1.0;
/// A minute of the round and of asking is worth so much of a machine's that stands.
const ROUND: f64 = 0.15;
const ASK: f64 = 0.05;

/// Something to be done.
pub struct Task {
    pub id: JobId,
    /// "C-031 · Steps in the layers", "The round".
    pub name: String,
    /// "C-031", "Round": for a block of the timetable.
    pub short: String,
    pub href: String,
    /// Its machine, by name and address.
    pub machine: Option<(String, String)>,
    /// What comes next, and where.
    pub next: String,
    pub next_href: String,
    /// What each piece is.
    pub acts: Vec<String>,
    /// Who may do the first.
    pub needs: Needs,
    /// Minutes of hands and of all, as far as can be expected.
    pub hands: f64,
    pub whole: f64,
    /// It waits until then.
    pub until: Option<OffsetDateTime>,
    /// Left for another day by its own case.
    pub resting: bool,
    /// The machine is back when it is done.
    pub back: bool,
    pub job: Job,
}

/// A case in which nothing can be done: something else locks its machine.
pub struct Blocked {
    pub name: String,
    pub href: String,
    pub why: String,
}

/// Everything that could be done.
pub struct Tasks {
    pub all: Vec<Task>,
    pub blocked: Vec<Blocked>,
}

struct Open<'a> {
    row: &'a CaseRow,
    machine: &'a Machine,
    lock: Option<Lock>,
}

/// Gathers what needs hands.
///
/// # Errors
/// When the database cannot be reached.
pub async fn tasks(state: &AppState) -> Result<Tasks, PageError> {
    let (workshop, settings) = state.workshop().await?;
    let rows = state.store.open_cases(MOST_CASES).await?;
    let machines = state.store.machines().await?;
    let k = &state.knowledge;
    let open: Vec<Open<'_>> = rows
        .iter()
        .filter_map(|row| {
            let machine = machines.iter().find(|m| m.id == row.machine_id)?;
            let others = rows
                .iter()
                .filter(|r| r.machine_id == machine.id && r.id != row.id);
            let lock = lock_of(k, machine, others);
            Some(Open { row, machine, lock })
        })
        .collect();
    let known = courses(state, &open, (&workshop, settings)).await?;
    let (mut all, mut blocked) = (Vec::new(), Vec::new());
    let worth = workshop.money_per_standing_hour.max(0.01) / 60.0;
    for (open, known) in open.iter().zip(known) {
        match &known.course {
            Some(course) => all.push(of_case(state, open, (&known, course), worth, &machines)),
            None => blocked.extend(of_blocked(open)),
        }
    }
    all.extend(round(state, worth, machines.len()).await?);
    all.extend(asking(state, worth, machines.len() + 1).await?);
    Ok(Tasks { all, blocked })
}

/// What is to be expected of each case: what is known already, and the rest reckoned.
async fn courses(
    state: &AppState,
    open: &[Open<'_>],
    (workshop, settings): (&Workshop, u32),
) -> Result<Vec<Arc<Known>>, PageError> {
    let (mut all, mut new) = (Vec::new(), Vec::new());
    let (k, now) = (&state.knowledge, state.now());
    for Open { row, machine, lock } in open {
        let key = Key::of(row, lock.is_some(), settings);
        if let Some(known) = state.expecting.known(row.id, &key) {
            all.push(known);
            continue;
        }
        let log = state.store.case_log(row.id).await?;
        let learned = state.store.learned(k, machine.id, now).await?;
        let reckoned = think(|| {
            let mut case = replay(k, &log);
            case.locked_by.clone_from(lock);
            case.facts.learned = learned;
            let analysis = analyse(k, &case, workshop);
            let course = expected(k, &case, &analysis, workshop, now);
            let what = analysis.next.what;
            Known {
                what,
                course,
                at: now,
            }
        });
        let known = Arc::new(reckoned.await);
        new.push((row.id, key, Arc::clone(&known)));
        all.push(known);
    }
    let ids: Vec<Uuid> = open.iter().map(|o| o.row.id).collect();
    state.expecting.keep(new, &ids);
    Ok(all)
}

fn of_case(
    state: &AppState,
    open: &Open<'_>,
    (known, course): (&Known, &Expected),
    worth: f64,
    machines: &[Machine],
) -> Task {
    let (k, now) = (&state.knowledge, state.now());
    let Open { row, machine, .. } = open;
    let next = next::words(k, row.id, machine.id, &known.what);
    let since = (now - known.at).as_seconds_f64() / 60.0;
    let ready = (course.ready - since).max(0.0);
    let pieces: Vec<Piece> = course.pieces.iter().map(|(_, p)| *p).collect();
    let label = show::case_label(row.number);
    Task {
        id: JobId::Case(row.id.to_string()),
        name: format!("{label} · {}", title(&row.title, &machine.name)),
        short: label,
        href: urls::case(row.id),
        machine: Some((machine.name.clone(), urls::machine(machine.id))),
        next: next.name,
        next_href: next.href,
        acts: course
            .pieces
            .iter()
            .map(|(act, _)| act_words(k, *act))
            .collect(),
        needs: pieces.first().map_or(Needs::of(Deed::Close), |p| p.needs),
        hands: pieces.iter().map(|p| p.hands).sum(),
        whole: ready + pieces.iter().map(|p| p.hands + p.wait).sum::<f64>(),
        until: (ready > 0.0).then(|| now + time::Duration::seconds_f64(ready * 60.0)),
        resting: row.resting,
        back: course.back,
        job: Job {
            machine: machines
                .iter()
                .position(|m| m.id == machine.id)
                .unwrap_or(0),
            worth: if course.back { worth } else { worth * ASK },
            ready,
            stop: course.stop,
            taken: None,
            pieces,
        },
    }
}

/// What a piece is, in few words.
fn act_words(k: &Knowledge, act: Act) -> String {
    match act {
        Act::ClearStop(stop) => k.stops[stop].work.name.clone(),
        Act::Tell => "Say what you see".into(),
        Act::Check(check) => k.check(check).work.name.clone(),
        Act::Fix(fix) => k.fix(fix).work.name.clone(),
        Act::Prove(_) => "Print and compare".into(),
        Act::Compare => "Look what came of it".into(),
        Act::Close => "Close the case".into(),
        Act::Further => "What else may be needed, on average".into(),
        Act::AskMaker => "Ask the maker".into(),
    }
}

fn of_blocked(open: &Open<'_>) -> Option<Blocked> {
    let lock = open.lock.as_ref()?;
    let why = match &lock.holder {
        Holder::Case { number, .. } => format!("waits for {}", show::case_label(*number)),
        Holder::Build => "waits for the machine's own stop".to_string(),
    };
    Some(Blocked {
        name: format!(
            "{} · {}",
            show::case_label(open.row.number),
            title(&open.row.title, &open.machine.name)
        ),
        href: urls::case(open.row.id),
        why,
    })
}

/// One piece of hands, at no machine.
fn simple(machine: usize, worth: f64, hands: f64) -> Job {
    Job {
        machine,
        worth,
        ready: 0.0,
        stop: false,
        taken: None,
        pieces: vec![Piece {
            hands,
            wait: 0.0,
            needs: Needs::of(Deed::Work),
        }],
    }
}

/// A job of one piece that belongs to no case: its name, the same shortly, its address; what is
/// next, what its piece does.
fn of_the_shop(
    id: JobId,
    [name, short, href]: [&str; 3],
    [next, act]: [String; 2],
    job: Job,
) -> Task {
    let minutes = job.pieces.iter().map(|p| p.hands).sum();
    Task {
        id,
        name: name.into(),
        short: short.into(),
        href: href.into(),
        machine: None,
        next,
        next_href: href.into(),
        acts: vec![act],
        needs: Needs::of(Deed::Work),
        hands: minutes,
        whole: minutes,
        until: None,
        resting: false,
        back: false,
        job,
    }
}

/// The round, where anything is due.
async fn round(state: &AppState, worth: f64, place: usize) -> Result<Option<Task>, PageError> {
    let (k, now) = (&state.knowledge, state.now());
    let books = state.store.books(k).await?;
    let (mut many, mut minutes) = (0, 0.0);
    for shelved in &books.all {
        if shelved.machine.out_of_service.is_some() {
            continue;
        }
        let kind = books.kind(&shelved.machine.model);
        let states = books.states(shelved.machine.id, now);
        let all = due(k, &shelved.context, &shelved.book, kind, &states, now);
        let over: Vec<_> = all.iter().filter(|d| d.now()).collect();
        many += over.len();
        minutes += over.iter().map(|d| d.task.minutes).sum::<f64>();
    }
    let tasks = if many == 1 { "task" } else { "tasks" };
    let job = simple(place, worth * ROUND, minutes);
    let told = [
        format!("{many} {tasks} due"),
        format!("Upkeep, {many} {tasks}"),
    ];
    let named = ["The round", "Round", urls::ROUND];
    Ok((many > 0).then(|| of_the_shop(JobId::Round, named, told, job)))
}

/// Closed cases that ask whether their fix held.
async fn asking(state: &AppState, worth: f64, place: usize) -> Result<Option<Task>, PageError> {
    let now = state.now();
    let rows = state.store.asking(now, MOST_ASKING).await?;
    let many = rows
        .iter()
        .filter(|r| r.ask_at.is_some_and(|at| at <= now))
        .count();
    let minutes = many as f64 * ASKING;
    let cases = if many == 1 { "case asks" } else { "cases ask" };
    let job = simple(place, worth * ASK, minutes);
    let told = [
        format!("{many} closed {cases}"),
        format!("Ask again, {many}"),
    ];
    let named = ["Did it hold?", "Ask", urls::AGAIN];
    Ok((many > 0).then(|| of_the_shop(JobId::Ask, named, told, job)))
}
