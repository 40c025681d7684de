//! Suspects: the list by family, and the dossier of one.

use super::{Link, Page};
use crate::page_error::PageError;
use crate::state::AppState;
use crate::{drawing::pictogram, show, urls};
use askama::Template;
use axum::extract::{Path, State};
use axum::response::Html;
use suspect_core::knowledge::{CauseId, FindingId, FixKind, Knowledge, Section};

/// Words of the families, in the order of the list.
const FAMILIES: [(&str, &str); 12] = [
    ("path", "Filament path"),
    ("feeder", "Feeder"),
    ("hotend", "Hot end"),
    ("heat", "Heat and air"),
    ("flow", "Slicer amounts"),
    ("motion-set", "Motion settings"),
    ("bed", "Bed and first layer"),
    ("mechanics", "Mechanics"),
    ("electric", "Electrics"),
    ("material", "Material"),
    ("model", "Model"),
    ("normal", "Not a fault"),
];

struct Member {
    href: String,
    name: String,
    plain: String,
    pictogram: String,
}

struct Family {
    title: &'static str,
    members: Vec<Member>,
}

#[derive(Template)]
#[template(path = "suspects.html")]
struct SuspectsPage {
    place: &'static str,
    families: Vec<Family>,
    total: usize,
}

/// `GET /suspects`
pub async fn list(State(state): State<AppState>) -> Page {
    let k = &state.knowledge;
    let families = FAMILIES
        .iter()
        .map(|(id, title)| Family {
            title,
            members: k
                .causes
                .iter()
                .filter(|c| c.family == *id)
                .map(|c| Member {
                    href: urls::suspect(&c.id),
                    name: c.name.clone(),
                    plain: c.plain.clone(),
                    pictogram: pictogram::svg(&c.pictogram),
                })
                .collect(),
        })
        .filter(|f| !f.members.is_empty())
        .collect();
    Ok(Html(SuspectsPage { place: "suspects", families, total: k.causes.len() }.render()?))
}

struct Sign {
    phrase: String,
    how_often: String,
    against_others: String,
    times: String,
}

struct CheckRow {
    name: String,
    minutes: String,
    guilty: String,
    share: String,
}

struct FixRow {
    name: String,
    kind: &'static str,
    minutes: String,
    chance: String,
    steps: Vec<String>,
    cautions: Vec<String>,
    warranty: String,
}

#[derive(Template)]
#[template(path = "suspect.html")]
struct DossierPage {
    place: &'static str,
    name: String,
    plain: String,
    family: &'static str,
    pictogram: String,
    mechanism: String,
    clears: String,
    common: &'static str,
    signs: Vec<Sign>,
    checks: Vec<CheckRow>,
    fixes: Vec<FixRow>,
    leads_to: Vec<Link>,
    follows_from: Vec<Link>,
    records: String,
}

/// `GET /suspects/{cause}`
pub async fn show(State(state): State<AppState>, Path(id): Path<String>) -> Page {
    let k = &state.knowledge;
    let id = k.cause_id(&id).ok_or(PageError::NotFound("suspect"))?;
    let cause = k.cause(id);
    let link = |c: CauseId| Link { href: urls::suspect(&k.cause(c).id), name: k.cause(c).name.clone() };
    let leads_to = k.cause_ids().filter(|c| k.cause(*c).consequence_of.iter().any(|(root, _)| *root == id)).map(link).collect();
    let page = DossierPage {
        place: "suspects",
        name: cause.name.clone(),
        plain: show::sentence(&cause.plain),
        family: FAMILIES.iter().find(|(f, _)| *f == cause.family).map_or("", |(_, words)| words),
        pictogram: pictogram::svg(&cause.pictogram),
        mechanism: cause.mechanism.clone(),
        clears: cause.clears.clone(),
        common: suspect_core::knowledge::WEIGHTS.iter().find(|(_, w)| *w == cause.weight).map_or("", |(word, _)| word),
        signs: signs(k, id),
        checks: checks(k, id),
        fixes: fixes(k, id),
        leads_to,
        follows_from: cause.consequence_of.iter().map(|(c, _)| link(*c)).collect(),
        records: format!("{}?cause={}", urls::RECORDS, cause.id),
    };
    Ok(Html(page.render()?))
}

/// The state that speaks most for a cause: index, P(state | cause), ratio against the average suspect.
fn telling(k: &Knowledge, cause: CauseId, finding: FindingId) -> (usize, f64, f64) {
    let own = k.table.states(cause, finding);
    let others = k.table.unlisted(finding);
    let ratios = own.iter().zip(others).map(|(o, u)| o / u).enumerate();
    let (state, ratio) = ratios.max_by(|a, b| a.1.total_cmp(&b.1)).unwrap_or((0, 1.0));
    (state, own[state], ratio)
}

/// How it shows itself, most telling first.
fn signs(k: &Knowledge, cause: CauseId) -> Vec<Sign> {
    let mut rows: Vec<(f64, Sign)> = (0..k.findings.len() as u16)
        .map(FindingId)
        .filter(|f| k.table.linked(cause, *f) && k.finding(*f).section != Section::Check)
        .map(|f| {
            let (state, own, ratio) = telling(k, cause, f);
            let sign = Sign {
                phrase: show::capital(&k.finding(f).states[state].phrase),
                how_often: show::percent(own),
                against_others: show::percent(k.table.unlisted(f)[state]),
                times: show::number((ratio * 10.0).round() / 10.0),
            };
            (ratio, sign)
        })
        .filter(|(ratio, _)| *ratio > 1.05)
        .collect();
    rows.sort_by(|a, b| b.0.total_cmp(&a.0));
    rows.into_iter().map(|(_, s)| s).collect()
}

/// Checks by what they tell of this cause.
fn checks(k: &Knowledge, cause: CauseId) -> Vec<CheckRow> {
    let mut rows: Vec<(f64, CheckRow)> = k
        .checks
        .iter()
        .filter(|c| k.table.linked(cause, c.finding))
        .map(|c| {
            let (state, own, ratio) = telling(k, cause, c.finding);
            let finding = k.finding(c.finding);
            let row = CheckRow {
                name: c.work.name.clone(),
                minutes: show::minutes(c.work.minutes + c.work.waiting),
                guilty: show::capital(&finding.states[state].phrase),
                share: show::percent(own),
            };
            (ratio, row)
        })
        .filter(|(ratio, _)| *ratio > 1.2)
        .collect();
    rows.sort_by(|a, b| b.0.total_cmp(&a.0));
    rows.into_iter().map(|(_, r)| r).collect()
}

fn fixes(k: &Knowledge, cause: CauseId) -> Vec<FixRow> {
    let fixes = k.cause(cause).fixes.iter();
    fixes
        .map(|x| {
            let fix = k.fix(*x);
            FixRow {
                name: fix.work.name.clone(),
                kind: match fix.kind {
                    FixKind::Easy => "easy",
                    FixKind::Involved => "involved",
                    FixKind::WorkAround => "work-around",
                },
                minutes: show::minutes(fix.work.minutes + fix.work.waiting),
                chance: show::percent(k.cure(*x, cause)),
                steps: fix.work.steps.clone(),
                cautions: fix.work.cautions.iter().map(|c| k.cautions[*c].text.clone()).collect(),
                warranty: fix.warranty.clone(),
            }
        })
        .collect()
}
