//! Recordings and photos made with a known truth: what is in them is found, what is not is not.

use base64::Engine;
use base64::engine::general_purpose::STANDARD;
use proptest::prelude::*;
use std::f64::consts::PI;
use suspect_core::measures::{Inputs, Out, Output, Raw, Refused, measure};

/// Draws between −1 and 1, the same for the same seed.
struct Noise(u64);

impl Noise {
    fn next(&mut self) -> f64 {
        self.0 = self
            .0
            .wrapping_mul(6_364_136_223_846_793_005)
            .wrapping_add(1_442_695_040_888_963_407);
        (self.0 >> 11) as f64 / (1u64 << 52) as f64 - 1.0
    }
}

fn number(out: &Out, name: &str) -> f64 {
    match out.outputs.iter().find(|(n, _)| n == name) {
        Some((_, Output::Number(value))) => *value,
        other => panic!("{name}: {other:?} in {out:?}"),
    }
}

fn word<'a>(out: &'a Out, name: &str) -> &'a str {
    match out.outputs.iter().find(|(n, _)| n == name) {
        Some((_, Output::Word(word))) => word,
        other => panic!("{name}: {other:?}"),
    }
}

/// A recording as a file, its samples between −1 and 1.
fn wav(rate: u32, samples: &[f64], channels: u16, bits: u16) -> Vec<u8> {
    let spec = hound::WavSpec {
        channels,
        sample_rate: rate,
        bits_per_sample: bits,
        sample_format: hound::SampleFormat::Int,
    };
    let mut bytes = std::io::Cursor::new(Vec::new());
    let mut writer = hound::WavWriter::new(&mut bytes, spec).unwrap();
    let full = f64::from(i16::MAX);
    for v in samples {
        writer.write_sample((v * full) as i16).unwrap();
    }
    writer.finalize().unwrap();
    bytes.into_inner()
}

fn tone_of(bytes: &[u8]) -> Result<Out, Refused> {
    let text = Raw::Text(STANDARD.encode(bytes));
    measure("tone")
        .unwrap()
        .reckon(&Inputs::from([("wav_base64".into(), text)]))
}

/// A belt plucked at a place along its length, as a small microphone hears it.
#[derive(Debug, Clone)]
struct Pluck {
    rate: u32,
    hz: f64,
    seconds: f64,
    decay: f64,
    at: f64,
    mains: f64,
    hum: f64,
    noise: f64,
    seed: u64,
}

impl Pluck {
    fn samples(&self) -> Vec<f64> {
        let mut noise = Noise(self.seed);
        let overtone = |t: f64, h: f64| {
            let rung = (t - 0.2).max(0.0);
            let loud = (h * PI * self.at).sin().abs() / h;
            // Below 200 Hz a small microphone hears less and less.
            let heard = (h * self.hz / 200.0).min(1.0);
            loud * heard
                * (-rung * h.sqrt() / self.decay).exp()
                * (2.0 * PI * h * self.hz * rung).sin()
        };
        let at = |n: usize| {
            let t = n as f64 / f64::from(self.rate);
            let string: f64 = (1..=10).map(|h| overtone(t, f64::from(h))).sum();
            string + self.hum * (2.0 * PI * self.mains * t).sin() + self.noise * noise.next()
        };
        let all: Vec<f64> = (0..(self.seconds * f64::from(self.rate)) as usize)
            .map(at)
            .collect();
        let peak = all.iter().fold(0.0f64, |m, v| m.max(v.abs()));
        all.iter().map(|v| 0.7 * v / peak).collect()
    }
}

fn plucks() -> impl Strategy<Value = Pluck> {
    let place = (
        prop::sample::select(vec![16_000u32, 44_100, 48_000]),
        40.0..250.0f64,
        1.2..2.5f64,
    );
    let loud = (
        0.15..0.6f64,
        0.15..0.5f64,
        prop::sample::select(vec![50.0, 60.0]),
    );
    (place, loud, 0.0..0.15f64, 0.0..0.05f64, any::<u64>()).prop_map(
        |((rate, hz, seconds), (decay, at, mains), hum, noise, seed)| Pluck {
            rate,
            hz,
            seconds,
            decay,
            at,
            mains,
            hum,
            noise,
            seed,
        },
    )
}

/// Brightness along a photographed wall: layers, bands where there are some, jitter of the layers,
/// a drift of the light, noise.
#[derive(Debug, Clone)]
struct Wall {
    px_mm: f64,
    layer: f64,
    band: f64,
    /// How strong the bands are against the layers.
    loud: f64,
    seed: u64,
}

