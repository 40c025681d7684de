//! Who may ask, by which name, and how much at once.

use crate::kit::{Workshop, described, workshop};
use axum::body::Body;
use axum::http::{Method, Request, StatusCode, header};
use suspect_store::Uuid;

#[tokio::test]
async fn a_foreign_name_of_this_computer_reads_and_writes_nothing() {
    let w = workshop().await;
    let case = w.open(&[]).await;
    let before = w.get(&case).await.seq();
    let ask = async |method: Method, path: &str, hosts: &[&str]| {
        let mut request = Request::builder().method(method).uri(path);
        for host in hosts {
            request = request.header(header::HOST, *host);
        }
        let request = request
            .header(header::CONTENT_TYPE, "application/x-www-form-urlencoded")
            .body(Body::from(format!("seq={before}&text=stolen")))
            .unwrap();
        let answer = tower::ServiceExt::oneshot(w.pages.clone(), request)
            .await
            .unwrap();
        answer.status()
    };
    let note = format!("{case}/note");
    let foreign: [&[&str]; 6] = [
        &["evil.example"],
        &["evil.example:8080"],
        &[],
        &["localhost", "evil.example"],
        &["evil.example@127.0.0.1"],
        &["192.168.1.5"],
    ];
    for hosts in foreign {
        let read = ask(Method::GET, &case, hosts).await;
        assert_eq!(read, StatusCode::MISDIRECTED_REQUEST, "{hosts:?}");
        let written = ask(Method::POST, &note, hosts).await;
        assert_eq!(written, StatusCode::MISDIRECTED_REQUEST, "{hosts:?}");
    }
    let absolute = format!("http://evil.example{case}");
    let read = ask(Method::GET, &absolute, &["localhost"]).await;
    assert_eq!(read, StatusCode::MISDIRECTED_REQUEST);
    assert_eq!(w.get(&case).await.seq(), before);
    for ours in ["localhost:8080", "127.0.0.1", "[::1]:9"] {
        assert_eq!(
            ask(Method::GET, &case, &[ours]).await,
            StatusCode::OK,
            "{ours}"
        );
    }
    w.db.remove().await;
}

#[tokio::test]
async fn odd_addresses_get_our_page_and_never_reach_the_database() {
    let w = workshop().await;
    let case = w.open(&[]).await;
    for (path, status) in [
        ("/records?cause=%00".to_string(), StatusCode::BAD_REQUEST),
        (
            "/records?outcome=a%00b".to_string(),
            StatusCode::BAD_REQUEST,
        ),
        ("/help/%00".to_string(), StatusCode::BAD_REQUEST),
        ("/cases/%ff%fe".to_string(), StatusCode::BAD_REQUEST),
        (format!("{case}/check/%ff"), StatusCode::BAD_REQUEST),
        ("/static/nothing.css".to_string(), StatusCode::NOT_FOUND),
        ("/machines/none".to_string(), StatusCode::NOT_FOUND),
        (
            format!("{case}/pictures/{}/full.jpg", Uuid::now_v7()),
            StatusCode::NOT_FOUND,
        ),
    ] {
        let page = w.get(&path).await;
        assert_eq!(page.status, status, "{path}");
        assert!(!page.one("h1").is_empty(), "{path} has no page of ours");
    }
    let body = Body::from("token=%00");
    let request = Request::post(format!("{case}/links/revoke"))
        .header(header::CONTENT_TYPE, "application/x-www-form-urlencoded");
    let revoked = w.send(request.body(body).unwrap()).await;
    assert!(revoked.status.is_client_error(), "{}", revoked.status);
    let method = Request::delete("/static/app.css")
        .body(Body::empty())
        .unwrap();
    assert_eq!(w.send(method).await.one("h1"), "Not this way");
    w.db.remove().await;
}

#[tokio::test]
async fn who_is_at_the_screen_is_remembered_here_and_stands_beside_what_they_record() {
    let w = workshop().await;
    let case = w.open(&[]).await;
    let raw = async |path: &str, body: &str, cookie: &str| {
        let request = Request::post(path)
            .header(header::HOST, "localhost")
            .header(header::CONTENT_TYPE, "application/x-www-form-urlencoded")
            .header(header::COOKIE, cookie)
            .body(Body::from(body.to_string()))
            .unwrap();
        let answer = tower::ServiceExt::oneshot(w.pages.clone(), request)
            .await
            .unwrap();
        let set = answer.headers().get_all(header::SET_COOKIE).iter();
        let set: Vec<String> = set.map(|c| c.to_str().unwrap().to_string()).collect();
        (answer.status(), set)
    };
    let (status, set) = raw("/me", "new=M.+Reed&back=%2Frecords", "").await;
    assert_eq!(status, StatusCode::SEE_OTHER);
    assert!(
        set.iter()
            .all(|c| c.contains("HttpOnly") && c.contains("SameSite=Lax"))
    );
    let cookie = set
        .iter()
        .map(|c| c.split(';').next().unwrap())
        .collect::<Vec<_>>()
        .join("; ");
    let seq = w.get(&case).await.seq();
    raw(
        &format!("{case}/note"),
        &format!("seq={seq}&text=slack"),
        &cookie,
    )
    .await;
    assert!(w.get(&case).await.one(".history .by").contains("M. Reed"));
    let request = Request::get(&case)
        .header(header::COOKIE, &cookie)
        .body(Body::empty())
        .unwrap();
    assert!(
        w.send(request)
            .await
            .one("#who")
            .contains("You are M. Reed")
    );
    let (status, _) = raw("/me", "new=%E2%80%8B7", "").await;
    assert_eq!(
        status,
        StatusCode::UNPROCESSABLE_ENTITY,
        "no words, no name"
    );
    let (_, set) = raw("/me/nobody", "back=%2F", &cookie).await;
    assert!(
        set.iter()
            .any(|c| c.starts_with("us-who=;") && c.contains("Max-Age=0"))
    );
    w.db.remove().await;
}

