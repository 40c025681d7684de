//! Ways of going about it: the plan, halving by count, one at a time.

use super::situation::{Kind, Situation};
use rand_pcg::Pcg64;
use suspect_core::trials::{Confidence, Course, Finding, Goal, Grade, Look, Set};

/// How it went: pieces printed, whether what was said in the end is right.
pub(super) type Ended = (u32, bool);

/// Most pieces anybody prints.
const MOST: u32 = 40;

/// The plan: its next piece until its verdict is proven.
pub(super) fn plan(situation: &Situation, slip: f64, chance: &mut Pcg64) -> Ended {
    let Ok(planned) = situation.list.plan() else {
        return (0, false);
    };
    let mut course = Course::new(&planned.plan);
    let mut count = 0;
    while count < MOST {
        let Some(piece) = course.next(Goal::Repair) else {
            break;
        };
        count += 1;
        let grade = situation.grade(piece.old, slip, chance);
        course.add(&Look {
            piece: format!("T{count}-A"),
            old: piece.old,
            grade: Grade::Number(grade),
            confidence: Confidence::Sure,
        });
    }
    (
        count,
        right(situation, course.verdict(Goal::Repair).finding),
    )
}

fn right(situation: &Situation, finding: Finding) -> bool {
    let guilty: Set = situation.guilty.iter().copied().collect();
    match (situation.kind, finding) {
        (Kind::NoneOfThem, Finding::Elsewhere) => true,
        (Kind::ComesAndGoes, Finding::ComesAndGoes) => true,
        (Kind::Together, Finding::Set(set)) => set.count() == 1 && !set.common(guilty).is_empty(),
        (
            Kind::Alone | Kind::Misled | Kind::SeparateSeen | Kind::SeparateHidden,
            Finding::Set(set),
        ) => set == guilty,
        _ => false,
    }
}

/// What somebody says who ends with one difference, or with none.
fn named(situation: &Situation, who: Option<usize>) -> bool {
    match (situation.kind, who) {
        (Kind::NoneOfThem, None) => true,
        (Kind::Alone | Kind::Misled | Kind::Together, Some(i)) => situation.guilty.contains(&i),
        _ => false,
    }
}

/// Half of what is left put back; the last one proven by its own piece; a grade between is printed
/// again, three times at most; one new start.
pub(super) fn halving(situation: &Situation, slip: f64, chance: &mut Pcg64) -> Ended {
    let mut count = 0;
    let mut print = |units: &[usize]| {
        let old: Set = units.iter().copied().collect();
        let mut grade = 3;
        for _ in 0..3 {
            grade = situation.grade(old, slip, chance);
            count += 1;
            if grade != 3 {
                break;
            }
        }
        grade > 3
    };
    for _ in 0..2 {
        let mut left: Vec<usize> = (0..situation.list.differences.len()).collect();
        loop {
            let half = (left.len() / 2).max(1);
            let good = print(&left[..half]);
            if left.len() == 1 {
                if good {
                    return (count, named(situation, Some(left[0])));
                }
                break;
            }
            left = if good {
                left[..half].to_vec()
            } else {
                left[half..].to_vec()
            };
        }
    }
    (count, named(situation, None))
}

/// The most suspected first, each cure printed once more.
pub(super) fn one_at_a_time(situation: &Situation, slip: f64, chance: &mut Pcg64) -> Ended {
    let list = &situation.list.differences;
    let mut order: Vec<usize> = (0..list.len()).collect();
    order.sort_by_key(|&i| list[i].suspicion as u8);
    let mut count = 0;
    for unit in order {
        let mut print = || {
            count += 1;
            situation.grade(Set::one(unit), slip, chance) > 3
        };
        if print() && print() {
            return (count, named(situation, Some(unit)));
        }
    }
    (count, named(situation, None))
}
