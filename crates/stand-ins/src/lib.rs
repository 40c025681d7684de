//! Simulated devices for trying things out and for tests: a printer's console, a power meter,
//! calipers; each with faults to choose and a seed, so that the same seed does the same.
//!
//! `printer`, `meter` and `calipers` say how each answers a line; `serve` puts one behind a TCP
//! port or any other stream.
#![warn(missing_docs)]

mod calipers;
mod meter;
mod printer;
mod serve;

pub use calipers::Calipers;
pub use meter::Meter;
pub use printer::Printer;
pub use serve::{serve, speak};

/// How a device misbehaves.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Fault {
    /// It does not.
    None,
    /// The temperature swings about what is set.
    Hunts,
    /// The temperature jumps now and then.
    Jumps,
    /// The temperature wanders slowly.
    Wanders,
    /// It begins cold and heats up.
    Heats,
    /// It was switched off and cools down.
    Cools,
    /// The probe's heights scatter.
    Scatters,
    /// The probe's heights drift as it warms.
    DriftsWarm,
    /// The bed is tilted.
    Tilted,
    /// The bed is bowed.
    Bowed,
    /// The heater takes more than it may.
    Overload,
    /// Values come in inches.
    Inches,
    /// A decimal place is lost now and then.
    Slips,
    /// It takes every question and says nothing.
    Silent,
    /// It answers something else.
    Rubbish,
    /// It stops half-way through an answer.
    HalfWay,
    /// It sends without end.
    Floods,
}

/// Faults by name, with the devices that have them.
pub const FAULTS: [(&str, Fault, &[&str]); 17] = [
    ("none", Fault::None, &["printer", "power-meter", "caliper"]),
    ("hunts", Fault::Hunts, &["printer"]),
    ("jumps", Fault::Jumps, &["printer"]),
    ("wanders", Fault::Wanders, &["printer"]),
    ("heats", Fault::Heats, &["printer"]),
    ("cools", Fault::Cools, &["printer"]),
    ("scatters", Fault::Scatters, &["printer"]),
    ("drifts-warm", Fault::DriftsWarm, &["printer"]),
    ("tilted", Fault::Tilted, &["printer"]),
    ("bowed", Fault::Bowed, &["printer"]),
    ("overload", Fault::Overload, &["power-meter"]),
    ("inches", Fault::Inches, &["caliper"]),
    ("slips", Fault::Slips, &["caliper"]),
    (
        "silent",
        Fault::Silent,
        &["printer", "power-meter", "caliper"],
    ),
    (
        "rubbish",
        Fault::Rubbish,
        &["printer", "power-meter", "caliper"],
    ),
    (
        "half-way",
        Fault::HalfWay,
        &["printer", "power-meter", "caliper"],
    ),
    (
        "floods",
        Fault::Floods,
        &["printer", "power-meter", "caliper"],
    ),
];

/// What a device says to a line.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Said {
    /// These lines.
    Lines(Vec<String>),
    /// Nothing at all.
    Nothing,
    /// This, without an end of line, and then the line is closed.
    Broken(String),
    /// The same again and again.
    Endless(String),
}

/// A simulated device.
pub trait Device: Send {
    /// Lets time pass.
    fn pass(&mut self, seconds: f64);

    /// Answers a line.
    fn answer(&mut self, line: &str) -> Said;

    /// What it says by itself, and how often, in seconds; nothing for a device that is asked.
    fn by_itself(&mut self) -> Option<(f64, Said)> {
        None
    }
}

/// What a device of a general fault says whatever it is asked; nothing when it has none of these.
fn broken(fault: Fault) -> Option<Said> {
    match fault {
        Fault::Silent => Some(Said::Nothing),
        Fault::Rubbish => Some(Said::Lines(vec!["?!#".into(), "ok".into()])),
        Fault::HalfWay => Some(Said::Broken("T:21".into())),
        Fault::Floods => Some(Said::Endless("T:210.0 /210.0 and on it goes".into())),
        _ => None,
    }
}

/// A device by its name.
///
/// # Errors
/// When there is no such device, or it has no such fault: what would do.
pub fn device(kind: &str, fault: &str, seed: u64) -> Result<Box<dyn Device>, String> {
    let of_kind = || FAULTS.iter().filter(|(_, _, kinds)| kinds.contains(&kind));
    if of_kind().next().is_none() {
        return Err(format!(
            "\"{kind}\" stands in for nothing: printer, power-meter or caliper does"
        ));
    }
    let Some((_, fault, _)) = of_kind().find(|(name, ..)| *name == fault) else {
        let names: Vec<&str> = of_kind().map(|(name, ..)| *name).collect();
        return Err(format!(
            "a {kind} has no fault \"{fault}\": {}",
            names.join(", ")
        ));
    };
    Ok(match kind {
        "printer" => Box::new(Printer::new(*fault, seed)),
        "power-meter" => Box::new(Meter::new(*fault, seed)),
        _ => Box::new(Calipers::new(*fault, seed)),
    })
}
