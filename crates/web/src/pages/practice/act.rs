//! Something is done in a practice case: asked, checked, read, fixed, believed, ended.

use super::open::OpenPractice;
use crate::form::Fields;
use crate::page_error::PageError;
use crate::pages::Answer;
use crate::state::AppState;
use crate::urls;
use axum::extract::State;
use axum::response::{IntoResponse, Redirect};
use serde_json::json;
use suspect_core::settings::read_number;
use suspect_rehearsal::practice::{Act, Begun, Desk, Judged, Play, result, shares, step};
use suspect_store::practice::ActRow;
use suspect_store::think;

/// Most things done in one case: nobody needs so many.
const MOST_ACTS: usize = 400;
/// When the line-up may be shown.
pub const SHOWN: [&str; 3] = ["never", "after", "always"];

/// What became of an act.
struct Did {
    judged: Judged,
    /// How the case ended, whether it was passed, what it came to.
    ended: Option<(&'static str, bool, serde_json::Value)>,
}

/// `POST /practice/cases/{id}`
pub async fn act(State(state): State<AppState>, open: OpenPractice, fields: Fields) -> Answer {
    let back = open.href();
    if let Some(shown) = fields.given("shown") {
        let shown = SHOWN.into_iter().find(|s| *s == shown);
        let shown = shown.ok_or(PageError::NotAForm)?;
        let store = &state.store;
        store
            .show_in_practice(&super::owner(), open.row.id, shown)
            .await?;
        return Ok(Redirect::to(&back).into_response());
    }
    let act = of_form(&open, &fields)?;
    let mut known = false;
    // After the end nothing is done any more, and what is on its way twice is done once.
    if open.row.ended.is_none() && open.done.len() < MOST_ACTS {
        let did = think(|| does(&state, &open, &act)).await;
        known = did.is_none();
        if let Some(did) = did {
            let row = ActRow {
                seq: open.done.len() as i32 + 1,
                act: json!(act),
                judged: json!(did.judged),
            };
            let now = state.now();
            let done = state.store.practise(open.row.id, &row, now).await?;
            if let Some((how, passed, result)) = did.ended.filter(|_| done) {
                let end = state
                    .store
                    .end_practice(open.row.id, (how, passed), result, now);
                end.await?;
            }
        }
    }
    let at = fields.get("at").to_string();
    let mut asked = Vec::new();
    if !at.is_empty() {
        asked.push(("at", at));
    }
    if known {
        asked.push(("known", "yes".to_string()));
    }
    let back = urls::with(&back, &asked);
    Ok(Redirect::to(&back).into_response())
}

/// Does it; nothing where it was done before or changes nothing.
fn does(state: &AppState, open: &OpenPractice, act: &Act) -> Option<Did> {
    let k = &state.knowledge;
    let desk = Desk::new(k, &open.workshop, &open.case);
    let mut play = Play::after(&desk, open.acts());
    let (_, judged) = step(&desk, &mut play, act);
    let ended = play
        .end
        .map(|end| (end.id(), end.passed(), json!(result(&desk, &play))));
    judged.map(|judged| Did { judged, ended })
}

/// What a form asks for.
fn of_form(open: &OpenPractice, fields: &Fields) -> Result<Act, PageError> {
    let id = fields.get("id").to_string();
    let begun = match fields.get("begun") {
        "off" => Begun::Off,
        _ => Begun::AsItStands,
    };
    let refused = |message: String| PageError::Refused {
        message,
        back: open.href(),
    };
    Ok(match fields.get("act") {
        "ask" => Act::Ask(id),
        "check" => Act::Check(id, begun),
        "fix" => Act::Fix(id, begun),
        "read" => {
            let read = read_number("read", fields.get("read"));
            Act::Read(read.map_err(|e| refused(crate::words::refusal::number(&e)))?)
        }
        "believe" => {
            let given = (0..=open.case.asked.len()).map(|n| {
                let field = format!("share.{n}");
                fields.get(&field).parse::<f64>().unwrap_or(0.0)
            });
            let given: Vec<f64> = given.collect();
            let none = "Nothing was given to anybody: move at least one of the sliders.";
            Act::Believe(shares(&given, &open.case).ok_or_else(|| refused(none.into()))?)
        }
        "stop" => Act::Stop,
        "ordinary" => Act::Ordinary,
        "give-up" => Act::GiveUp,
        _ => return Err(PageError::NotAForm),
    })
}
