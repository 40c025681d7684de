//! Learning rehearsed: years of a floor whose machines differ from the book, with wrong causes
//! recorded and repairs that come undone; what learning is worth, and whether it meets its targets.

mod world;

use crate::in_threads;
use serde::Serialize;
use std::num::NonZeroUsize;
use suspect_core::learning::rates::{Cell, Rates, fading};
use world::{CAUSES, Case, Floor, MACHINES, Record, Way, kind};

/// Cases a floor sees a year.
const A_YEAR: f64 = 360.0;
/// Cases that judge what was learned.
const JUDGED: usize = 240;
/// Minutes at which one gives up, and what that costs.
const GIVES_UP: (f64, f64) = (240.0, 480.0);
/// Cases between a repair and its return.
const RETURNS_AFTER: usize = 30;
/// A third of a spread of 1 in shop, kind and machine each.
const SPREAD: [f64; 3] = [0.58; 3];

/// What is rehearsed.
#[derive(Debug, Clone)]
pub struct Options {
    /// Floors drawn for each way.
    pub worlds: usize,
    /// The same seed draws the same floors.
    pub seed: u64,
    /// Threads to use; the result does not depend on it.
    pub threads: NonZeroUsize,
}

/// How well a ranking did.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Default)]
pub struct Score {
    /// Share of cases whose leader was the cause.
    pub leader: f64,
    /// Mean logarithm of the probability of what it was.
    pub log_score: f64,
    /// Mean Σ (p − truth)².
    pub brier: f64,
    /// Mean minutes of fixes in the order advised.
    pub minutes: f64,
}

/// After so many cases: by the book, and learned.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
pub struct Row {
    /// Closed cases it learned from.
    pub cases: usize,
    /// By the book.
    pub book: Score,
    /// Learned.
    pub learned: Score,
    /// Mean gain in log score, in nats.
    pub gain: f64,
    /// The worst world's gain.
    pub worst: f64,
}

/// One kind of floor.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct Played {
    /// What it is.
    pub name: &'static str,
    /// By number of cases.
    pub rows: Vec<Row>,
}

/// One thing that learning must reach.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct Target {
    /// What is asked.
    pub what: String,
    /// The least that will do.
    pub least: f64,
    /// What was reached.
    pub reached: f64,
    /// Whether it was.
    pub met: bool,
}

/// The result.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct Learning {
    /// Floors a way.
    pub worlds: usize,
    /// Ways of a floor.
    pub floors: Vec<Played>,
    /// What was asked of it.
    pub targets: Vec<Target>,
}

/// Ways of a floor, and after how many cases it is judged.
const WAYS: [(&str, Way, &[usize]); 5] = [
    (
        "rates differ",
        way(SPREAD, false, None, 0.0),
        &[20, 50, 200, 1000],
    ),
    (
        "one member of six blames one cause",
        way(SPREAD, true, None, 0.0),
        &[20, 50, 200, 1000],
    ),
    (
        "the book is right",
        way([0.0; 3], false, None, 0.0),
        &[20, 50, 200, 1000],
    ),
    (
        "a common part gets ten times better after 500 cases",
        way(SPREAD, false, Some(500), 0.0),
        &[400, 600, 1000],
    ),
    (
        "one repair of twelve comes undone, its cause wrong",
        way(SPREAD, false, None, 0.08),
        &[20, 50, 200, 1000],
    ),
];

const fn way(sigma: [f64; 3], blames: bool, drift: Option<usize>, undone: f64) -> Way {
    Way {
        sigma,
        blames,
        drift,
        undone,
    }
}

/// Rehearses learning. Deterministic: the same options give the same result.
pub fn learning(options: &Options) -> Learning {
    let floors: Vec<Played> = WAYS
        .iter()
        .map(|(name, way, sizes)| {
            let worlds = in_threads(options.threads, options.worlds, |number| {
                world_of(options.seed, number, way, sizes)
            });
            let rows = sizes.iter().enumerate();
            let rows = rows.map(|(at, cases)| sum_up(*cases, worlds.iter().map(|w| w[at])));
            Played {
                name,
                rows: rows.collect(),
            }
        })
        .collect();
    Learning {
        worlds: options.worlds,
        targets: targets(&floors),
        floors,
    }
}

/// What is on record of a case: the first record until it comes undone, then none until it is
/// closed again.
struct Past {
    case: Case,
    first: Record,
    /// When the first repair came undone, in cases, and what was then recorded.
    again: Option<(usize, Record)>,
}

impl Past {
    fn record(&self, at: usize) -> Record {
        match self.again {
            Some((when, second)) if at >= when => second,
            _ => self.first,
        }
    }
}

/// Plays one floor and judges it after each number of cases: by the book, learned.
fn world_of(seed: u64, number: usize, way: &Way, sizes: &[usize]) -> Vec<[Score; 2]> {
    let mut floor = Floor::new(seed, number, way);
    let most = sizes.iter().copied().max().unwrap_or(0);
    let part = |n: usize| match way.drift {
        Some(from) if n >= from => 0.1,
        _ => 1.0,
    };
    let past: Vec<Past> = (0..most)
        .map(|n| {
            let case = floor.case(part(n));
            let undone = floor.chance() < way.undone;
            let first = floor.record(&case, way, undone);
            let again = undone.then(|| (n + RETURNS_AFTER, floor.record(&case, way, false)));
            Past { case, first, again }
        })
        .collect();
    let judged: Vec<Case> = (0..JUDGED).map(|_| floor.case(part(usize::MAX))).collect();
    let score = |size: usize| {
        let learned = learn(&past[..size]);
        let book = judged.iter().map(|c| judge(&floor, c, &c.book));
        let moved = judged.iter().map(|c| {
            let factors = &learned[c.machine];
            let weights: Vec<f64> = c.book.iter().zip(factors).map(|(w, f)| w * f).collect();
            judge(&floor, c, &weights)
        });
        [mean(book), mean(moved)]
    };
    sizes.iter().map(|size| score(*size)).collect()
}

