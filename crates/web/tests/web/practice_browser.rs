//! Real Chromium on practice: a case on the phone to its looking back, a dangerous one, a drill by
//! keyboard.

use crate::kit::chromium::{
    Driver, click, complaints, found, press, run, served, set_size, tap, text, type_in, until,
    value,
};
use crate::kit::workshop;
use fantoccini::Client;
use fantoccini::key::Key;
use serde_json::json;

/// A fix is done with the plug out, and given up where that was not it.
async fn mended_or_given_up(browser: &Client) {
    run(
        browser,
        "location.href = location.pathname + '/fix/tighten-pulley'; return true",
    )
    .await;
    until(browser, "document.querySelector('[name=begun][value=off]')").await;
    click(browser, "[name=begun][value=off]").await;
    click(browser, ".next .button.main").await;
    until(
        browser,
        "document.querySelector('.practice-ends, .debrief')",
    )
    .await;
    if value(browser, "return !!document.querySelector('.practice-ends')").await == json!(true) {
        click(browser, ".practice-ends [value='give-up']").await;
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn a_case_is_solved_on_a_phone_to_its_looking_back() {
    let w = workshop().await;
    let base = served(&w).await;
    let driver = Driver::start();
    let browser = driver.client().await;
    set_size(&browser, &base, 390, 844).await;
    browser.goto(&format!("{base}/practice")).await.unwrap();
    let fill = "document.querySelector('#level').value = 'clear';\
        document.querySelector('#seed').value = '7'; return true";
    run(&browser, fill).await;
    click(&browser, ".practice-draw .button").await;
    until(&browser, "document.querySelector('.member-says')").await;
    assert_eq!(text(&browser, "h1").await, "A case: clear");
    // Whom one suspects, then a look at a place of the print, then a fix.
    run(
        &browser,
        "document.querySelector('.beliefs').open = true; return true",
    )
    .await;
    click(&browser, ".beliefs .button").await;
    until(&browser, "document.querySelector('#last')").await;
    tap(&browser, "a[href*='at=machine']").await;
    until(&browser, "document.querySelector('.practice-sign button')").await;
    click(&browser, ".practice-sign button").await;
    let looked = "!document.querySelector('#last').textContent.includes('believe')";
    until(&browser, looked).await;
    let wide = "return document.documentElement.scrollWidth <= 390";
    assert_eq!(value(&browser, wide).await, json!(true));
    mended_or_given_up(&browser).await;
    until(&browser, "document.querySelector('.debrief')").await;
    for word in ["It was", "Step by step", "What you believed"] {
        assert!(text(&browser, "main").await.contains(word), "{word}");
    }
    assert_eq!(value(&browser, wide).await, json!(true));
    assert_eq!(complaints(&browser).await, Vec::<String>::new());
    browser.close().await.unwrap();
    w.db.remove().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_danger_is_overlooked_and_told_soberly() {
    let w = workshop().await;
    let base = served(&w).await;
    let case = crate::practice::drawn(&w, "dangerous", "5").await;
    let driver = Driver::start();
    let browser = driver.client().await;
    browser.goto(&format!("{base}{case}")).await.unwrap();
    click(&browser, ".practice-ends [value='give-up']").await;
    until(&browser, "document.querySelector('.practice-warned')").await;
    assert_eq!(text(&browser, "h1").await, "A danger overlooked");
    click(&browser, ".practice-warned a").await;
    until(&browser, "location.pathname.startsWith('/handbook')").await;
    browser.back().await.unwrap();
    until(&browser, "document.querySelector('.debrief')").await;
    assert_eq!(complaints(&browser).await, Vec::<String>::new());
    browser.close().await.unwrap();
    w.db.remove().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_drill_goes_by_keyboard() {
    let w = workshop().await;
    let base = served(&w).await;
    let driver = Driver::start();
    let browser = driver.client().await;
    let page = format!("{base}/practice/drills?kind=sign");
    browser.goto(&page).await.unwrap();
    found(&browser, ".drill-picture svg").await;
    let named = "return document.querySelector('.drill-picture svg').ariaLabel";
    assert_eq!(value(&browser, named).await, json!("What a print shows"));
    let card = "return document.querySelector('[name=card]')?.value";
    let first = value(&browser, card).await;
    type_in(&browser, "1").await;
    until(&browser, "document.querySelector('.drill-said')").await;
    press(&browser, Key::Enter).await;
    until(&browser, "document.querySelector('[name=card]')").await;
    assert_ne!(value(&browser, card).await, first);
    assert_eq!(complaints(&browser).await, Vec::<String>::new());
    browser.close().await.unwrap();
    w.db.remove().await;
}
