//! A good evening: weighted shortest expected time to begin with, then better ones nearby.

use super::list::{in_turn, list};
use super::{Job, Person, Schedule};
use rand::RngExt;
use rand_pcg::Pcg64;
use rand_pcg::rand_core::SeedableRng;

/// Minutes one may wait for a better job, tried in turn.
const PATIENCE: [f64; 4] = [0.0, 5.0, 15.0, 45.0];
/// How much is reckoned for one plan: pieces × people, all evenings tried.
const EFFORT: usize = 10_000_000;
/// Evenings tried at least, and at most.
const TRIED: (usize, usize) = (400, 60_000);
/// A piece is moved so far in the order of a long evening.
const NEAR: usize = 24;
/// The best beginnings that are improved.
const BEGUN: usize = 4;
/// How often the best evening is shaken and improved again, and by how many moves.
const SHAKEN: usize = 100;
const MOVES: usize = 4;

/// The evening that brings the most back soonest, as far as it was found. The same question has the
/// same answer.
///
/// List scheduling by weighted shortest expected time (Smith's rule over hands, and over hands and
/// waits), with a look ahead: one may wait a little for a job that is worth more. The best few of
/// these are then improved by moving one piece or two of a job, or changing two, in the order of
/// beginnings, until nothing helps; the best of all is shaken and improved again (iterated local
/// search) until enough was tried.
pub fn plan(jobs: &[Job], people: &[Person]) -> Schedule {
    let mut begun: Vec<Schedule> = Vec::new();
    for order in orders(jobs) {
        begun.extend(PATIENCE.map(|patience| list(jobs, people, &order, patience)));
    }
    begun.sort_by(|a, b| a.cost.total_cmp(&b.cost));
    begun.dedup_by(|a, b| a.placed == b.placed);
    begun.truncate(BEGUN);
    let pieces: usize = jobs.iter().map(|j| j.pieces.len()).sum();
    let each = (pieces * people.len()).max(1);
    let mut search = Search {
        jobs,
        people,
        left: (EFFORT / each).clamp(TRIED.0, TRIED.1),
    };
    let share = search.left / begun.len().max(1);
    let better = begun.into_iter().map(|s| search.improved(s, share));
    let best = better.min_by(|a, b| a.cost.total_cmp(&b.cost));
    search.shaken(best.unwrap_or_default())
}

/// A search, and how many evenings it may still try.
struct Search<'a> {
    jobs: &'a [Job],
    people: &'a [Person],
    left: usize,
}

impl Search<'_> {
    /// An evening made better piece by piece, with so many trials at most.
    fn improved(&mut self, from: Schedule, most: usize) -> Schedule {
        let mut best = from;
        let mut sequence = sequence_of(self.jobs, &best);
        let until = self.left.saturating_sub(most);
        'again: loop {
            let n = sequence.len();
            for i in 0..n {
                let near = i.saturating_sub(NEAR)..(i + NEAR + 1).min(n);
                for other in near.flat_map(|j| neighbours(&sequence, i, j)).flatten() {
                    if self.left == until {
                        return best;
                    }
                    self.left -= 1;
                    let tried = in_turn(self.jobs, self.people, &other);
                    if tried.cost < best.cost - 1e-9 {
                        sequence = sequence_of(self.jobs, &tried);
                        best = tried;
                        continue 'again;
                    }
                }
            }
            return best;
        }
    }

    /// The best evening shaken by a few moves and improved again, as long as trials are left.
    fn shaken(&mut self, mut best: Schedule) -> Schedule {
        let rng = &mut Pcg64::seed_from_u64(1);
        for _ in 0..SHAKEN {
            let mut sequence = sequence_of(self.jobs, &best);
            if self.left == 0 || sequence.len() < 3 {
                break;
            }
            for _ in 0..MOVES {
                let n = sequence.len();
                let job = sequence.remove(rng.random_range(0..n));
                sequence.insert(rng.random_range(0..n), job);
            }
            self.left -= 1;
            let tried = in_turn(self.jobs, self.people, &sequence);
            let tried = self.improved(tried, self.left);
            if tried.cost < best.cost - 1e-9 {
                best = tried;
            }
        }
        best
    }
}

/// Sequences beside a sequence: the piece at one place moved to another, it and its job's next one
/// moved there together, the two places changed.
fn neighbours(sequence: &[usize], from: usize, to: usize) -> [Option<Vec<usize>>; 3] {
    [
        moved(sequence, from, to),
        gathered(sequence, from, to),
        changed(sequence, from, to),
    ]
}

/// Jobs in the order in which their pieces begin, those that found no place at the end.
fn sequence_of(jobs: &[Job], schedule: &Schedule) -> Vec<usize> {
    let mut sequence: Vec<usize> = schedule.placed.iter().map(|p| p.job).collect();
    for (at, job) in jobs.iter().enumerate() {
        let there = schedule.placed.iter().filter(|p| p.job == at).count();
        sequence.extend(std::iter::repeat_n(at, job.pieces.len() - there));
    }
    sequence
}

/// One piece taken out and put in elsewhere; nothing where that is the same order.
fn moved(sequence: &[usize], from: usize, to: usize) -> Option<Vec<usize>> {
    let mut other = sequence.to_vec();
    let job = other.remove(from);
    other.insert(to, job);
    (other != sequence).then_some(other)
}

/// One piece and the next of its job taken out, and put in together elsewhere.
fn gathered(sequence: &[usize], from: usize, to: usize) -> Option<Vec<usize>> {
    let job = sequence[from];
    let next = from + 1 + sequence[from + 1..].iter().position(|j| *j == job)?;
    let mut other = sequence.to_vec();
    other.remove(next);
    other.remove(from);
    let to = to.min(other.len());
    other.insert(to, job);
    other.insert(to, job);
    (other != sequence).then_some(other)
}

/// Two pieces that change places; further ones of the same jobs keep their order.
fn changed(sequence: &[usize], one: usize, two: usize) -> Option<Vec<usize>> {
    let differ = one + 1 < two && sequence[one] != sequence[two];
    differ.then(|| {
        let mut other = sequence.to_vec();
        other.swap(one, two);
        other
    })
}

/// "First come, first served": jobs in their order, hands never idle while something may begin.
pub fn first_come(jobs: &[Job], people: &[Person]) -> Schedule {
    let order: Vec<usize> = (0..jobs.len()).collect();
    list(jobs, people, &order, 0.0)
}

/// Orders to begin with: worth by minutes of hands, worth by all minutes, the longest waits first,
/// as they came.
fn orders(jobs: &[Job]) -> Vec<Vec<usize>> {
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
