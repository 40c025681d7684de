//! Learning from outcomes: worked examples whole, and what must hold whatever was recorded.

use proptest::prelude::*;
use serde_json::{Value, json};
use suspect_core::learning::hold::{Holding, Watched};
use suspect_core::learning::proof::{Strikes, exposure, most_silence, still_there};
use suspect_core::learning::rates::{Cell, Rates, credit};
use suspect_core::learning::wear::Life;
use suspect_core::learning::{calibration, cures};
use suspect_core::lessons::rule::answer;

/// Examples worked by hand.
const CASES: &str = include_str!("learning-cases.json");

fn near(want: &Value, got: &Value) -> bool {
    match (want, got) {
        (Value::Object(a), Value::Object(b)) => {
            a.len() == b.len() && a.iter().all(|(k, a)| b.get(k).is_some_and(|b| near(a, b)))
        }
        (Value::Array(a), Value::Array(b)) => {
            a.len() == b.len() && a.iter().zip(b).all(|(a, b)| near(a, b))
        }
        (Value::Number(a), Value::Number(b)) => {
            (a.as_f64().unwrap() - b.as_f64().unwrap()).abs() < 1e-6
        }
        (a, b) => a == b,
    }
}

#[test]
fn every_worked_example_comes_out() {
    let cases: Value = serde_json::from_str(CASES).unwrap();
    let examples = cases["examples"].as_array().unwrap();
    assert!(examples.len() >= 13);
    for e in examples {
        let got = answer(e["rule"].as_str().unwrap(), &e["in"]).unwrap();
        assert!(near(&e["out"], &got), "{}: {got}", e["name"]);
    }
}

/// Rules that no worked example covers.
#[test]
fn the_other_rules_answer_as_reckoned_by_hand() {
    let four = json!({ "strikes": { "k": 4, "n": 5 }, "after": [1, 6] });
    let less = answer("improved", &four).unwrap()["struck_less"].as_f64();
    assert!((less.unwrap() - 0.9545).abs() < 5e-5, "{less:?}");
    // Two pairs that gain ln 2 and lose ln 4, many times over.
    let rests = json!({ "pairs": [[[0.4, 0.2], 10], [[0.1, 0.4], 40]] });
    let rests = answer("rests", &rests).unwrap();
    assert_eq!(rests["rests"], json!(true));
    assert!((rests["sum"].as_f64().unwrap() - (10.0 - 80.0) * 2f64.ln()).abs() < 1e-9);
    let spent = answer("spent", &json!({ "pairs": [[10, 20], [10, 20], [10, 20]] })).unwrap();
    assert_eq!(spent["ratio"], json!([0.5, 0.5, 0.5]));
    // Nothing more is printed: no stock is needed.
    let stock = json!({ "a": 3, "b": 2e6, "machines": [[100, 0]], "weeks": 3 });
    assert_eq!(answer("stock", &stock).unwrap()["reorder_at"], json!(0));
}

#[test]
fn clean_prints_needed_are_those_of_the_table() {
    let needed = |k, n, clean_before| {
        let strikes = Strikes {
            k,
            n,
            clean_before,
            every: false,
        };
        strikes.share().prints_needed(0.9)
    };
    for (n, row) in [
        (1, &[19][..]),
        (2, &[38, 5]),
        (3, &[57, 9, 3]),
        (4, &[76, 12, 5, 3]),
        (6, &[114, 19, 9, 5, 3, 1]),
        (8, &[152, 26, 12, 8, 5, 4]),
    ] {
        for (k, want) in (1..).zip(row) {
            assert_eq!(needed(k, n, None), *want, "{k} of {n}");
        }
    }
    for (clean, row) in [(2, [12, 7, 5]), (4, [19, 11, 8]), (9, [37, 19, 13])] {
        for (k, want) in (1..).zip(row) {
            assert_eq!(
                needed(k, k, Some(clean)),
                want,
                "{k} after {clean} clean ones"
            );
        }
    }
}

#[test]
fn what_makes_no_sense_is_named() {
    let refused = |rule: &str, given: Value| answer(rule, &given).unwrap_err();
    let proof = |k: f64, n: f64| json!({ "strikes": { "k": k, "n": n } });
    assert!(refused("proof", proof(-1.0, 5.0)).contains("strikes.k"));
    assert!(refused("proof", proof(6.0, 5.0)).contains("6 strikes in 5 prints"));
    assert!(refused("proof", proof(1.5, 5.0)).contains("whole"));
    assert!(refused("prof", json!({})).contains("proof"));
    assert!(refused("proof", json!({ "strikes": 3 })).contains("strikes"));
    assert!(refused("calibration", json!({ "leaders": [] })).contains("leaders"));
    let book = json!({ "book": { "a": -1 }, "machine": "m", "kind": "k", "cases": [] });
    assert!(refused("rates", book).contains("book"));
    let clean = json!({ "strikes": { "k": 1, "n": 1 }, "clean": -1, "k": 0.5 });
    assert!(refused("clean", clean).contains("clean"));
}

/// A closed case: machine, kind, cause recorded, what it counts.
type Case = (u32, u32, usize, f64);

const BOOK: [f64; 5] = [8.0, 4.0, 2.0, 1.0, 0.0];

fn learn(cases: &[Case]) -> Rates {
    let cells: Vec<Cell> = cases
        .iter()
        .map(|(machine, kind, cause, counts)| Cell {
            machine: *machine,
            kind: *kind,
            book: &BOOK,
            recorded: vec![(*cause, *counts)],
        })
        .collect();
    Rates::learn(&cells)
}

