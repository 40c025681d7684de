//! The case: line-up, ledger of the chosen suspect, next step, history, cost so far.

use crate::pages::Page;
use crate::pages::case::glance::{Glance, glance};
use crate::pages::case::ledger::{Ledger, ledger};
use crate::pages::case::next_step::{
    NextKind, NextStep, OtherStep, Together, elsewhere, next_step, others, together,
};
use crate::pages::case::plan::{Outlook, outlook};
use crate::pages::case::same_spool::{self, SpoolNote};
use crate::pages::case::shortly::{self, ShortlyView};
use crate::pages::case::{build, facts_line};
use crate::pages::doing::stuck::{ChangeView, to_no_avail, why_words};
use crate::pages::help::suggestions::{Hearsay, hearsay};
use crate::pages::open_case::{CaseHead, OpenCase};
use crate::pages::parts::history::{HistoryDay, LastEntry, history, last_entry};
use crate::pages::parts::line_up::{LineUpView, view};
use crate::pages::parts::link::Link;
use crate::pages::parts::pictures::{PictureCard, cards};
use crate::pages::parts::print_map;
use crate::pages::parts::series::{self, SeriesLinks};
use crate::pages::parts::timers::{TimerView, timers};
use crate::state::AppState;
use crate::words::{evidence, outcome, proving, work};
use crate::{show, urls};
use askama::Template;
use axum::extract::{Query, State};
use axum::response::Html;
use std::collections::BTreeMap;
use suspect_core::case::{Analysis, HeldAnswer, PutOff, Status, WorkId, before_last, follow};
use suspect_core::knowledge::{CauseId, Family};
use suspect_store::series::Which;
use suspect_store::think;

#[derive(Template)]
#[template(path = "case/show.html")]
struct CasePage {
    head: CaseHead,
    machine: String,
    machine_href: String,
    facts_line: String,
    closed: Option<Closed>,
    /// What changed in the machine's build that the case does not know.
    build_news: Vec<String>,
    /// What was changed on the machine before the case began.
    shortly: Option<ShortlyView>,
    /// The spool, where it is one of the shelf.
    spool: Option<SpoolNote>,
    out_of_service: Option<String>,
    stuck: Option<String>,
    resting: Option<String>,
    outlook: Option<Outlook>,
    together: Option<Together>,
    to_no_avail: Vec<ChangeView>,
    timers: Vec<TimerView>,
    parts_out: Vec<String>,
    set_aside: Vec<PutOffView>,
    ordinary: Option<Ordinary>,
    /// The drawing of a print, while nothing is known.
    drawing: Option<String>,
    line_up: LineUpView,
    ledger: Option<Ledger>,
    /// Facts that hardly go together.
    clashes: Vec<String>,
    /// "Does anything else look wrong?", where that comes first.
    glance: Option<Glance>,
    next: NextStep,
    /// Anything may be done: nothing holds the machine, no proof is due.
    choice: bool,
    others: Vec<OtherStep>,
    history: Vec<HistoryDay>,
    last_entry: Option<LastEntry>,
    spent: String,
    to_go: String,
    lost: String,
    /// What the failed print cost, where somebody told.
    failed: Option<String>,
    money: Option<String>,
    intake_href: String,
    hearsay: Vec<Hearsay>,
    /// Suggestions nobody answered yet.
    unheard: usize,
    pictures: Vec<PictureCard>,
    /// How far the proof of the last fix is.
    proof: Option<ProofState>,
    /// What prints since a fix that did not mend it say, and whether "improved" may be said.
    weaker: Option<(String, bool)>,
    /// Print files: name and address.
    files: Vec<(String, String)>,
    /// The largest print file that is read, MB.
    megabytes: u64,
    trials: SeriesLinks,
}

/// A step that is not done now.
struct PutOffView {
    work: WorkId,
    name: String,
    why: &'static str,
}

/// The leader is no fault but how the process looks.
struct Ordinary {
    name: Link,
    why: String,
    unless: String,
}

/// How far the proof of a fix is.
struct ProofState {
    so_far: Option<String>,
    missing: Option<String>,
}

