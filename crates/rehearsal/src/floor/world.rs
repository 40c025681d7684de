//! A floor whose machines differ from the book: causes, findings, records, some of them wrong.

use crate::seeded;
use rand::RngExt;
use rand::seq::index::sample;
use rand_distr::{Distribution, StandardNormal};
use rand_pcg::Pcg64;
use suspect_core::learning::rates::credit;

/// Causes, findings, machines, kinds, materials.
pub const CAUSES: usize = 40;
const FINDINGS: usize = 60;
pub const MACHINES: usize = 12;
pub const KINDS: usize = 3;
const MATERIALS: usize = 4;
/// Findings that are told, and those of history; the others are found by checks.
const TOLD: usize = 36;
const HISTORY: usize = 45;
/// Prior of somebody who is not listed.
const P_UNLISTED: f64 = 0.02;
/// Stream of chance of these worlds.
const FLOOR: u64 = 4;

/// How a floor is drawn.
#[derive(Debug, Clone, Copy)]
pub struct Way {
    /// Spread of the rates' logarithm: shop, kind, machine.
    pub sigma: [f64; 3],
    /// One member of six writes down the same cause whatever it was.
    pub blames: bool,
    /// From this case on a common part breaks ten times less often.
    pub drift: Option<usize>,
    /// Share of first repairs that come undone: their record was wrong.
    pub undone: f64,
}

/// A case of the floor, as far as learning and judging need it.
#[derive(Debug, Clone)]
pub struct Case {
    pub machine: usize,
    /// Weight × factor of each cause there; 0 for what cannot be.
    pub book: Vec<f64>,
    pub truth: usize,
    /// Log-likelihood of what was told, by cause.
    pub like: Vec<f64>,
    /// The same with the checks done.
    pub late: Vec<f64>,
}

/// What was written down of a case, and how much of it counts.
#[derive(Debug, Clone, Copy)]
pub struct Record {
    pub cause: usize,
    pub credit: f64,
}

/// A floor.
pub struct Floor {
    rng: Pcg64,
    weights: Vec<f64>,
    by_kind: Vec<Vec<f64>>,
    by_material: Vec<Vec<f64>>,
    /// True rate over the book's, by machine and cause.
    ratio: Vec<Vec<f64>>,
    /// P(finding | cause).
    links: Vec<Vec<f64>>,
    /// Checks that speak of each cause.
    own: Vec<Vec<usize>>,
    /// Minutes to put each cause right.
    pub cost: Vec<f64>,
    blamed: usize,
}

/// The kind of a machine.
pub fn kind(machine: usize) -> usize {
    machine * KINDS / MACHINES
}

fn normal(rng: &mut Pcg64) -> f64 {
    StandardNormal.sample(rng)
}

fn one_of(rng: &mut Pcg64, values: &[f64]) -> f64 {
    values[rng.random_range(0..values.len())]
}

/// The place at which the running sum of weights passes a chance.
fn pick(rng: &mut Pcg64, weights: &[f64]) -> usize {
    crate::world::pick(weights, rng.random())
}

/// Tables of factors: each pair a share and a factor, tried in turn.
fn factors(rng: &mut Pcg64, groups: usize, table: &[(f64, f64)]) -> Vec<Vec<f64>> {
    let mut one = || {
        let mut fits = table.iter();
        let found = fits.find(|(p, _)| rng.random::<f64>() < *p);
        found.map_or(1.0, |(_, v)| *v)
    };
    (0..groups)
        .map(|_| (0..CAUSES).map(|_| one()).collect())
        .collect()
}

impl Floor {
    /// The floor of a number.
    pub fn new(seed: u64, number: usize, way: &Way) -> Self {
        let mut rng = seeded(seed, FLOOR, number);
        let weights = [(4, 16.0), (8, 8.0), (12, 4.0), (10, 2.0), (6, 1.0)];
        let weights = weights
            .iter()
            .flat_map(|(many, w)| std::iter::repeat_n(*w, *many));
        let by_kind = factors(&mut rng, KINDS, &[(0.12, 0.0), (0.09, 0.4), (0.1, 1.5)]);
        let by_material = factors(&mut rng, MATERIALS, &[(0.05, 0.0), (0.1, 0.5), (0.11, 2.0)]);
        let mut noise = |groups: usize| -> Vec<Vec<f64>> {
            (0..groups)
                .map(|_| (0..CAUSES).map(|_| normal(&mut rng)).collect())
                .collect()
        };
        let (shop, kinds, machines) = (noise(1), noise(KINDS), noise(MACHINES));
        let [s, k, m] = way.sigma;
        let ratio = |x: usize, c: usize| {
            (s * shop[0][c] + k * kinds[kind(x)][c] + m * machines[x][c]).exp()
        };
        let ratio = (0..MACHINES)
            .map(|x| (0..CAUSES).map(|c| ratio(x, c)).collect())
            .collect();
        let (links, own) = links(&mut rng);
        let cost = (0..CAUSES)
            .map(|_| (10f64.ln() + 0.6 * normal(&mut rng)).exp())
            .collect();
        let blamed = rng.random_range(4..12);
        Floor {
            weights: weights.collect(),
            rng,
            by_kind,
            by_material,
            ratio,
            links,
            own,
            cost,
            blamed,
        }
    }

