//! Practice on its pages: drawn, played, looked back on; apart from every record.

use crate::kit::{Page, Workshop, workshop};
use crate::people::{Browser, member};
use axum::http::StatusCode;
use suspect_core::knowledge::Knowledge;
use suspect_core::people::Role;
use suspect_rehearsal::practice::{Level, Wanted, draw, wants_off};
use suspect_store::Uuid;

/// Draws a case of a level by its seed; its address.
pub async fn drawn(w: &Workshop, level: &str, seed: &str) -> String {
    let id = Uuid::now_v7().to_string();
    let wish = [("level", level), ("seed", seed), ("case", &id)];
    let page = w.post("/practice", &wish).await;
    assert_eq!(page.status, StatusCode::SEE_OTHER, "{}", page.text);
    page.to.unwrap()
}

async fn done(w: &Workshop, case: &str, fields: &[(&str, &str)]) -> Page {
    let page = w.post(case, fields).await;
    let to = page.to.unwrap_or_else(|| panic!("{}", page.text));
    assert!(to.starts_with(case), "{to}");
    w.get(&to).await
}

const GIVE_UP: [(&str, &str); 1] = [("act", "give-up")];

/// Pages of practice, each with something on it.
pub async fn every_page(w: &Workshop) -> Vec<String> {
    let (over, open) = (
        drawn(w, "messy", "7").await,
        drawn(w, "two-causes", "7").await,
    );
    let instrument = drawn(w, "clear", "4").await;
    let even = ["share.0", "share.1", "share.2", "share.3", "share.4"].map(|s| (s, "20"));
    let believed = [&[("act", "believe")][..], &even].concat();
    done(w, &over, &believed).await;
    done(w, &over, &GIVE_UP).await;
    let read = [("act", "check"), ("id", "measure-filament")];
    done(w, &instrument, &read).await;
    let drill = w.get("/practice/drills").await;
    let sent = ["card", "turn"].map(|f| drill.attribute(&format!("[name='{f}']"), "value"));
    let answer = drill.attribute("[name='answer']", "value");
    let fields = [
        ("card", &*sent[0]),
        ("turn", &*sent[1]),
        ("answer", &*answer),
    ];
    w.post("/practice/drills", &fields).await;
    let more = [
        "?at=wall",
        "?at=history",
        "/check/pulley-mark",
        "/fix/tighten-pulley",
    ];
    let of_one = more.map(|what| format!("{open}{what}"));
    let kinds = ["sign", "ordinary", "apart", "caution", "reading"];
    let drills = kinds.map(|kind| format!("/practice/drills?kind={kind}"));
    let rest = ["/practice", "/practice/past", "/practice/forget"].map(str::to_string);
    [
        vec![over, open, instrument],
        of_one.into(),
        drills.into(),
        rest.into(),
    ]
    .concat()
}

#[tokio::test]
async fn the_same_seed_is_told_alike_and_no_second_luck_comes_of_a_reload() {
    let w = workshop().await;
    let (one, two) = (drawn(&w, "messy", "7").await, drawn(&w, "messy", "7").await);
    let told = |page: &Page| page.one(".member-says p");
    let (a, b) = (w.get(&one).await, w.get(&two).await);
    assert_eq!(told(&a), told(&b));
    assert!(a.text.contains("Practice.") && !a.text.contains("It was"));
    let ask = [("act", "ask"), ("id", "pops-heard"), ("at", "machine")];
    let first = done(&w, &one, &ask).await;
    let again = done(&w, &one, &ask).await;
    assert!(again.one("#last").contains("Nothing is paid"));
    assert_eq!(
        first.one("#do-it"),
        again.one("#do-it"),
        "asked twice, paid once"
    );
    assert_eq!(done(&w, &two, &ask).await.one("#last"), first.one("#last"));
    // The same form sent twice begins one case.
    let id = Uuid::now_v7().to_string();
    let wish = [("level", "clear"), ("seed", "1"), ("case", &*id)];
    let sent = [
        w.post("/practice", &wish).await,
        w.post("/practice", &wish).await,
    ];
    assert_eq!(sent[0].to, sent[1].to);
    w.db.remove().await;
}

