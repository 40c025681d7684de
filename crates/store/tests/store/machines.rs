//! Logs of machines: what locks one, what a case learns of it, cases that move.

use crate::kit::{NOW, described, floor, touch};
use std::collections::BTreeMap;
use suspect_core::case::{Event, Holder, Outcome, Refusal};
use suspect_core::lifting::Lifting;
use suspect_core::machine::{Described, MachineEvent};
use suspect_core::measures::{Inputs, Raw, Reading};
use suspect_core::testing::observed;
use suspect_store::records::RecordFilter;
use suspect_store::{StoreError, Uuid};

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
        together: false,
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
async fn what_was_measured_for_a_case_is_kept_with_its_machine_once() {
    let f = floor().await;
    let id = f.open(f.teal).await;
    let inputs = Inputs::from([("tone_hz".into(), Raw::Number(98.0))]);
    let mut reading = Reading {
        measure: "belt-pluck".into(),
        inputs,
        confirmed: false,
    };
    let benched = |reading: &Reading| Event::Benched {
        reading: reading.clone(),
        minutes: 2.0,
    };
    // Without the free length nothing follows: neither log takes it.
    assert!(f.append(id, 2, benched(&reading), touch()).await.is_err());
    assert_eq!(f.store().machine_log(f.teal).await.unwrap().len(), 1);
    let span = Raw::Number(220.0);
    reading.inputs.insert("span_mm".into(), span);
    let press = touch();
    for _ in 0..2 {
        f.append(id, 2, benched(&reading), press.clone())
            .await
            .unwrap();
    }
    let log = f.store().machine_log(f.teal).await.unwrap();
    assert_eq!(log.len(), 2);
    let MachineEvent::Benched { found, .. } = &log[1].event else {
        panic!("{:?}", log[1])
    };
    assert_eq!(found["tension_n"], 14.9);
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
