//! What closed cases teach: kept with the closing, summed up, rebuilt to the same, forgotten whole.

use crate::kit::{Floor, floor, touch};
use suspect_core::case::{Event, HeldAnswer, Outcome, Struck};
use suspect_core::knowledge::TryResult;
use suspect_core::learning::Learned;
use suspect_core::testing::{events, printed};
use suspect_store::Uuid;
use time::{Duration, OffsetDateTime};

const NOW: OffsetDateTime = OffsetDateTime::UNIX_EPOCH;

/// A case of a slack belt, proved and closed.
async fn closed(f: &Floor, machine: Uuid) -> Uuid {
    let id = f.open(machine).await;
    let mut all = events("belt-pluck/slack +tension-belt");
    all.push(Event::Struck(Struck::always()));
    all.push(printed(TryResult::Cured));
    all.push(Event::Resolved {
        outcome: Outcome::FixedAndVerified,
        cause: Some("belt-loose".into()),
        fix: Some("tension-belt".into()),
        note: String::new(),
    });
    write(f, id, &all).await;
    id
}

async fn write(f: &Floor, id: Uuid, all: &[Event]) {
    for event in all {
        let last = f.store().case_row(id).await.unwrap().last_seq;
        f.append(id, last, event.clone(), touch()).await.unwrap();
    }
}

async fn learned(f: &Floor, machine: Uuid) -> Option<Learned> {
    let numbers = f.store().learned(&f.k, machine, NOW).await.unwrap();
    numbers.map(|l| (*l).clone())
}

fn belt(f: &Floor, learned: &Option<Learned>) -> f64 {
    let cause = f.k.cause_id("belt-loose").unwrap();
    learned.as_ref().map_or(1.0, |l| l.factor(cause))
}

#[tokio::test]
async fn closings_teach_their_machine_most_and_what_is_left_out_is_forgotten_whole() {
    let f = floor().await;
    let other = f.machine("Plover", &[("feed", "direct")]).await;
    assert_eq!(learned(&f, f.teal).await, None, "the book speaks");
    let first = closed(&f, f.teal).await;
    let one = learned(&f, f.teal).await;
    assert!(belt(&f, &one) > 1.2, "{}", belt(&f, &one));
    let elsewhere = learned(&f, other).await;
    assert!(belt(&f, &elsewhere) > 1.0 && belt(&f, &elsewhere) < belt(&f, &one));

    let second = closed(&f, f.teal).await;
    assert!(belt(&f, &learned(&f, f.teal).await) > belt(&f, &one));
    let out = |reason: Option<&str>| Event::LeftOut {
        reason: reason.map(Into::into),
    };
    write(&f, second, &[out(Some("two faults at once"))]).await;
    assert_eq!(learned(&f, f.teal).await, one, "as if it had never been");
    write(&f, second, &[out(None)]).await;
    // What comes back teaches nothing until it is closed again.
    let back = Event::Reopened {
        reason: "slack again".into(),
        after_days: Some(3.0),
    };
    write(&f, second, &[back]).await;
    assert_eq!(belt(&f, &learned(&f, f.teal).await), belt(&f, &one));
    assert_eq!(f.store().lessons().await.unwrap().len(), 1);
    let _ = first;
    f.db.remove().await;
}

#[tokio::test]
async fn what_is_rebuilt_from_the_logs_is_what_was_kept() {
    let f = floor().await;
    for _ in 0..3 {
        closed(&f, f.teal).await;
    }
    let kept = (
        learned(&f, f.teal).await,
        f.store().lessons().await.unwrap(),
    );
    // As a program left it that learned nothing.
    f.db.force(
        "DELETE FROM lesson; DELETE FROM learned_cell; DELETE FROM learned_use;
         DELETE FROM learned_hold; DELETE FROM learned_look;
         UPDATE learned_state SET version = version + 1, cases = 0, gain = 0, advised = 0;
         UPDATE case_summary SET stamp = '3/old'",
    )
    .await;
    assert_eq!(learned(&f, f.teal).await, None);
    f.store().rebuild(&f.k).await.unwrap();
    let mut again = (
        learned(&f, f.teal).await,
        f.store().lessons().await.unwrap(),
    );
    let mut kept = kept;
    kept.1.sort_by_key(|(id, ..)| *id);
    again.1.sort_by_key(|(id, ..)| *id);
    assert_eq!(again, kept);
    f.db.remove().await;
}

