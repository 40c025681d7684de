//! The handbook answers, and is found by plain words.

use crate::kit::workshop;
use axum::http::StatusCode;
use std::collections::{HashMap, HashSet};
use suspect_core::knowledge::CautionLevel;

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

#[tokio::test]
async fn a_warning_is_headed_as_one_wherever_it_stands() {
    let w = workshop().await;
    let k = &w.state.knowledge;
    let warnings = k
        .cautions
        .iter()
        .filter(|c| c.level == CautionLevel::Warning);
    let warnings: Vec<&str> = warnings.map(|c| c.text.as_str()).collect();
    for path in [
        "/suspects/nozzle-leaks",
        "/handbook/fixes/hot-tighten-nozzle",
        "/handbook/cautions",
    ] {
        let page = w.get(path).await;
        let said = page.all(".caution");
        let grave = said
            .iter()
            .filter(|s| warnings.iter().any(|t| s.contains(t)));
        let grave: Vec<&String> = grave.collect();
        assert!(!grave.is_empty(), "{path} warns of nothing");
        for text in grave {
            assert!(text.starts_with("Warning."), "{path}: {text}");
        }
        assert!(page.all(".caution.warning").len() < said.len(), "{path}");
    }
}
