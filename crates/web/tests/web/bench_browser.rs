//! Real Chromium at the bench: a flow by keyboard, a period on a photo by touch, a live trace.

use crate::devices::with_stand_ins;
use crate::kit::chromium::{
    Driver, complaints, devtools, drag_up, press, served, set_size, tab_to, text, type_in, until,
    value,
};
use crate::kit::workshop;
use crate::pictures::shot;
use fantoccini::key::Key;
use serde_json::json;
use suspect_core::measures::measures;

#[tokio::test(flavor = "multi_thread")]
async fn a_flow_is_measured_at_the_bench_and_recorded_by_keyboard() {
    let w = workshop().await;
    let base = served(&w).await;
    let case = w.open(&[("f.spongy-walls", "present")]).await;
    let id = case.trim_start_matches("/cases/");
    let driver = Driver::start();
    let browser = driver.client().await;
    let address = format!("{base}/bench/wall-thickness?case={id}");
    browser.goto(&address).await.unwrap();
    browser
        .execute("window.samePage = true", vec![])
        .await
        .unwrap();
    tab_to(&browser, "#g-wall_mm").await;
    type_in(&browser, "0.38 0.37 0,38 0.38").await;
    // What follows comes while one types, and the number stands in the drawing.
    until(
        &browser,
        "document.querySelector('#result')?.textContent.startsWith('0.378')",
    )
    .await;
    until(
        &browser,
        "document.querySelector('.num.typed')?.textContent.includes('×4')",
    )
    .await;
    until(
        &browser,
        "document.querySelector('.before-after li') !== null",
    )
    .await;
    assert_eq!(value(&browser, "return window.samePage").await, json!(true));
    let here = browser.current_url().await.unwrap().to_string();
    assert!(
        here.contains("wall_mm=0.38"),
        "the address can be shared: {here}"
    );
    assert!(text(&browser, ".numbers-in").await.contains("0.45 mm"));
    tab_to(&browser, ".keep .main").await;
    press(&browser, Key::Enter).await;
    until(&browser, &format!("location.pathname === '{case}'")).await;
    assert!(
        text(&browser, ".history")
            .await
            .contains("0.378 ± 0.020 mm")
    );
    assert_eq!(complaints(&browser).await, Vec::<String>::new());
    browser.close().await.unwrap();
    w.db.remove().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_period_is_found_on_a_photo_by_touch() {
    let w = workshop().await;
    let base = served(&w).await;
    let case = w
        .open(&[("f.bands-regular", "present"), ("n.layer_mm", "0.2")])
        .await;
    w.upload(&case, &[("bands.jpg", &shot(0))]).await;
    let page = w.get(&format!("{case}/intake?part=pictures")).await;
    let picture = page.attribute(".picture-cards a", "href");
    let driver = Driver::start();
    let browser = driver.client().await;
    set_size(&browser, &base, 390, 844).await;
    // The line begins in the background: nothing there has a rhythm.
    let query = "what=rhythm&scale_mm=10&ref_px=500+1100+1150+1100&line_px=700+150+700+190";
    browser
        .goto(&format!("{base}{picture}/measure?{query}"))
        .await
        .unwrap();
    until(&browser, "document.querySelector('.grip') !== null").await;
    drag_up(&browser, "#grip-line_px-1", -190.0).await;
    until(
        &browser,
        "/^1\\.(39|4)/.test(document.querySelector('#result')?.textContent ?? '')",
    )
    .await;
    // By keys it is moved to the pixel.
    tab_to(&browser, "#grip-line_px-1").await;
    let before = value(
        &browser,
        "return document.getElementById('g-line_px').value",
    )
    .await;
    press(&browser, Key::Right).await;
    until(
        &browser,
        &format!("document.getElementById('g-line_px').value !== {before}"),
    )
    .await;
    assert_eq!(complaints(&browser).await, Vec::<String>::new());
    browser.close().await.unwrap();
    w.db.remove().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_machine_is_watched_live() {
    let w = with_stand_ins(&[("console", "printer", "hunts")]).await;
    let base = served(&w).await;
    let driver = Driver::start();
    let browser = driver.client().await;
    let address = format!("{base}/bench/temperature-trace?machine={}", w.machine);
    browser.goto(&address).await.unwrap();
    tab_to(&browser, "button[data-live]").await;
    press(&browser, Key::Enter).await;
    until(
        &browser,
        "document.querySelector('#chart svg .way') !== null",
    )
    .await;
    let set = value(&browser, "return document.getElementById('g-set_c').value").await;
    assert_eq!(set, json!("210"), "what is set is the machine's word");
    assert!(
        text(&browser, "#follows")
            .await
            .contains("a minute at least")
    );
    press(&browser, Key::Enter).await;
    until(
        &browser,
        "document.querySelector('[data-said]').textContent.startsWith('Stopped')",
    )
    .await;
    assert_eq!(complaints(&browser).await, Vec::<String>::new());
    browser.close().await.unwrap();
    w.db.remove().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_pluck_is_recorded_with_the_microphone() {
    let w = workshop().await;
    let base = served(&w).await;
    let driver = Driver::start();
    let browser = driver.client().await;
    browser.goto(&format!("{base}/bench/tone")).await.unwrap();
    tab_to(&browser, "button[data-record=w-first]").await;
    press(&browser, Key::Enter).await;
    // The beep of a microphone that is none is heard, or told to be no pluck: drawn it is.
    until(
        &browser,
        "document.querySelector('.belt svg.chart') !== null",
    )
    .await;
    assert_eq!(complaints(&browser).await, Vec::<String>::new());
    browser.close().await.unwrap();
    w.db.remove().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn every_measuring_sheet_fits_one_page_of_paper() {
    let w = workshop().await;
    let base = served(&w).await;
    let driver = Driver::start();
    let browser = driver.client().await;
    // A4 less margins of 12 mm, at 96 pixels an inch.
    set_size(&browser, &base, 703, 1032).await;
    devtools(
        &browser,
        "Emulation.setEmulatedMedia",
        json!({ "media": "print" }),
    )
    .await;
    for of in measures() {
        let sheet = format!("{base}/bench/{}/sheet", of.id);
        browser.goto(&sheet).await.unwrap();
        let tall = value(&browser, "return document.documentElement.scrollHeight").await;
        assert!(tall.as_i64().unwrap() <= 1032, "{} is {tall} high", of.id);
    }
    browser.close().await.unwrap();
    w.db.remove().await;
}
