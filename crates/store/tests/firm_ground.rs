//! What is stored once, by whom, in which order, and what becomes of it when others write too.

use std::collections::BTreeMap;
use std::sync::Arc;
use suspect_core::case::{Event, Holder, Outcome, Refusal, What};
use suspect_core::evidence::Confidence;
use suspect_core::knowledge::Knowledge;
use suspect_core::lifting::Lifting;
use suspect_core::machine::{Described, MachineEvent};
use suspect_store::lists::{RecordFilter, SHOWN_ON_THE_FLOOR};
use suspect_store::testing::{Fresh, fresh};
use suspect_store::{DemoState, Stamp, Store, StoreError, Touch, Uuid};
use time::OffsetDateTime;

const NOW: OffsetDateTime = OffsetDateTime::UNIX_EPOCH;

struct Floor {
    db: Fresh,
    k: Arc<Knowledge>,
    teal: Uuid,
}

fn described(name: &str, profile: &[(&str, &str)]) -> Described {
    Described {
        name: name.into(),
        model: "Barge 340".into(),
        profile: profile
            .iter()
            .map(|(f, v)| (f.to_string(), v.to_string()))
            .collect(),
        ..Described::default()
    }
}

async fn floor() -> Floor {
    let (db, k, teal) = (
        fresh().await,
        Arc::new(Knowledge::shipped()),
        Uuid::now_v7(),
    );
    let machine = described("Teal", &[("feed", "direct")]);
    db.store.add_machine(&k, teal, &machine, NOW).await.unwrap();
    Floor { db, k, teal }
}

impl Floor {
    fn store(&self) -> &Store {
        &self.db.store
    }

    async fn machine(&self, name: &str, profile: &[(&str, &str)]) -> Uuid {
        let id = Uuid::now_v7();
        let machine = described(name, profile);
        self.store()
            .add_machine(&self.k, id, &machine, NOW)
            .await
            .unwrap();
        id
    }

    async fn open(&self, machine: Uuid) -> Uuid {
        let id = Uuid::now_v7();
        let events = [opened(), observed("layer-step", "present")];
        self.store()
            .open_case(&self.k, id, machine, &events, NOW)
            .await
            .unwrap();
        id
    }

    async fn append(
        &self,
        id: Uuid,
        seq: u32,
        event: Event,
        stamp: Stamp,
    ) -> Result<u32, StoreError> {
        self.store().append(&self.k, id, seq, &[event], stamp).await
    }

    async fn length(&self, id: Uuid) -> usize {
        self.store().case_log(id).await.unwrap().len()
    }
}

fn opened() -> Event {
    Event::Opened {
        title: "Joint".into(),
        machine_name: "Teal".into(),
        machine: BTreeMap::new(),
        material: Some("petg".into()),
        spool: String::new(),
    }
}

fn observed(finding: &str, state: &str) -> Event {
    Event::Observed {
        finding: finding.into(),
        state: state.into(),
        confidence: Confidence::Sure,
    }
}

fn noted(text: &str) -> Event {
    Event::Noted { text: text.into() }
}

fn touch() -> Stamp {
    after(&[])
}

/// A touch pressed while others of the same page were on their way.
fn after(earlier: &[&Stamp]) -> Stamp {
    let ids = earlier.iter().map(|s| s.touch.as_ref().unwrap().id);
    Stamp {
        touch: Some(Touch {
            id: Uuid::now_v7(),
            after: ids.collect(),
        }),
        ..Stamp::from(NOW)
    }
}

fn is_conflict(result: &Result<u32, StoreError>) -> bool {
    matches!(result, Err(StoreError::Conflict { .. }))
}

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
    let hours = MachineEvent::Counter { hours: 10.0 };
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

