//! What each bench stands for, over a file of about 100 MB: `lines` finds the ends of lines,
//! `plain` is a byte state machine that only sums filament and time, `reader` all figures,
//! `packed` the same from gzip, `layer` one layer read again.

use criterion::{Criterion, Throughput, criterion_group, criterion_main};
use flate2::Compression;
use flate2::write::GzEncoder;
use std::f64::consts::TAU;
use std::fmt::Write as _;
use std::hint::black_box;
use std::io::Write as _;
use suspect_core::gcode::Reader;
use suspect_core::gcode::trace::Tracer;
use suspect_print_files::Keeper;
use suspect_print_files::intake::Limits;

/// Layers of wavy loops and straight infill, as many as make 100 MB.
fn large() -> String {
    let mut text = "G90\nM83\nG21\nM204 P1500\nM205 X8 Y8\nM104 S215\nG28\nG29\n".to_owned();
    let mut layer = 0;
    while text.len() < 100_000_000 {
        layer += 1;
        let z = f64::from(layer) * 0.2;
        let _ = writeln!(
            text,
            ";LAYER_CHANGE\n;Z:{z:.3}\n;HEIGHT:0.2\nG1 Z{z:.3} F720"
        );
        for ring in 0..3 {
            let name = if ring == 2 {
                "outer loop"
            } else {
                "inner loop"
            };
            let radius = 60.0 - 0.45 * f64::from(ring);
            let _ = writeln!(
                text,
                ";TYPE:{name}\nG1 X{:.3} Y110 F9000\nG1 F2400",
                110.0 + radius
            );
            for corner in 1..=500 {
                let angle = TAU * f64::from(corner) / 500.0;
                let r = radius + 0.8 * (9.0 * angle).sin();
                let (x, y) = (110.0 + r * angle.cos(), 110.0 + r * angle.sin());
                let _ = writeln!(text, "G1 X{x:.3} Y{y:.3} E.02821");
            }
            text.push_str("G1 E-.8 F2100\n");
        }
        text.push_str(";TYPE:infill\n");
        for line in 0..40 {
            let x = 70 + 2 * line;
            let _ = writeln!(
                text,
                "G1 X{x} Y75 F9000\nG1 E.8 F2100\nG1 Y145 E2.6195 F4800"
            );
            text.push_str("G1 E-.8 F2100\n");
        }
    }
    text
}

/// Filament and time by looking at each byte in turn: no figures, no modes, no errors.
fn plain(bytes: &[u8]) -> (f64, f64) {
    let (mut values, mut set) = ([0.0f64; 32], 0u32);
    let (mut letter, mut whole, mut scale) = (0usize, 0u64, 0u32);
    let (mut digits, mut negative, mut comment) = (false, false, false);
    let (mut at, mut feed, mut e, mut time) = ([0.0f64; 3], 1500.0, 0.0, 0.0);
    for byte in bytes {
        if comment && *byte != b'\n' {
            continue;
        }
        match byte {
            b'0'..=b'9' => {
                whole = whole.wrapping_mul(10).wrapping_add(u64::from(byte - b'0'));
                scale += u32::from(scale > 0);
                digits = true;
                continue;
            }
            b'.' => scale = 1,
            b'-' => negative = true,
            _ => {}
        }
        if matches!(byte, b'.' | b'-') {
            continue;
        }
        if digits {
            let value = whole as f64 / 10f64.powi(scale.saturating_sub(1) as i32);
            values[letter] = if negative { -value } else { value };
            set |= 1 << letter;
        }
        (whole, scale, digits, negative) = (0, 0, false, false);
        match byte {
            b'A'..=b'Z' => letter = usize::from(byte - b'A'),
            b';' => comment = true,
            b'\n' => {
                comment = false;
                if set & (1 << 6) != 0 && values[6] <= 1.0 {
                    step(&values, set, &mut at, &mut feed, (&mut e, &mut time));
                }
                set = 0;
            }
            _ => {}
        }
    }
    (e, time)
}

fn step(
    values: &[f64; 32],
    set: u32,
    at: &mut [f64; 3],
    feed: &mut f64,
    (e, time): (&mut f64, &mut f64),
) {
    let word = |letter: u8| {
        let place = usize::from(letter - b'A');
        (set & (1 << place) != 0).then(|| values[place])
    };
    *feed = word(b'F').unwrap_or(*feed);
    let mut squares = 0.0;
    for (axis, letter) in [b'X', b'Y', b'Z'].into_iter().enumerate() {
        if let Some(to) = word(letter) {
            squares += (to - at[axis]) * (to - at[axis]);
            at[axis] = to;
        }
    }
    let filament = word(b'E').unwrap_or(0.0);
    *e += filament;
    let way = if squares > 0.0 {
        squares.sqrt()
    } else {
        filament.abs()
    };
    *time += way / *feed * 60.0;
}

fn read(bytes: &[u8]) -> suspect_core::gcode::Reading {
    let mut reader = Reader::new();
    bytes.chunks(64 * 1024).for_each(|piece| reader.feed(piece));
    reader.finish()
}

fn benches(c: &mut Criterion) {
    let text = large();
    let bytes = text.as_bytes();
    let reading = read(bytes);
    let (e, time) = plain(bytes);
    let sums = [reading.sum(|l| l.filament), reading.sum(|l| l.plain_time)];
    assert!((sums[0] - e).abs() < 1e-3 && (sums[1] - time).abs() < 1e-3 * time);
    let mut group = c.benchmark_group("print-file");
    group
        .sample_size(10)
        .throughput(Throughput::Bytes(bytes.len() as u64));
    group.bench_function("lines", |b| {
        b.iter(|| black_box(bytes).split(|byte| *byte == b'\n').count());
    });
    group.bench_function("plain", |b| b.iter(|| plain(black_box(bytes))));
    group.bench_function("reader", |b| b.iter(|| read(black_box(bytes))));
    let mut packed = GzEncoder::new(Vec::new(), Compression::fast());
    packed.write_all(bytes).expect("memory takes it");
    let packed = packed.finish().expect("memory takes it");
    group.bench_function("packed", |b| {
        b.iter(|| {
            let mut keeper = Keeper::new(Limits::default(), None).expect("a temporary file");
            for piece in packed.chunks(64 * 1024) {
                keeper.feed(piece).expect("a print file");
            }
            keeper.end().expect("a print file").reading.lines
        });
    });
    let [layer, next] = [1000, 1001].map(|at| &reading.layers[at]);
    let part = &bytes[layer.offset as usize..next.offset as usize];
    group.throughput(Throughput::Bytes(part.len() as u64));
    group.bench_function("layer", |b| {
        b.iter(|| {
            let mut tracer = Tracer::new(layer, Some(next), true, false).expect("its start");
            tracer.feed(black_box(part));
            tracer.finish().pieces.len()
        });
    });
    group.finish();
}

criterion_group!(print_files, benches);
criterion_main!(print_files);
