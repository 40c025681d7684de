//! What holds while a file is read: what the machine is told, what the file was seen to use.

use super::super::reading::Mesh;

/// What the machine is told to hold now.
#[derive(Debug)]
pub(super) struct Now {
    pub fans: [f32; 16],
    pub fan: f32,
    pub nozzles: [f32; 64],
    pub bed: f32,
    pub chamber: f32,
    pub pressure: f32,
    pub tool: u8,
    pub flow_factor: f32,
    pub speed_factor: f32,
}

/// What the lines of a stroke have in common beyond its way.
#[derive(Debug, Default)]
pub(super) struct Run {
    /// It is part of a layer.
    pub in_layer: bool,
    /// Filament in it, mm.
    pub filament: f64,
    /// The most filament a second, mm/s, and the line of the file with it.
    pub peak: (f64, u64),
    /// Width as stated, summed over the length, mm², up to so many mm of it.
    pub wide: (f64, f64),
    /// Where the nozzle stood last, mm.
    pub z: f64,
}

/// What a file was seen to use.
#[derive(Debug, Default)]
pub(super) struct Seen {
    pub moves: u64,
    /// [`modes`](super::super::machine::modes) in which lines were laid.
    pub modes: u8,
    pub firmware_retraction: bool,
    pub macros: bool,
    pub limits: bool,
    pub first_fan: bool,
    pub mesh: Mesh,
}

impl Default for Now {
    /// How a machine begins: cold, and without a pressure term.
    fn default() -> Self {
        Now {
            fans: [0.0; 16],
            fan: 0.0,
            nozzles: [0.0; 64],
            bed: 0.0,
            chamber: 0.0,
            pressure: -1.0,
            tool: 0,
            flow_factor: 1.0,
            speed_factor: 1.0,
        }
    }
}
