//! Expected cost of repair by fixes alone: repeatedly the fix with the greatest gain per cost, until giving up is cheaper.

use super::cost::{Present, Workshop, fix_cost};
use crate::knowledge::{CauseId, FixId, Knowledge};
use crate::ranking::{Hypothesis, Posterior};

/// Hypotheses kept for planning: the likeliest, and `unlisted`.
const KEPT: usize = 64;
/// Most fixes in a row that are thought through.
const MAX_FIXES: usize = 12;
/// Gains under this are rounding.
const NOTHING: f64 = 1e-12;

/// One kept hypothesis.
#[derive(Debug)]
struct Slot {
    hypothesis: Hypothesis,
    /// Where a half-mended pair goes: (slot of the second when the first is cured, slot of the first when the second is).
    halves: Option<(usize, usize)>,
    /// Fixes that touch it: fix, gain per unit of mass.
    gains: Vec<(usize, f64)>,
}

/// A fix that touches kept hypotheses.
#[derive(Debug)]
struct Touch {
    slot: usize,
    first: f64,
    second: f64,
}

/// The kept hypotheses with all that repair needs.
#[derive(Debug)]
pub struct Network {
    slots: Vec<Slot>,
    /// Present mass of each slot; slot 0 is `unlisted`.
    pub mass: Vec<f64>,
    touches: Vec<Vec<Touch>>,
    /// Counted minutes by present state and fix.
    costs: Vec<Vec<f64>>,
    /// Their inverses: worth is gain times this.
    per_minute: Vec<Vec<f64>>,
    /// Fixes that touch anything kept.
    useful: Vec<usize>,
    give_up: f64,
}

/// Which fixes are out of the question: already done, forbidden, tools missing.
pub type Done = Vec<bool>;

/// Result of repairing by fixes alone.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Repair {
    /// Expected counted minutes, times the mass it starts with.
    pub cost: f64,
    /// First fix; `None` means give up.
    pub first: Option<FixId>,
}

impl Network {
    /// The likeliest hypotheses, renormalised.
    pub fn new(knowledge: &Knowledge, posterior: &Posterior, workshop: &Workshop) -> Self {
        let kept = posterior.likeliest(KEPT);
        let total: f64 = kept.iter().map(|h| posterior.probability[*h]).sum();
        let mut hypotheses: Vec<Hypothesis> = kept.iter().map(|h| posterior.hypotheses[*h]).collect();
        let mut mass: Vec<f64> = kept.iter().map(|h| posterior.probability[*h] / total).collect();
        // A half-mended pair becomes the other cause, so every member of a kept pair needs a slot of its own.
        let mut own_slot = vec![usize::MAX; knowledge.causes.len()];
        let members: Vec<CauseId> = hypotheses.iter().flat_map(|h| h.causes()).collect();
        for (s, h) in hypotheses.iter().enumerate() {
            if let Hypothesis::One(c) = h {
                own_slot[c.at()] = s;
            }
        }
        for c in members {
            if own_slot[c.at()] == usize::MAX {
                own_slot[c.at()] = hypotheses.len();
                hypotheses.push(Hypothesis::One(c));
                mass.push(0.0);
            }
        }
        let slots: Vec<Slot> = hypotheses
            .into_iter()
            .map(|hypothesis| Slot {
                hypothesis,
                halves: match hypothesis {
                    Hypothesis::Two(i, j) => Some((own_slot[j.at()], own_slot[i.at()])),
                    _ => None,
                },
                gains: Vec::new(),
            })
            .collect();
        let costs: Vec<Vec<f64>> = Present::all().map(|p| knowledge.fixes.iter().map(|f| fix_cost(f, p, workshop).0).collect()).collect();
        let per_minute = costs.iter().map(|row| row.iter().map(|c| 1.0 / c).collect()).collect();
        let mut network = Self { slots, mass, touches: Vec::new(), costs, per_minute, useful: Vec::new(), give_up: workshop.give_up };
        network.touches = knowledge.fixes.iter().enumerate().map(|(x, _)| network.touching(knowledge, x)).collect();
        network.useful = (0..network.touches.len()).filter(|x| !network.touches[*x].is_empty()).collect();
        network
    }

    fn touching(&mut self, knowledge: &Knowledge, fix: usize) -> Vec<Touch> {
        let id = FixId(fix as u16);
        let mut out = Vec::new();
        for (s, slot) in self.slots.iter_mut().enumerate() {
            let (first, second) = match slot.hypothesis {
                Hypothesis::Unlisted => continue,
                Hypothesis::One(c) => (knowledge.cure(id, c), 0.0),
                Hypothesis::Two(i, j) => (knowledge.cure(id, i), knowledge.cure(id, j)),
            };
            if first == 0.0 && second == 0.0 {
                continue;
            }
            let gain = match slot.halves {
                None => first,
                Some(_) => first * second + 0.5 * (first * (1.0 - second) + second * (1.0 - first)),
            };
            slot.gains.push((fix, gain));
            out.push(Touch { slot: s, first, second });
        }
        out
    }

