//! List scheduling: pieces are placed one after the other, the first job in an order first among
//! those that could begin soon.

use super::{Job, Person, Placed, Schedule};

/// Minutes of work that are called nothing.
const NOTHING: f64 = 1e-9;

/// What stays the same however an evening is tried.
pub(super) struct Floor<'a> {
    jobs: &'a [Job],
    people: &'a [Person],
    /// Who may do a piece, whoever may least first: those who may more stay free for what only they
    /// may.
    may: Vec<Vec<Vec<usize>>>,
    /// Before anything is placed.
    empty: Desk,
    /// When the stops are begun: they come before everything.
    begun: Desk,
}

/// What is known of an evening while pieces are placed.
#[derive(Clone)]
pub(super) struct Desk {
    /// When each person's hands are free.
    free: Vec<f64>,
    /// When each machine is.
    machines: Vec<f64>,
    /// When each job's next piece may begin.
    ready: Vec<f64>,
    /// Its next piece.
    next: Vec<usize>,
    /// Whether the first turn of a job was taken before all others.
    passed: Vec<bool>,
    placed: Vec<Placed>,
}

impl Desk {
    fn new(jobs: &[Job], people: &[Person]) -> Self {
        let machines = jobs.iter().map(|j| j.machine + 1).max().unwrap_or(0);
        // A wait that runs keeps its machine.
        let mut busy = vec![0.0f64; machines];
        for job in jobs {
            busy[job.machine] = busy[job.machine].max(job.ready);
        }
        Desk {
            free: people.iter().map(|p| p.from.max(0.0)).collect(),
            machines: busy,
            ready: jobs.iter().map(|j| j.ready.max(0.0)).collect(),
            next: vec![0; jobs.len()],
            passed: vec![false; jobs.len()],
            placed: Vec::new(),
        }
    }

    /// Becomes another, in the memory it has.
    pub(super) fn copy(&mut self, other: &Desk) {
        self.free.clone_from(&other.free);
        self.machines.clone_from(&other.machines);
        self.ready.clone_from(&other.ready);
        self.next.clone_from(&other.next);
        self.passed.clone_from(&other.passed);
        self.placed.clone_from(&other.placed);
    }
}

impl<'a> Floor<'a> {
    pub(super) fn new(jobs: &'a [Job], people: &'a [Person]) -> Self {
        let mut by_role: Vec<usize> = (0..people.len()).collect();
        by_role.sort_by_key(|at| people[*at].role);
        let theirs = |job: &Job, at: usize| job.taken.is_none_or(|who| who == at);
        let who = |job: &Job, piece: usize| {
            let may = |at: &usize| job.pieces[piece].needs.met_by(people[*at].role);
            let all = by_role.iter().copied().filter(|at| theirs(job, *at));
            all.filter(may).collect()
        };
        let each = |job: &Job| (0..job.pieces.len()).map(|p| who(job, p)).collect();
        let empty = Desk::new(jobs, people);
        let mut floor = Floor {
            jobs,
            people,
            may: jobs.iter().map(each).collect(),
            begun: empty.clone(),
            empty,
        };
        let mut begun = floor.empty.clone();
        for job in (0..jobs.len()).filter(|j| jobs[*j].stop) {
            begun.passed[job] = floor.place_next(&mut begun, job);
        }
        floor.begun = begun;
        floor
    }

    /// The evening when its stops are begun.
    pub(super) fn begun(&self) -> Desk {
        self.begun.clone()
    }

    /// When the next piece of a job could begin, and by whom: the first free, among them whoever
    /// may least. None before people go.
    fn earliest(&self, desk: &Desk, job: usize) -> Option<(f64, usize)> {
        let own = &self.jobs[job];
        let piece = own.pieces.get(desk.next[job])?;
        let from = desk.ready[job].max(desk.machines[own.machine]);
        let mut best: Option<(f64, usize)> = None;
        for &at in &self.may[job][desk.next[job]] {
            let begin = from.max(desk.free[at]);
            let fits = begin + piece.hands <= self.people[at].until + NOTHING;
            if fits && best.is_none_or(|(known, _)| begin < known - NOTHING) {
                best = Some((begin, at));
            }
        }
        best
    }

