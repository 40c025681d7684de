//! A plan with its pieces, or a ladder, as read from outside; and the answer.

use super::answer::{
    Answer, PlanAnswer, Sums, Told, ToldHypothesis, ToldNext, ToldVerdict, ToldWorkAround,
};
use super::belief::{Goal, Hypothesis};
use super::course::{Course, Look};
use super::grade::{Confidence, GRADES, Grade};
use super::ladder::{Ladder, LadderProblem};
use super::list::{List, Planned};
use super::list_check::ListProblem;
use super::living::work_around;
use super::message::decibans;
use super::set::Set;
use super::verdict::{Finding, State};
use crate::nearest::{did_you_mean, nearest, short};
use serde::Deserialize;
use std::collections::BTreeMap;

/// Hypotheses told, the likeliest first.
const TOLD: usize = 12;

/// What is asked.
#[derive(Debug, Clone, PartialEq)]
pub enum Request {
    /// Which piece to print next.
    Plan(PlanRequest),
    /// Where the best value lies.
    Ladder(Ladder),
}

/// A plan with its pieces.
#[derive(Debug, Clone, PartialEq, Deserialize)]
pub struct PlanRequest {
    /// The list.
    pub plan: List,
    /// The pieces, in order.
    #[serde(default)]
    pub trials: Vec<Piece>,
    /// Causes by name, with the differences that speak of them.
    #[serde(default)]
    pub causes: BTreeMap<String, Vec<String>>,
}

/// A piece as it was graded.
#[derive(Debug, Clone, PartialEq, Deserialize)]
pub struct Piece {
    /// Its label; the same label again is another look at the same piece.
    pub label: String,
    /// Names of the differences that were old in it.
    pub old: Vec<String>,
    /// How it looked.
    pub grade: Grade,
    /// How sure.
    #[serde(default)]
    pub confidence: Confidence,
}

/// Why there is no answer.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
pub enum RequestProblem {
    /// The list.
    #[error("plan: {0}")]
    List(#[from] ListProblem),
    /// The ladder.
    #[error("ladder: {0}")]
    Ladder(#[from] LadderProblem),
    /// A piece or cause names what is not on the list.
    #[error("{of}: \"{named}\" is not on the \
        list{}", maybe.as_deref().map(did_you_mean).unwrap_or_default())]
    Unknown {
        /// Which piece or cause.
        of: String,
        /// What it names.
        named: String,
        /// What may have been meant.
        maybe: Option<String>,
    },
    /// A piece that cannot have been made.
    #[error(
        "{label}: this piece cannot be made, \"{needing}\" at its old value needs \
        \"{needed}\" at its old value too"
    )]
    CannotBe {
        /// The piece.
        label: String,
        /// What lacks something.
        needing: String,
        /// What it lacks.
        needed: String,
    },
    /// A grade beyond 5.
    #[error("{label}: a grade is 0 to 5, not {grade}")]
    Grade {
        /// The piece.
        label: String,
        /// The grade.
        grade: u8,
    },
}

impl Request {
    /// Reads a request: an object with `plan` and `trials`, or with `ladder`.
    ///
    /// # Errors
    ///
    /// In words, with the place.
    pub fn read(text: &str) -> Result<Request, String> {
        let whole: serde_json::Value =
            serde_json::from_str(text).map_err(|e| format!("this is no JSON: {e}"))?;
        let refused = |e: serde_path_to_error::Error<serde_json::Error>| {
            format!("{}: {}", e.path(), e.inner())
        };
        match (whole.get("plan"), whole.get("ladder")) {
            (Some(_), _) => serde_path_to_error::deserialize(whole)
                .map(Request::Plan)
                .map_err(refused),
            (None, Some(ladder)) => serde_path_to_error::deserialize(ladder.clone())
                .map(Request::Ladder)
                .map_err(refused),
            (None, None) => Err("neither `plan` nor `ladder` is given: write {\"plan\": …, \
                \"trials\": […]} or {\"ladder\": {\"values\": […], \"grades\": […]}}"
                .to_owned()),
        }
    }

    /// The answer.
    ///
    /// # Errors
    ///
    /// [`RequestProblem`] where list, pieces or bands make no sense.
    pub fn answer(&self) -> Result<Answer, RequestProblem> {
        match self {
            Request::Ladder(ladder) => Ok(Answer::Ladder(ladder.read()?)),
            Request::Plan(asked) => Ok(Answer::Plan(Box::new(asked.answer()?))),
        }
    }
}

