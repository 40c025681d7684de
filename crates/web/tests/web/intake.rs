//! Taking a case in without scripts: touches, heights, what is carried over, what was seen before,
//! pictures, and what bad input gets.

use crate::kit::{Page, Workshop, workshop};
use axum::body::Body;
use axum::http::{Request, StatusCode, header};

pub async fn at(w: &Workshop, case: &str, part: &str) -> Page {
    w.get(&format!("{case}/intake?part={part}")).await
}

#[tokio::test]
async fn a_touch_answers_passes_over_and_says_that_nothing_else_is_wrong() {
    let w = workshop().await;
    let case = w.open(&[("f.onset", "sudden")]).await;
    let band = [("part", "print"), ("at", "band")];
    let to = w
        .record(
            &case,
            "observe",
            &[
                &band[..],
                &[("finding", "layer-step"), ("state", "present")],
            ]
            .concat(),
        )
        .await
        .to
        .unwrap();
    assert!(
        to.ends_with("/intake?part=print&at=band"),
        "back where it was: {to}"
    );
    w.record(
        &case,
        "observe",
        &[
            &band[..],
            &[("finding", "missing-layers"), ("state", "unknown")],
        ]
        .concat(),
    )
    .await;
    let page = w.get(&to).await;
    assert_eq!(
        page.one("#b-missing-layers-unknown[aria-pressed=true]"),
        "Not sure"
    );
    w.record(&case, "rest", &band).await;
    let page = w.get(&to).await;
    assert!(page.text.contains("No, not this (not sure)") && page.all(".rest-form").is_empty());
    assert_eq!(
        page.one("#b-missing-layers-unknown[aria-pressed=true]"),
        "Not sure",
        "what was left open stays open"
    );
    replaced_and_refused(&w, &case).await;
    w.db.remove().await;
}

/// A touch on another answer replaces the first; "not sure" takes it back.
async fn replaced_and_refused(w: &Workshop, case: &str) {
    w.record(
        case,
        "observe",
        &[("finding", "layer-step"), ("state", "unknown")],
    )
    .await;
    assert!(!w.get(case).await.one(".ledger").contains("sideways step"));
    let refused = w
        .post(
            &format!("{case}/observe"),
            &[
                ("seq", "1"),
                ("finding", "nozzle-vs-window"),
                ("state", "above"),
            ],
        )
        .await;
    assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(refused.one(".lead").contains("drawn from the numbers"));
}

#[tokio::test]
async fn questions_say_why_and_are_never_asked_twice() {
    let w = workshop().await;
    let case = w.open(&[("f.layer-step", "present")]).await;
    let page = at(&w, &case, "questions").await;
    let asked = page.ids(".question-card .sign-card");
    assert!(!asked.is_empty() && asked.len() <= 3, "{asked:?}");
    assert!(
        page.all(".why")
            .iter()
            .all(|w| w.contains("Tells ") && w.contains(" s to answer")),
        "{:?}",
        page.all(".why")
    );
    assert!(
        page.all(".question-card .say .then")
            .iter()
            .all(|t| t.contains('%'))
    );
    let finding = page.attribute(".skip-form input[name=finding]", "value");
    w.record(
        &case,
        "pass",
        &[("finding", &finding), ("part", "questions")],
    )
    .await;
    assert!(
        !at(&w, &case, "questions")
            .await
            .ids(".question-card .sign-card")
            .contains(&format!("s-{finding}"))
    );
    w.db.remove().await;
}

