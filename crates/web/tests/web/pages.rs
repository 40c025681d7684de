//! Facts corrected, machines added, two tabs on one case, a machine under a stop.

use crate::kit::{Page, Workshop, workshop};
use axum::http::StatusCode;

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
        page.text.contains("No nest of loose filament (hunch)"),
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
    for part in ["stands on the floor already", "is not known for `feed`"] {
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
    let said = "Mark the pulley and its shaft, print, look again: the pulley has turned";
    let page = w.get(&case).await;
    for place in [".ledger-rows th", ".history .what"] {
        let rows = page.all(place);
        let times = rows.iter().filter(|r| r.contains(said)).count();
        assert_eq!(times, 1, "once in {place}: {rows:?}");
    }
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
    neither_without_a_name_nor_unseen(&w, &case, &page).await;
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

async fn neither_without_a_name_nor_unseen(w: &Workshop, case: &str, page: &Page) {
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
}

#[tokio::test]
async fn the_page_of_components_is_there_for_whoever_asks_only() {
    let w = workshop().await;
    assert_eq!(w.get("/patterns").await.status, StatusCode::NOT_FOUND);
    let asked = w.state.clone().with_patterns(true);
    let w = Workshop {
        pages: suspect_web::router(asked, suspect_web::Hosts::default()),
        ..w
    };
    let page = w.get("/patterns").await;
    assert_eq!(page.status, StatusCode::OK);
    assert_eq!(page.all(".theme > h2"), ["Light", "Dark"]);
    // Whatever both themes show is named once in each.
    let ids = page.ids("[id]");
    let once: std::collections::BTreeSet<_> = ids.iter().collect();
    assert_eq!(once.len(), ids.len(), "{ids:?}");
    let themes = w.get("/patterns/themes.css").await.text;
    assert!(themes.contains(".in-light {") && themes.contains(".in-dark {"));
}
