//! Making a ladder: commands put in where bands begin, and the proof that they hold.

use super::{Band, Plan, Quantity, Refusal, bands};
use crate::evidence::Facts;
use crate::gcode::reading::Reading;
use crate::gcode::report::to;
use crate::gcode::{Layer, read, trace};
use crate::knowledge::Knowledge;

/// The command that sets a value.
fn command(quantity: Quantity, value: f64) -> String {
    match quantity {
        // Not waited for: a head that stands still leaves a mark.
        Quantity::NozzleC => format!("M104 S{value}"),
        Quantity::FanPercent => format!("M106 S{}", (value * 2.55).round()),
        Quantity::FlowRatio => format!("M221 S{}", to(2, value * 100.0)),
        Quantity::SpeedPercent => format!("M220 S{}", to(2, value)),
        Quantity::RetractMm => format!("M207 S{value}"),
    }
}

/// A ladder made of a file.
#[derive(Debug, Clone, PartialEq)]
pub struct Ladder {
    /// The new file.
    pub text: Vec<u8>,
    /// Its bands.
    pub bands: Vec<Band>,
}

/// Makes a ladder of a whole file.
///
/// # Errors
/// As [`bands`]; when the file sets the quantity itself where bands are; when the proof fails.
pub fn make(
    knowledge: &Knowledge,
    facts: &Facts,
    file: &[u8],
    plan: &Plan,
) -> Result<Ladder, Refusal> {
    let reading = read(file);
    let mut bands = bands(knowledge, facts, &reading, plan)?;
    let mut text = Vec::with_capacity(file.len() + 1024);
    let mut copied = 0;
    for (put_in, band) in (0..).zip(&mut bands) {
        let layer = first_layer_of(&reading, band).ok_or(Refusal::NoPrint)?;
        let at = &reading.layers[layer];
        let offset = at.offset as usize;
        text.extend_from_slice(&file[copied..offset]);
        copied = offset;
        let name = plan.quantity.id();
        let line = format!(
            "{} ; band of {name} {}\n",
            command(plan.quantity, band.value),
            band.value
        );
        band.line = at.line + put_in;
        text.extend_from_slice(line.as_bytes());
    }
    let own = own_commands(file, &reading, &bands, plan.quantity);
    if let Some(line) = own {
        let advice = "switch that off in the slicer and slice again";
        return Err(Refusal::Set { line, advice });
    }
    text.extend_from_slice(&file[copied..]);
    prove(&text, &bands, plan.quantity)?;
    Ok(Ladder { text, bands })
}

/// The first layer that lies in a band.
fn first_layer_of(reading: &Reading, band: &Band) -> Option<usize> {
    let layers = &reading.layers;
    layers
        .iter()
        .position(|l| l.z - l.height / 2.0 >= band.from_mm - 1e-6)
}

/// A line inside the bands that sets the quantity itself; `0` switches off at the end of a print
/// and is none.
fn own_commands(file: &[u8], reading: &Reading, bands: &[Band], quantity: Quantity) -> Option<u64> {
    let what = match quantity {
        Quantity::NozzleC => "nozzle",
        Quantity::FanPercent => "fan",
        Quantity::FlowRatio => "flow-factor",
        Quantity::SpeedPercent => "speed-factor",
        Quantity::RetractMm => "retract",
    };
    let first = first_layer_of(reading, bands.first()?)?;
    let from = reading.layers[first].line;
    let last = last_laid_line(file, reading);
    let changes = reading.changes.iter().filter(|change| change.what == what);
    changes
        .map(|change| change.line)
        .find(|line| (from..last).contains(line))
}

/// The line after which nothing is laid any more.
fn last_laid_line(file: &[u8], reading: &Reading) -> u64 {
    let Some(layer) = reading.layers.last() else {
        return 0;
    };
    let named = reading.types_named;
    let Some(mut tracer) = trace::Tracer::new(layer, None, named, false) else {
        return 0;
    };
    tracer.feed(&file[layer.offset as usize..]);
    let trace = tracer.finish();
    let lays = |way| matches!(way, trace::Way::Lays(_));
    let laid = trace.pieces.iter().filter(|piece| lays(piece.way));
    laid.map(|piece| piece.line).max().unwrap_or(0)
}

/// Reads the new file and looks whether each band has its value.
fn prove(text: &[u8], bands: &[Band], quantity: Quantity) -> Result<(), Refusal> {
    let reading = read(text);
    for (at, band) in bands.iter().enumerate() {
        if quantity == Quantity::RetractMm {
            // Nothing in a layer shows how far the firmware draws back: the command must be there.
            let said = reading
                .changes
                .iter()
                .find(|c| c.what == "retract" && c.line == band.line);
            if said.is_none_or(|change| (change.value - band.value).abs() > 1e-6) {
                return Err(Refusal::NotProved(at + 1));
            }
            continue;
        }
        let inside: Vec<&Layer> = reading
            .layers
            .iter()
            .filter(|l| {
                let middle = l.z - l.height / 2.0;
                middle > band.from_mm && middle < band.to_mm
            })
            .collect();
        let holds = |layer: &&Layer| {
            let value = match quantity {
                Quantity::NozzleC => f64::from(layer.nozzle.value),
                Quantity::FanPercent => f64::from(layer.fan.value) * 100.0,
                Quantity::FlowRatio => f64::from(layer.flow_factor.value),
                Quantity::SpeedPercent => f64::from(layer.speed_factor.value) * 100.0,
                Quantity::RetractMm => return false,
            };
            (value - band.value).abs() <= 0.005 * band.value.abs() + 0.25
        };
        if inside.is_empty() || !inside.iter().all(holds) {
            return Err(Refusal::NotProved(at + 1));
        }
    }
    Ok(())
}
