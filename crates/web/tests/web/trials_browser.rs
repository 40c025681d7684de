//! Real Chromium on trials: two files become a series, pieces are made and graded, the settings are
//! kept; a test piece turns.

use crate::kit::chromium::{
    Driver, click, complaints, press, run, served, set_size, tab_to, text, until, value,
};
use crate::kit::workshop;
use crate::print_files::{added, lighthouse};
use fantoccini::Client;
use fantoccini::key::Key;
use serde_json::json;
use suspect_print_files::made::Recipe;

/// A series of the two files, with their differences as its list.
async fn begun_from_files(browser: &Client) {
    click(browser, "a[href*='/trials/new']").await;
    until(
        browser,
        "document.querySelector('h1')?.textContent === 'New trial series'",
    )
    .await;
    run(
        browser,
        "document.querySelector('#name').value = 'Which of the two'; return true",
    )
    .await;
    click(browser, ".form .button.main").await;
    until(browser, "location.pathname.endsWith('/differences')").await;
    let rows = "return [...document.querySelectorAll('.difference [name^=\"name.\"]')]\
        .filter(i => i.value).length";
    let rows = value(browser, rows).await.as_u64().unwrap();
    assert!(rows >= 2, "{rows} differences of the two files");
    click(browser, ".form .button.main").await;
    until(
        browser,
        "document.querySelector('.next-piece .button.main')",
    )
    .await;
}

/// Pieces made and graded by touches until the page says who it is.
async fn until_proven(browser: &Client) {
    for _ in 0..14 {
        let done = "return !!document.querySelector('.next-card .main')";
        if value(browser, done).await == json!(true) {
            break;
        }
        click(browser, ".next-piece > .piece-card .button.main").await;
        until(browser, "document.querySelector('.grade-buttons')").await;
        // The fault is gone whenever the retraction is back at its good value.
        let grade = "const rows = [...document.querySelectorAll('.entries-list div')];\
            const row = rows.find(r => /retract/i.test(r.querySelector('dt').textContent));\
            return row && !/1[.]2/.test(row.querySelector('dd').textContent) ? 5 : 1";
        let grade = value(browser, grade).await;
        click(browser, &format!(".grade-buttons [value='{grade}']")).await;
        until(browser, "document.querySelector('.wall, .next-card')").await;
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn two_files_become_a_series_that_ends_with_settings_kept() {
    let w = workshop().await;
    let base = served(&w).await;
    let case = w.open(&[]).await;
    let bad = Recipe {
        nozzle_c: [215.0, 205.0],
        retract: 1.2,
        ..Recipe::default()
    };
    let good = added(&w, &case, "good.gcode", &lighthouse(Recipe::default())).await;
    let bad = added(&w, &case, "bad.gcode", &lighthouse(bad)).await;
    let id = |address: &str| {
        let path = address.split('?').next().unwrap();
        path.rsplit('/').next().unwrap().to_owned()
    };
    let driver = Driver::start();
    let browser = driver.client().await;
    set_size(&browser, &base, 390, 844).await;
    let against = format!(
        "{base}/files/{}/against/{}?case={}",
        id(&good.0),
        id(&bad.0),
        id(&case)
    );
    browser.goto(&against).await.unwrap();
    begun_from_files(&browser).await;
    let wide =
        "return document.documentElement.scrollWidth <= document.documentElement.clientWidth";
    assert_eq!(
        value(&browser, wide).await,
        json!(true),
        "nothing sticks out"
    );

    until_proven(&browser).await;
    assert!(
        text(&browser, ".next-card h2")
            .await
            .to_lowercase()
            .contains("retract")
    );
    click(&browser, ".next-card .main").await;
    until(&browser, "document.querySelector('[name=how]')").await;
    click(&browser, ".form .button.main").await;
    until(&browser, "document.querySelector('.series-end')").await;
    assert!(
        text(&browser, ".series-end h2")
            .await
            .contains("Found and put back")
    );
    assert_eq!(complaints(&browser).await, Vec::<String>::new());
    browser.close().await.unwrap();
    w.db.remove().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_test_piece_turns_by_keys() {
    let w = workshop().await;
    let base = served(&w).await;
    let driver = Driver::start();
    let browser = driver.client().await;
    browser
        .goto(&format!("{base}/pieces/buttress"))
        .await
        .unwrap();
    until(
        &browser,
        "document.querySelector('.turning')?.dataset.drawn === '172'",
    )
    .await;
    let seen = "return document.querySelector('.turning canvas').toDataURL().length + ':' + \
        document.querySelector('.turning canvas').toDataURL().slice(-400)";
    let before = value(&browser, seen).await;
    tab_to(&browser, ".turning canvas").await;
    press(&browser, Key::Right).await;
    assert_ne!(value(&browser, seen).await, before, "it turned");
    assert_eq!(complaints(&browser).await, Vec::<String>::new());
    browser.close().await.unwrap();
    w.db.remove().await;
}
