//! What a touch records: an answer, a question passed over, words, a height, facts taken over.

use crate::pages::intake::Opened;
use crate::pages::intake::page;
use crate::form::{Errors, Fields};
use crate::page_error::PageError;
use crate::pages::record::{self, Recorded, record_or_explain};
use crate::pages::intake::new_case;
use crate::state::AppState;
use crate::{show, urls};
use axum::extract::{Path, State};
use axum::http::StatusCode;
use axum::response::{Html, IntoResponse, Redirect, Response};
use suspect_core::case::{self, CaseState, Event};
use suspect_core::evidence::Confidence;
use suspect_core::intake::{Reach, place, signs_at};
use suspect_core::knowledge::{FindingId, Section, TryResult};
use suspect_core::settings::{NUMBERS, Reading, position};
use suspect_core::similar::{Answers, copied};
use suspect_store::Uuid;

/// Where the page was when it sent its form.
fn back(case: &OpenCase, fields: &Fields) -> String {
    urls::intake(case.id, fields.get("part"), fields.get("at"))
}

/// Records events for a form of one button and leads back to where it stood.
async fn touch(
    state: &AppState,
    case: &OpenCase,
    fields: &Fields,
    action: &str,
    events: &[Event],
) -> Answer {
    if events.is_empty() {
        return Ok(Redirect::to(&back(case, fields)).into_response());
    }
    record_or_explain(
        state,
        case,
        fields,
        &case.below(action),
        events,
        back(case, fields),
    )
    .await
}

/// `POST /cases/{id}/observe`: one answer; `unknown` takes an earlier one back.
pub async fn observe(
    State(state): State<AppState>,
    case: OpenCase,
    fields: Fields,
) -> Answer {
    let finding = fields.get("finding").to_string();
    let confidence = Confidence::from_id(fields.get("confidence")).unwrap_or_default();
    let event = Event::Observed {
        finding,
        state: fields.get("state").to_string(),
        confidence,
    };
    touch(&state, &case, &fields, "observe", &[event]).await
}

/// `POST /cases/{id}/pass`: a question skipped, a proposal waved away.
pub async fn pass(
    State(state): State<AppState>,
    case: OpenCase,
    fields: Fields,
) -> Answer {
    let event = Event::Passed {
        finding: fields.get("finding").to_string(),
    };
    touch(&state, &case, &fields, "pass", &[event]).await
}

/// `POST /cases/{id}/rest`: "nothing else looks wrong here", for a place of the print or a part of
/// the machine.
pub async fn rest(
    State(state): State<AppState>,
    case: OpenCase,
    fields: Fields,
) -> Answer {
    let k = &state.knowledge;
    let region = fields.get("at");
    let signs: Vec<FindingId> = match place(region) {
        Some(place) if fields.get("part") == "print" => signs_at(k, place),
        _ => {
            let here = |(_, f): &(usize, &suspect_core::knowledge::Finding)| {
                f.section == Section::Machine && f.region == region
            };
            k.findings
                .iter()
                .enumerate()
                .filter(here)
                .map(|(at, _)| FindingId(at as u16))
                .collect()
        }
    };
    let open = signs
        .into_iter()
        .filter(|f| k.finding(*f).presence() && k.finding(*f).fits(&case.state.facts.context));
    let open = open
        .filter(|f| !case.state.facts.findings.contains_key(f) && !case.state.passed.contains(f));
    let absent = |f: FindingId| Event::Observed {
        finding: k.finding(f).id.clone(),
        state: "absent".into(),
        confidence: Confidence::Hunch,
    };
    let events: Vec<Event> = open.map(absent).collect();
    touch(&state, &case, &fields, "rest", &events).await
}

/// `POST /cases/{id}/tell`: more in the person's own words.
pub async fn tell(
    State(state): State<AppState>,
    case: OpenCase,
    fields: Fields,
) -> Answer {
    let event = Event::Told {
        text: fields.get("text").to_string(),
    };
    let here = urls::intake(case.id, "words", "");
    match recording::record(
        &state,
        &case,
        &fields,
        &case.below("tell"),
        &[event],
        here,
    )
    .await?
    {
        Recorded::Done(response) => Ok(response),
        Recorded::Invalid { message, .. } => {
            let length = fields.get("text").chars().count();
            let message = match length {
                0 => "Nothing was written: a few words will do.".to_string(),
                _ if length > case::LONGEST_TEXT => {
                    format!(
                        "This has {length} characters: at most {} fit. Send it in parts.",
                        case::LONGEST_TEXT
                    )
                }
                _ => message,
            };
            refused(
                &state,
                &case,
                "words",
                "",
                &fields,
                Errors::from([("told".to_string(), message)]),
            )
            .await
        }
    }
}

