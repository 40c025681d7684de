//! The advice is good: cheaper than a checklist, next to the optimum where that is known, and no
//! accident of the seed.

use std::num::NonZeroUsize;
use std::sync::LazyLock;
use suspect_core::knowledge::{FindingId, Knowledge};
use suspect_core::planning::Workshop;
use suspect_rehearsal::{Options, Report, run};

static K: LazyLock<Knowledge> = LazyLock::new(Knowledge::shipped);

fn rehearse(cases: usize, seed: u64, perturb: f64, networks: usize, threads: usize) -> Report {
    let options = Options {
        cases,
        seed,
        perturb,
        networks,
        threads: NonZeroUsize::new(threads).unwrap(),
    };
    run(&K, &Workshop::default(), &options)
}

fn share(report: &Report) -> f64 {
    report.strategy("advice").unwrap().mean_minutes
        / report.strategy("checklist").unwrap().mean_minutes
}

#[test]
fn the_advice_beats_the_checklist_by_two_fifths_and_misses_the_optimum_by_a_hundredth() {
    let report = rehearse(150, 3, 0.0, 60, 2);
    assert!(share(&report) <= 0.6, "{report:?}");
    let small = report.small_networks;
    assert_eq!(small.count, 60);
    assert!(
        (1.0 - 1e-9..=1.01).contains(&small.mean_ratio) && small.worst_ratio >= small.mean_ratio,
        "{small:?}"
    );
    let advice = report.strategy("advice").unwrap();
    for other in ["checklist", "probability-order", "random"] {
        let other = report.strategy(other).unwrap();
        assert!(
            advice.mean_minutes < other.mean_minutes && advice.wrong_fixes < other.wrong_fixes,
            "{report:?}"
        );
    }
}

#[test]
fn where_the_world_is_not_as_the_book_says_the_advice_still_saves() {
    assert!(share(&rehearse(150, 5, 0.5, 0, 2)) <= 0.7);
}

#[test]
fn the_same_seed_gives_the_same_report_on_any_number_of_threads() {
    let one = rehearse(12, 9, 0.2, 4, 1);
    assert_eq!(one, rehearse(12, 9, 0.2, 4, 3));
    assert_ne!(one, rehearse(12, 10, 0.2, 4, 1));
}

#[test]
fn a_perturbed_world_still_holds_probabilities() {
    let mut sign = 1.0;
    let world = K.perturbed(|| {
        sign = -sign;
        0.8 * sign
    });
    for f in (0..world.findings.len() as u16).map(FindingId) {
        for c in world.cause_ids() {
            let sum: f64 = world.table.states(c, f).iter().sum();
            assert!((sum - 1.0).abs() < 1e-9 && world.table.states(c, f).iter().all(|p| *p > 0.0));
        }
    }
    let moved = |c| world.table.states(c, FindingId(0)) != K.table.states(c, FindingId(0));
    assert!(K.cause_ids().any(moved));
}
