//! What a step costs, in counted minutes: hands-on, a quarter of the waiting, money, dismantling,
//! risk and bringing the machine into the state the step needs.

use super::workshop::{Workshop, sane};
use crate::knowledge::{Check, Fix, MachineState, Work};

/// The present state of the machine: hot, unloaded, open.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq)]
pub struct Present(u8);

impl Present {
    const HOT: u8 = 1;
    const UNLOADED: u8 = 2;
    const OPEN: u8 = 4;
    /// Number of different states.
    pub const COUNT: usize = 8;

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
        for (bit, need) in [
            (Self::HOT, needed.hot),
            (Self::UNLOADED, needed.unloaded),
            (Self::OPEN, needed.open),
        ] {
            match need {
                Some(true) => bits |= bit,
                Some(false) => bits &= !bit,
                None => {}
            }
        }
        Present(bits)
    }

    /// Minutes to bring the machine from this state into `to`.
    fn change(self, to: Present, workshop: &Workshop) -> f64 {
        let differs = |bit: u8| (self.0 ^ to.0) & bit != 0;
        let heat = match (differs(Self::HOT), to.0 & Self::HOT != 0) {
            (false, _) => 0.0,
            (true, true) => sane(workshop.heat),
            (true, false) => sane(workshop.cool),
        };
        let handling = |bit: u8, minutes: f64| if differs(bit) { sane(minutes) } else { 0.0 };
        heat + handling(Self::UNLOADED, workshop.unload) + handling(Self::OPEN, workshop.open)
    }

    /// Minutes until the heat is as `work` needs it.
    pub fn warming(self, work: &Work, workshop: &Workshop) -> f64 {
        let hot = self.0 & Self::HOT != 0;
        match work.state.hot {
            Some(true) if !hot => sane(workshop.heat),
            Some(false) if hot => sane(workshop.cool),
            _ => 0.0,
        }
    }

    /// Whether a step that needs `work`'s state can start from here without changing anything.
    pub fn suits(self, work: &Work) -> bool {
        self.with(work.state) == self
    }
}

/// What a step costs from a present state.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Cost {
    /// Counted minutes, never under 1.
    pub counted: f64,
    /// Minutes by the clock: hands-on, waiting and changing the machine's state.
    pub clock: f64,
    /// Money, filament included.
    pub money: f64,
    /// State of the machine afterwards.
    pub after: Present,
}

/// Counted minutes, clock minutes and money of a step's own work.
///
/// # Formula
/// hands-on + 0.25 · waiting + money / 0.33 + dismantling + risk, filament counted as money
fn own(work: &Work, workshop: &Workshop) -> (f64, f64, f64) {
    let money = sane(work.money) + workshop.money_for(work.grams);
    let counted = sane(work.minutes)
        + sane(workshop.waiting) * sane(work.waiting)
        + workshop.minutes_for(money)
        + sane(workshop.dismantling[work.dismantling as usize])
        + sane(workshop.risk[work.risk as usize]);
    (counted, sane(work.minutes) + sane(work.waiting), money)
}

/// What a check costs from a present state.
pub fn check_cost(check: &Check, present: Present, workshop: &Workshop) -> Cost {
    let reached = present.with(check.work.state);
    let after = present.after(&check.work);
    let mut change = present.change(reached, workshop);
    if check.work.prints {
        change += reached.change(after, workshop);
    }
    let (counted, clock, money) = own(&check.work, workshop);
    Cost {
        counted: (counted + change).max(1.0),
        clock: clock + change,
        money,
        after,
    }
}

/// What a fix costs with its verification print.
pub fn fix_cost(fix: &Fix, present: Present, workshop: &Workshop) -> Cost {
    let reached = present.with(fix.work.state);
    let change = present.change(reached, workshop) + reached.change(Present::PRINTED, workshop);
    let (counted, clock, money) = own(&fix.work, workshop);
    let (hands_on, waiting, grams) = fix.proof();
    let filament = workshop.money_for(grams);
    let verify =
        sane(hands_on) + sane(workshop.waiting) * sane(waiting) + workshop.minutes_for(filament);
    Cost {
        counted: (counted + change + verify).max(1.0),
        clock: clock + change + sane(hands_on) + sane(waiting),
        money: money + filament,
        after: Present::PRINTED,
    }
}