/// `POST /cases/{id}/height`: where the fault is, how far it reaches, how tall the piece is.
pub async fn height(
    State(state): State<AppState>,
    case: OpenCase,
    fields: Fields,
) -> Answer {
    let settings = &case.state.facts.settings;
    let mut errors = Errors::new();
    let mut events = Vec::new();
    let mut read = |field: &str, number: &str| -> Option<f64> {
        let text = fields.given(field)?;
        match position(number).and_then(|at| NUMBERS[at].read(text)) {
            Ok(Reading { value, note }) => {
                if settings.get(number) != Some(value) {
                    events.push(Event::Measured {
                        number: number.into(),
                        value,
                        note,
                    });
                }
                Some(value)
            }
            Err(message) => {
                errors.insert(field.into(), show::sentence(&message));
                None
            }
        }
    };
    let piece = read("piece_mm", "piece_height_mm").or(settings.get(NumberId::PieceHeightMm));
    let fault = read("fault_mm", "fault_height_mm").or(settings.get(NumberId::FaultHeightMm));
    if let Some((fault, piece)) = fault.zip(piece).filter(|(fault, piece)| fault > piece) {
        let message = format!(
            "The fault cannot be at {} mm on a piece {} mm tall: correct one of them.",
            show::number(fault),
            show::number(piece)
        );
        errors.insert("fault_mm".into(), message);
    }
    let reach = Reach::from_id(fields.get("reach"));
    if let (Some(reach), None) = (reach, fault.filter(|_| errors.is_empty()))
        && reach != Reach::Throughout
        && errors.is_empty()
    {
        errors.insert(
            "fault_mm".into(),
            "Say at which height first: drag the ruler or type millimetres.".into(),
        );
    }
    if !errors.is_empty() {
        return refused(&state, &case, "print", fields.get("at"), &fields, errors).await;
    }
    let zone = reach.and_then(|r| r.event(fault.unwrap_or(0.0), settings.get(NumberId::LayerMm)));
    events.extend(zone.filter(|z| !known(&state, &case.state, z)));
    touch(&state, &case, &fields, "height", &events).await
}

/// Whether the case says so already.
fn known(state: &AppState, case: &CaseState, event: &Event) -> bool {
    let Event::Observed {
        finding,
        state: wanted,
        ..
    } = event
    else {
        return false;
    };
    let k = &state.knowledge;
    k.finding_id(finding).is_some_and(|f| {
        case.facts
            .findings
            .get(&f)
            .is_some_and(|s| s.answer.id(k, f) == wanted)
    })
}

/// `POST /cases/{id}/carry`: still the spool and settings of the machine's last case.
pub async fn carry(
    State(state): State<AppState>,
    case: OpenCase,
    fields: Fields,
) -> Answer {
    let last = new_case::last_case(&state, case.row.machine_id, Some(case.id)).await?;
    let events = last
        .map(|(_, _, kept)| kept.beyond(&case.state).events(&case.state))
        .unwrap_or_default();
    touch(&state, &case, &fields, "carry", &events).await
}

/// `POST /cases/{id}/same`: same as an earlier case; its signs, behaviours and pattern are taken
/// over where nothing is known here.
pub async fn same(
    State(state): State<AppState>,
    case: OpenCase,
    fields: Fields,
) -> Answer {
    let k = &state.knowledge;
    let other: Uuid = fields
        .get("as")
        .parse()
        .map_err(|_| PageError::NotFound("case"))?;
    let then: Answers = case::answers(k, &case::replay(k, &state.store.case_log(other).await?));
    let number = state.store.case_row(other).await?.number;
    let copies = copied(k, &case::answers(k, &case.state), &then);
    let fits = |f: &FindingId| k.finding(*f).fits(&case.state.facts.context);
    let observed = |(f, s): (FindingId, String)| Event::Observed {
        finding: k.finding(f).id.clone(),
        state: s,
        confidence: Confidence::Sure,
    };
    let mut events: Vec<Event> = copies
        .into_iter()
        .filter(|(f, _)| fits(f))
        .map(observed)
        .collect();
    if !events.is_empty() {
        events.insert(
            0,
            Event::Noted {
                text: format!(
                    "Same as {}: its signs and pattern taken over",
                    show::case_label(number)
                ),
            },
        );
    }
    touch(&state, &case, &fields, "same", &events).await
}

/// `POST /cases/{id}/tried`: what was tried before the case was opened.
pub async fn tried(
    State(state): State<AppState>,
    case: OpenCase,
    fields: Fields,
) -> Answer {
    match (
        state.knowledge.fix_id(fields.get("t.0.fix")),
        TryResult::from_id(fields.get("t.0.result")),
    ) {
        (Some(_), Some(result)) => {
            let event = Event::Tried {
                fix: fields.get("t.0.fix").to_string(),
                result,
            };
            touch(&state, &case, &fields, "tried", &[event]).await
        }
        _ => {
            let errors = Errors::from([(
                "tried".to_string(),
                "Choose both what was tried and what came of it.".to_string(),
            )]);
            refused(&state, &case, "numbers", "", &fields, errors).await
        }
    }
}

/// The part again with what was sent and what is wrong with it.
async fn refused(
    state: &AppState,
    case: &OpenCase,
    part: &str,
    at: &str,
    fields: &Fields,
    errors: Errors,
) -> Answer {
    let html = page(state, case, part, at.to_string(), fields, &errors).await?;
    Ok(again(html))
}
