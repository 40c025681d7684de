//! Taking a case in without scripts: touches, heights, what is carried over, what was seen before,
//! pictures, and what bad input gets.

mod common;

use axum::body::Body;
use axum::http::{Request, StatusCode, header};
use common::{Page, Workshop, workshop};
use suspect_pictures::render::{Flaw, Scene, photo};
use suspect_store::Uuid;

async fn at(w: &Workshop, case: &str, part: &str) -> Page {
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
    // A touch on another answer replaces the first; "not sure" takes it back.
    w.record(
        &case,
        "observe",
        &[("finding", "layer-step"), ("state", "unknown")],
    )
    .await;
    assert!(!w.get(&case).await.one(".ledger").contains("sideways step"));
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
    w.db.remove().await;
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
        page.one(".height").contains("layer 121 at 0.2 mm")
            || page.one(".height").contains("layer 120 at 0.2"),
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
    w.record(&case, "same", &[("as", &other), ("part", "print")])
        .await;
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
            && missing.iter().all(|m| m.contains("to about ")),
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

fn shot(blur: u32) -> Vec<u8> {
    photo(&Scene {
        colour: [60, 110, 160],
        flaw: Flaw::Bands,
        lamp: 1.0,
        blur,
    })
}

#[tokio::test]
async fn pictures_are_judged_shown_marked_and_taken_back() {
    let w = workshop().await;
    let case = w.open(&[]).await;
    let sent = w
        .upload(
            &case,
            &[
                ("C:\\photos\\<b>sharp</b>.jpg", &shot(0)),
                ("blurred.jpg", &shot(7)),
            ],
        )
        .await;
    assert_eq!(sent.status, StatusCode::SEE_OTHER, "{}", sent.text);
    let page = at(&w, &case, "pictures").await;
    let verdicts = page.all(".verdict");
    assert!(
        verdicts[0].contains("Sharp and well lit")
            && verdicts[1].contains("Too blurred to judge layers"),
        "{verdicts:?}"
    );
    assert!(!page.text.contains("<b>sharp"), "a file's name is a name");
    let small = page.attribute(".picture-cards img", "src");
    let answer = w.pages_raw(&small).await;
    assert_eq!(
        (answer.0.as_str(), &answer.1[..3]),
        ("image/jpeg", &[0xff, 0xd8, 0xff][..])
    );

    let picture = page.attribute(".picture-cards a", "href");
    let marks = format!(
        "{}/marks",
        picture.strip_prefix(&format!("{case}/")).unwrap()
    );
    w.record(
        &case,
        &marks,
        &[
            ("kind", "arrow"),
            ("x", "30"),
            ("y", "40"),
            ("text", "<i>here</i>"),
        ],
    )
    .await;
    w.record(
        &case,
        &marks,
        &[
            ("kind", "circle"),
            ("x", "50"),
            ("y", "50"),
            ("to_x", "60"),
            ("to_y", "50"),
        ],
    )
    .await;
    let shown = w.get(&picture).await;
    assert_eq!(shown.all(".mark-row").len(), 2);
    assert!(shown.text.contains("class=\"mark-line\"") && !shown.text.contains("<i>here"));
    let outside = w
        .post(
            &format!("{case}/{marks}"),
            &[
                ("seq", &shown.seq()),
                ("kind", "text"),
                ("x", "130"),
                ("y", "5"),
                ("text", "x"),
            ],
        )
        .await;
    assert!(
        outside.status == StatusCode::UNPROCESSABLE_ENTITY
            && outside
                .one("#mark-form .error")
                .contains("outside the picture")
    );
    let first = shown.attribute("button[name=remove]", "value");
    w.record(&case, &marks, &[("remove", &first)]).await;
    assert_eq!(w.get(&picture).await.all(".mark-row").len(), 1);

    let entry = page.attribute(".picture-cards form input[name=entry]", "value");
    w.record(&case, "retract", &[("entry", &entry), ("part", "pictures")])
        .await;
    assert_eq!(
        at(&w, &case, "pictures")
            .await
            .all(".picture-cards li")
            .len(),
        1
    );
    w.db.remove().await;
}

#[tokio::test]
async fn bad_pictures_get_a_clear_message_and_good_ones_beside_them_are_kept() {
    let w = workshop().await;
    let case = w.open(&[]).await;
    let whole = shot(0);
    let mixed = w
        .upload(
            &case,
            &[
                ("note.jpg", b"just text"),
                ("good.jpg", &whole),
                ("cut.jpg", &whole[..whole.len() / 3]),
            ],
        )
        .await;
    assert_eq!(mixed.status, StatusCode::UNPROCESSABLE_ENTITY);
    let errors = mixed.all("main .error");
    assert!(
        errors[0].starts_with("note.jpg: This is no JPEG, PNG or WebP picture")
            && errors[1].starts_with("cut.jpg: The picture is damaged"),
        "{errors:?}"
    );
    assert_eq!(mixed.all(".picture-cards li").len(), 1);
    let large = w
        .upload(&case, &[("large.jpg", &vec![0xff; 13 * 1024 * 1024])])
        .await;
    assert!(
        large
            .one("main .error")
            .contains("large.jpg: The file has 13 MB: at most 12 MB"),
        "{}",
        large.one("main .error")
    );
    assert!(
        w.upload(&case, &[])
            .await
            .one("main .error")
            .contains("No picture was chosen")
    );
    let mut broken =
        b"--edge\r\nContent-Disposition: form-data; name=\"files\"; filename=\"half.jpg\"\r\n\r\n"
            .to_vec();
    broken.extend(&whole[..2000]);
    assert!(
        w.send_upload(&case, broken)
            .await
            .one("main .error")
            .contains("broke off")
    );
    let no_form = Request::post(format!("{case}/pictures"))
        .header(header::CONTENT_TYPE, "image/jpeg")
        .body(Body::from(whole.clone()))
        .unwrap();
    let page = w.send(no_form).await;
    assert!(
        page.status == StatusCode::UNSUPPORTED_MEDIA_TYPE
            && page.text.contains("Nothing was recorded")
    );
    // Small ones fill the case; the ninth is refused by name.
    let tiny: Vec<u8> = shot(0);
    let many: Vec<(&str, &[u8])> = (0..8).map(|_| ("more.jpg", tiny.as_slice())).collect();
    let ninth = w.upload(&case, &many).await;
    assert_eq!(ninth.all(".picture-cards li").len(), 8);
    assert!(
        ninth
            .one("main .error")
            .contains("holds 8 pictures already"),
        "{:?}",
        ninth.all("main .error")
    );
    assert!(ninth.all("#drop").is_empty());
    let unknown = w
        .get(&format!(
            "{case}/pictures/{}/full.jpg",
            suspect_store::Uuid::now_v7()
        ))
        .await;
    assert_eq!(unknown.status, StatusCode::NOT_FOUND);
    w.db.remove().await;
}

#[tokio::test]
async fn a_brief_goes_out_by_a_link_and_comes_back_as_hearsay() {
    let w = workshop().await;
    let case = w
        .open(&[
            ("f.layer-step", "present"),
            ("f.strings", "none"),
            ("n.nozzle_c", "262"),
        ])
        .await;
    w.record(
        &case,
        "tell",
        &[("text", "<script>alert(1)</script> and *stars*")],
    )
    .await;
    w.record(&case, "check/belt-pluck", &[("outcome", "right")])
        .await;
    w.record(
        &case,
        "tried",
        &[("t.0.fix", "tension-belt"), ("t.0.result", "same")],
    )
    .await;
    w.upload(&case, &[("step.jpg", &shot(0))]).await;
    let page = w.get(&format!("{case}/brief")).await;
    let brief = page.one(".brief");
    for part in [
        "Teal",
        "PETG",
        "262",
        "outside 230 to 250 °C",
        "One sideways step",
        "No strings",
        "Press or pluck each belt",
        "no change",
        "Loose pulley",
        "dB",
    ] {
        assert!(brief.contains(part), "{part} in {brief}");
    }
    let file = w.get(&format!("{case}/brief.md")).await.text;
    assert!(
        file.starts_with("# C-001: ")
            && file.contains("**Line-up so far**\n- ")
            && file.contains("- Loose pulley, "),
        "{file}"
    );
    assert!(
        !page.text.contains("<script>alert")
            && file.contains("&lt;script&gt;alert(1)&lt;/script&gt; and \\*stars\\*")
    );

    w.record(&case, "links", &[]).await;
    let help = w
        .get(&format!("{case}/brief"))
        .await
        .attribute(".help-link a", "href");
    let helper = w.get(&help).await;
    assert!(helper.one(".brief").contains("One sideways step") && helper.all(".rail").is_empty());
    assert_eq!(
        w.pages_raw(&helper.attribute(".brief-pictures img", "src"))
            .await
            .0,
        "image/jpeg"
    );
    let nameless = w
        .post(
            &format!("{help}/suggest"),
            &[("by", ""), ("text", "look at the belt")],
        )
        .await;
    assert!(
        nameless.status == StatusCode::UNPROCESSABLE_ENTITY
            && nameless.one("#text") == "look at the belt"
    );
    let odd = w
        .post(
            &format!("{help}/suggest"),
            &[("by", "Lock crew"), ("check", "pulley-mrk")],
        )
        .await;
    assert!(odd.one(".error").contains("did you mean `pulley-mark`?"));
    let before = w.get(&case).await.one(".ledger .total");
    let said = w
        .post(
            &format!("{help}/suggest"),
            &[
                ("by", "Lock crew"),
                ("cause", "belt-loose"),
                ("check", "pulley-mark"),
                ("text", "<b>mark it</b>"),
            ],
        )
        .await;
    assert!(
        w.get(&said.to.unwrap())
            .await
            .one(".good-word")
            .contains("hearsay")
    );
    let page = w.get(&case).await;
    let heard = page.one(".hearsay");
    assert!(
        heard.contains("Lock crew")
            && heard.contains("slack belt")
            && heard.contains("<b>mark it</b>"),
        "{heard}"
    );
    assert_eq!(page.one(".ledger .total"), before, "hearsay weighs nothing");
    let suggestion = page.attribute(".hearsay input[name=suggestion]", "value");
    w.record(
        &case,
        "weigh",
        &[("suggestion", &suggestion), ("taken", "yes")],
    )
    .await;
    assert!(w.get(&case).await.one(".hearsay").contains("taken up"));

    let token = help.rsplit('/').next().unwrap().to_string();
    assert_eq!(token.len(), 32);
    w.record(&case, "links/revoke", &[("token", &token)]).await;
    for address in [
        help.clone(),
        help.replace(&token[..4], "0000"),
        "/help/x".into(),
        format!("{help}/pictures/x/small.jpg"),
    ] {
        let gone = w.get(&address).await;
        assert_eq!(gone.status, StatusCode::NOT_FOUND, "{address}");
        assert!(
            gone.text.contains("This link does not work"),
            "a guesser learns nothing: {address}"
        );
    }
    assert_eq!(
        w.post(&format!("{help}/suggest"), &[("by", "x"), ("text", "y")])
            .await
            .status,
        StatusCode::NOT_FOUND
    );
    w.db.remove().await;
}

#[tokio::test]
async fn while_a_fix_waits_for_its_proof_or_a_stop_holds_no_other_step_is_named() {
    let w = workshop().await;
    let case = w.open(&[("f.layer-step", "present")]).await;
    w.record(&case, "fix/tighten-pulley", &[("minutes", "8")])
        .await;
    assert!(
        at(&w, &case, "print")
            .await
            .one(".so-far")
            .contains("Prove it by printing")
    );
    let brief = w.get(&format!("{case}/brief")).await.one(".brief");
    assert!(
        brief.contains("Prove it by printing: tighten the pulley"),
        "{brief}"
    );
    w.record(
        &case,
        "observe",
        &[("finding", "burnt-smell"), ("state", "present")],
    )
    .await;
    let page = at(&w, &case, "print").await;
    assert!(
        page.one(".so-far.locked").contains("Before anything else")
            && page
                .all(".stop-box")
                .iter()
                .any(|s| s.contains("Switch the machine off"))
    );
    let brief = w.get(&format!("{case}/brief")).await.one(".brief");
    assert!(
        brief.contains("The machine is locked.") && !brief.contains("Prove it by printing"),
        "{brief}"
    );
    w.db.remove().await;
}

#[tokio::test]
async fn two_people_touching_different_signs_need_no_question() {
    let w = workshop().await;
    let case = w.open(&[]).await;
    let seq = w.get(&case).await.seq();
    let touch = async |id: &str, finding: &str, state: &str| {
        let fields = [
            ("seq", seq.as_str()),
            ("touch", id),
            ("finding", finding),
            ("state", state),
        ];
        w.post(&format!("{case}/observe"), &fields).await.status
    };
    let ids: Vec<String> = (0..3).map(|_| Uuid::new_v4().to_string()).collect();
    assert_eq!(
        touch(&ids[0], "layer-step", "present").await,
        StatusCode::SEE_OTHER
    );
    for _ in 0..2 {
        let again = touch(&ids[1], "strings", "none").await;
        assert_eq!(again, StatusCode::SEE_OTHER, "the same touch twice is one");
    }
    assert_eq!(w.get(&case).await.seq(), "3");
    let other = touch(&ids[2], "strings", "strong").await;
    assert_eq!(
        other,
        StatusCode::CONFLICT,
        "about the same sign somebody must look"
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
