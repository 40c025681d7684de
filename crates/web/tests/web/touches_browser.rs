//! What becomes of a press when the line is gone, the finger is quick, or somebody else writes
//! meanwhile.

use crate::kit::chromium::{Driver, click, complaints, devtools, found, run, served, text, until};
use crate::kit::workshop;
use fantoccini::Client;
use serde_json::json;
use suspect_core::case::Event;

async fn offline(browser: &Client, gone: bool) {
    devtools(browser, "Network.enable", json!({})).await;
    let conditions =
        json!({ "offline": gone, "latency": 0, "downloadThroughput": -1, "uploadThroughput": -1 });
    devtools(browser, "Network.emulateNetworkConditions", conditions).await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_double_press_and_a_held_key_are_one_touch_and_never_answer_the_next_step() {
    let w = workshop().await;
    let case = w.open(&[("f.spongy-walls", "present")]).await;
    let base = served(&w).await;
    let driver = Driver::start();
    let browser = driver.client().await;
    browser.goto(&format!("{base}{case}")).await.unwrap();
    let before: u32 = w.get(&case).await.seq().parse().unwrap();
    found(&browser, ".outcomes .outcome").await;
    run(
        &browser,
        "const b = document.querySelector('.outcome'); b.click(); b.click(); b.click();",
    )
    .await;
    let next = format!("Number(document.getElementById('live').dataset.seq) > {before}");
    until(&browser, &next).await;
    // A key that is held down while the page changes presses nothing more.
    run(
        &browser,
        "for (let n = 0; n < 5; n++) document.body.dispatchEvent(
             new KeyboardEvent('keydown', { key: '1', repeat: true, bubbles: true }));
         document.body.dispatchEvent(new KeyboardEvent('keydown', { key: 'u', repeat: true,
             bubbles: true }));",
    )
    .await;
    until(&browser, "!document.querySelector('form.sending')").await;
    let id = case.rsplit('/').next().unwrap().parse().unwrap();
    let log = w.state.store.case_log(id).await.unwrap();
    let checks = log
        .iter()
        .filter(|e| matches!(e.event, Event::Checked { .. }))
        .count();
    assert_eq!((checks, log.len() as u32), (1, before + 1), "{log:?}");
    assert!(complaints(&browser).await.is_empty());
    browser.close().await.unwrap();
    w.db.remove().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn without_an_answer_nothing_typed_is_lost_and_sent_again_it_counts_once() {
    let w = workshop().await;
    let case = w.open(&[]).await;
    let base = served(&w).await;
    let driver = Driver::start();
    let browser = driver.client().await;
    let words = format!("{base}{case}/intake?part=words");
    browser.goto(&words).await.unwrap();
    // The line is gone.
    type_words(&browser, "the feeder clicks").await;
    offline(&browser, true).await;
    run(
        &browser,
        "document.querySelector('#work form textarea').form.requestSubmit()",
    )
    .await;
    found(&browser, "#not-sent button").await;
    assert_eq!(run(&browser, TYPED).await, "the feeder clicks");
    assert!(text(&browser, "#not-sent").await.contains("Not sent"));
    // It is back, and the answer of the first try was only lost on its way: the same touch again.
    offline(&browser, false).await;
    click(&browser, "#not-sent button").await;
    until(
        &browser,
        "document.querySelector('.proposals, .told') !== null",
    )
    .await;
    assert!(
        w.get(&format!("{case}/intake?part=words"))
            .await
            .text
            .contains("the feeder clicks")
    );
    let once = w.get(&case).await.all(".history li");
    assert_eq!(
        once.iter().filter(|l| l.contains("Told")).count(),
        1,
        "{once:?}"
    );
    kept_while_the_database_is_away(&browser).await;
    browser.close().await.unwrap();
    w.db.remove().await;
}

const TYPED: &str = "return document.querySelector('#work form textarea').value";

async fn type_words(browser: &fantoccini::Client, said: &str) {
    let field = found(browser, "#work form textarea").await;
    field.send_keys(said).await.unwrap();
}

/// The page that says that the database is away does not take the form's place, and not even a
/// reload takes the words away.
async fn kept_while_the_database_is_away(browser: &fantoccini::Client) {
    run(
        browser,
        "window.real = window.fetch; window.fetch = async () => new Response('gone', \
            { status: 503 });",
    )
    .await;
    type_words(browser, "and it strings").await;
    run(
        browser,
        "document.querySelector('#work form textarea').form.requestSubmit()",
    )
    .await;
    found(browser, "#not-sent").await;
    assert_eq!(run(browser, TYPED).await, "and it strings");
    // Not even a reload takes it away.
    browser.refresh().await.unwrap();
    found(browser, "#work form textarea").await;
    until(
        browser,
        "document.querySelector('#work form textarea').value === 'and it strings'",
    )
    .await;
    run(
        browser,
        "document.querySelector('#work form textarea').form.requestSubmit()",
    )
    .await;
    until(
        browser,
        "document.querySelector('#work form textarea').value === ''",
    )
    .await;
    browser.refresh().await.unwrap();
    found(browser, "#work form textarea").await;
    assert_eq!(
        run(browser, TYPED).await,
        "",
        "what was recorded is no draft any more"
    );
}

#[tokio::test(flavor = "multi_thread")]
async fn words_of_a_new_case_stay_until_it_is_open() {
    let w = workshop().await;
    let base = served(&w).await;
    let driver = Driver::start();
    let browser = driver.client().await;
    let address = format!("{base}/cases/new?machine={}", w.machine);
    browser.goto(&address).await.unwrap();
    found(&browser, "#told")
        .await
        .send_keys("gaps in the top")
        .await
        .unwrap();
    run(
        &browser,
        "window.fetch = () => Promise.reject(new TypeError('gone'));
         document.getElementById('told').form.requestSubmit();",
    )
    .await;
    found(&browser, "#not-sent").await;
    browser.goto(&base).await.unwrap();
    browser.goto(&address).await.unwrap();
    until(
        &browser,
        "document.getElementById('told')?.value === 'gaps in the top'",
    )
    .await;
    run(
        &browser,
        "document.getElementById('told').form.requestSubmit()",
    )
    .await;
    until(&browser, "location.pathname.endsWith('/intake')").await;
    browser.goto(&address).await.unwrap();
    found(&browser, "#told").await;
    assert_eq!(
        run(&browser, "return document.getElementById('told').value").await,
        ""
    );
    browser.close().await.unwrap();
    w.db.remove().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn what_others_write_moves_nothing_under_a_finger_and_closes_nothing() {
    let w = workshop().await;
    let case = w.open(&[("f.layer-step", "present")]).await;
    let base = served(&w).await;
    let driver = Driver::start();
    let browser = driver.client().await;
    browser.goto(&format!("{base}{case}")).await.unwrap();
    found(&browser, "details.as-table summary").await;
    click(&browser, "details.as-table summary").await;
    click(&browser, ".history details summary").await;
    found(&browser, "#note")
        .await
        .send_keys("half a tho")
        .await
        .unwrap();
    run(
        &browser,
        "window.samePage = true;
         dispatchEvent(new PointerEvent('pointerdown', { bubbles: true }));
         window.button = document.querySelector('.step .main').textContent;
         window.before = document.getElementById('live').dataset.seq;",
    )
    .await;
    w.record(
        &case,
        "observe",
        &[("finding", "burnt-smell"), ("state", "present")],
    )
    .await;
    // The page hears of it and waits for the finger.
    let asked = "performance.getEntriesByType('resource').some((r) => r.name.includes('/cases/') \
                 && r.initiatorType === 'fetch' && !r.name.endsWith('/live'))";
    until(&browser, asked).await;
    let still = run(
        &browser,
        "return document.getElementById('live').dataset.seq === window.before
             && document.querySelector('.step .main').textContent === window.button",
    )
    .await;
    assert_eq!(still, true, "nothing moves under a pressed finger");
    run(
        &browser,
        "dispatchEvent(new PointerEvent('pointerup', { bubbles: true }))",
    )
    .await;
    until(&browser, "document.querySelector('.step.stopped') !== null").await;
    let kept = run(
        &browser,
        "return [window.samePage === true, document.querySelector('details.as-table').open,
             document.getElementById('note').value, document.activeElement.id]",
    )
    .await;
    assert_eq!(kept, json!([true, true, "half a tho", "note"]));
    a_link_within_the_page_loads_nothing(&browser).await;
    assert!(complaints(&browser).await.is_empty());
    browser.close().await.unwrap();
    w.db.remove().await;
}

async fn a_link_within_the_page_loads_nothing(browser: &fantoccini::Client) {
    // A link within the page scrolls and loads nothing.
    run(browser, "location.hash = '#why'").await;
    run(browser, "history.back()").await;
    until(browser, "location.hash === ''").await;
    assert_eq!(run(browser, "return window.samePage === true").await, true);
}
