//! Signs: the gallery by region, and the page of one sign.

use super::{Link, Speaks, finding_link, picture, speaks, terms};
use crate::page_error::PageError;
use crate::pages::Page;
use crate::state::AppState;
use crate::{show, urls};
use askama::Template;
use axum::extract::{Path, State};
use axum::response::Html;
use suspect_core::knowledge::{FindingId, Knowledge, MACHINE_REGIONS, PRINT_REGIONS, Section};

struct Tile {
    href: String,
    name: String,
    term: String,
    picture: String,
}

struct Region {
    title: &'static str,
    anchor: String,
    tiles: Vec<Tile>,
}

#[derive(Template)]
#[template(path = "handbook/signs.html")]
struct SignsPage {
    place: &'static str,
    chapter: &'static str,
    print: Vec<Region>,
    machine: Vec<Region>,
    questions: Vec<Link>,
}

/// Findings of a section in the order of the knowledge.
fn of(k: &Knowledge, section: Section) -> impl Iterator<Item = FindingId> {
    (0..k.findings.len() as u16)
        .map(FindingId)
        .filter(move |f| k.finding(*f).section == section)
}

fn regions(k: &Knowledge, section: Section, names: &[(&'static str, &'static str)]) -> Vec<Region> {
    let tile = |f: FindingId| {
        let Link { href, name } = finding_link(k, f);
        Tile {
            href,
            name,
            term: k.finding(f).term.clone(),
            picture: picture(k, f),
        }
    };
    names
        .iter()
        .map(|(id, title)| Region {
            title,
            anchor: id.replace(' ', "-"),
            tiles: of(k, section)
                .filter(|f| k.finding(*f).region == *id)
                .map(tile)
                .collect(),
        })
        .collect()
}

/// `GET /handbook/signs`
pub async fn list(State(state): State<AppState>) -> Page {
    let k = &state.knowledge;
    let page = SignsPage {
        place: "handbook",
        chapter: "signs",
        print: regions(k, Section::Print, &PRINT_REGIONS),
        machine: regions(k, Section::Machine, &MACHINE_REGIONS),
        questions: of(k, Section::History)
            .map(|f| finding_link(k, f))
            .collect(),
    };
    Ok(Html(page.render()?))
}

#[derive(Template)]
#[template(path = "handbook/sign.html")]
struct SignPage {
    place: &'static str,
    chapter: &'static str,
    name: String,
    term: String,
    question: String,
    region: Link,
    picture: String,
    ordinary: bool,
    speaks: Vec<Speaks>,
    settled_by: Vec<Link>,
    brought_by: Vec<Link>,
    stops: Vec<String>,
    terms: Vec<Link>,
}

/// `GET /handbook/signs/{sign}`
pub async fn show(State(state): State<AppState>, Path(id): Path<String>) -> Page {
    let k = &state.knowledge;
    let f = k
        .finding_id(&id)
        .filter(|f| k.finding(*f).section != Section::Check)
        .ok_or(PageError::NotFound("sign"))?;
    let finding = k.finding(f);
    let names = PRINT_REGIONS.iter().chain(&MACHINE_REGIONS);
    let (anchor, region) = names
        .clone()
        .find(|(r, _)| *r == finding.region)
        .map_or(("pattern".to_string(), "When and how"), |(r, words)| {
            (r.replace(' ', "-"), words)
        });
    let raises = |s: &&suspect_core::knowledge::Stop| {
        s.holds
            .iter()
            .flatten()
            .any(|t| matches!(t, suspect_core::knowledge::StopTerm::Finding(g, _) if *g == f))
    };
    let page = SignPage {
        place: "handbook",
        chapter: "signs",
        name: show::capital(&finding.plain),
        term: finding.term.clone(),
        question: finding.question.clone(),
        region: Link {
            href: format!("{}#{anchor}", urls::SIGNS),
            name: region.to_string(),
        },
        picture: picture(k, f),
        ordinary: finding.presence() && finding.states[1].background >= 0.3,
        speaks: speaks(k, f),
        settled_by: k
            .checks
            .iter()
            .filter(|c| c.supersedes.contains(&f))
            .map(|c| finding_link(k, c.finding))
            .collect(),
        brought_by: k
            .fixes
            .iter()
            .enumerate()
            .filter(|(_, x)| x.may_bring.contains(&f))
            .map(|(x, _)| super::fix_link(k, suspect_core::knowledge::FixId(x as u16)))
            .collect(),
        stops: k
            .stops
            .iter()
            .filter(raises)
            .map(|s| s.name.clone())
            .collect(),
        terms: terms(k, &finding.id),
    };
    Ok(Html(page.render()?))
}