#[tokio::test]
async fn days_and_hours_are_told_in_the_workshops_zone() {
    let w = workshop().await;
    let state = w.state.clone().with_clock(|| {
        time::OffsetDateTime::from_unix_timestamp(1_764_200_000).unwrap() // 26 Nov 2025, 23:33 UTC
    });
    let w = Workshop {
        pages: suspect_web::router(state.clone(), suspect_web::Hosts::default()),
        state,
        ..w
    };
    let case = w.open(&[]).await;
    let zone = async |name: &str| {
        let seq = w.get("/workshop").await.seq();
        let fields = [("seq", seq.as_str()), ("time_zone", name), ("tool", "pen")];
        w.post("/workshop", &fields).await.status
    };
    assert_eq!(zone("Nowhere/Land").await, StatusCode::UNPROCESSABLE_ENTITY);
    assert_eq!(zone("UTC").await, StatusCode::SEE_OTHER);
    assert!(
        w.get(&case)
            .await
            .attribute(".history time", "title")
            .contains("26 Nov 2025, 23:33")
    );
    assert_eq!(zone("Pacific/Auckland").await, StatusCode::SEE_OTHER);
    assert!(
        w.get(&case)
            .await
            .attribute(".history time", "title")
            .contains("27 Nov 2025, 12:33")
    );
    w.db.remove().await;
}

#[tokio::test]
async fn a_picture_taken_back_is_gone_from_its_address_and_from_links() {
    let w = workshop().await;
    let case = w.open(&[]).await;
    let scene = suspect_pictures::render::Scene {
        colour: [60, 110, 160],
        flaw: suspect_pictures::render::Flaw::Clean,
        lamp: 1.0,
        blur: 0,
    };
    let photo = suspect_pictures::render::photo(&scene);
    w.upload(&case, &[("a.jpg", &photo)]).await;
    let page = w.get(&format!("{case}/intake?part=pictures")).await;
    let small = page.attribute(".picture-cards img", "src");
    let (kind, bytes) = w.pages_raw(&small).await;
    assert!(kind == "image/jpeg" && bytes.len() > 1000);
    let entry = page.attribute(".picture-cards form input[name=entry]", "value");
    w.record(&case, "retract", &[("entry", &entry)]).await;
    assert_eq!(w.get(&small).await.status, StatusCode::NOT_FOUND);
    w.db.remove().await;
}

#[tokio::test]
async fn a_hundred_tellings_are_read_once_each_and_one_more_is_refused_in_words() {
    let w = workshop().await;
    let case = w.open(&[]).await;
    for n in 0..100 {
        let text = format!("the feeder clicks for the {n}th time and there are gaps in the top");
        w.record(&case, "tell", &[("text", &text)]).await;
    }
    let page = w.get(&format!("{case}/intake?part=words")).await;
    assert_eq!(page.status, StatusCode::OK);
    let seq = w.get(&case).await.seq();
    let more = w
        .post(
            &format!("{case}/tell"),
            &[("seq", &seq), ("text", "and again")],
        )
        .await;
    assert_eq!(more.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(more.one(".error").contains("100 tellings") && more.text.contains("and again"));
    w.db.remove().await;
}

#[tokio::test]
async fn machines_of_look_alike_names_are_refused_and_a_busy_floor_counts_the_rest() {
    let w = workshop().await;
    let fields = [("name", "T\u{435}al"), ("model", "Raft 200")];
    let alike = w.post("/machines", &fields).await;
    assert!(
        alike
            .one(".error")
            .contains("Teal stands on the floor already")
    );
    for _ in 0..5 {
        w.open(&[]).await;
    }
    let floor = w.get("/").await;
    assert_eq!(floor.all(".case-strip").len(), 3);
    assert!(floor.one(".machine-more").contains("and 2 more"));
    let machine = w.get(&floor.attribute(".machine-more a", "href")).await;
    assert_eq!(machine.all(".case-strip").len(), 5);
    let _ = described("Teal", "Skerry 300", &[]);
    w.db.remove().await;
}
