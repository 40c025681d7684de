//! A machine's book: what its log sums up to, what is due, which suspects it moves.

use proptest::prelude::*;
use std::sync::LazyLock;
use suspect_core::book::{
    Beside, Book, PartHours, PartState, Reason, Stale, due, found, hours, since_good, states,
    told_by_case,
};
use suspect_core::case::{Entry, Event, Outcome};
use suspect_core::knowledge::{Knowledge, MachineKind};
use suspect_core::machine::{
    Calibration, Change, Changing, Described, MachineEntry, MachineEvent, accept, build,
};
use suspect_core::profile::Context;
use time::macros::datetime;
use time::{Duration, OffsetDateTime};

pub static K: LazyLock<Knowledge> = LazyLock::new(Knowledge::shipped);
pub const BEGUN: OffsetDateTime = datetime!(2026-01-01 09:00 UTC);

/// A log from events with the day of each.
pub fn log(told: impl IntoIterator<Item = (i64, MachineEvent)>) -> Vec<MachineEntry> {
    let entry = |(seq, (day, event)): (u32, (i64, MachineEvent))| MachineEntry {
        seq,
        at: BEGUN + Duration::days(day),
        by: Some("Ida".into()),
        event,
    };
    (1..).zip(told).map(entry).collect()
}

fn fitted(part: &str, hours: f64) -> MachineEvent {
    MachineEvent::fitted(part, hours)
}

fn kept(task: &str, wrong: bool) -> MachineEvent {
    MachineEvent::Kept {
        task: task.into(),
        wrong,
        note: String::new(),
    }
}

fn restarted(hours: f64) -> MachineEvent {
    MachineEvent::Counter {
        hours,
        kilograms: None,
        prints: None,
        restarted: true,
    }
}

pub fn skiff() -> (&'static MachineKind, Context) {
    let kind = K
        .machine_kinds
        .iter()
        .find(|k| k.name == "Skiff 240")
        .unwrap();
    (kind, build(&kind.profile))
}

/// Parts of a machine of the made-up kind as they stand, alone in its shop.
pub fn skiff_states(
    book: &Book,
    known: Option<&MachineKind>,
    now: OffsetDateTime,
) -> Vec<PartState> {
    let (_, context) = skiff();
    let hours = hours(&context, book);
    states(beside(&hours, book), known, &[], now)
}

/// A machine of the made-up kind among others.
pub fn beside<'a>(hours: &'a [PartHours], book: &'a Book) -> Beside<'a> {
    Beside {
        kind: "skiff 240",
        hours,
        book,
    }
}

fn hours_of(book: &Book, part: &str) -> Option<f64> {
    let (_, context) = skiff();
    let all = hours(&context, book);
    all.iter().find(|p| p.part.id == part).unwrap().hours
}

#[test]
fn hours_run_on_over_a_new_counter_and_from_each_fitting() {
    let told = [
        (0, MachineEvent::counter(100.0)),
        (10, fitted("nozzle", 140.0)),
        (20, MachineEvent::counter(190.5)),
        // The board was changed: its counter begins again.
        (30, restarted(4.0)),
        (40, MachineEvent::counter(30.0)),
    ];
    let book = Book::of(&log(told));
    assert_eq!(book.total(), Some(220.5));
    assert_eq!(hours_of(&book, "nozzle"), Some(80.5));
    assert_eq!(hours_of(&book, "tube"), Some(220.5));
    assert_eq!(hours_of(&Book::default(), "tube"), None);
}

#[test]
fn a_counter_runs_backwards_only_when_somebody_says_that_it_is_new() {
    let log = log([(0, MachineEvent::counter(500.0))]);
    let machine = Described::default();
    let accepted = |event: MachineEvent| accept(&K, Some((&machine, false)), &log, &event);
    let refused = accepted(MachineEvent::counter(3.0)).unwrap_err();
    assert!(refused.to_string().contains("backwards to 3"), "{refused}");
    assert!(accepted(restarted(3.0)).is_ok());
    assert!(accepted(MachineEvent::counter(f64::NAN)).is_err());
    assert!(accepted(fitted("nozzle", 510.0)).is_ok());
    assert!(
        accepted(fitted("rails", 510.0)).is_err(),
        "it runs on wheels or nobody knows"
    );
}

#[test]
fn the_same_part_fitted_twice_at_the_same_hours_is_one_too_many() {
    let log = log([
        (0, MachineEvent::counter(500.0)),
        (1, fitted("nozzle", 520.0)),
    ]);
    let machine = Described::default();
    let again = accept(&K, Some((&machine, false)), &log, &fitted("nozzle", 520.0));
    assert!(again.unwrap_err().to_string().contains("same hours before"));
    assert!(accept(&K, Some((&machine, false)), &log, &fitted("nozzle", 530.0)).is_ok());
}