/// Factors by machine and cause, from the cases closed so far.
fn learn(past: &[Past]) -> Vec<Vec<f64>> {
    let many = past.len();
    let cells: Vec<Cell> = past
        .iter()
        .enumerate()
        .map(|(n, past)| {
            let record = past.record(many);
            let days = (many - n) as f64 * 365.0 / A_YEAR;
            Cell {
                machine: past.case.machine as u32,
                kind: kind(past.case.machine) as u32,
                book: &past.case.book,
                recorded: vec![(record.cause, record.credit * fading(days))],
            }
        })
        .collect();
    let rates = Rates::learn(&cells);
    let factor = |m: usize, c: usize| rates.factor(c, m as u32, kind(m) as u32, false);
    (0..MACHINES)
        .map(|m| (0..CAUSES).map(|c| factor(m, c)).collect())
        .collect()
}

fn judge(floor: &Floor, case: &Case, weights: &[f64]) -> Score {
    let p = floor.posterior(weights, &case.like);
    let truth = p[case.truth];
    let mut order: Vec<usize> = (0..CAUSES).filter(|c| weights[*c] > 0.0).collect();
    let leader = order.iter().copied().max_by(|a, b| p[*a].total_cmp(&p[*b]));
    order.sort_by(|a, b| (p[*b] / floor.cost[*b]).total_cmp(&(p[*a] / floor.cost[*a])));
    let upto = order.iter().position(|c| *c == case.truth).unwrap_or(0);
    let spent: f64 = order[..=upto].iter().map(|c| floor.cost[*c]).sum();
    let squares: f64 = p[..CAUSES].iter().map(|p| p * p).sum();
    Score {
        leader: f64::from(leader == Some(case.truth)),
        log_score: truth.max(1e-12).ln(),
        brier: squares - 2.0 * truth + 1.0,
        minutes: if spent <= GIVES_UP.0 {
            spent
        } else {
            GIVES_UP.1
        },
    }
}

fn mean(scores: impl Iterator<Item = Score>) -> Score {
    let (mut sum, mut many) = (Score::default(), 0.0f64);
    for s in scores {
        many += 1.0;
        sum.leader += s.leader;
        sum.log_score += s.log_score;
        sum.brier += s.brier;
        sum.minutes += s.minutes;
    }
    let many = many.max(1.0);
    Score {
        leader: sum.leader / many,
        log_score: sum.log_score / many,
        brier: sum.brier / many,
        minutes: sum.minutes / many,
    }
}

fn sum_up(cases: usize, worlds: impl Iterator<Item = [Score; 2]> + Clone) -> Row {
    let book = mean(worlds.clone().map(|[book, _]| book));
    let learned = mean(worlds.clone().map(|[_, learned]| learned));
    let gains = worlds.map(|[book, learned]| learned.log_score - book.log_score);
    Row {
        cases,
        book,
        learned,
        gain: learned.log_score - book.log_score,
        worst: gains.fold(f64::INFINITY, f64::min),
    }
}

/// What learning must reach, over 30 worlds and more.
fn targets(floors: &[Played]) -> Vec<Target> {
    let row = |floor: usize, cases: usize| {
        let rows = floors[floor].rows.iter();
        rows.clone().find(|r| r.cases == cases).copied()
    };
    let mut targets = Vec::new();
    let mut ask = |what: &str, least: f64, reached: Option<f64>| {
        let reached = reached.unwrap_or(f64::NEG_INFINITY);
        targets.push(Target {
            what: what.to_string(),
            least,
            reached,
            met: reached >= least,
        });
    };
    for (cases, least) in [(20, 0.0), (50, 0.015), (200, 0.045), (1000, 0.075)] {
        let what = format!("rates differ: mean gain at {cases} cases, nats");
        ask(&what, least, row(0, cases).map(|r| r.gain));
    }
    let more = |r: Row| (r.learned.leader - r.book.leader) * 100.0;
    let less = |r: Row| r.book.minutes - r.learned.minutes;
    ask(
        "leader right oftener at 200, points",
        1.2,
        row(0, 200).map(more),
    );
    ask("minutes less at 200", 0.5, row(0, 200).map(less));
    ask(
        "a member blames one: mean gain at 200, nats",
        0.035,
        row(1, 200).map(|r| r.gain),
    );
    let at_20 = (0..3).filter_map(|floor| row(floor, 20));
    let worst = at_20.clone().map(|r| r.worst).reduce(f64::min);
    let mean = at_20.map(|r| r.gain).reduce(f64::min);
    ask("at 20 cases: the worst world's gain, nats", -0.05, worst);
    ask("at 20 cases: the worst mean gain, nats", -0.01, mean);
    let right = || floors[2].rows.iter();
    let mean = right().map(|r| r.gain).reduce(f64::min);
    let worst = right().map(|r| r.worst).reduce(f64::min);
    ask("the book is right: the least mean gain, nats", -0.03, mean);
    ask(
        "the book is right: the worst world's gain, nats",
        -0.08,
        worst,
    );
    ask(
        "after the drift: mean gain at 1000, nats",
        0.06,
        row(3, 1000).map(|r| r.gain),
    );
    targets
}
