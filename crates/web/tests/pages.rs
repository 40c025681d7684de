//! A person's path through the pages without scripts, and what bad input gets.

mod common;

use axum::body::Body;
use axum::http::{Request, StatusCode, header};
use common::workshop;
use std::collections::{HashMap, HashSet};

#[tokio::test]
async fn a_whole_case_from_the_floor_to_the_record_without_scripts() {
    let w = workshop().await;
    let floor = w.get("/").await;
    assert_eq!(floor.one(".machine h2"), "Teal");
    let new = w.get(&floor.attribute(".machine-foot a", "href")).await;
    assert_eq!(
        new.attribute("input[name=machine]", "value"),
        w.machine.to_string()
    );
    let id = new.attribute("input[name=case_id]", "value");
    let machine = w.machine.to_string();
    let told = "Puppet joint stepped. Suddenly one step sideways, no strings";
    let opened = [
        ("case_id", id.as_str()),
        ("machine", machine.as_str()),
        ("told", told),
    ];
    let intake = w.post("/cases", &opened).await.to.unwrap();
    assert_eq!(
        w.post("/cases", &opened).await.to.as_deref(),
        Some(intake.as_str()),
        "the same form sent twice opens one case"
    );
    // What was read from the words counts nothing until it is confirmed.
    let page = w.get(&intake).await;
    assert!(
        page.one("#strip").contains("Before any fact"),
        "{}",
        page.one("#strip")
    );
    let proposals = page.all(".proposal strong");
    assert_eq!(
        proposals,
        [
            "Flawless before, then suddenly bad",
            "One sideways step, straight above it",
            "No strings"
        ]
    );
    let case = intake.strip_suffix("/intake").unwrap().to_string();
    for proposal in page.ids(".proposals li") {
        let page = w.get(&intake).await;
        let hidden =
            |name: &str| page.attribute(&format!("#{proposal} form input[name={name}]"), "value");
        let (finding, state, confidence) =
            (hidden("finding"), hidden("state"), hidden("confidence"));
        w.record(
            &case,
            "observe",
            &[
                ("finding", &finding),
                ("state", &state),
                ("confidence", &confidence),
                ("part", "words"),
            ],
        )
        .await;
    }
    assert!(
        w.get(&format!("{intake}?part=words"))
            .await
            .all(".proposals li")
            .is_empty()
    );
    // Signs are touched on the drawing of the print, numbers typed beside their windows.
    let map = w.get(&format!("{intake}?part=print&at=band")).await;
    assert_eq!(
        map.one("#b-layer-step-present[aria-pressed=true]"),
        "Yes, this"
    );
    assert!(
        map.attribute(".spot[aria-current]", "aria-label")
            .contains("Band at a height, 1 seen")
    );
    w.record(
        &case,
        "numbers",
        &[
            ("title", "Puppet joint"),
            ("spool", "orange"),
            ("material", "petg"),
            ("n.nozzle_c", "464 F"),
        ],
    )
    .await;
    let numbers = w.get(&format!("{intake}?part=numbers")).await;
    assert!(
        numbers.one("#w-nozzle_c").contains("PETG 230 to 250")
            && numbers.one("#w-nozzle_c").contains("464 F read as 240 °C")
    );

    let page = w.get(&case).await;
    assert!(page.one("h1").contains("Puppet joint"));
    assert!(page.all(".line-up.wide .figure").len() >= 4);
    assert!(page.all(".ledger-rows tr").len() >= 3);

    let check = w.get(&format!("{case}/check/pulley-mark")).await;
    assert!(
        check
            .all(".caution")
            .iter()
            .any(|c| c.contains("Switch the machine off"))
    );
    let answered = w
        .post(
            &format!("{case}/check/pulley-mark"),
            &[
                ("seq", &check.seq()),
                ("outcome", "slips"),
                ("minutes", "5,5"),
            ],
        )
        .await;
    assert_eq!(answered.to.as_deref(), Some(case.as_str()));
    let page = w.get(&case).await;
    assert!(
        page.one(".line-up.wide .chosen .name")
            .contains("Loose pulley")
    );
    assert!(
        page.text.contains("class=\"ghost\""),
        "the last step leaves a ghost"
    );
    assert!(
        page.one(".next").contains("Tighten the pulley"),
        "the fix is offered, as the best step or beside it"
    );

    let fix = w.get(&format!("{case}/fix/tighten-pulley")).await;
    let applied = w
        .post(
            &format!("{case}/fix/tighten-pulley"),
            &[("seq", &fix.seq()), ("minutes", "8")],
        )
        .await;
    let verify = w.get(&applied.to.unwrap()).await;
    let proven = w
        .post(
            &format!("{case}/verify"),
            &[("seq", &verify.seq()), ("result", "cured"), ("grams", "6")],
        )
        .await;
    let close = w.get(&proven.to.unwrap()).await;
    assert_eq!(
        close.attribute("input[name=outcome][checked]", "value"),
        "fixed-and-verified"
    );
    assert_eq!(
        close.attribute("#cause option[selected]", "value"),
        "pulley-slips"
    );
    let closed = w
        .post(
            &format!("{case}/close"),
            &[
                ("seq", &close.seq()),
                ("outcome", "fixed-and-verified"),
                ("cause", "pulley-slips"),
                ("fix", "tighten-pulley"),
                ("note", "Beside the flat."),
            ],
        )
        .await;
    assert_eq!(closed.status, StatusCode::SEE_OTHER);

    let records = w
        .get("/records?cause=pulley-slips&outcome=fixed-and-verified")
        .await;
    let row = records.one("tbody tr");
    for part in [
        "Puppet joint",
        "Teal",
        "Loose pulley",
        "Tighten the pulley",
        "fixed and verified",
    ] {
        assert!(row.contains(part), "{part} in {row}");
    }
    assert!(
        w.get("/records?cause=belt-loose")
            .await
            .text
            .contains("No closed case matches")
    );
    w.db.remove().await;
}