#[test]
fn lives_end_at_the_next_fitting_and_the_first_counts_only_from_new() {
    let of = |first: f64| {
        let told = [
            (0, MachineEvent::counter(first)),
            (10, fitted("nozzle", 420.0)),
            (20, fitted("nozzle", 900.0)),
            (
                30,
                MachineEvent::Fitted {
                    part: "nozzle".into(),
                    hours: 1000.0,
                    early: true,
                },
            ),
        ];
        Book::of(&log(told)).lives("nozzle")
    };
    assert_eq!(of(2.0), (vec![420.0, 480.0], vec![100.0]));
    // Nobody knows when the nozzle of a used machine was fitted.
    assert_eq!(of(300.0), (vec![480.0], vec![100.0]));
}

#[test]
fn a_fix_of_a_case_fits_its_part_and_taking_it_back_unfits_it() {
    let fixed = Event::Fixed {
        fix: "replace-nozzle".into(),
        minutes: 18.0,
        money: 1.5,
        before: None,
        after: None,
        together: false,
    };
    let mut told = log([(0, MachineEvent::counter(700.0))]);
    let done = told_by_case("c", &[], std::slice::from_ref(&fixed));
    told.extend(log([(5, done[0].clone())]));
    let book = Book::of(&told);
    assert_eq!(hours_of(&book, "nozzle"), Some(0.0));
    let of_case = [Entry {
        seq: 4,
        at: BEGUN,
        by: None,
        event: fixed,
    }];
    let back = told_by_case("c", &of_case, &[Event::Retracted { seq: 4 }]);
    told.extend(log([(6, back[0].clone())]));
    assert_eq!(hours_of(&Book::of(&told), "nozzle"), Some(700.0));
    // What was proved in a case is good.
    let closed = Event::Resolved {
        outcome: Outcome::FixedAndVerified,
        cause: Some("nozzle-worn".into()),
        fix: None,
        note: String::new(),
    };
    let good = told_by_case("c", &[], &[closed]);
    assert!(matches!(&good[..], [MachineEvent::Good { case, .. }] if case == "c"));
}

#[test]
fn what_differs_from_the_last_good_print_is_told_once_a_setting() {
    let change = |name: &str, before: &str, after: &str| {
        MachineEvent::Changed(Change {
            what: Changing::Setting,
            name: name.into(),
            before: before.into(),
            after: after.into(),
        })
    };
    let good = MachineEvent::Good {
        case: String::new(),
        note: "Lock gate".into(),
    };
    let told = log([
        (0, change("Fan", "60 %", "80 %")),
        (1, good),
        (2, change("Retraction", "5 mm", "4 mm")),
        (3, change("Flow", "1.00", "0.95")),
        (4, change("retraction", "4 mm", "3 mm")),
        (5, change("Flow", "0.95", "1.00")),
    ]);
    let since = since_good(&Book::of(&told));
    assert_eq!(
        since.len(),
        1,
        "flow came back, the fan was changed before: {since:?}"
    );
    assert_eq!(
        (since[0].then.as_str(), since[0].now.as_str()),
        ("5 mm", "3 mm")
    );
    assert!(since_good(&Book::default()).is_empty());
    // A change that changes nothing is none.
    let same = accept(&K, None, &[], &change("Flow", "1", "1"));
    assert!(same.is_err());
}

fn task_of(book: &Book, task: &str, now: OffsetDateTime) -> (Reason, bool) {
    let (kind, context) = skiff();
    let states = skiff_states(book, Some(kind), now);
    let all = due(&K, &context, book, Some(kind), &states, now);
    let of = all.iter().find(|d| d.task.id == task).unwrap();
    (of.reason, of.now())
}

#[test]
fn a_task_falls_due_by_hours_or_days_and_is_done_when_it_is_kept() {
    let mut told = log([
        (0, MachineEvent::counter(10.0)),
        (7, MachineEvent::counter(55.0)),
    ]);
    let now = BEGUN + Duration::days(8);
    // This kind is levelled every 40 hours, not every 60.
    let (reason, over) = task_of(&Book::of(&told), "level-by-hand", now);
    assert_eq!(
        reason,
        Reason::Hours {
            since: 55.0,
            of: 40.0
        }
    );
    assert!(over);
    told.extend(log([(8, kept("level-by-hand", false))]));
    let book = Book::of(&told);
    assert!(!task_of(&book, "level-by-hand", now).1);
    let (reason, over) = task_of(&book, "level-by-hand", now + Duration::days(22));
    assert!(
        over && matches!(reason, Reason::Days { of: 21.0, .. }),
        "{reason:?}"
    );
}

