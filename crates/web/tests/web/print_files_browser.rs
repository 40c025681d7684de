//! Real Chromium on a print file: dropped on a case, the height moved, layers by keys, facts taken
//! over, two files compared.

use crate::kit::chromium::{
    Driver, click, complaints, press, run, served, set_size, tab_to, text, until, value,
};
use crate::kit::workshop;
use crate::print_files::{added, lighthouse};
use fantoccini::Client;
use fantoccini::key::Key;
use serde_json::json;
use suspect_print_files::made::Recipe;

/// Drops a made file on the form of the page.
fn drop_script(name: &str, text: &str) -> String {
    let text = json!(text);
    format!(
        "const bytes = new Blob([{text}]); const file = new File([bytes], '{name}');
         const data = new DataTransfer(); data.items.add(file);
         document.querySelector('#upload').dispatchEvent(
           new DragEvent('drop', {{ dataTransfer: data, bubbles: true, cancelable: true }}));
         return true"
    )
}

#[tokio::test(flavor = "multi_thread")]
async fn a_file_is_dropped_on_a_case_looked_through_and_believed() {
    let w = workshop().await;
    let base = served(&w).await;
    let case = w.open(&[]).await;
    let driver = Driver::start();
    let browser = driver.client().await;
    let recipe = Recipe {
        fan_change: Some((4.0, 40.0)),
        ..Recipe::default()
    };
    let made = String::from_utf8(lighthouse(recipe)).unwrap();
    browser.goto(&format!("{base}{case}")).await.unwrap();
    until(
        &browser,
        "document.documentElement.classList.contains('scripted')",
    )
    .await;
    run(&browser, &drop_script("dull.gcode", &made)).await;
    until(&browser, "location.pathname.startsWith('/files/')").await;
    until(
        &browser,
        "Number(document.querySelector('[data-view]')?.dataset.drawn) > 50",
    )
    .await;
    assert_eq!(text(&browser, "h1").await, "dull.gcode");

    keys_turn_layers(&browser).await;

    // Another colour has another legend.
    click(&browser, "[name=colour][value=speed]").await;
    until(
        &browser,
        "document.querySelector('[data-legend]').textContent.includes('mm/s')",
    )
    .await;

    click(&browser, "#take-over .main").await;
    until(&browser, "!document.querySelector('#take-over .main')").await;
    assert!(text(&browser, "#take-over").await.contains("known"));
    assert_eq!(complaints(&browser).await, Vec::<String>::new());

    browser.close().await.unwrap();
    w.db.remove().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn two_files_are_compared_on_a_telephone() {
    let w = workshop().await;
    let base = served(&w).await;
    let case = w.open(&[]).await;
    let dull = Recipe {
        fan_change: Some((4.0, 40.0)),
        ..Recipe::default()
    };
    added(&w, &case, "dull.gcode", &lighthouse(dull)).await;
    let driver = Driver::start();
    let browser = driver.client().await;
    set_size(&browser, &base, 390, 800).await;
    browser.goto(&format!("{base}{case}/files")).await.unwrap();
    until(
        &browser,
        "document.documentElement.classList.contains('scripted')",
    )
    .await;
    let fine = String::from_utf8(lighthouse(Recipe::default())).unwrap();
    run(&browser, &drop_script("fine.gcode", &fine)).await;
    until(
        &browser,
        "document.querySelector('h1')?.textContent === 'fine.gcode'",
    )
    .await;
    let wide =
        "return document.documentElement.scrollWidth <= document.documentElement.clientWidth";
    assert_eq!(
        value(&browser, wide).await,
        json!(true),
        "nothing sticks out"
    );
    click(&browser, "a[href*='/against/']").await;
    until(
        &browser,
        "document.querySelector('h1')?.textContent === 'Two files compared'",
    )
    .await;
    assert!(text(&browser, ".differences").await.contains("Part fan"));
    assert_eq!(complaints(&browser).await, Vec::<String>::new());
    browser.close().await.unwrap();
    w.db.remove().await;
}

/// Keys turn the layers; the values and the line across the charts follow.
async fn keys_turn_layers(browser: &Client) {
    tab_to(browser, "[data-view]").await;
    let before = value(
        browser,
        "return document.querySelector('[data-number]').textContent",
    )
    .await;
    press(browser, Key::Up).await;
    press(browser, Key::Up).await;
    let after: u32 = before.as_str().unwrap().parse::<u32>().unwrap() + 2;
    until(
        browser,
        &format!("document.querySelector('[data-number]').textContent === '{after}'"),
    )
    .await;
    until(
        browser,
        "document.querySelector('[data-value=fan_percent]').textContent === '40 %'",
    )
    .await;
    let line = "return document.querySelector('.by-height .here').getAttribute('transform')";
    let high = value(browser, line).await;
    for _ in 0..5 {
        press(browser, Key::Down).await;
    }
    until(
        browser,
        "document.querySelector('[data-value=fan_percent]').textContent === '100 %'",
    )
    .await;
    assert_ne!(value(browser, line).await, high);
}