#[tokio::test]
async fn a_stop_of_the_build_locks_until_the_build_is_changed_by_name() {
    let f = floor().await;
    let heron = f.machine("Heron", &[("board_age", "unprotected")]).await;
    let id = f.open(heron).await;
    let lock = f.store().lock_of(&f.k, heron, id).await.unwrap().unwrap();
    assert_eq!(lock.holder, Holder::Build);
    let fixed = Event::Fixed {
        fix: "tighten-pulley".into(),
        minutes: 1.0,
        money: 0.0,
        before: None,
        after: None,
    };
    let refused = f.append(id, 2, fixed.clone(), touch()).await;
    assert!(
        matches!(refused, Err(StoreError::Refused(Refusal::Locked { .. }))),
        "{refused:?}"
    );
    // A layer height, a new case: nothing of that lifts it or brings it back later.
    let stop =
        f.k.stops
            .iter()
            .find(|s| s.id == "no-runaway-protection")
            .unwrap();
    let change = |lifts| MachineEvent::Described {
        machine: described("Heron", &[("board_age", "protected")]),
        lifts,
    };
    let edit = async |seq, lifts| {
        f.store()
            .append_to_machine(&f.k, heron, Some(seq), &change(lifts), touch())
            .await
    };
    assert!(matches!(edit(1, None).await, Err(StoreError::Refused(_))));
    let lifting = Lifting {
        by: "M. Reed".into(),
        reason: "New board fitted".into(),
        seen: (1..=stop.work.steps.len() as u32).collect(),
    };
    assert!(matches!(
        edit(0, Some(lifting.clone())).await,
        Err(StoreError::Conflict { .. })
    ));
    edit(1, Some(lifting)).await.unwrap();
    assert_eq!(f.store().lock_of(&f.k, heron, id).await.unwrap(), None);
    f.append(id, 2, fixed, touch()).await.unwrap();
    let layer = Event::Measured {
        number: "layer_mm".into(),
        value: 0.2,
        note: None,
    };
    f.append(id, 3, layer, touch()).await.unwrap();
    let again = f.open(heron).await;
    assert_eq!(f.store().lock_of(&f.k, heron, again).await.unwrap(), None);
    f.db.remove().await;
}

#[tokio::test]
async fn what_a_case_learns_of_its_machine_is_the_machines() {
    let f = floor().await;
    let (id, other) = (f.open(f.teal).await, f.open(f.teal).await);
    let told = Event::Described {
        title: "Joint".into(),
        material: None,
        spool: String::new(),
        machine: BTreeMap::from([("board_age".into(), "unprotected".into())]),
    };
    f.append(id, 2, told, touch()).await.unwrap();
    let machine = f.store().machine(f.teal).await.unwrap();
    assert_eq!(machine.profile["board_age"], "unprotected");
    assert_eq!(f.store().machine_log(f.teal).await.unwrap().len(), 2);
    for case in [id, other] {
        assert!(
            f.store()
                .lock_of(&f.k, f.teal, case)
                .await
                .unwrap()
                .is_some()
        );
    }
    f.db.remove().await;
}

#[tokio::test]
async fn a_machine_is_edited_in_its_log_and_no_two_look_alike() {
    let f = floor().await;
    f.machine("Heron", &[]).await;
    for alike in ["Heron", "heron", "H\u{435}ron", "Heron\u{200b}"] {
        let added = f
            .store()
            .add_machine(&f.k, Uuid::now_v7(), &described(alike, &[]), NOW)
            .await;
        let Err(StoreError::Refused(Refusal::Invalid { field, .. })) = added else {
            panic!("{alike}: {added:?}");
        };
        assert_eq!(field, "name");
    }
    let edit = async |event: MachineEvent| {
        f.store()
            .append_to_machine(&f.k, f.teal, None, &event, touch())
            .await
    };
    let still = MachineEvent::OutOfService {
        reason: "Waiting for a belt".into(),
    };
    edit(still.clone()).await.unwrap();
    let reason = f.store().machine(f.teal).await.unwrap().out_of_service;
    assert_eq!(reason.as_deref(), Some("Waiting for a belt"));
    assert!(edit(still).await.is_err(), "it stands still already");
    edit(MachineEvent::BackInService).await.unwrap();
    let moved = Described {
        place: "By the window".into(),
        ..described("Teal II", &[])
    };
    edit(MachineEvent::Described {
        machine: moved.clone(),
        lifts: None,
    })
    .await
    .unwrap();
    let now = f.store().machine(f.teal).await.unwrap();
    assert_eq!((now.described(), now.out_of_service), (moved, None));
    assert_eq!(f.store().machine_log(f.teal).await.unwrap().len(), 4);
    f.db.remove().await;
}

