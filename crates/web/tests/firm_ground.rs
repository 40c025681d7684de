//! A locked machine is told so everywhere; a touch counts once; hosts, forms and addresses of odd
//! making; who was here.

mod common;

use axum::body::Body;
use axum::http::{Method, Request, StatusCode, header};
use common::{Page, Workshop, described, workshop};
use std::collections::BTreeSet;
use suspect_core::machine::MachineEvent;
use suspect_store::Uuid;

/// Words by which a page would have somebody print, heat or move the machine.
const ADVICE: [&str; 9] = [
    "Prove it by printing",
    "Print and compare",
    "Next best step",
    "First step as it looks now",
    "Lead me through it",
    "Show me how",
    "The first step",
    "within 30 min",
    "It prints: wait",
];

/// Every page and file below a case, found by following its links.
async fn all_below(w: &Workshop, case: &str) -> Vec<(String, Page)> {
    let machine = format!("/machines/{}", w.machine);
    let mut open: Vec<String> = [
        "",
        "/intake",
        "/brief",
        "/brief.md",
        "/plan",
        "/stuck",
        "/facts",
    ]
    .iter()
    .chain(&[
        "/close",
        "/verify",
        "/move",
        "/fix/tighten-pulley",
        "/check/belt-pluck",
    ])
    .chain(&[
        "/check/cold-pull?step=2",
        "/intake?part=words",
        "/intake?part=numbers",
    ])
    .map(|below| format!("{case}{below}"))
    .collect();
    open.extend([
        "/".to_string(),
        machine.clone(),
        format!("{machine}/before"),
    ]);
    let links = w
        .state
        .store
        .help_links(case.rsplit('/').next().unwrap().parse().unwrap())
        .await;
    open.extend(links.unwrap().iter().map(|l| format!("/help/{}", l.token)));
    let mut seen = BTreeSet::new();
    let mut pages = Vec::new();
    while let Some(path) = open.pop() {
        if !seen.insert(path.clone()) || seen.len() > 120 {
            continue;
        }
        let page = w.get(&path).await;
        for link in page.links() {
            let link = link.split('#').next().unwrap_or_default().to_string();
            if link.starts_with(case) && !link.ends_with(".jpg") {
                open.push(link);
            }
        }
        pages.push((path, page));
    }
    pages
}

async fn nothing_runs_the_machine(w: &Workshop, case: &str) {
    let pages = all_below(w, case).await;
    assert!(pages.len() > 20, "{}", pages.len());
    for (path, page) in pages {
        let said = page.text.to_lowercase().contains("locked");
        assert!(
            said,
            "{path} does not say that the machine is locked: {}",
            page.text
        );
        for advice in ADVICE {
            // A case of its own stop names the check that leads to its clearing.
            assert!(!page.text.contains(advice), "{path} says \"{advice}\"");
        }
        for selector in [".outcomes .outcome", "form[action$='/verify']", ".guide"] {
            let there = page.all(selector);
            assert!(there.is_empty(), "{path}: {selector} {there:?}");
        }
    }
}

#[tokio::test]
async fn no_page_paper_or_file_of_a_locked_machine_tells_to_print_heat_or_move() {
    let w = workshop().await;
    // Three cases of one machine: looking, waiting for its proof, proved; a fourth locks it.
    let mut cases = Vec::new();
    for n in 0..3 {
        let case = w
            .open(&[("f.layer-step", "present"), ("f.onset", "sudden")])
            .await;
        w.record(&case, "links", &[]).await;
        if n > 0 {
            w.record(&case, "fix/tighten-pulley", &[("minutes", "8")])
                .await;
        }
        if n > 1 {
            w.record(&case, "verify", &[("result", "cured")]).await;
        }
        cases.push(case);
    }
    let locking = w.open(&[("f.burnt-smell", "present")]).await;
    for case in &cases {
        nothing_runs_the_machine(&w, case).await;
        // The floor's own summary and the brief name the case that holds it.
        let brief = String::from_utf8(w.pages_raw(&format!("{case}/brief.md")).await.1).unwrap();
        assert!(brief.contains("locked by C-004"), "{brief}");
    }
    assert_eq!(
        w.get("/")
            .await
            .all(".strip-line.next")
            .iter()
            .filter(|n| n.contains("C-004"))
            .count(),
        2
    );
    // Lifted, everything goes on where it was.
    w.lift(&locking, "burning", "M. Reed", "New plug and socket")
        .await;
    assert!(w.get(&cases[1]).await.text.contains("Prove it by printing"));
    assert!(
        w.get(&cases[0])
            .await
            .one(".next")
            .contains("Next best step")
    );
    w.db.remove().await;
}

