//! What taking a case in stores: pictures with their entry or not at all, links, hours, answers,
//! and that everyone hears of it.

use std::collections::BTreeMap;
use suspect_core::case::{Event, MOST_PICTURES, Outcome};
use suspect_core::knowledge::Knowledge;
use suspect_core::machine::counter;
use suspect_core::machine::{Described, MachineEvent};
use suspect_core::picture::Judgement;
use suspect_core::testing::observed;
use suspect_store::changes::Change;
use suspect_store::help_links::MOST_LINKS;
use suspect_store::pictures::PictureBytes;
use suspect_store::testing::{Fresh, fresh};
use suspect_store::{Stamp, Store, StoreError, Touch, Uuid};
use time::OffsetDateTime;

const NOW: OffsetDateTime = OffsetDateTime::UNIX_EPOCH;

async fn with_case() -> (Fresh, Knowledge, Uuid, Uuid) {
    let db = fresh().await;
    let k = Knowledge::shipped();
    let machine = Uuid::now_v7();
    let teal = Described {
        name: "Teal".into(),
        model: "Skerry 300".into(),
        profile: BTreeMap::from([("carriage".to_string(), "rails".to_string())]),
        ..Described::default()
    };
    db.store.add_machine(&k, machine, &teal, NOW).await.unwrap();
    let case = open(&db.store, &k, machine).await;
    (db, k, machine, case)
}

async fn open(store: &Store, k: &Knowledge, machine: Uuid) -> Uuid {
    let id = Uuid::now_v7();
    let opened = Event::Opened {
        title: "Joint".into(),
        machine_name: "Teal".into(),
        machine: BTreeMap::new(),
        material: None,
        spool: String::new(),
    };
    store
        .open_case(k, id, machine, &[opened], NOW)
        .await
        .unwrap();
    id
}

/// A touch of its own.
fn touch() -> Stamp {
    Stamp {
        touch: Some(Touch {
            id: Uuid::now_v7(),
            after: Vec::new(),
        }),
        ..Stamp::from(NOW)
    }
}

fn pictured(id: Uuid) -> Event {
    let judgement = Judgement {
        width: 4,
        height: 3,
        sharpness: 50.5,
        mean: 120.0,
        dark: 0.0,
        light: 0.0,
        glare: 0.0,
    };
    Event::Pictured {
        picture: id.to_string(),
        name: "a.jpg".into(),
        judgement,
    }
}

const BYTES: PictureBytes = PictureBytes {
    picture: b"large",
    thumbnail: b"small",
};

#[tokio::test]
async fn a_picture_is_kept_with_its_entry_or_not_at_all() {
    let (db, k, _, case) = with_case().await;
    let ids: Vec<Uuid> = (0..=MOST_PICTURES).map(|_| Uuid::now_v7()).collect();
    let first = touch();
    for (n, id) in ids[..MOST_PICTURES].iter().enumerate() {
        let stamp = if n == 0 { first.clone() } else { touch() };
        let added = db
            .store
            .add_picture(&k, case, 1, (*id, BYTES), pictured(*id), stamp);
        added.await.unwrap();
    }
    let again = db.store.add_picture(
        &k,
        case,
        1,
        (ids[0], BYTES),
        pictured(ids[0]),
        first.clone(),
    );
    let all = 1 + MOST_PICTURES as u32;
    assert_eq!(
        again.await.unwrap(),
        all,
        "the same form sent twice adds one picture"
    );
    let other = db
        .store
        .add_picture(&k, case, 1, (ids[1], BYTES), pictured(ids[1]), first);
    assert!(
        matches!(other.await, Err(StoreError::OtherTouch)),
        "another picture under the same touch is told, not stored"
    );
    let twice = db
        .store
        .add_picture(&k, case, all, (ids[0], BYTES), pictured(ids[0]), touch());
    assert!(matches!(twice.await, Err(StoreError::Refused(_))));
    one_too_many(&db, &k, case, ids[MOST_PICTURES]).await;
    assert_eq!(
        db.store.picture(case, ids[0], true).await.unwrap(),
        b"small"
    );
    assert_eq!(
        db.store.picture(case, ids[0], false).await.unwrap(),
        b"large"
    );
    assert!(
        matches!(
            db.store.picture(Uuid::now_v7(), ids[0], false).await,
            Err(StoreError::NotFound)
        ),
        "only below its own case"
    );
    let log = db.store.case_log(case).await.unwrap();
    assert!(
        matches!(&log[1].event, Event::Pictured { judgement, .. } if judgement.sharpness == 50.5)
    );
    db.remove().await;
}

/// The ninth picture of a case is refused and not half kept.
async fn one_too_many(db: &Fresh, k: &Knowledge, case: Uuid, id: Uuid) {
    let ninth = db
        .store
        .add_picture(k, case, 9, (id, BYTES), pictured(id), NOW)
        .await;
    assert!(matches!(ninth, Err(StoreError::Refused(_))));
    assert!(
        matches!(
            db.store.picture(case, id, false).await,
            Err(StoreError::NotFound)
        ),
        "nothing half"
    );
}

