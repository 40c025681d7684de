//! Beside every part: the line-up as it stands, the first step, what is missing and what it would
//! tell, what looked the same before.

use super::scene::Scene;
use crate::page_error::PageError;
use crate::pages::parts::history::{LastEntry, last_entry};
use crate::pages::parts::line_up::{LineUpView, view as line_up_view};
use crate::words::{evidence, next, title, work};
use crate::{show, urls};
use suspect_core::case::{answers, before_last};
use suspect_core::intake::{Lack, completeness};
use suspect_core::knowledge::FindingId;
use suspect_core::learning::hold::DROPPED_DAYS;
use suspect_core::profile::FIELDS;
use suspect_core::settings::NumberId;
use suspect_core::similar::{Likeness, Nearness, copied, similar, telling_answers};
use suspect_store::past::PastCase;
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

/// A case gone by that looked the same.
pub struct AlikeCase {
    pub label: String,
    pub href: String,
    pub title: String,
    pub near: &'static str,
    pub was: String,
    pub fix: String,
    pub shared: String,
    pub case: String,
    /// It was mended on this machine not long ago, and looked so: "12 days ago".
    pub mended: Option<String>,
    /// Its signs that nobody has spoken of here: each is asked, none is taken over unasked.
    pub asks: Vec<AskedSign>,
}

/// A sign of an earlier case, asked here.
pub struct AskedSign {
    pub finding: String,
    pub phrase: String,
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
    pub before: Vec<AlikeCase>,
    pub last_entry: Option<LastEntry>,
    pub part: &'static str,
    pub at: String,
}

