//! What is stored once, by whom, in which order, and what becomes of it when others write too.

use crate::kit::{NOW, after, floor, is_conflict, touch};
use suspect_core::case::Event;
use suspect_core::machine::MachineEvent;
use suspect_core::testing::{noted, observed, opened};
use suspect_store::{Stamp, StoreError, Uuid};

#[tokio::test]
async fn the_same_touch_counts_once_and_another_counts_again() {
    let f = floor().await;
    let id = f.open(f.teal).await;
    let pressed = touch();
    for _ in 0..3 {
        let stored = f
            .append(id, 2, observed("onset", "sudden"), pressed.clone())
            .await;
        assert_eq!(stored.unwrap(), 3);
    }
    let other = f
        .append(id, 2, observed("onset", "sideways"), pressed)
        .await;
    assert!(
        !is_conflict(&other) && other.is_err(),
        "another content is another touch"
    );
    // Two people may say the same: each counts, and so does the same person again.
    for seq in 3..6 {
        assert_eq!(
            f.append(id, seq, noted("slack"), touch()).await.unwrap(),
            seq + 1
        );
    }
    // A case is opened once by one touch, whatever happened in it since.
    let (case, opening) = (Uuid::now_v7(), touch());
    for _ in 0..2 {
        let events = [opened()];
        f.store()
            .open_case(&f.k, case, f.teal, &events, opening.clone())
            .await
            .unwrap();
        f.append(case, 1, noted("later"), touch()).await.unwrap();
    }
    assert_eq!(f.length(case).await, 3);
    f.db.remove().await;
}

#[tokio::test]
async fn what_was_acknowledged_is_in_force_or_the_sender_is_told() {
    let f = floor().await;
    let id = f.open(f.teal).await;
    let (first, second) = (touch(), touch());
    f.append(id, 2, observed("axis", "x"), first.clone())
        .await
        .unwrap();
    f.append(id, 3, observed("axis", "y"), touch())
        .await
        .unwrap();
    // A third page of number 2 says what the first had said and another overturned since.
    let late = f.append(id, 2, observed("axis", "x"), touch()).await;
    assert!(is_conflict(&late), "{late:?}");
    // Words that were taken back are not there again because somebody else wrote the same.
    f.append(id, 4, noted("belt was slack"), second.clone())
        .await
        .unwrap();
    f.append(id, 5, Event::Retracted { seq: 5 }, touch())
        .await
        .unwrap();
    let again = f.append(id, 4, noted("belt was slack"), second).await;
    assert!(is_conflict(&again), "the very touch was undone: {again:?}");
    assert_eq!(
        f.append(id, 6, noted("belt was slack"), touch())
            .await
            .unwrap(),
        7
    );
    // Without an identity only what directly follows is a repetition.
    let plain = Stamp::from(NOW);
    f.append(id, 7, noted("once"), plain.clone()).await.unwrap();
    assert_eq!(
        f.append(id, 7, noted("once"), plain.clone()).await.unwrap(),
        8
    );
    assert_eq!(f.length(id).await, 8);
    f.append(id, 8, Event::Retracted { seq: 8 }, plain.clone())
        .await
        .unwrap();
    let gone = f.append(id, 7, noted("once"), plain).await;
    assert!(is_conflict(&gone), "{gone:?}");
    f.db.remove().await;
}

#[tokio::test]
async fn a_number_ahead_of_the_case_is_no_news_and_nothing_is_stored() {
    let f = floor().await;
    let id = f.open(f.teal).await;
    let ahead = f.append(id, 99, noted("from nowhere"), touch()).await;
    let Err(StoreError::Conflict {
        expected: 99,
        actual: 2,
        since,
    }) = ahead
    else {
        panic!("{ahead:?}");
    };
    assert!(since.is_empty());
    assert_eq!(f.length(id).await, 2);
    f.db.remove().await;
}

#[tokio::test]
async fn a_quick_second_touch_knows_the_first_and_nobody_elses() {
    let f = floor().await;
    let id = f.open(f.teal).await;
    let first = touch();
    let second = after(&[&first]);
    f.append(id, 2, observed("axis", "x"), first.clone())
        .await
        .unwrap();
    // About the same thing, from the same page, pressed before the answer came.
    assert_eq!(
        f.append(id, 2, observed("axis", "y"), second)
            .await
            .unwrap(),
        4
    );
    f.append(id, 4, observed("axis", "x"), touch())
        .await
        .unwrap();
    let third = f
        .append(id, 2, observed("axis", "y"), after(&[&first]))
        .await;
    assert!(is_conflict(&third), "what another wrote is news: {third:?}");
    f.db.remove().await;
}

#[tokio::test]
async fn who_was_at_the_screen_stands_beside_every_entry_of_every_log() {
    let f = floor().await;
    let id = f.open(f.teal).await;
    let by = |who: &str| Stamp {
        by: Some(who.into()),
        ..touch()
    };
    f.append(id, 2, noted("slack"), by("M. Reed"))
        .await
        .unwrap();
    let log = f.store().case_log(id).await.unwrap();
    assert_eq!(
        (log[1].by.as_deref(), log[2].by.as_deref()),
        (None, Some("M. Reed"))
    );
    let hours = MachineEvent::counter(10.0);
    f.store()
        .append_to_machine(&f.k, f.teal, None, &hours, by("Ida"))
        .await
        .unwrap();
    let log = f.store().machine_log(f.teal).await.unwrap();
    assert_eq!(
        (log[0].by.as_deref(), log[1].by.as_deref()),
        (None, Some("Ida"))
    );
    f.store().make_help_link(id, by("Ida")).await.unwrap();
    assert_eq!(
        f.store().help_links(id).await.unwrap()[0].by.as_deref(),
        Some("Ida")
    );
    f.db.remove().await;
}
