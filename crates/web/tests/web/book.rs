//! The machine's book by forms: journal, round, quirks, into service, before a print.

use crate::kit::{Page, Workshop, described, workshop};
use axum::http::StatusCode;
use suspect_core::case::Event;
use suspect_core::machine::MachineEvent;
use suspect_store::Uuid;

/// A machine of a kind that is known, beside the workshop's own.
pub async fn heron(w: &Workshop) -> Uuid {
    let id = Uuid::now_v7();
    let profile = [
        ("feed", "bowden"),
        ("hotend", "lined"),
        ("motion", "bed-slinger"),
        ("levelling", "manual"),
        ("carriage", "wheels"),
        ("board_age", "protected"),
    ];
    let machine = described("Heron", "Skiff 240", &profile);
    let at = time::OffsetDateTime::now_utc() - time::Duration::days(40);
    let added = w.db.store.add_machine(&w.state.knowledge, id, &machine, at);
    added.await.unwrap();
    id
}

pub async fn written(w: &Workshop, machine: Uuid, fields: &[(&str, &str)]) -> Page {
    w.post(&format!("/machines/{machine}/journal"), fields)
        .await
}

pub async fn done(w: &Workshop, machine: Uuid, fields: &[(&str, &str)]) {
    let page = written(w, machine, fields).await;
    assert_eq!(page.status, StatusCode::SEE_OTHER, "{}", page.text);
}

/// A case on a machine; its address.
pub async fn case_on(w: &Workshop, machine: Uuid, told: &str) -> String {
    let machine = machine.to_string();
    let fields = [("machine", machine.as_str()), ("told", told)];
    let to = w.post("/cases", &fields).await.to.unwrap();
    format!("/cases/{}", to.split(['?', '/']).nth(2).unwrap())
}

