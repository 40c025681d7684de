//! Trial series: logs of their own, appended and never edited; one touch counts once.

use crate::kit::{Floor, floor, touch};
use std::collections::BTreeMap;
use suspect_core::series::{Event, Listed, replay};
use suspect_core::testing::trials::{begun, graded, made};
use suspect_core::trials::Difference;
use suspect_store::pictures::PictureBytes;
use suspect_store::series::{SeriesError, Which};
use suspect_store::{StoreError, Uuid};

fn begin() -> [Event; 2] {
    let listed = |name: &str| Listed {
        difference: Difference {
            name: name.into(),
            ..Difference::default()
        },
        causes: Vec::new(),
    };
    [
        begun(),
        Event::Listed {
            list: vec![listed("fan"), listed("flow")],
            fights: Vec::new(),
            group_minutes: BTreeMap::new(),
        },
    ]
}

#[tokio::test]
async fn a_series_is_its_log() {
    let f = floor().await;
    let id = Uuid::now_v7();
    let first = touch();
    let begun = f
        .store()
        .begin_series(id, (f.teal, None), &begin(), first.clone())
        .await;
    assert_eq!(begun.unwrap(), 2);
    // The same form again begins nothing new.
    assert_eq!(
        f.store()
            .begin_series(id, (f.teal, None), &begin(), first)
            .await
            .unwrap(),
        2
    );
    let made_it = touch();
    let make = [made("T2-A", &["fan"])];
    assert_eq!(
        f.store()
            .append_to_series(id, 2, &make, made_it.clone())
            .await
            .unwrap(),
        3
    );
    assert_eq!(
        f.store()
            .append_to_series(id, 2, &make, made_it)
            .await
            .unwrap(),
        3
    );
    // Whoever did not know of it is told; a grade is taken whatever happened meanwhile.
    let late = f
        .store()
        .append_to_series(id, 2, &[made("T3-A", &["flow"])], touch())
        .await;
    assert!(matches!(late, Err(SeriesError::Conflict(3))), "{late:?}");
    f.store()
        .append_to_series(id, 2, &[graded("T2-A", 5)], touch())
        .await
        .unwrap();
    f.store()
        .append_to_series(id, 2, &[graded("T2-A", 4)], touch())
        .await
        .unwrap();
    let refused = f
        .store()
        .append_to_series(id, 5, &[graded("T9-A", 5)], touch())
        .await;
    assert!(
        matches!(refused, Err(SeriesError::Refused(_))),
        "{refused:?}"
    );
    stands_as_written(&f, id).await;
    f.db.remove().await;
}

/// The row, the log, the lists; and the database itself refuses to edit it.
async fn stands_as_written(f: &Floor, id: Uuid) {
    let (row, log) = f.store().series(id).await.unwrap();
    assert_eq!(
        (row.name.as_str(), row.pieces, row.ended),
        ("Rough curves", 1, None)
    );
    assert_eq!((log.len(), replay(&log).pieces[0].looks.len()), (5, 2));
    let all = f.store().list_series(Which::Machine(f.teal)).await.unwrap();
    assert_eq!(all.len(), 1);
    assert_eq!(
        f.store()
            .list_series(Which::Case(Uuid::now_v7()))
            .await
            .unwrap(),
        []
    );
    let db = sea_orm::Database::connect(&f.db.url).await.unwrap();
    for sql in ["UPDATE series_entry SET by = 'x'", "TRUNCATE series_entry"] {
        let refused = sea_orm::ConnectionTrait::execute_unprepared(&db, sql).await;
        assert!(
            refused.unwrap_err().to_string().contains("append-only"),
            "{sql}"
        );
    }
    db.close().await.unwrap();
}

#[tokio::test]
async fn photos_come_with_their_entry_or_not_at_all() {
    let f = floor().await;
    let id = Uuid::now_v7();
    f.store()
        .begin_series(id, (f.teal, None), &begin(), touch())
        .await
        .unwrap();
    f.store()
        .append_to_series(id, 2, &[made("T2-A", &["fan"])], touch())
        .await
        .unwrap();
    let bytes = PictureBytes {
        picture: b"large",
        thumbnail: b"small",
    };
    let add = async |label: &str, picture: Uuid| {
        let event = Event::Pictured {
            label: label.into(),
            picture: picture.to_string(),
        };
        f.store()
            .add_series_picture(id, 3, (picture, bytes), event, touch())
            .await
    };
    let (good, lost) = (Uuid::now_v7(), Uuid::now_v7());
    add("T2-A", good).await.unwrap();
    assert!(add("T8-A", lost).await.is_err());
    assert_eq!(
        f.store().series_picture(id, good, true).await.unwrap(),
        b"small"
    );
    let missing = f.store().series_picture(id, lost, false).await;
    assert!(matches!(missing, Err(StoreError::NotFound)));
    let other = f.store().series_picture(Uuid::now_v7(), good, false).await;
    assert!(
        matches!(other, Err(StoreError::NotFound)),
        "a photo belongs to its series"
    );
    let (nowhere, events) = (Uuid::now_v7(), begin());
    let begun = f
        .store()
        .begin_series(nowhere, (nowhere, None), &events, touch())
        .await;
    assert!(matches!(
        begun,
        Err(SeriesError::Store(StoreError::NotFound))
    ));
    f.db.remove().await;
}
