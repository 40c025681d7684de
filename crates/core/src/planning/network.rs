//! What planning works on: the likeliest hypotheses, what each fix would do to them and what each
//! check would show.

use super::cost::{Cost, Present, check_cost, fix_cost};
use super::preview::state_likelihoods;
use super::workshop::{Workshop, sane};
use crate::knowledge::{CauseId, CheckId, FixId, Knowledge};
use crate::ranking::{Hypothesis, Posterior};

/// Hypotheses kept for planning: the likeliest, and `unlisted`.
const KEPT: usize = 64;

/// One kept hypothesis.
#[derive(Debug)]
struct Slot {
    hypothesis: Hypothesis,
    /// Where a half-mended pair goes: (slot of the second when the first is cured, slot of the
    /// first when the second is).
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

/// A check as planning sees it.
#[derive(Debug, Clone)]
pub struct Test {
    /// What it costs, by present state of the machine.
    pub costs: Vec<Cost>,
    /// P(outcome | hypothesis): one row per outcome, one number per kept hypothesis.
    pub outcomes: Vec<Vec<f64>>,
    /// Outcomes after which the fault is gone.
    pub ends: Vec<usize>,
    /// The fix it tries at the same time.
    pub tries: Option<FixId>,
}

/// The kept hypotheses with all that planning needs.
#[derive(Debug)]
pub struct Network {
    slots: Vec<Slot>,
    /// Present mass of each slot; slot 0 is `unlisted`.
    pub mass: Vec<f64>,
    touches: Vec<Vec<Touch>>,
    tests: Vec<Option<Test>>,
    /// What each fix costs, by present state and fix.
    costs: Vec<Vec<Cost>>,
    /// Their inverses: worth is gain times this.
    per_minute: Vec<Vec<f64>>,
    /// Fixes that touch anything kept.
    useful: Vec<usize>,
    /// Counted minutes of giving up.
    pub give_up: f64,
    /// Counted minutes of the cheapest fix, or of giving up where that is less.
    cheapest: f64,
}

/// Which fixes are out of the question: already done, forbidden, tools missing.
pub type Done = Vec<bool>;

impl Network {
    /// The likeliest hypotheses, renormalised. `checks_out` are the checks that will not be looked
    /// at.
    pub fn new(
        knowledge: &Knowledge,
        posterior: &Posterior,
        workshop: &Workshop,
        checks_out: &[bool],
    ) -> Self {
        let kept = posterior.likeliest(KEPT);
        let total: f64 = kept.iter().map(|h| posterior.probability[*h]).sum();
        let mut hypotheses: Vec<Hypothesis> =
            kept.iter().map(|h| posterior.hypotheses[*h]).collect();
        let mut mass: Vec<f64> = kept
            .iter()
            .map(|h| posterior.probability[*h] / total)
            .collect();
        // A half-mended pair becomes the other cause, so every member of a kept pair needs a slot
        // of its own.
        let members: Vec<CauseId> = hypotheses.iter().flat_map(Hypothesis::causes).collect();
        for c in members {
            if !hypotheses.contains(&Hypothesis::One(c)) {
                hypotheses.push(Hypothesis::One(c));
                mass.push(0.0);
            }
        }
        let test = |check: usize| {
            let known = knowledge.check(CheckId(check as u16));
            Test {
                costs: Present::all()
                    .map(|p| check_cost(known, p, workshop))
                    .collect(),
                outcomes: state_likelihoods(
                    knowledge,
                    &posterior.seen,
                    hypotheses.iter().copied(),
                    known.finding,
                ),
                ends: known.ends_case.clone(),
                tries: knowledge.finding(known.finding).also_fix,
            }
        };
        let tests = (0..knowledge.checks.len())
            .map(|q| (!checks_out[q]).then(|| test(q)))
            .collect();
        let costs = Present::all()
            .map(|p| {
                knowledge
                    .fixes
                    .iter()
                    .map(|f| fix_cost(f, p, workshop))
                    .collect()
            })
            .collect();
        Self::assemble(
            hypotheses,
            mass,
            tests,
            costs,
            sane(workshop.give_up),
            |fix, cause| posterior.cure(knowledge, fix, cause),
        )
    }

