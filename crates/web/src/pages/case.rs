//! The case: line-up, ledger of the chosen suspect, next step, history, cost so far.

use super::course::{Outlook, outlook};
use super::doing::aside_words;
use super::guide::{TimerView, timers, work_name};
use super::help::{Hearsay, hearsay};
use super::history::{HistoryLine, history, last_entry};
use super::ledger::{Ledger, ledger};
use super::line_up::{LineUpView, view};
use super::next;
use super::pictures::{PictureCard, cards};
use super::recording::outcome_words;
use super::stuck::{ChangeView, to_no_avail, why_words};
use super::work::{self, OutcomeRow, WorkView};
use super::{Link, Opened, Page, opened};
use crate::state::AppState;
use crate::{show, urls};
use askama::Template;
use axum::extract::{Path, Query, State};
use axum::response::Html;
use std::collections::BTreeMap;
use suspect_core::case::{Analysis, Status, What, follow, replay};
use suspect_core::knowledge::CauseId;
use suspect_core::planning::Action;
use suspect_core::ranking::{LineUp, rank};
use suspect_store::{Uuid, think};

/// Steps offered beside the best.
const OTHER_STEPS: usize = 3;

enum NextKind {
    Check {
        outcomes: Vec<OutcomeRow>,
    },
    /// Something else locks the machine: another case, or how it is built.
    Elsewhere {
        by_case: bool,
    },
    Fix {
        cures: String,
    },
    Stop,
    GiveUp,
    Verify,
    Close,
    Done,
}

struct NextStep {
    kind: NextKind,
    /// `check/…` or `fix/…`; empty for what cannot be put off.
    work_id: String,
    href: String,
    action: String,
    plain: String,
    saves: Option<String>,
    work: Option<WorkView>,
}

struct OtherStep {
    href: String,
    name: String,
    minutes: String,
    what: String,
}

#[derive(Template)]
#[template(path = "case.html")]
struct CasePage {
    place: &'static str,
    label: String,
    title: String,
    machine: String,
    facts_line: String,
    seq: u32,
    closed: Option<Closed>,
    /// What changed in the machine's build that the case does not know.
    build_news: Vec<String>,
    build_action: String,
    move_href: String,
    out_of_service: Option<String>,
    machine_href: String,
    stuck: Option<String>,
    stuck_href: String,
    resting: Option<String>,
    outlook: Option<Outlook>,
    plan_href: String,
    together: Option<Together>,
    to_no_avail: Vec<ChangeView>,
    put_back_action: String,
    timers: Vec<TimerView>,
    parts_out: Vec<String>,
    set_aside: Vec<AsideView>,
    aside_action: String,
    take_up_action: String,
    ordinary: Option<Ordinary>,
    line_up: LineUpView,
    ledger: Option<Ledger>,
    next: NextStep,
    others: Vec<OtherStep>,
    history: Vec<HistoryLine>,
    last_entry: Option<u32>,
    spent: String,
    to_go: String,
    lost: String,
    intake_href: String,
    brief_href: String,
    case_id: Uuid,
    weigh_action: String,
    hearsay: Vec<Hearsay>,
    pictures: Vec<PictureCard>,
    note_action: String,
    retract_action: String,
    clear_action: String,
    close_href: String,
}

/// Checks that need the machine in the state the first one brings it into.
struct Together {
    words: String,
    checks: Vec<Link>,
}

/// A step that is not done now.
struct AsideView {
    work: String,
    name: String,
    why: &'static str,
}

/// The leader is no fault but how the process looks.
struct Ordinary {
    name: Link,
    why: String,
    unless: String,
}

struct Closed {
    words: String,
    cause: Option<Link>,
    fix: Option<String>,
    note: String,
    reopen_action: String,
}

