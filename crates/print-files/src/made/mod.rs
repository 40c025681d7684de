//! A very small slicer for one piece, a lighthouse: round layers with loops, infill, skin, a
//! gallery that leans out, two posts beside it, and a hollow in its foot if asked for. It makes the
//! files of the demo and files of known truth for tests. All figures in mm, mm/s, °C.

mod head;
mod layer;
mod shape;
mod writer;

pub use writer::Truth;

/// What the start does about the bed.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Start {
    /// It homes and prints.
    HomesOnly,
    /// It measures the bed after homing.
    Measures,
    /// It loads the stored mesh after homing.
    Loads,
    /// It measures, then loads.
    MeasuresAndLoads,
}

/// What the file is made like.
#[derive(Debug, Clone, PartialEq)]
pub struct Recipe {
    /// Height of a layer; the first is as high.
    pub layer: f64,
    /// Width of a line.
    pub width: f64,
    /// Diameter of the filament.
    pub diameter: f64,
    /// Size of the nozzle it is made for.
    pub nozzle: f64,
    /// Layers of the piece.
    pub layers: u32,
    /// Nozzle in the first layer and above.
    pub nozzle_c: [f64; 2],
    /// Bed.
    pub bed_c: f64,
    /// Part fan above the first layer, %.
    pub fan: f64,
    /// From this height another fan, %.
    pub fan_change: Option<(f64, f64)>,
    /// Speeds of outer loops, inner loops, infill and skin.
    pub speeds: [f64; 4],
    /// Speed of everything in the first layer.
    pub first_speed: f64,
    /// Acceleration, mm/s².
    pub acceleration: f64,
    /// Retraction.
    pub retract: f64,
    /// Layers of skin at the top.
    pub top_layers: u32,
    /// Distance of infill lines.
    pub infill: f64,
    /// The start.
    pub start: Start,
    /// A hollow in the foot; with a ledge in it that hangs in the air, and with support beneath it.
    pub hollow: Option<bool>,
    /// Filament is told as amounts.
    pub relative: bool,
    /// Layers and line types are marked.
    pub marked: bool,
    /// Settings stand at the end.
    pub settings: bool,
}

impl Default for Recipe {
    fn default() -> Self {
        Recipe {
            layer: 0.2,
            width: 0.45,
            diameter: 1.75,
            nozzle: 0.4,
            layers: 200,
            nozzle_c: [215.0, 210.0],
            bed_c: 60.0,
            fan: 100.0,
            fan_change: None,
            speeds: [25.0, 32.0, 45.0, 30.0],
            first_speed: 20.0,
            acceleration: 1500.0,
            retract: 0.8,
            top_layers: 5,
            infill: 5.0,
            start: Start::MeasuresAndLoads,
            hollow: None,
            relative: true,
            marked: true,
            settings: true,
        }
    }
}

/// A file made by a recipe, and what is true of it.
pub fn file(recipe: &Recipe) -> (String, Truth) {
    let mut out = writer::Writer::new(recipe);
    head::begin(&mut out, recipe);
    for at in 0..recipe.layers {
        layer::lay(&mut out, recipe, at);
    }
    head::end(&mut out, recipe);
    out.finish()
}
