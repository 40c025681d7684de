//! What was measured on the machines of the demo, and the stand-ins that answer for their devices.

use super::journal::Told;
use super::scenario::DemoMachine;
use anyhow::{Context, Result};
use suspect_core::machine::MachineEvent;
use suspect_core::measures::{Inputs, Raw, Reading, measure};
use time::format_description::well_known::Rfc3339;
use time::{Duration, OffsetDateTime};

/// The name of a stand-in: "heron-console".
pub fn stand_in(machine: &str, device: &str) -> String {
    format!("{machine}-{device}")
}

/// Where a machine's devices are reached, and what was measured on it.
pub fn entries(machine: &DemoMachine, at: OffsetDateTime) -> Result<Vec<Told>> {
    let name = machine.name.to_lowercase();
    let reached = machine.stand_ins.keys().zip(1i64..).map(|(device, k)| {
        let event = MachineEvent::Reached {
            device: device.clone(),
            address: format!("stand-in:{}", stand_in(&name, device)),
        };
        (at + Duration::minutes(k), event)
    });
    let mut entries: Vec<Told> = reached.collect();
    for line in &machine.readings {
        let told = || format!("reading \"{line}\"");
        entries.push(read(line).with_context(told)?);
    }
    Ok(entries)
}

/// "2026-02-03T10:20:00Z belt-pluck tone_hz=71 70; span_mm=220"
fn read(line: &str) -> Result<Told> {
    let mut parts = line.splitn(3, ' ');
    let (when, id) = (parts.next().unwrap_or(""), parts.next().unwrap_or(""));
    let at = OffsetDateTime::parse(when, &Rfc3339)?;
    let pairs = parts.next().unwrap_or("").split(';');
    let pairs = pairs.map(|p| p.trim().split_once('=').context("NAME=VALUE"));
    let inputs: Inputs = pairs
        .map(|p| p.map(|(name, value)| (name.to_string(), Raw::Text(value.to_string()))))
        .collect::<Result<_>>()?;
    let reading = Reading::of(measure(id)?, &inputs, false)?;
    let event = MachineEvent::benched(reading).context("nothing follows")?;
    Ok((at, event))
}