impl PlanRequest {
    fn answer(&self) -> Result<PlanAnswer, RequestProblem> {
        let planned = self.plan.plan()?;
        let plan = &planned.plan;
        let looks = self.looks(&planned)?;
        let course = Course::of(plan, &looks);
        let mut case_decibans = BTreeMap::new();
        for (cause, names) in &self.causes {
            let units = self.units(&planned, &format!("cause {cause}"), names)?;
            case_decibans.insert(cause.clone(), decibans(&course, units));
        }
        let cures = course.belief.cures();
        let (alone, together, separate) = course.belief.sums();
        Ok(PlanAnswer {
            elsewhere: course.belief.elsewhere,
            comes_and_goes: course.belief.comes_and_goes,
            top: top(&course),
            sums: Sums {
                alone,
                together,
                separate,
            },
            cures_alone: plan
                .units
                .iter()
                .map(|u| u.name.clone())
                .zip(cures)
                .collect(),
            verdict: told_verdict(&course),
            contradiction_db: course.contradiction_db(),
            case_decibans,
            work_around: told_work_around(&course),
            next: course.next(Goal::Repair).map(|piece| ToldNext {
                old: names(&course, piece.old),
                expected_minutes: piece.expected_minutes,
                information_bits: piece.bits,
            }),
        })
    }

    fn looks(&self, planned: &Planned) -> Result<Vec<Look>, RequestProblem> {
        self.trials
            .iter()
            .map(|piece| {
                if let Grade::Number(grade) = piece.grade
                    && usize::from(grade) >= GRADES
                {
                    return Err(RequestProblem::Grade {
                        label: short(&piece.label),
                        grade,
                    });
                }
                let old = self.units(planned, &format!("piece {}", piece.label), &piece.old)?;
                can_be(planned, &piece.label, old)?;
                Ok(Look {
                    piece: piece.label.clone(),
                    old,
                    grade: piece.grade,
                    confidence: piece.confidence,
                })
            })
            .collect()
    }

    fn units(&self, planned: &Planned, of: &str, named: &[String]) -> Result<Set, RequestProblem> {
        let names = || self.plan.differences.iter().map(|d| d.name.as_str());
        let place = |name: &String| {
            let at = names().position(|n| n == name);
            at.ok_or_else(|| RequestProblem::Unknown {
                of: short(of),
                named: short(name),
                maybe: nearest(name, names()).map(String::from),
            })
        };
        let at = named.iter().map(place).collect::<Result<Vec<_>, _>>()?;
        Ok(planned.units(at))
    }
}

/// Refuses a piece that lacks what its old values need.
fn can_be(planned: &Planned, label: &str, old: Set) -> Result<(), RequestProblem> {
    let plan = &planned.plan;
    let Some(lacks) = plan.lacking(old) else {
        return Ok(());
    };
    Err(RequestProblem::CannotBe {
        label: short(label),
        needing: plan.units[lacks.0].name.clone(),
        needed: plan.units[lacks.1].name.clone(),
    })
}

fn names(course: &Course, set: Set) -> Vec<String> {
    course
        .plan
        .names(set)
        .into_iter()
        .map(String::from)
        .collect()
}

fn top(course: &Course) -> Vec<Told> {
    let name = |i: usize| course.plan.units[i].name.clone();
    let told = |(hypothesis, p): (Hypothesis, f64)| {
        let hypothesis = match hypothesis {
            Hypothesis::Alone(i) => ToldHypothesis::Alone(name(i)),
            Hypothesis::Together(i, j) => ToldHypothesis::Together([name(i), name(j)]),
            Hypothesis::SeparateSeen(i, j) => ToldHypothesis::SeparateSeen([name(i), name(j)]),
            Hypothesis::SeparateHidden(i, j) => ToldHypothesis::SeparateHidden([name(i), name(j)]),
            Hypothesis::Elsewhere | Hypothesis::ComesAndGoes => return None,
        };
        (p > 0.0).then_some(Told { hypothesis, p })
    };
    let mut all: Vec<Told> = course
        .belief
        .hypotheses()
        .into_iter()
        .filter_map(told)
        .collect();
    // What differs by less than the reckoning's own grain is equal, and stands by name.
    let grain = |p: f64| (p * 1e12).round();
    all.sort_by(|a, b| {
        grain(b.p)
            .total_cmp(&grain(a.p))
            .then_with(|| a.hypothesis.cmp(&b.hypothesis))
    });
    all.truncate(TOLD);
    all
}

fn told_verdict(course: &Course) -> ToldVerdict {
    let verdict = course.verdict(Goal::Repair);
    let (kind, units) = match verdict.finding {
        Finding::Set(set) => ("set", names(course, set)),
        Finding::Elsewhere => ("elsewhere", Vec::new()),
        Finding::ComesAndGoes => ("comes and goes", Vec::new()),
        Finding::Together(i, j) => ("together", names(course, [i, j].into_iter().collect())),
    };
    let (state, piece) = match verdict.state {
        State::Open => ("open", None),
        State::Owes(set) => ("owes a piece", Some(names(course, set))),
        State::Proven => ("proven", None),
    };
    ToldVerdict {
        kind,
        units,
        p: verdict.probability,
        state,
        piece,
    }
}

fn told_work_around(course: &Course) -> ToldWorkAround {
    let around = work_around(course, &course.best(Goal::Repair));
    ToldWorkAround {
        old: names(course, around.old),
        price_minutes: around.price,
        going_on_minutes: around.going_on,
        stop: around.stop(),
    }
}
