//! Before a print: of all that could be looked at, what is worth its time for this machine and this
//! job.
//!
//! How often each suspect strikes comes from the knowledge, drawn towards what happened in the
//! workshop, to this kind of machine, and to this machine: rate = (strength · rate above + n) /
//! (strength + N).

use crate::case::Outcome;
use crate::knowledge::{CauseId, Family, Knowledge};
use crate::planning::Workshop;
use crate::profile::Context;

/// Causes named beside a look.
const NAMED: usize = 3;
/// How many cases the rate above is worth: shop against knowledge, kind against shop, machine
/// against kind.
const STRENGTHS: [f64; 3] = [40.0, 20.0, 10.0];
/// A case counts half after so many days.
const HALF_LIFE: f64 = 365.0;
/// Chance that a print goes wrong at all: at its start, and for each hour, as a workshop's first
/// guess.
const AT_START: f64 = 0.10;
const PER_HOUR: f64 = 0.008;
const AT_MOST: f64 = 0.6;
/// Minutes of a person that a failure costs beside the print itself: clearing up, finding out,
/// starting again.
const CLEARING_UP: f64 = 60.0;

/// A closed case, as far as it teaches.
#[derive(Debug, Clone)]
pub struct Past {
    /// The cause it was.
    pub cause: CauseId,
    /// How it ended.
    pub outcome: Outcome,
    /// Days ago.
    pub days: f64,
    /// On this machine.
    pub same_machine: bool,
    /// On a machine of the same model.
    pub same_kind: bool,
}

/// The job to be printed.
#[derive(Debug, Clone, Copy)]
pub struct Job {
    /// Printing hours.
    pub hours: f64,
    /// Grams of filament.
    pub grams: f64,
}

/// A look worth its time.
#[derive(Debug, Clone)]
pub struct Look {
    /// The precaution, by place in the knowledge.
    pub precaution: usize,
    /// Chance that it finds something.
    pub finds: f64,
    /// Counted minutes it saves on the whole, its own taken off.
    pub saves: f64,
    /// What it is there for: the causes it is likeliest to find, with how often each struck this
    /// machine.
    pub because: Vec<(CauseId, usize)>,
}

/// The list for a machine and a job.
#[derive(Debug, Clone)]
pub struct Before {
    /// Looks, in the order of the knowledge, as a person goes round the machine.
    pub looks: Vec<Look>,
    /// Minutes for all of them.
    pub minutes: f64,
    /// Chance that the print fails without a look, and after the looks.
    pub risk: (f64, f64),
    /// Counted minutes that a failure costs.
    pub failure: f64,
}

/// How often each cause strikes here, as shares that sum to one.
///
/// A case fixed and verified counts 1, an improved one ½; each is halved every year; others teach
/// nothing.
pub fn rates(knowledge: &Knowledge, context: &Context, past: &[Past]) -> Vec<f64> {
    let weights: Vec<f64> = knowledge
        .cause_ids()
        .map(|c| {
            if knowledge.cause(c).family == Family::Normal {
                0.0
            } else {
                knowledge.weight(c, context)
            }
        })
        .collect();
    let total: f64 = weights.iter().sum();
    let mut rates: Vec<f64> = weights
        .iter()
        .map(|w| if total > 0.0 { w / total } else { 0.0 })
        .collect();
    let levels: [fn(&Past) -> bool; 3] = [|_| true, |p| p.same_kind, |p| p.same_machine];
    for (strength, counts) in STRENGTHS.iter().zip(levels) {
        let mut n = vec![0.0; rates.len()];
        for case in past.iter().filter(|p| counts(p)) {
            let worth = match case.outcome {
                Outcome::FixedAndVerified => 1.0,
                Outcome::Improved => 0.5,
                _ => 0.0,
            };
            n[case.cause.at()] += worth * 0.5f64.powf(case.days.max(0.0) / HALF_LIFE);
        }
        let all: f64 = n.iter().sum();
        rates
            .iter_mut()
            .zip(&n)
            .for_each(|(rate, n)| *rate = (strength * *rate + n) / (strength + all));
    }
    // What cannot be on this machine stays out, whatever was once written down.
    rates
        .iter_mut()
        .zip(&weights)
        .filter(|(_, w)| **w == 0.0)
        .for_each(|(rate, _)| *rate = 0.0);
    let sum: f64 = rates.iter().sum();
    if sum > 0.0 {
        rates.iter_mut().for_each(|r| *r /= sum);
    }
    rates
}