pub async fn view(scene: &Scene<'_>) -> Result<Aside, PageError> {
    let (state, case) = (scene.state, scene.case);
    let k = &state.knowledge;
    let known = &case.state.facts;
    let facts = known.findings.len() + known.tried.len() + known.settings.known().count();
    let line_up = &scene.analysis.line_up;
    let (ghosts, complete) = think(|| {
        let ghosts = before_last(k, &case.log, case.state.facts.learned.as_ref());
        (ghosts, completeness(k, &case.state, line_up))
    })
    .await;
    let leader = line_up.leader().filter(|_| facts > 0);
    let leader = leader.map(|l| k.cause(l.cause).id.as_str());
    let next = next::words(k, case.id, case.machine.id, &scene.analysis.next.what);
    let minutes = scene.analysis.next.minutes;
    let narrower = complete.in_question * (1.0 - LEAST_NARROWING);
    let missing = complete.missing.iter();
    let missing = missing.filter(|m| m.narrows_to <= narrower).take(MISSING);
    Ok(Aside {
        facts,
        line_up: line_up_view(k, line_up, ghosts.as_ref(), leader, |cause| {
            urls::case_suspect(case.id, cause)
        }),
        next: next.name,
        next_minutes: (minutes > 0.0).then(|| show::minutes(minutes)),
        next_href: next.href,
        locked: next.locked,
        closed: case.state.resolved(),
        stop: case.state.stops.first().map(|s| k.stops[*s].name.clone()),
        in_question: about(complete.in_question),
        missing: missing
            .map(|m| {
                let (what, href) = lacking(scene, &m.lack);
                MissingRow {
                    what,
                    href,
                    narrows: match m.lack {
                        Lack::Picture => "for whoever helps".into(),
                        _ => format!("to about {}", about(m.narrows_to)),
                    },
                }
            })
            .collect(),
        before: seen_before(scene).await?,
        last_entry: last_entry(&state.knowledge, case),
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
    match lack {
        Lack::Profile(fields) => {
            let names = fields.iter().take(3).map(|f| FIELDS[*f].plain);
            let names: Vec<String> = names.map(show::lower_first).collect();
            let more = if fields.len() > 3 { " …" } else { "" };
            let what = format!("The machine: {}{more}", names.join(", "));
            (what, part("numbers"))
        }
        Lack::Material => ("Which filament it is".into(), part("numbers")),
        Lack::Numbers(numbers) => {
            let plain = numbers.iter().map(|id: &NumberId| id.number().plain);
            let plain: Vec<&str> = plain.collect();
            (show::capital(&plain.join(", ")), part("numbers"))
        }
        Lack::Question(f) => {
            let finding = k.finding(*f);
            let question = finding.question.trim_end_matches('?').to_string();
            let href = format!("{}#q-{}", scene.case.below("facts"), finding.id);
            (question, href)
        }
        Lack::Picture => ("A picture of the fault".into(), part("pictures")),
        Lack::Tried => ("What was tried already".into(), part("numbers")),
    }
}

/// Closed cases that looked the same, the most alike first.
async fn seen_before(scene: &Scene<'_>) -> Result<Vec<AlikeCase>, PageError> {
    let (state, case) = (scene.state, scene.case);
    let k = &state.knowledge;
    let now = answers(k, &case.state);
    let machines = state.store.machines().await?;
    let past = state.store.past_cases(&telling_answers(k, &now)).await?;
    let past: Vec<PastCase> = past.into_iter().filter(|p| p.id != case.id).collect();
    let mine = case.machine.id;
    let of_kind = machines
        .iter()
        .filter(|m| !m.model.is_empty() && m.model == case.machine.model);
    let of_kind: Vec<_> = of_kind.map(|m| m.id).collect();
    let nearness = |machine| match machine == mine {
        true => Nearness::Machine,
        false if of_kind.contains(&machine) => Nearness::Kind,
        false => Nearness::Shop,
    };
    let compared: Vec<_> = past
        .iter()
        .map(|p| (p.answers.clone(), nearness(p.machine)))
        .collect();
    let found = think(|| similar(k, &now, &compared, BEFORE)).await;
    let name = |p: &PastCase| {
        let machine = machines.iter().find(|m| m.id == p.machine);
        machine.map_or("", |m| m.name.as_str())
    };
    let alike = found.iter().map(|l| {
        let p = &past[l.place];
        alike(scene, l, p, compared[l.place].1, name(p))
    });
    Ok(alike.collect())
}

fn alike(
    scene: &Scene,
    likeness: &Likeness,
    p: &PastCase,
    nearness: Nearness,
    machine: &str,
) -> AlikeCase {
    let k = &scene.state.knowledge;
    let findings = &scene.case.state.facts.findings;
    let phrase = |f: &FindingId| {
        let sighting = findings.get(f);
        sighting.map_or_else(String::new, |s| s.answer.phrase(k, *f))
    };
    let shared: Vec<String> = likeness.shared.iter().take(2).map(phrase).collect();
    let fix = p.fix.as_deref().filter(|x| k.fix_id(x).is_some());
    AlikeCase {
        label: show::case_label(p.number),
        href: urls::case(p.id),
        title: title(&p.title, machine),
        near: match nearness {
            Nearness::Machine => "this machine",
            Nearness::Kind => "same model",
            Nearness::Shop => "this shop",
        },
        was: work::cause(k, &p.cause),
        fix: fix.map(|x| work::fix(k, x)).unwrap_or_default(),
        shared: shared.join("; "),
        case: p.id.to_string(),
        mended: mended(scene, likeness, p, nearness),
        asks: asks(scene, p),
    }
}

/// How long ago it was mended on the same machine, where it may have come back: it shares two
/// telling answers and is no older than a case that is still asked about.
fn mended(scene: &Scene, likeness: &Likeness, p: &PastCase, nearness: Nearness) -> Option<String> {
    let days = (scene.state.now() - p.mended_at?).as_seconds_f64() / 86_400.0;
    let here = nearness == Nearness::Machine && likeness.shared.len() >= 2;
    let recent = (0.0..=DROPPED_DAYS as f64).contains(&days);
    (here && recent).then(|| show::days(days.ceil().max(1.0)))
}

/// What the earlier case saw and nobody has spoken of here.
fn asks(scene: &Scene, p: &PastCase) -> Vec<AskedSign> {
    let k = &scene.state.knowledge;
    let here = &scene.case.state;
    let open = copied(k, &answers(k, here), &p.answers).into_iter();
    open.filter(|(f, _)| k.finding(*f).fits(&here.facts.context))
        .map(|(f, state)| AskedSign {
            finding: k.finding(f).id.clone(),
            phrase: evidence::phrase(k, f, &state),
        })
        .collect()
}
