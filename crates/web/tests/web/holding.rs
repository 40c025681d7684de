//! Closed cases ask whether their fix held: one touch, and what came back is open again.

use crate::figures::{mended, mended_with};
use crate::kit::workshop;
use axum::http::StatusCode;

#[tokio::test]
async fn what_came_back_is_open_again_with_its_facts_and_says_which_fix_had_held() {
    let w = workshop().await;
    let case = mended(&w).await;
    let closed = w.get(&case).await;
    assert!(closed.one(".next").contains("It held until now"));
    assert!(w.get("/again").await.text.contains("Later"), "it will ask");
    let feed = w.pages_raw("/again.ics").await;
    let feed = String::from_utf8(feed.1).unwrap();
    assert!(feed.starts_with("BEGIN:VCALENDAR\r\n") && feed.contains("BEGIN:VEVENT"));

    w.record(&case, "held", &[("answer", "came-back")]).await;
    let open = w.get(&case).await;
    assert!(open.all(".closed-box").is_empty(), "open again");
    assert!(open.text.contains("Opened again: the fault came back"));
    let ledger = open.one(".ledger");
    assert!(
        ledger.contains("came back"),
        "the cure is withdrawn: {ledger}"
    );
    assert!(
        !w.get("/again").await.text.contains("BEGIN"),
        "nothing asks"
    );
    w.db.remove().await;
}

#[tokio::test]
async fn one_touch_says_that_it_held_and_one_that_nobody_can_say() {
    let w = workshop().await;
    let case = mended(&w).await;
    w.record(&case, "held", &[("answer", "held")]).await;
    assert!(w.get(&case).await.one(".next").contains("It held, "));
    w.record(&case, "held", &[("answer", "cannot-say")]).await;
    assert!(
        !w.get("/again").await.text.contains("Later"),
        "asked no more"
    );
    let nonsense = [
        ("seq", w.get(&case).await.seq()),
        ("answer", "perhaps".into()),
    ];
    let nonsense: Vec<(&str, &str)> = nonsense.iter().map(|(n, v)| (*n, v.as_str())).collect();
    let refused = w.post(&format!("{case}/held"), &nonsense).await;
    assert_ne!(refused.status, StatusCode::SEE_OTHER);
    w.db.remove().await;
}

#[tokio::test]
async fn what_is_learned_stands_beside_the_book_and_can_be_switched_off() {
    let w = workshop().await;
    let case = mended(&w).await;
    let next = w.open(&[("f.layer-step", "present")]).await;
    let why = format!("{next}/why/pulley-slips");
    let learned = w.get(&format!("{next}?suspect=pulley-slips")).await;
    assert!(learned.text.contains("was learned here"), "{why}");
    assert!(learned.text.contains("case on this machine") || learned.text.contains("cases on"));
    w.record(&case, "learning", &[("reason", "two faults at once")])
        .await;
    let book = w.get(&format!("{next}?suspect=pulley-slips")).await;
    assert!(!book.text.contains("was learned here"));
    w.db.remove().await;
}

#[tokio::test]
async fn a_fault_that_strikes_now_and_then_is_proven_sooner_by_the_check_that_told() {
    let w = workshop().await;
    let case = w.open(&[("f.layer-step", "present")]).await;
    for (what, fields) in [
        ("check/pulley-mark", vec![("outcome", "slips")]),
        ("fix/tighten-pulley", vec![("minutes", "8")]),
        (
            "struck",
            vec![("often", "some"), ("prints", "2"), ("of", "5")],
        ),
        ("verify", vec![("result", "cured")]),
    ] {
        w.record(&case, what, &fields).await;
    }
    let proof = w.get(&format!("{case}/verify")).await;
    assert!(proof.one(".sooner").contains("Repeated: it is sound now"));
    assert!(
        !proof.one(".sooner").contains("It was there again"),
        "no value was changed"
    );
    assert!(
        proof.text.contains("15 clean prints"),
        "{}",
        proof.one(".proof-state")
    );
    w.record(&case, "beside", &[("how", "check-sound")]).await;
    let told = w.get(&case).await.one(".history");
    assert!(
        told.contains("The check that told was repeated: sound"),
        "{told}"
    );
    let fewer = w.get(&format!("{case}/verify")).await;
    assert!(
        !fewer.text.contains("15 clean prints"),
        "fewer are needed, or none"
    );
    w.db.remove().await;
}

#[tokio::test]
async fn a_new_case_that_looks_like_one_mended_lately_asks_whether_it_came_back() {
    let w = workshop().await;
    mended(&w).await;
    let signs = [("f.layer-step", "present"), ("f.onset", "sudden")];
    let alone = w.open(&signs[..1]).await;
    let aside = w.get(&format!("{alone}/intake?part=questions")).await;
    assert!(
        !aside.text.contains("Did it come back?"),
        "one sign alone is no likeness"
    );
    let first = mended_with(&w, &signs).await;
    let again = w.open(&signs).await;
    let aside = w.get(&format!("{again}/intake?part=questions")).await;
    assert!(aside.text.contains("Did it come back?"));
    assert!(aside.links().contains(&first), "and leads there");
    w.db.remove().await;
}
