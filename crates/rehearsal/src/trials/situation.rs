//! Drawn situations: which of the differences is guilty and how, and what the eye says of a piece.

use rand::{Rng, RngExt};
use rand_pcg::Pcg64;
use serde::Serialize;
use suspect_core::trials::{Difference, GRADES, List, Set, Suspicion, around};

/// How the list is guilty.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[serde(rename_all = "snake_case")]
pub enum Kind {
    /// One difference alone, suspected honestly.
    Alone,
    /// One alone, thought unlikely by everybody.
    Misled,
    /// Two that act together: either put back cures.
    Together,
    /// Two faults of their own; half a cure is seen.
    SeparateSeen,
    /// Two faults of their own; half a cure is hidden.
    SeparateHidden,
    /// None of the list.
    NoneOfThem,
    /// It comes and goes by itself.
    ComesAndGoes,
}

impl Kind {
    /// Every kind, in the order they are told.
    pub const ALL: [Kind; 7] = [
        Kind::Alone,
        Kind::Misled,
        Kind::Together,
        Kind::SeparateSeen,
        Kind::SeparateHidden,
        Kind::NoneOfThem,
        Kind::ComesAndGoes,
    ];

    fn culprits(self) -> usize {
        match self {
            Kind::Alone | Kind::Misled => 1,
            Kind::Together | Kind::SeparateSeen | Kind::SeparateHidden => 2,
            Kind::NoneOfThem | Kind::ComesAndGoes => 0,
        }
    }
}

/// A drawn situation.
#[derive(Debug, Clone)]
pub(super) struct Situation {
    pub kind: Kind,
    pub list: List,
    /// Numbers of the guilty.
    pub guilty: Vec<usize>,
}

/// Grade of the bad piece in all situations.
const BAD: f64 = 1.0;

impl Situation {
    /// Draws suspicion words (a fifth likely, half possible, the rest unlikely) and the guilty by
    /// their weights; where people are misled, among the unlikely. The plan reckons with its
    /// usual share of slips: nobody tells it the true one.
    pub(super) fn draw(n: usize, kind: Kind, chance: &mut Pcg64) -> Situation {
        let mut words: Vec<Suspicion> = (0..n)
            .map(|_| match chance.random_range(0..10) {
                0..2 => Suspicion::Likely,
                2..7 => Suspicion::Possible,
                _ => Suspicion::Unlikely,
            })
            .collect();
        if kind == Kind::Misled {
            for _ in 0..2 {
                words[chance.random_range(0..n)] = Suspicion::Unlikely;
            }
        }
        let weight = |word: Suspicion| match (kind, word) {
            (Kind::Misled, Suspicion::Unlikely) => 1.0,
            (Kind::Misled, _) => 0.0,
            (_, Suspicion::Likely) => 4.0,
            (_, Suspicion::Possible) => 2.0,
            (_, Suspicion::Unlikely) => 1.0,
        };
        let mut weights: Vec<f64> = words.iter().map(|&w| weight(w)).collect();
        let mut guilty: Vec<usize> = (0..kind.culprits().min(n))
            .map(|_| {
                let who = drawn(&weights, chance);
                weights[who] = 0.0;
                who
            })
            .collect();
        guilty.sort_unstable();
        let difference = |(i, suspicion)| Difference {
            name: format!("d{i:02}"),
            suspicion,
            ..Difference::default()
        };
        Situation {
            kind,
            list: List {
                differences: words.into_iter().enumerate().map(difference).collect(),
                bad_grade: BAD,
                ..List::default()
            },
            guilty,
        }
    }

    /// What the eye says of a piece with this set old.
    pub(super) fn grade(&self, old: Set, slip: f64, chance: &mut Pcg64) -> u8 {
        let back = self.guilty.iter().filter(|&&i| old.has(i)).count();
        // 0 clean, 1 half, 2 fault.
        let state = match self.kind {
            Kind::NoneOfThem => 2,
            Kind::ComesAndGoes => 2 * usize::from(chance.random_bool(0.5)),
            Kind::Alone | Kind::Misled | Kind::SeparateSeen => {
                (self.guilty.len() - back) * 2 / self.guilty.len()
            }
            Kind::Together => {
                if back > 0 {
                    0
                } else {
                    2
                }
            }
            Kind::SeparateHidden => {
                if back > 1 {
                    0
                } else {
                    2
                }
            }
        };
        let half = f64::midpoint(5.0, BAD);
        let mean = if chance.random_bool(slip) {
            let either = if chance.random_bool(0.5) { 5.0 } else { BAD };
            [BAD, either, 5.0][state]
        } else {
            [5.0, half, BAD][state]
        };
        drawn(&around(mean), chance).min(GRADES - 1) as u8
    }
}

/// An index drawn by weights.
fn drawn(weights: &[f64], chance: &mut impl Rng) -> usize {
    let sum: f64 = weights.iter().sum();
    let mut left = chance.random_range(0.0..1.0) * sum;
    for (i, w) in weights.iter().enumerate() {
        left -= w;
        if left < 0.0 && *w > 0.0 {
            return i;
        }
    }
    weights.iter().rposition(|w| *w > 0.0).unwrap_or(0)
}
