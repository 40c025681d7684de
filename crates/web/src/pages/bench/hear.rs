//! By ear: a plucked belt, recorded here or sent as a file; two of them side by side.

use crate::drawing::bench::picture;
use crate::drawing::chart::{Axis, Chart, Mark, svg};
use crate::form::Fields;
use crate::page_error::PageError;
use crate::pages::bench::context::For;
use crate::pages::bench::desk::Desk;
use crate::pages::bench::form::in_words;
use crate::pages::bench::measure::named;
use crate::pages::parts::files::{Sent, take};
use crate::pages::{Answer, Page, again};
use crate::state::AppState;
use crate::{show, urls};
use askama::Template;
use axum::extract::multipart::MultipartRejection;
use axum::extract::{Multipart, RawQuery, State};
use axum::response::{Html, IntoResponse};
use suspect_core::measures::{Inputs, Measure, Out, Output, Raw, signals};
use suspect_store::think;

/// Largest recording taken, in bytes: ten seconds at 96 kHz are smaller.
pub const LARGEST_RECORDING: usize = 4 * 1024 * 1024;
/// Highest frequency drawn, in hertz.
const DRAWN_TO: f64 = 600.0;

/// A belt that may be recorded.
struct Belt {
    field: &'static str,
    name: &'static str,
    /// "98.3 ± 0.3 Hz".
    result: Option<String>,
    warnings: Vec<String>,
    spectrum: Option<String>,
    error: Option<String>,
}

#[derive(Template)]
#[template(path = "bench/hear.html")]
struct HearPage {
    d: Desk,
    belts: Vec<Belt>,
    /// Where the tones go: belt tension, with them filled in.
    onward: Option<String>,
    /// How far the two differ.
    apart: Option<String>,
    not: String,
    handbook: String,
}

/// What was heard of one belt.
#[derive(Default)]
struct Heard {
    out: Option<Out>,
    spectrum: Option<String>,
    error: Option<String>,
}

/// The belts: field, name, and where its tone goes.
const BELTS: [(&str, &str, &str); 2] = [
    ("first", "The belt", "tone_hz"),
    ("second", "The other belt, where there are two", "tone2_hz"),
];

/// `GET /bench/tone?case=…&machine=…`
pub async fn show(State(state): State<AppState>, RawQuery(query): RawQuery) -> Page {
    let fields = Fields::of_query(query);
    Ok(Html(
        page(&state, &fields, [Heard::default(), Heard::default()]).await?,
    ))
}

/// `POST /bench/tone`: one recording or two.
pub async fn heard(
    State(state): State<AppState>,
    form: Result<Multipart, MultipartRejection>,
) -> Answer {
    let mut form = form.map_err(|_| PageError::NotAForm)?;
    let sent = take(&mut form, LARGEST_RECORDING).await;
    let measure = named("tone")?;
    let (fields, both) = think(move || {
        let both = BELTS.map(|(field, ..)| listen(measure, &sent, field));
        (sent.fields, both)
    })
    .await;
    let wrong = both.iter().any(|h| h.error.is_some());
    let html = page(&state, &fields, both).await?;
    Ok(match wrong {
        true => again(html),
        false => Html(html).into_response(),
    })
}

/// Listens to the recording in a field.
fn listen(measure: &Measure, sent: &Sent, field: &str) -> Heard {
    let Some(file) = sent.files.iter().find(|f| f.field == field) else {
        let none = sent.files.is_empty() && field == BELTS[0].0;
        let error = match (none, sent.cut) {
            (true, true) => Some(
                "The recording is larger than 4 MB, or broke off on its way. Record one to three \
                 seconds."
                    .to_string(),
            ),
            (true, false) => Some("No recording was chosen.".into()),
            _ => None,
        };
        return Heard {
            error,
            ..Heard::default()
        };
    };
    let wav = signals::recording(&file.bytes);
    let raw = Inputs::from([("wav_base64".to_string(), Raw::Text(wav.clone()))]);
    let (out, error) = match measure.reckon(&raw) {
        Ok(out) => (Some(out), None),
        Err(why) => (None, Some(in_words(measure, &why))),
    };
    let tone = out.as_ref().and_then(tone);
    Heard {
        spectrum: signals::heard(&wav).ok().map(|curve| drawn(&curve, tone)),
        out,
        error,
    }
}

fn tone(out: &Out) -> Option<f64> {
    let found = out.outputs.iter().find(|(n, _)| n == "tone_hz");
    match found {
        Some((_, Output::Number(hz))) => Some(*hz),
        _ => None,
    }
}

/// The spectrum, with the overtones of the tone that was found.
fn drawn(curve: &[(f64, f64)], tone: Option<f64>) -> String {
    let overtones = (1..=5).map(f64::from).filter_map(|h| Some((h, h * tone?)));
    let mark = |(h, hz): (f64, f64)| match h as u32 {
        1 => Mark::At(hz, format!("{} Hz", show::number(hz))),
        n => Mark::At(hz, format!("×{n}")),
    };
    svg(&Chart {
        title: "Spectrum of the recording",
        x: Axis {
            words: "frequency, Hz",
            range: Some((25.0, DRAWN_TO)),
            factors: false,
        },
        y: Axis {
            words: "loudness, share of the loudest",
            range: Some((0.0, 1.0)),
            factors: false,
        },
        raw: &[],
        curve,
        marks: overtones.map(mark).collect(),
    })
}

async fn page(state: &AppState, fields: &Fields, both: [Heard; 2]) -> Result<String, PageError> {
    let measure = named("tone")?;
    let to = For::read(state, fields).await?;
    let choices = to.choices(state).await;
    let drawing = match both.iter().any(|h| h.spectrum.is_some()) {
        true => String::new(),
        false => picture(measure.id),
    };
    let d = Desk::of(measure, fields, &to, choices, drawing);
    let tones = [0, 1].map(|n| both[n].out.as_ref().and_then(tone));
    let mut onward = d.carried.clone();
    for ((.., name), hz) in BELTS.iter().zip(tones) {
        onward.extend(hz.map(|hz| (*name, show::exact(hz))));
    }
    let belts = BELTS
        .iter()
        .zip(both)
        .map(|((field, name, _), heard)| Belt {
            field,
            name,
            result: heard.out.as_ref().map(|o| o.result.clone()),
            warnings: heard.out.map(|o| o.warnings).unwrap_or_default(),
            spectrum: heard.spectrum,
            error: heard.error,
        });
    let page = HearPage {
        belts: belts.collect(),
        onward: tones[0].map(|_| urls::with(&urls::measure("belt-pluck"), &onward)),
        apart: tones[0].zip(tones[1]).map(|(a, b)| apart(a, b)),
        not: show::sentence(measure.not),
        handbook: urls::handbook_measure(measure.id),
        d,
    };
    Ok(page.render()?)
}

/// How two tones differ, and what that means at the same free length.
fn apart(one: f64, two: f64) -> String {
    let tension = 100.0 * ((two / one).powi(2) - 1.0);
    format!(
        "The other belt sounds at {:.0} % of the first: at the same free length that is {} % of \
         tension.",
        100.0 * two / one,
        format!("{tension:+.0}").replace('-', "\u{2212}")
    )
}
