//! How a case begins: in an empty workshop, with a photo, with a place, beside a twin.

use crate::kit::{described, empty_workshop, workshop};
use axum::http::StatusCode;
use suspect_store::Uuid;

#[tokio::test]
async fn an_empty_workshop_asks_what_is_wrong_and_nothing_else() {
    let w = empty_workshop().await;
    let floor = w.get("/").await;
    assert_eq!(floor.one("h1"), "What is wrong with your print?");
    assert_eq!(floor.all("input[name=machine]").len(), 0);
    let opened = w
        .post("/cases", &[("told", "hairs everywhere between the towers")])
        .await;
    let intake = opened.to.unwrap();
    let page = w.get(&intake).await;
    assert!(page.one("main").contains("My printer"), "{}", page.text);
    assert!(!page.all("#proposals li").is_empty(), "read from the words");
    // The machine came with the case; the second case never asks for it.
    assert!(w.get("/").await.one(".machine h2").contains("My printer"));
    let new = w.get("/cases/new").await;
    assert_eq!(new.all("input[name=machine]").len(), 0);
    let second = w.post("/cases", &[("told", ""), ("at", "foot")]).await;
    assert!(second.to.unwrap().ends_with("part=print&at=foot"));
    assert_eq!(w.get("/").await.all(".machine").len(), 1);
    w.db.remove().await;
}

#[tokio::test]
async fn a_twin_is_asked_about_before_it_is_made() {
    let w = workshop().await;
    let machine = w.machine.to_string();
    let case = w.open(&[("f.strings", "strong")]).await;
    let told = "long strings between the posts";
    let asked = w
        .post("/cases", &[("machine", machine.as_str()), ("told", told)])
        .await;
    assert_eq!(asked.status, StatusCode::UNPROCESSABLE_ENTITY);
    let question = asked.one(".twins");
    assert!(
        question.contains("C-001") && question.contains("today"),
        "{question}"
    );
    assert!(asked.one("#told").contains(told), "the words stay");
    // Yes: the words go to the open case, and no second one is made.
    let id = asked.attribute("button[name=join]", "value");
    assert!(case.ends_with(&id));
    let yes = w
        .post("/cases", &[("told", told), ("join", id.as_str())])
        .await;
    assert!(yes.to.unwrap().starts_with(&case));
    let history = w.get(&case).await.all(".history .what");
    assert!(history.iter().any(|l| l.contains(told)), "{history:?}");
    assert!(w.get("/").await.text.contains("1 open case"));
    // Other words are another trouble; and "no" opens it all the same.
    let fields = [
        ("machine", machine.as_str()),
        ("told", "the corners lift off the plate"),
    ];
    assert_eq!(
        w.post("/cases", &fields).await.status,
        StatusCode::SEE_OTHER
    );
    let fields = [
        ("machine", machine.as_str()),
        ("told", told),
        ("twin", "no"),
    ];
    assert_eq!(
        w.post("/cases", &fields).await.status,
        StatusCode::SEE_OTHER
    );
    w.db.remove().await;
}

#[tokio::test]
async fn a_photo_begins_a_case_and_a_bad_one_is_told_on_it() {
    let w = workshop().await;
    let send = async |name: &str, bytes: &[u8]| {
        let mut body = Vec::new();
        let machine = w.machine.to_string();
        for (name, value) in [("machine", machine.as_str()), ("told", "")] {
            let part = format!(
                "--edge\r\nContent-Disposition: form-data; name=\"{name}\"\r\n\r\n{value}\r\n"
            );
            body.extend(part.bytes());
        }
        let head = format!(
            "--edge\r\nContent-Disposition: form-data; name=\"files\"; \
             filename=\"{name}\"\r\nContent-Type: image/jpeg\r\n\r\n"
        );
        body.extend(head.bytes());
        body.extend_from_slice(bytes);
        body.extend(b"\r\n--edge--\r\n");
        let request = axum::http::Request::post("/cases")
            .header("content-type", "multipart/form-data; boundary=edge");
        w.send(request.body(body.into()).unwrap()).await
    };
    let good = send("hairs.jpg", &crate::pictures::shot(0)).await;
    let case = good.to.unwrap();
    let case = case.split("/intake").next().unwrap();
    assert_eq!(w.get(case).await.all(".picture-strip li").len(), 1);
    let bad = send("notes.txt", b"not a picture").await;
    assert_eq!(bad.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(bad.one(".error").contains("notes.txt"), "{}", bad.text);
    assert!(bad.one("h1").contains("C-002"), "the case is there");
    // No file chosen is no picture and no error.
    assert_eq!(send("", b"").await.status, StatusCode::SEE_OTHER);
    w.db.remove().await;
}

#[tokio::test]
async fn a_new_case_says_which_machines_are_locked() {
    let w = workshop().await;
    w.second_machine().await;
    w.open(&[("f.wires-loose-at-block", "present")]).await;
    let chips = w.get("/cases/new").await.all(".machine-chip.locked");
    assert!(
        chips[0].contains("Teal") && chips[0].contains("Locked"),
        "{chips:?}"
    );
    assert_eq!(chips.len(), 1);
    let none = w.post("/cases", &[("told", "gaps")]).await;
    assert_eq!(none.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(none.one(".error").contains("Choose the machine"));
    assert!(none.one("#told").contains("gaps"));
    w.db.remove().await;
}

#[tokio::test]
async fn a_machine_is_built_by_touching_pictures() {
    let w = workshop().await;
    let page = w.get("/machines/new?kind=box&name=Smew").await;
    let chosen = |field: &str| page.attribute(&format!("input[name={field}][checked]"), "value");
    assert_eq!(chosen("motion"), "crossed-belt");
    assert_eq!(chosen("enclosure"), "closed");
    assert_eq!(
        chosen("carriage"),
        "",
        "what a kind does not say stays open"
    );
    assert_eq!(
        page.attribute("#name", "value"),
        "Smew",
        "what was typed stays"
    );
    let with = |feed: &str| format!("/machines/new?feed={feed}");
    let drawing = async |feed: &str| {
        let page = w.get(&with(feed)).await;
        let at = page.text.find("build-drawing").unwrap();
        page.text[at..at + 3000].to_string()
    };
    assert_ne!(
        drawing("direct").await,
        drawing("bowden").await,
        "the drawing follows"
    );
    // Nothing but a name: ten unknown answers are fine.
    let added = w.post("/machines", &[("name", "Smew"), ("feed", "")]).await;
    assert_eq!(added.status, StatusCode::SEE_OTHER, "{}", added.text);
    let id = Uuid::now_v7();
    let k = &w.state.knowledge;
    let at = time::OffsetDateTime::UNIX_EPOCH;
    let coot = described("Coot", "", &[("feed", "bowden")]);
    w.db.store.add_machine(k, id, &coot, at).await.unwrap();
    let edit = w.get(&format!("/machines/{id}/edit?motion=delta")).await;
    assert_eq!(
        edit.attribute("input[name=feed][checked]", "value"),
        "bowden"
    );
    assert_eq!(
        edit.attribute("input[name=motion][checked]", "value"),
        "delta"
    );
    w.db.remove().await;
}
