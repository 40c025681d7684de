//! A ladder of a print file: one quantity changes by bands of height, read back before it is handed
//! out; a label for the piece, and where its result is read.

use super::open_file::{For, OpenFile};
use crate::form::{Errors, Fields};
use crate::page_error::PageError;
use crate::pages::parts::link::Choice;
use crate::pages::parts::tag;
use crate::pages::{Answer, Page};
use crate::state::AppState;
use crate::{show, urls};
use askama::Template;
use axum::extract::{RawQuery, State};
use axum::http::{HeaderMap, header};
use axum::response::{Html, IntoResponse};
use suspect_core::gcode::ladder::{Band, Plan, Quantity, bands, make};
use suspect_core::settings::read_number;
use suspect_store::think;

/// Largest text a page makes a ladder of, in bytes: it is held in memory twice.
const LARGEST: u64 = 96 << 20;

#[derive(Template)]
#[template(path = "files/ladder.html")]
struct LadderPage {
    name: String,
    file_href: String,
    action: String,
    hidden: Vec<(&'static str, String)>,
    quantities: Vec<Choice>,
    fields: Vec<(
        &'static str,
        &'static str,
        &'static str,
        String,
        Option<String>,
    )>,
    problem: Option<String>,
    bands: Vec<(usize, String, String)>,
    made: Option<Made>,
}

/// A ladder that can be made: where it is, where its result is read, its label.
struct Made {
    file: String,
    reading: String,
    label: String,
    /// Where the label is a sheet of its own.
    sheet: String,
    quantity: &'static str,
}

/// Fields of the form: name, label, unit, what stands there at first.
const FIELDS: [(&str, &str, &str, &str); 4] = [
    ("from", "Value of the lowest band", "", ""),
    ("step", "From band to band", "", "-5"),
    ("band_mm", "Height of a band", "mm", "5"),
    ("base_mm", "Beneath the first band", "mm", "1"),
];

fn words(quantity: Quantity) -> (&'static str, &'static str) {
    match quantity {
        Quantity::NozzleC => ("nozzle temperature", "°C"),
        Quantity::FanPercent => ("part fan", "%"),
        Quantity::FlowRatio => ("flow ratio", ""),
        Quantity::SpeedPercent => ("speed of all moves", "%"),
        Quantity::RetractMm => ("retraction by the firmware", "mm"),
    }
}

/// `GET /files/{file}/ladder?quantity=…&from=…`
pub async fn show(
    State(state): State<AppState>,
    file: OpenFile,
    RawQuery(query): RawQuery,
) -> Page {
    let fields = Fields::of_query(query);
    let to = For::read(&state, &fields).await?;
    let asked = fields.given("from").is_some();
    let mut errors = Errors::new();
    let plan = plan(&fields, &mut errors).filter(|_| asked);
    let k = &state.knowledge;
    let found = plan.map(|plan| (plan, bands(k, &to.facts, &file.reading, &plan)));
    let view = view(
        &file,
        &to,
        &fields,
        if asked { errors } else { Errors::new() },
        found,
    );
    Ok(Html(view.render()?))
}

/// A ladder that an address asks for: for whom, which, and where it is asked otherwise.
struct Asked {
    to: For,
    plan: Plan,
    back: String,
}

impl Asked {
    async fn read(
        state: &AppState,
        file: &OpenFile,
        query: Option<String>,
    ) -> Result<Self, PageError> {
        let fields = Fields::of_query(query);
        let to = For::read(state, &fields).await?;
        let back = to.address(file.row.id, "/ladder", &sent(&fields));
        match plan(&fields, &mut Errors::new()) {
            Some(plan) => Ok(Asked { to, plan, back }),
            None => Err(PageError::Refused {
                message: "A number of the ladder is missing.".into(),
                back,
            }),
        }
    }
}

/// `GET /files/{file}/ladder/file?…`: the ladder itself.
pub async fn file(
    State(state): State<AppState>,
    file: OpenFile,
    RawQuery(query): RawQuery,
) -> Answer {
    let Asked { to, plan, back } = Asked::read(&state, &file, query).await?;
    let refused = |message: String| PageError::Refused {
        message,
        back: back.clone(),
    };
    if file.row.text_bytes > LARGEST {
        let most = LARGEST >> 20;
        return Err(refused(format!(
            "The file is larger than {most} MB: make the ladder on the command line, with \
             usual-suspect gcode ladder."
        )));
    }
    let text = file.text(&state).await?;
    let made = think(|| make(&state.knowledge, &to.facts, &text, &plan)).await;
    let ladder = made.map_err(|why| refused(show::sentence(&why.to_string())))?;
    let named = format!(r#"attachment; filename="ladder-{}.gcode""#, plan.quantity);
    let head = [
        (header::CONTENT_TYPE, "text/plain".into()),
        (header::CONTENT_DISPOSITION, named),
    ];
    Ok((head, ladder.text).into_response())
}

#[derive(Template)]
#[template(path = "files/ladder_label.html")]
struct LabelSheet {
    name: String,
    quantity: String,
    whose: String,
    bands: Vec<(usize, String, String)>,
    base: String,
    code: String,
    back: String,
}

/// `GET /files/{file}/ladder/label?…`: the label of the piece, one A6 sheet. Its code leads to
/// where the result is read.
pub async fn label(
    State(state): State<AppState>,
    file: OpenFile,
    headers: HeaderMap,
    RawQuery(query): RawQuery,
) -> Page {
    let Asked { to, plan, back } = Asked::read(&state, &file, query).await?;
    let refused = |message: String| PageError::Refused {
        message,
        back: back.clone(),
    };
    let bands = bands(&state.knowledge, &to.facts, &file.reading, &plan)
        .map_err(|why| refused(show::sentence(&why.to_string())))?;
    let address = reading_href(&to, &plan, bands.len());
    let case = to.case.as_ref().map(|case| case.head().label);
    let machine = to.machine.as_ref().map(|machine| machine.name.clone());
    let whose: Vec<String> = case.into_iter().chain(machine).collect();
    let sheet = LabelSheet {
        name: to.name_of(file.row.id),
        quantity: show::capital(words(plan.quantity).0),
        whose: whose.join(" · "),
        bands: shown(&bands, plan.quantity),
        base: show::with_unit(plan.base_mm, "mm"),
        code: tag::code(&format!("{}{address}", tag::origin(&headers))).unwrap_or_default(),
        back,
    };
    Ok(Html(sheet.render()?))
}

/// Bands as rows, the highest first, as they stand on the piece.
fn shown(bands: &[Band], quantity: Quantity) -> Vec<(usize, String, String)> {
    let rows = bands.iter().enumerate().rev();
    rows.map(|(at, band)| line(at, band, quantity)).collect()
}

/// The plan of the form; what makes no sense goes to `errors`.
fn plan(fields: &Fields, errors: &mut Errors) -> Option<Plan> {
    let quantity = Quantity::from_id(fields.get("quantity")).unwrap_or(Quantity::NozzleC);
    let mut number = |name: &'static str, plain: &str| match read_number(plain, fields.get(name)) {
        Ok(value) => Some(value),
        Err(problem) => {
            errors.insert(name.into(), crate::words::refusal::number(&problem));
            None
        }
    };
    let [from, step, band_mm, base_mm] =
        FIELDS.map(|(name, label, ..)| number(name, &show::lower_first(label)));
    Some(Plan {
        quantity,
        from: from?,
        step: step?,
        band_mm: band_mm?,
        base_mm: base_mm?,
    })
}

fn sent(fields: &Fields) -> Vec<(&'static str, String)> {
    let names = ["quantity", "from", "step", "band_mm", "base_mm"];
    names
        .map(|name| (name, fields.get(name).to_string()))
        .into()
}

type Found = (
    Plan,
    Result<Vec<Band>, suspect_core::gcode::ladder::Refusal>,
);

fn view(
    file: &OpenFile,
    to: &For,
    fields: &Fields,
    errors: Errors,
    found: Option<Found>,
) -> LadderPage {
    let id = file.row.id;
    let chosen = Quantity::from_id(fields.get("quantity")).unwrap_or(Quantity::NozzleC);
    let quantities = Quantity::ALL.into_iter().map(|q| Choice {
        value: q.id().to_string(),
        label: show::capital(words(q).0),
        chosen: q == chosen,
    });
    let typed = FIELDS.map(|(name, label, unit, usual)| {
        let value = fields.sent(name).unwrap_or(usual).to_string();
        (name, label, unit, value, errors.get(name).cloned())
    });
    let (mut problem, mut rows, mut made) = (None, Vec::new(), None);
    match found {
        Some((_, Err(why))) => problem = Some(show::sentence(&why.to_string())),
        Some((plan, Ok(bands))) => {
            rows = shown(&bands, chosen);
            made = Some(ready(to, id, fields, &plan, &bands));
        }
        None => {}
    }
    LadderPage {
        name: to.name_of(id),
        file_href: to.address(id, "", &[]),
        action: format!("{}/ladder", urls::print_file(id)),
        hidden: to.parameters(),
        quantities: quantities.collect(),
        fields: typed.into(),
        problem,
        bands: rows,
        made,
    }
}

fn line(at: usize, band: &Band, quantity: Quantity) -> (usize, String, String) {
    let place = format!(
        "{} to {} mm",
        show::number(band.from_mm),
        show::number(band.to_mm)
    );
    (
        at + 1,
        place,
        show::with_unit(band.value, words(quantity).1),
    )
}

/// Where the result of a ladder is read, with its bands filled in.
fn reading_href(to: &For, plan: &Plan, bands: usize) -> String {
    let mut reading = to.parameters();
    reading.extend([
        ("base_mm", plan.base_mm.to_string()),
        ("band_mm", plan.band_mm.to_string()),
        ("first", plan.from.to_string()),
        ("step", plan.step.to_string()),
        ("bands", bands.to_string()),
    ]);
    urls::with(&urls::measure("tower-reading"), &reading)
}

fn ready(to: &For, id: suspect_store::Uuid, fields: &Fields, plan: &Plan, bands: &[Band]) -> Made {
    let (name, unit) = words(plan.quantity);
    Made {
        file: to.address(id, "/ladder/file", &sent(fields)),
        reading: reading_href(to, plan, bands.len()),
        sheet: to.address(id, "/ladder/label", &sent(fields)),
        label: format!(
            "{}: {}, {} a band of {} mm, base {} mm",
            show::capital(name),
            show::with_unit(plan.from, unit),
            show::with_unit(plan.step, unit),
            show::number(plan.band_mm),
            show::number(plan.base_mm)
        ),
        quantity: name,
    }
}
