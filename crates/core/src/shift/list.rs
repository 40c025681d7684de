//! List scheduling: pieces are placed one after the other, the first job in an order first among
//! those that could begin soon.

use super::{Job, Person, Placed, Schedule};

/// Minutes of work that are called nothing.
const NOTHING: f64 = 1e-9;

/// What is known of the evening while pieces are placed.
struct Desk<'a> {
    jobs: &'a [Job],
    people: &'a [Person],
    /// When each person's hands are free.
    free: Vec<f64>,
    /// When each machine is.
    machines: Vec<f64>,
    /// When each job's next piece may begin.
    ready: Vec<f64>,
    /// Its next piece.
    next: Vec<usize>,
}

impl<'a> Desk<'a> {
    /// Before anything is placed.
    fn new(jobs: &'a [Job], people: &'a [Person]) -> Self {
        let machines = jobs.iter().map(|j| j.machine + 1).max().unwrap_or(0);
        // A wait that runs keeps its machine.
        let mut busy = vec![0.0f64; machines];
        for job in jobs {
            busy[job.machine] = busy[job.machine].max(job.ready);
        }
        Desk {
            jobs,
            people,
            free: people.iter().map(|p| p.from.max(0.0)).collect(),
            machines: busy,
            ready: jobs.iter().map(|j| j.ready.max(0.0)).collect(),
            next: vec![0; jobs.len()],
        }
    }

    /// When the next piece of a job could begin, and by whom: the first free, among them whoever
    /// may least, so that others stay free for what only they may. None before people go.
    fn earliest(&self, job: usize) -> Option<(f64, usize)> {
        let own = &self.jobs[job];
        let piece = own.pieces.get(self.next[job])?;
        let from = self.ready[job].max(self.machines[own.machine]);
        let mut best: Option<(f64, usize)> = None;
        for (at, person) in self.people.iter().enumerate() {
            let theirs = own.taken.is_none_or(|who| who == at);
            if !theirs || !piece.needs.met_by(person.role) {
                continue;
            }
            let begin = from.max(self.free[at]);
            if begin + piece.hands > person.until + NOTHING {
                continue;
            }
            let better = best.is_none_or(|(known, who)| {
                begin < known - NOTHING
                    || (begin < known + NOTHING && person.role < self.people[who].role)
            });
            if better {
                best = Some((begin, at));
            }
        }
        best
    }

    fn place(&mut self, job: usize, begin: f64, person: usize) -> Placed {
        let own = &self.jobs[job];
        let at = self.next[job];
        let piece = &own.pieces[at];
        let free = begin + piece.hands;
        let over = free + piece.wait;
        self.free[person] = free;
        // The machine is busy while it waits, too: it dries nothing, but it cools and prints.
        self.machines[own.machine] = over;
        self.ready[job] = over;
        self.next[job] += 1;
        Placed {
            job,
            piece: at,
            person,
            begin,
            free,
            over,
        }
    }
}

/// Places the pieces of jobs. `order` names jobs, the first to be preferred first; of those that
/// could begin within `patience` minutes of the soonest, the most preferred one is placed. Stops
/// come before everything.
pub fn list(jobs: &[Job], people: &[Person], order: &[usize], patience: f64) -> Schedule {
    let mut desk = Desk::new(jobs, people);
    let mut placed = Vec::new();
    // Where a job could begin hangs on hands and machines that the last placing took: only those
    // are asked again.
    let mut known: Vec<Option<(f64, usize)>> = (0..jobs.len()).map(|j| desk.earliest(j)).collect();
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
        placed.push(desk.place(job, begin, person));
        for other in 0..jobs.len() {
            let touched = other == job || jobs[other].machine == jobs[job].machine;
            if touched || known[other].is_some_and(|(_, who)| who == person) {
                known[other] = desk.earliest(other);
            }
        }
    }
    finished(&desk, placed)
}

/// Places the next piece of each job in turn, as a sequence of jobs names them; what finds no place
/// is passed over. Stops begin before everything. Every evening in which nobody idles without need
/// has such a sequence: its own, in the order of beginnings.
pub(super) fn in_turn(jobs: &[Job], people: &[Person], sequence: &[usize]) -> Schedule {
    let mut desk = Desk::new(jobs, people);
    let mut placed = Vec::with_capacity(sequence.len());
    let mut passed = vec![false; jobs.len()];
    let stops = (0..jobs.len()).filter(|j| jobs[*j].stop);
    for job in stops {
        if let Some((begin, person)) = desk.earliest(job) {
            placed.push(desk.place(job, begin, person));
            passed[job] = true;
        }
    }
    for &job in sequence {
        // The first turn of a stop was its own.
        if std::mem::take(&mut passed[job]) {
            continue;
        }
        if let Some((begin, person)) = desk.earliest(job) {
            placed.push(desk.place(job, begin, person));
        }
    }
    finished(&desk, placed)
}

/// What an evening so placed costs.
fn finished(desk: &Desk<'_>, mut placed: Vec<Placed>) -> Schedule {
    placed.sort_by(|a, b| a.begin.total_cmp(&b.begin).then(a.job.cmp(&b.job)));
    let whole = desk.people.iter().map(|p| p.until).fold(0.0, f64::max);
    let mut done = vec![None; desk.jobs.len()];
    let mut cost = 0.0;
    for (at, job) in desk.jobs.iter().enumerate() {
        let left = job.pieces.get(desk.next[at]..).unwrap_or_default();
        let until = match left.is_empty() {
            true => {
                done[at] = Some(desk.ready[at]);
                desk.ready[at]
            }
            false => {
                let left: f64 = left.iter().map(|p| p.hands + p.wait).sum();
                desk.ready[at].max(whole) + left
            }
        };
        cost += job.worth * until;
    }
    Schedule { placed, done, cost }
}
