//! Trials: what holds for any plan and any pieces.

use proptest::prelude::*;
use suspect_core::trials::{
    Belief, Confidence, Course, Difference, Goal, Grade, Hypothesis, Likelihood, List, Look,
    Masses, Planned, Set, State, Suspicion, Word, decibans, information,
};

fn suspicion() -> impl Strategy<Value = Suspicion> {
    prop::sample::select(Suspicion::ALL.to_vec())
}

/// A list with needs that run down the list only, so that none goes in a circle.
fn list(most: usize) -> impl Strategy<Value = List> {
    let one = (
        suspicion(),
        0..3_u8,
        0..60_u16,
        prop::option::weighted(0.3, any::<prop::sample::Index>()),
    );
    prop::collection::vec(one, 1..=most).prop_map(|rows| {
        let n = rows.len();
        let name = |i: usize| format!("d{i}");
        let differences = rows
            .into_iter()
            .enumerate()
            .map(|(i, (suspicion, group, swap, needs))| Difference {
                name: name(i),
                suspicion,
                group: (group > 0).then(|| format!("g{group}")),
                swap_minutes: f64::from(swap),
                needs: needs
                    .filter(|_| i + 1 < n)
                    .map(|k| vec![name(i + 1 + k.index(n - i - 1))])
                    .unwrap_or_default(),
                ..Difference::default()
            })
            .collect();
        List {
            differences,
            fights: if n > 1 {
                vec![(name(0), name(n - 1))]
            } else {
                Vec::new()
            },
            ..List::default()
        }
    })
}

fn grade() -> impl Strategy<Value = Grade> {
    prop_oneof![
        (0..6_u8).prop_map(Grade::Number),
        prop::sample::select(vec![
            Word::Cured,
            Word::Better,
            Word::Same,
            Word::Worse,
            Word::Improved
        ])
        .prop_map(Grade::Word),
    ]
}

fn confidence() -> impl Strategy<Value = Confidence> {
    prop::sample::select(vec![
        Confidence::Sure,
        Confidence::Likely,
        Confidence::Hunch,
    ])
}

fn planned_with_looks(most: usize) -> impl Strategy<Value = (Planned, Vec<Look>)> {
    let looks = prop::collection::vec((any::<u64>(), grade(), confidence()), 0..6);
    (list(most), looks).prop_map(|(list, raw)| {
        let planned = list.plan().unwrap();
        let looks = raw
            .into_iter()
            .enumerate()
            .map(|(k, (bits, grade, confidence))| Look {
                piece: format!("T{k}-A"),
                old: set(&planned, bits),
                grade,
                confidence,
            })
            .collect();
        (planned, looks)
    })
}

/// A look by somebody who is sure.
fn look(piece: String, old: Set, grade: u8) -> Look {
    Look {
        piece,
        old,
        grade: Grade::Number(grade),
        confidence: Confidence::Sure,
    }
}

/// Any piece that can be made.
fn set(planned: &Planned, bits: u64) -> Set {
    let plan = &planned.plan;
    plan.close((0..plan.n()).filter(|i| bits >> i & 1 == 1).collect())
}

fn under(hypothesis: Hypothesis, set: Set, said: Likelihood) -> f64 {
    let two = |i, j| usize::from(set.has(i)) + usize::from(set.has(j));
    let Likelihood { clean, half, fault } = said;
    match hypothesis {
        Hypothesis::Elsewhere => fault,
        Hypothesis::ComesAndGoes => (clean + fault) / 2.0,
        Hypothesis::Alone(i) => [fault, clean][usize::from(set.has(i))],
        Hypothesis::Together(i, j) => [fault, clean, clean][two(i, j)],
        Hypothesis::SeparateSeen(i, j) => [fault, half, clean][two(i, j)],
        Hypothesis::SeparateHidden(i, j) => [fault, fault, clean][two(i, j)],
    }
}

/// Every hypothesis written out.
fn written_out(course: &Course, looks: &[Look]) -> Vec<(Hypothesis, f64)> {
    let tables = course.plan.tables();
    let mut all = Belief::prior(course.plan).hypotheses();
    for look in looks {
        let said = tables.of(look.grade, look.confidence);
        all.iter_mut()
            .for_each(|(h, p)| *p *= under(*h, look.old, said));
    }
    let sum: f64 = all.iter().map(|(_, p)| p).sum();
    all.iter_mut().for_each(|(_, p)| *p /= sum);
    all
}

