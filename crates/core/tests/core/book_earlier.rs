//! What was done on an earlier day and is told only now.

use crate::book::{BEGUN, K, log};
use proptest::prelude::*;
use suspect_core::book::Book;
use suspect_core::machine::{
    Calibration, Change, Changing, Described, MachineEntry, MachineEvent, accept, in_time,
};
use suspect_core::refusal::Refusal;
use time::Duration;

fn earlier(day: i64, what: MachineEvent) -> MachineEvent {
    let at = BEGUN + Duration::days(day);
    let what = Box::new(what);
    MachineEvent::Earlier { at, what }
}

fn changed(name: &str, after: f64) -> MachineEvent {
    MachineEvent::Changed(Change {
        what: Changing::Setting,
        name: name.into(),
        before: String::new(),
        after: format!("{after} mm"),
    })
}

fn calibrated(value: f64) -> MachineEvent {
    MachineEvent::Calibrated(Calibration {
        nozzle_mm: 0.4,
        material: "petg".into(),
        values: [("retract_mm".to_string(), value)].into(),
        piece: String::new(),
    })
}

fn good(note: &str) -> MachineEvent {
    MachineEvent::Good {
        case: String::new(),
        note: note.into(),
    }
}

/// Things done on a day, with the hours the counter showed then.
fn deed() -> impl Strategy<Value = (i64, MachineEvent)> {
    (1i64..100, 0usize..4, 0u8..9).prop_map(|(day, what, value)| {
        let hours = 10.0 * day as f64;
        let event = match what {
            0 => MachineEvent::fitted("nozzle", hours),
            1 => changed("Retraction", f64::from(value)),
            2 => calibrated(f64::from(value)),
            _ => good(&format!("print {value}")),
        };
        (day, event)
    })
}

proptest! {
    #[test]
    fn told_late_or_in_time_the_book_says_the_same(
        deeds in prop::collection::btree_map(1i64..100, deed(), 0..8),
    ) {
        // One deed a day, so that their order is told by their days.
        let deeds: Vec<(i64, MachineEvent)> = deeds
            .into_iter()
            .map(|(day, (_, event))| match event {
                MachineEvent::Fitted { part, .. } => {
                    (day, MachineEvent::fitted(&part, 10.0 * day as f64))
                }
                other => (day, other),
            })
            .collect();
        let counter = |day: i64| (day, MachineEvent::counter(10.0 * day as f64));
        let mut in_time = vec![counter(0)];
        in_time.extend(deeds.clone());
        in_time.push(counter(100));
        let mut late = vec![counter(0), counter(100)];
        late.extend(deeds.into_iter().rev().map(|(day, what)| (101, earlier(day, what))));
        let (in_time, late) = (Book::of(&log(in_time)), Book::of(&log(late)));
        prop_assert_eq!(in_time.fitted, late.fitted);
        prop_assert_eq!(in_time.changes, late.changes);
        prop_assert_eq!(in_time.calibrated, late.calibrated);
        prop_assert_eq!(in_time.good, late.good);
        prop_assert_eq!(in_time.readings.last(), late.readings.last());
    }
}

#[test]
fn hours_on_a_day_lie_between_the_readings_around_it() {
    let read = |day: i64, hours: f64| (day, MachineEvent::counter(hours));
    let book = Book::of(&log([read(0, 100.0), read(10, 200.0)]));
    let on = |day: i64| book.total_on(BEGUN + Duration::days(day));
    assert_eq!(on(4), Some(140.0));
    assert_eq!(on(-5), Some(100.0));
    assert_eq!(on(12), Some(200.0));
}

#[test]
fn a_day_to_come_hours_beyond_the_counter_and_what_has_no_other_day_are_refused() {
    let machine = Described {
        name: "Heron".into(),
        ..Described::default()
    };
    let counter: Vec<MachineEntry> = log([(0, MachineEvent::counter(300.0))]);
    let taken = |event: &MachineEvent| accept(&K, Some((&machine, false)), &counter, event);
    let late = |day: i64, what: MachineEvent| in_time(&earlier(day, what), BEGUN);
    assert!(late(-1, good("")).is_ok());
    assert!(matches!(late(1, good("")), Err(Refusal::Invalid { field, .. }) if field == "on"));
    assert!(late(-30_000, good("")).is_err());

    assert!(taken(&earlier(-1, MachineEvent::fitted("nozzle", 300.0))).is_ok());
    assert!(taken(&earlier(-1, MachineEvent::fitted("nozzle", 301.0))).is_err());
    assert!(taken(&earlier(-1, MachineEvent::fitted("wings", 30.0))).is_err());
    assert!(taken(&earlier(-1, MachineEvent::counter(30.0))).is_err());
    assert!(taken(&earlier(-1, earlier(-2, good("")))).is_err());
}
