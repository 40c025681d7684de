//! The help brief: all a helper asks for on one page, to print, to copy, to send as a file, or to
//! open to someone elsewhere.

use crate::pages::open_case::OpenCase;
use crate::pages::parts::pictures::{PictureCard, cards};
use crate::show;
use crate::state::AppState;
use crate::words::{entry, evidence, next, outcome, work};
use suspect_core::case::{Analysis, Event, HeldAnswer, Resolution, Status, What, active};
use suspect_core::evidence::{Facts, window_for};
use suspect_core::knowledge::{Knowledge, Section};
use suspect_core::planning::{Action, Step};
use suspect_core::profile::{FIELDS, FieldId, MATERIAL};
use suspect_core::ranking::CauseLine;
use suspect_core::settings::NumberId;

/// Suspects named with their reasons.
const SUSPECTS: usize = 5;
/// Reasons named for each, and the least that one weighs, in decibans.
const REASONS: usize = 4;
const LEAST_REASON: f64 = 1.0;

pub struct SuspectLine {
    pub name: String,
    pub share: String,
    pub reasons: Vec<String>,
}

/// The brief. Every text in it may come from a person: the templates escape it, for HTML and for
/// Markdown.
pub struct Brief {
    pub label: String,
    pub title: String,
    pub machine: String,
    pub profile: Vec<String>,
    pub material: String,
    pub settings: Vec<String>,
    pub told: Vec<String>,
    pub seen: Vec<String>,
    pub behaviour: Vec<String>,
    pub pattern: Vec<String>,
    pub not_seen: Vec<String>,
    pub checks: Vec<String>,
    pub tried: Vec<String>,
    pub notes: Vec<String>,
    /// How it ended, or that a fix came undone; empty while it is open for the first time.
    pub ended: String,
    /// What it took so far: time, filament, money.
    pub cost: String,
    pub pictures: Vec<PictureCard>,
    pub line_up: Vec<SuspectLine>,
    pub unlisted: String,
    pub next: Vec<String>,
    pub stops: Vec<String>,
    pub made: String,
}

/// Gathers the brief of a case.
pub fn brief(state: &AppState, case: &OpenCase, analysis: &Analysis) -> Brief {
    let k = &state.knowledge;
    let facts = &case.state.facts;
    let leaders = analysis.line_up.causes.iter();
    let leaders = leaders.filter(|l| l.probability > 0.0).take(SUSPECTS);
    let numbers = facts.settings.known();
    let tried = facts.tried.iter().map(|t| outcome::tried_line(k, t));
    let held = next::held(k, case.id, case.machine.id, &case.state);
    Brief {
        label: show::case_label(case.row.number),
        title: case.head().title,
        machine: case.machine.name.clone(),
        profile: profile(case),
        material: material(case),
        settings: numbers.map(|(n, v)| setting(k, case, n, v)).collect(),
        told: case.state.told.clone(),
        seen: answers(k, case, Section::Print, false),
        behaviour: answers(k, case, Section::Machine, false),
        pattern: answers(k, case, Section::History, false),
        not_seen: [
            answers(k, case, Section::Print, true),
            answers(k, case, Section::Machine, true),
        ]
        .concat(),
        checks: entries(k, case, |e| is_check(k, e)),
        tried: tried.collect(),
        notes: entries(k, case, |e| matches!(e, Event::Noted { .. })),
        ended: ended(k, case),
        cost: cost(case),
        pictures: cards(case),
        line_up: leaders
            .map(|l| suspect(k, &case.state.facts, analysis, l))
            .collect(),
        unlisted: show::percent(analysis.line_up.unlisted),
        next: next_steps(k, case, analysis),
        stops: held.into_iter().map(|h| h.words).collect(),
        made: show::moment_in_zone(state.now()),
    }
}

/// "24 min, 7 g of filament, 2.50 €".
fn cost(case: &OpenCase) -> String {
    let now = &case.state;
    let spent = [
        show::minutes(now.minutes),
        format!("{} of filament", show::grams(now.grams)),
    ];
    let money = show::money(now.money, &case.workshop.currency);
    spent
        .into_iter()
        .chain(money)
        .collect::<Vec<_>>()
        .join(", ")
}

/// What is known of the machine, and what is not.
fn profile(case: &OpenCase) -> Vec<String> {
    let context = &case.state.facts.context;
    let of_the_machine = &FIELDS[..MATERIAL];
    let known = of_the_machine.iter().zip(FieldId::ALL);
    let known = known.filter_map(|(f, id)| Some((f, context.get(id)?)));
    let known = known.map(|(f, v)| format!("{}: {}", f.plain, v.plain));
    let missing = of_the_machine.iter().zip(FieldId::ALL);
    let missing = missing.filter(|(_, id)| context.id(*id).is_none());
    let missing: Vec<String> = missing.map(|(f, _)| show::lower_first(f.plain)).collect();
    let missing = (!missing.is_empty()).then(|| format!("Not known: {}", missing.join(", ")));
    known.chain(missing).collect()
}

fn material(case: &OpenCase) -> String {
    let material = case.state.facts.context.get(FieldId::Material);
    let material = material.map_or("material not known", |m| m.plain);
    match case.state.spool.as_str() {
        "" => material.to_string(),
        spool => format!("{material}, {spool}"),
    }
}

