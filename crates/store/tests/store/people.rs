//! Members, invitations, sessions and guesses as they are stored.

use crate::kit::NOW;
use serde_json::json;
use suspect_core::people::{FORMER, MemberProblem, Role};
use suspect_store::people::PeopleError;
use suspect_store::testing::fresh;
use suspect_store::{Store, Uuid};
use time::Duration;

async fn member(store: &Store, name: &str, role: Role) -> Uuid {
    let by = store.members().await.unwrap().first().map(|m| m.id);
    let link = format!("{name} {}", store.members().await.unwrap().len());
    store.invite(&link, (role, None), by, NOW).await.unwrap();
    let taken = store.take_invitation(&link, name, "hash".into(), NOW).await;
    taken.unwrap()
}

fn rule<T: std::fmt::Debug>(result: Result<T, PeopleError>) -> MemberProblem {
    match result.unwrap_err() {
        PeopleError::Member(problem) => problem,
        PeopleError::Store(e) => panic!("{e}"),
    }
}

#[tokio::test]
async fn an_invitation_works_once_within_its_days_and_for_a_name_of_its_own() {
    let db = fresh().await;
    let store = &db.store;
    assert!(!store.has_members().await.unwrap());
    let ida = member(store, "Ida", Role::Keeper).await;
    let taken = async |link: &str, name: &str, days: i64| {
        let at = NOW + Duration::days(days);
        let hash = "hash".to_string();
        store.take_invitation(link, name, hash, at).await
    };
    assert_eq!(
        rule(taken("Ida 0", "Bo", 0).await),
        MemberProblem::Invitation
    );
    let invite = async |link: &str, of: (Role, Option<Uuid>), by| {
        store.invite(link, of, by, NOW).await.unwrap();
    };
    invite("late", (Role::Member, None), Some(ida)).await;
    assert_eq!(
        rule(taken("late", "Bo", 8).await),
        MemberProblem::Invitation
    );
    let alike = MemberProblem::NameTaken("Ida".into());
    assert_eq!(rule(taken("late", "1da", 1).await), alike);
    // What made the first keeper makes no second one.
    invite("first", (Role::Keeper, None), None).await;
    assert_eq!(
        rule(taken("first", "Eve", 0).await),
        MemberProblem::Invitation
    );
    // Two who take the same link at once: one of them is in.
    let both = tokio::join!(taken("late", "Bo", 1), taken("late", "Cleo", 1));
    assert_eq!(usize::from(both.0.is_ok()) + usize::from(both.1.is_ok()), 1);
    assert_eq!(store.members().await.unwrap().len(), 2);
    invite("again", (Role::Visitor, Some(ida)), Some(ida)).await;
    assert_eq!(taken("again", "ignored", 0).await.unwrap(), ida);
    let now = store.present_member(ida).await.unwrap().unwrap();
    assert_eq!((now.name.as_str(), now.role), ("Ida", Role::Keeper));
    db.remove().await;
}

#[tokio::test]
async fn two_keepers_who_remove_each_other_at_once_leave_one() {
    let db = fresh().await;
    let store = &db.store;
    let ida = member(store, "Ida", Role::Keeper).await;
    let bo = member(store, "Bo", Role::Keeper).await;
    let both = tokio::join!(store.leave(ida, NOW), store.set_role(bo, Role::Member));
    assert_eq!(usize::from(both.0.is_ok()) + usize::from(both.1.is_ok()), 1);
    let members = store.members().await.unwrap();
    let keepers = members.iter().filter(|m| !m.left && m.role == Role::Keeper);
    assert_eq!(keepers.count(), 1);
    db.remove().await;
}

#[tokio::test]
async fn whoever_leaves_is_a_former_member_and_the_name_is_free_again() {
    let db = fresh().await;
    let store = &db.store;
    member(store, "Ida", Role::Keeper).await;
    let bo = member(store, "Bo", Role::Member).await;
    let data = json!({ "signed": { "member": bo } });
    let soon = NOW + Duration::days(1);
    assert!(
        store
            .keep_session("7", data.clone(), soon, true)
            .await
            .unwrap()
    );
    assert!(
        !store.keep_session("7", data, soon, true).await.unwrap(),
        "there"
    );
    assert_eq!(store.sessions_of(bo, NOW).await.unwrap().len(), 1);
    store.leave(bo, NOW).await.unwrap();
    assert!(
        store.session("7", NOW).await.unwrap().is_none(),
        "signed out at once"
    );
    assert!(store.secret("Bo").await.unwrap().is_none());
    let members = store.members().await.unwrap();
    let former = members.iter().find(|m| m.id == bo).unwrap();
    assert_eq!((former.name.as_str(), former.left), (FORMER, true));
    assert_eq!(rule(store.leave(bo, NOW).await), MemberProblem::Gone);
    let new = member(store, "Bo", Role::Member).await;
    assert_ne!(new, bo);
    db.remove().await;
}

