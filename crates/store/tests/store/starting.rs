//! Starting over any database, rows made anew, and who waits for whom.

use crate::kit::{floor, touch};
use suspect_core::case::What;
use suspect_core::testing::{noted, observed};
use suspect_store::changes::Change;
use suspect_store::lists::SHOWN_ON_THE_FLOOR;
use suspect_store::{DemoState, Store, StoreError};

#[tokio::test]
async fn rows_that_other_knowledge_made_are_rebuilt_and_locks_hold_again() {
    let f = floor().await;
    let (id, other) = (f.open(f.teal).await, f.open(f.teal).await);
    f.append(id, 2, observed("burnt-smell", "present"), touch())
        .await
        .unwrap();
    // As a program wrote it that knew no such stop.
    f.db.force("UPDATE case_summary SET stops = '', next_step = 'Print it', stamp = '1/old'")
        .await;
    assert!(
        f.store()
            .lock_of(&f.k, f.teal, other)
            .await
            .unwrap()
            .is_none()
    );
    let mut heard = f.store().changes().await.unwrap();
    assert_eq!(f.store().rebuild(&f.k).await.unwrap(), 2);
    assert!(
        f.store()
            .lock_of(&f.k, f.teal, other)
            .await
            .unwrap()
            .is_some()
    );
    heard.next().await.expect("pages hear of it");
    let row = f.store().case_row(id).await.unwrap();
    let next = What::parse(&f.k, &row.next_step.unwrap());
    assert!(matches!(next, Some(What::ClearStop(_))));
    assert_eq!(
        f.store().rebuild(&f.k).await.unwrap(),
        0,
        "and once is enough"
    );
    drop(heard);
    f.db.remove().await;
}

#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn settings_and_entries_written_at_once_leave_no_row_behind() {
    let f = floor().await;
    let id = f.open(f.teal).await;
    let (store, k) = (f.store().clone(), f.k.clone());
    let writing = tokio::spawn(async move {
        for seq in 2..22 {
            store
                .append(&k, id, seq, &[noted("again")], touch())
                .await
                .unwrap();
        }
    });
    let mut workshop = f.store().workshop().await.unwrap().0;
    for seq in 0..6 {
        workshop.money_per_hour += 1.0;
        f.store()
            .set_workshop(seq, &workshop, touch())
            .await
            .unwrap();
    }
    writing.await.unwrap();
    f.store().rebuild(&f.k).await.unwrap();
    let kept = f.store().case_row(id).await.unwrap().next_step;
    f.db.force("UPDATE case_summary SET stamp = ''").await;
    f.store().rebuild(&f.k).await.unwrap();
    assert_eq!(f.store().case_row(id).await.unwrap().next_step, kept);
    assert_eq!(f.length(id).await, 22);
    f.db.remove().await;
}

#[tokio::test]
async fn any_number_may_start_at_once_over_an_empty_database() {
    let f = floor().await;
    f.store().migrate_down(None).await.unwrap();
    let url = f.db.url.clone();
    let start = |n: usize| {
        let url = url.clone();
        tokio::spawn(async move {
            let store = Store::connect(&url).await.unwrap();
            let held = store.setting_up().await.unwrap();
            store.migrate().await.unwrap();
            let state = store.demo_state().await.unwrap();
            if state == DemoState::None {
                store.set_demo_state(DemoState::Begun).await.unwrap();
                store.set_demo_state(DemoState::Whole).await.unwrap();
            }
            held.release().await;
            store.close().await;
            (n, state)
        })
    };
    let mut first = 0;
    for waiting in (0..4).map(start).collect::<Vec<_>>() {
        let (_, state) = waiting.await.unwrap();
        assert_ne!(state, DemoState::Begun, "nobody sees it half done");
        first += usize::from(state == DemoState::None);
    }
    assert_eq!(first, 1);
    f.db.remove().await;
}

#[tokio::test]
async fn whoever_holds_a_machine_too_long_keeps_nobody_else_from_reading() {
    let f = floor().await;
    let id = f.open(f.teal).await;
    let raw = sea_orm::Database::connect(&f.db.url).await.unwrap();
    let held = sea_orm::TransactionTrait::begin(&raw).await.unwrap();
    let lock = "SELECT * FROM machine FOR UPDATE";
    sea_orm::ConnectionTrait::execute_unprepared(&held, lock)
        .await
        .unwrap();
    let write = |_| {
        let (store, k) = (f.store().clone(), f.k.clone());
        tokio::spawn(async move { store.append(&k, id, 2, &[noted("waits")], touch()).await })
    };
    let writers: Vec<_> = (0..12).map(write).collect();
    for _ in 0..20 {
        f.store().floor_cases().await.expect("readers go on");
    }
    for writer in writers {
        let given_up = writer.await.unwrap();
        assert!(matches!(given_up, Err(StoreError::Busy)), "{given_up:?}");
    }
    held.rollback().await.unwrap();
    assert_eq!(f.append(id, 2, noted("now"), touch()).await.unwrap(), 3);
    raw.close().await.unwrap();
    f.db.remove().await;
}

#[tokio::test]
async fn the_floor_shows_the_most_urgent_cases_of_a_machine_and_counts_the_rest() {
    let f = floor().await;
    let mut cases = Vec::new();
    for _ in 0..6 {
        cases.push(f.open(f.teal).await);
    }
    f.append(cases[2], 2, observed("burnt-smell", "present"), touch())
        .await
        .unwrap();
    let floor = f.store().floor_cases().await.unwrap();
    assert_eq!(
        (floor.shown.len() as i64, floor.of(f.teal)),
        (SHOWN_ON_THE_FLOOR, 6)
    );
    assert_eq!(floor.shown[0].id, cases[2], "a stop comes first");
    assert_eq!(
        f.store().open_cases_of(f.teal, 0, 50).await.unwrap().len(),
        6
    );
    assert_eq!(
        f.store().open_cases_of(f.teal, 1, 4).await.unwrap().len(),
        2
    );
    f.db.remove().await;
}

#[tokio::test]
async fn whoever_lost_the_line_is_told_that_anything_may_have_changed_and_hears_again() {
    let f = floor().await;
    let case = f.open(f.teal).await;
    let mut heard = f.store().changes().await.unwrap();
    f.append(case, 2, noted("before"), touch()).await.unwrap();
    assert_eq!(heard.next().await.unwrap(), Change::Case(case, 3));
    f.db.force(
        "SELECT pg_terminate_backend(pid) FROM pg_stat_activity \
         WHERE datname = current_database() AND query LIKE 'LISTEN%'",
    )
    .await;
    assert_eq!(heard.next().await.unwrap(), Change::Anything);
    f.append(case, 3, noted("after"), touch()).await.unwrap();
    assert_eq!(heard.next().await.unwrap(), Change::Case(case, 4));
    f.db.remove().await;
}
