//! A practice case is drawn.

use super::list::{self, page};
use super::open::href;
use super::{owner, wanted};
use crate::form::{Errors, Fields};
use crate::page_error::PageError;
use crate::pages::{Answer, again};
use crate::state::AppState;
use axum::extract::State;
use axum::response::{IntoResponse, Redirect};
use serde_json::json;
use suspect_core::knowledge::Knowledge;
use suspect_rehearsal::practice::{PracticeCase, draw};
use suspect_store::practice::NewPractice;
use suspect_store::{Uuid, think};

/// `POST /practice`
pub async fn begin(State(state): State<AppState>, fields: Fields) -> Answer {
    let machines = state.store.machines().await?;
    let mut errors = Errors::new();
    let asked = wanted::read(&state, &machines, &fields, &mut errors).await?;
    let Some(asked) = asked.filter(|_| errors.is_empty()) else {
        return Ok(again(page(&state, &fields, errors).await?));
    };
    let k = &state.knowledge;
    match think(|| draw(k, &asked.wanted())).await {
        Ok(case) => {
            let case = PracticeCase {
                surprise: asked.surprise,
                ..case
            };
            let id = keep(&state, &fields, &case).await?;
            Ok(Redirect::to(&href(id)).into_response())
        }
        Err(none) => {
            let words = crate::show::sentence(&none.to_string());
            errors.insert("level".into(), words);
            Ok(again(page(&state, &fields, errors).await?))
        }
    }
}

/// Keeps a case that was drawn or taken from the past; its number.
pub(super) async fn keep(
    state: &AppState,
    fields: &Fields,
    case: &PracticeCase,
) -> Result<Uuid, PageError> {
    let k = &state.knowledge;
    let id = fields
        .get("case")
        .parse()
        .unwrap_or_else(|_| Uuid::now_v7());
    let shown = list::shown(fields.get("line_up"));
    let new = NewPractice {
        id,
        owner: &owner(),
        level: case.level.id(),
        family: family(k, case),
        drawn: json!(case.kept(k)),
        shown,
    };
    state.store.begin_practice(new, state.now()).await?;
    Ok(id)
}

fn family(k: &Knowledge, case: &PracticeCase) -> &'static str {
    let first = case.acting.first();
    first.map_or("", |c| k.cause(*c).family.id())
}
