//! Real Chromium: a check with a wait and a number, and a stop with its lifting, by keyboard alone.

use crate::kit::chromium::{Driver, complaints, press, served, tab_to, text, type_in, until};
use crate::kit::workshop;
use fantoccini::key::Key;
use serde_json::json;

#[tokio::test(flavor = "multi_thread")]
async fn a_check_with_a_wait_and_a_number_by_keyboard() {
    let w = workshop().await;
    let base = served(&w).await;
    let case = w
        .open(&[("f.spongy-walls", "present"), ("n.line_width_mm", "0.45")])
        .await;
    let driver = Driver::start();
    let browser = driver.client().await;
    browser
        .goto(&format!("{base}{case}/check/wall-thickness"))
        .await
        .unwrap();
    browser
        .execute("window.samePage = true", vec![])
        .await
        .unwrap();
    two_steps_on(&browser).await;
    tab_to(&browser, "#timer-2 .button").await;
    press(&browser, Key::Enter).await;
    until(
        &browser,
        "document.querySelector('.stage .timer .left')?.textContent.includes('left')",
    )
    .await;
    assert!(
        text(&browser, ".stage .timer .left")
            .await
            .starts_with("14:")
            || text(&browser, ".stage .timer .left")
                .await
                .starts_with("15:00")
    );
    // It runs on when the page is closed, and the case leads back to it.
    browser.goto(&format!("{base}{case}")).await.unwrap();
    until(
        &browser,
        "document.querySelector('.timer .left')?.textContent.includes('left')",
    )
    .await;
    tab_to(&browser, ".timer a").await;
    press(&browser, Key::Enter).await;
    until(
        &browser,
        "document.getElementById('stage-2') !== null && document.querySelector('.stage \
        .timer') !== null",
    )
    .await;
    walls_measured(&browser).await;
    // Keys 1 to 9 answer the step on screen, and `u` takes it back.
    let entries = "document.querySelectorAll('.history > ol > li').length";
    browser
        .execute(&format!("window.before = {entries}"), vec![])
        .await
        .unwrap();
    type_in(&browser, "u").await;
    until(&browser, "document.querySelector('.undone') !== null").await;
    assert_eq!(complaints(&browser).await, Vec::<String>::new());
    browser.close().await.unwrap();
    w.db.remove().await;
}

/// Four readings, one with a comma, are reckoned up and recorded; the wait is over.
async fn walls_measured(browser: &fantoccini::Client) {
    tab_to(browser, "#say a.wide").await;
    press(browser, Key::Enter).await;
    tab_to(browser, "#g-wall_mm").await;
    type_in(browser, "0.38 0.37 0.39 0,38").await;
    press(browser, Key::Enter).await;
    until(
        browser,
        "document.querySelector('.fits th')?.textContent.includes('thinner')",
    )
    .await;
    assert!(text(browser, ".reckoned").await.contains("Flow new"));
    tab_to(browser, ".gauge .main").await;
    press(browser, Key::Enter).await;
    until(
        browser,
        "document.querySelector('.history')?.textContent.includes('wall thickness 0.38 0.37')",
    )
    .await;
    assert_eq!(
        browser
            .execute("return document.querySelectorAll('.timer').length", vec![])
            .await
            .unwrap(),
        json!(0)
    );
}

/// The arrow leads on without a new page: tools first, then the step that waits.
async fn two_steps_on(browser: &fantoccini::Client) {
    until(browser, "document.getElementById('stage-1') !== null").await;
    press(browser, Key::Right).await;
    until(browser, "document.getElementById('stage-2') !== null").await;
    assert_eq!(
        browser
            .execute("return window.samePage", vec![])
            .await
            .unwrap(),
        json!(true)
    );
}

#[tokio::test(flavor = "multi_thread")]
async fn a_stop_locks_an_open_page_at_once_and_is_lifted_by_keyboard() {
    let w = workshop().await;
    let base = served(&w).await;
    let (here, there) = (
        w.open(&[("f.layer-step", "present")]).await,
        w.open(&[("f.layer-step", "present")]).await,
    );
    let driver = Driver::start();
    let browser = driver.client().await;
    browser.goto(&format!("{base}{here}")).await.unwrap();
    until(
        &browser,
        "document.querySelector('.step:not(.stopped) .main') !== null",
    )
    .await;
    // Somebody else smells burning in another case of the same machine.
    w.record(
        &there,
        "observe",
        &[("finding", "burnt-smell"), ("state", "present")],
    )
    .await;
    until(
        &browser,
        "document.querySelector('.step.stopped')?.textContent.includes('By another case')",
    )
    .await;
    // From the locked page by keys alone: to that case, to its stop, name, reason, lifted.
    type_in(&browser, "1").await;
    let own =
        "document.querySelector('.step.stopped')?.textContent.includes('Nothing else is advised')";
    until(&browser, own).await;
    type_in(&browser, "1").await;
    until(&browser, "document.getElementById('by') !== null").await;
    for step in 1..=4 {
        tab_to(&browser, &format!("input[name=seen][value='{step}']")).await;
        press(&browser, Key::Space).await;
    }
    tab_to(&browser, "#by").await;
    type_in(&browser, "M. Reed").await;
    tab_to(&browser, "#reason").await;
    type_in(&browser, "Plug and socket replaced, tugged and looked at").await;
    tab_to(&browser, ".step.stopped button.wide").await;
    press(&browser, Key::Enter).await;
    until(
        &browser,
        "document.querySelector('.history')?.textContent.includes('Stop cleared by M. Reed')",
    )
    .await;
    browser.goto(&format!("{base}{here}")).await.unwrap();
    until(
        &browser,
        "document.querySelector('.step:not(.stopped) .main') !== null",
    )
    .await;
    assert_eq!(complaints(&browser).await, Vec::<String>::new());
    browser.close().await.unwrap();
    w.db.remove().await;
}