#[tokio::test]
async fn a_counter_that_runs_backwards_is_asked_about_and_hours_run_on() {
    let w = workshop().await;
    let heron = heron(&w).await;
    done(&w, heron, &[("say", "counter"), ("hours", "1500")]).await;
    let back = written(&w, heron, &[("say", "counter"), ("hours", "12")]).await;
    assert_eq!(back.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(back.text.contains("new counter"), "{}", back.text);
    let new = [("say", "counter"), ("hours", "12"), ("restarted", "yes")];
    done(&w, heron, &new).await;
    let page = w.get(&format!("/machines/{heron}")).await;
    assert!(page.text.contains("1512\u{a0}h printed"), "hours run on");
    assert!(page.text.contains("New counter read: 12 h"));
    // Its liner ran long over the usual life that its maker states.
    assert!(page.text.contains("usual 600\u{a0}h"));
    let odd = written(&w, heron, &[("say", "counter"), ("hours", "many")]).await;
    assert_eq!(odd.status, StatusCode::UNPROCESSABLE_ENTITY);
    w.db.remove().await;
}

#[tokio::test]
async fn the_round_is_ticked_by_name_and_what_looked_wrong_opens_a_case() {
    let w = workshop().await;
    let heron = heron(&w).await;
    done(&w, heron, &[("say", "counter"), ("hours", "900")]).await;
    let round = w.get("/round").await;
    assert!(round.text.contains("Level of the bed") && round.text.contains("Heron"));
    let kept = format!("/machines/{heron}/kept");
    let tick = [
        ("task", "level-by-hand"),
        ("found", "fine"),
        ("back", "round"),
    ];
    let ticked = w.post(&kept, &tick).await;
    assert_eq!(ticked.status, StatusCode::SEE_OTHER, "{}", ticked.text);
    // Somebody else ticks the same: both stand in the journal, nothing is lost.
    assert_eq!(w.post(&kept, &tick).await.status, StatusCode::SEE_OTHER);
    let round = w.get("/round").await;
    assert!(round.text.contains("✓ Level of the bed"), "{}", round.text);
    let log = w.db.store.machine_log(heron).await.unwrap();
    let ticks = log
        .iter()
        .filter(|e| matches!(e.event, MachineEvent::Kept { .. }));
    assert_eq!(ticks.count(), 2);
    let feed = w.get("/round.ics").await;
    assert!(feed.text.contains("SUMMARY:Heron: "), "{}", feed.text);
    // A browned plug locks the machine.
    let wrong = [("task", "plugs-and-cables"), ("found", "0")];
    let case = w.post(&kept, &wrong).await.to.unwrap();
    let page = w.get(&case).await;
    assert!(
        page.text.contains("Browned or smells burnt"),
        "{}",
        page.text
    );
    let held = w.get(&format!("/machines/{heron}")).await;
    assert!(
        held.text.contains("<strong>Locked.</strong>"),
        "{}",
        held.text
    );
    assert!(
        !held.text.contains("name=\"found\""),
        "nothing is done on it"
    );
    let round = w.get("/round").await;
    assert!(round.text.contains("Heron is locked."), "{}", round.text);
    assert!(!w.get("/round.ics").await.text.contains("SUMMARY:Heron: "));
    let unknown = w
        .post(&kept, &[("task", "sing-to-it"), ("found", "fine")])
        .await;
    assert_eq!(unknown.status, StatusCode::UNPROCESSABLE_ENTITY);
    w.db.remove().await;
}

#[tokio::test]
async fn a_quirk_and_a_worn_part_stand_in_the_ledger_until_mended() {
    let w = workshop().await;
    let heron = heron(&w).await;
    done(&w, heron, &[("say", "counter"), ("hours", "5")]).await;
    done(&w, heron, &[("say", "counter"), ("hours", "1500")]).await;
    let case = case_on(&w, heron, "missing layers now and then").await;
    let seq = w.get(&case).await.seq();
    let seq = ("seq", seq.as_str());
    let fields = [seq, ("finding", "missing-layers"), ("state", "present")];
    let told = w.post(&format!("{case}/observe"), &fields).await;
    assert_eq!(told.status, StatusCode::SEE_OTHER, "{}", told.text);
    let ledger = w.get(&format!("{case}?suspect=liner-worn")).await;
    assert!(
        ledger.text.contains("liner in the hot end ran 1500\u{a0}h"),
        "{}",
        ledger.text
    );
    let springs = format!("{case}?suspect=tube-gap");
    assert!(
        w.get(&springs)
            .await
            .text
            .contains("tube backs out of its coupler, not mended")
    );
    done(
        &w,
        heron,
        &[("say", "quirk"), ("quirk", "tube-gap"), ("now", "done")],
    )
    .await;
    assert!(!w.get(&springs).await.text.contains("not mended"));
    // The book alone: neither wear nor quirks.
    let off = [("learning", "off"), ("seq", "0")];
    w.post(&format!("/machines/{heron}/learning"), &off).await;
    let ledger = w.get(&format!("{case}?suspect=liner-worn")).await;
    assert!(!ledger.text.contains("ran 1500"), "{}", ledger.text);
    w.db.remove().await;
}

#[tokio::test]
async fn nothing_heats_before_the_cold_answers_are_given() {
    let w = workshop().await;
    let heron = heron(&w).await;
    let here = format!("/machines/{heron}/commission");
    let early = w
        .post(&here, &[("step", "first-heat"), ("found", "well")])
        .await;
    assert_eq!(
        early.status,
        StatusCode::UNPROCESSABLE_ENTITY,
        "nobody said where it comes from"
    );
    let begun = w.post(&here, &[("history", "used")]).await;
    assert_eq!(begun.status, StatusCode::SEE_OTHER);
    let page = w.get(&here).await;
    assert!(
        !page.text.contains("Frame square"),
        "that is for machines put together by hand"
    );
    let early = w
        .post(&here, &[("step", "first-heat"), ("found", "well")])
        .await;
    assert!(early.text.contains("every cold step"), "{}", early.text);
    for step in [
        "runaway-protection",
        "mains-and-plugs",
        "heater-and-sensor",
        "right-parts",
        "transport",
        "slide-by-hand",
        "belts-and-screws",
        "plate-in",
    ] {
        let page = w.post(&here, &[("step", step), ("found", "well")]).await;
        assert_eq!(page.status, StatusCode::SEE_OTHER, "{step}: {}", page.text);
    }
    for step in [
        "first-heat",
        "level-warm",
        "whole-plate",
        "feed-and-flow",
        "look-over-piece",
        "good-print",
    ] {
        let page = w.post(&here, &[("step", step), ("found", "well")]).await;
        assert_eq!(page.status, StatusCode::SEE_OTHER, "{step}: {}", page.text);
    }
    assert!(w.get(&here).await.text.contains("Heron is in service."));
    let book = w.get(&format!("/machines/{heron}")).await;
    assert!(
        book.text.contains("first print in service"),
        "its first known good"
    );
    w.db.remove().await;
}

#[tokio::test]
async fn a_board_without_protection_locks_the_machine_while_it_is_commissioned() {
    let w = workshop().await;
    let heron = heron(&w).await;
    let here = format!("/machines/{heron}/commission");
    w.post(&here, &[("history", "unknown")]).await;
    w.post(&here, &[("step", "runaway-protection"), ("found", "wrong")])
        .await;
    let page = w.get(&format!("/machines/{heron}")).await;
    assert!(
        page.text.contains("<strong>Locked.</strong>"),
        "{}",
        page.text
    );
    let warm = w
        .post(&here, &[("step", "level-warm"), ("found", "well")])
        .await;
    assert_eq!(warm.status, StatusCode::UNPROCESSABLE_ENTITY);
    w.db.remove().await;
}

#[tokio::test]
async fn a_case_that_begins_after_a_change_shows_it_and_takes_it_over() {
    let w = workshop().await;
    let heron = heron(&w).await;
    let change = [
        ("say", "changed"),
        ("what", "setting"),
        ("name", "Retraction"),
        ("before", "5 mm"),
        ("after_value", "4 mm"),
    ];
    done(&w, heron, &change).await;
    let same = written(
        &w,
        heron,
        &[
            ("say", "changed"),
            ("name", "Fan"),
            ("before", "5"),
            ("after_value", "5"),
        ],
    );
    assert_eq!(same.await.status, StatusCode::UNPROCESSABLE_ENTITY);
    let case = case_on(&w, heron, "strings").await;
    let page = w.get(&case).await;
    assert!(
        page.text.contains("Retraction 5 mm → 4 mm"),
        "{}",
        page.text
    );
    assert!(page.text.contains("It began with that"));
    let taken = w
        .post(&format!("{case}/shortly"), &[("seq", &page.seq())])
        .await;
    assert_eq!(taken.status, StatusCode::SEE_OTHER, "{}", taken.text);
    let page = w.get(&case).await;
    let id = case.trim_start_matches("/cases/").parse().unwrap();
    let log = w.db.store.case_log(id).await.unwrap();
    let told = |finding: &str, state: &str| {
        log.iter().any(|e| {
            matches!(&e.event, Event::Observed { finding: f, state: s, .. }
            if f == finding && s == state)
        })
    };
    assert!(told("onset", "after-a-change") && told("last-change", "settings"));
    assert!(!page.text.contains("It began with that"));
    w.db.remove().await;
}

/// What was found for a material on a nozzle.
pub const FOUND: [(&str, &str); 6] = [
    ("say", "calibrated"),
    ("material", "petg"),
    ("nozzle_mm", "0.4"),
    ("value", "nozzle_c"),
    ("amount", "242"),
    ("piece", "a ladder"),
];

#[tokio::test]
async fn values_found_are_taken_over_by_a_case() {
    let w = workshop().await;
    let heron = heron(&w).await;
    done(&w, heron, &[("say", "counter"), ("hours", "300")]).await;
    done(&w, heron, &FOUND).await;
    let case = case_on(&w, heron, "strings").await;
    let seq = w.get(&case).await.seq();
    let petg = [
        ("seq", seq.as_str()),
        ("title", "Strings"),
        ("material", "petg"),
    ];
    let told = w.post(&format!("{case}/numbers"), &petg).await;
    assert_eq!(told.status, StatusCode::SEE_OTHER, "{}", told.text);
    let numbers = format!("{case}/intake?part=numbers");
    let page = w.get(&numbers).await;
    assert!(
        page.text.contains("nozzle temperature 242 °C"),
        "{}",
        page.text
    );
    let taken = w
        .post(&format!("{case}/values"), &[("seq", &page.seq())])
        .await;
    assert_eq!(taken.status, StatusCode::SEE_OTHER, "{}", taken.text);
    let page = w.get(&numbers).await;
    assert_eq!(page.attribute("#n-nozzle_c", "value"), "242");
    w.db.remove().await;
}

#[tokio::test]
async fn a_new_part_makes_values_stale_and_is_noted_once() {
    let w = workshop().await;
    let heron = heron(&w).await;
    done(&w, heron, &[("say", "counter"), ("hours", "300")]).await;
    done(&w, heron, &FOUND).await;
    let new = [
        ("say", "fitted"),
        ("part", "nozzle"),
        ("fitted_hours", "310"),
    ];
    done(&w, heron, &new).await;
    let book = w.get(&format!("/machines/{heron}")).await;
    assert!(book.text.contains("nozzle is newer"), "{}", book.text);
    assert!(book.text.contains("Not calibrated yet:"));
    let twice = written(&w, heron, &new).await;
    assert!(twice.text.contains("same hours before"));
    w.db.remove().await;
}
