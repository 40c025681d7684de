//! A touch counts once, and what was typed is never lost.

use crate::kit::{Workshop, workshop};
use crate::locked::all_below;
use axum::body::Body;
use axum::http::{Request, StatusCode, header};
use suspect_core::machine::MachineEvent;
use suspect_store::Uuid;

#[tokio::test]
async fn every_form_carries_an_identity_and_a_double_click_counts_once() {
    let w = workshop().await;
    let case = w.open(&[("f.layer-step", "present")]).await;
    w.record(&case, "links", &[]).await;
    let id: Uuid = case.rsplit('/').next().unwrap().parse().unwrap();
    let token = w.state.store.help_links(id).await.unwrap()[0].token.clone();
    let mut pages = all_below(&w, &case).await;
    for path in ["/workshop", "/machines/new", "/cases/new"] {
        pages.push((path.into(), w.get(path).await));
    }
    let mut forms = 0;
    for (path, page) in &pages {
        let posting = page.all("form[method=post]").len();
        let with = page.all("form[method=post]:has(input[name=touch])").len();
        assert_eq!(posting, with, "{path} has a form without an identity");
        forms += posting;
    }
    assert!(forms > 60, "{forms}");
    one_identity_for_one_thing(&w, &case, &token).await;
    let hours = Uuid::new_v4().to_string();
    for _ in 0..2 {
        let fields = [
            ("touch", hours.as_str()),
            ("hours", "12,5"),
            ("at", "hot end"),
        ];
        assert_eq!(
            w.post(&format!("{case}/hours"), &fields).await.status,
            StatusCode::SEE_OTHER
        );
    }
    assert_eq!(w.get(&case).await.all(".heard").len(), 1);
    let log = w.state.store.machine_log(w.machine).await.unwrap();
    let counted = log
        .iter()
        .filter(|e| matches!(e.event, MachineEvent::Counter { .. }))
        .count();
    assert_eq!(counted, 1);
    w.db.remove().await;
}

/// Suggestions and hours are touches too; one identity stands for one thing.
async fn one_identity_for_one_thing(w: &Workshop, case: &str, token: &str) {
    let touch = Uuid::new_v4().to_string();
    for _ in 0..2 {
        let fields = [
            ("touch", touch.as_str()),
            ("by", "Ann"),
            ("text", "Look at the belt"),
        ];
        let sent = w.post(&format!("/help/{token}/suggest"), &fields).await;
        assert_eq!(sent.status, StatusCode::SEE_OTHER, "{}", sent.text);
        let hours = [
            ("touch", touch.as_str()),
            ("hours", "12,5"),
            ("at", "hot end"),
        ];
        let other = w.post(&format!("{case}/hours"), &hours).await;
        assert_ne!(
            other.status,
            StatusCode::SEE_OTHER,
            "the identity stands for something else"
        );
    }
}

#[tokio::test]
async fn a_touch_after_an_undo_counts_again_and_a_late_one_is_never_said_to_be_in_force() {
    let w = workshop().await;
    let case = w.open(&[("f.layer-step", "present")]).await;
    let observe = async |seq: &str, touch: &str, state: &str| {
        let fields = [
            ("seq", seq),
            ("touch", touch),
            ("finding", "strings"),
            ("state", state),
        ];
        w.post(&format!("{case}/observe"), &fields).await
    };
    let (seq, first) = (w.get(&case).await.seq(), Uuid::new_v4().to_string());
    assert_eq!(
        observe(&seq, &first, "none").await.status,
        StatusCode::SEE_OTHER
    );
    let last = w.get(&case).await.seq();
    w.record(&case, "retract", &[("entry", &last)]).await;
    // The very same touch arrives late: it was undone, so the sender is asked.
    let late = observe(&seq, &first, "none").await;
    assert_eq!(late.status, StatusCode::CONFLICT);
    let again = w
        .post(
            &late.attribute("#work form[method=post]", "action"),
            &[
                ("seq", &late.seq()),
                ("touch", &late.attribute("#work input[name=touch]", "value")),
                ("finding", "strings"),
                ("state", "none"),
            ],
        )
        .await;
    assert_eq!(again.status, StatusCode::SEE_OTHER);
    assert!(w.get(&case).await.one(".history").contains("No strings"));
    w.db.remove().await;
}

