//! The shift: what needs hands now, over all machines, and in which order it is done best.
//!
//! A [`Job`] is a chain of pieces: minutes of somebody's hands, then a wait that needs nobody
//! (drying, cooling, a proof that prints). [`plan`] gives the hands of those present to the pieces
//! so that machines come back soonest, the waits of one job filled with work on others. `list`
//! places pieces in an order of jobs, `search` looks for a good order, `expected` makes a job of a
//! case, `log` keeps what people said of the evening.

mod expected;
mod list;
mod log;
mod search;

pub use expected::{Act, Expected, expected};
pub use list::list;
pub use log::{
    HandOver, JobId, JobLine, LONGEST_WORD, MOST_MINUTES, MOST_PEOPLE, Said, Shift, ShiftEntry,
    ShiftEvent, Who, accept, replay,
};
pub use search::{first_come, plan};

use crate::people::{Needs, Role};

/// A stretch of a job.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Piece {
    /// Minutes of somebody's hands.
    pub hands: f64,
    /// Minutes of waiting after them that need nobody.
    pub wait: f64,
    /// Who may.
    pub needs: Needs,
}

/// Something to be done on one machine.
#[derive(Debug, Clone, PartialEq)]
pub struct Job {
    /// The machine, by number: what is done on one is done one after the other.
    pub machine: usize,
    /// What a minute is worth that it is done sooner.
    pub worth: f64,
    /// Minutes until its first piece may begin: a wait that runs.
    pub ready: f64,
    /// A stop is in it: it begins before anything else does.
    pub stop: bool,
    /// Done by this person, by number: they took it.
    pub taken: Option<usize>,
    /// Its pieces, in order.
    pub pieces: Vec<Piece>,
}

/// Somebody who is there.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Person {
    /// What they may.
    pub role: Role,
    /// Minutes until their hands are free.
    pub from: f64,
    /// Minutes until they go.
    pub until: f64,
}

/// Where a piece lies.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Placed {
    /// The job, by number.
    pub job: usize,
    /// Which of its pieces.
    pub piece: usize,
    /// Whose hands, by number.
    pub person: usize,
    /// Minutes from now at which they begin.
    pub begin: f64,
    /// Minutes from now at which the hands are free again.
    pub free: f64,
    /// Minutes from now at which the wait after it is over.
    pub over: f64,
}

/// An evening.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Schedule {
    /// Every piece that finds its place before people go, in the order of their beginnings.
    pub placed: Vec<Placed>,
    /// Minutes from now at which each job is done; nothing where it is not done this time.
    pub done: Vec<Option<f64>>,
    /// What the order costs: Σ worth × minutes until done. What is not done costs the whole time
    /// and what is left of it.
    pub cost: f64,
}

impl Schedule {
    /// Hours of machines that are back before `minutes` are over.
    pub fn hours_back(&self, jobs: &[Job], minutes: f64) -> f64 {
        let each = self.done.iter().zip(jobs).filter(|(_, j)| j.worth > 0.0);
        each.filter_map(|(done, _)| Some((minutes - (*done)?).max(0.0)))
            .sum::<f64>()
            / 60.0
    }
}
