//! What doing something takes.

use super::{CautionLevel, FixId};
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
    /// Cautions to read before it, by index.
    pub cautions: Vec<usize>,
    /// Name of a drawing, where a hand needs one.
    pub drawing: Option<String>,
    /// Parts that come off here and must come back at the end.
    pub keep: Vec<String>,
    /// What may go wrong, and the procedure that leads on.
    pub otherwise: Vec<(String, FixId)>,
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
    /// The words the knowledge uses for that state: "cold", "unloaded".
    pub state_words: Vec<String>,
    /// Ends with a print, which leaves the machine hot, loaded and closed.
    pub prints: bool,
    /// Degrees by which the step raises the nozzle; it is not advised where that leaves the window.
    pub raises_nozzle_c: f64,
    /// Indices of cautions to read before the step.
    pub cautions: Vec<usize>,
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
    /// Words of the step it is said before; without one it is said before the first.
    pub before: Vec<String>,
}
