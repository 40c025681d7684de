//! One answer, a question passed over, "nothing else looks wrong here".

use super::scene::touch;
use crate::form::Fields;
use crate::pages::Answer;
use crate::pages::open_case::OpenCase;
use crate::state::AppState;
use axum::extract::State;
use suspect_core::case::Event;
use suspect_core::evidence::Confidence;
use suspect_core::intake::{place, signs_at};
use suspect_core::knowledge::{FindingId, Region};

/// The part of the intake on which the program asks.
const QUESTIONS: &str = "questions";

/// `POST /cases/{id}/observe`: one answer, or several ticked together; `unknown` takes an earlier
/// one back.
pub async fn observe(State(state): State<AppState>, case: OpenCase, fields: Fields) -> Answer {
    let states: Vec<&str> = fields.all("state").collect();
    let event = Event::Observed {
        finding: fields.get("finding").to_string(),
        state: states.join("+"),
        confidence: Confidence::from_id(fields.get("confidence")).unwrap_or_default(),
        asked: fields.get("part") == QUESTIONS,
    };
    touch(&state, &case, &fields, "observe", &[event]).await
}

/// `POST /cases/{id}/pass`: a question skipped, a proposal waved away.
pub async fn pass(State(state): State<AppState>, case: OpenCase, fields: Fields) -> Answer {
    let event = Event::Passed {
        finding: fields.get("finding").to_string(),
    };
    touch(&state, &case, &fields, "pass", &[event]).await
}

/// `POST /cases/{id}/rest`: "nothing else looks wrong here", for a place of the print or a part of
/// the machine.
pub async fn rest(State(state): State<AppState>, case: OpenCase, fields: Fields) -> Answer {
    let k = &state.knowledge;
    let facts = &case.state.facts;
    let signs: Vec<FindingId> = match (fields.get("part"), place(fields.get("at"))) {
        ("print", Some(place)) => signs_at(k, place),
        _ => match Region::from_id(fields.get("at")) {
            Some(region) => k.findings_of(region).collect(),
            None => Vec::new(),
        },
    };
    let open = signs.into_iter().filter(|f| {
        let finding = k.finding(*f);
        let answered = facts.findings.contains_key(f) || case.state.passed.contains(f);
        finding.presence() && finding.fits(&facts.context) && !answered
    });
    let absent = |f: FindingId| Event::Observed {
        finding: k.finding(f).id.clone(),
        state: "absent".into(),
        confidence: Confidence::Hunch,
        asked: false,
    };
    let events: Vec<Event> = open.map(absent).collect();
    touch(&state, &case, &fields, "rest", &events).await
}