#[tokio::test]
async fn undo_takes_back_by_retraction_and_the_history_keeps_it() {
    let w = workshop().await;
    let case = w.open(&[("f.layer-step", "present")]).await;
    let before = w.get(&case).await.one(".ledger .total");
    let seq = w.get(&case).await.seq();
    w.post(
        &format!("{case}/check/pulley-mark"),
        &[("seq", &seq), ("outcome", "slips")],
    )
    .await;
    let page = w.get(&case).await;
    let (seq, entry) = (
        page.seq(),
        page.attribute(".unseen-form input[name=entry]", "value"),
    );
    w.post(
        &format!("{case}/retract"),
        &[("seq", &seq), ("entry", &entry)],
    )
    .await;
    let page = w.get(&case).await;
    assert_eq!(page.one(".ledger .total"), before);
    assert!(page.one(".undone").contains("Mark the pulley"));
    w.db.remove().await;
}

#[tokio::test]
async fn what_makes_no_sense_comes_back_beside_its_field_with_everything_kept() {
    let w = workshop().await;
    let machine = w.machine.to_string();
    let long = "x".repeat(100_000);
    for (field, value, selector, message) in [
        (
            "told",
            long.as_str(),
            "#e-told",
            "100000 characters: at most 2000",
        ),
        ("machine", "", "#e-machine", "Choose the machine"),
        ("machine", "nonsense", "#e-machine", "no such machine"),
    ] {
        let mut fields = vec![
            ("machine", machine.as_str()),
            ("told", "Kept words"),
            ("still_so", "yes"),
        ];
        fields.retain(|(f, _)| *f != field);
        fields.push((field, value));
        let page = w.post("/cases", &fields).await;
        assert_eq!(page.status, StatusCode::UNPROCESSABLE_ENTITY, "{field}");
        assert!(
            page.all(selector).iter().any(|e| e.contains(message)),
            "{field}: {:?}",
            page.all(".error")
        );
        assert!(
            page.text.contains("Kept words") || page.one("#told").len() == 100_000,
            "what was typed comes back"
        );
    }
    assert!(
        w.db.store.floor_cases().await.unwrap().shown.is_empty(),
        "nothing was stored"
    );
    let case = w.open(&[]).await;
    let seq = w.get(&case).await.seq();
    for (form, field, value, selector, message) in [
        (
            "facts",
            "n.nozzle_c",
            "2000",
            "#e-nozzle_c",
            "between 0 and 500 °C, but 2000 °C was given",
        ),
        (
            "facts",
            "f.layer-step",
            "sideways",
            "#q-layer-step .error",
            "is no state of `layer-step`",
        ),
        (
            "facts",
            "f.no-such-sign",
            "present",
            "main > .error",
            "is no known sign",
        ),
        (
            "facts",
            "t.0.fix",
            "tension-belt",
            ".group .error",
            "Choose both",
        ),
        (
            "numbers",
            "n.layer_mm",
            "20",
            "#w-layer_mm .error",
            "between 0.02 and 2 mm, but 20 mm was given",
        ),
        (
            "numbers",
            "n.layer_mm",
            "0.008",
            "#w-layer_mm .error",
            "if that is in inches, write 0.008 in",
        ),
        (
            "numbers",
            "n.bed_c",
            "NaN",
            "#w-bed_c .error",
            "must be a number between 0 and 200 °C",
        ),
        (
            "numbers",
            "n.speed_mm_s",
            "fast",
            "#w-speed_mm_s .error",
            "but \"fast\" was given",
        ),
        (
            "numbers",
            "material",
            "cheese",
            ".field.wrong .error",
            "is not known for `material`",
        ),
        (
            "numbers",
            "title",
            long.as_str(),
            ".field.wrong .error",
            "100000 characters: at most 120",
        ),
        (
            "numbers",
            "m.feed",
            "sideways",
            "main .error",
            "is not known for `feed`",
        ),
    ] {
        let kept = if form == "facts" {
            [("f.onset", "sudden"), ("n.bed_c", "61")]
        } else {
            [("title", "Kept title"), ("spool", "kept spool")]
        };
        let mut fields = vec![("seq", seq.as_str())];
        fields.extend(kept.into_iter().filter(|(f, _)| *f != field));
        fields.push((field, value));
        let page = w.post(&format!("{case}/{form}"), &fields).await;
        assert_eq!(page.status, StatusCode::UNPROCESSABLE_ENTITY, "{field}");
        assert!(
            page.all(selector).iter().any(|e| e.contains(message)),
            "{field}: {:?}",
            page.all(".error")
        );
        if form == "facts" {
            assert_eq!(
                page.attribute("input[name='f.onset'][checked]", "value"),
                "sudden"
            );
        } else {
            assert_eq!(page.attribute("#spool", "value"), "kept spool");
        }
    }
    assert_eq!(w.get(&case).await.seq(), seq, "nothing was stored");
    let note = w
        .post(&format!("{case}/note"), &[("seq", &seq), ("text", &long)])
        .await;
    assert_eq!(note.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(
        note.one(".error")
            .contains("100000 characters: at most 2000")
            && note.one("textarea").len() == 100_000
    );
    w.db.remove().await;
}

#[tokio::test]
async fn facts_are_corrected_and_one_touch_says_that_nothing_else_looks_wrong() {
    let w = workshop().await;
    let case = w
        .open(&[("f.layer-step", "present:likely"), ("n.nozzle_c", "240")])
        .await;
    let page = w.get(&format!("{case}/facts")).await;
    assert_eq!(
        page.attribute("input[name='f.layer-step'][checked]", "value"),
        "present:likely"
    );
    assert_eq!(page.attribute("#n-nozzle_c", "value"), "240");
    // Sent back as it came, nothing is recorded.
    let same = [
        ("f.layer-step", "present:likely"),
        ("n.nozzle_c", "240"),
        ("f.onset", ""),
    ];
    let seq = page.seq();
    let with = |more: &[(&'static str, &'static str)]| [same.to_vec(), more.to_vec()].concat();
    let mut fields: Vec<(&str, &str)> = vec![("seq", &seq)];
    fields.extend(with(&[]));
    w.post(&format!("{case}/facts"), &fields).await;
    assert_eq!(w.get(&case).await.seq(), seq);
    fields.extend(with(&[("f.layer-step", "present"), ("rest.4", "yes")]));
    fields.retain(|f| *f != ("f.layer-step", "present:likely"));
    let recorded = w.post(&format!("{case}/facts"), &fields).await;
    assert_eq!(recorded.status, StatusCode::SEE_OTHER);
    let page = w.get(&case).await;
    assert!(
        page.text.contains("No nest of filament (hunch)")
            || page.text.contains("No nest of loose filament (hunch)"),
        "the rest is absent as a hunch"
    );
    assert!(page.text.contains("facts recorded"));
    let odd = w
        .post(
            &format!("{case}/facts"),
            &[
                ("seq", &page.seq()),
                ("n.bed_c", "900"),
                ("f.onset", "gradual"),
            ],
        )
        .await;
    assert_eq!(odd.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert_eq!(
        odd.attribute("input[name='f.onset'][checked]", "value"),
        "gradual"
    );
    w.db.remove().await;
}

#[tokio::test]
async fn a_machine_is_added_once_and_a_case_can_be_opened_on_it() {
    let w = workshop().await;
    let bad = w
        .post(
            "/machines",
            &[("name", "Teal"), ("model", ""), ("feed", "sideways")],
        )
        .await;
    assert_eq!(bad.status, StatusCode::UNPROCESSABLE_ENTITY);
    let errors = bad.all(".error").join(" ");
    for part in [
        "stands on the floor already",
        "The kind is missing",
        "is not known for `feed`",
    ] {
        assert!(errors.contains(part), "{part} in {errors}");
    }
    let added = w
        .post(
            "/machines",
            &[("name", "Coot"), ("model", "Raft 200"), ("feed", "bowden")],
        )
        .await;
    assert_eq!(added.status, StatusCode::SEE_OTHER);
    assert!(
        w.get("/")
            .await
            .all(".machine h2")
            .contains(&"Coot".to_string())
    );
    w.db.remove().await;
}

#[tokio::test]
async fn two_tabs_on_one_case_lose_nothing() {
    let w = workshop().await;
    let case = w.open(&[("f.layer-step", "present")]).await;
    let seq = w.get(&case).await.seq();
    w.post(
        &format!("{case}/check/belt-pluck"),
        &[("seq", &seq), ("outcome", "right")],
    )
    .await;
    let late = w
        .post(
            &format!("{case}/check/pulley-mark"),
            &[("seq", &seq), ("outcome", "slips")],
        )
        .await;
    assert_eq!(late.status, StatusCode::CONFLICT);
    assert!(late.one("ul").contains("Press or pluck each belt"));
    assert_eq!(late.attribute("input[name=outcome]", "value"), "slips");
    let again = w
        .post(
            &late.attribute("#work form[method=post]", "action"),
            &[("seq", &late.seq()), ("outcome", "slips")],
        )
        .await;
    assert_eq!(again.status, StatusCode::SEE_OTHER);
    // The same form sent twice is answered as if it had just been stored.
    let twice = w
        .post(
            &format!("{case}/check/pulley-mark"),
            &[("seq", &late.seq()), ("outcome", "slips")],
        )
        .await;
    assert_eq!(twice.status, StatusCode::SEE_OTHER);
    assert_eq!(
        w.get(&case)
            .await
            .text
            .matches("Mark the pulley and its shaft, print, look again: the pulley has turned")
            .count(),
        2,
        "once in the ledger, once in the history"
    );
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
async fn a_locked_machine_gives_no_other_advice_and_a_named_person_clears_it() {
    let w = workshop().await;
    let case = w
        .open(&[
            ("f.layer-step", "present"),
            ("f.burnt-smell", "present:likely"),
        ])
        .await;
    let page = w.get(&case).await;
    assert!(page.one(".stop-box").contains("Burning smell"));
    assert!(page.all(".outcome").is_empty() && page.all(".others").is_empty());
    assert!(
        w.get("/")
            .await
            .one(".state.locked")
            .contains("burning smell")
    );
    for path in ["fix/tighten-pulley", "check/pulley-mark"] {
        let refused = w.get(&format!("{case}/{path}")).await;
        assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY);
        assert!(refused.one(".lead").contains("locked"));
    }
    let forced = w
        .post(
            &format!("{case}/fix/tighten-pulley"),
            &[("seq", &page.seq()), ("minutes", "1")],
        )
        .await;
    assert_eq!(forced.status, StatusCode::UNPROCESSABLE_ENTITY);
    let nameless = w
        .post(
            &format!("{case}/stop/burning"),
            &[
                ("seq", &page.seq()),
                ("by", ""),
                ("reason", "It was the toaster"),
            ],
        )
        .await;
    assert!(nameless.one(".error").contains("Give your name"));
    assert_eq!(nameless.one("textarea"), "It was the toaster");
    let unseen = w
        .post(
            &format!("{case}/stop/burning"),
            &[
                ("seq", &page.seq()),
                ("by", "Ida"),
                ("reason", "The toaster"),
                ("seen", "1"),
            ],
        )
        .await;
    assert!(unseen.one(".error").contains("Step 2 of 4 has no tick"));
    assert_eq!(
        unseen.all("input[name=seen][checked]").len(),
        1,
        "what was ticked stays so"
    );
    w.lift(&case, "burning", "Ida", "It was the toaster").await;
    let page = w.get(&case).await;
    assert!(
        page.all(".stop-box").is_empty()
            && page
                .text
                .contains("Stop cleared by Ida: It was the toaster")
    );
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

#[tokio::test]
async fn every_page_of_the_handbook_answers_and_leads_to_places_that_exist() {
    let w = workshop().await;
    let (mut waiting, mut texts, mut places) = (
        vec!["/handbook".to_string()],
        HashMap::new(),
        HashSet::new(),
    );
    while let Some(path) = waiting.pop() {
        if texts.contains_key(&path) {
            continue;
        }
        let page = w.get(&path).await;
        assert_eq!(page.status, StatusCode::OK, "{path}");
        for link in page
            .links()
            .into_iter()
            .filter(|l| l.starts_with("/handbook") || l.starts_with("/suspects"))
        {
            let (to, place) = link
                .split_once('#')
                .map_or((link.as_str(), None), |(to, place)| (to, Some(place)));
            places.extend(place.map(|p| (to.to_string(), p.to_string())));
            waiting.push(to.to_string());
        }
        texts.insert(path, page.text);
    }
    let k = &w.state.knowledge;
    let asked = k
        .findings
        .iter()
        .filter(|f| f.check.is_none() && !f.question.is_empty())
        .count();
    assert!(
        texts.len() > k.causes.len() + k.checks.len() + k.fixes.len() + asked,
        "{} pages",
        texts.len()
    );
    for (to, place) in places {
        assert!(
            texts[&to].contains(&format!("id=\"{place}\"")),
            "{to}#{place}"
        );
    }
    assert_eq!(
        w.get("/handbook/signs/pulley-mark").await.status,
        StatusCode::NOT_FOUND
    );
    assert_eq!(
        w.get("/handbook/fixes/nothing").await.status,
        StatusCode::NOT_FOUND
    );
}

#[tokio::test]
async fn the_handbook_is_searched_in_a_persons_own_words() {
    let w = workshop().await;
    let found = w.get("/handbook?q=wobbly%20walls").await;
    assert!(
        found
            .all("section li strong")
            .iter()
            .any(|s| s == "Vertical faces unevenly wavy, no rhythm")
    );
    let nothing = w.get("/handbook?q=%3Cscript%3Ezzzz").await;
    assert!(
        nothing
            .one(".question-mark")
            .contains("Nothing fits “<script>zzzz”")
            && !nothing.text.contains("<script>zzzz")
    );
}

#[tokio::test]
async fn an_ordinary_trait_is_said_to_be_no_fault() {
    let w = workshop().await;
    let case = w
        .open(&[
            ("f.plain-seam-line", "present"),
            ("f.blobs-at-seam", "absent"),
        ])
        .await;
    let page = w.get(&case).await;
    assert!(
        page.one(".closed-box")
            .contains("Perhaps no fault at all: an ordinary seam"),
        "{}",
        page.one(".closed-box")
    );
    let fault = w.get(&w.open(&[("f.layer-step", "present")]).await).await;
    assert!(fault.all(".closed-box").is_empty());
    assert!(
        w.get("/suspects/normal-stairs")
            .await
            .one(".closed-box")
            .contains("Not a fault.")
    );
    // A dossier tells a suspect from its look-alikes.
    let dossier = w.get("/suspects/pulley-slips").await;
    assert!(
        dossier.all("h2").iter().any(|h| h == "Mistaken for")
            && dossier.all("tbody th").iter().any(|t| t == "Slack belt")
    );
}