#[tokio::test]
async fn a_case_given_up_is_looked_back_on_and_nothing_more_is_done_in_it() {
    let w = workshop().await;
    let case = drawn(&w, "messy", "7").await;
    done(&w, &case, &[("act", "check"), ("id", "look-at-spool")]).await;
    let over = done(&w, &case, &GIVE_UP).await;
    for word in [
        "It was",
        "Nozzle too cold",
        "Told wrong",
        "with the same luck",
        "Step by step",
    ] {
        assert!(over.text.contains(word), "{word}");
    }
    let paid = over.one(".debrief-bars");
    assert_eq!(paid.matches("in vain").count(), 3, "{paid}");
    let rows = over.all(".debrief-steps tbody tr").len();
    assert_eq!(rows, 2, "a check and the giving up");
    let after = done(&w, &case, &[("act", "ask"), ("id", "strings")]).await;
    assert_eq!(after.all(".debrief-steps tbody tr").len(), rows);
    let work = w.get(&format!("{case}/check/pulley-mark")).await;
    assert!(work.text.contains("This case is over"));
    let list = w.get("/practice").await;
    assert!(list.text.contains("0 of 1") && list.text.contains("Given up"));
    w.db.remove().await;
}

#[tokio::test]
async fn practice_touches_no_record_no_machine_and_no_statistic() {
    let w = workshop().await;
    w.open(&[("f.layer-step", "present")]).await;
    let counted = async || {
        let mut all = Vec::new();
        for page in ["/", "/records", "/statistics", "/shift"] {
            all.push(w.get(page).await.one("main"));
        }
        (w.db.every_row_but("practice_%").await, all)
    };
    let before = counted().await;
    let case = drawn(&w, "dangerous", "5").await;
    done(
        &w,
        &case,
        &[("act", "fix"), ("id", "raise-nozzle-temperature")],
    )
    .await;
    every_page(&w).await;
    assert_eq!(counted().await, before);
    w.db.remove().await;
}

#[tokio::test]
async fn hands_in_a_machine_under_power_and_a_danger_overlooked_end_it_soberly() {
    let w = workshop().await;
    let k = Knowledge::shipped();
    let check = k.checks.iter().find(|c| wants_off(&c.work)).unwrap();
    let id = k.finding(check.finding).id.clone();
    let case = drawn(&w, "clear", "2").await;
    let over = done(&w, &case, &[("act", "check"), ("id", &id), ("begun", "as")]).await;
    assert!(over.one("h1").contains("Hands in a machine under power"));
    assert!(over.one(".practice-warned").contains("under power"));
    assert_eq!(
        w.get(&over.attribute(".practice-warned a", "href"))
            .await
            .status,
        StatusCode::OK
    );
    let case = drawn(&w, "dangerous", "5").await;
    let over = done(&w, &case, &GIVE_UP).await;
    assert!(over.one("h1").contains("A danger overlooked"));
    let case = drawn(&w, "dangerous", "6").await;
    let over = done(&w, &case, &[("act", "stop")]).await;
    assert!(over.one("h1").contains("Made safe in time"));
    // A stop of practice locks nothing.
    assert!(!w.get("/").await.text.contains("Locked"));
    w.db.remove().await;
}

