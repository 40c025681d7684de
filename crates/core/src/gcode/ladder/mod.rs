//! An ordinary file made into a ladder: one quantity changes by bands of height, all else stays.
//!
//! Commands are put in where the bands begin; for flow of factors the firmware's own factor is
//! used, so no other line is touched. The result is read again to prove that the bands are there.

mod make;

pub use make::{Ladder, make};

use super::reading::Reading;
use super::report::to;
use crate::evidence::{Facts, LINED_HOTTEST, hottest_nozzle, nozzle_window};
use crate::identified::identified;
use crate::knowledge::Knowledge;
use crate::profile::HotEnd;

identified! {
    /// What changes from band to band.
    pub enum Quantity {
        /// Nozzle temperature, °C.
        NozzleC = "nozzle_c",
        /// Part fan, %.
        FanPercent = "fan_percent",
        /// Amount of plastic, as a ratio.
        FlowRatio = "flow_ratio",
        /// Speed of all moves, % of what the file asks.
        SpeedPercent = "speed_percent",
        /// Length of retraction, mm; where the firmware draws back.
        RetractMm = "retract_mm",
    }
}

/// Bands are at least so many layers.
const LEAST_LAYERS: f64 = 3.0;

/// A ladder as it is wanted.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Plan {
    /// What changes.
    pub quantity: Quantity,
    /// Its value in the lowest band.
    pub from: f64,
    /// What is added from band to band.
    pub step: f64,
    /// Height of a band, mm.
    pub band_mm: f64,
    /// Height beneath the first band that stays as it is, mm.
    pub base_mm: f64,
}

/// One band.
#[derive(Debug, Clone, Copy, PartialEq, serde::Serialize)]
pub struct Band {
    /// From this height, mm.
    pub from_mm: f64,
    /// To this height, mm.
    pub to_mm: f64,
    /// The value in it.
    pub value: f64,
    /// Line of the new file at which it begins.
    pub line: u64,
}

/// Why a ladder is not made.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
pub enum Refusal {
    /// The file has no layers, or lays none.
    #[error("the file lays no plastic; a ladder needs a print of some height")]
    NoPrint,
    /// It falls back to the plate.
    #[error("the file prints one object after another; a ladder needs all of it to rise together")]
    Sequential,
    /// A number makes no sense.
    #[error("{0}")]
    Number(String),
    /// Too little height for two bands.
    #[error(
        "the print is {tall} mm tall: two bands of {band} mm above {base} mm do not fit; choose \
         lower bands or a taller piece"
    )]
    Low {
        /// Height of the print.
        tall: f64,
        /// Height of a band.
        band: f64,
        /// Height beneath the first.
        base: f64,
    },
    /// A value is out of the material's window.
    #[error("{value} {unit} in band {band} is outside {low} to {high} {unit}: {why}")]
    Window {
        /// The value.
        value: f64,
        /// Its unit.
        unit: &'static str,
        /// Band from 1.
        band: usize,
        /// Lowest that is allowed.
        low: f64,
        /// Highest that is allowed.
        high: f64,
        /// Whose bounds they are.
        why: &'static str,
    },
    /// The firmware does not draw back by itself in this file.
    #[error(
        "in this file the slicer draws filament back by itself; its length cannot be changed by \
         bands. Let the firmware draw back (G10, G11) and slice again"
    )]
    NoFirmwareRetraction,
    /// The file sets the same quantity itself, so bands would not hold.
    #[error("line {line} sets the same quantity inside the bands; {advice}")]
    Set {
        /// Where.
        line: u64,
        /// What would do.
        advice: &'static str,
    },
    /// Read back, the bands are not as planned: a fault of the program.
    #[error("read back, band {0} is not as planned; nothing was written")]
    NotProved(usize),
}

