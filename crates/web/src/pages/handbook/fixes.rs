//! Fixes: the list by suspect's family, and the page of one fix.

use crate::pages::Page;
use crate::pages::handbook::parts::{
    Named, Takes, cause_link, doable_in, finding_link, fix_link, terms,
};
use crate::pages::open_case::Known;
use crate::pages::parts::link::Link;
use crate::pages::parts::proving::proof_takes;
use crate::pages::parts::schools::{self, SchoolLine};
use crate::state::AppState;
use crate::words::learned::cured_here;
use crate::words::outcome;
use crate::{show, urls};
use askama::Template;
use axum::extract::State;
use axum::response::Html;
use std::sync::Arc;
use suspect_core::case::WorkId;
use suspect_core::knowledge::{CauseId, Family, FixId, Knowledge};

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
    chapter: &'static str,
    total: usize,
    groups: Vec<Group>,
}

/// `GET /handbook/fixes`
pub async fn list(State(knowledge): State<Arc<Knowledge>>) -> Page {
    let k = &*knowledge;
    let of_family = |family: Family| {
        // A fix stands once, with the family of the suspect it cures best.
        let best = |x: &FixId| {
            let cures = k.fix(*x).cures.iter();
            let best = cures.max_by(|a, b| a.1.total_cmp(&b.1).then(b.0.cmp(&a.0)));
            best.is_some_and(|(c, _)| k.cause(*c).family == family)
        };
        let all = (0..k.fixes.len() as u16).map(FixId);
        Group {
            title: outcome::family(family),
            rows: all.filter(best).map(|x| row(k, x)).collect(),
        }
    };
    let groups = Family::ALL.into_iter().map(of_family);
    let groups = groups.filter(|g| !g.rows.is_empty()).collect();
    Ok(Html(
        FixesPage {
            chapter: "fixes",
            total: k.fixes.len(),
            groups,
        }
        .render()?,
    ))
}

fn row(k: &Knowledge, x: FixId) -> Row {
    let (fix, Link { href, name }) = (k.fix(x), fix_link(k, x));
    let cures = fix.cures.iter().map(|(c, _)| k.cause(*c).name.as_str());
    Row {
        href,
        name,
        kind: outcome::fix_kind(fix.kind),
        minutes: show::minutes(fix.work.minutes + fix.work.waiting),
        cures: cures.collect::<Vec<_>>().join(", "),
    }
}

#[derive(Template)]
#[template(path = "handbook/fix.html")]
struct FixPage {
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
    schools: Vec<SchoolLine>,
    terms: Vec<Link>,
    /// Open cases in which it may be done.
    cases: Vec<Link>,
    records: String,
    all: &'static str,
}

/// `GET /handbook/fixes/{fix}`
pub async fn show(State(state): State<AppState>, Known(x): Known<FixId>) -> Page {
    let k = &state.knowledge;
    let fix = k.fix(x);
    let mut cures: Vec<_> = fix.cures.clone();
    cures.sort_by(|a, b| b.1.total_cmp(&a.1));
    // The page is read without the shop's own numbers too.
    let learned = state
        .store
        .shop_learned(k, state.now())
        .await
        .ok()
        .flatten()
        .map(|l| l.awake());
    let cure = |(c, chance): &(CauseId, f64)| {
        let Link { href, name } = cause_link(k, *c);
        Named {
            href,
            name,
            word: match learned.as_deref().and_then(|l| l.cure(x, *c)) {
                Some(here) => format!("{}; {}", show::percent(*chance), cured_here(&here)),
                None => show::percent(*chance),
            },
        }
    };
    let tries = k
        .checks
        .iter()
        .filter(|c| k.finding(c.finding).also_fix == Some(x));
    let page = FixPage {
        chapter: "fixes",
        name: fix.work.name.clone(),
        kind: outcome::fix_kind(fix.kind),
        takes: Takes::new(k, &fix.work),
        cures: cures.iter().map(cure).collect(),
        verify: fix.verify.clone(),
        verify_minutes: proof_takes(fix),
        may_bring: fix.may_bring.iter().map(|f| finding_link(k, *f)).collect(),
        tried_by: tries.map(|c| finding_link(k, c.finding)).collect(),
        warranty: fix.warranty.clone(),
        schools: schools::of_fix(k, None, x),
        terms: terms(k, &fix.id),
        cases: doable_in(&state, &WorkId::Fix(fix.id.clone())).await,
        records: urls::records_of("fix", &fix.id),
        all: urls::FIXES,
    };
    Ok(Html(page.render()?))
}
