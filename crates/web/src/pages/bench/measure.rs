//! A measure: where to measure, the numbers, what follows from them.

use crate::form::Fields;
use crate::page_error::PageError;
use crate::pages::Page;
use crate::pages::bench::context::For;
use crate::pages::bench::desk::Desk;
use crate::pages::bench::device::device_for;
use crate::pages::bench::follows::Follows;
use crate::pages::bench::form::Typed;
use crate::pages::bench::points::Kind;
use crate::pages::parts::link::Choice;
use crate::pages::parts::pictures::{PictureCard, cards};
use crate::pages::parts::reading::{InputView, taken};
use crate::state::AppState;
use crate::urls;
use askama::Template;
use axum::extract::{Path, RawQuery, State};
use axum::response::Html;
use suspect_core::knowledge::Knowledge;
use suspect_core::machine::devices;
use suspect_core::measures::{self, Measure};
use suspect_store::think;

#[derive(Template)]
#[template(path = "bench/measure.html")]
struct MeasurePage {
    d: Desk,
    f: Follows,
    inputs: Vec<InputView>,
    more: Vec<InputView>,
    taken: String,
    open: bool,
    /// Where the machine itself can probe.
    probe: Option<String>,
    /// Pictures of the case this may be measured on; nothing where it is not measured on one.
    pictures: Option<Vec<PictureCard>>,
}

/// The measure an address names.
///
/// # Errors
/// When there is none.
pub fn named(id: &str) -> Result<&'static Measure, PageError> {
    measures::measure(id).map_err(|_| PageError::NotFound("measure"))
}

/// `GET /bench/{measure}?case=…&machine=…` and the inputs by name.
pub async fn show(
    State(state): State<AppState>,
    Path(id): Path<String>,
    RawQuery(query): RawQuery,
) -> Page {
    let measure = named(&id)?;
    let fields = Fields::of_query(query);
    Ok(Html(page(&state, measure, &fields, None).await?))
}

/// The page of a measure with what was sent; `error` is why it could not be kept.
///
/// # Errors
/// When what the fields name is not there, or the database cannot be reached.
pub async fn page(
    state: &AppState,
    measure: &'static Measure,
    fields: &Fields,
    error: Option<String>,
) -> Result<String, PageError> {
    let to = For::read(state, fields).await?;
    let choices = to.choices(state).await;
    let html = think(|| {
        let mut page = view(&state.knowledge, measure, (fields, &to), choices);
        page.d.error = error;
        // What was typed beside the button stays.
        let sent = fields.sent("minutes");
        for minutes in page
            .f
            .keepings
            .iter_mut()
            .filter_map(|k| k.minutes.as_mut())
        {
            if let Some(sent) = sent {
                sent.clone_into(minutes);
            }
        }
        page.render()
    });
    Ok(html.await?)
}

fn view(
    k: &Knowledge,
    measure: &'static Measure,
    (fields, to): (&Fields, &For),
    choices: (Vec<Choice>, Vec<Choice>),
) -> MeasurePage {
    let typed = Typed::new(measure, fields, measure.known(k, &to.facts));
    let sure = fields.get("sure") == "yes";
    let drawn = typed.drawing();
    let d = Desk::of(measure, fields, to, choices, drawn.svg.clone());
    let mut sent = typed.parameters();
    sent.extend(d.carried.clone());
    let f = Follows::of(
        k,
        measure,
        measure.bench(&typed.raw(), sure),
        (sent, sure),
        to,
    );
    let (mut inputs, more) = typed.views(&drawn, &f.by_input);
    let reached = devices(&to.log);
    for view in &mut inputs {
        let input = measure.input(view.id);
        let device = input.and_then(|i| device_for(measure, i));
        let there = device.filter(|d| reached.contains_key(*d));
        view.take = there.map(|_| format!("{}/take/{}", urls::measure(measure.id), view.id));
    }
    MeasurePage {
        probe: probe(measure, (fields, to), reached.contains_key("console")),
        pictures: on_a_photo(measure, fields, to),
        taken: taken(&more),
        open: more.iter().any(|i| i.error.is_some()),
        inputs,
        more,
        d,
        f,
    }
}

/// The pictures of the case on which a length, two heights or a rhythm may be measured; for a
/// length that another measure asks for, too.
fn on_a_photo(measure: &Measure, fields: &Fields, to: &For) -> Option<Vec<PictureCard>> {
    let of_photo = Kind::ALL.into_iter().find(|k| k.measure() == measure.id);
    let asks = Kind::ALL.into_iter().find_map(|kind| {
        let goes = kind.goes_into().iter().find(|(id, _)| *id == measure.id)?;
        Some((kind, format!("{}:{}", goes.0, goes.1)))
    });
    let (kind, into) = match (of_photo, asks) {
        (Some(kind), _) => (kind, fields.get("into").to_string()),
        (None, Some((kind, into))) if to.case.is_some() => (kind, into),
        _ => return None,
    };
    let parameters = [("what", kind.id().to_string()), ("into", into)];
    let mut cards = to.case.as_ref().map(cards).unwrap_or_default();
    for card in &mut cards {
        card.href = urls::with(&format!("{}/measure", card.href), &parameters);
    }
    Some(cards)
}

/// Where the machine probes by itself, the heights of before carried along.
fn probe(measure: &Measure, (fields, to): (&Fields, &For), reached: bool) -> Option<String> {
    let machine = to
        .machine
        .as_ref()
        .filter(|_| reached && measure.id == "probe-repeat")?;
    let carried = ["cool_mm", "warm_mm", "case"].map(|n| (n, fields.get(n).to_string()));
    let devices = urls::with(&urls::in_machine(machine.id, "devices"), &carried);
    Some(format!("{devices}#probe"))
}
