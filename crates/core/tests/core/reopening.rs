//! A trouble that comes back: its cure counts no more, and the case says which fix held.

use std::sync::LazyLock;
use suspect_core::case::{CaseState, Event, Outcome, Status, replay};
use suspect_core::evidence::Evidence;
use suspect_core::knowledge::{Knowledge, TryResult};
use suspect_core::planning::{Out, Workshop};
use suspect_core::ranking::posterior;
use suspect_core::testing::{events, log, opened, resolved};

static K: LazyLock<Knowledge> = LazyLock::new(Knowledge::shipped);

fn told(line: &str, more: Vec<Event>) -> CaseState {
    let mut all = vec![opened()];
    all.extend(events(line));
    all.extend(more);
    replay(&K, &log(&all))
}

fn came_back() -> Event {
    Event::Reopened {
        reason: "Two prints later it was back".into(),
        after_days: None,
    }
}

fn closed_by(fix: &str) -> Event {
    match resolved(Outcome::BelievedFixed, None, "") {
        Event::Resolved {
            outcome,
            cause,
            note,
            ..
        } => Event::Resolved {
            outcome,
            cause,
            fix: Some(fix.into()),
            note,
        },
        other => other,
    }
}

fn involved(case: &CaseState, cause: &str) -> f64 {
    let evidence = Evidence::of(&K, &case.facts);
    posterior(&K, &evidence, true).involved()[K.cause_id(cause).unwrap().at()]
}

fn held_before(case: &CaseState) -> Option<String> {
    let finding = K.finding_id("held-before").unwrap();
    let said = case.facts.findings.get(&finding)?;
    Some(said.answer.id(&K, finding).into_owned())
}

#[test]
fn a_cure_that_came_undone_counts_no_more_and_the_case_says_which() {
    let line = "every-print layer-step=present pulley-mark/slips +tighten-pulley print>cured";
    let before = told(line, vec![closed_by("tighten-pulley")]);
    let after = told(line, vec![closed_by("tighten-pulley"), came_back()]);
    assert_eq!(after.status, Status::Open);
    assert_eq!(after.undone, K.fix_id("tighten-pulley"));
    assert_eq!(held_before(&after).as_deref(), Some("held-then-returned"));
    let tried = after.facts.tried[0];
    assert!(tried.came_undone && tried.result == TryResult::Cured);
    assert_eq!(tried.counts_as(), TryResult::Better);
    assert!(involved(&after, "pulley-slips") < involved(&before, "pulley-slips") - 0.1);
    let out = Out::of(&K, &after.facts, &Workshop::default());
    assert!(!out.fixes[tried.fix.at()], "it may be advised again");
}

#[test]
fn what_lets_a_fix_come_undone_rises() {
    let line =
        "every-print filament-notched=present fades-out=present +trim-and-reload print>cured";
    let before = told(line, vec![]);
    let after = told(line, vec![came_back()]);
    let upstream = ["spool-tangle", "heat-creep", "partial-clog"];
    let all = |case: &CaseState| upstream.map(|c| involved(case, c)).iter().sum::<f64>();
    assert!(
        all(&after) > all(&before),
        "{} {}",
        all(&before),
        all(&after)
    );
    assert!(involved(&after, "ground-out") < involved(&before, "ground-out"));
}

#[test]
fn a_check_that_cured_says_nothing_once_the_trouble_is_back() {
    let line = "every-print came-loose=present clean-plate/cured print>cured";
    let after = told(line, vec![came_back()]);
    let check = K.finding_id("clean-plate").unwrap();
    assert!(!after.facts.findings.contains_key(&check));
    assert_eq!(after.undone, K.fix_id("wash-plate"));
    assert_eq!(held_before(&after).as_deref(), Some("held-then-returned"));
    let before = told(line, vec![]);
    assert!(involved(&after, "plate-dirty") < involved(&before, "plate-dirty"));
}

#[test]
fn a_case_closed_without_any_fix_claims_none_when_it_is_opened_again() {
    let closed = resolved(Outcome::Unsolved, None, "");
    let after = told("layer-step=present", vec![closed, came_back()]);
    assert_eq!((after.undone, held_before(&after)), (None, None));
}

#[test]
fn taking_the_reopening_back_restores_the_cure() {
    let line = "every-print layer-step=present pulley-mark/slips +tighten-pulley print>cured";
    let before = told(line, vec![closed_by("tighten-pulley")]);
    let taken_back = Event::Retracted { seq: 8 };
    let again = told(
        line,
        vec![closed_by("tighten-pulley"), came_back(), taken_back],
    );
    assert_eq!((&before.facts, before.undone), (&again.facts, again.undone));
}
