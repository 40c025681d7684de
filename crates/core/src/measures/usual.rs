//! Inputs several measures ask for alike, and the densities of materials.

use super::Given;
use super::input::{Input, choice, mm, plain, ratio, whole};

/// Height of a layer.
pub const LAYER: Input = mm("layer_mm", "layer height")
    .range(0.02, 2.0)
    .from("layer_mm");
/// Width of a line.
pub const LINE: Input = mm("line_width_mm", "line width")
    .range(0.05, 3.0)
    .usual(0.45)
    .from("line_width_mm");
/// Diameter of the filament.
pub const FILAMENT: Input = mm("filament_mm", "filament diameter")
    .range(1.0, 3.5)
    .usual(1.75)
    .from("filament_mm");
/// Full steps of a motor in a turn.
pub const MOTOR_STEPS: Input = whole("motor_steps", "full steps a turn", 20.0, 800.0).usual(200.0);
/// Microsteps of its driver.
pub const MICROSTEPS: Input = whole("microsteps", "microsteps", 1.0, 256.0).usual(16.0);
/// Turns of a motor for one of what it drives.
pub const GEAR_RATIO: Input = plain("gear_ratio", "gear ratio", 0.1, 100.0).usual(1.0);
/// Pitch of a toothed belt.
pub const BELT_PITCH: Input = mm("belt_pitch_mm", "pitch of the belt")
    .range(1.0, 10.0)
    .usual(2.0);
/// Teeth of the pulley that drives it.
pub const PULLEY_TEETH: Input = whole("pulley_teeth", "teeth of the pulley", 8.0, 80.0).usual(20.0);
/// Share of the ideal speed that is kept on the way.
pub const PACE: Input = ratio("pace_ratio", "share of the ideal speed")
    .range(0.1, 1.0)
    .usual(0.85);
/// The material, where the usual one will do.
pub const MATERIAL: Input = choice("material", "material", KINDS).from("material");
/// Density that stands in for that of the material.
pub const DENSITY: Input = plain("density_g_cm3", "density, g/cm³", 0.5, 3.0);
/// Price of filament.
pub const MONEY_KG: Input = plain("money_kg", "price of a kilogram", 0.0, 500.0).usual(20.0);
/// Price of the machine's time.
pub const MONEY_H: Input = plain("money_h", "price of a machine hour", 0.0, 100.0).usual(0.5);
/// Price of work.
pub const WAGE: Input = plain("wage_h", "price of an hour's work", 0.0, 500.0).usual(20.0);

/// Materials with a density.
pub const KINDS: &[&str] = &["pla", "petg", "abs", "asa", "tpu", "pa", "pc"];
/// Their densities in g/cm³, in the same order.
const DENSITIES: [f64; 7] = [1.24, 1.27, 1.04, 1.07, 1.21, 1.12, 1.2];

/// The density as given, else that of the material, in g/cm³.
pub fn density(g: &Given) -> f64 {
    g.maybe("density_g_cm3")
        .unwrap_or_else(|| density_of(Some(g.word("material"))))
}

/// The density of a material, in g/cm³; that of the first where it has none of its own.
pub fn density_of(material: Option<&str>) -> f64 {
    let at = material.and_then(|m| KINDS.iter().position(|k| *k == m));
    DENSITIES[at.unwrap_or(0)]
}

/// What grams of filament and minutes of the machine cost.
pub fn price(g: &Given, grams: f64, minutes: f64) -> f64 {
    grams * g.num("money_kg") / 1000.0 + minutes * g.num("money_h") / 60.0
}
