//! The bench without scripts: every measure by its address, what is wrong beside its field, slips
//! asked about, readings kept with case and machine.

use crate::kit::{Page, Workshop, workshop};
use axum::http::StatusCode;
use suspect_core::measures::measures;

/// The address of a measure with numbers in it.
fn at(measure: &str, numbers: &[(&str, &str)]) -> String {
    let mut query = form_urlencoded::Serializer::new(String::new());
    query.extend_pairs(numbers);
    format!("/bench/{measure}?{}", query.finish())
}

async fn measured(w: &Workshop, measure: &str, numbers: &[(&str, &str)]) -> Page {
    let page = w.get(&at(measure, numbers)).await;
    assert_eq!(page.status, StatusCode::OK, "{measure}: {}", page.text);
    page
}

#[tokio::test]
async fn every_measure_has_its_place_its_page_its_sheet_and_its_chapter() {
    let w = workshop().await;
    let bench = w.get("/bench").await;
    let links = bench.links();
    for of in measures() {
        assert!(links.contains(&format!("/bench/{}", of.id)), "{}", of.id);
        for path in [
            format!("/bench/{}", of.id),
            format!("/bench/{}/sheet", of.id),
            format!("/handbook/measures/{}", of.id),
        ] {
            let page = w.get(&path).await;
            assert_eq!(page.status, StatusCode::OK, "{path}");
            assert!(page.text.contains("bench-drawing"), "{path}");
            assert!(!page.text.contains("NaN"), "{path}");
        }
        if of.card.example.is_empty() {
            continue;
        }
        let page = measured(&w, of.id, of.card.example).await;
        assert!(!page.one("#result").is_empty(), "{}", of.id);
        assert!(!page.all(".formula").is_empty(), "{}", of.id);
        let typed = page.all(".num.typed");
        assert!(!typed.is_empty(), "{}: no number in the drawing", of.id);
    }
    assert_eq!(w.get("/bench/nothing").await.status, StatusCode::NOT_FOUND);
    w.db.remove().await;
}

#[tokio::test]
async fn measures_are_found_by_plain_words() {
    let w = workshop().await;
    for (words, wanted) in [
        ("belt loose", "/bench/belt-pluck"),
        ("how thick is the wall", "/bench/wall-thickness"),
        ("wet filament", "/bench/drying"),
        ("levelling screws", "/bench/tram"),
        ("photo of bands", "/bench/photo-rhythm"),
    ] {
        let page = w.get(&at("", &[("q", words)]).replace("/?", "?")).await;
        let found = page.attribute("section[aria-label=Found] a", "href");
        let all: Vec<String> = page.links();
        assert!(all.contains(&wanted.to_string()), "{words}: {found}");
    }
    let none = w.get("/bench?q=zzzz").await;
    assert!(none.one(".question-mark").contains("zzzz"));
    w.db.remove().await;
}

#[tokio::test]
async fn what_makes_no_sense_is_told_beside_its_field_and_stays() {
    let w = workshop().await;
    let many = "0.45 ".repeat(21);
    for (typed, told) in [
        ("thick", "thick"),
        ("NaN", "NaN"),
        ("1e400", "e400"),
        ("-0.4", "between"),
        (many.trim(), "21 were given"),
        ("<b>0.4</b>", "<b>"),
    ] {
        let page = measured(&w, "wall-thickness", &[("wall_mm", typed)]).await;
        let error = page.one(".field.wrong .error");
        assert!(error.contains(told), "{typed}: {error}");
        assert_eq!(page.attribute("#g-wall_mm", "value"), typed);
        assert!(
            page.all("#result").is_empty(),
            "nothing follows from {typed}"
        );
    }
    let empty = measured(&w, "wall-thickness", &[("wall_mm", "")]).await;
    assert!(
        empty
            .one("#follows")
            .contains("Still to be read: wall thickness")
    );
    let line = [
        ("x_mm", "0 10 20 30"),
        ("y_mm", "0 10 20 30"),
        ("z_mm", "0 0.1 0.2 0.3"),
        ("screw_x_mm", "0 30"),
        ("screw_y_mm", "0 30"),
    ];
    let page = measured(&w, "tram", &line).await;
    assert!(page.one(".error").contains("line"), "{}", page.text);
    // Inches and a comma are understood and told.
    let inches = [("wall_mm", "0.018 in; 0.0185 in"), ("set_width_mm", "0,45")];
    let page = measured(&w, "wall-thickness", &inches).await;
    assert!(
        page.text.contains("0.018 in read as 0.4572"),
        "{}",
        page.text
    );
    w.db.remove().await;
}

