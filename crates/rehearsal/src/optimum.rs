//! The exact optimum on small random networks, by dynamic programming over everything that can be
//! known, and what the planner costs there when it is followed.

use rand::{Rng, RngExt};
use rand_distr::{Distribution, StandardNormal};
use serde::Serialize;
use suspect_core::knowledge::{CauseId, CheckId, FixId};
use suspect_core::planning::{Action, Cost, LookAhead, Network, Out, Present, Situation, Test};
use suspect_core::ranking::Hypothesis;

const CAUSES: usize = 6;
const CHECKS: usize = 6;
const FIXES: usize = 8;
const GIVE_UP: f64 = 240.0;
/// Steps thought through two levels deep, as in a workshop.
const SECOND_LEVEL: usize = 8;
/// All that can be known: each check open, or with one of two outcomes; each fix open or tried in
/// vain.
const STATES: usize = 3usize.pow(CHECKS as u32) << FIXES;

/// The advice against the exact optimum.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
pub struct SmallNetworks {
    /// Networks drawn.
    pub count: usize,
    /// Mean of the cost of following the advice over the least possible cost.
    pub mean_ratio: f64,
    /// The worst of them.
    pub worst_ratio: f64,
}

impl SmallNetworks {
    /// Sums up ratios.
    pub(super) fn of(ratios: &[f64]) -> Self {
        let count = ratios.len();
        Self {
            count,
            mean_ratio: if count == 0 {
                1.0
            } else {
                ratios.iter().sum::<f64>() / count as f64
            },
            worst_ratio: ratios.iter().copied().fold(1.0, f64::max),
        }
    }
}

/// Small random networks.
pub mod small_networks {
    use super::*;

    /// Cost of following the advice over the least possible cost, on one network drawn by chance.
    pub fn ratio(rng: &mut impl Rng) -> f64 {
        let small = Small::draw(rng);
        let optimum = Values::new(&small).least(Known::default());
        let advice =
            Values::new(&small).followed(Known::default(), &mut LookAhead::new(&small.network));
        advice / optimum
    }
}

/// What is known: outcomes of the checks as digits to base three (0 open, 1 and 2 the outcomes),
/// fixes tried as bits.
#[derive(Debug, Clone, Copy, Default)]
struct Known {
    checks: [u8; CHECKS],
    fixes: u16,
}

impl Known {
    fn at(self) -> usize {
        let digits = self.checks.iter().fold(0, |n, d| n * 3 + *d as usize);
        digits << FIXES | self.fixes as usize
    }

    fn seen(mut self, check: usize, outcome: usize) -> Self {
        self.checks[check] = outcome as u8 + 1;
        self
    }

    fn tried(mut self, fix: usize) -> Self {
        self.fixes |= 1 << fix;
        self
    }
}

struct Small {
    network: Network,
    prior: Vec<f64>,
    /// P(outcome | hypothesis) by check, outcome, hypothesis.
    outcomes: Vec<Vec<Vec<f64>>>,
    check_costs: Vec<f64>,
    /// Chance of cure by fix and cause.
    cures: Vec<[f64; CAUSES]>,
    fix_costs: Vec<f64>,
}

impl Small {
    fn draw(rng: &mut impl Rng) -> Self {
        let weights: Vec<f64> = (0..CAUSES)
            .map(|_| {
                let z: f64 = StandardNormal.sample(rng);
                z.exp()
            })
            .collect();
        let total: f64 = weights.iter().sum();
        let mut prior = vec![0.02];
        prior.extend(weights.iter().map(|w| 0.98 * w / total));
        let outcomes: Vec<Vec<Vec<f64>>> =
            (0..CHECKS).map(|_| draw_outcomes(&prior, rng)).collect();
        let check_costs: Vec<f64> = (0..CHECKS).map(|_| rng.random_range(1.0..20.0)).collect();
        let cures: Vec<[f64; CAUSES]> = (0..FIXES).map(|x| draw_cures(x, rng)).collect();
        let fix_costs: Vec<f64> = (0..FIXES).map(|_| rng.random_range(5.0..60.0)).collect();
        let hypotheses: Vec<Hypothesis> = std::iter::once(Hypothesis::Unlisted)
            .chain((0..CAUSES as u16).map(|c| Hypothesis::One(CauseId(c))))
            .collect();
        let cost = |counted: f64| Cost {
            counted,
            clock: counted,
            money: 0.0,
            after: Present::default(),
        };
        let tests = outcomes
            .iter()
            .zip(&check_costs)
            .map(|(outcomes, minutes)| {
                let costs = vec![cost(*minutes); Present::COUNT];
                Some(Test {
                    costs,
                    outcomes: outcomes.clone(),
                    ends: Vec::new(),
                    tries: None,
                })
            });
        let costs: Vec<Cost> = fix_costs.iter().map(|c| cost(*c)).collect();
        let network = Network::assemble(
            hypotheses,
            prior.clone(),
            tests.collect(),
            vec![costs; Present::COUNT],
            GIVE_UP,
            |fix, cause| cures[fix.at()][cause.at()],
        );
        Self {
            network,
            prior,
            outcomes,
            check_costs,
            cures,
            fix_costs,
        }
    }

