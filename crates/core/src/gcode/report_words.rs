//! A reading in a few lines of text, for the command line.

use super::jumps;
use super::reading::{Reading, SHORT_LAYER};
use super::report::{FileFacts, Wanted, to};
use super::seam;
use std::fmt::Write;

/// A reading in a few lines of text.
pub fn words(file: &FileFacts, reading: &Reading, wanted: Wanted<'_>) -> String {
    let mut out = String::new();
    // Writing to a text does not fail.
    let _ = whole(&mut out, file, reading);
    if let Some(z) = wanted.at {
        let _ = at(&mut out, reading, z);
    }
    if let Some(says) = wanted.says {
        for one in &says.findings {
            let (id, state, sure) = (&one.id, &one.state, one.confidence);
            let _ = writeln!(
                out,
                "{id}: {state} ({sure}): {}{}",
                one.why,
                places(&one.lines)
            );
        }
        for one in &says.numbers {
            let _ = writeln!(out, "{}: {} ({})", one.id, one.value, one.why);
        }
        for one in &says.signs {
            let _ = writeln!(out, "{}: {}{}", one.what, one.why, places(&one.lines));
        }
    }
    for one in reading.problems.iter().take(10) {
        let _ = writeln!(out, "line {}: {}", one.line, one.what);
    }
    out
}

fn places(lines: &[u64]) -> String {
    let all: Vec<String> = lines.iter().map(ToString::to_string).collect();
    match all.len() {
        0 => String::new(),
        1 => format!(" (line {})", all[0]),
        _ => format!(" (lines {})", all.join(", ")),
    }
}

fn whole(out: &mut String, file: &FileFacts, reading: &Reading) -> std::fmt::Result {
    writeln!(
        out,
        "{} bytes, {} lines, {} layers",
        file.bytes,
        reading.lines,
        reading.layers.len()
    )?;
    let (time, plain) = (reading.sum(|l| l.time), reading.sum(|l| l.plain_time));
    writeln!(
        out,
        "time: {} s, without acceleration {} s",
        to(1, time),
        to(1, plain)
    )?;
    writeln!(out, "filament: {} mm", to(2, reading.sum(|l| l.filament)))?;
    writeln!(out, "mesh: {}", reading.mesh.word().unwrap_or("not said"))?;
    if let Some((at, layer)) = reading.peak() {
        let (peak, most) = (reading.flow(layer.peak_rate), reading.flow(reading.rate_95));
        writeln!(
            out,
            "flow: {} mm³/s at most (layer {}, line {}), 95 % of the time up to {} mm³/s",
            to(2, peak),
            at + 1,
            layer.peak_line,
            to(2, most)
        )?;
    }
    let retraction = &reading.retraction;
    writeln!(
        out,
        "retractions: {} of {} mm, at most {} on one stretch of filament",
        retraction.count,
        to(2, retraction.length_mm),
        retraction.most_on_one_stretch
    )?;
    if let Some((at, seconds)) = reading.shortest() {
        let short = reading
            .layers
            .iter()
            .filter(|l| l.time < SHORT_LAYER)
            .count();
        writeln!(
            out,
            "shortest layer: {} s (layer {}), {short} under {SHORT_LAYER} s",
            to(1, seconds),
            at + 1
        )?;
    }
    if let Some(seam) = seam::alignment(reading) {
        let word = if seam.aligned() {
            "in line"
        } else {
            "scattered"
        };
        writeln!(out, "seam: {word}")?;
    }
    let air: u32 = reading.layers.iter().map(|l| l.air_starts).sum();
    writeln!(out, "starts in the air: {air}")
}

fn at(out: &mut String, reading: &Reading, z: f64) -> std::fmt::Result {
    let Some(at) = reading.layer_at(z) else {
        return Ok(());
    };
    let layer = &reading.layers[at];
    writeln!(
        out,
        "at {z} mm: layer {} (z {} mm, line {})",
        at + 1,
        to(3, layer.z),
        layer.line
    )?;
    let jumps = jumps::at(reading, z);
    if jumps.is_empty() {
        writeln!(out, "  nothing jumps within {} mm", jumps::NEAR)?;
    }
    for jump in jumps {
        writeln!(
            out,
            "  {}: {} -> {} at {} mm (line {})",
            jump.what.id().replace('_', " "),
            to(2, jump.from),
            to(2, jump.to),
            to(2, jump.z),
            jump.line
        )?;
    }
    Ok(())
}
