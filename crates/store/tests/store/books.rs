//! Books of machines kept beside their logs; filament and parts used up by what is written
//! elsewhere.

use crate::kit::{NOW, described, floor, touch};
use suspect_core::book::Book;
use suspect_core::case::Event;
use suspect_core::knowledge::TryResult;
use suspect_core::machine::{Described, MachineEvent, QuirkNow};
use suspect_core::shelf::{Spool, SpoolEvent, Stock, StockEvent};
use suspect_store::{Stamp, Store, StoreError, Uuid};

fn fixed(fix: &str) -> Event {
    Event::Fixed {
        fix: fix.into(),
        minutes: 10.0,
        money: 0.0,
        before: None,
        after: None,
        together: false,
    }
}

async fn stock(f: &crate::kit::Floor, pieces: u32) -> Uuid {
    let id = Uuid::now_v7();
    let events = [
        StockEvent::Described {
            name: "Nozzle".into(),
            part: "nozzle".into(),
            fits: String::new(),
            reorder_at: None,
            money: None,
        },
        StockEvent::Came { pieces },
    ];
    let written = f
        .store()
        .append_to_thing::<Stock>(&f.k, id, 0, &events, touch());
    written.await.unwrap();
    id
}

async fn pieces(f: &crate::kit::Floor, id: Uuid) -> u32 {
    f.store().thing::<Stock>(id).await.unwrap().0.is.pieces
}

#[tokio::test]
async fn a_kept_book_is_the_sum_of_its_log_and_is_made_anew_when_it_is_missing() {
    let f = floor().await;
    let write = async |event: &MachineEvent| {
        let written = f
            .store()
            .append_to_machine(&f.k, f.teal, None, event, touch());
        written.await.unwrap();
    };
    write(&MachineEvent::counter(300.0)).await;
    write(&MachineEvent::fitted("nozzle", 320.0)).await;
    let log = f.store().machine_log(f.teal).await.unwrap();
    let kept = f.store().book(f.teal).await.unwrap();
    assert_eq!(kept, Book::of(&log));
    f.db.force("DELETE FROM machine_book").await;
    assert_eq!(
        f.store().book(f.teal).await.unwrap(),
        kept,
        "read from the log"
    );
    assert_eq!(f.store().rebuild_books().await.unwrap(), 1);
    assert_eq!(f.store().rebuild_books().await.unwrap(), 0);
    let books = f.store().books(&f.k).await.unwrap();
    assert_eq!(*books.of(f.teal).unwrap().book, kept);
    f.db.remove().await;
}

#[tokio::test]
async fn a_book_that_somebody_else_wrote_is_read_again() {
    let f = floor().await;
    let other = Store::connect(&f.db.url).await.unwrap();
    for hours in [100.0, 110.0, 120.0] {
        let read = MachineEvent::counter(hours);
        let written = other.append_to_machine(&f.k, f.teal, None, &read, touch());
        written.await.unwrap();
        let books = f.store().books(&f.k).await.unwrap();
        assert_eq!(books.of(f.teal).unwrap().book.total(), Some(hours));
    }
    let backwards = MachineEvent::counter(5.0);
    let back = other.append_to_machine(&f.k, f.teal, None, &backwards, touch());
    assert!(back.await.is_err());
    let books = f.store().books(&f.k).await.unwrap();
    assert_eq!(books.of(f.teal).unwrap().book.total(), Some(120.0));
    other.close().await;
    f.db.remove().await;
}

#[tokio::test]
async fn a_fix_in_a_case_fits_its_part_uses_one_up_and_taking_it_back_gives_it_back() {
    let f = floor().await;
    let nozzles = stock(&f, 2).await;
    let counted = MachineEvent::counter(700.0);
    let written = f
        .store()
        .append_to_machine(&f.k, f.teal, None, &counted, touch());
    written.await.unwrap();
    let id = f.open(f.teal).await;
    f.append(id, 2, fixed("replace-nozzle"), touch())
        .await
        .unwrap();
    let book = f.store().book(f.teal).await.unwrap();
    assert_eq!(book.fitted["nozzle"].len(), 1);
    assert_eq!(pieces(&f, nozzles).await, 1);
    f.append(id, 3, Event::Retracted { seq: 3 }, touch())
        .await
        .unwrap();
    let book = f.store().book(f.teal).await.unwrap();
    assert!(book.fitted["nozzle"].is_empty());
    assert_eq!(pieces(&f, nozzles).await, 2);
    f.db.remove().await;
}

#[tokio::test]
async fn an_empty_stock_stops_no_fix() {
    let f = floor().await;
    let nozzles = stock(&f, 0).await;
    let id = f.open(f.teal).await;
    f.append(id, 2, fixed("replace-nozzle"), touch())
        .await
        .unwrap();
    assert_eq!(pieces(&f, nozzles).await, 0);
    f.db.remove().await;
}