#[tokio::test]
async fn whoever_listens_hears_what_any_connection_stored() {
    let (db, k, _, case) = with_case().await;
    let other = Store::connect(&db.url).await.unwrap();
    let mut heard = other.changes().await.unwrap();
    assert_eq!(
        db.store
            .append(&k, case, 1, &[observed("strings", "none")], NOW)
            .await
            .unwrap(),
        2
    );
    assert_eq!(heard.next().await.unwrap(), Change::Case(case, 2));
    // What was refused is not told; the next thing heard is the next thing stored.
    assert!(
        db.store
            .append(&k, case, 2, &[observed("strings", "many")], NOW)
            .await
            .is_err()
    );
    assert_eq!(
        db.store
            .append(&k, case, 1, &[observed("layer-step", "present")], NOW)
            .await
            .unwrap(),
        3,
        "joins what came in between"
    );
    assert_eq!(heard.next().await.unwrap(), Change::Case(case, 3));
    drop(heard);
    other.close().await;
    db.remove().await;
}

#[tokio::test]
async fn a_link_leads_to_its_case_until_it_is_revoked() {
    let (db, k, machine, case) = with_case().await;
    let other = open(&db.store, &k, machine).await;
    let made = touch();
    for stamp in [made.clone(), made, touch()] {
        db.store.make_help_link(case, stamp).await.unwrap();
    }
    let links = db.store.help_links(case).await.unwrap();
    assert_eq!(links.len(), 2, "a double click makes one");
    let token = links[0].token.clone();
    assert_ne!(token, links[1].token);
    assert_eq!(db.store.case_of_help_link(&token).await.unwrap(), case);
    assert!(
        matches!(
            db.store.revoke_help_link(other, &token, NOW).await,
            Err(StoreError::NotFound)
        ),
        "not by way of another case"
    );
    db.store.revoke_help_link(case, &token, NOW).await.unwrap();
    db.store.revoke_help_link(case, &token, NOW).await.unwrap();
    assert!(matches!(
        db.store.case_of_help_link(&token).await,
        Err(StoreError::NotFound)
    ));
    assert_eq!(db.store.help_links(case).await.unwrap().len(), 1);
    for _ in 1..MOST_LINKS {
        db.store.make_help_link(case, touch()).await.unwrap();
    }
    let one_more = db.store.make_help_link(case, touch()).await;
    assert!(matches!(one_more, Err(StoreError::Refused(_))));
    db.remove().await;
}

#[tokio::test]
async fn hours_are_appended_and_nothing_of_them_is_changed() {
    let (db, k, machine, _) = with_case().await;
    let note = async |event: MachineEvent| {
        db.store
            .append_to_machine(&k, machine, None, &event, NOW)
            .await
    };
    note(MachineEvent::counter(100.0)).await.unwrap();
    note(MachineEvent::fitted("rails", 120.0)).await.unwrap();
    assert!(matches!(
        note(MachineEvent::counter(90.0)).await,
        Err(StoreError::Refused(_))
    ));
    assert!(matches!(
        note(MachineEvent::fitted("wheels", 130.0)).await,
        Err(StoreError::Refused(_))
    ));
    let log = db.store.machine_log(machine).await.unwrap();
    assert_eq!(
        (log.len(), counter(&log)),
        (3, Some(120.0)),
        "with the entry that added it"
    );
    let read = MachineEvent::counter(140.0);
    let stamp = touch();
    for _ in 0..2 {
        let again = db
            .store
            .append_to_machine(&k, machine, None, &read, stamp.clone());
        again.await.unwrap();
    }
    assert_eq!(
        db.store.machine_log(machine).await.unwrap().len(),
        4,
        "one touch, one entry"
    );
    let unknown = db
        .store
        .append_to_machine(&k, Uuid::now_v7(), None, &MachineEvent::counter(1.0), NOW)
        .await;
    assert!(matches!(unknown, Err(StoreError::NotFound)));
    db.remove().await;
}

#[tokio::test]
async fn past_cases_bring_their_answers_and_the_last_case_is_the_machines_own() {
    let (db, k, machine, first) = with_case().await;
    db.store
        .append(
            &k,
            first,
            1,
            &[observed("layer-step", "present"), observed("axis", "y")],
            NOW,
        )
        .await
        .unwrap();
    let sharing =
        |finding: &str, state: &str| BTreeMap::from([(finding.to_string(), state.to_string())]);
    let like = sharing("axis", "y");
    assert!(
        db.store.past_cases(&like).await.unwrap().is_empty(),
        "open cases have fixed nothing"
    );
    let resolved = Event::Resolved {
        outcome: Outcome::BelievedFixed,
        cause: Some("pulley-slips".into()),
        fix: Some("tighten-pulley".into()),
        note: String::new(),
    };
    db.store
        .append(&k, first, 3, &[resolved], NOW)
        .await
        .unwrap();
    let past = db.store.past_cases(&like).await.unwrap();
    assert!(
        db.store
            .past_cases(&sharing("axis", "x"))
            .await
            .unwrap()
            .is_empty(),
        "nothing shared"
    );
    assert_eq!(
        (past[0].id, past[0].cause.as_str()),
        (first, "pulley-slips")
    );
    assert_eq!(past[0].answers.get("axis").map(String::as_str), Some("y"));
    let second = open(&db.store, &k, machine).await;
    assert_eq!(
        db.store.last_case_of(machine, Some(second)).await.unwrap(),
        Some(first)
    );
    assert_eq!(
        db.store.last_case_of(Uuid::now_v7(), None).await.unwrap(),
        None
    );
    db.remove().await;
}
