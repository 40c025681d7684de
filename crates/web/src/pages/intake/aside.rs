//! Beside every part: the line-up as it stands, the first step, what is missing and what it would tell, what looked the same before.

use super::Scene;
use crate::page_error::PageError;
use crate::pages::line_up::{LineUpView, view as line_up_view};
use crate::pages::next;
use crate::{show, urls};
use suspect_core::case;
use suspect_core::intake::{Lack, completeness};
use suspect_core::profile::FIELDS;
use suspect_core::similar::{Nearness, similar, telling_answers};
use suspect_store::think;

/// Similar cases shown.
const BEFORE: usize = 3;
/// Missing facts shown.
const MISSING: usize = 5;
/// A fact that narrows the field by less than this share is not worth a row.
const LEAST_NARROWING: f64 = 0.01;

pub struct MissingRow {
    pub what: String,
    pub href: String,
    pub narrows: String,
}

pub struct Before {
    pub label: String,
    pub href: String,
    pub title: String,
    pub near: &'static str,
    pub was: String,
    pub fix: String,
    pub shared: String,
    pub case: String,
}

pub struct Aside {
    pub facts: usize,
    pub line_up: LineUpView,
    pub next: String,
    pub next_minutes: Option<String>,
    pub next_href: String,
    /// Nothing may run on the machine.
    pub locked: bool,
    pub stop: Option<String>,
    pub closed: bool,
    pub in_question: String,
    pub missing: Vec<MissingRow>,
    pub before: Vec<Before>,
    pub same_action: String,
    pub last_entry: Option<u32>,
    pub retract_action: String,
    pub seq: u32,
    pub part: &'static str,
    pub at: String,
}

pub async fn view(scene: &Scene<'_>) -> Result<Aside, PageError> {
    let (state, case) = (scene.state, scene.case);
    let k = &state.knowledge;
    let facts = case.state.facts.findings.len()
        + case.state.facts.tried.len()
        + case.state.facts.settings.known().count();
    let line_up = &scene.analysis.line_up;
    let before = crate::pages::case::before_last(state, case).await;
    let leader = line_up
        .leader()
        .filter(|_| facts > 0)
        .map(|l| k.cause(l.cause).id.as_str());
    let next = next::words(state, case.id, case.machine.id, &scene.analysis.next.what);
    let minutes = scene.analysis.next.minutes;
    let complete = think(|| completeness(k, &case.state, line_up)).await;
    let worth = complete
        .missing
        .iter()
        .filter(|m| m.narrows_to <= complete.in_question * (1.0 - LEAST_NARROWING));
    Ok(Aside {
        facts,
        line_up: line_up_view(k, line_up, before.as_ref(), leader, |cause| {
            urls::case_suspect(case.id, cause)
        }),
        next: next.name,
        next_minutes: (minutes > 0.0).then(|| show::minutes(minutes)),
        next_href: next.href,
        locked: next.locked,
        closed: case.state.resolved(),
        stop: case.state.stops.first().map(|s| k.stops[*s].name.clone()),
        in_question: about(complete.in_question),
        missing: worth
            .take(MISSING)
            .map(|m| {
                let (what, href) = lacking(scene, &m.lack);
                MissingRow {
                    what,
                    href,
                    narrows: format!("to about {}", about(m.narrows_to)),
                }
            })
            .collect(),
        before: seen_before(scene).await?,
        same_action: urls::in_case(case.id, "same"),
        last_entry: crate::pages::history::last_entry(case),
        retract_action: urls::in_case(case.id, "retract"),
        seq: case.state.last_seq,
        part: scene.part,
        at: scene.at.clone(),
    })
}

/// "23", "2.4": whole numbers where halves mean nothing.
fn about(many: f64) -> String {
    if many < 5.0 {
        show::number((many * 10.0).round() / 10.0)
    } else {
        format!("{many:.0}")
    }
}

/// A missing fact in words, and where to give it.
fn lacking(scene: &Scene, lack: &Lack) -> (String, String) {
    let k = &scene.state.knowledge;
    let part = |part: &str| urls::intake(scene.case.id, part, "");
    let question = |f| {
        format!(
            "{}#q-{}",
            urls::in_case(scene.case.id, "facts"),
            k.finding(f).id
        )
    };
    match lack {
        Lack::Profile(fields) => {
            let names: Vec<String> = fields
                .iter()
                .take(3)
                .map(|f| show::lower_first(FIELDS[*f].plain))
                .collect();
            (
                format!(
                    "The machine: {}{}",
                    names.join(", "),
                    if fields.len() > 3 { " …" } else { "" }
                ),
                part("numbers"),
            )
        }
        Lack::Material => ("Which filament it is".into(), part("numbers")),
        Lack::Numbers(numbers) => {
            let plain = |id: &&str| {
                suspect_core::settings::position(id)
                    .map(|at| suspect_core::settings::NUMBERS[at].plain)
                    .ok()
            };
            (
                show::capital(
                    &numbers
                        .iter()
                        .filter_map(plain)
                        .collect::<Vec<_>>()
                        .join(", "),
                ),
                part("numbers"),
            )
        }
        Lack::Question(f) => (
            k.finding(*f).question.trim_end_matches('?').to_string(),
            question(*f),
        ),
        Lack::Picture => ("A picture of the fault".into(), part("pictures")),
        Lack::Tried => ("What was tried already".into(), part("numbers")),
    }
}

async fn seen_before(scene: &Scene<'_>) -> Result<Vec<Before>, PageError> {
    let (state, case) = (scene.state, scene.case);
    let k = &state.knowledge;
    let now = case::answers(k, &case.state);
    let machines = state.store.machines().await?;
    let model = |id| {
        machines
            .iter()
            .find(|m| m.id == id)
            .map(|m| m.model.as_str())
    };
    let mine = case.row.machine_id;
    let past: Vec<_> = state
        .store
        .past_cases(&telling_answers(k, &now))
        .await?
        .into_iter()
        .filter(|p| p.id != case.id)
        .collect();
    let nearness = |machine| {
        if machine == mine {
            Nearness::Machine
        } else if model(machine) == model(mine) {
            Nearness::Kind
        } else {
            Nearness::Shop
        }
    };
    let compared: Vec<_> = past
        .iter()
        .map(|p| (p.answers.clone(), nearness(p.machine)))
        .collect();
    let found = think(|| similar(k, &now, &compared, BEFORE)).await;
    let row = |l: &suspect_core::similar::Likeness| {
        let p = &past[l.place];
        let cause = p
            .cause
            .as_deref()
            .and_then(|c| k.cause_id(c))
            .map(|c| k.cause(c).name.clone());
        let fix = p
            .fix
            .as_deref()
            .and_then(|x| k.fix_id(x))
            .map(|x| k.fix(x).work.name.clone());
        let shared: Vec<String> = l
            .shared
            .iter()
            .take(2)
            .map(|f| {
                let sighting = case.state.facts.findings.get(f);
                sighting.map_or_else(String::new, |s| s.answer.phrase(k, *f))
            })
            .collect();
        Before {
            label: show::case_label(p.number),
            href: urls::case(p.id),
            title: p.title.clone(),
            near: match compared[l.place].1 {
                Nearness::Machine => "this machine",
                Nearness::Kind => "same model",
                Nearness::Shop => "this shop",
            },
            was: cause.unwrap_or_default(),
            fix: fix.unwrap_or_default(),
            shared: shared.join("; "),
            case: p.id.to_string(),
        }
    };
    Ok(found.iter().map(row).collect())
}
