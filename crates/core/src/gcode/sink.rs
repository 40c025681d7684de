//! What a reader tells whoever listens, as it goes through a file.

use super::comments::Mark;
use super::machine::Machine;
use super::words::Odd;

/// What a machine is told to hold.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub(crate) enum Heater {
    /// A nozzle.
    Nozzle,
    /// The bed.
    Bed,
    /// The chamber.
    Chamber,
}

/// A limit of motion that a file sets.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(crate) enum Limit {
    /// Acceleration of moves that lay plastic, mm/s².
    Laying(f64),
    /// Acceleration of moves that lay none, mm/s².
    Travel(f64),
    /// Acceleration of the filament alone, mm/s².
    Filament(f64),
    /// The most an axis may accelerate, mm/s²: X, Y, Z, E are 0 to 3.
    AxisAcceleration(usize, f64),
    /// The fastest an axis may go, mm/s.
    AxisSpeed(usize, f64),
    /// The step of speed an axis may take at a corner, mm/s.
    Jerk(usize, f64),
    /// How far a corner may be cut, mm, for a speed at the corner.
    Deviation(f64),
    /// The speed through a corner of 90°, mm/s.
    Corner(f64),
}

/// Something a file asks of the machine that is no move.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(crate) enum Ask {
    /// A temperature, in °C; of a tool; whether the file waits for it.
    Heat(Heater, u8, f64, bool),
    /// A fan by its number, 0 to 1.
    Fan(usize, f64),
    /// All axes or Z go home.
    Home,
    /// The bed is measured.
    MeasureMesh,
    /// A stored mesh is put to use.
    LoadMesh,
    /// The mesh is switched off.
    DropMesh,
    /// A limit of motion.
    Limit(Limit),
    /// How pressure in the nozzle is met, in the firmware's own unit.
    Pressure(f64),
    /// Filament drawn back or pushed forward by the firmware, in mm, and the speed, in mm/s.
    FirmwareRetract(f64, f64),
    /// How much the firmware is to draw back from now on, mm.
    RetractLength(f64),
    /// Wait, in seconds.
    Dwell(f64),
    /// Wait until all moves are done.
    Finish,
    /// The print stands still until somebody comes.
    Pause,
    /// The filament is changed.
    ChangeFilament,
    /// Another tool.
    Tool(u8),
    /// Speed of all moves, as a factor.
    SpeedFactor(f64),
    /// Amount of plastic, as a factor.
    FlowFactor(f64),
    /// A macro by a name that the file does not explain.
    Macro,
    /// To take what follows in another way: units, places or ways, how filament is counted.
    Mode,
}

/// One straight piece of a move.
#[derive(Debug, Clone, Copy, Default)]
pub(crate) struct Step {
    /// Where it begins, mm.
    pub from: [f64; 3],
    /// Where it ends, mm.
    pub to: [f64; 3],
    /// Its length, mm.
    pub length: f64,
    /// One by the length, or by the filament where that moves alone.
    pub one: f64,
    /// Filament that goes forward, mm, overrides counted; below 0 it is drawn back.
    pub e: f64,
    /// Speed asked for, mm/s, overrides counted.
    pub speed: f64,
    /// Seconds at that speed.
    pub plain: f64,
    /// The machine's own count of filament and its speed before the line that asks this.
    pub before: (f64, f64),
    /// The [`modes`](super::machine::modes) in force.
    pub modes: u8,
    /// Number of that line, and where it begins, in bytes.
    pub line: u64,
    pub offset: u64,
}

impl Step {
    /// From its beginning to its end, mm.
    #[inline]
    pub fn way(&self) -> [f64; 3] {
        [0, 1, 2].map(|axis| self.to[axis] - self.from[axis])
    }

    /// Whether it lays plastic.
    #[inline]
    pub fn lays(&self) -> bool {
        self.e > 0.0 && self.length > 0.0
    }
}

/// Listens to a file being read.
pub(crate) trait Sink {
    /// The head moves, filament moves, or both. The machine may stand where it stood before the
    /// first or after the last of them: the steps bring their own places.
    fn moved(&mut self, steps: &[Step], machine: &Machine);
    /// Something else is asked.
    fn asked(&mut self, ask: Ask, machine: &Machine);
    /// A comment says something.
    fn marked(&mut self, mark: Mark<'_>, machine: &Machine);
    /// A line is odd.
    fn odd(&mut self, odd: Odd, machine: &Machine);
}
