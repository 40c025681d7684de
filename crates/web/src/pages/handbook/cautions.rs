//! Cautions and stops.

use crate::pages::Page;
use crate::pages::handbook::parts::{finding_link, fix_link};
use crate::pages::parts::link::Link;
use crate::pages::parts::work::{CautionView, said};
use askama::Template;
use axum::extract::State;
use axum::response::Html;
use std::sync::Arc;
use suspect_core::knowledge::{FixId, Knowledge};

struct CautionRow {
    said: CautionView,
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
    chapter: &'static str,
    stops: Vec<StopRow>,
    cautions: Vec<CautionRow>,
}

/// Steps named beside a caution.
const STEPS_NAMED: usize = 6;

/// `GET /handbook/cautions`
pub async fn show(State(knowledge): State<Arc<Knowledge>>) -> Page {
    let k = &*knowledge;
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
            said: said(&k.cautions[n]),
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
            chapter: "cautions",
            stops,
            cautions,
        }
        .render()?,
    ))
}
