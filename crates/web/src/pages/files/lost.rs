//! What the failed print cost: asked once, and told by the print file where there is one.

use super::open_file::OpenFile;
use crate::form::{Errors, Fields};
use crate::page_error::PageError;
use crate::pages::open_case::{CaseHead, OpenCase};
use crate::pages::parts::loss::{self, LossFields};
use crate::pages::record::Recorded;
use crate::pages::{Answer, Page, again};
use crate::show;
use crate::state::AppState;
use askama::Template;
use axum::extract::State;
use axum::response::Html;
use suspect_core::case::Event;
use suspect_core::gcode::{Spent, USUAL_DIAMETER, spent};
use suspect_core::measures::density_of;
use suspect_core::profile::FieldId;
use suspect_core::settings::NumberId;

#[derive(Template)]
#[template(path = "files/lost.html")]
struct LostPage {
    head: CaseHead,
    loss: LossFields,
    /// What the print file says of it.
    says: Vec<Said>,
    errors: Errors,
}

/// What the print file says: one touch takes it over.
struct Said {
    words: String,
    hours: String,
    grams: String,
    first_layer: bool,
}

/// `GET /cases/{id}/lost`
pub async fn form(State(state): State<AppState>, case: OpenCase) -> Page {
    let html = page(&state, &case, &Fields::default(), Errors::new()).await?;
    Ok(Html(html))
}

/// `POST /cases/{id}/lost`
pub async fn record(State(state): State<AppState>, case: OpenCase, fields: Fields) -> Answer {
    let mut errors = Errors::new();
    let lost = loss::read(&fields, &mut errors);
    if errors.is_empty() {
        let form = case.form(&state, &fields, "lost");
        let event = Event::Lost(lost.unwrap_or_default());
        match form.record(&[event], case.href()).await? {
            Recorded::Done(response) => return Ok(response),
            Recorded::Invalid { field, message } => {
                errors.insert(field, message);
            }
        }
    }
    Ok(again(page(&state, &case, &fields, errors).await?))
}

async fn page(
    state: &AppState,
    case: &OpenCase,
    fields: &Fields,
    errors: Errors,
) -> Result<String, PageError> {
    let page = LostPage {
        head: case.head(),
        loss: LossFields::of(fields, case.state.lost.as_ref()),
        says: says(state, case).await?,
        errors,
    };
    Ok(page.render()?)
}

/// What the last print file of the case says: up to the fault's height, and whole.
async fn says(state: &AppState, case: &OpenCase) -> Result<Vec<Said>, PageError> {
    let last = case.state.files.last();
    let Some(id) = last.and_then(|f| f.id.parse().ok()) else {
        return Ok(Vec::new());
    };
    let file = OpenFile::read(state, id).await?;
    let facts = &case.state.facts;
    let diameter = facts.settings.get(NumberId::FilamentMm);
    let diameter = diameter.unwrap_or(USUAL_DIAMETER);
    let density = density_of(facts.context.id(FieldId::Material));
    let fault = facts.settings.get(NumberId::FaultHeightMm);
    let said = |up_to: Option<f64>, words: String| {
        let used = spent(&file.reading, up_to, diameter)?;
        Some(in_words(&used, density, words))
    };
    let to_fault = fault.and_then(|z| {
        let words = format!("Up to the fault at {}", show::with_unit(z, "mm"));
        said(Some(z), words)
    });
    Ok(to_fault
        .into_iter()
        .chain(said(None, "The whole print".into()))
        .collect())
}

fn in_words(used: &Spent, density: f64, words: String) -> Said {
    let hours = (used.hours * 100.0).round() / 100.0;
    let grams = used.grams(density);
    Said {
        words: format!(
            "{words}: {}, {}",
            show::with_unit(hours, "h"),
            show::with_unit(grams, "g")
        ),
        hours: show::exact(hours),
        grams: show::exact(grams),
        first_layer: used.first_layer,
    }
}