#[tokio::test]
async fn prints_take_from_the_spool_the_case_names_once_a_touch() {
    let f = floor().await;
    let spool = Uuid::now_v7();
    let events = [SpoolEvent::Described {
        family: "pla".into(),
        maker: String::new(),
        colour: "grey".into(),
        net_g: 100.0,
        tare_g: None,
    }];
    let written = f
        .store()
        .append_to_thing::<Spool>(&f.k, spool, 0, &events, touch());
    written.await.unwrap();
    let id = f.open(f.teal).await;
    let names = Event::Described {
        title: "Gate".into(),
        material: Some("pla".into()),
        spool: "S-1 grey PLA".into(),
        machine: Default::default(),
    };
    f.append(id, 2, names, touch()).await.unwrap();
    f.append(id, 3, fixed("raise-flow"), touch()).await.unwrap();
    let print = Event::Printed {
        result: TryResult::Better,
        minutes: 30.0,
        grams: 40.0,
        hours: None,
    };
    let once = touch();
    f.append(id, 4, print.clone(), once.clone()).await.unwrap();
    f.append(id, 4, print, once).await.unwrap();
    let left = f.store().thing::<Spool>(spool).await.unwrap().0.is.left_g;
    assert_eq!(left, 60.0);
    let found = f.store().cases_with_spool("S-1").await.unwrap();
    assert_eq!(found.iter().map(|c| c.id).collect::<Vec<_>>(), [id]);
    assert!(f.store().cases_with_spool("S-11").await.unwrap().is_empty());
    f.db.remove().await;
}

#[tokio::test]
async fn the_same_touch_writes_a_thing_once_and_two_descriptions_meet() {
    let f = floor().await;
    let (id, first) = (Uuid::now_v7(), touch());
    let named = |name: &str| {
        [StockEvent::Described {
            name: name.into(),
            part: String::new(),
            fits: String::new(),
            reorder_at: None,
            money: None,
        }]
    };
    let write = async |expected: u32, events: &[StockEvent], stamp: Stamp| {
        let written = f
            .store()
            .append_to_thing::<Stock>(&f.k, id, expected, events, stamp);
        written.await
    };
    assert_eq!(write(0, &named("Belt"), first.clone()).await.unwrap(), 1);
    assert_eq!(write(0, &named("Belt"), first).await.unwrap(), 1);
    let other = write(0, &named("Tube"), touch()).await;
    assert!(
        matches!(other, Err(StoreError::Conflict { .. })),
        "{other:?}"
    );
    // What stands on its own is written whoever wrote meanwhile.
    assert_eq!(
        write(1, &[StockEvent::Came { pieces: 2 }], touch())
            .await
            .unwrap(),
        2
    );
    assert_eq!(
        write(1, &[StockEvent::Came { pieces: 3 }], touch())
            .await
            .unwrap(),
        3
    );
    assert_eq!(pieces(&f, id).await, 5);
    let nothing = f.store().thing::<Spool>(id).await;
    assert!(
        matches!(nothing, Err(StoreError::NotFound)),
        "it is no spool"
    );
    f.db.remove().await;
}

#[tokio::test]
async fn a_quirk_moves_the_numbers_of_its_machine_and_marks_its_open_cases() {
    let f = floor().await;
    let id = Uuid::now_v7();
    let heron = Described {
        model: "Skiff 240".into(),
        ..described("Heron", &[("feed", "bowden"), ("board_age", "protected")])
    };
    f.store().add_machine(&f.k, id, &heron, NOW).await.unwrap();
    let case = f.open(id).await;
    f.store().rebuild(&f.k).await.unwrap();
    let springs = f.k.cause_id("bed-springs-weak").unwrap();
    let factor = async || {
        let learned = f.store().learned(&f.k, id, NOW).await.unwrap();
        learned.map_or(1.0, |l| l.factor(springs))
    };
    assert_eq!(factor().await, 2.5);
    let mended = MachineEvent::Quirk {
        quirk: "soft-bed-springs".into(),
        now: QuirkNow::Done,
        note: String::new(),
    };
    let written = f
        .store()
        .append_to_machine(&f.k, id, None, &mended, touch());
    written.await.unwrap();
    assert_eq!(factor().await, 1.0);
    assert_eq!(
        f.store().rebuild(&f.k).await.unwrap(),
        1,
        "the row of its open case"
    );
    let log = f.store().case_log(case).await.unwrap();
    assert_eq!(log.len(), 2, "the case itself was not touched");
    f.db.remove().await;
}