#[tokio::test]
async fn a_machine_locked_by_its_build_is_told_so_everywhere_and_freed_by_changing_it() {
    let w = workshop().await;
    let case = w.open(&[("f.layer-step", "present")]).await;
    w.record(&case, "fix/tighten-pulley", &[("minutes", "8")])
        .await;
    w.record(&case, "links", &[]).await;
    let machine = format!("/machines/{}", w.machine);
    let edit = format!("{machine}/edit");
    let profile = [
        ("name", "Teal"),
        ("model", "Barge 340"),
        ("feed", "direct"),
        ("hotend", "all-metal"),
        ("motion", "crossed-belt"),
        ("levelling", "probe"),
    ];
    let send = async |extra: &[(&str, &str)]| {
        let seq = w.get(&edit).await.seq();
        let mut fields = vec![("seq", seq.as_str())];
        fields.extend(profile);
        fields.extend(extra);
        w.post(&edit, &fields).await
    };
    assert_eq!(
        send(&[("board_age", "unprotected")]).await.status,
        StatusCode::SEE_OTHER
    );
    nothing_runs_the_machine(&w, &case).await;
    let stop = format!("{machine}/stop/no-runaway-protection");
    assert!(w.get(&case).await.links().contains(&stop));
    assert!(w.get(&stop).await.one(".stop-box").contains("runaway"));
    let tag = w.get(&format!("{stop}/tag")).await;
    assert!(tag.one(".tag").contains("since ") && tag.one(".tag-address").ends_with(&machine));
    // The change that ends the stop takes a name, a reason and each step.
    let asked = send(&[("board_age", "protected")]).await;
    assert_eq!(asked.status, StatusCode::UNPROCESSABLE_ENTITY);
    let steps = asked.all("input[name=seen]").len();
    assert!(steps > 3 && asked.text.contains("This change ends a stop"));
    let ticks: Vec<String> = (1..=steps).map(|n| n.to_string()).collect();
    let mut all = vec![
        ("board_age", "protected"),
        ("by", "M. Reed"),
        ("reason", "New board"),
    ];
    all.extend(ticks.iter().skip(1).map(|n| ("seen", n.as_str())));
    let missing = send(&all).await;
    assert!(
        missing
            .all(".error")
            .iter()
            .any(|e| e.contains("Step 1 of"))
    );
    all.push(("seen", "1"));
    assert_eq!(send(&all).await.status, StatusCode::SEE_OTHER);
    assert!(
        w.get(&machine)
            .await
            .text
            .contains("Stop lifted by M. Reed: New board")
    );
    let page = w.get(&case).await;
    assert!(page.text.contains("Prove it by printing"));
    // The open case is offered what changed.
    w.record(&case, "build", &[]).await;
    assert!(w.get(&case).await.all("#build-news").is_empty());
    w.db.remove().await;
}

#[tokio::test]
async fn a_machine_out_of_service_says_so_and_comes_back() {
    let w = workshop().await;
    let case = w.open(&[]).await;
    let machine = format!("/machines/{}", w.machine);
    let send = async |fields: &[(&str, &str)]| {
        let seq = w
            .get(&machine)
            .await
            .attribute("#work input[name=seq]", "value");
        let mut all = vec![("seq", seq.as_str())];
        all.extend(fields);
        w.post(&format!("{machine}/service"), &all).await.status
    };
    assert_eq!(
        send(&[("to", "out"), ("reason", "")]).await,
        StatusCode::UNPROCESSABLE_ENTITY
    );
    assert_eq!(
        send(&[("to", "out"), ("reason", "Waits for a belt")]).await,
        StatusCode::SEE_OTHER
    );
    assert!(
        w.get("/")
            .await
            .one(".state.still")
            .contains("Out of service")
    );
    assert!(w.get(&case).await.text.contains("Waits for a belt"));
    assert_eq!(send(&[("to", "in")]).await, StatusCode::SEE_OTHER);
    assert!(w.get("/").await.all(".state.still").is_empty());
    let log = w.get(&machine).await.all(".machine-log li");
    assert!(log[0].contains("Back in service") && log[1].contains("Waits for a belt"));
    w.db.remove().await;
}

#[tokio::test]
async fn a_case_on_the_wrong_machine_is_moved_and_one_that_never_was_is_counted_nowhere() {
    let w = workshop().await;
    let dipper = w.second_machine().await.to_string();
    let case = w.open(&[("f.layer-step", "present")]).await;
    let page = w.get(&format!("{case}/move")).await;
    assert_eq!(page.all("#machine option").len(), 2);
    let seq = page.seq();
    let no_reason = w
        .post(
            &format!("{case}/move"),
            &[("seq", &seq), ("machine", &dipper)],
        )
        .await;
    assert!(no_reason.one(".error").contains("eason"));
    w.record(
        &case,
        "move",
        &[("machine", &dipper), ("reason", "It is Dipper")],
    )
    .await;
    let page = w.get(&case).await;
    assert!(
        page.one(".sub").contains("Dipper") && page.one(".history").contains("Moved to Dipper")
    );
    let closing = w.get(&format!("{case}/close")).await;
    let offered =
        closing.all(".outcome-choices label, input[name=outcome] + span, #outcome option");
    assert!(
        !offered.iter().any(|o| o == "Fixed and verified"),
        "{offered:?}"
    );
    let seq = closing.seq();
    let send = async |fields: &[(&str, &str)]| {
        let mut all = vec![("seq", seq.as_str())];
        all.extend(fields);
        w.post(&format!("{case}/close"), &all).await
    };
    let unproved = send(&[("outcome", "fixed-and-verified"), ("cause", "pulley-slips")]).await;
    assert_eq!(unproved.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(unproved.text.contains("believed fixed, not proved"));
    let why = send(&[("outcome", "opened-by-error"), ("note", "")]).await;
    assert_eq!(why.status, StatusCode::UNPROCESSABLE_ENTITY);
    let done = send(&[("outcome", "opened-by-error"), ("note", "Wrong button")]).await;
    assert_eq!(done.status, StatusCode::SEE_OTHER);
    assert!(w.get("/records").await.text.contains("0 closed cases"));
    assert!(
        w.get("/records?outcome=opened-by-error")
            .await
            .text
            .contains("1 closed case")
    );
    assert!(
        w.get(&case).await.text.contains("opened by error"),
        "it is kept"
    );
    w.db.remove().await;
}

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
    // Hours, links and suggestions once had none.
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
            .one(".history time")
            .contains("26 Nov 2025, 23:33")
    );
    assert_eq!(zone("Pacific/Auckland").await, StatusCode::SEE_OTHER);
    assert!(
        w.get(&case)
            .await
            .one(".history time")
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
    let _ = described("Teal", "Barge 340", &[]);
    w.db.remove().await;
}