#[tokio::test]
async fn the_height_is_typed_checked_and_told_as_a_layer() {
    let w = workshop().await;
    let case = w.open(&[("n.layer_mm", "0.2")]).await;
    let fields = [
        ("fault_mm", "0.945 in"),
        ("piece_mm", "80"),
        ("reach", "upward"),
        ("part", "print"),
    ];
    w.record(&case, "height", &fields).await;
    let page = at(&w, &case, "print").await;
    assert_eq!(page.attribute("#fault_mm", "value"), "24.003");
    assert!(
        page.one(".height").contains("layer 121 at 0.2 mm"),
        "{}",
        page.one(".height")
    );
    assert_eq!(
        page.attribute("input[name=reach][checked]", "value"),
        "upward"
    );
    assert!(w.get(&case).await.text.contains("Only above some height"));
    let seq = w.get(&case).await.seq();
    for (fields, message) in [
        (
            vec![("fault_mm", "90")],
            "cannot be at 90 mm on a piece 80 mm tall",
        ),
        (vec![("fault_mm", "high")], "but \"high\" was given"),
        (vec![("piece_mm", "0")], "between 0.1 and 2000 mm"),
    ] {
        let mut all = vec![("seq", seq.as_str()), ("part", "print")];
        all.extend(fields);
        let page = w.post(&format!("{case}/height"), &all).await;
        assert_eq!(page.status, StatusCode::UNPROCESSABLE_ENTITY);
        assert!(
            page.all(".height .error")
                .iter()
                .any(|e| e.contains(message)),
            "{message}: {:?}",
            page.all(".error")
        );
    }
    w.db.remove().await;
}

#[tokio::test]
async fn spool_and_settings_are_carried_over_only_when_confirmed() {
    let w = workshop().await;
    let first = w
        .open(&[
            ("n.nozzle_c", "262"),
            ("n.bed_c", "80"),
            ("f.strings", "strong"),
            ("f.pops-heard", "present"),
        ])
        .await;
    w.record(
        &first,
        "numbers",
        &[("title", "Strings"), ("spool", "orange, Weir")],
    )
    .await;
    let new = w.get(&format!("/cases/new?machine={}", w.machine)).await;
    let shown = new.one(".carried");
    assert!(
        ["PETG", "orange, Weir", "nozzle temperature 262 °C"]
            .iter()
            .all(|p| shown.contains(p)),
        "{shown}"
    );
    let machine = w.machine.to_string();
    let unconfirmed = w
        .post("/cases", &[("machine", &machine), ("told", "")])
        .await
        .to
        .unwrap();
    let case = unconfirmed.strip_suffix("/intake").unwrap();
    let numbers = at(&w, case, "numbers").await;
    assert_eq!(numbers.attribute("#n-nozzle_c", "value"), "");
    assert!(numbers.one(".carried").contains("262"));
    // Offered again where the numbers are; one touch takes it over, and what lies outside the
    // window is marked at once.
    w.record(case, "carry", &[("part", "numbers")]).await;
    let numbers = at(&w, case, "numbers").await;
    assert!(numbers.all(".carried").is_empty());
    assert!(
        numbers.one(".outside").contains("above the window"),
        "{}",
        numbers.one(".outside")
    );
    assert_eq!(numbers.attribute("#spool", "value"), "orange, Weir");
    assert!(
        w.get(case)
            .await
            .all(".ledger-rows th")
            .iter()
            .all(|t| !t.contains("trings")),
        "signs are not carried over"
    );
    w.db.remove().await;
}

