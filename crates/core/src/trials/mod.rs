//! Trials: which of many differences is guilty, with the fewest prints.
//!
//! A good configuration (old values, the kept baseline) and a bad one (new values) differ in some
//! units. A trial prints a piece with some units back at their old value, the others new; it is
//! graded by eye. What is known is exact: every hypothesis (one unit alone, two together, two
//! separately, none of the list, a fault that comes and goes by itself) has its probability, and
//! the next piece is the one with the least expected minutes to the end.
//!
//! - [`List`]: what differs, as people write it; [`List::plan`] makes a [`Plan`] of it
//! - [`Course`]: a plan with the looks at its pieces: belief, verdict, next piece
//! - [`Grade`], [`Tables`]: what a look says
//! - [`work_around`]: when living with it is cheaper
//! - [`decibans`]: what it says of the causes of a case
//! - [`Ladder`]: one number in many bands
//! - [`Request`]: the same read from outside
//!
//! Sources: group testing and search with errors; the likelihoods are a discrete normal around
//! the grade that a piece ought to get, mixed with its opposite.

mod answer;
mod belief;
mod candidates;
mod choice;
mod course;
mod grade;
mod ladder;
mod list;
mod list_check;
mod living;
mod masses;
mod message;
mod outlook;
mod pairs;
mod plan;
mod proofs;
mod request;
mod set;
mod verdict;

pub use answer::{
    Answer, PlanAnswer, Sums, Told, ToldHypothesis, ToldNext, ToldVerdict, ToldWorkAround,
};
pub use belief::{Belief, Goal, Hypothesis};
pub use choice::{Printed, Proposal, Weighing};
pub use course::{CONTRADICTION_DB, Course, Look};
pub use grade::{
    Confidence, GRADES, Grade, Likelihood, SLIP, Tables, Word, around, slip_of_the_shop,
};
pub use ladder::{Best, GO_ON, Ladder, LadderProblem};
pub use list::{Difference, List, MOST_DIFFERENCES, Planned, Suspicion};
pub use list_check::ListProblem;
pub use living::{WorkAround, work_around};
pub use masses::{Masses, information};
pub use message::{MOST_DB, decibans};
pub use outlook::After;
pub use plan::{GIVE_UP_MINUTES, Group, Plan, Shares, Terms, Unit};
pub use proofs::Proofs;
pub use request::{Piece, PlanRequest, Request, RequestProblem};
pub use set::{MOST_UNITS, Set};
pub use verdict::{Finding, SURE, State, Verdict};