    fn place(&self, desk: &mut Desk, job: usize, begin: f64, person: usize) {
        let own = &self.jobs[job];
        let at = desk.next[job];
        let piece = &own.pieces[at];
        let free = begin + piece.hands;
        let over = free + piece.wait;
        desk.free[person] = free;
        // The machine is busy while it waits, too: it dries nothing, but it cools and prints.
        desk.machines[own.machine] = over;
        desk.ready[job] = over;
        desk.next[job] += 1;
        desk.placed.push(Placed {
            job,
            piece: at,
            person,
            begin,
            free,
            over,
        });
    }

    /// Places the next piece of a job where it fits first; says whether it fits.
    fn place_next(&self, desk: &mut Desk, job: usize) -> bool {
        let place = self.earliest(desk, job);
        if let Some((begin, person)) = place {
            self.place(desk, job, begin, person);
        }
        place.is_some()
    }

    /// Places the next piece of each job in turn, as a sequence of jobs names them; what finds no
    /// place is passed over. Every evening in which nobody idles without need has such a sequence:
    /// its own, in the order of beginnings.
    pub(super) fn take_turns(&self, desk: &mut Desk, sequence: &[usize]) {
        for &job in sequence {
            // The first turn of a stop was its own.
            if !std::mem::take(&mut desk.passed[job]) {
                self.place_next(desk, job);
            }
        }
    }

    /// What an evening costs.
    pub(super) fn cost(&self, desk: &Desk) -> f64 {
        let whole = self.people.iter().map(|p| p.until).fold(0.0, f64::max);
        let cost = |(at, job): (usize, &Job)| {
            let left = job.pieces.get(desk.next[at]..).unwrap_or_default();
            let until = match left.is_empty() {
                true => desk.ready[at],
                false => {
                    let left: f64 = left.iter().map(|p| p.hands + p.wait).sum();
                    desk.ready[at].max(whole) + left
                }
            };
            job.worth * until
        };
        self.jobs.iter().enumerate().map(cost).sum()
    }

    /// The evening as it is planned.
    pub(super) fn schedule(&self, desk: &Desk) -> Schedule {
        let mut placed = desk.placed.clone();
        placed.sort_by(|a, b| a.begin.total_cmp(&b.begin).then(a.job.cmp(&b.job)));
        let done = |(at, job): (usize, &Job)| {
            (desk.next[at] == job.pieces.len()).then_some(desk.ready[at])
        };
        Schedule {
            placed,
            done: self.jobs.iter().enumerate().map(done).collect(),
            cost: self.cost(desk),
        }
    }
}

/// Places the pieces of jobs. `order` names jobs, the first to be preferred first; of those that
/// could begin within `patience` minutes of the soonest, the most preferred one is placed. Stops
/// come before everything.
pub fn list(jobs: &[Job], people: &[Person], order: &[usize], patience: f64) -> Schedule {
    let floor = Floor::new(jobs, people);
    let mut desk = floor.empty.clone();
    // Where a job could begin hangs on hands and machines that the last placing took: only those
    // are asked again.
    let asked = |j| floor.earliest(&floor.empty, j);
    let mut known: Vec<Option<(f64, usize)>> = (0..jobs.len()).map(asked).collect();
    loop {
        let open = || order.iter().filter_map(|j| Some((*j, known[*j]?)));
        let first_steps = |j: usize| jobs[j].stop && desk.next[j] == 0;
        let stop = open().find(|(j, _)| first_steps(*j));
        let soonest = open()
            .map(|(_, (begin, _))| begin)
            .fold(f64::INFINITY, f64::min);
        let soon = |begin: f64| begin <= soonest + patience.max(0.0) + NOTHING;
        let Some((job, (begin, person))) = stop.or_else(|| open().find(|(_, (b, _))| soon(*b)))
        else {
            break;
        };
        floor.place(&mut desk, job, begin, person);
        for other in 0..jobs.len() {
            let touched = other == job || jobs[other].machine == jobs[job].machine;
            if touched || known[other].is_some_and(|(_, who)| who == person) {
                known[other] = floor.earliest(&desk, other);
            }
        }
    }
    floor.schedule(&desk)
}