struct Closed {
    words: String,
    /// A fix is said to have done it: it can come undone.
    mended: bool,
    /// It is time to ask whether it held.
    asks: bool,
    /// What was answered when it asked.
    held: Vec<String>,
    /// It held as long as anybody watches: a return is a case of its own.
    new_trouble: bool,
    left_out: Option<String>,
    cause: Option<Link>,
    fix: Option<String>,
    note: String,
}

/// `GET /cases/{id}?suspect=…`
pub async fn show(
    State(state): State<AppState>,
    case: OpenCase,
    Query(query): Query<BTreeMap<String, String>>,
) -> Page {
    let mut analysis = case.analysis(&state).await;
    let elsewhere = elsewhere(&state.knowledge, &mut analysis);
    let asked = query.get("suspect").map(String::as_str);
    let next = NextStep {
        elsewhere,
        ..next_step(&state, &case, &analysis)
    };
    let outlook = match next.is_planned() {
        true => {
            let ahead = || follow(&state.knowledge, &case.state, &analysis, &case.workshop, 1);
            Some(outlook(&state, &analysis, &think(ahead).await))
        }
        false => None,
    };
    let ghosts = think(|| {
        before_last(
            &state.knowledge,
            &case.log,
            case.state.facts.learned.as_ref(),
        )
    })
    .await;
    let chosen = chosen(&state, &case, &analysis, asked);
    let chosen_id = chosen.map(|c| state.knowledge.cause(c).id.clone());
    let line_up = view(
        &state.knowledge,
        &analysis.line_up,
        ghosts.as_ref(),
        chosen_id.as_deref(),
        |cause| urls::case_suspect(case.id, cause),
    );
    let ledger = chosen.and_then(|c| ledger(&state.knowledge, &case, &analysis, c));
    let page = page(&state, &case, &analysis, next);
    let page = CasePage {
        trials: series::links(&state, Which::Case(case.id)).await?,
        shortly: shortly::view(&state, &case).await?,
        spool: same_spool::view(&state, &case).await?,
        outlook,
        line_up,
        ledger,
        ..page
    };
    Ok(Html(page.render()?))
}

/// The suspect whose ledger is opened: the one asked for, the one it was, else the leader.
fn chosen(
    state: &AppState,
    case: &OpenCase,
    analysis: &Analysis,
    asked: Option<&str>,
) -> Option<CauseId> {
    let k = &state.knowledge;
    let was = match &case.state.status {
        Status::Resolved(r) => r.cause.as_deref(),
        _ => None,
    };
    asked
        .and_then(|id| k.cause_id(id))
        .or_else(|| was.and_then(|id| k.cause_id(id)))
        .or_else(|| analysis.line_up.leader().map(|l| l.cause))
}

/// The page without what takes thought of its own.
fn page(state: &AppState, case: &OpenCase, analysis: &Analysis, next: NextStep) -> CasePage {
    let k = &state.knowledge;
    let now = &case.state;
    let open = matches!(now.status, Status::Open) && now.held().is_empty();
    let choice = next.is_planned() || matches!(next.kind, NextKind::GiveUp);
    CasePage {
        head: case.head(),
        machine: case.machine.name.clone(),
        machine_href: urls::machine(case.machine.id),
        trials: SeriesLinks::default(),
        facts_line: facts_line::of(case),
        closed: closed(state, case),
        build_news: build::news(case),
        shortly: None,
        spool: None,
        out_of_service: case.machine.out_of_service.clone(),
        stuck: why_words(case, &analysis.line_up).filter(|_| open),
        resting: now.resting.clone().filter(|_| !now.resolved()),
        outlook: None,
        together: together(state, case, analysis).filter(|_| next.is_planned()),
        to_no_avail: match open {
            true => to_no_avail(k, case),
            false => Vec::new(),
        },
        timers: timers(k, case),
        parts_out: now.parts_out.iter().map(|(_, part)| part.clone()).collect(),
        set_aside: set_aside(state, case),
        ordinary: ordinary(state, case, analysis).filter(|_| open),
        drawing: matches!(next.kind, NextKind::Tell).then(|| print_map::map(k, case, None)),
        line_up: LineUpView::default(),
        ledger: None,
        choice,
        others: match choice {
            true => others(state, case, analysis),
            false => Vec::new(),
        },
        clashes: evidence::clashing(k, &now.facts),
        glance: glance(state, case, analysis).filter(|_| next.is_planned()),
        next,
        history: history(k, case),
        last_entry: last_entry(k, case),
        spent: show::minutes(now.minutes),
        to_go: match now.status {
            Status::Open if open => show::minutes(analysis.plan.expected_minutes),
            Status::Open => "locked".into(),
            _ => "–".into(),
        },
        lost: show::grams(now.grams),
        failed: now.lost.as_ref().map(proving::loss),
        money: show::money(now.money, &case.workshop.currency),
        intake_href: urls::intake(case.id, "", ""),
        unheard: unheard(case),
        hearsay: hearsay(k, case),
        pictures: cards(case),
        files: files(case),
        proof: proof(case),
        weaker: weaker(case),
        megabytes: suspect_print_files::Limits::default().bytes >> 20,
    }
}