/// `GET /cases/{id}?suspect=…`
pub async fn show(
    State(state): State<AppState>,
    Path(id): Path<String>,
    Query(query): Query<BTreeMap<String, String>>,
) -> Page {
    let case = opened(&state, &id).await?;
    let analysis = case.analysis(&state).await;
    let before = before_last(&state, &case).await;
    let chosen = query
        .get("suspect")
        .and_then(|s| state.knowledge.cause_id(s))
        .or_else(|| resolved_cause(&state, &case))
        .or_else(|| analysis.line_up.leader().map(|l| l.cause));
    let chosen_id = chosen.map(|c| state.knowledge.cause(c).id.clone());
    let line_up = view(
        &state.knowledge,
        &analysis.line_up,
        before.as_ref(),
        chosen_id.as_deref(),
        |cause| urls::case_suspect(case.id, cause),
    );
    let next = next_step(&state, &case, &analysis);
    let planning = matches!(next.kind, NextKind::Check { .. } | NextKind::Fix { .. });
    let course = match planning {
        true => {
            let ahead = || follow(&state.knowledge, &case.state, &analysis, &case.workshop, 1);
            Some(think(ahead).await)
        }
        false => None,
    };
    let open = matches!(case.state.status, Status::Open) && case.state.held().is_empty();
    let page = CasePage {
        place: "case",
        label: show::case_label(case.row.number),
        title: case.state.title.clone(),
        machine: case.machine.name.clone(),
        facts_line: facts_line(&case),
        seq: case.state.last_seq,
        closed: closed(&state, &case),
        build_news: build_news(&case),
        build_action: urls::in_case(case.id, "build"),
        move_href: urls::in_case(case.id, "move"),
        out_of_service: case.machine.out_of_service.clone(),
        machine_href: urls::machine(case.machine.id),
        stuck: why_words(&case, &analysis.line_up).filter(|_| open),
        stuck_href: urls::in_case(case.id, "stuck"),
        resting: case
            .state
            .resting
            .clone()
            .filter(|_| !case.state.resolved()),
        outlook: course.as_ref().map(|c| outlook(&state, &analysis, c)),
        plan_href: urls::in_case(case.id, "plan"),
        together: together(&state, &case, &analysis).filter(|_| planning),
        to_no_avail: if open {
            to_no_avail(&state, &case)
        } else {
            Vec::new()
        },
        put_back_action: urls::in_case(case.id, "put-back"),
        timers: timers(&state, &case),
        parts_out: case
            .state
            .parts_out
            .iter()
            .map(|(_, part)| part.clone())
            .collect(),
        set_aside: set_aside(&state, &case),
        aside_action: urls::in_case(case.id, "aside"),
        take_up_action: urls::in_case(case.id, "take-up"),
        ordinary: ordinary(&state, &case, &analysis),
        ledger: chosen.and_then(|c| ledger(&state, &case, &analysis, c)),
        others: if matches!(
            next.kind,
            NextKind::Check { .. } | NextKind::Fix { .. } | NextKind::GiveUp
        ) {
            others(&state, &case, &analysis)
        } else {
            Vec::new()
        },
        next,
        history: history(&state, &case),
        last_entry: last_entry(&case),
        spent: show::minutes(case.state.minutes),
        to_go: match case.state.status {
            Status::Open if case.state.held().is_empty() => {
                show::minutes(analysis.plan.expected_minutes)
            }
            Status::Open => "locked".into(),
            _ => "–".into(),
        },
        lost: show::grams(case.state.grams),
        intake_href: urls::intake(case.id, "", ""),
        brief_href: urls::in_case(case.id, "brief"),
        case_id: case.id,
        weigh_action: urls::in_case(case.id, "weigh"),
        hearsay: hearsay(&state, &case),
        pictures: cards(&case),
        note_action: urls::in_case(case.id, "note"),
        retract_action: urls::in_case(case.id, "retract"),
        clear_action: urls::in_case(case.id, "clear"),
        close_href: urls::in_case(case.id, "close"),
        line_up,
    };
    Ok(Html(page.render()?))
}

/// Says why nothing need be done while an ordinary trait leads an open case.
fn ordinary(state: &AppState, case: &Opened, analysis: &Analysis) -> Option<Ordinary> {
    let leader = state.knowledge.cause(analysis.line_up.leader()?.cause);
    let open = matches!(case.state.status, Status::Open) && case.state.held().is_empty();
    (open && leader.family == "normal").then(|| Ordinary {
        name: Link {
            href: urls::suspect(&leader.id),
            name: leader.name.clone(),
        },
        why: leader.mechanism.clone(),
        unless: leader.clears.clone(),
    })
}

