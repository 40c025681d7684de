//! Checks: the list by minutes, and the page of one check.

use crate::pages::Page;
use crate::pages::handbook::parts::{
    Speaks, Takes, doable_in, finding_link, fix_link, speaks, terms,
};
use crate::pages::open_case::Known;
use crate::pages::parts::link::Link;
use crate::pages::parts::schools::{self, SchoolLine};
use crate::state::AppState;
use crate::{show, urls, words};
use askama::Template;
use axum::extract::State;
use axum::response::Html;
use std::sync::Arc;
use suspect_core::case::WorkId;
use suspect_core::knowledge::{Check, CheckId, Knowledge};

struct Row {
    href: String,
    name: String,
    plain: String,
    minutes: String,
    state: String,
    tools: String,
}

struct Group {
    title: &'static str,
    rows: Vec<Row>,
}

#[derive(Template)]
#[template(path = "handbook/checks.html")]
struct ChecksPage {
    chapter: &'static str,
    total: usize,
    groups: Vec<Group>,
}

/// Longest hands-on and waiting time of each group of the list.
const GROUPS: [(&str, f64); 4] = [
    ("A look: up to three minutes", 3.0),
    ("Up to ten minutes", 10.0),
    ("Up to an hour, most of it waiting", 60.0),
    ("Longer", f64::INFINITY),
];

/// `GET /handbook/checks`
pub async fn list(State(knowledge): State<Arc<Knowledge>>) -> Page {
    let k = &*knowledge;
    let total = |c: &Check| c.work.minutes + c.work.waiting;
    let mut groups = Vec::new();
    let mut least = f64::NEG_INFINITY;
    for (title, most) in GROUPS {
        let mut members: Vec<&Check> = k
            .checks
            .iter()
            .filter(|c| total(c) > least && total(c) <= most)
            .collect();
        members.sort_by(|a, b| total(a).total_cmp(&total(b)));
        let row = |c: &Check| {
            let Link { href, name } = finding_link(k, c.finding);
            Row {
                href,
                name,
                plain: k.finding(c.finding).plain.clone(),
                minutes: show::minutes(total(c)),
                state: words::work::standing(&c.work.stands),
                tools: c.work.tools.join(", "),
            }
        };
        groups.push(Group {
            title,
            rows: members.into_iter().map(row).collect(),
        });
        least = most;
    }
    groups.retain(|g| !g.rows.is_empty());
    Ok(Html(
        ChecksPage {
            chapter: "checks",
            total: k.checks.len(),
            groups,
        }
        .render()?,
    ))
}

#[derive(Template)]
#[template(path = "handbook/check.html")]
struct CheckPage {
    chapter: &'static str,
    name: String,
    plain: String,
    takes: Takes,
    speaks: Vec<Speaks>,
    settles: Vec<Link>,
    also_fix: Option<Link>,
    schools: Vec<SchoolLine>,
    terms: Vec<Link>,
    /// Open cases in which it may be done.
    cases: Vec<Link>,
    all: &'static str,
}

/// `GET /handbook/checks/{check}`
pub async fn show(State(state): State<AppState>, Known(check): Known<CheckId>) -> Page {
    let k = &state.knowledge;
    let schools = schools::of_check(k, None, check);
    let check = k.check(check);
    let finding = k.finding(check.finding);
    let page = CheckPage {
        chapter: "checks",
        name: check.work.name.clone(),
        plain: show::sentence(&show::capital(&finding.plain)),
        takes: Takes::new(k, &check.work),
        speaks: speaks(k, check.finding),
        settles: check
            .supersedes
            .iter()
            .map(|f| finding_link(k, *f))
            .collect(),
        also_fix: finding.also_fix.map(|x| fix_link(k, x)),
        schools,
        terms: terms(k, &finding.id),
        cases: doable_in(&state, &WorkId::Check(finding.id.clone())).await,
        all: urls::CHECKS,
    };
    Ok(Html(page.render()?))
}
