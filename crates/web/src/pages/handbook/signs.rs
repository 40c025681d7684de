//! Signs: the gallery by region, and the page of one sign.

use crate::drawing::finding;
use crate::page_error::PageError;
use crate::pages::Page;
use crate::pages::handbook::parts::{Speaks, finding_link, fix_link, speaks, terms};
use crate::pages::open_case::Known;
use crate::pages::parts::link::Link;
use crate::words::region;
use crate::{show, urls};
use askama::Template;
use axum::extract::State;
use axum::response::Html;
use std::sync::Arc;
use suspect_core::knowledge::{self, Finding, FindingId, Knowledge, Section, Stop, StopTerm};

/// A sign seen so often without a cause is said to be ordinary.
const ORDINARY: f64 = 0.3;

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
    chapter: &'static str,
    print: Vec<Region>,
    machine: Vec<Region>,
    questions: Vec<Link>,
}

fn of_region(k: &Knowledge, region: knowledge::Region) -> Region {
    let tile = |f: FindingId| {
        let Link { href, name } = finding_link(k, f);
        Tile {
            href,
            name,
            term: k.finding(f).term.clone(),
            picture: finding::svg(k, f),
        }
    };
    Region {
        title: region::title(region),
        anchor: region::anchor(region),
        tiles: k.findings_of(region).map(tile).collect(),
    }
}

/// `GET /handbook/signs`
pub async fn list(State(knowledge): State<Arc<Knowledge>>) -> Page {
    let k = &*knowledge;
    let of_pattern = |f: &FindingId| k.finding(*f).section == Section::History;
    let print = knowledge::Region::of_print();
    let machine = knowledge::Region::of_machine();
    let page = SignsPage {
        chapter: "signs",
        print: print.map(|r| of_region(k, r)).collect(),
        machine: machine.map(|r| of_region(k, r)).collect(),
        questions: k
            .finding_ids()
            .filter(of_pattern)
            .map(|f| finding_link(k, f))
            .collect(),
    };
    Ok(Html(page.render()?))
}

#[derive(Template)]
#[template(path = "handbook/sign.html")]
struct SignPage {
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
    records: String,
}

/// `GET /handbook/signs/{sign}`
pub async fn show(State(knowledge): State<Arc<Knowledge>>, Known(f): Known<FindingId>) -> Page {
    let k = &*knowledge;
    let finding = k.finding(f);
    // What a check finds stands on the check's own page.
    if finding.section == Section::Check {
        return Err(PageError::NotFound("sign"));
    }
    let settles = k.checks.iter().filter(|c| c.supersedes.contains(&f));
    let brings = k.fix_ids().filter(|x| k.fix(*x).may_bring.contains(&f));
    let stops = k.stops.iter().filter(|s| raises(s, f));
    let page = SignPage {
        chapter: "signs",
        name: show::capital(&finding.plain),
        term: finding.term.clone(),
        question: finding.question.clone(),
        region: region_link(finding),
        picture: finding::svg(k, f),
        ordinary: finding.presence() && finding.states[1].background >= ORDINARY,
        speaks: speaks(k, f),
        settled_by: settles.map(|c| finding_link(k, c.finding)).collect(),
        brought_by: brings.map(|x| fix_link(k, x)).collect(),
        stops: stops.map(|s| s.name.clone()).collect(),
        terms: terms(k, &finding.id),
        records: urls::records_of("sign", &finding.id),
    };
    Ok(Html(page.render()?))
}

/// Where the gallery shows it.
fn region_link(finding: &Finding) -> Link {
    let (anchor, name) = match finding.region {
        Some(region) => (region::anchor(region), region::title(region)),
        None => ("pattern".to_string(), "When and how"),
    };
    Link {
        href: format!("{}#{anchor}", urls::SIGNS),
        name: name.to_string(),
    }
}

/// Whether a finding raises a stop.
fn raises(stop: &Stop, finding: FindingId) -> bool {
    let mut terms = stop.holds.iter().flatten();
    terms.any(|t| matches!(t, StopTerm::Finding(g, _) if *g == finding))
}
