//! What doing something takes.

use super::{Act, CautionLevel, FixId, Stands};
use crate::identified::identified;
use crate::knowledge::order::Belongs;
use crate::profile::Condition;

/// In which state the machine must be, and in which a step leaves it.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq)]
pub struct MachineState {
    /// `Some(true)` hot, `Some(false)` cold, `None` does not matter.
    pub hot: Option<bool>,
    /// Filament taken out.
    pub unloaded: Option<bool>,
    /// Covers off or hot end open.
    pub open: Option<bool>,
}

/// One step of a procedure, done at a time.
#[derive(Debug, Clone, PartialEq)]
pub struct ProcedureStep {
    /// What to do.
    pub text: String,
    /// Minutes to wait before the next step; 0 for none.
    pub wait: f64,
    /// How the machine stands while it is done.
    pub stands: Vec<Stands>,
    /// What it does, in this order.
    pub acts: Vec<Act>,
    /// Tools in hand.
    pub tools: Vec<String>,
    /// Cautions to read before it, by index.
    pub cautions: Vec<usize>,
    /// Name of a drawing, where a hand needs one.
    pub drawing: Option<String>,
    /// Parts that come off here and must come back at the end.
    pub keep: Vec<String>,
    /// What may go wrong, and the procedure that leads on.
    pub otherwise: Vec<(String, FixId)>,
}

identified! {
    /// Work for somebody who knows a trade: not for every technician.
    pub enum Trade {
        /// Mains wiring, power supplies, mains heaters.
        Mains = "mains",
        /// Currents of motors and their drivers.
        MotorCurrent = "motor-current",
        /// Firmware: what guards the heaters is in it.
        Firmware = "firmware",
    }
}

impl Trade {
    /// What somebody must be competent for.
    pub const fn words(self) -> &'static str {
        match self {
            Trade::Mains => "mains wiring",
            Trade::MotorCurrent => "motor currents",
            Trade::Firmware => "firmware",
        }
    }
}

/// What doing a step takes: shared by checks and fixes.
#[derive(Debug, Clone)]
pub struct Work {
    /// Imperative name: "Mark the pulley and its shaft".
    pub name: String,
    /// Steps in order.
    pub steps: Vec<ProcedureStep>,
    /// Tools needed.
    pub tools: Vec<String>,
    /// Hands-on minutes.
    pub minutes: f64,
    /// Waiting minutes.
    pub waiting: f64,
    /// Grams of filament used.
    pub grams: f64,
    /// Money spent, in the shop's currency.
    pub money: f64,
    /// 0 none, 1 some, 2 much taking apart.
    pub dismantling: u8,
    /// 0 none, 1 some, 2 much risk of making things worse.
    pub risk: u8,
    /// Machine state needed.
    pub state: MachineState,
    /// The same in words: how the machine stands when it is ready for the first step.
    pub stands: Vec<Stands>,
    /// Cautions to read before anything is done, by index: what getting ready calls for, and what
    /// belongs to no single step.
    pub ready: Vec<usize>,
    /// Something is heated in getting ready, in a step or for a print.
    pub heats: bool,
    /// Ends with a print, which leaves the machine hot, loaded and closed.
    pub prints: bool,
    /// Degrees by which the step raises the nozzle, below 0 by which it lowers it; raising is not
    /// advised where that leaves the window.
    pub raises_nozzle_c: f64,
    /// Indices of cautions to read before the step.
    pub cautions: Vec<usize>,
    /// The trade of whoever does it, where not every technician may.
    pub trade: Option<Trade>,
}

/// A safety caution, read before the step it belongs to.
#[derive(Debug, Clone)]
pub struct Caution {
    /// Identifier.
    pub id: String,
    /// How grave it is.
    pub level: CautionLevel,
    /// What to mind.
    pub text: String,
    /// Contexts in which it is said whatever the step.
    pub when: Vec<Condition>,
    /// What it belongs to: it is said before the first step that stands so or does so.
    pub belongs: Vec<Belongs>,
}

impl Work {
    /// Minutes by the clock: hands-on and waiting.
    pub fn whole_minutes(&self) -> f64 {
        self.minutes + self.waiting
    }
}
