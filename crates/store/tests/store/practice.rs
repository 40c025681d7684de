//! Practice as it is stored: one owner's, done once, forgotten on wish, apart from every record.

use crate::kit::NOW;
use serde_json::{Value, json};
use suspect_store::practice::{ActRow, CardRow, NewPractice, Wish};
use suspect_store::testing::fresh;
use suspect_store::{Store, StoreError, Uuid};
use time::Duration;

async fn begun(store: &Store, owner: &str, level: &str) -> Uuid {
    let id = Uuid::now_v7();
    let new = NewPractice {
        id,
        owner,
        level,
        family: "bed",
        drawn: json!({"seed": 7}),
        shown: "after",
    };
    store.begin_practice(new, NOW).await.unwrap();
    id
}

fn asked(seq: i32, sign: &str) -> ActRow {
    ActRow {
        seq,
        act: json!({"ask": sign}),
        judged: json!({"cost": 0.0}),
    }
}

#[tokio::test]
async fn what_two_tabs_do_at_once_is_done_once_and_nothing_after_the_end() {
    let db = fresh().await;
    let store = &db.store;
    let id = begun(store, "ida", "messy").await;
    let (one, other) = (asked(1, "popping"), asked(1, "stringing"));
    let both = tokio::join!(
        store.practise(id, &one, NOW),
        store.practise(id, &other, NOW)
    );
    assert_ne!(both.0.unwrap(), both.1.unwrap(), "one of the two was first");
    let (row, acts) = store.practice_case("ida", id).await.unwrap();
    assert_eq!((row.ended, acts.len()), (None, 1));
    let end = ("solved", true);
    store
        .end_practice(id, end, json!({"minutes": 3}), NOW)
        .await
        .unwrap();
    let later = ("gave-up", false);
    store.end_practice(id, later, json!({}), NOW).await.unwrap();
    assert!(!store.practise(id, &asked(2, "popping"), NOW).await.unwrap());
    let (row, acts) = store.practice_case("ida", id).await.unwrap();
    assert_eq!(
        (row.ended.as_deref(), row.passed, acts.len()),
        (Some("solved"), true, 1)
    );
    assert_eq!(row.result, Some(json!({"minutes": 3})));
    db.remove().await;
}

#[tokio::test]
async fn a_practice_case_is_its_owners_alone_and_goes_when_they_wish() {
    let db = fresh().await;
    let store = &db.store;
    let (own, others) = (
        begun(store, "ida", "clear").await,
        begun(store, "bo", "clear").await,
    );
    assert!(matches!(
        store.practice_case("bo", own).await,
        Err(StoreError::NotFound)
    ));
    let said = ActRow {
        seq: 1,
        act: json!({"believe": [1.0]}),
        judged: json!({}),
    };
    store.practise(own, &said, NOW).await.unwrap();
    store
        .practise(own, &asked(2, "popping"), NOW)
        .await
        .unwrap();
    let beliefs = store.practice_beliefs("ida").await.unwrap();
    assert_eq!(beliefs, [(own, json!({"believe": [1.0]}))]);
    store.show_in_practice("bo", own, "always").await.unwrap();
    assert_eq!(store.practice_cases("ida").await.unwrap()[0].shown, "after");
    store.forget_practice("ida").await.unwrap();
    assert_eq!(store.practice_cases("ida").await.unwrap(), []);
    assert_eq!(store.practice_beliefs("ida").await.unwrap(), []);
    assert_eq!(store.practice_cases("bo").await.unwrap()[0].id, others);
    db.remove().await;
}

#[tokio::test]
async fn an_answer_to_a_card_counts_once() {
    let db = fresh().await;
    let store = &db.store;
    let card = |turns: i32, wrong: i32| CardRow {
        card: "sign/popping".into(),
        memory: Value::Null,
        due_at: NOW + Duration::days(i64::from(turns)),
        turns,
        wrong,
    };
    assert!(
        !store.answer_card("ida", &card(2, 0)).await.unwrap(),
        "never seen"
    );
    assert!(store.answer_card("ida", &card(1, 1)).await.unwrap());
    assert!(
        !store.answer_card("ida", &card(1, 0)).await.unwrap(),
        "sent twice"
    );
    assert!(store.answer_card("ida", &card(2, 1)).await.unwrap());
    assert_eq!(store.practice_cards("ida").await.unwrap(), [card(2, 1)]);
    assert_eq!(store.practice_cards("bo").await.unwrap(), []);
    db.remove().await;
}

#[tokio::test]
async fn what_was_passed_is_seen_by_whoever_asked_with_leave_alone() {
    let db = fresh().await;
    let store = &db.store;
    let before = begun(store, "bo", "messy").await;
    store
        .end_practice(before, ("solved", true), json!({}), NOW)
        .await
        .unwrap();
    let at = NOW + Duration::hours(1);
    let wish = Wish {
        id: Uuid::now_v7(),
        owner: "bo".into(),
        asked_by: "ida".into(),
        level: "messy".into(),
        many: 2,
        reason: "before mains".into(),
        made_at: at,
        passed: None,
    };
    store.wish_practice(&wish).await.unwrap();
    for (level, passed) in [("messy", true), ("messy", false), ("clear", true)] {
        let id = begun(store, "bo", level).await;
        store
            .end_practice(id, ("x", passed), json!({}), at)
            .await
            .unwrap();
    }
    // Only those since it was asked, of that level.
    assert_eq!(store.wishes_of("bo").await.unwrap()[0].0.passed, Some(1));
    assert_eq!(store.wishes_by("ida").await.unwrap()[0].0.passed, None);
    let stranger = store.show_passed("ida", wish.id, true).await;
    assert!(matches!(stranger, Err(StoreError::NotFound)));
    store.show_passed("bo", wish.id, true).await.unwrap();
    assert_eq!(store.wishes_by("ida").await.unwrap()[0].0.passed, Some(1));
    store.show_passed("bo", wish.id, false).await.unwrap();
    assert_eq!(store.wishes_by("ida").await.unwrap()[0].0.passed, None);
    store.take_wish_back("bo", wish.id).await.unwrap();
    assert_eq!(
        store.wishes_of("bo").await.unwrap().len(),
        1,
        "not theirs to take back"
    );
    store.take_wish_back("ida", wish.id).await.unwrap();
    assert_eq!(store.wishes_of("bo").await.unwrap(), []);
    db.remove().await;
}
