//! Leading through a check and a fix without scripts: numbers, waits, parts, what is put off,
//! locks, rates, lists.

use crate::kit::{Workshop, workshop};
use axum::http::StatusCode;

#[tokio::test]
async fn a_check_is_led_step_by_step_with_cautions_tools_and_state_first() {
    let w = workshop().await;
    let case = w.open(&[("f.missing-layers", "present")]).await;
    let all = w.get(&format!("{case}/check/cold-pull?step=0")).await;
    assert!(all.one(".steps").contains("Heat"));
    assert!(
        !all.all(".steps .caution").is_empty(),
        "each where it belongs"
    );
    // The first screen is the first step; what came of it waits until the looking is done.
    let first = w.get(&format!("{case}/check/cold-pull")).await;
    let onward = first.attribute(".main[data-key=ArrowRight]", "href");
    assert!(onward.ends_with("?step=2"));
    assert!(first.all("button.outcome").is_empty());
    let know = first.attribute("#say a.wide", "href");
    assert!(!w.get(&know).await.all("button.outcome").is_empty());
    assert!(
        first
            .one(".stage-text")
            .starts_with("Have at hand: pliers."),
        "{}",
        first.one(".stage-text")
    );
    assert!(first.one(".stage-text").contains("Heat the nozzle to"));
    assert!(
        first.one(".stage .caution").contains("burn"),
        "said before the step that heats"
    );
    assert!(
        !w.get(&format!("{case}/check/cold-pull?step=3"))
            .await
            .all(".stage .caution")
            .iter()
            .any(|said| said.contains("burn")),
        "and once"
    );
    let pull = w.get(&format!("{case}/check/cold-pull?step=5")).await;
    assert!(
        pull.one(".way").contains("It breaks off and stays in"),
        "the involved way is at hand"
    );
    assert!(
        pull.text.contains("class=\"sign hand\""),
        "a drawing where a hand needs one"
    );
    let last = w.get(&format!("{case}/check/cold-pull?step=99")).await;
    assert!(last.one(".stage-nav").contains("last step"));
    assert!(!last.all("button.outcome").is_empty(), "now it may be said");
    w.db.remove().await;
}

