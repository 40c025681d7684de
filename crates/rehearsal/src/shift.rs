//! Evenings rehearsed: drawn cases, some people, a few hours; the plan of the shift against "first
//! come, first served". Both meet the same cases, which take what they take, not what was expected.

use crate::player::{Player, Stretch};
use crate::world::World;
use crate::{in_threads, seeded};
use rand_pcg::rand_core::Rng;
use serde::Serialize;
use std::num::NonZeroUsize;
use suspect_core::knowledge::Knowledge;
use suspect_core::people::{Deed, Needs, Role};
use suspect_core::planning::Workshop;
use suspect_core::shift::{Job, Person, Piece, first_come, plan};

/// What is rehearsed.
#[derive(Debug, Clone)]
pub struct ShiftOptions {
    /// Evenings drawn.
    pub evenings: usize,
    /// Open cases of each, on as many machines.
    pub open: usize,
    /// Who is there.
    pub people: Vec<Role>,
    /// Minutes there are.
    pub minutes: f64,
    /// The same seed draws the same evenings.
    pub seed: u64,
    /// Threads to use; the result does not depend on it.
    pub threads: NonZeroUsize,
}

/// How one way did.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct ShiftWay {
    /// `plan` or `first-come`.
    pub name: &'static str,
    /// Machine hours before the evening's end.
    pub hours_back: f64,
    /// Machines that were back.
    pub machines_back: f64,
}

/// The result.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct ShiftReport {
    /// Evenings.
    pub evenings: usize,
    /// Both ways.
    pub ways: [ShiftWay; 2],
    /// Machine hours that planning gains an evening.
    pub gain: f64,
    /// Its interval of 90 %.
    pub gain_interval: [f64; 2],
}

/// Half width of a 90 % interval in standard errors.
const NINE_IN_TEN: f64 = 1.645;
/// Of minutes nobody can name a step for, so many are hands.
const HANDS: f64 = 0.5;
/// Streams of chance that must not mix with others of this crate.
const EVENINGS: u64 = 9;

#[derive(Clone, Copy)]
enum Way {
    Plan,
    FirstCome,
}

/// One case of an evening.
struct Going<'a> {
    stretches: &'a [Stretch],
    /// The machine comes back at the end.
    solved: bool,
    at: usize,
    /// Minutes from the beginning at which it may go on.
    ready: f64,
    done: Option<f64>,
}

impl<'a> Going<'a> {
    /// Before anybody touched it.
    fn begun((stretches, solved): &'a (Vec<Stretch>, bool)) -> Self {
        Going {
            stretches,
            solved: *solved,
            at: 0,
            ready: 0.0,
            done: None,
        }
    }

    /// What whoever plans knows of it: the next stretch, and what is to be expected after it.
    fn job(&self, machine: usize, now: f64) -> Option<Job> {
        let next = self.stretches.get(self.at)?;
        let needs = Needs::of(if next.easy { Deed::Work } else { Deed::Machine });
        let mut pieces = vec![Piece {
            hands: next.hands,
            wait: next.wait,
            needs,
        }];
        let left = next.expected - next.hands - next.wait;
        if left > 1.0 {
            pieces.push(Piece {
                hands: left * HANDS,
                wait: left * (1.0 - HANDS),
                needs: Needs::of(Deed::Work),
            });
        }
        Some(Job {
            machine,
            worth: 1.0,
            ready: (self.ready - now).max(0.0),
            stop: false,
            taken: None,
            pieces,
        })
    }
}

/// Plays an evening: whenever hands are free, the way says what they take up.
fn evening(cases: &[(Vec<Stretch>, bool)], options: &ShiftOptions, way: Way) -> (f64, usize) {
    let mut going: Vec<Going<'_>> = cases.iter().map(Going::begun).collect();
    let mut free = vec![0.0f64; options.people.len()];
    let mut now = 0.0;
    while now < options.minutes {
        let known: Vec<(usize, Job)> = going
            .iter()
            .enumerate()
            .filter_map(|(n, g)| Some((n, g.job(n, now)?)))
            .collect();
        let jobs: Vec<Job> = known.iter().map(|(_, j)| j.clone()).collect();
        let people: Vec<Person> = free
            .iter()
            .zip(&options.people)
            .map(|(free, role)| Person {
                role: *role,
                from: (free - now).max(0.0),
                until: options.minutes - now,
            })
            .collect();
        let schedule = match way {
            Way::Plan => plan(&jobs, &people),
            Way::FirstCome => first_come(&jobs, &people),
        };
        for placed in schedule
            .placed
            .iter()
            .filter(|p| p.begin < 1e-6 && p.piece == 0)
        {
            let own = &mut going[known[placed.job].0];
            let stretch = own.stretches[own.at];
            free[placed.person] = now + stretch.hands;
            own.ready = free[placed.person] + stretch.wait;
            own.at += 1;
            if own.at == own.stretches.len() && own.solved {
                own.done = Some(own.ready);
            }
        }
        let waits = going
            .iter()
            .filter(|g| g.at < g.stretches.len())
            .map(|g| g.ready);
        let next = free
            .iter()
            .copied()
            .chain(waits)
            .filter(|t| *t > now + 1e-6);
        now = next.fold(f64::INFINITY, f64::min);
    }
    let back = going
        .iter()
        .filter_map(|g| g.done)
        .filter(|at| *at <= options.minutes);
    let hours = back.clone().map(|at| (options.minutes - at) / 60.0).sum();
    (hours, back.count())
}

/// Rehearses evenings. Deterministic: the same options give the same report.
pub fn shift(knowledge: &Knowledge, workshop: &Workshop, options: &ShiftOptions) -> ShiftReport {
    let world = World::new(knowledge, options.seed, 0.0);
    let pool = (options.evenings * 4).max(options.open);
    let trails = in_threads(options.threads, pool, |n| {
        let drawn = world.draw(n);
        Player::new(knowledge, &world, workshop, &drawn).trail()
    });
    let evenings = in_threads(options.threads, options.evenings, |n| {
        let rng = &mut seeded(options.seed, EVENINGS, n);
        let cases: Vec<(Vec<Stretch>, bool)> = (0..options.open)
            .map(|_| trails[(rng.next_u64() % pool as u64) as usize].clone())
            .collect();
        [Way::Plan, Way::FirstCome].map(|way| evening(&cases, options, way))
    });
    let many = evenings.len().max(1) as f64;
    let way = |at: usize, name| ShiftWay {
        name,
        hours_back: evenings.iter().map(|e| e[at].0).sum::<f64>() / many,
        machines_back: evenings.iter().map(|e| e[at].1 as f64).sum::<f64>() / many,
    };
    let gains: Vec<f64> = evenings
        .iter()
        .map(|[plan, first]| plan.0 - first.0)
        .collect();
    let gain = gains.iter().sum::<f64>() / many;
    let spread = gains.iter().map(|g| (g - gain) * (g - gain)).sum::<f64>();
    let error = (spread / (many * (many - 1.0).max(1.0))).sqrt() * NINE_IN_TEN;
    ShiftReport {
        evenings: options.evenings,
        ways: [way(0, "plan"), way(1, "first-come")],
        gain,
        gain_interval: [gain - error, gain + error],
    }
}