#[tokio::test]
async fn a_slip_is_asked_about_and_speaks_of_nobody_until_somebody_says_so() {
    let w = workshop().await;
    let case = w.open(&[("f.spongy-walls", "present")]).await;
    let id = case.trim_start_matches("/cases/").to_string();
    let slipped = [("wall_mm", "4.5 4.6 4.5 4.5"), ("case", id.as_str())];
    let page = measured(&w, "wall-thickness", &slipped).await;
    assert!(page.one("#follows").contains("slipped decimal"));
    assert!(page.all(".keep").is_empty(), "nothing to record yet");
    assert!(
        page.all("#result").is_empty(),
        "no advice from a number that is asked about"
    );
    assert!(page.all(".fits").is_empty());
    let mut sure = slipped.to_vec();
    sure.push(("sure", "yes"));
    let page = measured(&w, "wall-thickness", &sure).await;
    assert_eq!(page.all(".keep").len(), 2);
    assert!(page.one(".fits").contains("thicker"));
    w.db.remove().await;
}

/// The hidden fields and the action of the form that keeps a reading.
fn kept(page: &Page, label: &str) -> (String, Vec<(String, String)>) {
    let html = scraper::Html::parse_document(&page.text);
    let form = scraper::Selector::parse("form.keep").unwrap();
    let input = scraper::Selector::parse("input").unwrap();
    let form = html
        .select(&form)
        .find(|f| f.text().any(|t| t.contains(label)))
        .unwrap_or_else(|| panic!("no {label} in {}", page.text));
    let value = |e: scraper::ElementRef, name: &str| e.value().attr(name).map(str::to_string);
    let fields = form.select(&input);
    let fields = fields.filter_map(|i| Some((value(i, "name")?, value(i, "value")?)));
    (value(form, "action").unwrap(), fields.collect())
}

async fn press(w: &Workshop, page: &Page, label: &str) -> Page {
    let (action, fields) = kept(page, label);
    let fields: Vec<(&str, &str)> = fields
        .iter()
        .map(|(n, v)| (n.as_str(), v.as_str()))
        .collect();
    w.post(&action, &fields).await
}

#[tokio::test]
async fn a_reading_moves_the_line_up_is_recorded_in_one_touch_and_taken_back() {
    let w = workshop().await;
    let facts = [("f.spongy-walls", "present"), ("n.line_width_mm", "0.5")];
    let case = w.open(&facts).await;
    let id = case.trim_start_matches("/cases/").to_string();
    let thin = [("wall_mm", "0.41 0.42 0.41 0.41"), ("case", id.as_str())];
    let page = measured(&w, "wall-thickness", &thin).await;
    assert_eq!(
        page.attribute("#g-set_width_mm", "value"),
        "0.5",
        "the case knows it"
    );
    assert!(page.one(".before-after").contains("→"), "somebody moves");
    let done = press(&w, &page, "Record it in").await;
    assert_eq!(
        (done.status, done.to.as_deref()),
        (StatusCode::SEE_OTHER, Some(&*case))
    );
    let after = w.get(&case).await;
    assert!(
        after
            .one(".history")
            .contains("0.413 ± 0.020 mm against 0.50 mm"),
        "{}",
        after.one(".history")
    );
    // The machine keeps it too, with who and when, and a second one is drawn beside it.
    press(&w, &page, "Teal's value").await;
    let machine = w.machine.to_string();
    let page = measured(&w, "wall-thickness", &[("machine", &machine)]).await;
    assert_eq!(page.all(".over-time li").len(), 2);
    assert!(page.text.contains("class=\"series\""));
    // Taken back, the case knows nothing of it.
    let entry = after.attribute(".history form input[name=entry]", "value");
    w.record(&case, "retract", &[("entry", &entry)]).await;
    let page = measured(&w, "wall-thickness", &thin).await;
    assert!(page.one(".before-after").contains("→"));
    w.db.remove().await;
}

