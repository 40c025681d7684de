//! Expected cost of repair by fixes alone: repeatedly the fix with the greatest gain per cost,
//! until giving up is cheaper.

use super::cost::Present;
use super::network::{Done, Network};
use crate::knowledge::FixId;

/// Most fixes in a row that are thought through.
pub const MAX_FIXES: usize = 12;
/// A gain per minute under this is rounding.
const NOTHING: f64 = 1e-15;

/// Result of repairing by fixes alone.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Repair {
    /// Expected counted minutes, times the mass it starts with.
    pub cost: f64,
    /// Fixes applied before giving up, when none of them cures.
    pub fixes: usize,
}

impl Network {
    /// Expected cost of repair with fixes alone, from a given mass and machine state.
    ///
    /// The best prefix of the greedy order, then giving up: the only stop rule. The order itself
    /// stays in `scratch`.
    pub fn repair(
        &self,
        start: &[f64],
        done: &Done,
        present: Present,
        scratch: &mut Scratch,
    ) -> Repair {
        let mut alive: f64 = start.iter().sum();
        let mut best = Repair {
            cost: self.give_up * alive,
            fixes: 0,
        };
        scratch.order.clear();
        if alive <= 0.0 {
            return best;
        }
        scratch.begin(self, start, done);
        let mut present = present;
        let mut spent = 0.0;
        for _ in 0..MAX_FIXES {
            let per_minute = self.per_minute(present);
            let (mut x, mut most) = (usize::MAX, NOTHING);
            for &candidate in &scratch.open {
                let worth = scratch.gain[candidate] * per_minute[candidate];
                if worth > most {
                    (x, most) = (candidate, worth);
                }
            }
            if x == usize::MAX {
                break;
            }
            let fix = FixId(x as u16);
            spent += self.cost(fix, present).counted * alive;
            // Nobody listed is never cured: whatever follows, that mass gives up in the end.
            if spent + self.give_up * start[0] >= best.cost {
                break;
            }
            let cured = self.apply(&mut scratch.mass, fix, &mut scratch.changed);
            self.regain(&scratch.changed, &mut scratch.gain);
            // Once is enough; what else was cured moves no infinity.
            scratch.gain[x] = f64::NEG_INFINITY;
            alive -= cured;
            present = Present::PRINTED;
            scratch.order.push((fix, cured));
            let total = spent + self.give_up * alive;
            if total < best.cost {
                best = Repair {
                    cost: total,
                    fixes: scratch.order.len(),
                };
            }
        }
        best
    }
}

/// Buffers reused between reckonings.
#[derive(Debug, Default)]
pub struct Scratch {
    mass: Vec<f64>,
    gain: Vec<f64>,
    /// Useful fixes not done before, in knowledge order.
    open: Vec<usize>,
    changed: Vec<(usize, f64)>,
    /// The fixes in turn, each with the mass it cures.
    pub order: Vec<(FixId, f64)>,
}

impl Scratch {
    fn begin(&mut self, network: &Network, start: &[f64], done: &Done) {
        self.mass.clear();
        self.mass.extend_from_slice(start);
        self.open.clear();
        self.open
            .extend(network.useful().iter().copied().filter(|x| !done[*x]));
        network.gains(start, &mut self.gain);
    }
}