    /// Hypothesis of each slot.
    pub fn hypotheses(&self) -> impl Iterator<Item = Hypothesis> + '_ {
        self.slots.iter().map(|s| s.hypothesis)
    }

    /// Whether the fix touches anything kept.
    pub fn touched_by(&self, fix: FixId) -> bool {
        !self.touches[fix.at()].is_empty()
    }

    /// Applies a fix to `mass` in place; returns the mass cured. `changed` gets each slot with its change.
    pub fn apply(&self, mass: &mut [f64], fix: FixId, changed: &mut Vec<(usize, f64)>) -> f64 {
        changed.clear();
        let mut cured = 0.0;
        for touch in &self.touches[fix.at()] {
            let m = mass[touch.slot];
            if m <= 0.0 {
                continue;
            }
            match self.slots[touch.slot].halves {
                None => {
                    cured += m * touch.first;
                    changed.push((touch.slot, -m * touch.first));
                }
                Some((without_first, without_second)) => {
                    let (a, b) = (touch.first, touch.second);
                    cured += m * a * b;
                    changed.push((touch.slot, m * ((1.0 - a) * (1.0 - b) - 1.0)));
                    changed.push((without_first, m * a * (1.0 - b)));
                    changed.push((without_second, m * b * (1.0 - a)));
                }
            }
        }
        for (slot, delta) in changed.iter() {
            mass[*slot] += delta;
        }
        cured
    }

    /// Expected cost of repair with fixes alone, from a given mass and machine state.
    ///
    /// The best prefix of the greedy order, then giving up: the only stop rule.
    pub fn repair(&self, start: &[f64], done: &Done, present: Present, scratch: &mut Scratch) -> Repair {
        let mut alive: f64 = start.iter().sum();
        let mut best = Repair { cost: self.give_up * alive, first: None };
        if alive <= 0.0 {
            return best;
        }
        scratch.begin(self, start, done);
        let mut present = present;
        let mut spent = 0.0;
        let mut first = None;
        for _ in 0..MAX_FIXES {
            let per_minute = &self.per_minute[present.at()];
            let (mut x, mut most) = (usize::MAX, NOTHING / self.give_up);
            for &candidate in &scratch.open {
                let worth = scratch.gain[candidate] * per_minute[candidate];
                if worth > most {
                    (x, most) = (candidate, worth);
                }
            }
            if x == usize::MAX {
                break;
            }
            spent += self.costs[present.at()][x] * alive;
            // Nobody listed is never cured: whatever follows, that mass gives up in the end.
            if spent + self.give_up * start[0] >= best.cost {
                break;
            }
            let mut changed = std::mem::take(&mut scratch.changed);
            let cured = self.apply(&mut scratch.mass, FixId(x as u16), &mut changed);
            for (slot, delta) in &changed {
                for (fix, unit) in &self.slots[*slot].gains {
                    scratch.gain[*fix] += delta * unit;
                }
            }
            scratch.changed = changed;
            scratch.open.retain(|candidate| *candidate != x);
            alive -= cured;
            present = Present::PRINTED;
            first = first.or(Some(FixId(x as u16)));
            let total = spent + self.give_up * alive;
            if total < best.cost {
                best = Repair { cost: total, first };
            }
        }
        best
    }

    /// Counted minutes of a fix from a machine state.
    pub fn cost(&self, fix: FixId, present: Present) -> f64 {
        self.costs[present.at()][fix.at()]
    }
}

/// Buffers reused between reckonings.
#[derive(Debug, Default)]
pub struct Scratch {
    mass: Vec<f64>,
    gain: Vec<f64>,
    /// Useful fixes not yet done, in knowledge order.
    open: Vec<usize>,
    changed: Vec<(usize, f64)>,
}

impl Scratch {
    fn begin(&mut self, network: &Network, start: &[f64], done: &Done) {
        self.mass.clear();
        self.mass.extend_from_slice(start);
        self.open.clear();
        self.open.extend(network.useful.iter().copied().filter(|x| !done[*x]));
        self.gain.clear();
        self.gain.resize(network.touches.len(), 0.0);
        for (slot, m) in network.slots.iter().zip(start).filter(|(_, m)| **m > 0.0) {
            for (fix, unit) in &slot.gains {
                self.gain[*fix] += m * unit;
            }
        }
    }
}