#[tokio::test]
async fn a_case_seen_before_is_offered_with_what_fixed_it() {
    let w = workshop().await;
    let facts = [
        ("f.layer-step", "present"),
        ("f.onset", "sudden"),
        ("f.axis", "y"),
    ];
    let past = w.open(&facts).await;
    w.record(&past, "check/pulley-mark", &[("outcome", "slips")])
        .await;
    w.record(&past, "fix/tighten-pulley", &[("minutes", "8")])
        .await;
    w.record(&past, "struck", &[("often", "every")]).await;
    w.record(&past, "verify", &[("result", "cured")]).await;
    w.record(
        &past,
        "close",
        &[
            ("outcome", "fixed-and-verified"),
            ("cause", "pulley-slips"),
            ("fix", "tighten-pulley"),
        ],
    )
    .await;
    let case = w.open(&[("f.layer-step", "present")]).await;
    let page = at(&w, &case, "print").await;
    let before = page.one(".before li");
    for part in [
        "Joint, one step",
        "this machine",
        "loose pulley",
        "tighten the pulley on its shaft",
        "One sideways step",
    ] {
        assert!(
            before.to_lowercase().contains(&part.to_lowercase()),
            "{part} in {before}"
        );
    }
    let other = page.attribute(".before input[name=as]", "value");
    assert!(page.one(".before details").contains("Along Y"));
    let untouched = w.get(&case).await.text;
    w.record(&case, "same", &[("as", &other), ("part", "print")])
        .await;
    assert!(
        !w.get(&case).await.text.contains("Along Y") && !untouched.contains("Along Y"),
        "nothing is taken over unasked"
    );
    let ticked = [("as", other.as_str()), ("part", "print"), ("take", "axis")];
    w.record(&case, "same", &ticked).await;
    let text = w.get(&case).await.text;
    assert!(text.contains("Along Y") && text.contains("its signs and pattern taken over"));
    assert!(
        !text.contains("the pulley has turned"),
        "another machine's check says nothing of this case"
    );
    w.db.remove().await;
}

#[tokio::test]
async fn what_is_missing_is_named_with_what_it_would_narrow() {
    let w = workshop().await;
    let case = w.open(&[("f.strings", "strong")]).await;
    let page = at(&w, &case, "print").await;
    let missing = page.all(".missing li");
    assert!(
        missing.iter().any(|m| m.contains("Nozzle temperature"))
            && missing.iter().all(|m| m.contains("to about ")
                || m.ends_with("picture of the fault for whoever helps")),
        "{missing:?}"
    );
    let question = |page: &Page| {
        page.one(".missing .hint")
            .split_whitespace()
            .nth(1)
            .unwrap()
            .parse::<f64>()
            .unwrap()
    };
    let before = question(&page);
    w.record(
        &case,
        "facts",
        &[
            ("f.pops-heard", "present"),
            ("n.nozzle_c", "240"),
            ("f.onset", "gradual"),
        ],
    )
    .await;
    assert!(question(&at(&w, &case, "print").await) < before);
    w.db.remove().await;
}

#[tokio::test]
async fn hours_of_parts_are_counted_and_never_run_backwards() {
    let w = workshop().await;
    let case = w.open(&[]).await;
    let hot_end = format!("{case}/intake?part=machine&at=hot%20end");
    assert!(
        w.get(&hot_end)
            .await
            .one(".hours")
            .contains("hours not known")
    );
    w.record(&case, "hours", &[("hours", "812,5"), ("at", "hot end")])
        .await;
    w.record(&case, "fitted", &[("fitted", "nozzle"), ("at", "hot end")])
        .await;
    let back = w
        .record(&case, "hours", &[("hours", "840"), ("at", "hot end")])
        .await
        .to
        .unwrap();
    let hours = w.get(&back).await.all(".hours tr");
    assert!(
        hours.iter().any(|r| r.contains("Nozzle 28 h fitted"))
            && hours.iter().any(|r| r.contains("Part fan 840 h")),
        "{hours:?}"
    );
    let late = w
        .post(
            &format!("{case}/hours"),
            &[("hours", "12"), ("at", "hot end")],
        )
        .await;
    assert_eq!(late.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(
        late.one("#e-hours").contains("showed 840 hours before")
            && late.attribute("#hours", "value") == "12"
    );
    w.db.remove().await;
}

#[tokio::test]
async fn the_intake_is_light() {
    let w = workshop().await;
    let case = w.open(&[("f.layer-step", "present")]).await;
    for address in [
        "print&at=wall",
        "machine&at=hot%20end",
        "questions",
        "numbers",
        "words",
        "pictures",
    ] {
        let request = Request::get(format!("{case}/intake?part={address}"))
            .header(header::ACCEPT_ENCODING, "identity");
        let page = w.send(request.body(Body::empty()).unwrap()).await;
        assert!(
            page.text.len() < 300_000,
            "{address}: {} bytes",
            page.text.len()
        );
    }
    w.db.remove().await;
}
