//! What holds of any file, in whatever pieces it comes.

use proptest::prelude::*;
use suspect_core::gcode::trace::{Tracer, Way};
use suspect_core::gcode::{Reader, Reading, read};

fn in_pieces(bytes: &[u8], lengths: &[usize]) -> Reading {
    let mut reader = Reader::new();
    let mut rest = bytes;
    for length in lengths.iter().cycle() {
        if rest.is_empty() {
            break;
        }
        let (piece, after) = rest.split_at((*length).clamp(1, rest.len()));
        reader.feed(piece);
        rest = after;
    }
    reader.finish()
}

/// A line as files have it, or nearly.
fn line() -> impl Strategy<Value = String> {
    prop_oneof![
        8 => (0.0..200.0, 0.0..200.0, -1.0..4.0)
            .prop_map(|(x, y, e)| format!("G1 X{x:.3} Y{y:.3} E{e:.5} F1800")),
        2 => (0.0..200.0, 0.0..200.0).prop_map(|(x, y)| format!("G0 X{x:.2} Y{y:.2} F9000")),
        2 => (0.1..9.0).prop_map(|z| format!("G1 Z{z:.2}")),
        1 => (-20.0..20.0, -20.0..20.0).prop_map(|(i, j)| format!("G2 X50 Y50 I{i:.2} J{j:.2} E1")),
        1 => Just("G92 E0".to_owned()),
        1 => prop::sample::select(vec!["M82", "M83", "G90", "G91", "G20", "G21"])
            .prop_map(str::to_owned),
        1 => prop_oneof![Just(";LAYER_CHANGE"), Just(";TYPE:outer wall"), Just("; WIDTH: 0.4")]
            .prop_map(str::to_owned),
        1 => (0..300u32).prop_map(|s| format!("M106 S{s}")),
        1 => "[ -~]{0,30}",
    ]
}

fn file() -> impl Strategy<Value = String> {
    prop::collection::vec(line(), 0..120).prop_map(|lines| lines.join("\n"))
}

/// A file of so many layers of a hundred lines, with the filament and seconds it takes at full
/// speed.
fn tower(layers: u32) -> (String, f64, f64) {
    let mut text = "M83\n; wall_count = 3\nG1 X100 Y100 F6000\n".to_owned();
    for layer in 1..=layers {
        let z = 0.2 * f64::from(layer);
        text += &format!(";LAYER_CHANGE\n;TYPE:outer wall\nG1 Z{z:.2} F600\nG1 F1800\n");
        for _ in 0..50 {
            text += "G1 X130 Y100 E1.5\nG1 X100 Y100 E1.5\n";
        }
    }
    let layers = f64::from(layers);
    let start = 100.0_f64.hypot(100.0) / 100.0;
    let time = start + layers * (0.2 / 10.0 + 100.0 * 30.0 / 30.0);
    (text, 150.0 * layers, time)
}

#[test]
fn a_file_that_is_counted_beside_loses_nothing_and_keeps_its_order() {
    let (text, filament, time) = tower(400);
    let reading = read(text.as_bytes());
    assert_eq!((reading.layers.len(), reading.moves), (400, 40_801 - 400));
    assert!((reading.sum(|l| l.filament) - filament).abs() < 1e-6);
    assert!((reading.sum(|l| l.plain_time) - time).abs() < 1e-6 * time);
    for (at, layer) in reading.layers.iter().enumerate() {
        assert_eq!(layer.line, 4 + 104 * at as u64);
        assert!((layer.filament - 150.0).abs() < 1e-9);
        assert!((layer.z - 0.2 * (at + 1) as f64).abs() < 1e-9);
        assert!(text[layer.offset as usize..].starts_with(";LAYER_CHANGE"));
    }
    assert_eq!(reading.settings["wall_count"], "3");
    assert_eq!(in_pieces(text.as_bytes(), &[7, 4096, 61]), reading);
    // What is given up in the middle leaves nothing behind that waits.
    let mut reader = Reader::new();
    reader.feed(&text.as_bytes()[..text.len() / 2]);
    drop(reader);
}

proptest! {
    #![proptest_config(ProptestConfig {
        failure_persistence: None,
        cases: 96,
        ..ProptestConfig::default()
    })]

    #[test]
    fn any_bytes_are_read_without_panic(bytes in prop::collection::vec(any::<u8>(), 0..2000)) {
        let reading = read(&bytes);
        prop_assert!(reading.sum(|l| l.time).is_finite());
        prop_assert!(Reading::from_stored(&reading.to_stored().unwrap()).is_some());
    }

    #[test]
    fn pieces_change_nothing(text in file(), lengths in prop::collection::vec(1..40usize, 1..8)) {
        prop_assert_eq!(in_pieces(text.as_bytes(), &lengths), read(text.as_bytes()));
    }

    #[test]
    fn what_is_kept_comes_back(text in file()) {
        let reading = read(text.as_bytes());
        let (again, own) = Reading::from_stored(&reading.to_stored().unwrap()).unwrap();
        prop_assert!(own);
        prop_assert_eq!(again.layers.len(), reading.layers.len());
        prop_assert!((again.sum(|l| l.time) - reading.sum(|l| l.time)).abs() < 1e-6);
    }

    #[test]
    fn filament_and_time_add_up_over_the_layers(moves in prop::collection::vec(
        (0.0..200.0f64, 0.0..200.0f64, 0.01..3.0f64, 5.0..100.0f64), 1..60)) {
        let mut text = "M83\nG1 Z.2 F600\n".to_owned();
        let (mut filament, mut time, mut at) = (0.0, 0.2 / 10.0, (0.0, 0.0));
        for (n, (x, y, e, v)) in moves.iter().enumerate() {
            let [x, y, e, f] = [*x, *y, *e, v * 60.0].map(|v| (v * 1e3).round() / 1e3);
            if n % 7 == 6 {
                text += &format!("G1 Z{:.2} F600\n", 0.2 + 0.2 * (n / 7 + 1) as f64);
                time += 0.2 / 10.0;
            }
            text += &format!("G1 X{x} Y{y} E{e} F{f}\n");
            filament += e;
            time += f64::hypot(x - at.0, y - at.1).max(1e-12) / (f / 60.0);
            at = (x, y);
        }
        let reading = read(text.as_bytes());
        prop_assert!((reading.sum(|l| l.filament) - filament).abs() < 1e-6);
        prop_assert!((reading.sum(|l| l.plain_time) - time).abs() < 1e-4 * time);
        prop_assert!(reading.sum(|l| l.time) >= reading.sum(|l| l.plain_time) - 1e-9);
    }

    #[test]
    fn a_layer_read_again_lays_what_it_laid(text in file()) {
        let bytes = text.as_bytes();
        let reading = read(bytes);
        for (at, layer) in reading.layers.iter().enumerate() {
            let next = reading.layers.get(at + 1);
            let named = reading.types_named;
            let mut tracer = Tracer::new(layer, next, named, at == 0).unwrap();
            let end = next.map_or(bytes.len(), |n| n.offset as usize);
            tracer.feed(&bytes[layer.offset as usize..end]);
            let trace = tracer.finish();
            let laid: f64 = trace.pieces.iter().filter(|p| matches!(p.way, Way::Lays(_)))
                .map(|p| f64::from(p.to[0] - p.from[0]).hypot(f64::from(p.to[1] - p.from[1])))
                .sum();
            // A ramp's rise is not seen from above.
            prop_assert!(laid <= layer.laid + 0.01 + 1e-4 * layer.laid, "{} {}", laid, layer.laid);
        }
    }
}
