//! A good evening: weighted shortest expected time to begin with, then better ones nearby.

use super::list::{Floor, list};
use super::{Job, Person, Schedule};

/// Minutes one may wait for a better job, tried in turn.
const PATIENCE: [f64; 4] = [0.0, 5.0, 15.0, 45.0];
/// How much is reckoned for one plan: pieces × people, all evenings tried.
const EFFORT: usize = 10_000_000;
/// Evenings tried at least, and at most.
const TRIED: (usize, usize) = (400, 12_000);
/// A piece is moved so far in the order of a long evening.
const NEAR: usize = 24;
/// The best beginnings that are improved.
const BEGUN: usize = 4;
/// How often the best evening is shaken and improved again, and by how many moves.
const SHAKEN: usize = 100;
const MOVES: usize = 4;
/// Steps of an even sequence over a square, 1/ρ and 1/ρ² of the plastic number ρ³ = ρ + 1 (Roberts,
/// 2018): whatever their number, the moves of a shaking lie evenly over all there are.
const EVEN: (f64, f64) = (0.754_877_666_246_692_8, 0.569_840_290_998_053_3);

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
        floor: Floor::new(jobs, people),
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
    floor: Floor<'a>,
    left: usize,
}

impl Search<'_> {
    /// An evening made better piece by piece, with so many trials at most.
    fn improved(&mut self, from: Schedule, most: usize) -> Schedule {
        let until = self.left.saturating_sub(most);
        let mut best = from;
        while let Some(better) = self.better(&best, until) {
            best = better;
        }
        best
    }

    /// The first better evening nearby; none where there is none, or trials run out.
    fn better(&mut self, best: &Schedule, until: usize) -> Option<Schedule> {
        let sequence = sequence_of(self.jobs, best);
        let n = sequence.len();
        // What comes before the first change is placed once for all trials.
        let mut before = self.floor.begun();
        let mut desk = before.clone();
        let mut other = Vec::with_capacity(n);
        for i in 0..n {
            let first = i.saturating_sub(NEAR);
            if first > 0 {
                self.floor
                    .take_turns(&mut before, &sequence[first - 1..first]);
            }
            for j in first..(i + NEAR + 1).min(n) {
                for change in [moved, gathered, changed] {
                    if !change(&sequence, (i, j), &mut other) {
                        continue;
                    }
                    if self.left == until {
                        return None;
                    }
                    self.left -= 1;
                    desk.copy(&before);
                    self.floor.take_turns(&mut desk, &other[first..]);
                    if self.floor.cost(&desk) < best.cost - 1e-9 {
                        return Some(self.floor.schedule(&desk));
                    }
                }
            }
        }
        None
    }

    /// The best evening shaken by a few moves and improved again, as long as trials are left.
    fn shaken(&mut self, mut best: Schedule) -> Schedule {
        let mut places = (1..).map(|n| (f64::from(n) * EVEN.0, f64::from(n) * EVEN.1));
        for _ in 0..SHAKEN {
            let mut sequence = sequence_of(self.jobs, &best);
            if self.left == 0 || sequence.len() < 3 {
                break;
            }
            let n = sequence.len() as f64;
            for (from, to) in places.by_ref().take(MOVES) {
                let job = sequence.remove((from.fract() * n) as usize);
                sequence.insert((to.fract() * n) as usize, job);
            }
            self.left -= 1;
            let mut desk = self.floor.begun();
            self.floor.take_turns(&mut desk, &sequence);
            let tried = self.improved(self.floor.schedule(&desk), self.left);
            if tried.cost < best.cost - 1e-9 {
                best = tried;
            }
        }
        best
    }
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

/// One piece taken out and put in elsewhere. Says whether that is another order.
fn moved(sequence: &[usize], (from, to): (usize, usize), other: &mut Vec<usize>) -> bool {
    other.clear();
    other.extend_from_slice(sequence);
    let job = other.remove(from);
    other.insert(to, job);
    other != sequence
}

/// One piece and the next of its job taken out, and put in together elsewhere.
fn gathered(sequence: &[usize], (from, to): (usize, usize), other: &mut Vec<usize>) -> bool {
    let job = sequence[from];
    let Some(next) = sequence[from + 1..].iter().position(|j| *j == job) else {
        return false;
    };
    other.clear();
    other.extend_from_slice(sequence);
    other.remove(from + 1 + next);
    other.remove(from);
    let to = to.min(other.len());
    other.insert(to, job);
    other.insert(to, job);
    other != sequence
}

/// Two pieces that change places; further ones of the same jobs keep their order.
fn changed(sequence: &[usize], (one, two): (usize, usize), other: &mut Vec<usize>) -> bool {
    if one + 1 >= two || sequence[one] == sequence[two] {
        return false;
    }
    other.clear();
    other.extend_from_slice(sequence);
    other.swap(one, two);
    true
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