#[tokio::test]
async fn a_measure_of_another_name_answers_its_check_and_comes_back_to_the_case() {
    let w = workshop().await;
    let case = w.open(&[("f.first-layer-uneven", "present")]).await;
    let check = w
        .get(&format!("{case}/check/paper-at-points?know=yes"))
        .await;
    let bench = check.links().into_iter().find(|l| l.starts_with("/bench/"));
    let bench = bench.expect("the check leads to the bench");
    assert!(bench.starts_with("/bench/first-layer-thickness?case="));
    let page = w
        .get(&format!(
            "{bench}&thickness_mm=0.31+0.3+0.31+0.3+0.31&set_mm=0.2"
        ))
        .await;
    let done = press(&w, &page, "Record it in").await;
    assert_eq!(done.to.as_deref(), Some(&*case));
    let page = w.get(&format!("{case}/check/paper-at-points")).await;
    assert!(
        page.one(".question-mark").contains("Done before"),
        "{}",
        page.text
    );
    w.db.remove().await;
}

#[tokio::test]
async fn under_a_stop_no_check_is_recorded_from_the_bench() {
    let w = workshop().await;
    let case = w.open(&[("f.burnt-smell", "present")]).await;
    let id = case.trim_start_matches("/cases/").to_string();
    let hot = [
        ("shown_c", "210"),
        ("other_c", "203 202 203"),
        ("case", id.as_str()),
    ];
    let page = measured(&w, "second-thermometer", &hot).await;
    assert!(page.one(".stop-box").contains("Locked"), "said at the head");
    let refused = press(&w, &page, "Record it in").await;
    assert_ne!(refused.status, StatusCode::SEE_OTHER);
    assert!(!w.get(&case).await.text.contains("Hot end against another"));
    w.db.remove().await;
}

#[tokio::test]
async fn minutes_that_are_no_number_are_told_and_nothing_is_recorded() {
    let w = workshop().await;
    let case = w.open(&[("f.spongy-walls", "present")]).await;
    let id = case.trim_start_matches("/cases/").to_string();
    let thin = [("wall_mm", "0.41 0.42 0.41 0.41"), ("case", id.as_str())];
    let page = measured(&w, "wall-thickness", &thin).await;
    let (action, mut fields) = kept(&page, "Record it in");
    fields.retain(|(name, _)| name != "minutes");
    fields.push(("minutes".into(), "ten".into()));
    let fields: Vec<(&str, &str)> = fields
        .iter()
        .map(|(n, v)| (n.as_str(), v.as_str()))
        .collect();
    let refused = w.post(&action, &fields).await;
    assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(
        refused.one(".error").contains("ten"),
        "{}",
        refused.one(".error")
    );
    assert_eq!(refused.attribute("#minutes", "value"), "ten");
    assert_eq!(refused.attribute("#g-wall_mm", "value"), thin[0].1);
    assert!(!w.get(&case).await.text.contains("Flow from walls"));
    w.db.remove().await;
}

#[tokio::test]
async fn inputs_of_like_names_are_told_apart() {
    let w = workshop().await;
    let tram = [
        ("x_mm", "0 100 200"),
        ("y_mm", "0 0 100"),
        ("z_mm", "0 0.1 0.2"),
        ("screw_x_mm", "0 100 50"),
        ("screw_y_mm", "0 0"),
    ];
    let page = measured(&w, "tram", &tram).await;
    assert!(
        page.one(".field.wrong .error").contains("crews, X"),
        "{}",
        page.one(".error")
    );
    let labels = page.all("label");
    assert!(labels.iter().any(|l| l.contains("Screws, X")), "{labels:?}");
    let cool = [
        ("cool_mm", "1.2 1.2 1.2 1.2 1.2"),
        ("warm_mm", "1.3 1.3 1.3 1.3 1.3"),
    ];
    let page = measured(&w, "probe-repeat", &cool).await;
    assert_eq!(page.all(".fits tr").len(), 3, "as the case would hear it");
    w.db.remove().await;
}