/// A number, and how it lies to its window when it lies outside.
fn setting(k: &Knowledge, case: &OpenCase, id: NumberId, value: f64) -> String {
    let n = id.number();
    let said = format!(
        "{}: {}\u{a0}{}",
        show::capital(n.plain),
        show::number(value),
        n.unit
    );
    let said = said.trim_end_matches('\u{a0}');
    match window_for(k, &case.state.facts.context, &case.state.facts.settings, id) {
        Some((low, high)) if value < low || value > high => format!(
            "{said}, outside {} to {} {}",
            show::number(low),
            show::number(high),
            n.unit
        ),
        _ => said.to_string(),
    }
}

/// What was answered in a section: what is there, or what was denied.
fn answers(k: &Knowledge, case: &OpenCase, section: Section, denied: bool) -> Vec<String> {
    let findings = case.state.facts.findings.iter();
    let wanted = findings
        .filter(|(f, s)| k.finding(**f).section == section && s.answer.is_denial(k, **f) == denied);
    wanted
        .map(|(f, s)| {
            let words = show::capital(&s.answer.phrase(k, *f));
            outcome::unless_sure(words, s.confidence)
        })
        .collect()
}

/// Entries of a kind that count, in words.
fn entries(k: &Knowledge, case: &OpenCase, wanted: impl Fn(&Event) -> bool) -> Vec<String> {
    let counting = case.log.iter().zip(active(&case.log));
    counting
        .filter(|(e, counts)| *counts && wanted(&e.event))
        .map(|(e, _)| entry::line_in(k, &case.log, e))
        .collect()
}

/// Whether an entry is a check: seen, read as a number, or told among the facts.
fn is_check(k: &Knowledge, event: &Event) -> bool {
    match event {
        Event::Checked { .. }
        | Event::Gauged { .. }
        | Event::Benched { .. }
        | Event::OwnChecked { .. }
        | Event::OwnFixed { .. } => true,
        Event::Observed { finding, .. } => k
            .finding_id(finding)
            .is_some_and(|f| k.finding(f).section == Section::Check),
        _ => false,
    }
}

/// How a case ended, with cause, fix and the last word; of one that came back, which fix had held.
fn ended(k: &Knowledge, case: &OpenCase) -> String {
    match (&case.state.status, case.state.undone) {
        (Status::Resolved(r), _) => {
            let cause = r.cause.as_deref().map(|c| work::cause(k, c));
            let fix = r.fix.as_deref().map(|x| work::fix(k, x));
            let parts = [
                Some(show::capital(outcome::outcome(r.outcome))),
                cause.map(|c| format!("it was: {}", show::lower_first(&c))),
                fix.map(|x| format!("what did it: {}", show::lower_first(&x))),
                Some(r.note.clone()).filter(|n| !n.is_empty()),
                Some(show::date(r.at)),
                held(r),
            ];
            let sentence = |part: String| show::capital(part.trim_end_matches('.'));
            let parts: Vec<String> = parts.into_iter().flatten().map(sentence).collect();
            parts.join(". ")
        }
        (_, Some(fix)) => format!(
            "It was gone after \"{}\", and came back.",
            k.fix(fix).work.name
        ),
        _ => String::new(),
    }
}

/// What was said last when the case asked whether its fix held.
fn held(end: &Resolution) -> Option<String> {
    let (at, answer) = end.asked.last()?;
    let words = match answer {
        HeldAnswer::Held => "It held",
        HeldAnswer::CannotSay => "Nobody could say whether it held",
    };
    Some(format!("{words}, asked on {}", show::date(*at)))
}

/// A suspect with what speaks most for and against it.
fn suspect(k: &Knowledge, facts: &Facts, analysis: &Analysis, line: &CauseLine) -> SuspectLine {
    let items = analysis.line_up.evidence.items.iter().zip(&line.ledger);
    let mut reasons: Vec<(f64, String)> = items
        .map(|(item, d)| (*d, evidence::source(k, facts, &item.source)))
        .filter(|(d, _)| d.abs() >= LEAST_REASON)
        .collect();
    reasons.sort_by(|a, b| b.0.abs().total_cmp(&a.0.abs()));
    reasons.truncate(REASONS);
    SuspectLine {
        name: k.cause(line.cause).name.clone(),
        share: show::percent(line.probability),
        reasons: reasons
            .into_iter()
            .map(|(d, text)| format!("{text}: {} dB", show::decibans(d)))
            .collect(),
    }
}

/// What to do next; while nothing holds the machine with the second best beside it.
fn next_steps(k: &Knowledge, case: &OpenCase, analysis: &Analysis) -> Vec<String> {
    let now = next::words(k, case.id, case.machine.id, &analysis.next.what).name;
    let figures = |s: &Step| match s.action {
        Action::Fix(_) => format!(
            "{} ({}, cures it with {})",
            s.action.name(k),
            show::minutes(s.minutes),
            show::percent(s.cures)
        ),
        _ => format!("{} ({})", s.action.name(k), show::minutes(s.minutes)),
    };
    match &analysis.next.what {
        What::Check(_) | What::Fix(_) => {
            let steps = analysis.plan.steps.iter();
            let steps = steps.filter(|s| s.action != Action::GiveUp);
            steps.take(2).map(figures).collect()
        }
        What::Locked(_) => vec![format!(
            "{now}. Nothing is done on it until that stop is lifted"
        )],
        What::ClearStop(_) => vec![format!("The machine is locked. {now}")],
        _ => vec![now],
    }
}
