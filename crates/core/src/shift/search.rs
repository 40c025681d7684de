//! A good order of jobs: weighted shortest expected time to begin with, then better ones nearby.

use super::{Job, Person, Schedule, list};

/// Minutes one may wait for a better job, tried in turn.
const PATIENCE: [f64; 4] = [0.0, 5.0, 15.0, 45.0];
/// How much is reckoned for one plan: pieces × jobs, all orders tried.
const EFFORT: usize = 1_200_000;
/// Orders tried at least, and at most.
const TRIED: (usize, usize) = (40, 4_000);

/// The evening that brings the most back soonest, as far as it was found. The same question has the
/// same answer.
///
/// List scheduling by weighted shortest expected time (Smith's rule over hands, and over hands and
/// waits), with a look ahead: one may wait a little for a job that is worth more. The best of these
/// is then improved by moving one job at a time to another place of the order, until nothing helps
/// or enough was tried.
pub fn plan(jobs: &[Job], people: &[Person]) -> Schedule {
    let pieces: usize = jobs.iter().map(|j| j.pieces.len()).sum();
    let each = (pieces * jobs.len()).max(1);
    let mut left = (EFFORT / each).clamp(TRIED.0, TRIED.1);
    let mut best: Option<(Schedule, Vec<usize>, f64)> = None;
    for order in begun(jobs) {
        for patience in PATIENCE {
            left = left.saturating_sub(1);
            better(&mut best, jobs, people, (order.clone(), patience));
        }
    }
    let Some((mut schedule, mut order, mut patience)) = best else {
        return Schedule::default();
    };
    'again: while left > 0 {
        for from in 0..order.len() {
            for to in 0..order.len() {
                if from == to {
                    continue;
                }
                if left == 0 {
                    break 'again;
                }
                left -= 1;
                let mut other = order.clone();
                let job = other.remove(from);
                other.insert(to, job);
                let tried = list(jobs, people, &other, patience);
                if tried.cost < schedule.cost - 1e-9 {
                    (schedule, order) = (tried, other);
                    continue 'again;
                }
            }
        }
        // Nothing near is better: perhaps with more or less patience.
        let more = PATIENCE.into_iter().filter(|p| *p != patience);
        let tried = more.map(|p| (list(jobs, people, &order, p), p));
        let found = tried.min_by(|a, b| a.0.cost.total_cmp(&b.0.cost));
        left = left.saturating_sub(PATIENCE.len());
        match found {
            Some((tried, p)) if tried.cost < schedule.cost - 1e-9 => {
                (schedule, patience) = (tried, p);
            }
            _ => break,
        }
    }
    schedule
}

/// "First come, first served": jobs in their order, hands never idle while something may begin.
pub fn first_come(jobs: &[Job], people: &[Person]) -> Schedule {
    let order: Vec<usize> = (0..jobs.len()).collect();
    list(jobs, people, &order, 0.0)
}

fn better(
    best: &mut Option<(Schedule, Vec<usize>, f64)>,
    jobs: &[Job],
    people: &[Person],
    (order, patience): (Vec<usize>, f64),
) {
    let tried = list(jobs, people, &order, patience);
    if best
        .as_ref()
        .is_none_or(|(known, ..)| tried.cost < known.cost - 1e-9)
    {
        *best = Some((tried, order, patience));
    }
}

/// Orders to begin with: worth by minutes of hands, worth by all minutes, the longest waits first,
/// as they came.
fn begun(jobs: &[Job]) -> Vec<Vec<usize>> {
    let hands = |j: &Job| j.pieces.iter().map(|p| p.hands).sum::<f64>();
    let waits = |j: &Job| j.pieces.iter().map(|p| p.wait).sum::<f64>();
    let by = |key: &dyn Fn(&Job) -> f64| {
        let mut order: Vec<usize> = (0..jobs.len()).collect();
        order.sort_by(|a, b| key(&jobs[*a]).total_cmp(&key(&jobs[*b])).then(a.cmp(b)));
        order
    };
    let rate = |minutes: f64, j: &Job| minutes.max(0.1) / j.worth.max(1e-6);
    vec![
        by(&|j| rate(hands(j), j)),
        by(&|j| rate(j.ready + hands(j) + waits(j), j)),
        by(&|j| -waits(j)),
        by(&|_| 0.0),
    ]
}