/// The shortest list for the risk: what is always done, then again and again the look that saves
/// most, as long as one saves more than it costs.
pub fn before(
    knowledge: &Knowledge,
    context: &Context,
    past: &[Past],
    job: Job,
    workshop: &Workshop,
) -> Before {
    let hours = job.hours.clamp(0.0, 1_000.0);
    let chance = (AT_START + PER_HOUR * hours).min(AT_MOST);
    let failure = CLEARING_UP
        + workshop.waiting.max(0.0) * hours * 60.0 / 2.0
        + workshop.minutes_for(workshop.money_for(job.grams));
    let rates = rates(knowledge, context, past).into_iter();
    let mut risk: Vec<f64> = rates.map(|r| r * chance).collect();
    let without: f64 = risk.iter().sum();
    let fits = |p: &usize| {
        let mut needs = knowledge.precautions[*p].needs.iter();
        needs.all(|n| n.holds(context) != Some(false))
    };
    let mut open: Vec<usize> = (0..knowledge.precautions.len()).filter(fits).collect();
    let mut looks: Vec<Look> = Vec::new();
    while let Some((p, worth)) = best_look(knowledge, &open, &risk, failure) {
        looks.push(Look {
            precaution: p,
            finds: worth.finds,
            saves: worth.saves,
            because: because(knowledge, p, &risk, past),
        });
        open.retain(|other| *other != p);
        for (c, chance) in &knowledge.precautions[p].catches {
            risk[c.at()] *= 1.0 - chance;
        }
    }
    looks.sort_by_key(|l| l.precaution);
    let minutes = looks
        .iter()
        .map(|l| knowledge.precautions[l.precaution].minutes);
    Before {
        minutes: minutes.sum(),
        looks,
        risk: (without, risk.iter().sum()),
        failure,
    }
}

/// What a look finds, as a chance, and the minutes it saves.
#[derive(Clone, Copy)]
struct Worth {
    finds: f64,
    saves: f64,
}

/// The look that saves most of those still open. What is always done comes first: it takes its
/// share before anything else is weighed.
fn best_look(
    knowledge: &Knowledge,
    open: &[usize],
    risk: &[f64],
    failure: f64,
) -> Option<(usize, Worth)> {
    let worth = |p: usize| {
        let look = &knowledge.precautions[p];
        let catches = look.catches.iter();
        let finds: f64 = catches.map(|(c, chance)| risk[c.at()] * chance).sum();
        let saves = finds * failure - look.minutes;
        Worth { finds, saves }
    };
    let rank = |(p, worth): &(usize, Worth)| match knowledge.precautions[*p].always {
        true => f64::INFINITY,
        false => worth.saves,
    };
    let open = open.iter().map(|p| (*p, worth(*p)));
    let best = open.max_by(|a, b| rank(a).total_cmp(&rank(b)).then(b.0.cmp(&a.0)));
    best.filter(|best| rank(best) > 0.0)
}

/// Causes a look is most likely to find, with how often each struck this machine.
fn because(
    knowledge: &Knowledge,
    precaution: usize,
    risk: &[f64],
    past: &[Past],
) -> Vec<(CauseId, usize)> {
    let catches = knowledge.precautions[precaution].catches.iter();
    let mut because: Vec<(f64, CauseId)> = catches
        .map(|(c, chance)| (risk[c.at()] * chance, *c))
        .filter(|(r, _)| *r > 0.0)
        .collect();
    because.sort_by(|a, b| b.0.total_cmp(&a.0).then(a.1.cmp(&b.1)));
    let struck = |c: CauseId| {
        let here = past.iter().filter(|x| x.same_machine && x.cause == c);
        here.count()
    };
    let most = because.into_iter().take(NAMED);
    most.map(|(_, c)| (c, struck(c))).collect()
}
