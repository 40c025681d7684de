//! Fixes: the list by suspect's family, and the page of one fix.

use super::{Link, Named, Takes, cause_link, finding_link, fix_link, terms};
use crate::page_error::PageError;
use crate::pages::suspect::FAMILIES;
use crate::pages::{Page, fix::kind_words};
use crate::state::AppState;
use crate::{show, urls};
use askama::Template;
use axum::extract::{Path, State};
use axum::response::Html;
use suspect_core::knowledge::FixId;

struct Row {
    href: String,
    name: String,
    kind: &'static str,
    minutes: String,
    cures: String,
}

struct Group {
    title: &'static str,
    rows: Vec<Row>,
}

#[derive(Template)]
#[template(path = "handbook/fixes.html")]
struct FixesPage {
    place: &'static str,
    chapter: &'static str,
    total: usize,
    groups: Vec<Group>,
}

/// `GET /handbook/fixes`
pub async fn list(State(state): State<AppState>) -> Page {
    let k = &state.knowledge;
    let groups = FAMILIES
        .iter()
        .map(|(family, title)| {
            // A fix stands once, with the family of the suspect it cures best.
            let of_family = |x: &FixId| {
                let best = k
                    .fix(*x)
                    .cures
                    .iter()
                    .max_by(|a, b| a.1.total_cmp(&b.1).then(b.0.cmp(&a.0)));
                best.is_some_and(|(c, _)| k.cause(*c).family == *family)
            };
            let row = |x: FixId| {
                let (fix, Link { href, name }) = (k.fix(x), fix_link(k, x));
                let cures: Vec<&str> = fix
                    .cures
                    .iter()
                    .map(|(c, _)| k.cause(*c).name.as_str())
                    .collect();
                let minutes = fix.work.minutes + fix.work.waiting;
                Row {
                    href,
                    name,
                    kind: kind_words(fix.kind),
                    minutes: show::minutes(minutes),
                    cures: cures.join(", "),
                }
            };
            Group {
                title,
                rows: (0..k.fixes.len() as u16)
                    .map(FixId)
                    .filter(of_family)
                    .map(row)
                    .collect(),
            }
        })
        .filter(|g: &Group| !g.rows.is_empty())
        .collect();
    Ok(Html(
        FixesPage {
            place: "handbook",
            chapter: "fixes",
            total: k.fixes.len(),
            groups,
        }
        .render()?,
    ))
}

#[derive(Template)]
#[template(path = "handbook/fix.html")]
struct FixPage {
    place: &'static str,
    chapter: &'static str,
    name: String,
    kind: &'static str,
    takes: Takes,
    cures: Vec<Named>,
    verify: String,
    verify_minutes: String,
    may_bring: Vec<Link>,
    tried_by: Vec<Link>,
    warranty: String,
    school: String,
    terms: Vec<Link>,
    all: &'static str,
}

/// `GET /handbook/fixes/{fix}`
pub async fn show(State(state): State<AppState>, Path(id): Path<String>) -> Page {
    let k = &state.knowledge;
    let x = k.fix_id(&id).ok_or(PageError::NotFound("fix"))?;
    let fix = k.fix(x);
    let mut cures: Vec<_> = fix.cures.clone();
    cures.sort_by(|a, b| b.1.total_cmp(&a.1));
    let cure = |(c, chance): &(suspect_core::knowledge::CauseId, f64)| {
        let Link { href, name } = cause_link(k, *c);
        Named {
            href,
            name,
            word: show::percent(*chance),
        }
    };
    let tries = k
        .checks
        .iter()
        .filter(|c| k.finding(c.finding).also_fix == Some(x));
    let page = FixPage {
        place: "handbook",
        chapter: "fixes",
        name: fix.work.name.clone(),
        kind: kind_words(fix.kind),
        takes: Takes::new(k, &fix.work),
        cures: cures.iter().map(cure).collect(),
        verify: fix.verify.clone(),
        verify_minutes: show::minutes(fix.verify_minutes + fix.verify_waiting),
        may_bring: fix.may_bring.iter().map(|f| finding_link(k, *f)).collect(),
        tried_by: tries.map(|c| finding_link(k, c.finding)).collect(),
        warranty: fix.warranty.clone(),
        school: fix.school.clone(),
        terms: terms(k, &fix.id),
        all: urls::FIXES,
    };
    Ok(Html(page.render()?))
}
