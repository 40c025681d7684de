//! What a step costs, in counted minutes: hands-on, a quarter of the waiting, money, dismantling, risk and bringing the machine
//! into the state the step needs.

use crate::knowledge::{Check, Fix, MachineState, Work};

/// The workshop's own settings for counting minutes.
#[derive(Debug, Clone)]
pub struct Workshop {
    /// Share of waiting minutes that counts.
    pub waiting: f64,
    /// Money (shop's currency) that is worth one minute.
    pub money_per_minute: f64,
    /// Minutes for none, some, much taking apart.
    pub dismantling: [f64; 3],
    /// Minutes for none, some, high risk of making it worse.
    pub risk: [f64; 3],
    /// Minutes to heat up.
    pub heat: f64,
    /// Minutes to cool down.
    pub cool: f64,
    /// Minutes to unload or load filament.
    pub unload: f64,
    /// Minutes to open or close the hot end or a cover.
    pub open: f64,
    /// Minutes that giving up costs: ask the maker, replace the part.
    pub give_up: f64,
    /// How many of the best steps are thought through two levels deep; 0 for one level only.
    pub second_level: usize,
    /// Names of tools that are not at hand.
    pub missing_tools: Vec<String>,
    /// Identifiers of checks and fixes put off for now.
    pub not_now: Vec<String>,
}

impl Default for Workshop {
    fn default() -> Self {
        Self {
            waiting: 0.25,
            money_per_minute: 0.33,
            dismantling: [0.0, 5.0, 20.0],
            risk: [0.0, 10.0, 30.0],
            heat: 2.0,
            cool: 4.0,
            unload: 2.0,
            open: 3.0,
            give_up: 240.0,
            second_level: 8,
            missing_tools: Vec::new(),
            not_now: Vec::new(),
        }
    }
}

/// The present state of the machine: hot, unloaded, open.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq)]
pub struct Present(u8);

impl Present {
    const HOT: u8 = 1;
    const UNLOADED: u8 = 2;
    const OPEN: u8 = 4;
    /// Number of different states.
    pub(super) const COUNT: usize = 8;

    pub(super) fn at(self) -> usize {
        self.0 as usize
    }

    pub(super) fn all() -> impl Iterator<Item = Present> {
        (0..Self::COUNT as u8).map(Present)
    }

    /// The state of a machine that has just printed: hot, loaded, closed.
    pub const PRINTED: Present = Present(Self::HOT);

    /// The state after `work`, started from this one.
    pub fn after(self, work: &Work) -> Present {
        if work.prints {
            return Self::PRINTED;
        }
        self.with(work.state)
    }

    fn with(self, needed: MachineState) -> Present {
        let mut bits = self.0;
        for (bit, need) in [(Self::HOT, needed.hot), (Self::UNLOADED, needed.unloaded), (Self::OPEN, needed.open)] {
            match need {
                Some(true) => bits |= bit,
                Some(false) => bits &= !bit,
                None => {}
            }
        }
        Present(bits)
    }

    /// Counted minutes to bring the machine from this state into `to`.
    fn change(self, to: Present, workshop: &Workshop) -> f64 {
        let differs = |bit: u8| (self.0 ^ to.0) & bit != 0;
        let heat = match (differs(Self::HOT), to.0 & Self::HOT != 0) {
            (false, _) => 0.0,
            (true, true) => workshop.heat,
            (true, false) => workshop.cool,
        };
        heat + if differs(Self::UNLOADED) { workshop.unload } else { 0.0 } + if differs(Self::OPEN) { workshop.open } else { 0.0 }
    }
}

/// Counted minutes of a step's own work.
///
/// # Formula
/// hands-on + 0.25 · waiting + money / 0.33 + dismantling + risk
fn own_minutes(work: &Work, workshop: &Workshop) -> f64 {
    work.minutes
        + workshop.waiting * work.waiting
        + work.money / workshop.money_per_minute
        + workshop.dismantling[work.dismantling as usize]
        + workshop.risk[work.risk as usize]
}

/// Counted minutes of a check from a present state, and the state after it. Never under 1.
pub fn check_cost(check: &Check, present: Present, workshop: &Workshop) -> (f64, Present) {
    let reached = present.with(check.work.state);
    let mut change = present.change(reached, workshop);
    let after = present.after(&check.work);
    if check.work.prints {
        change += reached.change(after, workshop);
    }
    ((own_minutes(&check.work, workshop) + change).max(1.0), after)
}

/// Counted minutes of a fix with its verification print, and the state after it. Never under 1.
pub fn fix_cost(fix: &Fix, present: Present, workshop: &Workshop) -> (f64, Present) {
    let reached = present.with(fix.work.state);
    let verify = fix.verify_minutes + workshop.waiting * fix.verify_waiting;
    let change = present.change(reached, workshop) + reached.change(Present::PRINTED, workshop);
    ((own_minutes(&fix.work, workshop) + change + verify).max(1.0), Present::PRINTED)
}
