//! Figures and records: counted with the closing, found by everything they have.

use crate::kit::{Floor, floor, touch};
use suspect_core::case::{Event, Lost, Outcome};
use suspect_core::knowledge::TryResult;
use suspect_core::statistics::{Counted, Loss};
use suspect_core::testing::{events, noted, printed, strikes_always};
use suspect_store::Uuid;
use suspect_store::lessons::figures::{FigureFilter, ShopFigures};
use suspect_store::records::{RecordFilter, SortBy};
use time::{Duration, OffsetDateTime};

const NOW: OffsetDateTime = OffsetDateTime::UNIX_EPOCH;

/// A case of a slack belt or a loose pulley, proved and closed, so many minutes long.
async fn closed(f: &Floor, machine: Uuid, belt: bool, minutes: f64) -> Uuid {
    let id = f.open(machine).await;
    let (look, fix, cause) = match belt {
        true => ("belt-pluck/slack", "tension-belt", "belt-loose"),
        false => ("pulley-mark/slips", "tighten-pulley", "pulley-slips"),
    };
    let mut all = events(look);
    all.push(Event::Fixed {
        fix: fix.into(),
        minutes,
        money: 0.0,
        before: None,
        after: None,
        together: false,
    });
    all.push(strikes_always());
    all.push(printed(TryResult::Cured));
    all.push(Event::Resolved {
        outcome: Outcome::FixedAndVerified,
        cause: Some(cause.into()),
        fix: Some(fix.into()),
        note: format!("Found after {minutes} minutes."),
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

async fn figures(f: &Floor, machines: &[Uuid]) -> ShopFigures {
    let filter = FigureFilter {
        machines: machines.to_vec(),
        from: None,
    };
    f.store().figures(&filter).await.unwrap()
}

#[tokio::test]
async fn figures_are_counted_with_the_closing_by_machine_and_over_the_shop() {
    let f = floor().await;
    let other = f.machine("Plover", &[("feed", "direct")]).await;
    closed(&f, f.teal, true, 20.0).await;
    let there = closed(&f, other, false, 40.0).await;
    let shop = figures(&f, &[]).await;
    assert_eq!(shop.all.n(Counted::Ended, "fixed-and-verified"), 2);
    assert_eq!(shop.months["1970-01"].n(Counted::Cause, "belt-loose"), 1);
    let own = figures(&f, &[other]).await;
    assert_eq!(own.all.n(Counted::Cause, "pulley-slips"), 1);
    assert_eq!(own.all.n(Counted::Cause, "belt-loose"), 0);
    let both = figures(&f, &[f.teal, other]).await;
    assert_eq!(both.all, shop.all);

    // What the failed print cost may be told later, and counts from then on.
    let lost = Event::Lost(Lost {
        hours: Some(3.0),
        grams: None,
        first_layer: false,
    });
    write(&f, there, &[lost]).await;
    assert_eq!(Loss::of(&figures(&f, &[]).await.all).hours, 3.0);
    // Opened again it is as if it had never been closed.
    let back = Event::Reopened {
        reason: "came back".into(),
        after_days: None,
    };
    write(&f, there, &[back]).await;
    let left = figures(&f, &[]).await;
    assert_eq!(left.all.n(Counted::Ended, "fixed-and-verified"), 1);
    assert_eq!(Loss::of(&left.all).hours, 0.0);
    assert!(
        left.all
            .of(Counted::Cause)
            .all(|(id, ..)| id == "belt-loose")
    );
    f.db.remove().await;
}

#[tokio::test]
async fn figures_rebuilt_are_those_that_were_kept() {
    let f = floor().await;
    for minutes in [10.0, 25.0] {
        closed(&f, f.teal, true, minutes).await;
    }
    let kept = figures(&f, &[]).await;
    f.db.force(
        "DELETE FROM lesson; DELETE FROM figure; DELETE FROM case_words; DELETE FROM learned_cell;
         DELETE FROM learned_use; DELETE FROM learned_hold; UPDATE learned_state SET cases = 0;
         UPDATE case_summary SET stamp = ''",
    )
    .await;
    f.store().rebuild(&f.k).await.unwrap();
    assert_eq!(figures(&f, &[]).await, kept);
    let said = RecordFilter {
        words: Some("minutes".into()),
        ..RecordFilter::default()
    };
    assert_eq!(
        f.store().records(&said, 0, 9).await.unwrap().1,
        2,
        "words too"
    );
    f.db.remove().await;
}

#[tokio::test]
async fn records_are_found_by_words_sign_and_fix() {
    let f = floor().await;
    let long = closed(&f, f.teal, true, 90.0).await;
    let short = closed(&f, f.teal, false, 5.0).await;
    write(
        &f,
        short,
        &[noted("The grub screws were loosened by the heat")],
    )
    .await;
    let found = async |filter: &RecordFilter| found(&f, filter).await;
    let said = |words: &str| RecordFilter {
        words: Some(words.into()),
        ..RecordFilter::default()
    };
    assert_eq!(
        found(&said("loose grub screw")).await,
        [short],
        "other endings are found"
    );
    assert!(found(&said("\"grub screws\" -heat")).await.is_empty());
    assert_eq!(
        found(&said("tension belt")).await,
        [long],
        "names of fixes are found"
    );
    assert!(found(&said("') OR 1=1 --")).await.is_empty());

    let by = |answers: &[(&str, &str)]| RecordFilter {
        answers: answers
            .iter()
            .map(|(f, s)| (f.to_string(), s.to_string()))
            .collect(),
        ..RecordFilter::default()
    };
    assert_eq!(found(&by(&[("layer-step", "present")])).await.len(), 2);
    assert_eq!(found(&by(&[("belt-pluck", "slack")])).await, [long]);
    let fixed = RecordFilter {
        fix: Some("tighten-pulley".into()),
        ..RecordFilter::default()
    };
    assert_eq!(found(&fixed).await, [short]);
    let what = f
        .store()
        .fixed_by(&by(&[("layer-step", "present")]), 5)
        .await
        .unwrap();
    assert_eq!(what.iter().map(|w| w.cases).collect::<Vec<_>>(), [1, 1]);

    f.db.remove().await;
}

/// The cases a filter finds.
async fn found(f: &Floor, filter: &RecordFilter) -> Vec<Uuid> {
    let (rows, total) = f.store().records(filter, 0, 9).await.unwrap();
    assert_eq!(rows.len() as u64, total);
    rows.iter().map(|r| r.id).collect()
}

#[tokio::test]
async fn records_stand_in_the_order_asked_for_and_are_found_by_day() {
    let f = floor().await;
    let long = closed(&f, f.teal, true, 90.0).await;
    let short = closed(&f, f.teal, false, 5.0).await;
    let found = async |filter: &RecordFilter| found(&f, filter).await;
    let sorted = |upwards| RecordFilter {
        sort: SortBy::Minutes,
        upwards,
        ..RecordFilter::default()
    };
    assert_eq!(found(&sorted(true)).await, [short, long]);
    assert_eq!(found(&sorted(false)).await, [long, short]);
    let later = RecordFilter {
        from: Some(NOW + Duration::days(1)),
        ..RecordFilter::default()
    };
    assert!(found(&later).await.is_empty());
    f.db.remove().await;
}

#[tokio::test]
async fn a_machine_is_known_to_be_busy_by_its_cases_and_its_counter() {
    let f = floor().await;
    f.open(f.teal).await;
    let now = NOW + Duration::days(60);
    for (days, hours) in [(0, 100.0), (50, 600.0)] {
        let event = suspect_core::machine::MachineEvent::counter(hours);
        let at = NOW + Duration::days(days);
        let read = f.store().append_to_machine(&f.k, f.teal, None, &event, at);
        read.await.unwrap();
    }
    let busy = f.store().busy(now).await.unwrap();
    assert_eq!((busy[0].days.cases, busy[0].days.time), (1, 60.0));
    assert!((busy[0].hours_a_day.unwrap() - 10.0).abs() < 1e-6);
    f.db.remove().await;
}

#[tokio::test]
async fn a_machine_that_stood_idle_is_asked_a_fortnight_later() {
    let f = floor().await;
    let id = closed(&f, f.teal, true, 10.0).await;
    let ask_at = f.store().case_row(id).await.unwrap().ask_at.unwrap();
    let read = async |days: i64, hours: f64| {
        let event = suspect_core::machine::MachineEvent::counter(hours);
        let at = NOW + Duration::days(days);
        let read = f.store().append_to_machine(&f.k, f.teal, None, &event, at);
        read.await.unwrap();
    };
    let asks = async |at| f.store().asking(at, 9).await.unwrap().len();
    assert_eq!(asks(ask_at).await, 1, "nobody knows how much it printed");
    read(-1, 100.0).await;
    read(5, 104.0).await;
    assert_eq!(
        asks(ask_at).await,
        0,
        "four hours are no proof that it held"
    );
    assert_eq!(
        asks(ask_at + Duration::days(14)).await,
        1,
        "put off, and no longer"
    );
    read(12, 130.0).await;
    assert_eq!(asks(ask_at).await, 1);
    f.db.remove().await;
}