#[tokio::test]
async fn of_many_machines_of_one_name_at_once_one_is_added_and_the_others_are_told() {
    let f = floor().await;
    let add = |_| {
        let (store, k) = (f.store().clone(), f.k.clone());
        tokio::spawn(async move {
            store
                .add_machine(&k, Uuid::now_v7(), &described("Grebe", &[]), NOW)
                .await
        })
    };
    let mut added = 0;
    for waiting in (0..12).map(add).collect::<Vec<_>>() {
        match waiting.await.unwrap() {
            Ok(()) => added += 1,
            Err(e) => assert!(matches!(e, StoreError::Refused(_)), "{e:?}"),
        }
    }
    assert_eq!(added, 1);
    f.db.remove().await;
}

#[tokio::test]
async fn a_case_moves_to_its_machine_and_its_stop_goes_with_it() {
    let f = floor().await;
    let heron = f.machine("Heron", &[("feed", "bowden")]).await;
    let (id, on_heron) = (f.open(f.teal).await, f.open(heron).await);
    f.append(id, 2, observed("burnt-smell", "present"), touch())
        .await
        .unwrap();
    let moved = |to: String, by: &str| Event::Moved {
        machine: to,
        machine_name: "Heron".into(),
        profile: BTreeMap::from([("feed".into(), "bowden".into())]),
        by: by.into(),
        reason: "It is Heron that smells".into(),
    };
    assert!(
        f.append(id, 3, moved(heron.to_string(), ""), touch())
            .await
            .is_err()
    );
    assert!(
        f.append(id, 3, moved("nowhere".into(), "Ida"), touch())
            .await
            .is_err()
    );
    let nobody = moved(Uuid::now_v7().to_string(), "Ida");
    assert!(matches!(
        f.append(id, 3, nobody, touch()).await,
        Err(StoreError::NotFound)
    ));
    f.append(id, 3, moved(heron.to_string(), "Ida"), touch())
        .await
        .unwrap();
    assert_eq!(f.store().case_row(id).await.unwrap().machine_id, heron);
    assert!(
        f.store()
            .lock_of(&f.k, heron, on_heron)
            .await
            .unwrap()
            .is_some()
    );
    assert!(
        f.store()
            .lock_of(&f.k, f.teal, Uuid::nil())
            .await
            .unwrap()
            .is_none()
    );
    f.db.remove().await;
}

#[tokio::test]
async fn what_was_opened_by_error_is_kept_and_counted_nowhere() {
    let f = floor().await;
    let id = f.open(f.teal).await;
    let resolved = Event::Resolved {
        outcome: Outcome::OpenedByError,
        cause: None,
        fix: None,
        note: "Wrong button".into(),
    };
    f.append(id, 2, resolved, touch()).await.unwrap();
    let all = RecordFilter::default();
    assert_eq!(f.store().records(&all, 0, 50).await.unwrap().1, 0);
    let asked = RecordFilter {
        outcome: Some("opened-by-error".into()),
        ..all
    };
    assert_eq!(f.store().records(&asked, 0, 50).await.unwrap().1, 1);
    assert_eq!(f.store().last_case_of(f.teal, None).await.unwrap(), None);
    f.db.remove().await;
}

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
    f.store().migrate_down().await.unwrap();
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
