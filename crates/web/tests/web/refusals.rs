//! What bad input gets: its reason beside its field, and everything kept.

use crate::kit::{Page, workshop};
use axum::body::Body;
use axum::http::{Request, StatusCode, header};

/// Stands in a table for a text of a hundred thousand letters.
const LONG: &str = "<long>";

/// What is sent for a value of a table.
fn sent(value: &str) -> String {
    match value {
        LONG => "x".repeat(100_000),
        value => value.to_string(),
    }
}

/// Field, value, where the message stands, what it says.
type Wrong = (&'static str, &'static str, &'static str, &'static str);

const WRONG_NEW_CASES: [Wrong; 3] = [
    ("told", LONG, "#e-told", "100000 characters: at most 2000"),
    ("machine", "", "#e-machine", "Choose the machine"),
    ("machine", "nonsense", "#e-machine", "no such machine"),
];

/// The same with the form before it.
const WRONG_FACTS: [(&str, Wrong); 11] = [
    (
        "facts",
        (
            "n.nozzle_c",
            "2000",
            "#e-nozzle_c",
            "between 0 and 500 °C, but 2000 °C was given",
        ),
    ),
    (
        "facts",
        (
            "f.layer-step",
            "sideways",
            "#q-layer-step .error",
            "is no state of `layer-step`",
        ),
    ),
    (
        "facts",
        (
            "f.no-such-sign",
            "present",
            "main > .error",
            "is no known sign",
        ),
    ),
    (
        "facts",
        ("t.0.fix", "tension-belt", ".group .error", "Choose both"),
    ),
    (
        "numbers",
        (
            "n.layer_mm",
            "20",
            "#w-layer_mm .error",
            "between 0.02 and 2 mm, but 20 mm was given",
        ),
    ),
    (
        "numbers",
        (
            "n.layer_mm",
            "0.008",
            "#w-layer_mm .error",
            "if that is in inches, write 0.008 in",
        ),
    ),
    (
        "numbers",
        (
            "n.bed_c",
            "NaN",
            "#w-bed_c .error",
            "must be a number between 0 and 200 °C",
        ),
    ),
    (
        "numbers",
        (
            "n.speed_mm_s",
            "fast",
            "#w-speed_mm_s .error",
            "but \"fast\" was given",
        ),
    ),
    (
        "numbers",
        (
            "material",
            "cheese",
            ".field.wrong .error",
            "is not known for `material`",
        ),
    ),
    (
        "numbers",
        (
            "title",
            LONG,
            ".field.wrong .error",
            "100000 characters: at most 120",
        ),
    ),
    (
        "numbers",
        (
            "m.feed",
            "sideways",
            "main .error",
            "is not known for `feed`",
        ),
    ),
];

#[tokio::test]
async fn a_new_case_that_makes_no_sense_comes_back_with_everything_kept() {
    let w = workshop().await;
    w.second_machine().await;
    let machine = w.machine.to_string();
    for (field, value, selector, message) in WRONG_NEW_CASES {
        let value = sent(value);
        let mut fields = vec![
            ("machine", machine.as_str()),
            ("told", "Kept words"),
            ("still_so", "yes"),
        ];
        fields.retain(|(f, _)| *f != field);
        fields.push((field, &value));
        let page = w.post("/cases", &fields).await;
        refused(&page, field, selector, message);
        assert!(
            page.text.contains("Kept words") || page.one("#told").len() == 100_000,
            "what was typed comes back"
        );
    }
    assert!(
        w.db.store.floor_cases().await.unwrap().shown.is_empty(),
        "nothing was stored"
    );
    w.db.remove().await;
}

/// A page that says beside a field what is wrong with it.
fn refused(page: &Page, field: &str, selector: &str, message: &str) {
    assert_eq!(page.status, StatusCode::UNPROCESSABLE_ENTITY, "{field}");
    assert!(
        page.all(selector).iter().any(|e| e.contains(message)),
        "{field}: {:?}",
        page.all(".error")
    );
}

#[tokio::test]
async fn facts_that_make_no_sense_come_back_beside_their_field_with_everything_kept() {
    let w = workshop().await;
    let case = w.open(&[]).await;
    let seq = w.get(&case).await.seq();
    for (form, (field, value, selector, message)) in WRONG_FACTS {
        let value = sent(value);
        let kept = if form == "facts" {
            [("f.onset", "sudden"), ("n.bed_c", "61")]
        } else {
            [("title", "Kept title"), ("spool", "kept spool")]
        };
        let mut fields = vec![("seq", seq.as_str())];
        fields.extend(kept.into_iter().filter(|(f, _)| *f != field));
        fields.push((field, &value));
        let page = w.post(&format!("{case}/{form}"), &fields).await;
        refused(&page, field, selector, message);
        let (selector, attribute, kept) = match form {
            "facts" => ("input[name='f.onset'][checked]", "value", "sudden"),
            _ => ("#spool", "value", "kept spool"),
        };
        assert_eq!(page.attribute(selector, attribute), kept);
    }
    assert_eq!(w.get(&case).await.seq(), seq, "nothing was stored");
    let note = [("seq", seq.as_str()), ("text", &sent(LONG))];
    let note = w.post(&format!("{case}/note"), &note).await;
    refused(&note, "text", ".error", "100000 characters: at most 2000");
    assert_eq!(note.one("textarea").len(), 100_000);
    w.db.remove().await;
}