    /// The next case; `part` is what a common part's rate is multiplied by.
    pub fn case(&mut self, part: f64) -> Case {
        let machine = self.rng.random_range(0..MACHINES);
        let material = self.rng.random_range(0..MATERIALS);
        let book: Vec<f64> = (0..CAUSES)
            .map(|c| {
                self.weights[c] * self.by_kind[kind(machine)][c] * self.by_material[material][c]
            })
            .collect();
        let mut rates: Vec<f64> = book
            .iter()
            .zip(&self.ratio[machine])
            .map(|(w, r)| w * r)
            .collect();
        rates[0] *= part;
        let truth = pick(&mut self.rng, &rates);
        let (rng, links) = (&mut self.rng, &self.links);
        let seen: Vec<bool> = links[truth]
            .iter()
            .map(|p| rng.random::<f64>() < *p)
            .collect();
        let told: Vec<bool> = (0..FINDINGS)
            .map(|f| match f {
                f if f < TOLD => rng.random::<f64>() < if seen[f] { 0.8 } else { 0.08 },
                f if f < HISTORY => rng.random::<f64>() < 0.5,
                _ => false,
            })
            .collect();
        let ratio = |c: usize, f: usize| {
            let p = links[c][f];
            if seen[f] { p.ln() } else { (1.0 - p).ln() }
        };
        let like: Vec<f64> = (0..CAUSES)
            .map(|c| {
                (0..FINDINGS)
                    .filter(|f| told[*f])
                    .map(|f| ratio(c, f))
                    .sum()
            })
            .collect();
        let mut best: Vec<usize> = (0..CAUSES).filter(|c| book[*c] > 0.0).collect();
        let fit = |c: usize| book[c].ln() + like[c];
        best.sort_by(|a, b| fit(*b).total_cmp(&fit(*a)));
        best.truncate(3);
        if rng.random::<f64>() < 0.6 {
            best.push(truth);
        }
        let mut looks: Vec<usize> = best.iter().flat_map(|c| self.own[*c].clone()).collect();
        looks.sort_unstable();
        looks.dedup();
        let late = (0..CAUSES)
            .map(|c| like[c] + looks.iter().map(|f| ratio(c, *f)).sum::<f64>())
            .collect();
        Case {
            machine,
            book,
            truth,
            like,
            late,
        }
    }

    /// How likely each cause is, by weights and what was seen; the last one is somebody else.
    pub fn posterior(&self, weights: &[f64], like: &[f64]) -> Vec<f64> {
        let total: f64 = weights.iter().sum();
        let mut z: Vec<f64> = weights
            .iter()
            .zip(like)
            .map(|(w, l)| match *w > 0.0 {
                true => ((1.0 - P_UNLISTED) * w / total).ln() + l,
                false => f64::NEG_INFINITY,
            })
            .collect();
        let here: Vec<usize> = (0..CAUSES).filter(|c| weights[*c] > 0.0).collect();
        let known: f64 = here.iter().map(|c| self.weights[*c]).sum();
        let mean: f64 = here.iter().map(|c| self.weights[*c] * like[*c].exp()).sum();
        z.push(P_UNLISTED.ln() + (mean / known).ln());
        let top = z.iter().copied().fold(f64::NEG_INFINITY, f64::max);
        let mut p: Vec<f64> = z.iter().map(|v| (v - top).exp()).collect();
        let sum: f64 = p.iter().sum();
        p.iter_mut().for_each(|p| *p /= sum);
        p
    }

    /// What is written down: one in ten is another cause that looked likely, half of these one
    /// with the same fix. Of a repair that comes undone, always another one.
    pub fn record(&mut self, case: &Case, way: &Way, undone: bool) -> Record {
        let p = self.posterior(&case.book, &case.late);
        let blames = way.blames && self.rng.random::<f64>() < 1.0 / 6.0;
        let cause = if blames && case.book[self.blamed] > 0.0 {
            self.blamed
        } else if undone || self.rng.random::<f64>() < 0.1 {
            let twin = case.truth ^ 1;
            if case.book[twin] > 0.0 && self.rng.random::<f64>() < 0.5 {
                twin
            } else {
                let mut others = p[..CAUSES].to_vec();
                others[case.truth] = 0.0;
                pick(&mut self.rng, &others)
            }
        } else {
            case.truth
        };
        let others = p.iter().enumerate().filter(|(c, _)| *c != cause);
        let credit = credit(p[cause], others.map(|(_, p)| *p));
        Record { cause, credit }
    }

    /// A chance of its own, for what befalls a case later.
    pub fn chance(&mut self) -> f64 {
        self.rng.random()
    }
}

type Links = (Vec<Vec<f64>>, Vec<Vec<usize>>);

/// P(finding | cause), and the checks that speak of each cause.
fn links(rng: &mut Pcg64) -> Links {
    const GROUND: [f64; 4] = [0.01, 0.03, 0.1, 0.3];
    let shares = [0.35, 0.3, 0.25, 0.1];
    let ground: Vec<f64> = (0..FINDINGS)
        .map(|f| match f < HISTORY {
            true => GROUND[pick(rng, &shares)],
            false => one_of(rng, &[0.03, 0.06, 0.1]),
        })
        .collect();
    let raised =
        |rng: &mut Pcg64, f: usize, of: &[f64]| one_of(rng, of).max((ground[f] * 1.6).min(0.95));
    let (mut all, mut own) = (Vec::new(), Vec::new());
    for _ in 0..CAUSES {
        let mut row = ground.clone();
        let many = rng.random_range(4..=7);
        for f in sample(rng, TOLD, many) {
            row[f] = raised(rng, f, &[0.3, 0.6, 0.85, 0.6]);
        }
        for _ in 0..2 {
            let f = rng.random_range(TOLD..HISTORY);
            row[f] = raised(rng, f, &[0.3, 0.6, 0.85]);
        }
        let many = rng.random_range(1..=2);
        let looks: Vec<usize> = (0..many)
            .map(|_| rng.random_range(HISTORY..FINDINGS))
            .collect();
        for f in &looks {
            row[*f] = one_of(rng, &[0.75, 0.85, 0.9]);
        }
        own.push(looks);
        all.push(row);
    }
    (all, own)
}