#[tokio::test]
async fn what_was_typed_stands_on_the_page_of_a_conflict_and_of_a_refusal() {
    let w = workshop().await;
    let case = w.open(&[("f.layer-step", "present")]).await;
    let seq = w.get(&case).await.seq();
    w.record(&case, "check/belt-pluck", &[("outcome", "right")])
        .await;
    let late = w
        .post(
            &format!("{case}/leave"),
            &[("seq", &seq), ("note", "Ask <b>Ann</b> on Friday")],
        )
        .await;
    assert_eq!(late.status, StatusCode::CONFLICT);
    assert_eq!(late.one("#work textarea"), "Ask <b>Ann</b> on Friday");
    let ahead = w
        .post(
            &format!("{case}/leave"),
            &[("seq", "99"), ("note", "Later")],
        )
        .await;
    assert!(ahead.one(".lead").contains("speaks of entry 99"));
    let long = "x".repeat(2_001);
    let refused = w
        .post(&format!("{case}/leave"), &[("seq", "99"), ("note", &long)])
        .await;
    assert!(refused.text.contains(&long), "nothing typed is lost");
    let seq = w.get(&case).await.seq();
    let refused = w
        .post(&format!("{case}/leave"), &[("seq", &seq), ("note", &long)])
        .await;
    assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(refused.one(".lead").contains("at most 2000") && refused.one("textarea") == long);
    w.db.remove().await;
}

#[tokio::test]
async fn a_field_sent_again_and_again_is_one_entry_and_a_form_has_its_bounds() {
    let w = workshop().await;
    let case = w.open(&[]).await;
    let seq = w.get(&case).await.seq();
    let many = format!("seq={seq}{}", "&n.layer_mm=0.1&n.layer_mm=0.2".repeat(300));
    let post = async |path: String, body: String| {
        let request =
            Request::post(path).header(header::CONTENT_TYPE, "application/x-www-form-urlencoded");
        w.send(request.body(Body::from(body)).unwrap()).await
    };
    let sent = post(format!("{case}/facts"), many).await;
    assert_eq!(sent.status, StatusCode::SEE_OTHER, "{}", sent.text);
    assert_eq!(w.get(&case).await.seq(), "2", "the last value, once");
    for body in ["&n.layer_mm=0.1".repeat(130_000), "&".repeat(1_900_000)] {
        let refused = post(format!("{case}/numbers"), body).await;
        assert_eq!(refused.status, StatusCode::PAYLOAD_TOO_LARGE);
        assert!(
            refused
                .one(".lead")
                .contains("more fields than any of ours")
        );
    }
    // A long unknown word is refused without looking for its neighbours.
    let long = "z".repeat(200_000);
    let fields = [
        ("seq", "2"),
        ("finding", long.as_str()),
        ("state", "present"),
    ];
    let refused = w.post(&format!("{case}/observe"), &fields).await;
    assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(refused.one(".lead").contains("zzz…"));
    w.db.remove().await;
}

#[tokio::test]
async fn numbers_come_back_as_they_were_typed_and_what_has_two_meanings_is_asked_about() {
    let w = workshop().await;
    let case = w.open(&[]).await;
    w.record(&case, "facts", &[("n.layer_mm", "0.1234")]).await;
    let form = w.get(&format!("{case}/facts")).await;
    assert_eq!(
        form.attribute("input[name='n.layer_mm']", "value"),
        "0.1234"
    );
    let seq = form.seq();
    let back = [("seq", seq.as_str()), ("n.layer_mm", "0.1234")];
    assert_eq!(
        w.post(&format!("{case}/facts"), &back).await.status,
        StatusCode::SEE_OTHER
    );
    assert_eq!(
        w.get(&case).await.seq(),
        seq,
        "nothing was said, so nothing is recorded"
    );
    let hours = w
        .post(
            &format!("{case}/hours"),
            &[("hours", "1,500"), ("at", "hot end")],
        )
        .await;
    assert_eq!(hours.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(hours.one("#e-hours").contains("1.5 or as 1500"));
    let odd = [("seq", seq.as_str()), ("n.accel_mm_s2", "1,5,5")];
    assert_eq!(
        w.post(&format!("{case}/facts"), &odd).await.status,
        StatusCode::UNPROCESSABLE_ENTITY
    );
    let walls = [
        ("seq", seq.as_str()),
        ("wall_mm", "0.47, 0.49/0.48"),
        ("set_width_mm", "0.45"),
        ("read", "yes"),
    ];
    let read = w
        .post(&format!("{case}/check/wall-thickness"), &walls)
        .await;
    assert_eq!(read.status, StatusCode::OK, "{:?}", read.all(".error"));
    w.db.remove().await;
}

#[tokio::test]
async fn no_refusal_is_silent() {
    let w = workshop().await;
    let case = w.open(&[("f.layer-step", "present")]).await;
    let seq = w.get(&case).await.seq();
    let long = "x".repeat(130);
    for (path, field, value) in [
        ("facts", "n.nonsense", "5"),
        ("numbers", "n.nonsense", "5"),
        ("facts", "f.nonsense", "present"),
        ("fix/wash-plate", "before", long.as_str()),
        ("hours", "hours", "abc"),
    ] {
        let fields = [("seq", seq.as_str()), (field, value)];
        let refused = w.post(&format!("{case}/{path}"), &fields).await;
        assert_eq!(
            refused.status,
            StatusCode::UNPROCESSABLE_ENTITY,
            "{path} {field}"
        );
        let told: String = refused.all(".error").join("");
        assert!(!told.is_empty(), "{path} {field} is refused without a word");
    }
    w.db.remove().await;
}