impl Wall {
    fn profile(&self) -> Vec<f64> {
        let (mut noise, n) = (Noise(self.seed), 900);
        let jitter: Vec<f64> = (0..n).map(|_| noise.next()).collect();
        let at = |i: usize| {
            let z = i as f64 / self.px_mm;
            let layer = (2.0 * PI * z / self.layer).cos();
            let band = self.loud * (2.0 * PI * z / self.band).cos();
            let drift = 2.0 * (i as f64 / n as f64 - 0.4).powi(2);
            let own = 0.2 * jitter[(z / self.layer) as usize];
            120.0 + 18.0 * (layer + band + drift + own)
        };
        (0..n).map(at).map(|v| v + 1.5 * noise.next()).collect()
    }

    fn read(&self) -> Out {
        let profile = self.profile().into_iter().map(Raw::Number).collect();
        let inputs = Inputs::from([
            ("profile".into(), Raw::List(profile)),
            ("scale_px".into(), Raw::Number(self.px_mm * 20.0)),
            ("scale_mm".into(), Raw::Number(20.0)),
            ("layer_mm".into(), Raw::Number(self.layer)),
        ]);
        measure("photo-rhythm").unwrap().reckon(&inputs).unwrap()
    }
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(48))]

    #[test]
    fn a_pluck_is_heard_to_one_per_cent_through_hum_and_noise(pluck in plucks()) {
        let out = tone_of(&wav(pluck.rate, &pluck.samples(), 1, 16)).unwrap();
        let heard = number(&out, "tone_hz");
        prop_assert!((heard / pluck.hz - 1.0).abs() < 0.01, "{} heard as {}", pluck.hz, heard);
    }

    #[test]
    fn hum_and_noise_alone_are_no_tone(pluck in plucks()) {
        let silent = Pluck { hz: 2e4, hum: 0.5, noise: pluck.noise + 0.01, ..pluck };
        let why = tone_of(&wav(silent.rate, &silent.samples(), 1, 16)).unwrap_err();
        prop_assert!(why.to_string().contains("no tone"), "{}", why);
    }

    #[test]
    fn bands_are_found_beside_the_layers_and_their_spacing_is_right(
        px_mm in 14.0..22.0f64, layer in 0.2..0.3f64, band in 1.5..8.0f64, loud in 0.6..1.5f64,
        seed in any::<u64>()
    ) {
        let out = Wall { px_mm, layer, band, loud, seed }.read();
        prop_assert_eq!(word(&out, "rhythm"), "yes");
        let (spacing, u) = (number(&out, "spacing_mm"), number(&out, "spacing_u"));
        prop_assert!((spacing - band).abs() < 3.0 * u + 0.02 * band, "{} {} {}", band, spacing, u);
        prop_assert!((number(&out, "layer_seen_mm") / layer - 1.0).abs() < 0.02);
    }

    #[test]
    fn layers_alone_are_no_rhythm(
        px_mm in 14.0..22.0f64, layer in 0.2..0.3f64, seed in any::<u64>()
    ) {
        let out = Wall { px_mm, layer, band: 3.0, loud: 0.0, seed }.read();
        prop_assert_ne!(word(&out, "rhythm"), "yes");
    }
}

#[test]
fn a_recording_that_cannot_be_read_is_refused_with_what_would_do() {
    let tone: Vec<f64> = (0..16_000)
        .map(|n| (f64::from(n) * 0.05).sin() * 0.5)
        .collect();
    let good = wav(16_000, &tone, 1, 16);
    for (bytes, told) in [
        (wav(16_000, &tone, 2, 16), "mono"),
        (wav(16_000, &tone, 1, 24), "16 bits"),
        (wav(4_000, &tone, 1, 16), "8 to 96 kHz"),
        (wav(16_000, &tone[..8_000], 1, 16), "seconds"),
        (wav(16_000, &[0.0; 16_000], 1, 16), "silence"),
        (good[..30].to_vec(), "not a WAV"),
        (good[..20_001].to_vec(), "WAV"),
        (b"RIFF".to_vec(), "not a WAV"),
        (Vec::new(), "not a WAV"),
    ] {
        let why = tone_of(&bytes).unwrap_err().to_string();
        assert!(why.contains(told), "wanted {told}: {why}");
    }
    let no_text = Raw::Text("***".into());
    let asked = Inputs::from([("wav_base64".into(), no_text)]);
    let why = measure("tone").unwrap().reckon(&asked).unwrap_err();
    assert!(why.to_string().contains("base64"));
}
