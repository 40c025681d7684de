//! The workshop's own figures: sums that leave nothing behind, and what follows from them.

use proptest::prelude::*;
use suspect_core::case::{Lost, Outcome};
use suspect_core::learning::calibration::{spent_ratio, too_sure};
use suspect_core::lessons::lesson::{FirstAdvice, Lesson};
use suspect_core::lessons::spent::Spent;
use suspect_core::planning::Workshop;
use suspect_core::statistics::{
    Counted, Exposure, Loss, Sums, Told, advice, care, costs, counts, ends, minutes, offenders,
    pace,
};
use time::macros::datetime;

/// A verified case of a slack belt that the advice named first with this chance, or another.
fn lesson(minutes: f64, listed: f64, sure: f64, right: bool) -> Lesson {
    let leader = if right { "belt-loose" } else { "pulley-slips" };
    Lesson {
        outcome: Outcome::FixedAndVerified,
        proven: true,
        cause: Some("belt-loose".into()),
        fix: Some("tension-belt".into()),
        credit: 0.9,
        context: Default::default(),
        closed_at: datetime!(2026-11-20 12:00 UTC),
        clean_at: datetime!(2026-11-20 11:00 UTC),
        uses: Vec::new(),
        looks: Vec::new(),
        first: Some(FirstAdvice {
            leader: leader.into(),
            sure,
            recorded: if right { sure } else { 1.0 - sure },
            brier: 0.3,
            learned: None,
        }),
        spent: Spent {
            minutes,
            grams: 12.0,
            money: 0.5,
            listed: Some(listed),
            lost: Some(Lost {
                hours: Some(2.0),
                grams: Some(24.0),
                first_layer: false,
            }),
            shows_first: true,
            answered: right,
        },
        left_out: false,
    }
}

fn sums(lessons: &[Lesson]) -> Sums {
    lessons.iter().flat_map(counts).collect()
}

fn several() -> impl Strategy<Value = Vec<(f64, f64, f64, bool)>> {
    let case = (0.0..400.0f64, 1.0..240.0f64, 0.02..0.999f64, any::<bool>());
    prop::collection::vec(case, 2..60)
}

fn lessons(cases: &[(f64, f64, f64, bool)]) -> Vec<Lesson> {
    let of = |(spent, listed, sure, right): &(f64, f64, f64, bool)| {
        lesson(*spent, *listed, *sure, *right)
    };
    cases.iter().map(of).collect()
}

proptest! {
    #[test]
    fn a_case_taken_out_leaves_nothing_behind_whatever_the_order(cases in several()) {
        let all = lessons(&cases);
        let mut kept = sums(&all);
        let backwards: Vec<Lesson> = all.iter().rev().cloned().collect();
        prop_assert_eq!(&kept, &sums(&backwards));
        counts(&all[0]).into_iter().for_each(|c| kept.add(c, -1));
        let kept: Vec<_> = kept.into_counts().collect();
        let never: Vec<_> = sums(&all[1..]).into_counts().collect();
        prop_assert_eq!(kept, never);
    }

    #[test]
    fn sums_say_how_sure_the_advice_was_as_the_cases_themselves_do(cases in several()) {
        let known = advice(&sums(&lessons(&cases)));
        let leaders = cases.iter().map(|(.., sure, right)| (*sure, *right));
        let leaders: Vec<(f64, bool)> = leaders.collect();
        match (known.z, too_sure(&leaders)) {
            (Told::Known(z), Some(exact)) => {
                prop_assert!(cases.len() >= 30);
                prop_assert!((z - exact).abs() < 0.01, "{} {}", z, exact);
            }
            (Told::TooFew { n, least }, _) => prop_assert!(n < least && n == cases.len() as i64),
            (z, exact) => prop_assert!(false, "{z:?} {exact:?}"),
        }
    }

    #[test]
    fn minutes_against_the_guide_are_those_of_the_cases(cases in several()) {
        let known = minutes(&sums(&lessons(&cases)));
        let pairs: Vec<(f64, f64)> = cases.iter().map(|(s, l, ..)| (*s, *l)).collect();
        let exact = spent_ratio(&pairs).expect("two cases or more");
        if let Told::Known(r) = known.against {
            prop_assert!((r.ratio - exact[0]).abs() < 1e-3 * exact[0].max(0.1));
            let saved: f64 = pairs.iter().map(|(s, l)| l - s).sum();
            prop_assert!((r.saved - saved).abs() < 0.01 * pairs.len() as f64);
            // To first order only: with ten cases one outlier moves the jackknife by more.
            if cases.len() >= 30 {
                let (own, whole) = (r.high - r.ratio, exact[2] - exact[0]);
                prop_assert!((own / whole - 1.0).abs() < 0.25, "{own} {whole}");
            }
        } else {
            prop_assert!(cases.len() < 10);
        }
        if let (Told::Known(half), Told::Known(nine)) = (known.median, known.nine_in_ten) {
            let below = |m: f64| cases.iter().filter(|c| c.0 <= m).count() as f64;
            prop_assert!(half <= nine);
            // A bin of a quarter of an hour at the most lies between.
            let many = cases.len() as f64;
            prop_assert!(below(half + 15.0) >= many / 2.0 && below(half - 15.0) <= many / 2.0);
        }
    }

    #[test]
    fn nobody_offends_where_all_are_alike_and_one_does_far_apart(many in 2usize..20) {
        let alike = vec![Exposure { cases: 4, time: 90.0 }; many];
        prop_assert!(offenders(&alike).is_empty());
        let mut apart = alike;
        apart[0].cases = 60;
        let found = offenders(&apart);
        prop_assert_eq!(found.len(), 1);
        prop_assert!(found[0].at == 0 && found[0].chance < 0.05);
    }
}

