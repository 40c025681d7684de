//! A kind of machine in the workshop's own words: described, its quirks told, set aside.

use super::describe::describe;
use crate::form::Fields;
use crate::page_error::PageError;
use crate::pages::Answer;
use crate::pages::parts::link::Choice;
use crate::state::AppState;
use crate::urls;
use crate::words::{journal, refusal};
use axum::extract::{Path, State};
use axum::response::{IntoResponse, Redirect};
use suspect_core::knowledge::{Knowledge, QuirkTime};
use suspect_core::settings::NumberProblem;
use suspect_core::shelf::{OwnDescription, OwnKind, OwnKindEvent, OwnQuirk};
use suspect_store::shelf::Thing;
use suspect_store::{StoreError, Uuid};

/// What a quirk makes a suspect likelier by, when nobody says.
const USUAL_RAISE: f64 = 1.5;

/// How many suspects one quirk may make likelier.
const MOST_RAISED: usize = 3;

/// What is asked of an own kind.
pub struct OwnView {
    pub seq: u32,
    pub action: String,
    /// Where its description is changed.
    pub describe: String,
    /// How many suspects may be named.
    pub raised: std::ops::Range<usize>,
    pub fixes: Vec<(String, String)>,
    pub removed: bool,
    pub quirks: Vec<String>,
    pub times: Vec<Choice>,
    pub causes: Vec<(String, String)>,
}

impl OwnView {
    pub fn of(k: &Knowledge, own: &Thing<OwnKind>) -> Self {
        let time = |t: QuirkTime| Choice {
            value: t.id().into(),
            label: journal::quirk_time(t).into(),
            chosen: t == QuirkTime::Soon,
        };
        Self {
            seq: own.seq,
            action: urls::kind(&own.id.to_string()),
            describe: format!("{}/describe", urls::kind(&own.id.to_string())),
            raised: 0..MOST_RAISED,
            fixes: k
                .fixes
                .iter()
                .map(|f| (f.id.clone(), f.work.name.clone()))
                .collect(),
            removed: own.is.removed,
            quirks: own.is.quirks.iter().map(|q| q.name.clone()).collect(),
            times: QuirkTime::ALL.into_iter().map(time).collect(),
            causes: k
                .causes
                .iter()
                .map(|c| (c.id.clone(), c.name.clone()))
                .collect(),
        }
    }
}

/// `POST /kinds`: a kind more.
pub async fn add(State(state): State<AppState>, fields: Fields) -> Answer {
    let price = fields
        .optional("price", "the price")
        .map_err(|e| odd(&e, urls::KINDS))?;
    let event = OwnKindEvent::Described(OwnDescription {
        name: fields.get("name").to_string(),
        text: fields.get("text").to_string(),
        price: price.unwrap_or(0.0),
        ..OwnDescription::default()
    });
    let id = Uuid::now_v7();
    write(&state, id, 0, event, &fields, urls::KINDS).await
}

/// `POST /kinds/{kind}`: a quirk told or taken back, the kind set aside or back.
pub async fn change(
    State(state): State<AppState>,
    Path(id): Path<String>,
    fields: Fields,
) -> Answer {
    let not_ours = || PageError::NotFound("kind of machine");
    let id: Uuid = id.parse().map_err(|_| not_ours())?;
    let here = urls::kind(&id.to_string());
    if fields.get("say") == "described" {
        return describe(&state, id, &fields).await;
    }
    let event = match fields.get("say") {
        "without" => OwnKindEvent::Without {
            quirk: fields.get("quirk").to_string(),
        },
        "removed" => OwnKindEvent::Removed,
        "back" => OwnKindEvent::BackAgain,
        _ => OwnKindEvent::Quirk(quirk(&fields).map_err(|e| odd(&e, &here))?),
    };
    write(&state, id, fields.seq().max(1), event, &fields, &here).await
}

fn quirk(fields: &Fields) -> Result<OwnQuirk, NumberProblem> {
    let factor = fields.optional("factor", "how much likelier")?;
    let factor = factor.unwrap_or(USUAL_RAISE);
    let causes = fields.all("raises").filter(|cause| !cause.is_empty());
    let raises = causes.map(|cause| (cause.to_string(), factor));
    Ok(OwnQuirk {
        name: fields.get("name").to_string(),
        when: QuirkTime::from_id(fields.get("when")).unwrap_or(QuirkTime::Soon),
        effect: fields.get("effect").to_string(),
        mend: fields.get("mend").to_string(),
        money: fields.optional("money", "the price")?.unwrap_or(0.0),
        minutes: fields.optional("minutes", "minutes")?.unwrap_or(0.0),
        fix: fields.get("fix").to_string(),
        part: fields.get("part").to_string(),
        risk: fields.get("risk").to_string(),
        warranty: fields.get("warranty").to_string(),
        raises: raises.take(MOST_RAISED).collect(),
    })
}

fn odd(problem: &NumberProblem, back: &str) -> PageError {
    PageError::Refused {
        message: refusal::number(problem),
        back: back.to_string(),
    }
}

async fn write(
    state: &AppState,
    id: Uuid,
    seq: u32,
    event: OwnKindEvent,
    fields: &Fields,
    back: &str,
) -> Answer {
    let (k, stamp, events) = (&state.knowledge, fields.stamp(state.now()), [event]);
    let written = state
        .store
        .append_to_thing::<OwnKind>(k, id, seq, &events, stamp);
    match written.await {
        Ok(_) => {
            state.ask_to_rebuild();
            Ok(Redirect::to(&urls::kind(&id.to_string())).into_response())
        }
        Err(StoreError::Refused(refused)) => Err(PageError::Refused {
            message: refusal::refusal(k, &refused),
            back: back.to_string(),
        }),
        Err(StoreError::NotFound) => Err(PageError::NotFound("kind of machine")),
        Err(e) => Err(e.into()),
    }
}
