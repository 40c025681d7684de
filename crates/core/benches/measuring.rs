//! What each bench stands for: `measure` is flow from four walls, from readings to likelihoods;
//! `tram` nine probed points and four screws; `tone` a recording of 3 s at 48 kHz; `rhythm` a line
//! of 4,000 pixels across a photo; `trace` ten minutes of temperature, ten samples a second.

use base64::Engine;
use base64::engine::general_purpose::STANDARD;
use criterion::{Criterion, criterion_group, criterion_main};
use serde_json::{Value, json};
use std::f64::consts::PI;
use std::hint::black_box;
use suspect_core::measures::{answer, measure};

/// A plucked belt of 110 Hz as a WAV file: its head of 44 bytes, then the samples.
fn recording() -> String {
    let (rate, seconds) = (48_000u32, 3);
    let at = |n: u32| {
        let t = f64::from(n) / f64::from(rate);
        let string =
            (-t * 4.0).exp() * ((2.0 * PI * 110.0 * t).sin() + (2.0 * PI * 330.0 * t).sin());
        (9000.0 * string) as i16
    };
    let samples: Vec<u8> = (0..rate * seconds)
        .flat_map(|n| at(n).to_le_bytes())
        .collect();
    let size = samples.len() as u32;
    let mut bytes = b"RIFF".to_vec();
    bytes.extend((36 + size).to_le_bytes());
    bytes.extend(b"WAVEfmt ");
    bytes.extend(16u32.to_le_bytes());
    bytes.extend(1u16.to_le_bytes());
    bytes.extend(1u16.to_le_bytes());
    bytes.extend(rate.to_le_bytes());
    bytes.extend((rate * 2).to_le_bytes());
    bytes.extend(2u16.to_le_bytes());
    bytes.extend(16u16.to_le_bytes());
    bytes.extend(b"data");
    bytes.extend(size.to_le_bytes());
    bytes.extend(samples);
    STANDARD.encode(bytes)
}

fn asked() -> [(&'static str, &'static str, Value); 5] {
    let profile = (0..4000).map(|n| {
        let z = f64::from(n);
        120.0 + 18.0 * (2.0 * PI * z / 5.0).cos() + 9.0 * (2.0 * PI * z / 61.0).cos()
    });
    let times: Vec<f64> = (0..6000).map(|n| f64::from(n) / 10.0).collect();
    let temps: Vec<f64> = times
        .iter()
        .map(|t| 210.0 + 0.5 * (t / 7.0).sin())
        .collect();
    let [a, b, c] = [20.0, 110.0, 200.0];
    [
        (
            "measure",
            "wall-thickness",
            json!({ "wall_mm": [0.44, 0.45, 0.46, 0.45] }),
        ),
        (
            "tram",
            "tram",
            json!({
                "x_mm": [a, b, c, a, b, c, a, b, c],
                "y_mm": [a, a, a, b, b, b, c, c, c],
                "z_mm": [0.1, 0.05, 0.0, 0.12, 0.06, 0.01, 0.14, 0.08, 0.03],
                "screw_x_mm": [a, c, a, c],
                "screw_y_mm": [a, a, c, c],
            }),
        ),
        ("tone", "tone", json!({ "wav_base64": recording() })),
        (
            "rhythm",
            "photo-rhythm",
            json!({ "profile": profile.collect::<Vec<f64>>(), "scale_px": 500.0, "scale_mm": 20.0,
                "layer_mm": 0.2 }),
        ),
        (
            "trace",
            "temperature-trace",
            json!({ "time_s": times, "temp_c": temps, "set_c": 210.0 }),
        ),
    ]
}

fn measuring(c: &mut Criterion) {
    for (name, id, inputs) in asked() {
        let of = measure(id).expect("a measure");
        let request = json!({ "inputs": inputs });
        c.bench_function(name, |b| {
            b.iter(|| answer(of, black_box(&request)).expect("the bench's readings make sense"));
        });
    }
}

criterion_group!(benches, measuring);
criterion_main!(benches);
