//! What is at fault in a drawn case, what is seen of it, and the luck of every check and fix.

use super::{CASES, PERTURB, seeded};
use rand::{Rng, RngExt};
use rand_distr::{Distribution, StandardNormal};
use std::borrow::Cow;
use suspect_core::evidence::{Answer, Confidence, Evidence, Facts, Sighting};
use suspect_core::knowledge::{CauseId, FindingId, Knowledge, Section};
use suspect_core::planning::odd;
use suspect_core::planning::state_likelihoods;
use suspect_core::profile::FIELDS;
use suspect_core::ranking::{Hypothesis, Seen, posterior};

/// How often a person tells of something odd, of something ordinary, and of pattern and history.
const TELLS_ODD: f64 = 0.9;
const TELLS_ORDINARY: f64 = 0.08;
const TELLS_HISTORY: f64 = 0.5;
/// A case in which nothing odd is seen is drawn again, so many times at most.
const REDRAWS: usize = 50;

/// The world as it is, which may differ from the knowledge.
pub struct World<'k> {
    knowledge: Cow<'k, Knowledge>,
    seed: u64,
}

/// A case before anything is done.
pub struct Drawn {
    /// What acts: one cause or two.
    pub acting: Vec<CauseId>,
    /// What is told when the case is taken in.
    pub facts: Facts,
    /// Chance of each check, and of each fix: for the first and second cause, and for how it looks
    /// when it did not cure.
    pub luck_of_checks: Vec<f64>,
    pub luck_of_fixes: Vec<[f64; 3]>,
    /// A random order of all fixes.
    pub shuffled: Vec<usize>,
}

impl<'k> World<'k> {
    /// A world of a seed; every chance of the knowledge moved by a standard deviation in log-odds.
    pub fn new(knowledge: &'k Knowledge, seed: u64, perturb: f64) -> Self {
        let knowledge = if perturb > 0.0 {
            Cow::Owned(moved(knowledge, perturb, &mut seeded(seed, PERTURB, 0)))
        } else {
            Cow::Borrowed(knowledge)
        };
        Self { knowledge, seed }
    }

    /// The world's own chances.
    pub fn knowledge(&self) -> &Knowledge {
        &self.knowledge
    }

    /// The n-th case.
    pub fn draw(&self, n: usize) -> Drawn {
        let rng = &mut seeded(self.seed, CASES, n);
        let k = self.knowledge();
        let mut drawn = (Vec::new(), Facts::default());
        for _ in 0..REDRAWS {
            let mut facts = Facts::default();
            for field in FIELDS {
                let value = &field.values[rng.random_range(0..field.values.len())];
                // Field and value are of the table itself.
                let _ = facts.context.set(field.id, value.id);
            }
            // The enclosure against the material is seen from the context alone: who acts must fit
            // it.
            let who = posterior(k, &Evidence::of(k, &facts), true);
            let acting: Vec<CauseId> = who.hypotheses
                [pick(&who.probability[1..], rng.random()) + 1]
                .causes()
                .collect();
            let odd = self.tell(&acting, &mut facts, rng);
            drawn = (acting, facts);
            if odd {
                break;
            }
        }
        self.with_luck(drawn.0, drawn.1, rng)
    }

    /// A case of these with the luck of every check and fix.
    pub(crate) fn with_luck(
        &self,
        acting: Vec<CauseId>,
        facts: Facts,
        rng: &mut impl Rng,
    ) -> Drawn {
        let k = self.knowledge();
        let mut shuffled: Vec<usize> = (0..k.fixes.len()).collect();
        for i in (1..shuffled.len()).rev() {
            shuffled.swap(i, rng.random_range(0..=i));
        }
        Drawn {
            acting,
            facts,
            luck_of_checks: (0..k.checks.len()).map(|_| rng.random()).collect(),
            luck_of_fixes: (0..k.fixes.len())
                .map(|_| [rng.random(), rng.random(), rng.random()])
                .collect(),
            shuffled,
        }
    }

    /// Puts what a person would tell into the facts; says whether anything odd on print or machine
    /// is among it.
    pub(crate) fn tell(&self, acting: &[CauseId], facts: &mut Facts, rng: &mut impl Rng) -> bool {
        let k = self.knowledge();
        let mut any_odd = false;
        for f in (0..k.findings.len() as u16).map(FindingId) {
            let finding = k.finding(f);
            let (state, told) = (self.look(acting, f, rng.random()), rng.random::<f64>());
            let odd = odd(finding, state);
            let tells = match finding.section {
                Section::Print | Section::Machine if odd => TELLS_ODD,
                Section::Print | Section::Machine => TELLS_ORDINARY,
                Section::History => TELLS_HISTORY,
                Section::Number | Section::Check => 0.0,
            };
            if told < tells && finding.fits(&facts.context) {
                any_odd |= odd && finding.section != Section::History;
                facts.findings.insert(
                    f,
                    Sighting {
                        answer: Answer::State(state),
                        confidence: Confidence::Sure,
                    },
                );
            }
        }
        any_odd
    }

    /// What is seen when one looks, by chance.
    pub fn look(&self, acting: &[CauseId], finding: FindingId, chance: f64) -> usize {
        let k = self.knowledge();
        let hypothesis = match *acting {
            [one] => Hypothesis::One(one),
            [first, second, ..] => Hypothesis::Two(first, second),
            [] => Hypothesis::Unlisted,
        };
        let nothing = Seen::default();
        let columns = state_likelihoods(k, &nothing, std::iter::once(hypothesis), finding);
        let states: Vec<f64> = columns.iter().map(|c| c[0]).collect();
        pick(&states, chance)
    }
}

/// The knowledge with every chance moved by normal noise.
fn moved(knowledge: &Knowledge, deviation: f64, rng: &mut impl Rng) -> Knowledge {
    knowledge.perturbed(|| {
        let z: f64 = StandardNormal.sample(rng);
        deviation * z
    })
}

/// The place at which the running sum passes a chance.
pub(crate) fn pick(weights: &[f64], chance: f64) -> usize {
    let mut left = chance * weights.iter().sum::<f64>();
    for (i, w) in weights.iter().enumerate() {
        left -= w;
        if left < 0.0 {
            return i;
        }
    }
    weights.len() - 1
}
