//! A database that an earlier version filled is brought up to date with everything in it.

use flate2::read::GzDecoder;
use std::io::Read;
use suspect_core::case::replay;
use suspect_core::knowledge::Knowledge;
use suspect_core::testing::events;
use suspect_store::Uuid;
use suspect_store::records::RecordFilter;
use suspect_store::testing::{Fresh, restored};
use time::OffsetDateTime;

/// The made-up workshop as the version before the floor's index stored it, photos left out.
const DUMP: &[u8] = include_bytes!("before-the-floor-index.sql.gz");

async fn earlier() -> Fresh {
    let mut sql = String::new();
    GzDecoder::new(DUMP).read_to_string(&mut sql).unwrap();
    restored(&sql).await
}

/// Cases of the floor, and closed ones.
async fn cases(db: &Fresh) -> (Vec<Uuid>, Vec<Uuid>) {
    let floor = db.store.floor_cases().await.unwrap();
    let open = floor.shown.iter().map(|c| c.id).collect();
    let (closed, _) = db
        .store
        .records(&RecordFilter::default(), 0, 100)
        .await
        .unwrap();
    (open, closed.iter().map(|c| c.id).collect())
}

#[tokio::test]
async fn what_an_earlier_version_stored_is_all_there_and_goes_on() {
    let db = earlier().await;
    let k = Knowledge::shipped();
    db.store.migrate().await.unwrap();
    let (open, closed) = cases(&db).await;
    assert_eq!((open.len(), closed.len()), (6, 27));
    let mut entries = 0;
    for id in open.iter().chain(&closed) {
        let log = db.store.case_log(*id).await.unwrap();
        entries += log.len();
        // Every entry is still understood: nothing that was told fell out of the case.
        let state = replay(&k, &log);
        assert_eq!(state.last_seq as usize, log.len());
    }
    assert_eq!(entries, 398, "no entry was lost");

    // Rows made anew by this version tell of the same cases in the same order.
    db.store.rebuild(&k).await.unwrap();
    assert_eq!(cases(&db).await, (open.clone(), closed));
    let case = open[0];
    let last = db.store.case_log(case).await.unwrap().len() as u32;
    let more = events("over-time=constant");
    let now = OffsetDateTime::now_utc();
    let stored = db.store.append(&k, case, last, &more, now).await.unwrap();
    assert_eq!(stored, last + 1);
    db.remove().await;
}

#[tokio::test]
async fn the_last_step_goes_down_and_up_again_over_data() {
    let db = earlier().await;
    db.store.migrate().await.unwrap();
    let before = cases(&db).await;
    db.store.migrate_down(Some(1)).await.unwrap();
    db.store.migrate().await.unwrap();
    assert_eq!(cases(&db).await, before);
    db.remove().await;
}

#[tokio::test]
async fn records_are_turned_over_without_gap_or_repetition() {
    let db = earlier().await;
    db.store.migrate().await.unwrap();
    let all = RecordFilter::default();
    let mut seen = Vec::new();
    for page in 0..4 {
        let (rows, total) = db.store.records(&all, page, 8).await.unwrap();
        assert_eq!(total, 27);
        assert_eq!(rows.len(), [8, 8, 8, 3][page as usize], "page {page}");
        seen.extend(rows.iter().map(|row| row.id));
    }
    assert_eq!(seen, cases(&db).await.1, "in the order of the whole");
    let (beyond, total) = db.store.records(&all, 4, 8).await.unwrap();
    assert_eq!((beyond.len(), total), (0, 27));
    db.remove().await;
}