#[tokio::test]
async fn wrong_addresses_methods_and_kinds_get_a_page_with_a_way_back() {
    let w = workshop().await;
    let case = w.open(&[]).await;
    let unknown = format!("/cases/{}", suspect_store::Uuid::now_v7());
    for path in [
        "/nowhere",
        "/cases/17",
        unknown.as_str(),
        "/suspects/nobody",
        &format!("{case}/check/nothing"),
        &format!("{case}/fix/nothing"),
        &format!("{case}/stop/nothing"),
    ] {
        let page = w.get(path).await;
        assert_eq!(page.status, StatusCode::NOT_FOUND, "{path}");
        assert!(!page.attribute("main .button", "href").is_empty());
    }
    assert_eq!(w.get("/cases").await.status, StatusCode::METHOD_NOT_ALLOWED);
    let json = Request::post("/cases")
        .header(header::CONTENT_TYPE, "application/json")
        .body(Body::from("{"))
        .unwrap();
    assert_eq!(
        w.send(json).await.status,
        StatusCode::UNSUPPORTED_MEDIA_TYPE
    );
    let huge = Request::post("/cases")
        .header(header::CONTENT_TYPE, "application/x-www-form-urlencoded")
        .body(Body::from("x".repeat(3_000_000)))
        .unwrap();
    assert_eq!(w.send(huge).await.status, StatusCode::PAYLOAD_TOO_LARGE);
    let missing = w
        .post(&format!("{case}/check/pulley-mark"), &[("seq", "1")])
        .await;
    assert_eq!(
        (missing.status, missing.one(".error")),
        (
            StatusCode::UNPROCESSABLE_ENTITY,
            "Choose what you saw.".into()
        )
    );
    let unknown = w
        .post(
            &format!("{case}/check/pulley-mark"),
            &[("seq", "1"), ("outcome", "slipss")],
        )
        .await;
    assert!(unknown.one(".error").contains("did you mean `slips`?"));
    let early = w
        .post(
            &format!("{case}/verify"),
            &[("seq", "1"), ("result", "cured")],
        )
        .await;
    assert_eq!(early.status, StatusCode::UNPROCESSABLE_ENTITY);
    w.db.remove().await;
}

#[tokio::test]
async fn forms_from_other_sites_are_refused_with_a_page() {
    let w = workshop().await;
    let case = w.open(&[]).await;
    let foreign = |name: &'static str, value: &'static str| {
        let request = Request::post(format!("{case}/note"))
            .header(header::HOST, "127.0.0.1:8080")
            .header(name, value);
        request
            .header(header::CONTENT_TYPE, "application/x-www-form-urlencoded")
            .body(Body::from("seq=1&text=gotcha"))
            .unwrap()
    };
    for (name, value) in [
        ("sec-fetch-site", "cross-site"),
        ("origin", "https://elsewhere.example"),
    ] {
        let page = w.send(foreign(name, value)).await;
        assert_eq!(page.status, StatusCode::FORBIDDEN, "{name}");
        assert!(page.text.contains("sent from another site"));
    }
    assert!(!w.get(&case).await.text.contains("gotcha"));
    let own = w.send(foreign("sec-fetch-site", "same-origin")).await;
    assert_eq!(own.status, StatusCode::SEE_OTHER);
    w.db.remove().await;
}

#[tokio::test]
async fn what_people_type_is_never_taken_for_markup() {
    let w = workshop().await;
    let case = w.open(&[("f.strings", "none")]).await;
    let seq = w.get(&case).await.seq();
    w.post(
        &format!("{case}/note"),
        &[("seq", &seq), ("text", "<script>alert(1)</script>")],
    )
    .await;
    let page = w.get(&case).await;
    assert!(
        page.one(".history li .what")
            .contains("<script>alert(1)</script>")
    );
    assert!(!page.text.contains("<script>alert"));
    w.db.remove().await;
}

#[tokio::test]
async fn the_database_gone_gives_a_clear_page_and_none_of_its_text() {
    let w = workshop().await;
    let case = w.open(&[]).await;
    w.state.store.clone().close().await;
    for page in [
        w.get("/").await,
        w.get(&case).await,
        w.post(&format!("{case}/note"), &[("seq", "1"), ("text", "x")])
            .await,
    ] {
        assert_eq!(page.status, StatusCode::SERVICE_UNAVAILABLE);
        assert!(page.one(".lead").contains("does not answer"));
        for inner in ["sqlx", "Pool", "postgres", "SELECT"] {
            assert!(!page.text.contains(inner), "{inner}");
        }
    }
}
