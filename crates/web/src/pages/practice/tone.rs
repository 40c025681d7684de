//! The tone of a practice case, to be listened to.

use super::open::OpenPractice;
use crate::page_error::PageError;
use crate::pages::Answer;
use crate::state::AppState;
use axum::extract::State;
use axum::http::header;
use axum::response::IntoResponse;
use std::f64::consts::TAU;
use std::io::Cursor;
use suspect_rehearsal::practice::{Desk, Play};

/// Samples a second, seconds, loudness of what is heard.
const RATE: u32 = 22_050;
const SECONDS: f64 = 2.0;
const LOUD: f64 = 9_000.0;
/// How fast a plucked belt dies away, in 1/s, and how strong its overtone is.
const DIES: f64 = 1.6;
const OVERTONE: f64 = 0.35;

/// `GET /practice/cases/{id}/tone.wav`
pub async fn wav(State(state): State<AppState>, open: OpenPractice) -> Answer {
    let desk = Desk::new(&state.knowledge, &open.workshop, &open.case);
    let play = Play::after(&desk, open.acts());
    let shown = play.waits.as_ref().filter(|(_, _, r)| r.unit == "Hz");
    let (_, _, reading) = shown.ok_or(PageError::NotFound("tone"))?;
    let bytes = plucked(reading.value).map_err(|_| PageError::Broken)?;
    Ok(([(header::CONTENT_TYPE, "audio/wav")], bytes).into_response())
}

/// A plucked belt of a frequency.
fn plucked(hertz: f64) -> Result<Vec<u8>, hound::Error> {
    let mut out = Cursor::new(Vec::new());
    let spec = hound::WavSpec {
        channels: 1,
        sample_rate: RATE,
        bits_per_sample: 16,
        sample_format: hound::SampleFormat::Int,
    };
    let mut wav = hound::WavWriter::new(&mut out, spec)?;
    for n in 0..(f64::from(RATE) * SECONDS) as u32 {
        let t = f64::from(n) / f64::from(RATE);
        let tone = (TAU * hertz * t).sin() + OVERTONE * (2.0 * TAU * hertz * t).sin();
        wav.write_sample((LOUD * (-DIES * t).exp() * tone) as i16)?;
    }
    wav.finalize()?;
    Ok(out.into_inner())
}