/// The line-up before the last thing that happened, for the ghosts.
pub async fn before_last(state: &AppState, case: &Opened) -> Option<LineUp> {
    // What is only noted while work goes on moves nobody.
    let last_at = case.log.iter().rev().find(|e| !e.event.is_upkeep())?.at;
    // Facts recorded together count as one step.
    let earlier: Vec<_> = case
        .log
        .iter()
        .filter(|e| e.at < last_at)
        .cloned()
        .collect();
    if earlier.is_empty() {
        return None;
    }
    let k = &state.knowledge;
    Some(think(|| rank(k, &replay(k, &earlier).facts)).await)
}

/// "While it is hot": what else is worth a look then.
fn together(state: &AppState, case: &Opened, analysis: &Analysis) -> Option<Together> {
    let k = &state.knowledge;
    let first = analysis.plan.steps.first()?.action.work(k)?;
    let checks = analysis.plan.together.iter().map(|c| Link {
        href: urls::in_case(case.id, &format!("check/{}", k.check_name(*c))),
        name: k.check(*c).work.name.clone(),
    });
    let checks: Vec<Link> = checks.collect();
    let words: Vec<&str> = first.state_words.iter().map(String::as_str).collect();
    (!checks.is_empty()).then(|| Together {
        words: words.join(" and "),
        checks,
    })
}

fn set_aside(state: &AppState, case: &Opened) -> Vec<AsideView> {
    let view = |(work, why): (&String, &suspect_core::case::Aside)| AsideView {
        work: work.clone(),
        name: work_name(state, work),
        why: aside_words(*why),
    };
    if case.state.resolved() {
        Vec::new()
    } else {
        case.state.set_aside.iter().map(view).collect()
    }
}

fn resolved_cause(state: &AppState, case: &Opened) -> Option<CauseId> {
    match &case.state.status {
        Status::Resolved(r) => r.cause.as_ref().and_then(|c| state.knowledge.cause_id(c)),
        _ => None,
    }
}

/// "Heron · Bowden, lined hot end · grey PLA, 205 °C / 55 °C · opened 14:05"
fn facts_line(case: &Opened) -> String {
    let facts = &case.state.facts;
    let words = |field: &str| facts.context.id(field).unwrap_or("").to_string();
    let mut machine: Vec<String> = Vec::new();
    if !words("feed").is_empty() {
        machine.push(if words("feed") == "bowden" {
            "Bowden".into()
        } else {
            "direct feed".into()
        });
    }
    if !words("hotend").is_empty() {
        machine.push(format!("{} hot end", words("hotend")));
    }
    let material = facts.context.get("material").map_or("", |m| m.plain);
    let mut filament = format!("{} {material}", case.state.spool)
        .trim()
        .to_string();
    let heat: Vec<String> = ["nozzle_c", "bed_c"]
        .iter()
        .filter_map(|n| facts.settings.get(n))
        .map(|t| format!("{} °C", show::number(t)))
        .collect();
    if !heat.is_empty() {
        filament = format!("{filament}, {}", heat.join(" / "))
            .trim_start_matches(", ")
            .to_string();
    }
    let opened = case
        .state
        .opened_at
        .map(|at| format!("opened {}", show::date(at)));
    [Some(machine.join(", ")), Some(filament), opened]
        .into_iter()
        .flatten()
        .filter(|p| !p.is_empty())
        .collect::<Vec<_>>()
        .join(" · ")
}

fn closed(state: &AppState, case: &Opened) -> Option<Closed> {
    let Status::Resolved(r) = &case.state.status else {
        return None;
    };
    let k = &state.knowledge;
    Some(Closed {
        words: format!(
            "Closed as {} on {}",
            outcome_words(r.outcome.id()),
            show::date(r.at)
        ),
        cause: r.cause.as_ref().and_then(|c| k.cause_id(c)).map(|c| Link {
            href: urls::suspect(&k.cause(c).id),
            name: k.cause(c).name.clone(),
        }),
        fix: r
            .fix
            .as_ref()
            .and_then(|x| k.fix_id(x))
            .map(|x| k.fix(x).work.name.clone()),
        note: r.note.clone(),
        reopen_action: urls::in_case(case.id, "reopen"),
    })
}

