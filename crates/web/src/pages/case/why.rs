//! Why a suspect stands where it stands, on a small card: a sentence, the heaviest facts, the way
//! to its dossier.

use crate::page_error::PageError;
use crate::pages::Page;
use crate::pages::case::ledger::{Ledger, LedgerRow, ledger};
use crate::pages::open_case::{CaseHead, Known, OpenCase};
use crate::state::AppState;
use crate::{show, urls};
use askama::Template;
use axum::extract::State;
use axum::response::Html;
use suspect_core::knowledge::CauseId;

/// Facts named on either side.
const NAMED: usize = 3;

#[derive(Template)]
#[template(path = "case/why.html")]
struct WhyPage {
    head: CaseHead,
    ledger: Ledger,
    share: String,
    speaks_for: Vec<String>,
    against: Vec<String>,
    ledger_href: String,
}

/// `GET /cases/{id}/why/{suspect}`
pub async fn show(
    State(state): State<AppState>,
    case: OpenCase,
    Known(cause): Known<CauseId>,
) -> Page {
    let k = &state.knowledge;
    let analysis = case.analysis(&state).await;
    let line = analysis.line_up.line(cause);
    let ledger = ledger(k, &case, &analysis, cause);
    let (Some(line), Some(ledger)) = (line, ledger) else {
        return Err(PageError::NotFound("suspect"));
    };
    let named = |rows: Vec<&LedgerRow>| {
        let said = |r: &LedgerRow| format!("{} ({} dB)", r.text, r.value);
        rows.into_iter().take(NAMED).map(said).collect()
    };
    let rows = &ledger.rows;
    let page = WhyPage {
        head: case.head(),
        share: show::percent(line.probability),
        speaks_for: named(rows.iter().filter(|r| r.speaks == "for").collect()),
        against: named(
            rows.iter()
                .rev()
                .filter(|r| r.speaks == "against")
                .collect(),
        ),
        ledger_href: urls::case_suspect(case.id, &k.cause(cause).id),
        ledger,
    };
    Ok(Html(page.render()?))
}