    /// Mass of each hypothesis given what is known, not normalised.
    fn mass(&self, known: Known) -> Vec<f64> {
        let mut mass = self.prior.clone();
        for (check, digit) in known.checks.iter().enumerate().filter(|(_, d)| **d > 0) {
            mass.iter_mut()
                .zip(&self.outcomes[check][*digit as usize - 1])
                .for_each(|(m, l)| *m *= l);
        }
        for fix in (0..FIXES).filter(|x| known.fixes >> x & 1 == 1) {
            mass[1..]
                .iter_mut()
                .zip(&self.cures[fix])
                .for_each(|(m, k)| *m *= 1.0 - k);
        }
        mass
    }
}

/// Chances that a fix cures each cause: mostly one, now and then two.
fn draw_cures(fix: usize, rng: &mut impl Rng) -> [f64; CAUSES] {
    let mut touches = [0.0; CAUSES];
    let first = match fix < CAUSES {
        true => fix,
        false => rng.random_range(0..CAUSES),
    };
    touches[first] = rng.random_range(0.5..0.95);
    if rng.random_bool(0.3) {
        touches[rng.random_range(0..CAUSES)] = rng.random_range(0.3..0.9);
    }
    touches
}

/// Two outcomes; some causes make the first likely, the others show it rarely; nobody listed is the
/// average.
fn draw_outcomes(prior: &[f64], rng: &mut impl Rng) -> Vec<Vec<f64>> {
    let background = rng.random_range(0.01..0.1);
    let causes: Vec<f64> = (0..CAUSES)
        .map(|_| {
            if rng.random_bool(0.35) {
                rng.random_range(0.6..0.98)
            } else {
                background
            }
        })
        .collect();
    let average = causes
        .iter()
        .zip(&prior[1..])
        .map(|(l, p)| l * p)
        .sum::<f64>()
        / prior[1..].iter().sum::<f64>();
    let first: Vec<f64> = std::iter::once(average).chain(causes).collect();
    let second = first.iter().map(|l| 1.0 - l).collect();
    vec![first, second]
}

/// Expected cost from everything that can be known, each reckoned once.
struct Values<'s> {
    small: &'s Small,
    value: Vec<f64>,
}

impl<'s> Values<'s> {
    fn new(small: &'s Small) -> Self {
        Self {
            small,
            value: vec![f64::NAN; STATES],
        }
    }

    /// The least possible cost.
    fn least(&mut self, known: Known) -> f64 {
        let at = known.at();
        if !self.value[at].is_nan() {
            return self.value[at];
        }
        let total: f64 = self.small.mass(known).iter().sum();
        let mut best = GIVE_UP * total;
        for check in (0..CHECKS).filter(|q| known.checks[*q] == 0) {
            let own = self.small.check_costs[check] * total;
            // Nothing costs less than nothing: a step dearer than the best so far need not be
            // followed.
            if own < best {
                best = best
                    .min(own + self.least(known.seen(check, 0)) + self.least(known.seen(check, 1)));
            }
        }
        for fix in (0..FIXES).filter(|x| known.fixes >> x & 1 == 0) {
            let own = self.small.fix_costs[fix] * total;
            if own < best {
                best = best.min(own + self.least(known.tried(fix)));
            }
        }
        self.value[at] = best;
        best
    }

    /// The cost of doing what the planner says, asked again after each step.
    fn followed(&mut self, known: Known, ahead: &mut LookAhead) -> f64 {
        let at = known.at();
        if !self.value[at].is_nan() {
            return self.value[at];
        }
        let mass = self.small.mass(known);
        let total: f64 = mass.iter().sum();
        let out = Out {
            checks: known.checks.iter().map(|d| *d > 0).collect(),
            fixes: (0..FIXES).map(|x| known.fixes >> x & 1 == 1).collect(),
        };
        // Normalised, as a case is: what is left of it is all there is.
        let here = Situation {
            mass: mass.iter().map(|m| m / total).collect(),
            present: Present::default(),
            fixes: out.fixes,
            checks: out.checks,
        };
        let first = ahead
            .weigh(&here, SECOND_LEVEL)
            .first()
            .map_or(Action::GiveUp, |w| w.action);
        let value = match first {
            Action::Check(CheckId(check)) => {
                let check = check as usize;
                self.small.check_costs[check] * total
                    + self.followed(known.seen(check, 0), ahead)
                    + self.followed(known.seen(check, 1), ahead)
            }
            Action::Fix(FixId(fix)) => {
                self.small.fix_costs[fix as usize] * total
                    + self.followed(known.tried(fix as usize), ahead)
            }
            Action::GiveUp | Action::ClearStop(_) => GIVE_UP * total,
        };
        self.value[at] = value;
        value
    }
}