fn cases() -> impl Strategy<Value = Vec<Case>> {
    let case = (0u32..4, 0usize..4, 0.01..1.0).prop_map(|(m, c, counts)| (m, m / 2, c, counts));
    prop::collection::vec(case, 0..60)
}

proptest! {
    #[test]
    fn the_order_of_outcomes_does_not_matter(cases in cases()) {
        let (there, mut back) = (learn(&cases), cases.clone());
        back.reverse();
        let back = learn(&back);
        for m in 0..4 {
            for c in 0..5 {
                let (a, b) = (there.factor(c, m, m / 2, false), back.factor(c, m, m / 2, false));
                prop_assert!((a - b).abs() < 1e-12);
            }
        }
    }

    #[test]
    fn no_factor_is_out_of_bounds_and_a_stop_is_never_made_less_likely(cases in cases()) {
        let rates = learn(&cases);
        for m in 0..5 {
            for c in 0..5 {
                let factor = rates.factor(c, m, m / 2, false);
                prop_assert!((0.25..=4.0).contains(&factor));
                prop_assert!(rates.factor(c, m, m / 2, true) >= 1.0);
            }
        }
    }

    #[test]
    fn cases_of_one_place_may_be_summed(cases in cases()) {
        // One cell for each machine says the same as a cell for each case.
        let cells: Vec<Cell> = (0..4)
            .map(|m| Cell {
                machine: m,
                kind: m / 2,
                book: &BOOK,
                recorded: cases
                    .iter()
                    .filter(|(machine, ..)| *machine == m)
                    .map(|(.., c, counts)| (*c, *counts))
                    .collect(),
            })
            .collect();
        let (one, all) = (learn(&cases), Rates::learn(&cells));
        for m in 0..4 {
            for c in 0..5 {
                let (a, b) = (one.factor(c, m, m / 2, false), all.factor(c, m, m / 2, false));
                prop_assert!((a - b).abs() < 1e-12);
            }
        }
    }

    #[test]
    fn credit_is_a_share_and_falls_as_others_fit_better(p in 0.01..0.98f64, q in 0.0..0.9f64) {
        let other = (1.0 - p) * q;
        let (alone, beside) = (credit(p, []), credit(p, [other]));
        prop_assert!(beside > 0.0 && beside <= alone && alone <= 1.0);
        prop_assert_eq!(credit(0.0, [other]), 0.0);
    }

    #[test]
    fn more_clean_prints_always_prove_more(k in 1u32..8, more in 0u32..8, m in 0u32..40) {
        let share = Strikes { k, n: k + more, ..Strikes::default() }.share();
        prop_assert!(share.silent(m + 1) < share.silent(m));
        let needed = share.prints_needed(0.9);
        prop_assert!(share.silent(needed) <= most_silence(0.9) + 1e-12);
        prop_assert!(needed == 0 || share.silent(needed - 1) > most_silence(0.9));
        prop_assert!(still_there(share.silent(needed), 0.9) <= 0.1 + 1e-9);
    }

    #[test]
    fn a_shorter_print_never_counts_for_more(
        a in 0.1..20.0f64,
        b in 0.1..20.0f64,
        seen in 1u32..4,
    ) {
        let (less, more) = (a.min(b), a.max(b));
        prop_assert!(exposure(less, 3.0, seen) <= exposure(more, 3.0, seen));
        prop_assert!((0.0..=1.0).contains(&exposure(a, b, seen)));
    }

    #[test]
    fn a_return_lowers_the_chance_of_holding(day in 1.0..90.0f64, held in 0usize..20) {
        let yes = Watched { day: 90.0, returned: false };
        let held = Holding::default().and(std::iter::repeat_n(yes, held));
        let came_back = held.and([Watched { day, returned: true }]).holds(90.0);
        prop_assert!(came_back.chance < held.holds(90.0).chance);
        prop_assert!(came_back.low < came_back.chance && came_back.chance < came_back.high);
    }

    #[test]
    fn learned_links_stay_chances(p in 0.01..0.99f64, n in 0.0..500.0f64, m in 0.0..500.0f64) {
        let moved = cures::link(&[p, 1.0 - p], &[n, m]);
        prop_assert!((moved.iter().sum::<f64>() - 1.0).abs() < 1e-12);
        prop_assert!(moved.iter().all(|p| *p >= 0.005 - 1e-12));
    }

    #[test]
    fn an_older_part_is_never_less_worn(a in 1.0..5000.0f64, b in 1.0..5000.0f64) {
        let life = Life::of(800.0, (&[600.0], &[300.0]), (&[], &[]));
        let (young, old) = (a.min(b), a.max(b));
        prop_assert!(life.worn(young) <= life.worn(old));
        prop_assert!(life.factor(Some(young)) <= life.factor(Some(old)) + 1e-12);
        prop_assert!(life.due(young, 0.5) >= young);
    }
}

#[test]
fn learning_rests_when_it_scores_worse_and_wakes_when_it_scores_better() {
    let worse = vec![(0.2, 0.25); 50];
    assert!(calibration::rests(&worse, false).1);
    assert!(!calibration::rests(&worse[..49], false).1, "too few");
    let better = vec![(0.25, 0.2); 50];
    assert!(!calibration::rests(&better, true).1);
}