/// The bands of a plan in a file, their lines not yet known.
///
/// # Errors
/// When the plan does not fit the file, the material or the hot end.
pub fn bands(
    knowledge: &Knowledge,
    facts: &Facts,
    reading: &Reading,
    plan: &Plan,
) -> Result<Vec<Band>, Refusal> {
    let tall = reading.layers.last().ok_or(Refusal::NoPrint)?.z;
    if reading.sequential() {
        return Err(Refusal::Sequential);
    }
    let typical = reading.typical_height().unwrap_or(0.2);
    sense(plan, typical)?;
    if plan.quantity == Quantity::RetractMm && !reading.firmware_retraction {
        return Err(Refusal::NoFirmwareRetraction);
    }
    let mut found = Vec::new();
    let mut from_mm = plan.base_mm;
    while from_mm < tall - typical / 2.0 {
        let value = to(4, plan.from + plan.step * found.len() as f64);
        // What is left at the top is no band of its own when it is less than half of one.
        let rest = tall - from_mm - plan.band_mm;
        let last = rest < plan.band_mm / 2.0;
        let to_mm = if last { tall } else { from_mm + plan.band_mm };
        found.push(Band {
            from_mm: to(3, from_mm),
            to_mm: to(3, to_mm),
            value,
            line: 0,
        });
        if last {
            break;
        }
        from_mm = to_mm;
    }
    if found.len() < 2 {
        let (band, base) = (plan.band_mm, plan.base_mm);
        return Err(Refusal::Low {
            tall: to(2, tall),
            band,
            base,
        });
    }
    for (at, band) in found.iter().enumerate() {
        allowed(knowledge, facts, plan.quantity, at + 1, band.value)?;
    }
    Ok(found)
}

fn sense(plan: &Plan, typical: f64) -> Result<(), Refusal> {
    let number = |text: String| Err(Refusal::Number(text));
    let all = [plan.from, plan.step, plan.band_mm, plan.base_mm];
    if all.iter().any(|value| !value.is_finite()) {
        return number("a ladder needs numbers for from, step, band and base".to_owned());
    }
    if plan.step == 0.0 {
        return number("a step of 0 changes nothing; choose another".to_owned());
    }
    if plan.base_mm < 0.0 {
        return number(format!(
            "the base of {} mm is below the plate",
            plan.base_mm
        ));
    }
    if plan.band_mm < LEAST_LAYERS * typical - 1e-9 {
        return number(format!(
            "a band of {} mm is less than {LEAST_LAYERS} layers of {typical} mm; nothing would \
             be seen in it",
            plan.band_mm
        ));
    }
    Ok(())
}

/// Whether a value may stand in a band.
fn allowed(
    knowledge: &Knowledge,
    facts: &Facts,
    quantity: Quantity,
    band: usize,
    value: f64,
) -> Result<(), Refusal> {
    let within = |low: f64, high: f64, unit: &'static str, why: &'static str| {
        let fits = (low - 1e-9..=high + 1e-9).contains(&value);
        let refused = Refusal::Window {
            value,
            unit,
            band,
            low,
            high,
            why,
        };
        if fits { Ok(()) } else { Err(refused) }
    };
    match quantity {
        Quantity::NozzleC => {
            let lined = HotEnd::of(&facts.context) == Some(HotEnd::Lined);
            if lined {
                let most = hottest_nozzle(knowledge, &facts.context, &facts.settings);
                let why = "the limit of a lined hot end, which gives off harmful gas above";
                within(150.0, most.min(LINED_HOTTEST), "°C", why)?;
            }
            match nozzle_window(knowledge, &facts.context, &facts.settings) {
                Some((low, high)) if low > 0.0 => {
                    within(low, high, "°C", "the window of this material")
                }
                _ => within(
                    150.0,
                    300.0,
                    "°C",
                    "no material is known; this is the widest range",
                ),
            }
        }
        Quantity::FanPercent => within(0.0, 100.0, "%", "a fan does no more"),
        Quantity::FlowRatio => within(0.7, 1.3, "", "more or less spoils the piece"),
        Quantity::SpeedPercent => within(20.0, 300.0, "%", "beyond, nothing is learned"),
        Quantity::RetractMm => within(0.0, 10.0, "mm", "longer pulls molten plastic too high"),
    }
}
