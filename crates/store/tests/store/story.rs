//! The store on a real PostgreSQL: a story from first sign to record, writers at once, migrations
//! both ways.

use std::collections::BTreeMap;
use std::sync::Arc;
use suspect_core::case::{Event, Outcome, Refusal, Standing, Status, Struck, What, replay};
use suspect_core::evidence::Confidence;
use suspect_core::knowledge::{Knowledge, TryResult};
use suspect_core::machine::Described;
use suspect_core::testing::{observed, opened};
use suspect_store::records::RecordFilter;
use suspect_store::testing::{Fresh, fresh};
use suspect_store::{Store, StoreError, Uuid};
use time::OffsetDateTime;

pub const NOW: OffsetDateTime = OffsetDateTime::UNIX_EPOCH;

pub async fn with_machine() -> (Fresh, Arc<Knowledge>, Uuid) {
    let db = fresh().await;
    let k = Arc::new(Knowledge::shipped());
    let machine = Uuid::now_v7();
    let teal = Described {
        name: "Teal".into(),
        model: "Skerry 300".into(),
        profile: BTreeMap::from([("feed".into(), "direct".into())]),
        ..Described::default()
    };
    db.store.add_machine(&k, machine, &teal, NOW).await.unwrap();
    (db, k, machine)
}

pub async fn open(store: &Store, k: &Knowledge, machine: Uuid) -> Uuid {
    let id = Uuid::now_v7();
    assert_eq!(
        store
            .open_case(
                k,
                id,
                machine,
                &[opened(), observed("layer-step", "present")],
                NOW
            )
            .await
            .unwrap(),
        2
    );
    id
}

#[tokio::test]
async fn a_case_from_first_sign_to_record() {
    let (db, k, machine) = with_machine().await;
    let id = open(&db.store, &k, machine).await;
    let row = db.store.case_row(id).await.unwrap();
    assert_eq!(
        (row.status, row.last_seq, row.number),
        (Standing::Open, 2, 1)
    );
    assert!(row.leader.is_some() && row.next_step.is_some());
    let steps = [
        Event::Checked {
            check: "pulley-mark".into(),
            outcome: "slips".into(),
            confidence: Confidence::Sure,
            minutes: 5.0,
        },
        Event::Fixed {
            fix: "tighten-pulley".into(),
            minutes: 8.0,
            money: 0.5,
            before: None,
            after: None,
            together: false,
        },
        Event::Printed {
            result: TryResult::Cured,
            minutes: 4.0,
            grams: 6.0,
            hours: None,
        },
        Event::Resolved {
            outcome: Outcome::FixedAndVerified,
            cause: Some("pulley-slips".into()),
            fix: Some("tighten-pulley".into()),
            note: "Beside the flat.".into(),
        },
    ];
    let always = [Event::Struck(Struck::always())];
    let mut seq = db.store.append(&k, id, 2, &always, NOW).await.unwrap();
    for (step, status) in steps.iter().zip(Standing::ALL) {
        seq = db
            .store
            .append(&k, id, seq, std::slice::from_ref(step), NOW)
            .await
            .unwrap();
        assert_eq!(db.store.case_row(id).await.unwrap().status, status);
    }
    projected(&db, &k, id).await;
    found_by_cause_alone(&db, machine).await;
    assert_eq!(
        db.store.recorded_causes().await.unwrap(),
        [("pulley-slips".to_string(), 1)]
    );
    assert!(db.store.floor_cases().await.unwrap().shown.is_empty());
    db.remove().await;
}

/// The projection says what the log says.
async fn projected(db: &Fresh, k: &Knowledge, id: Uuid) {
    let state = replay(k, &db.store.case_log(id).await.unwrap());
    let row = db.store.case_row(id).await.unwrap();
    assert!(matches!(state.status, Status::Resolved(_)));
    assert_eq!(
        (row.minutes, row.grams, row.money),
        (state.minutes, state.grams, state.money)
    );
    assert_eq!(row.cause.as_deref(), Some("pulley-slips"));
}

/// The record is found by its cause and by no other.
async fn found_by_cause_alone(db: &Fresh, machine: Uuid) {
    let filter = |cause: &str| RecordFilter {
        causes: vec![cause.into()],
        machines: vec![machine],
        outcome: Some("fixed-and-verified".into()),
        ..RecordFilter::default()
    };
    assert_eq!(
        db.store
            .records(&filter("pulley-slips"), 0, 50)
            .await
            .unwrap()
            .1,
        1
    );
    assert_eq!(
        db.store
            .records(&filter("belt-loose"), 0, 50)
            .await
            .unwrap()
            .1,
        0
    );
}

