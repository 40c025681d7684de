//! Cautions and stops, material windows, and the words of the field.

use super::{Link, cause_link, finding_link, fix_link};
use crate::pages::Page;
use crate::show;
use crate::state::AppState;
use askama::Template;
use axum::extract::State;
use axum::response::Html;
use suspect_core::knowledge::{FixId, Knowledge};
use suspect_core::profile::FIELDS;

struct CautionRow {
    text: String,
    warning: bool,
    steps: Vec<Link>,
    more: usize,
}

struct StopRow {
    name: String,
    why: String,
    clear: String,
}

#[derive(Template)]
#[template(path = "handbook/cautions.html")]
struct CautionsPage {
    place: &'static str,
    chapter: &'static str,
    stops: Vec<StopRow>,
    cautions: Vec<CautionRow>,
}

/// Steps named beside a caution.
const STEPS_NAMED: usize = 6;

/// `GET /handbook/cautions`
pub async fn cautions(State(state): State<AppState>) -> Page {
    let k = &state.knowledge;
    let row = |n: usize| {
        let checks = k
            .checks
            .iter()
            .filter(|c| c.work.cautions.contains(&n))
            .map(|c| finding_link(k, c.finding));
        let fixes = k
            .fixes
            .iter()
            .enumerate()
            .filter(|(_, x)| x.work.cautions.contains(&n))
            .map(|(x, _)| fix_link(k, FixId(x as u16)));
        let mut steps: Vec<Link> = checks.chain(fixes).collect();
        let more = steps.len().saturating_sub(STEPS_NAMED);
        steps.truncate(STEPS_NAMED);
        CautionRow {
            text: k.cautions[n].text.clone(),
            warning: k.cautions[n].level == "warning",
            steps,
            more,
        }
    };
    let stops = k
        .stops
        .iter()
        .map(|s| StopRow {
            name: s.name.clone(),
            why: s.why.clone(),
            clear: s.work.name.clone(),
        })
        .collect();
    let cautions = (0..k.cautions.len()).map(row).collect();
    Ok(Html(
        CautionsPage {
            place: "handbook",
            chapter: "cautions",
            stops,
            cautions,
        }
        .render()?,
    ))
}

struct MaterialRow {
    id: String,
    name: String,
    nozzle: String,
    bed: String,
    chamber: String,
    fan: String,
    enclosure: &'static str,
    drying: String,
}

#[derive(Template)]
#[template(path = "handbook/materials.html")]
struct MaterialsPage {
    place: &'static str,
    chapter: &'static str,
    rows: Vec<MaterialRow>,
}

/// `GET /handbook/materials`
pub async fn materials(State(state): State<AppState>) -> Page {
    let window = |(low, high): (f64, f64)| format!("{}–{}", show::number(low), show::number(high));
    let material = &FIELDS[suspect_core::profile::MATERIAL];
    let row = |m: &suspect_core::knowledge::Material| MaterialRow {
        name: material
            .values
            .iter()
            .find(|v| v.id == m.id)
            .map_or_else(|| m.id.clone(), |v| v.plain.to_string()),
        id: m.id.clone(),
        nozzle: window(m.nozzle_c),
        bed: window(m.bed_c),
        chamber: if m.closed {
            window(m.chamber_c)
        } else {
            format!("≤ {}", show::number(m.chamber_c.1))
        },
        fan: window(m.fan_percent),
        enclosure: if m.closed {
            "closed, free of draught"
        } else {
            "open"
        },
        drying: m.drying.clone(),
    };
    let rows = state.knowledge.materials.iter().map(row).collect();
    Ok(Html(
        MaterialsPage {
            place: "handbook",
            chapter: "materials",
            rows,
        }
        .render()?,
    ))
}

struct TermRow {
    id: String,
    term: String,
    plain: String,
    text: String,
    see: Vec<Link>,
}

#[derive(Template)]
#[template(path = "handbook/glossary.html")]
struct GlossaryPage {
    place: &'static str,
    chapter: &'static str,
    rows: Vec<TermRow>,
}

/// Where an identifier of a glossary entry leads: a suspect before a sign of the same name, as the entry explains what happens.
fn see(k: &Knowledge, id: &str) -> Option<Link> {
    k.cause_id(id)
        .map(|c| cause_link(k, c))
        .or_else(|| k.finding_id(id).map(|f| finding_link(k, f)))
        .or_else(|| k.fix_id(id).map(|x| fix_link(k, x)))
}

/// `GET /handbook/words`
pub async fn glossary(State(state): State<AppState>) -> Page {
    let k = &state.knowledge;
    let mut rows: Vec<TermRow> = k
        .glossary
        .iter()
        .map(|t| TermRow {
            id: t.id.clone(),
            term: t.term.clone(),
            plain: t.plain.clone(),
            text: t.text.clone(),
            see: t.see.iter().filter_map(|id| see(k, id)).collect(),
        })
        .collect();
    rows.sort_by_key(|r| r.term.to_lowercase());
    Ok(Html(
        GlossaryPage {
            place: "handbook",
            chapter: "words",
            rows,
        }
        .render()?,
    ))
}
