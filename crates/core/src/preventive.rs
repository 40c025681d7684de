//! Before a print: of all that could be looked at, what is worth its time for this machine and this
//! job.
//!
//! How often each suspect strikes comes from the knowledge, moved by what was learned of this
//! machine, its kind and the workshop.

use crate::knowledge::{CauseId, Family, Knowledge};
use crate::learning::Learned;
use crate::planning::Workshop;
use crate::profile::Context;

/// Causes named beside a look.
const NAMED: usize = 3;
/// Chance that a print goes wrong at all: at its start, and for each hour, as a workshop's first
/// guess.
const AT_START: f64 = 0.10;
const PER_HOUR: f64 = 0.008;
const AT_MOST: f64 = 0.6;
/// The first guess is worth so many prints of a machine.
const GUESS_PRINTS: f64 = 20.0;
/// Hours of a usual print, for which the first guess is compared with what was counted.
const USUAL_HOURS: f64 = 3.0;
/// Minutes of a person that a failure costs beside the print itself: clearing up, finding out,
/// starting again.
const CLEARING_UP: f64 = 60.0;

/// What is known of a machine from closed cases.
#[derive(Debug, Clone, Copy, Default)]
pub struct Known<'a> {
    /// What was learned; none where the book alone speaks.
    pub learned: Option<&'a Learned>,
    /// Causes recorded on this machine, one for each case.
    pub struck: &'a [CauseId],
    /// Its own prints, where they are counted: cases, and prints.
    pub own: Option<(f64, f64)>,
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

/// How often each cause strikes here, as shares that sum to one: the book's weights, moved by what
/// was learned. Ordinary traits strike nobody.
pub fn rates(knowledge: &Knowledge, context: &Context, learned: Option<&Learned>) -> Vec<f64> {
    let weight = |c: CauseId| match knowledge.cause(c).family {
        Family::Normal => 0.0,
        _ => knowledge.weight(c, context) * learned.map_or(1.0, |l| l.factor(c)),
    };
    let mut rates: Vec<f64> = knowledge.cause_ids().map(weight).collect();
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
    known: Known<'_>,
    job: Job,
    workshop: &Workshop,
) -> Before {
    let hours = job.hours.clamp(0.0, 1_000.0);
    let chance = chance(hours, known.own);
    let failure = CLEARING_UP
        + workshop.waiting.max(0.0) * hours * 60.0 / 2.0
        + workshop.minutes_for(workshop.money_for(job.grams));
    let rates = rates(knowledge, context, known.learned).into_iter();
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
            because: because(knowledge, p, &risk, known.struck),
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

/// Chance that a print of so many hours fails: the first guess, moved by the machine's own prints.
///
/// # Formula
/// guess(h) · (cases + 20·guess(3))/(prints + 20)/guess(3)
fn chance(hours: f64, own: Option<(f64, f64)>) -> f64 {
    let guess = |hours: f64| AT_START + PER_HOUR * hours;
    let usual = guess(USUAL_HOURS);
    let counted = own.filter(|(cases, prints)| *cases >= 0.0 && *prints >= *cases);
    let moved = counted.map_or(1.0, |(cases, prints)| {
        (cases + GUESS_PRINTS * usual) / (prints + GUESS_PRINTS) / usual
    });
    (guess(hours) * moved).min(AT_MOST)
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
    struck: &[CauseId],
) -> Vec<(CauseId, usize)> {
    let catches = knowledge.precautions[precaution].catches.iter();
    let mut because: Vec<(f64, CauseId)> = catches
        .map(|(c, chance)| (risk[c.at()] * chance, *c))
        .filter(|(r, _)| *r > 0.0)
        .collect();
    because.sort_by(|a, b| b.0.total_cmp(&a.0).then(a.1.cmp(&b.1)));
    let times = |c: CauseId| struck.iter().filter(|s| **s == c).count();
    let most = because.into_iter().take(NAMED);
    most.map(|(_, c)| (c, times(c))).collect()
}
