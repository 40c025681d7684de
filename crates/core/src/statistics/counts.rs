//! What one closed case adds to the sums.

use super::advice::bin_of;
use super::minutes::bin_from;
use crate::case::Outcome;
use crate::identified::identified;
use crate::learning::WRONG;
use crate::lessons::lesson::{FirstAdvice, Lesson};

identified! {
    /// What is counted.
    pub enum Counted {
        /// Cases by outcome.
        Ended = "ended",
        /// Mended cases by whether their proof was complete.
        Proof = "proof",
        /// Cases by the cause recorded.
        Cause = "cause",
        /// Cases by the minutes they took.
        Minutes = "minutes",
        /// Minutes, grams and money of search and repair.
        Spent = "spent",
        /// Hours and grams of failed prints.
        Lost = "lost",
        /// Faults of the first layer by whether the print was stopped there.
        FirstLayer = "first-layer",
        /// Minutes spent and those of a printed guide, with their squares.
        Against = "against",
        /// How sure the advice was, and how far it was right.
        Advice = "advice",
        /// The same by how sure it was: cases, and those it was right in.
        Bin = "bin",
        /// Whom the advice named first and who it was, where it was wrong.
        Mistaken = "mistaken",
        /// Mended cases by whether somebody said that the fix held.
        Held = "held",
    }
}

/// Parts a number is counted in.
pub(super) const PARTS: f64 = 1e4;

/// What a case adds under one name.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Count {
    /// Of what.
    pub of: Counted,
    /// Which.
    pub key: String,
    /// Cases.
    pub n: i64,
    /// A sum that goes with them, in ten-thousandths.
    pub amount: i64,
}

fn parts(value: f64) -> i64 {
    (value * PARTS).round() as i64
}

fn count(of: Counted, key: impl Into<String>, amount: f64) -> Count {
    Count {
        of,
        key: key.into(),
        n: 1,
        amount: parts(amount),
    }
}

/// What a closed case adds to the sums.
pub fn counts(lesson: &Lesson) -> Vec<Count> {
    let spent = &lesson.spent;
    let mut all = vec![
        count(Counted::Ended, lesson.outcome.id(), 0.0),
        count(Counted::Minutes, bin_from(spent.minutes), spent.minutes),
        count(Counted::Spent, "minutes", spent.minutes),
        count(Counted::Spent, "grams", spent.grams),
        count(Counted::Spent, "money", spent.money),
    ];
    if let (Some(cause), true) = (&lesson.cause, lesson.outcome != Outcome::Unsolved) {
        all.push(count(Counted::Cause, cause.as_str(), 0.0));
    }
    if lesson.outcome.mended() {
        let proof = if lesson.proven { "complete" } else { "open" };
        all.push(count(Counted::Proof, proof, 0.0));
        let held = if spent.answered { "told" } else { "untold" };
        all.push(count(Counted::Held, held, 0.0));
    }
    if let Some(lost) = &spent.lost {
        all.push(count(Counted::Lost, "hours", lost.hours.unwrap_or(0.0)));
        all.push(count(Counted::Lost, "grams", lost.grams.unwrap_or(0.0)));
        if spent.shows_first || lost.first_layer {
            let caught = if lost.first_layer { "caught" } else { "missed" };
            all.push(count(Counted::FirstLayer, caught, 0.0));
        }
    }
    // Advice is judged on all verified cases, and on none that somebody took out.
    if lesson.outcome == Outcome::FixedAndVerified && !lesson.left_out {
        all.extend(against(spent.minutes, spent.listed));
        all.extend(judged(lesson));
    }
    all
}

/// Minutes against those of a printed guide, with what their spread is reckoned from.
fn against(minutes: f64, listed: Option<f64>) -> Vec<Count> {
    let Some(listed) = listed.filter(|l| *l > 0.0) else {
        return Vec::new();
    };
    let sums = [
        ("spent", minutes),
        ("listed", listed),
        ("spent-spent", minutes * minutes),
        ("spent-listed", minutes * listed),
        ("listed-listed", listed * listed),
    ];
    sums.map(|(key, amount)| count(Counted::Against, key, amount))
        .into()
}

/// How the advice did before the first check or fix.
fn judged(lesson: &Lesson) -> Vec<Count> {
    let Some(FirstAdvice {
        leader,
        sure,
        recorded,
        brier,
        ..
    }) = &lesson.first
    else {
        // Nobody who is listed: "someone else".
        return vec![count(Counted::Advice, "someone-else", 0.0)];
    };
    let right = lesson.cause.as_ref() == Some(leader);
    let expected = (1.0 - WRONG) * sure;
    let mut all = vec![
        count(Counted::Advice, "expected", expected),
        count(Counted::Advice, "spread", expected * (1.0 - expected)),
        count(Counted::Advice, "brier", *brier),
        count(Counted::Advice, "log", -recorded.max(0.01).ln()),
        count(Counted::Bin, format!("{}", bin_of(*sure)), *sure),
    ];
    if right {
        all.push(count(Counted::Advice, "right", 0.0));
        all.push(count(Counted::Bin, format!("{}-right", bin_of(*sure)), 0.0));
    } else if let Some(was) = &lesson.cause {
        all.push(count(Counted::Mistaken, format!("{leader} {was}"), 0.0));
    }
    all
}