/// Suggestions nobody answered yet.
fn unheard(case: &OpenCase) -> usize {
    match case.state.resolved() {
        true => 0,
        false => {
            let all = case.state.suggestions.iter();
            all.filter(|s| s.taken.is_none()).count()
        }
    }
}

/// Says why nothing need be done while an ordinary trait leads.
fn ordinary(state: &AppState, case: &OpenCase, analysis: &Analysis) -> Option<Ordinary> {
    let leader = state.knowledge.cause(analysis.line_up.leader()?.cause);
    (leader.family == Family::Normal).then(|| Ordinary {
        name: Link {
            href: urls::why(case.id, &leader.id),
            name: leader.name.clone(),
        },
        why: leader.mechanism.clone(),
        unless: leader.clears.clone(),
    })
}

fn set_aside(state: &AppState, case: &OpenCase) -> Vec<PutOffView> {
    let view = |(step, why): (&WorkId, &PutOff)| PutOffView {
        work: step.clone(),
        name: work::name(&state.knowledge, step),
        why: outcome::put_off(*why),
    };
    match case.state.resolved() {
        true => Vec::new(),
        false => case.state.set_aside.iter().map(view).collect(),
    }
}

fn closed(state: &AppState, case: &OpenCase) -> Option<Closed> {
    let Status::Resolved(r) = &case.state.status else {
        return None;
    };
    let k = &state.knowledge;
    let cause = r.cause.as_deref().map(|id| Link {
        href: match k.cause_id(id) {
            Some(_) => urls::why(case.id, id),
            None => String::new(),
        },
        name: work::cause(k, id),
    });
    let ask_at = case.state.ask_at();
    let asked = r.asked.iter().map(|(at, answer)| {
        let words = match answer {
            HeldAnswer::Held => "It held",
            HeldAnswer::CannotSay => "Nobody could say",
        };
        format!("{words}, {}", show::date(*at))
    });
    Some(Closed {
        mended: r.outcome.mended(),
        asks: ask_at.is_some_and(|at| at <= state.now()),
        held: asked.collect(),
        new_trouble: case.state.new_trouble(state.now()),
        left_out: case.state.left_out.clone(),
        words: format!(
            "Closed as {} on {}",
            outcome::outcome(r.outcome),
            show::date(r.at)
        ),
        cause,
        fix: r.fix.as_deref().map(|id| work::fix(k, id)),
        note: r.note.clone(),
    })
}

/// How far the proof of the last fix is; how often the fault struck must be known first.
fn proof(case: &OpenCase) -> Option<ProofState> {
    let proving = case.state.proving()?;
    Some(ProofState {
        so_far: proving::so_far(&proving),
        missing: match case.state.strikes {
            Some(_) => proving::missing(&proving),
            None => Some("Say first how often it struck: what proves it hangs on that.".into()),
        },
    })
}

/// What prints since the last fix say where the fault showed again and they may go on.
fn weaker(case: &OpenCase) -> Option<(String, bool)> {
    let open = case.state.status == Status::Open && case.state.weakened_by().is_some();
    let told = proving::rarer(&case.state).filter(|_| open)?;
    Some((told, case.state.improved()))
}

/// The print files of a case.
fn files(case: &OpenCase) -> Vec<(String, String)> {
    let of_case = [("case", case.id.to_string())];
    let files = case.state.files.iter().filter_map(|f| {
        let href = urls::print_file(f.id.parse().ok()?);
        Some((f.name.clone(), urls::with(&href, &of_case)))
    });
    files.collect()
}