/// Uncertainty of the repair classes.
fn class_bits(belief: &Belief, n: usize) -> f64 {
    let mut units = vec![0.0; n];
    let mut bits = 0.0;
    let of = |p: f64| if p > 1e-12 { -p * p.log2() } else { 0.0 };
    for (hypothesis, p) in belief.hypotheses() {
        match hypothesis {
            Hypothesis::Alone(i) => units[i] += p,
            Hypothesis::Together(i, j) => {
                units[i] += p / 2.0;
                units[j] += p / 2.0;
            }
            _ => bits += of(p),
        }
    }
    bits + units.into_iter().map(of).sum::<f64>()
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(64))]

    #[test]
    fn belief_is_written_out_bayes_and_sums_to_one((planned, looks) in planned_with_looks(7)) {
        let course = Course::of(&planned.plan, &looks);
        prop_assert!((course.belief.sum() - 1.0).abs() < 1e-12);
        let told = course.belief.hypotheses();
        for ((h, p), (k, q)) in told.into_iter().zip(written_out(&course, &looks)) {
            prop_assert_eq!(h, k);
            prop_assert!((p - q).abs() < 1e-9, "{:?}: {} {}", h, p, q);
        }
    }

    #[test]
    fn order_does_not_matter_and_unclear_says_nothing(
        (planned, looks) in planned_with_looks(9), bits in any::<u64>(),
    ) {
        let plan = &planned.plan;
        let mut turned = looks.clone();
        turned.reverse();
        turned.insert(turned.len() / 2, Look {
            piece: "T99-A".into(),
            old: set(&planned, bits),
            grade: Grade::Word(Word::Unclear),
            confidence: Confidence::Sure,
        });
        let (a, b) = (Course::of(plan, &looks), Course::of(plan, &turned));
        for ((_, p), (_, q)) in a.belief.hypotheses().into_iter().zip(b.belief.hypotheses()) {
            prop_assert!((p - q).abs() < 1e-9);
        }
    }

    #[test]
    fn corners_keep_the_odds_among_units_alone((planned, looks) in planned_with_looks(9)) {
        let mut course = Course::of(&planned.plan, &looks);
        let before = course.belief.alone.clone();
        for (old, grade) in [(planned.plan.all(), 5), (Set::NONE, 1)] {
            let piece = format!("C{grade}");
            course.add(&look(piece, old, grade));
        }
        for (p, q) in before.iter().zip(&course.belief.alone) {
            let (odds, now) = (p / before[0], q / course.belief.alone[0]);
            prop_assert!((odds - now).abs() < 1e-6 * odds);
        }
    }

    #[test]
    fn a_look_ahead_is_what_updating_gives(
        (planned, looks) in planned_with_looks(7), bits in any::<u64>(),
    ) {
        let plan = &planned.plan;
        let course = Course::of(plan, &looks);
        let piece = course.by_hand(Goal::Repair, set(&planned, bits));
        let mut mean = vec![0.0; course.belief.hypotheses().len()];
        for (g, after) in piece.after.iter().enumerate() {
            let said = plan.tables().grades()[g];
            let real = course.belief.after(piece.old, said);
            prop_assert!((class_bits(&real, plan.n()) - after.bits_left).abs() < 1e-9);
            for (sum, (_, p)) in mean.iter_mut().zip(real.hypotheses()) {
                *sum += after.chance * p;
            }
        }
        prop_assert!((piece.after.iter().map(|a| a.chance).sum::<f64>() - 1.0).abs() < 1e-9);
        for (sum, (_, p)) in mean.iter().zip(course.belief.hypotheses()) {
            prop_assert!((sum - p).abs() < 1e-9);
        }
    }

    #[test]
    fn information_lies_between_nothing_and_all(
        (planned, looks) in planned_with_looks(9), bits in any::<u64>(),
    ) {
        let course = Course::of(&planned.plan, &looks);
        let piece = set(&planned, bits);
        let told = information(&planned.plan, &course.belief, piece);
        let all: f64 = course.belief.hypotheses().iter()
            .map(|(_, p)| if *p > 0.0 { -p * p.log2() } else { 0.0 }).sum();
        prop_assert!(told >= -1e-9 && told <= all + 1e-9, "{} of {}", told, all);
        let masses = Masses::of(&course.belief, piece);
        let sum = masses.clean + masses.half + masses.fault + course.belief.comes_and_goes;
        prop_assert!((sum - 1.0).abs() < 1e-9);
    }

    #[test]
    fn proposals_can_be_made_and_end_with_the_proof((planned, looks) in planned_with_looks(12)) {
        let plan = &planned.plan;
        let course = Course::of(plan, &looks);
        let next = course.next(Goal::Repair);
        prop_assert_eq!(&next, &Course::of(plan, &looks).next(Goal::Repair));
        match (course.verdict(Goal::Repair).state, next) {
            (State::Proven, next) => prop_assert!(next.is_none()),
            (State::Owes(set), Some(piece)) => prop_assert_eq!(set, piece.old),
            (State::Open, Some(piece)) => {
                prop_assert_eq!(plan.close(piece.old), piece.old);
                prop_assert!(piece.expected_minutes.is_finite());
            }
            (state, None) => prop_assert!(false, "nothing to do while {:?}", state),
        }
    }

    #[test]
    fn no_pieces_say_nothing_of_a_cause(list in list(9), bits in any::<u64>()) {
        let planned = list.plan().unwrap();
        let course = Course::new(&planned.plan);
        prop_assert!(decibans(&course, set(&planned, bits)).abs() < 1e-9);
    }

    /// Without slips and with one culprit of equal weight: halving, and one piece to prove it.
    #[test]
    fn one_culprit_is_found_about_as_fast_as_by_halving(
        n in 2..40_usize, who in any::<prop::sample::Index>(),
    ) {
        let shares = suspect_core::trials::Shares {
            elsewhere: 0.0, comes_and_goes: 0.0, together: 0.0, separate: 0.0,
        };
        let difference = |i| Difference { name: format!("d{i}"), ..Difference::default() };
        let differences = (0..n).map(difference).collect();
        let list = List { slip: 0.0, shares, differences, ..List::default() };
        let planned = list.plan().unwrap();
        let who = who.index(n);
        let mut course = Course::new(&planned.plan);
        let mut count = 0;
        while let Some(piece) = course.next(Goal::Repair) {
            count += 1;
            prop_assert!(count <= 20);
            let grade = if piece.old.has(who) { 5 } else { 1 };
            let (piece, old) = (format!("T{count}-A"), piece.old);
            course.add(&look(piece, old, grade));
        }
        prop_assert_eq!(course.verdict(Goal::Repair).finding,
            suspect_core::trials::Finding::Set(Set::one(who)));
        prop_assert!(count <= (n as f64).log2().ceil() as u32 + 1, "{} units: {} pieces", n, count);
    }
}
