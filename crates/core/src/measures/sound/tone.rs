//! The tone of a plucked belt in a recording.

use super::pitch::{Pitch, loudest, pitch};
use crate::measures::card::{Card, Hold};
use crate::measures::input::text;
use crate::measures::out::plus_minus;
use crate::measures::refused::refuse;
use crate::measures::{Given, Measure, Out, Refused};
use base64::Engine;
use base64::engine::general_purpose::STANDARD;
use hound::{SampleFormat, WavReader};

pub(super) const MEASURE: Measure = Measure {
    id: "tone",
    plain: "tone of a plucked belt in a recording",
    not: "an overtone: an octave too high is four times the tension",
    safety: "motors off while you pluck",
    card: Card {
        hold: Hold::Ear,
        words: "belt sound record microphone pluck pitch wav",
        formulas: &[
            "tone = the spacing at which the spectrum repeats, then the mean of its overtones, \
             each divided by its number",
        ],
        example: &[],
        against: "",
    },
    inputs: &[text("wav_base64", "recording")],
    reckon,
};

/// A recording: sampling rate in hertz, samples at 16 bits.
fn recording(text: &str) -> Result<(f64, Vec<i16>), Refused> {
    let Ok(bytes) = STANDARD.decode(text) else {
        return refuse("wav_base64: not base64");
    };
    let no_wav = || Refused("wav_base64: not a WAV file".into());
    let reader = WavReader::new(bytes.as_slice()).map_err(|_| no_wav())?;
    let spec = reader.spec();
    let fits = spec.sample_format == SampleFormat::Int && spec.bits_per_sample == 16;
    if spec.channels != 1 || !fits {
        return refuse("wav_base64: mono with 16 bits is needed");
    }
    if !(8000..=96_000).contains(&spec.sample_rate) {
        return refuse("wav_base64: 8 to 96 kHz are needed");
    }
    let rate = f64::from(spec.sample_rate);
    let seconds = f64::from(reader.len()) / rate;
    if !(0.8..=10.0).contains(&seconds) {
        return refuse(format!(
            "wav_base64: 1 to 3 seconds are wanted, {seconds:.1} were given"
        ));
    }
    let samples = reader.into_samples().collect::<Result<_, _>>();
    Ok((rate, samples.map_err(|_| no_wav())?))
}

/// The power of the loudest moment of a recording by frequency in hertz.
///
/// # Errors
/// As [`recording`].
pub fn spectrum(text: &str) -> Result<Vec<(f64, f64)>, Refused> {
    let (rate, samples) = recording(text)?;
    let samples: Vec<f64> = samples.into_iter().map(f64::from).collect();
    Ok(loudest(rate, &samples))
}

fn reckon(_: &'static str, g: &Given, o: &mut Out) -> Result<(), Refused> {
    let (rate, samples) = recording(g.word("wav_base64"))?;
    if (samples.len() as f64) < rate {
        o.warn("a short recording");
    }
    let full = samples
        .iter()
        .filter(|v| v.unsigned_abs() >= 32_767)
        .count();
    if full * 100 > samples.len() {
        o.warn("clipped: record further away or pluck more gently");
    }
    let samples: Vec<f64> = samples.into_iter().map(f64::from).collect();
    let found = pitch(rate, &samples);
    let Pitch {
        hz,
        u,
        clarity,
        overtones,
    } = found.map_err(|why| Refused(format!("wav_base64: no tone found: {why}")))?;
    o.pair("tone", "hz", (hz, u), 0.1);
    o.num("clarity", clarity, 0.01);
    o.num("overtones", f64::from(overtones), 0.0);
    o.result = plus_minus(hz, u, 0.1, "Hz");
    Ok(())
}
