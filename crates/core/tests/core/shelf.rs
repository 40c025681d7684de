//! Spools and spare parts: what is left, what wants drying, when to order.

use crate::book::beside;
use proptest::prelude::*;
use std::sync::LazyLock;
use suspect_core::book::{Book, hours};
use suspect_core::knowledge::Knowledge;
use suspect_core::machine::{MachineEntry, MachineEvent, build};
use suspect_core::shelf::{
    Shelved, Shelving, Spool, SpoolEvent, Stock, StockEvent, drying_hint, shopping,
};
use time::macros::datetime;
use time::{Duration, OffsetDateTime};

static K: LazyLock<Knowledge> = LazyLock::new(Knowledge::shipped);
const BEGUN: OffsetDateTime = datetime!(2026-03-01 09:00 UTC);

fn described(tare_g: Option<f64>) -> SpoolEvent {
    SpoolEvent::Described {
        family: "petg".into(),
        maker: "Millrace".into(),
        colour: "green".into(),
        net_g: 1000.0,
        tare_g,
    }
}

/// A thing after events of given days, each accepted.
fn after<T: Shelved>(events: impl IntoIterator<Item = (i64, T::Event)>) -> T {
    let mut thing = T::default();
    for (seq, (day, event)) in (1..).zip(events) {
        thing.accept(&K, &event, seq == 1).unwrap();
        thing.take(&Shelving {
            seq,
            at: BEGUN + Duration::days(day),
            by: None,
            event,
        });
    }
    thing
}

fn used(grams: f64) -> SpoolEvent {
    SpoolEvent::Used {
        grams,
        of: String::new(),
    }
}

#[test]
fn what_is_left_follows_prints_and_the_scale_corrects_it() {
    let spool: Spool = after([
        (0, described(Some(200.0))),
        (1, used(310.0)),
        (2, SpoolEvent::Weighed { gross_g: 850.0 }),
        (3, used(580.0)),
    ]);
    assert_eq!(spool.left_g, 70.0);
    assert!(spool.nearly_out() && spool.enough_for(70.0) && !spool.enough_for(71.0));
    let lighter = spool.accept(&K, &SpoolEvent::Weighed { gross_g: 150.0 }, false);
    assert!(lighter.unwrap_err().to_string().contains("200 g"));
    // What was used before somebody corrected its weight stays used.
    let corrected: Spool = after([
        (0, described(None)),
        (1, used(100.0)),
        (2, {
            let SpoolEvent::Described {
                family,
                maker,
                colour,
                tare_g,
                ..
            } = described(None)
            else {
                unreachable!()
            };
            SpoolEvent::Described {
                family,
                maker,
                colour,
                tare_g,
                net_g: 750.0,
            }
        }),
    ]);
    assert_eq!(corrected.left_g, 650.0);
    let untold = corrected.accept(&K, &SpoolEvent::Weighed { gross_g: 600.0 }, false);
    assert!(untold.unwrap_err().to_string().contains("empty spool"));
}

#[test]
fn a_used_up_spool_is_used_again_only_when_somebody_says_how_much_was_found() {
    let mut spool: Spool = after([(0, described(None)), (1, SpoolEvent::Finished)]);
    assert_eq!(spool.left_g, 0.0);
    assert!(
        spool
            .accept(&K, &used(5.0), false)
            .unwrap_err()
            .to_string()
            .contains("how much")
    );
    let found = SpoolEvent::FoundAgain { grams: 120.0 };
    spool.accept(&K, &found, false).unwrap();
    spool.take(&Shelving {
        seq: 3,
        at: BEGUN,
        by: None,
        event: found.clone(),
    });
    assert!(spool.accept(&K, &used(5.0), false).is_ok());
    assert!(spool.accept(&K, &found, false).is_err(), "it is in use");
}