#[tokio::test]
async fn a_machine_by_the_book_and_a_shop_that_does_not_learn_have_none() {
    let f = floor().await;
    closed(&f, f.teal).await;
    let (mut workshop, seq) = f.store().workshop().await.unwrap();
    workshop.by_the_book.push(f.teal.to_string());
    f.store().set_workshop(seq, &workshop, NOW).await.unwrap();
    assert_eq!(learned(&f, f.teal).await, None);
    workshop.by_the_book.clear();
    workshop.learning = false;
    f.store()
        .set_workshop(seq + 1, &workshop, NOW)
        .await
        .unwrap();
    assert_eq!(learned(&f, f.teal).await, None);
    f.db.remove().await;
}

#[tokio::test]
async fn a_closed_case_stands_in_the_list_that_asks_until_it_is_answered() {
    let f = floor().await;
    let id = closed(&f, f.teal).await;
    let asking = f.store().asking(NOW, 10).await.unwrap();
    let at = asking[0].ask_at.unwrap();
    assert_eq!(asking[0].id, id);
    let late = at + Duration::days(181);
    assert!(
        f.store().asking(late, 10).await.unwrap().is_empty(),
        "dropped"
    );
    let answer = HeldAnswer::CannotSay;
    write(&f, id, &[Event::AskedAgain { answer }]).await;
    assert!(f.store().asking(NOW, 10).await.unwrap().is_empty());
    f.db.remove().await;
}

/// A closed case as a shop has a hundred of: only its sums are written.
async fn as_if(f: &Floor, gain: f64, advised: i64) {
    let parts = (gain * 1_048_576.0) as i64;
    f.db.force(&format!(
        "UPDATE learned_state SET version = version + 1, gain = {parts}, advised = {advised}"
    ))
    .await;
}

#[tokio::test]
async fn learning_that_does_worse_than_the_book_rests_until_that_has_turned() {
    let f = floor().await;
    closed(&f, f.teal).await;
    let rests = async || learned(&f, f.teal).await.is_some_and(|l| l.rests());
    assert!(!rests().await);
    // The next closing settles it.
    as_if(&f, -5.0, 60).await;
    closed(&f, f.teal).await;
    assert!(rests().await);
    assert_eq!(belt(&f, &learned(&f, f.teal).await), 1.0, "the book ranks");
    as_if(&f, -2.0, 61).await;
    closed(&f, f.teal).await;
    assert!(rests().await, "it wakes later than it fell asleep");
    as_if(&f, 0.0, 62).await;
    closed(&f, f.teal).await;
    assert!(!rests().await && belt(&f, &learned(&f, f.teal).await) > 1.0);
    f.db.remove().await;
}

#[tokio::test]
async fn checks_teach_links_that_are_used_from_a_hundred_cases_on() {
    let f = floor().await;
    closed(&f, f.teal).await;
    assert!(learned(&f, f.teal).await.unwrap().links().is_none());
    f.db.force("UPDATE learned_state SET version = version + 1, cases = 100")
        .await;
    let all = learned(&f, f.teal).await.unwrap();
    let (cause, finding) = (f.k.cause_id("belt-loose"), f.k.finding_id("belt-pluck"));
    let link = all.links().unwrap().get(cause.unwrap(), finding.unwrap());
    let looks: f64 = link.unwrap().seen.iter().sum();
    assert!(looks > 0.3 && looks <= 1.0, "{looks}");
    f.db.remove().await;
}