#[test]
fn a_part_is_looked_at_when_it_may_be_worn_and_a_sound_look_puts_it_off() {
    let told = |hours: f64| {
        vec![
            (0, MachineEvent::counter(1.0)),
            (9, MachineEvent::counter(hours)),
        ]
    };
    let now = BEGUN + Duration::days(10);
    let early = Book::of(&log(told(200.0)));
    assert!(!task_of(&early, "liner-end", now).1);
    let mut late = told(500.0);
    assert!(task_of(&Book::of(&log(late.clone())), "liner-end", now).1);
    late.push((9, kept("liner-end", true)));
    assert!(
        task_of(&Book::of(&log(late.clone())), "liner-end", now).1,
        "it looked wrong"
    );
    late.push((9, kept("liner-end", false)));
    assert!(!task_of(&Book::of(&log(late)), "liner-end", now).1);
}

#[test]
fn a_value_is_stale_once_its_part_is_new_or_a_year_went_by() {
    let value = |material: &str, id: &str, value: f64| {
        MachineEvent::Calibrated(Calibration {
            nozzle_mm: 0.4,
            material: material.into(),
            values: [(id.to_string(), value)].into(),
            piece: "the quay".into(),
        })
    };
    let told = log([
        (0, MachineEvent::counter(1.0)),
        (1, value("petg", "calibrated_flow_ratio", 0.94)),
        (2, value("petg", "extruder_steps", 93.0)),
        (3, value("petg", "calibrated_flow_ratio", 0.95)),
        (9, fitted("nozzle", 50.0)),
    ]);
    let book = Book::of(&told);
    let all = found(&book, BEGUN + Duration::days(10));
    assert_eq!(all.len(), 2);
    assert_eq!(
        (all[0].value, all[0].stale.clone()),
        (0.95, Some(Stale::Part("nozzle")))
    );
    assert_eq!(all[1].stale, None);
    let later = found(&book, BEGUN + Duration::days(500));
    assert_eq!(later[1].stale, Some(Stale::Old));
    for (odd, field) in [
        (value("wood", "nozzle_c", 200.0), "material"),
        (value("pla", "nozzle_c", 900.0), "nozzle temperature"),
        (value("pla", "colour", 3.0), "colour"),
    ] {
        let refused = accept(&K, None, &[], &odd).unwrap_err();
        assert!(refused.to_string().contains(field), "{refused}");
    }
}

fn any_event() -> impl Strategy<Value = MachineEvent> {
    prop_oneof![
        (0u32..5000).prop_map(|hours| MachineEvent::counter(f64::from(hours))),
        (0u32..500).prop_map(|hours| restarted(f64::from(hours))),
        (0u32..5000).prop_map(|hours| fitted("nozzle", f64::from(hours))),
        Just(kept("nozzle-tip", false)),
        Just(kept("wheels", true)),
        Just(MachineEvent::Noted { text: "x".into() }),
    ]
}

proptest! {
    /// Summing up entry by entry is summing up the log, and a book survives being written down.
    #[test]
    fn a_book_follows_its_log(told in prop::collection::vec((0i64..400, any_event()), 0..40)) {
        let told = log(told);
        let mut book = Book::default();
        for entry in &told {
            book.take(entry);
        }
        prop_assert_eq!(&book, &Book::of(&told));
        let json = serde_json::to_string(&book).unwrap();
        prop_assert_eq!(&serde_json::from_str::<Book>(&json).unwrap(), &book);
    }

    /// Whatever ran, a factor stays within its bounds, chances within theirs, and what is left of a
    /// part is never less than nothing.
    #[test]
    fn wear_stays_within_bounds(hours in 0.0..50_000.0_f64, part_hours in 0.0..1.0_f64) {
        let (kind, _) = skiff();
        let book = Book::of(&log([
            (0, MachineEvent::counter(hours * part_hours)),
            (1, fitted("nozzle", hours * part_hours)),
            (2, MachineEvent::counter(hours)),
        ]));
        let now = BEGUN + Duration::days(3);
        for state in skiff_states(&book, Some(kind), now) {
            prop_assert!((0.25..=4.0).contains(&state.factor));
            prop_assert!(state.worn.is_none_or(|w| (0.0..=1.0).contains(&w)));
            prop_assert!(state.left().is_none_or(|l| l.iter().all(|h| *h >= 0.0)));
        }
    }
}
