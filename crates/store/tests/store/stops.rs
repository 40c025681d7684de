//! A stop in one case holds its machine in all, whoever writes at once.

use crate::story::{NOW, open, with_machine};
use suspect_core::case::{Event, Refusal};
use suspect_core::evidence::Confidence;
use suspect_core::knowledge::Knowledge;
use suspect_core::testing::{fixed, observed};
use suspect_store::changes::{Change, Changes};
use suspect_store::testing::Fresh;
use suspect_store::{StoreError, Uuid};

#[tokio::test]
async fn a_stop_in_one_case_locks_the_machine_in_all_and_its_lifting_frees_it() {
    let (db, k, machine) = with_machine().await;
    let first = open(&db.store, &k, machine).await;
    let second = open(&db.store, &k, machine).await;
    let step = Event::Checked {
        check: "belt-pluck".into(),
        outcome: "right".into(),
        confidence: Confidence::Sure,
        minutes: 3.0,
    };
    let heard = db.store.changes().await.unwrap();
    db.store
        .append(&k, first, 2, &[observed("burnt-smell", "present")], NOW)
        .await
        .unwrap();
    locked_by_the_first(&db, &k, machine, [first, second], heard).await;
    let refused = db
        .store
        .append(&k, second, 2, std::slice::from_ref(&step), NOW)
        .await;
    assert!(
        matches!(refused, Err(StoreError::Refused(Refusal::Locked { .. }))),
        "{refused:?}"
    );
    assert_eq!(
        db.store
            .append(&k, second, 2, &[observed("axis", "x")], NOW)
            .await
            .unwrap(),
        3,
        "facts may be added"
    );
    only_a_named_person_lifts_it(&db, &k, first).await;
    // A new case on the locked machine is taken in and locked as well.
    let third = open(&db.store, &k, machine).await;
    assert!(
        db.store
            .append(&k, third, 2, std::slice::from_ref(&step), NOW)
            .await
            .is_err()
    );
    let cleared = Event::StopCleared {
        stop: "burning".into(),
        by: "M. Reed".into(),
        reason: "New plug and socket".into(),
        seen: vec![1, 2, 3, 4],
    };
    db.store
        .append(&k, first, 3, &[cleared], NOW)
        .await
        .unwrap();
    assert_eq!(
        db.store.append(&k, second, 3, &[step], NOW).await.unwrap(),
        4
    );
    db.remove().await;
}

/// The other case is locked, and its pages hear of it at once.
async fn locked_by_the_first(
    db: &Fresh,
    k: &Knowledge,
    machine: Uuid,
    cases: [Uuid; 2],
    mut heard: Changes,
) {
    let [first, second] = cases;
    let lock = db
        .store
        .lock_of(k, machine, second)
        .await
        .unwrap()
        .expect("the machine is locked");
    assert_eq!(lock.case(), Some((first.to_string().as_str(), 1)));
    assert!(
        db.store.lock_of(k, machine, first).await.unwrap().is_none(),
        "its own stop is its own"
    );
    // Pages of the other case hear of it at once.
    let mut told = false;
    for _ in 0..2 {
        told |= heard.next().await.unwrap() == Change::Look(second);
    }
    assert!(told);
    drop(heard);
}

/// Neither another answer nor undoing lifts a stop: only a named person does.
async fn only_a_named_person_lifts_it(db: &Fresh, k: &Knowledge, first: Uuid) {
    let log_before = db.store.case_log(first).await.unwrap();
    for unnamed in [
        observed("burnt-smell", "absent"),
        observed("burnt-smell", "unknown"),
        Event::Retracted { seq: 3 },
    ] {
        let refused = db
            .store
            .append(k, first, 3, std::slice::from_ref(&unnamed), NOW)
            .await;
        assert!(
            matches!(&refused, Err(StoreError::Refused(Refusal::Stopped { stop,
                .. })) if stop == "burning"),
            "{unnamed:?} {refused:?}"
        );
    }
    assert_eq!(db.store.case_log(first).await.unwrap(), log_before);
}

#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn of_a_stop_and_a_step_at_once_the_step_is_never_stored_after_the_stop() {
    let (db, k, machine) = with_machine().await;
    let mut stored_first = 0;
    for turn in 0..12 {
        let (first, second) = (
            open(&db.store, &k, machine).await,
            open(&db.store, &k, machine).await,
        );
        let write = |id: Uuid, event: Event| {
            let (store, k) = (db.store.clone(), k.clone());
            tokio::spawn(async move { store.append(&k, id, 2, &[event], NOW).await })
        };
        let step = fixed("tighten-pulley");
        // Each in a thread of its own, begun in turns, so that both orders come about.
        let stop = observed("mains-exposed", "present");
        let (stop, step) = match turn % 2 {
            0 => {
                let stop = write(first, stop);
                (stop, write(second, step))
            }
            _ => {
                let step = write(second, step);
                (write(first, stop), step)
            }
        };
        stop.await.unwrap().expect("a stop is always stored");
        let step = step.await.unwrap();
        // Either the step came first, or it was refused: whoever waits sees the other.
        let stored = db.store.case_log(second).await.unwrap().len() == 3;
        assert_eq!(stored, step.is_ok());
        stored_first += usize::from(stored);
        let again = write(
            second,
            Event::Noted {
                text: "still here".into(),
            },
        )
        .await
        .unwrap();
        assert_eq!(again.is_ok(), !stored);
        let clear = Event::StopCleared {
            stop: "mains-exposed".into(),
            by: "M. Reed".into(),
            reason: "Cover fitted".into(),
            seen: vec![1, 2, 3],
        };
        db.store.append(&k, first, 3, &[clear], NOW).await.unwrap();
    }
    assert!(
        stored_first > 0,
        "the step never came first: nothing was tried"
    );
    assert!(
        stored_first < 12,
        "the stop never came first: nothing was tried"
    );
    db.remove().await;
}