#[tokio::test]
async fn of_two_writers_at_once_one_is_stored_and_the_other_sees_what_changed() {
    let (db, k, machine) = with_machine().await;
    let id = open(&db.store, &k, machine).await;
    let write = |event: Event| {
        let (store, k) = (db.store.clone(), k.clone());
        tokio::spawn(async move { store.append(&k, id, 2, &[event], NOW).await })
    };
    // About the same thing: about different things they would join.
    let (a, b) = (write(observed("axis", "y")), write(observed("axis", "x")));
    let results = [a.await.unwrap(), b.await.unwrap()];
    assert_eq!(results.iter().filter(|r| matches!(r, Ok(3))).count(), 1);
    let conflict = results.iter().find_map(|r| match r {
        Err(StoreError::Conflict {
            expected,
            actual,
            since,
        }) => Some((*expected, *actual, since.len())),
        _ => None,
    });
    assert_eq!(conflict, Some((2, 3, 1)));
    assert_eq!(db.store.case_log(id).await.unwrap().len(), 3);
    db.remove().await;
}

#[tokio::test]
async fn what_makes_no_sense_is_refused_and_nothing_of_it_is_stored() {
    let (db, k, machine) = with_machine().await;
    let id = open(&db.store, &k, machine).await;
    let both = [observed("onset", "sudden"), observed("onset", "sideways")];
    let refused = db.store.append(&k, id, 2, &both, NOW).await.unwrap_err();
    assert!(matches!(
        refused,
        StoreError::Refused(Refusal::Invalid { .. })
    ));
    assert_eq!(db.store.case_log(id).await.unwrap().len(), 2);
    assert!(matches!(
        db.store.case_row(Uuid::now_v7()).await,
        Err(StoreError::NotFound)
    ));
    assert!(matches!(
        db.store
            .append(&k, Uuid::now_v7(), 1, &[opened()], NOW)
            .await,
        Err(StoreError::NotFound)
    ));
    db.remove().await;
}

#[tokio::test]
async fn migrations_go_down_and_up_again_and_the_log_cannot_be_rewritten() {
    let (db, k, machine) = with_machine().await;
    let id = open(&db.store, &k, machine).await;
    let raw = sea_orm::Database::connect(&db.url).await.unwrap();
    for sql in [
        "UPDATE case_entry SET seq = seq + 10",
        "DELETE FROM case_entry",
        "TRUNCATE case_entry",
    ] {
        let refused = sea_orm::ConnectionTrait::execute_unprepared(&raw, sql)
            .await
            .unwrap_err();
        assert!(refused.to_string().contains("append-only"), "{refused}");
    }
    assert_eq!(db.store.case_log(id).await.unwrap().len(), 2);
    raw.close().await.unwrap();
    db.store.migrate_down(None).await.unwrap();
    assert!(db.store.machines().await.is_err());
    db.store.migrate().await.unwrap();
    assert!(db.store.is_empty().await.unwrap());
    db.remove().await;
}

#[tokio::test]
async fn settings_of_the_workshop_are_kept_one_after_the_other_and_move_the_next_steps() {
    let (db, k, machine) = with_machine().await;
    let id = open(&db.store, &k, machine).await;
    let (defaults, seq) = db.store.workshop().await.unwrap();
    assert_eq!(seq, 0);
    let works = || {
        k.checks
            .iter()
            .map(|c| &c.work)
            .chain(k.fixes.iter().map(|f| &f.work))
    };
    let settings = suspect_core::planning::Workshop {
        missing_tools: works().flat_map(|w| w.tools.clone()).collect(),
        ..defaults.clone()
    };
    db.store
        .append(&k, id, 2, &[observed("strings", "strong")], NOW)
        .await
        .unwrap();
    db.store.set_workshop(0, &settings, NOW).await.unwrap();
    assert_eq!(db.store.workshop().await.unwrap(), (settings.clone(), 1));
    // Lists show a step that can be done with bare hands, once they are rebuilt.
    assert_eq!(db.store.rebuild(&k).await.unwrap(), 1);
    assert_eq!(db.store.rebuild(&k).await.unwrap(), 0, "and only once");
    let next = db.store.case_row(id).await.unwrap().next_step.unwrap();
    let tools = match What::parse(&k, &next).unwrap() {
        What::Check(check) => &k.check(check).work.tools,
        What::Fix(fix) => &k.fix(fix).work.tools,
        What::AskMaker | What::Tell => &Vec::new(),
        other => panic!("{other:?}"),
    };
    assert!(tools.is_empty(), "{next}");
    // The same once more stores nothing; another from an old page is told so.
    db.store.set_workshop(0, &settings, NOW).await.unwrap();
    let late = db.store.set_workshop(0, &defaults, NOW).await;
    assert!(matches!(
        late,
        Err(StoreError::Conflict {
            expected: 0,
            actual: 1,
            ..
        })
    ));
    db.store.set_workshop(1, &defaults, NOW).await.unwrap();
    assert_eq!(db.store.workshop().await.unwrap().1, 2);
    db.remove().await;
}