#[test]
fn a_figure_is_told_from_its_least_number_of_cases_on() {
    let four = sums(&vec![lesson(10.0, 60.0, 0.8, true); 4]);
    assert_eq!(ends(&four).by, Told::TooFew { n: 4, least: 5 });
    assert_eq!(minutes(&four).median, Told::TooFew { n: 4, least: 5 });
    let ten = sums(&vec![lesson(10.0, 60.0, 0.8, true); 10]);
    let told = ends(&ten);
    let (outcome, n, share) = told.by.known().unwrap()[0];
    assert_eq!((outcome, n), (Outcome::FixedAndVerified, 10));
    assert!(share.low > 0.8 && share.high == 1.0);
    let known = minutes(&ten);
    assert!((10.0..11.0).contains(known.median.known().unwrap()));
    assert!((known.against.known().unwrap().ratio - 1.0 / 6.0).abs() < 1e-6);
    assert_eq!(care(&ten).proven.known().unwrap().share, 1.0);
    assert_eq!(care(&ten).first_layers.known().unwrap().share, 0.0);
}

#[test]
fn bins_hold_what_was_said_and_mistakes_say_who_it_was() {
    let mut cases = vec![lesson(10.0, 60.0, 0.9, true); 6];
    cases.extend(vec![lesson(10.0, 60.0, 0.9, false); 3]);
    let known = advice(&sums(&cases));
    let bin = &known.bins[0];
    assert_eq!((bin.at, bin.n), (4, 9));
    assert!((bin.sure - 0.9).abs() < 1e-6 && (bin.right.share - 2.0 / 3.0).abs() < 1e-9);
    let wrong = &known.mistaken[0];
    assert_eq!(
        (wrong.leader.as_str(), wrong.was.as_str(), wrong.n),
        ("pulley-slips", "belt-loose", 3)
    );
}

#[test]
fn somebody_who_is_not_listed_is_counted_and_many_of_them_are_missed() {
    let nobody = Lesson {
        cause: Some("own/bent rod".into()),
        first: None,
        ..lesson(10.0, 60.0, 0.5, true)
    };
    let mut cases = vec![lesson(10.0, 60.0, 0.8, true); 16];
    cases.extend(vec![nobody; 4]);
    let known = advice(&sums(&cases));
    assert_eq!((known.cases, known.someone_else), (16, 4));
    assert!(known.missing);
}

#[test]
fn a_case_left_out_costs_what_it_cost_and_judges_no_advice() {
    let out = Lesson {
        left_out: true,
        ..lesson(30.0, 60.0, 0.8, true)
    };
    let sums = sums(&[out]);
    assert_eq!(advice(&sums).cases, 0);
    assert_eq!(sums.n(Counted::Ended, "fixed-and-verified"), 1);
    assert_eq!(Loss::of(&sums).minutes, 30.0);
}

#[test]
fn losses_are_priced_at_the_rates_of_the_shop() {
    let workshop = Workshop {
        money_per_hour: 30.0,
        money_per_kg: 25.0,
        money_per_machine_hour: 1.5,
        ..Workshop::default()
    };
    let month = sums(&[lesson(20.0, 60.0, 0.8, true), lesson(10.0, 60.0, 0.8, true)]);
    let costs = costs(&[("2026-11".to_string(), month)].into(), &workshop);
    let priced = costs[0].priced;
    // 2 · (24 + 12) g at 25 a kilogram, 4 h at 1.50, 30 min at 30 an hour, 1 for parts.
    assert!((priced.filament - 1.8).abs() < 1e-9 && (priced.machine - 6.0).abs() < 1e-9);
    assert!((priced.work - 15.0).abs() < 1e-9 && (priced.parts - 1.0).abs() < 1e-9);
    assert!((priced.total() - 23.8).abs() < 1e-9);
}

#[test]
fn time_between_cases_lies_within_its_interval() {
    let told = pace(Exposure {
        cases: 4,
        time: 200.0,
    });
    let p = told.known().unwrap();
    assert_eq!(p.between, 50.0);
    // Gamma(4): 5 % at 1.366, 95 % at 7.754.
    assert!((p.low - 200.0 / 7.754).abs() < 0.02 && (p.high - 200.0 / 1.366).abs() < 0.2);
    assert_eq!(
        pace(Exposure {
            cases: 1,
            time: 90.0
        }),
        Told::TooFew { n: 1, least: 2 }
    );
}