#[tokio::test]
async fn a_number_is_reckoned_shown_and_then_recorded_and_slips_are_asked_about() {
    let w = workshop().await;
    let case = w.open(&[("f.layer-step", "present")]).await;
    let check = format!("{case}/check/shift-size");
    let seq = w.get(&case).await.seq();
    let usual = [
        ("seq", seq.as_str()),
        ("step_uncertainty_mm", "0,1"),
        ("pulley_teeth", "20"),
        ("belt_pitch_mm", "2"),
        ("motor_steps", "200"),
    ];
    let send = async |step: &str, read: &str| {
        let mut fields = usual.to_vec();
        fields.extend([("step_mm", step), ("read", read), ("minutes", "4")]);
        w.post(&check, &fields).await
    };
    let shown = send("4,0 mm", "yes").await;
    assert_eq!(shown.status, StatusCode::OK);
    assert!(
        shown
            .one(".result")
            .starts_with("4.00 ± 0.10 mm of belt: 5 cycles")
    );
    assert!(shown.all(".fits tr").len() == 3 && shown.one(".reckoned").contains("Cycles: 5"));
    let now = w.get(&case).await.seq();
    assert_eq!(now, seq, "nothing is recorded before it was looked at");
    let wrong = send("far", "yes").await;
    assert_eq!(wrong.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(wrong.one(".gauge .error").contains("\"far\"") && wrong.text.contains("value=\"far\""));
    let inches = send("0.1575 in", "yes").await;
    assert!(
        inches.one(".reckoned").contains("read as"),
        "{}",
        inches.one(".reckoned")
    );
    assert_eq!(send("4,0 mm", "record").await.status, StatusCode::SEE_OTHER);
    let page = w.get(&case).await;
    assert!(
        page.one(".history").contains("read pitch of the belt")
            && page.text.contains("a multiple of the belt pitch (")
    );
    // Walls in one field, parted by blanks; a mean in inches is questioned, not refused.
    let box_case = w.open(&[("f.spongy-walls", "present")]).await;
    let seq = w.get(&box_case).await.seq();
    let walls = [
        ("seq", seq.as_str()),
        ("wall_mm", "0.0177 0.0178 0.0177 0.0179"),
        ("set_width_mm", "0.45"),
        ("read", "yes"),
    ];
    let asked = w
        .post(&format!("{box_case}/check/wall-thickness"), &walls)
        .await;
    assert!(asked.one(".reckoned .question-mark").contains("inches"));
    assert!(asked.one(".gauge .main").starts_with("It is so"));
    w.db.remove().await;
}

#[tokio::test]
async fn waits_parts_and_unfinished_work_are_kept_on_the_case() {
    let w = workshop().await;
    let case = w.open(&[("f.missing-layers", "present")]).await;
    w.record(
        &case,
        "timer",
        &[("work", "check/cold-pull"), ("step", "3"), ("minutes", "5")],
    )
    .await;
    let page = w.get(&case).await;
    assert!(page.one(".timer").contains("Do a cold pull"));
    assert!(
        page.attribute(".timer a", "href")
            .ends_with("/check/cold-pull?step=3"),
        "it leads back to where one was"
    );
    parts_off_and_back(&w, &case).await;
    w.record(
        &case,
        "verify",
        &[("result", "same"), ("minutes", "3"), ("grams", "5")],
    )
    .await;
    w.record(
        &case,
        "aside",
        &[
            ("work", "check/cold-pull"),
            ("why", "broke-off"),
            ("minutes", "7"),
        ],
    )
    .await;
    let page = w.get(&case).await;
    assert!(page.one(".aside-row").contains("broke off half-way") && page.all(".timer").is_empty());
    w.record(&case, "take-up", &[("work", "check/cold-pull")])
        .await;
    assert!(w.get(&case).await.all(".aside-row").is_empty());
    w.db.remove().await;
}

/// What was taken off stands on the case, and nothing is proven before it is back.
async fn parts_off_and_back(w: &Workshop, case: &str) {
    w.record(
        case,
        "parts",
        &[
            ("work", "fix/replace-nozzle"),
            ("step", "2"),
            ("out", "insulating cover"),
        ],
    )
    .await;
    assert!(
        w.get(case)
            .await
            .one(".caution")
            .contains("insulating cover")
    );
    w.record(
        case,
        "fix/replace-nozzle",
        &[("minutes", "15"), ("money", "1,5")],
    )
    .await;
    let seq = w.get(&format!("{case}/verify")).await.seq();
    let early = w
        .post(
            &format!("{case}/verify"),
            &[
                ("seq", &seq),
                ("result", "cured"),
                ("minutes", "3"),
                ("grams", "5"),
            ],
        )
        .await;
    assert_eq!(early.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(early.text.contains("Insulating cover"));
    w.record(
        case,
        "parts",
        &[
            ("work", "fix/replace-nozzle"),
            ("step", "5"),
            ("back", "insulating cover"),
        ],
    )
    .await;
}

#[tokio::test]
async fn a_fix_notes_the_value_it_changes_and_three_in_vain_offer_it_back() {
    let w = workshop().await;
    let case = w
        .open(&[("f.strings", "strong"), ("n.nozzle_c", "240")])
        .await;
    let page = w
        .get(&format!("{case}/fix/lower-nozzle-temperature?know=yes"))
        .await;
    assert_eq!(
        page.attribute("#before", "value"),
        "240 °C",
        "known values are filled in"
    );
    assert!(page.text.contains("Side effects"));
    let hints = page.all(".step .hint").join(" ");
    assert!(hints.contains("Look at: strong strings"), "{hints}");
    for fix in [
        "lower-nozzle-temperature",
        "raise-retraction",
        "speed-up-travel",
    ] {
        assert!(!w.get(&case).await.text.contains("Four ways on"));
        w.record(
            &case,
            &format!("fix/{fix}"),
            &[("before", "old"), ("after", "new")],
        )
        .await;
        w.record(&case, "verify", &[("result", "same")]).await;
    }
    assert!(
        w.get(&case)
            .await
            .text
            .contains("3 fixes in a row changed nothing")
    );
    let stuck = w.get(&format!("{case}/stuck")).await;
    assert_eq!(stuck.all(".change button").len(), 3);
    assert!(
        stuck
            .all(".matters li")
            .iter()
            .any(|m| m.contains("without it"))
    );
    let fixed = stuck.attribute(".change input[name=fixed]", "value");
    w.record(&case, "put-back", &[("fixed", &fixed)]).await;
    assert_eq!(
        w.get(&format!("{case}/stuck"))
            .await
            .all(".change button")
            .len(),
        2
    );
    w.record(&case, "leave", &[("note", "Ask on Friday")]).await;
    assert!(w.get(&case).await.text.contains("Ask on Friday"));
    assert!(w.get("/").await.text.contains("Left for another day"));
    w.db.remove().await;
}

#[tokio::test]
async fn a_locked_machine_is_locked_everywhere_and_its_tag_leads_back() {
    let w = workshop().await;
    let other = w.open(&[("f.layer-step", "present")]).await;
    let locked = w.open(&[("f.burnt-smell", "present")]).await;
    let page = w.get(&other).await;
    assert!(page.one(".stopped").contains("By another case") && page.all(".outcome").is_empty());
    assert_eq!(page.attribute(".stopped .main", "href"), locked);
    for path in ["check/belt-pluck", "fix/tighten-pulley"] {
        let refused = w.get(&format!("{other}/{path}")).await;
        assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY);
        assert!(
            refused.text.contains("locked by C-002"),
            "{}",
            refused.one("main")
        );
        let seq = page.seq();
        let posted = w
            .post(
                &format!("{other}/{path}"),
                &[("seq", &seq), ("outcome", "right")],
            )
            .await;
        assert_eq!(posted.status, StatusCode::UNPROCESSABLE_ENTITY);
    }
    assert!(
        w.get(&format!("{other}/plan"))
            .await
            .text
            .contains("The machine is locked")
    );
    assert!(
        w.get(&format!("/machines/{}/before", w.machine))
            .await
            .text
            .contains("This machine has a stop")
    );
    let tag = w.get(&format!("{locked}/stop/burning/tag")).await;
    assert!(tag.one(".tag").contains("Teal") && tag.one(".tag").contains("Do not switch on"));
    assert!(tag.text.contains("<svg") && tag.one(".tag-address").ends_with(&locked));
    lifted_by_a_named_person(&w, &locked).await;
    assert!(!w.get(&other).await.all(".outcome, .step .main").is_empty());
    w.db.remove().await;
}

/// Only a named person with a reason lifts it; then the other case goes on.
async fn lifted_by_a_named_person(w: &Workshop, locked: &str) {
    let seq = w.get(locked).await.seq();
    let nameless = w
        .post(
            &format!("{locked}/stop/burning"),
            &[("seq", &seq), ("by", ""), ("reason", "fine")],
        )
        .await;
    assert_eq!(nameless.status, StatusCode::UNPROCESSABLE_ENTITY);
    w.lift(
        locked,
        "burning",
        "M. Reed",
        "New plug and socket, pulled and looked at",
    )
    .await;
    assert!(
        w.get(locked)
            .await
            .one(".history")
            .contains("Stop cleared by M. Reed")
    );
}