/// What the case does not know yet of how its machine is built now.
fn build_news(case: &Opened) -> Vec<String> {
    if case.state.resolved() {
        return Vec::new();
    }
    let news = suspect_core::machine::news_for(&case.state.facts.context, &case.machine.profile);
    let now = suspect_core::machine::build(&news);
    now.known()
        .map(|(f, v)| format!("{}: {}", show::lower_first(f.plain), v.plain))
        .collect()
}

fn next_step(state: &AppState, case: &Opened, analysis: &Analysis) -> NextStep {
    let k = &state.knowledge;
    let plain_step = |kind, href: String, plain: String, work| NextStep {
        kind,
        work_id: String::new(),
        action: href.clone(),
        href,
        plain,
        saves: None,
        work,
    };
    let now = next::words(state, case.id, case.machine.id, &analysis.next.what);
    let step = analysis.plan.steps.first();
    match &analysis.next.what {
        What::ClearStop(stop) => {
            let stop = &k.stops[*stop];
            let work = work::view(state, &case.state.facts, &stop.work);
            plain_step(NextKind::Stop, now.href, stop.why.clone(), Some(work))
        }
        What::Locked(lock) => {
            let plain = format!(
                "{}: {}",
                now.name,
                show::lower_first(&k.stops[lock.stop].name)
            );
            let by_case = lock.case().is_some();
            plain_step(NextKind::Elsewhere { by_case }, now.href, plain, None)
        }
        What::Closed => plain_step(NextKind::Done, String::new(), String::new(), None),
        What::Prove(fix) => {
            let verify = k.fix(*fix).verify.clone();
            plain_step(NextKind::Verify, now.href, verify, None)
        }
        What::Close(_) => plain_step(
            NextKind::Close,
            now.href,
            "The proof is good. Say which cause it was, so that the workshop learns.".into(),
            None,
        ),
        What::Check(c) => {
            let check = k.check(*c);
            let finding = k.finding(check.finding);
            let previews = step.map_or(&[][..], |s| &s.outcomes);
            let outcomes = work::outcome_rows(state, check.finding, previews);
            NextStep {
                kind: NextKind::Check { outcomes },
                work_id: format!("check/{}", finding.id),
                action: now.href.clone(),
                href: now.href,
                plain: show::sentence(&finding.plain),
                saves: (analysis.next.saves >= 0.5).then(|| show::minutes(analysis.next.saves)),
                work: Some(work::view(state, &case.state.facts, &check.work)),
            }
        }
        What::Fix(x) => {
            let fix = k.fix(*x);
            let plain = fix
                .work
                .steps
                .first()
                .map(|s| s.text.clone())
                .unwrap_or_default();
            let work = Some(work::view(state, &case.state.facts, &fix.work));
            let cures = show::percent(analysis.next.cures);
            let own = plain_step(NextKind::Fix { cures }, now.href, plain, work);
            NextStep {
                work_id: format!("fix/{}", fix.id),
                ..own
            }
        }
        What::AskMaker => plain_step(
            NextKind::GiveUp,
            urls::in_case(case.id, "close"),
            "No check or fix here is worth its time any more. Ask the maker with this case in \
             hand, or close it for another day."
                .into(),
            None,
        ),
    }
}

fn others(state: &AppState, case: &Opened, analysis: &Analysis) -> Vec<OtherStep> {
    let k = &state.knowledge;
    let rest = analysis
        .plan
        .steps
        .iter()
        .skip(1)
        .filter(|s| s.action != Action::GiveUp)
        .take(OTHER_STEPS);
    rest.map(|s| match s.action {
        Action::Check(c) => OtherStep {
            href: urls::in_case(case.id, &format!("check/{}", k.check_name(c))),
            name: k.check(c).work.name.clone(),
            minutes: show::minutes(s.minutes),
            what: if s.saves >= 0.5 {
                format!("check, saves {}", show::minutes(s.saves))
            } else {
                "check".into()
            },
        },
        Action::Fix(x) => OtherStep {
            href: urls::in_case(case.id, &format!("fix/{}", k.fix(x).id)),
            name: k.fix(x).work.name.clone(),
            minutes: show::minutes(s.minutes),
            what: format!("fix, cures {}", show::percent(s.cures)),
        },
        Action::ClearStop(_) | Action::GiveUp => {
            unreachable!("a stop stands alone and giving up is left out")
        }
    })
    .collect()
}