#[tokio::test]
async fn what_makes_no_sense_is_said_and_nothing_typed_is_lost() {
    let w = workshop().await;
    let wish = [
        ("level", "clear"),
        ("seed", "seven"),
        ("family", "bed"),
        ("rates", "yes"),
    ];
    let page = w.post("/practice", &wish).await;
    assert_eq!(page.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(page.text.contains("“seven” is no seed"));
    assert_eq!(page.attribute("#seed", "value"), "seven");
    assert_eq!(page.attribute("#family option[selected]", "value"), "bed");
    let long = "9".repeat(300);
    drawn(&w, "clear", &long).await;
    // Ordinary traits are nobody's fault: a family of them has no clear case.
    let none = [("level", "clear"), ("seed", "3"), ("family", "normal")];
    let page = w.post("/practice", &none).await;
    assert!(
        page.text.contains("No case of level `clear`"),
        "{}",
        page.text
    );
    let case = drawn(&w, "clear", "3").await;
    for (fields, status) in [
        (&[("act", "dance")][..], StatusCode::UNSUPPORTED_MEDIA_TYPE),
        (&[("act", "believe")], StatusCode::UNPROCESSABLE_ENTITY),
        (
            &[("act", "read"), ("read", "many")],
            StatusCode::UNPROCESSABLE_ENTITY,
        ),
        (&[("shown", "maybe")], StatusCode::UNSUPPORTED_MEDIA_TYPE),
    ] {
        let page = w.post(&case, fields).await;
        assert_eq!(page.status, status, "{fields:?}");
    }
    let same = done(&w, &case, &[("act", "ask"), ("id", "no-sign")]).await;
    assert!(same.one("#last").contains("Nothing is paid"));
    for path in ["/practice/cases/7", "/practice/cases/7/tone.wav"] {
        assert_eq!(w.get(path).await.status, StatusCode::NOT_FOUND, "{path}");
    }
    let tone = w.get(&format!("{case}/tone.wav")).await;
    assert_eq!(tone.status, StatusCode::NOT_FOUND, "nothing sounds");
    w.db.remove().await;
}

#[tokio::test]
async fn a_tone_is_heard_and_an_instrument_read() {
    let w = workshop().await;
    let k = Knowledge::shipped();
    let slack = |seed: &u64| {
        // A case whose belt sounds: found by playing it.
        use suspect_core::planning::Workshop as Settings;
        use suspect_rehearsal::practice::{Act, Begun, Desk, Play};
        let case = draw(&k, &Wanted::of(*seed, Level::Clear)).unwrap();
        let settings = Settings::default();
        let desk = Desk::new(&k, &settings, &case);
        let mut play = Play::new(&desk);
        play.act(&Act::Check("belt-pluck".into(), Begun::AsItStands));
        play.waits.is_some()
    };
    let seed = (0..200u64).find(slack).unwrap().to_string();
    let case = drawn(&w, "clear", &seed).await;
    let heard = done(&w, &case, &[("act", "check"), ("id", "belt-pluck")]).await;
    assert!(heard.one("#read-it").contains("Tone of the belt"));
    let (kind, bytes) = w.pages_raw(&format!("{case}/tone.wav")).await;
    assert_eq!((&*kind, &bytes[..4]), ("audio/wav", &b"RIFF"[..]));
    let read = done(&w, &case, &[("act", "read"), ("read", "9999")]).await;
    assert!(read.one("#last").contains("Misread"));
    assert_eq!(read.all("#instrument").len(), 0);
    w.db.remove().await;
}

#[tokio::test]
async fn a_card_answered_twice_counts_once_and_says_so() {
    let w = workshop().await;
    let drill = w.get("/practice/drills?kind=sign").await;
    let card = drill.attribute("[name='card']", "value");
    let id = card.split('/').nth(1).unwrap();
    let right = [
        ("card", &*card),
        ("turn", "0"),
        ("kind", "sign"),
        ("answer", id),
    ];
    let first = w.post("/practice/drills", &right).await;
    assert!(first.text.contains("Right.") && first.text.contains("comes again in"));
    let twice = w.post("/practice/drills", &right).await;
    assert!(twice.text.contains("answered before"));
    let next = w.get("/practice/drills?kind=sign").await;
    assert_ne!(next.attribute("[name='card']", "value"), card);
    let odd = [("card", &*card), ("turn", "0"), ("answer", "no-such")];
    assert_eq!(
        w.post("/practice/drills", &odd).await.status,
        StatusCode::UNSUPPORTED_MEDIA_TYPE
    );
    w.db.remove().await;
}

#[tokio::test]
async fn a_closed_case_of_the_workshop_is_solved_again() {
    let w = workshop().await;
    assert!(
        w.get("/practice/past")
            .await
            .text
            .contains("No case was closed")
    );
    crate::figures::mended(&w).await;
    let list = w.get("/practice/past").await;
    let begin = list.attribute("form[action^='/practice/past/']", "action");
    let case = w.post(&begin, &[]).await.to.unwrap();
    let page = w.get(&case).await;
    assert!(page.one("h1").contains("workshop's past"));
    let over = done(&w, &case, &GIVE_UP).await;
    assert!(over.text.contains("What was really done"));
    w.db.remove().await;
}

#[tokio::test]
async fn what_one_member_practises_no_other_sees_without_leave() {
    let w = workshop().await;
    let ida = member(&w, "Ida", Role::Keeper).await;
    let bo = member(&w, "Bo", Role::Visitor).await;
    let wish = [("level", "clear"), ("seed", "1")];
    let case = bo.post("/practice", &wish).await.to.unwrap();
    assert_eq!(ida.get(&case).await.status, StatusCode::NOT_FOUND);
    assert_eq!(
        ida.post(&case, &GIVE_UP).await.status,
        StatusCode::NOT_FOUND
    );
    // Somebody asks for cases passed.
    let members = w.db.store.members().await.unwrap();
    let id = members.iter().find(|m| m.name == "Bo").unwrap().id;
    let id = id.simple().to_string();
    let ask = [
        ("member", &*id),
        ("level", "dangerous"),
        ("many", "1"),
        ("reason", "before the mains"),
    ];
    let may_not = bo.post("/practice/wishes", &ask).await;
    assert_eq!(may_not.status, StatusCode::FORBIDDEN);
    let asked = ida.post("/practice/wishes", &ask).await;
    assert_eq!(asked.status, StatusCode::SEE_OTHER, "{}", asked.text);
    let dangerous = [("level", "dangerous"), ("seed", "6")];
    let case = bo.post("/practice", &dangerous).await.to.unwrap();
    bo.post(&case, &[("act", "stop")]).await;
    let seen = async |by: &Browser<'_>| by.get("/practice/wishes").await;
    assert!(seen(&ida).await.text.contains("Not shown to you"));
    let own = seen(&bo).await;
    assert!(own.text.contains("1 of 1 passed") && own.text.contains("before the mains"));
    let wish = own.attribute("[name='wish']", "value");
    let leave = [("wish", &*wish), ("say", "show")];
    assert_eq!(
        ida.post("/practice/wishes/answer", &leave).await.status,
        StatusCode::NOT_FOUND
    );
    bo.post("/practice/wishes/answer", &leave).await;
    assert!(seen(&ida).await.text.contains("1 of 1 passed"));
    // Where a role is given, what was asked stands beside the name.
    let members = ida.get("/people").await.one(".members-list");
    assert!(
        members.contains("1 × Dangerous, before the mains: 1 of 1 passed"),
        "{members}"
    );
    // A file, and gone on wish.
    let file = bo.get("/practice/kept.json").await.text;
    assert!(file.contains("made-safe") && file.contains("usual-suspect-practice/1"));
    let unsure = bo.post("/practice/forget", &[]).await;
    assert_eq!(unsure.status, StatusCode::UNPROCESSABLE_ENTITY);
    bo.post("/practice/forget", &[("sure", "yes")]).await;
    assert!(
        !bo.get("/practice/kept.json")
            .await
            .text
            .contains("made-safe")
    );
    w.db.remove().await;
}