#[test]
fn thirsty_filament_wants_drying_sooner_and_a_box_keeps_it_longer() {
    let wants = |kept: &str, days: i64| {
        let spool: Spool = after([
            (0, described(None)),
            (0, SpoolEvent::Opened),
            (0, SpoolEvent::Kept { how: kept.into() }),
        ]);
        spool.wants_drying(BEGUN + Duration::days(days))
    };
    assert!(!wants("open", 6) && wants("open", 7));
    assert!(!wants("bag", 27) && wants("bag", 28));
    assert!(!wants("dryer", 400));
    let sealed: Spool = after([(0, described(None))]);
    assert!(!sealed.wants_drying(BEGUN + Duration::days(900)));
    assert!(drying_hint(&K, "petg").unwrap().contains("°C"));
}

#[test]
fn a_spool_remembers_the_machines_it_was_on() {
    let put = |machine: &str| SpoolEvent::Put {
        machine: machine.into(),
    };
    let told = [
        (0, described(None)),
        (1, put("a")),
        (2, put("b")),
        (3, put("a")),
        (4, put("")),
    ];
    let spool: Spool = after(told);
    assert_eq!(spool.was_on, ["a", "b"]);
    assert!(spool.machine.is_empty() && spool.opened.is_some());
}

fn nozzles(reorder_at: Option<u32>, pieces: u32) -> Stock {
    after([
        (
            0,
            StockEvent::Described {
                name: "Brass nozzle 0.4".into(),
                part: "nozzle".into(),
                fits: String::new(),
                reorder_at,
                money: None,
            },
        ),
        (0, StockEvent::Came { pieces }),
    ])
}

fn running(hours: f64, a_week: f64) -> Book {
    let read = |(seq, day, hours): (u32, i64, f64)| MachineEntry {
        seq,
        at: BEGUN + Duration::days(day),
        by: None,
        event: MachineEvent::counter(hours),
    };
    Book::of(&[(1, 0, hours - 8.0 * a_week), (2, 56, hours)].map(read))
}

#[test]
fn the_mark_follows_from_the_hours_of_all_machines_until_somebody_sets_one() {
    let context = build(&Default::default());
    let books: Vec<Book> = [600.0, 620.0, 580.0, 640.0]
        .map(|h| running(h, 30.0))
        .to_vec();
    let hours: Vec<_> = books.iter().map(|b| hours(&context, b)).collect();
    let machines = hours.iter().zip(&books);
    let machines: Vec<_> = machines.map(|(h, b)| beside(h, b)).collect();
    let worn = shopping(&nozzles(None, 0), &machines, &K.machine_kinds);
    assert!(
        worn.by_wear && worn.machines == 4 && worn.at >= 2,
        "{worn:?}"
    );
    assert_eq!(worn.order, worn.at + 1);
    let said = shopping(&nozzles(Some(1), 5), &machines, &K.machine_kinds);
    assert_eq!((said.at, said.by_wear, said.order), (1, false, 0));
    // Machines that stand still need none.
    let still = running(600.0, 0.0);
    let ran = suspect_core::book::hours(&context, &still);
    let idle = shopping(&nozzles(None, 1), &[beside(&ran, &still)], &[]);
    assert_eq!(idle.order, 0);
}

#[test]
fn no_more_is_used_than_there_is() {
    let stock = nozzles(None, 2);
    let take = |pieces| StockEvent::Used {
        pieces,
        of: String::new(),
    };
    assert!(stock.accept(&K, &take(2), false).is_ok());
    assert!(
        stock
            .accept(&K, &take(3), false)
            .unwrap_err()
            .to_string()
            .contains("only 2")
    );
}

proptest! {
    /// Whatever is used and weighed, what is left is never less than nothing.
    #[test]
    fn never_less_than_nothing(told in prop::collection::vec((any::<bool>(), 0u32..2000), 0..30)) {
        let events = told.into_iter().map(|(weighed, g)| match weighed {
            true => (1, SpoolEvent::Weighed { gross_g: 200.0 + f64::from(g) }),
            false => (1, used(f64::from(g))),
        });
        let all = [(0, described(Some(200.0)))].into_iter().chain(events);
        let spool: Spool = after(all);
        prop_assert!(spool.left_g >= 0.0);
        let json = serde_json::to_string(&spool).unwrap();
        prop_assert_eq!(serde_json::from_str::<Spool>(&json).unwrap(), spool);
    }
}