#[tokio::test]
async fn a_session_is_over_by_its_day_and_its_number_stands_nowhere() {
    let db = fresh().await;
    let store = &db.store;
    let ends = NOW + Duration::days(1);
    store
        .keep_session("secret-number", json!({}), ends, true)
        .await
        .unwrap();
    assert!(store.session("secret-number", NOW).await.unwrap().is_some());
    assert!(
        store
            .session("secret-number", ends)
            .await
            .unwrap()
            .is_none()
    );
    // Divides by nothing, and fails, if it stood there.
    let nowhere = "SELECT 1 / (count(*) FILTER (WHERE digest <> 'secret-number')) FROM session";
    db.force(nowhere).await;
    store.end_session("secret-number").await.unwrap();
    assert!(store.session("secret-number", NOW).await.unwrap().is_none());
    db.remove().await;
}

#[tokio::test]
async fn guesses_are_counted_by_name_and_address_and_a_right_one_clears_its_own() {
    let db = fresh().await;
    let store = &db.store;
    let counted = async |name: &str, from: &str| {
        let a = store.guesses(name, from, NOW).await.unwrap();
        [a.pair.0, a.address.0, a.name.0]
    };
    for name in ["Ida", "Ida", "Bo"] {
        store.guessed(name, "10.0.0.9", false, NOW).await.unwrap();
    }
    assert_eq!(counted("IDA", "10.0.0.9").await, [2, 3, 2]);
    assert_eq!(counted("Ida", "10.0.0.2").await, [0, 0, 2]);
    store.guessed("Ida", "10.0.0.2", true, NOW).await.unwrap();
    assert_eq!(
        counted("Ida", "10.0.0.2").await,
        [0, 0, 0],
        "not held up there"
    );
    assert_eq!(counted("Ida", "10.0.0.9").await, [2, 3, 2], "but there");
    let later = NOW + Duration::hours(1);
    let after = store.guesses("Ida", "10.0.0.9", later).await.unwrap();
    assert_eq!(after.address.0, 0);
    db.remove().await;
}

#[tokio::test]
async fn pins_are_counted_by_station_and_a_revoked_station_is_none() {
    let db = fresh().await;
    let store = &db.store;
    let ida = member(store, "Ida", Role::Keeper).await;
    store.set_pin(ida, "hash of a pin".into()).await.unwrap();
    let door = store
        .add_station("door", "Door", Some(ida), NOW)
        .await
        .unwrap();
    let bench = store
        .add_station("bench", "Bench", Some(ida), NOW)
        .await
        .unwrap();
    for _ in 0..3 {
        store.pin_tried(door, ida, false).await.unwrap();
    }
    let wrong = async |station| store.pin_tries(station, ida).await.unwrap().wrong;
    assert_eq!((wrong(door).await, wrong(bench).await), (3, 0));
    store.pin_tried(door, ida, true).await.unwrap();
    assert_eq!(wrong(door).await, 0);
    store.pin_tried(bench, ida, false).await.unwrap();
    store.free_pin(ida).await.unwrap();
    assert_eq!(wrong(bench).await, 0);
    assert_eq!(store.station("door").await.unwrap().unwrap().name, "Door");
    assert_eq!(store.station("Door").await.unwrap(), None);
    store.revoke_station(door, NOW).await.unwrap();
    assert_eq!(store.station("door").await.unwrap(), None);
    assert_eq!(store.stations().await.unwrap().len(), 1);
    db.remove().await;
}

#[tokio::test]
async fn a_feed_is_its_members_until_it_is_made_anew_or_they_leave() {
    let db = fresh().await;
    let store = &db.store;
    let ida = member(store, "Ida", Role::Keeper).await;
    let bo = member(store, "Bo", Role::Member).await;
    store.make_feed(bo, "one", NOW).await.unwrap();
    assert_eq!(store.feed_of("one").await.unwrap(), Some(bo));
    store.make_feed(bo, "two", NOW).await.unwrap();
    assert_eq!(store.feed_of("one").await.unwrap(), None);
    assert_eq!(store.feed_since(bo).await.unwrap(), Some(NOW));
    store.leave(bo, NOW).await.unwrap();
    assert_eq!(store.feed_of("two").await.unwrap(), None);
    store.make_feed(ida, "three", NOW).await.unwrap();
    store.end_feed(ida).await.unwrap();
    assert_eq!(store.feed_of("three").await.unwrap(), None);
    db.remove().await;
}

#[tokio::test]
async fn what_is_changed_among_members_is_written_down_in_order() {
    use suspect_core::people::Changed;
    use suspect_store::people::PeopleEntry;
    let db = fresh().await;
    let ida = member(&db.store, "Ida", Role::Keeper).await;
    for (what, detail) in [(Changed::Invited, "member"), (Changed::Role, "technician")] {
        let entry = PeopleEntry {
            at: NOW,
            by: Some(ida),
            about: Some(ida),
            what,
            detail: detail.into(),
        };
        db.store.note_of_people(&entry).await.unwrap();
    }
    let all = db.store.notes_of_people(10).await.unwrap();
    let told: Vec<Changed> = all.iter().map(|e| e.what).collect();
    assert_eq!(told, [Changed::Role, Changed::Invited], "the last first");
    db.remove().await;
}
