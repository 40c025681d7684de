//! Words of the field.

use crate::pages::Page;
use crate::pages::handbook::parts::{cause_link, finding_link, fix_link};
use crate::pages::parts::link::Link;
use askama::Template;
use axum::extract::State;
use axum::response::Html;
use std::sync::Arc;
use suspect_core::knowledge::Knowledge;

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
    chapter: &'static str,
    rows: Vec<TermRow>,
}

/// Where an identifier of a glossary entry leads: a suspect before a sign of the same name, as the
/// entry explains what happens.
fn see(k: &Knowledge, id: &str) -> Option<Link> {
    k.cause_id(id)
        .map(|c| cause_link(k, c))
        .or_else(|| k.finding_id(id).map(|f| finding_link(k, f)))
        .or_else(|| k.fix_id(id).map(|x| fix_link(k, x)))
}

/// `GET /handbook/words`
pub async fn show(State(knowledge): State<Arc<Knowledge>>) -> Page {
    let k = &*knowledge;
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
            chapter: "words",
            rows,
        }
        .render()?,
    ))
}