    /// A network from its parts: `costs` of the fixes by present state, `cure` the chance that a
    /// fix cures a cause.
    pub fn assemble(
        hypotheses: Vec<Hypothesis>,
        mass: Vec<f64>,
        tests: Vec<Option<Test>>,
        costs: Vec<Vec<Cost>>,
        give_up: f64,
        cure: impl Fn(FixId, CauseId) -> f64,
    ) -> Self {
        let own_slot = |c: CauseId| hypotheses.iter().position(|h| *h == Hypothesis::One(c));
        let slot = |hypothesis: &Hypothesis| Slot {
            hypothesis: *hypothesis,
            halves: match hypothesis {
                Hypothesis::Two(i, j) => own_slot(*j).zip(own_slot(*i)),
                _ => None,
            },
            gains: Vec::new(),
        };
        let slots: Vec<Slot> = hypotheses.iter().map(slot).collect();
        let per_minute = costs
            .iter()
            .map(|row| row.iter().map(|c| 1.0 / c.counted).collect())
            .collect();
        let fixes = costs.first().map_or(0, Vec::len);
        let cheapest = costs
            .iter()
            .flatten()
            .map(|c| c.counted)
            .fold(give_up, f64::min);
        let mut network = Self {
            slots,
            mass,
            touches: Vec::new(),
            tests,
            costs,
            per_minute,
            useful: Vec::new(),
            give_up,
            cheapest,
        };
        network.touches = (0..fixes)
            .map(|x| network.touching(FixId(x as u16), &cure))
            .collect();
        network.useful = (0..fixes)
            .filter(|x| !network.touches[*x].is_empty())
            .collect();
        network
    }

    fn touching(&mut self, fix: FixId, cure: &impl Fn(FixId, CauseId) -> f64) -> Vec<Touch> {
        let mut out = Vec::new();
        for (s, slot) in self.slots.iter_mut().enumerate() {
            let (first, second) = match slot.hypothesis {
                Hypothesis::Unlisted => continue,
                Hypothesis::One(c) => (cure(fix, c), 0.0),
                Hypothesis::Two(i, j) => (cure(fix, i), cure(fix, j)),
            };
            if first == 0.0 && second == 0.0 {
                continue;
            }
            let gain = match slot.halves {
                None => first,
                Some(_) => first * second + 0.5 * (first * (1.0 - second) + second * (1.0 - first)),
            };
            slot.gains.push((fix.at(), gain));
            out.push(Touch {
                slot: s,
                first,
                second,
            });
        }
        out
    }

    /// Whether the fix touches anything kept.
    pub fn touched_by(&self, fix: FixId) -> bool {
        !self.touches[fix.at()].is_empty()
    }

    /// Fixes that touch anything kept, in knowledge order.
    pub(super) fn useful(&self) -> &[usize] {
        &self.useful
    }

    /// The kept hypotheses, in the order of the masses.
    pub(super) fn hypotheses(&self) -> impl Iterator<Item = Hypothesis> + '_ {
        self.slots.iter().map(|s| s.hypothesis)
    }

    /// A check that may be looked at.
    pub(super) fn test(&self, check: CheckId) -> Option<&Test> {
        self.tests[check.at()].as_ref()
    }

    /// Checks that may be looked at, in knowledge order.
    pub(super) fn checks(&self) -> impl Iterator<Item = CheckId> + '_ {
        (0..self.tests.len())
            .filter(|q| self.tests[*q].is_some())
            .map(|q| CheckId(q as u16))
    }

    /// Gain of every fix from the masses given, by fix.
    pub(super) fn gains(&self, mass: &[f64], gain: &mut Vec<f64>) {
        gain.clear();
        gain.resize(self.touches.len(), 0.0);
        for (slot, m) in self.slots.iter().zip(mass).filter(|(_, m)| **m > 0.0) {
            for (fix, unit) in &slot.gains {
                gain[*fix] += m * unit;
            }
        }
    }

    /// Adds what changed masses do to the gains.
    pub(super) fn regain(&self, changed: &[(usize, f64)], gain: &mut [f64]) {
        for (slot, delta) in changed {
            for (fix, unit) in &self.slots[*slot].gains {
                gain[*fix] += delta * unit;
            }
        }
    }

    /// Applies a fix to `mass` in place; returns the mass cured. `changed` gets each slot with its
    /// change.
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

    /// Counted minutes that no plan falls below: nobody listed gives up in the end, all others pay
    /// for one fix.
    pub(super) fn least_to_pay(&self, mass: &[f64], total: f64) -> f64 {
        self.give_up * mass[0] + self.cheapest * (total - mass[0])
    }

    /// What a fix costs from a machine state.
    pub fn cost(&self, fix: FixId, present: Present) -> &Cost {
        &self.costs[present.at()][fix.at()]
    }

    /// What a unit of gain is worth per counted minute, by fix.
    pub(super) fn per_minute(&self, present: Present) -> &[f64] {
        &self.per_minute[present.at()]
    }
}
