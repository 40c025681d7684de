//! A brief goes out and comes back; two people at one case.

use crate::intake::at;
use crate::kit::{Workshop, workshop};
use crate::pictures::shot;
use axum::http::StatusCode;
use suspect_store::Uuid;

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
    written(&w, &case).await;
    w.record(&case, "links", &[]).await;
    let help = w
        .get(&format!("{case}/brief"))
        .await
        .attribute(".help-link a", "href");
    assert!(help.starts_with("http://localhost/help/"), "whole: {help}");
    let help = help[help.find("/help/").unwrap()..].to_string();
    helper_sees(&w, &help).await;
    heard(&w, &case, &help).await;
    revoked(&w, &case, &help).await;
    w.db.remove().await;
}

/// The brief on the page and as a file.
async fn written(w: &Workshop, case: &str) {
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
}

async fn helper_sees(w: &Workshop, help: &str) {
    let helper = w.get(help).await;
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
}

/// What a helper says is hearsay until somebody takes it up.
async fn heard(w: &Workshop, case: &str, help: &str) {
    let before = w.get(case).await.one(".ledger .total");
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
    let page = w.get(case).await;
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
        case,
        "weigh",
        &[("suggestion", &suggestion), ("taken", "yes")],
    )
    .await;
    assert!(w.get(case).await.one(".hearsay").contains("taken up"));
}

/// A link that was taken back leads nowhere, and a guesser learns nothing.
async fn revoked(w: &Workshop, case: &str, help: &str) {
    let token = help.rsplit('/').next().unwrap().to_string();
    assert_eq!(token.len(), 32);
    w.record(case, "links/revoke", &[("token", &token)]).await;
    for address in [
        help.to_string(),
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
