//! Taking a case in with real Chromium: by finger on a phone, by keyboard alone, by two people over
//! two servers.

use crate::kit::chromium::{
    Driver, click, complaints, drag_up, found, press, served, set_size, tab_to, tap, text, type_in,
    until,
};
use crate::kit::{Workshop, workshop};
use fantoccini::Locator;
use fantoccini::key::Key;
use serde_json::json;
use suspect_core::knowledge::Knowledge;
use suspect_store::Store;
use suspect_web::{AppState, router};

async fn facts(browser: &fantoccini::Client, many: usize) {
    let condition = format!(
        "document.getElementById('strip').textContent.replace(/\\s+/g, ' ') \
            .includes('{many} fact')"
    );
    until(browser, &condition).await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_beginner_takes_a_case_in_by_finger() {
    let w = workshop().await;
    let base = served(&w).await;
    let driver = Driver::start();
    let browser = driver.client().await;
    set_size(&browser, &base, 390, 844).await;
    tap(&browser, ".machine-foot a").await;
    tap(&browser, "#told").await;
    type_in(&browser, "lots of popping, maybe pits in the wall").await;
    tap(&browser, ".submit-row .main").await;
    tap(&browser, "#p-pops-heard .main").await;
    facts(&browser, 1).await;
    tap(&browser, "#p-pops-and-pits .button:not(.main)").await;
    until(&browser, "document.querySelector('.proposals') === null").await;
    // All is answered: the case shows its next step, and the drawing is a touch away.
    tap(&browser, ".glance .main").await;
    // A place on the drawing opens its signs and stays marked.
    tap(&browser, ".stages a:nth-child(2)").await;
    tap(&browser, ".spot[aria-label^='Between posts'] .hit").await;
    tap(&browser, "#b-strings-strong").await;
    facts(&browser, 2).await;
    assert!(
        found(
            &browser,
            ".spot[aria-label='Between posts, 1 seen'] .spot-seen"
        )
        .await
        .is_displayed()
        .await
        .unwrap()
    );
    ruler_by_finger(&browser).await;
    // Parts of the machine, then what is worth asking.
    tap(&browser, ".stages a:nth-child(3)").await;
    tap(&browser, ".spot[aria-label='Motion'] .hit").await;
    tap(&browser, "#b-loud-knock-absent").await;
    until(
        &browser,
        "document.querySelector('#b-loud-knock-absent[aria-pressed=true]') !== null",
    )
    .await;
    tap(&browser, ".stages a:nth-child(4)").await;
    a_question_skipped(&browser).await;
    tap(&browser, ".onward .main").await;
    assert!(
        text(&browser, ".line-up.phone .chosen .name")
            .await
            .contains("Wet")
    );
    assert!(
        found(&browser, ".next .step .main")
            .await
            .is_displayed()
            .await
            .unwrap()
    );
    assert_eq!(complaints(&browser).await, Vec::<String>::new());
    browser.close().await.unwrap();
    w.db.remove().await;
}

async fn a_question_skipped(browser: &fantoccini::Client) {
    let asked = found(browser, ".question-card .sign-card")
        .await
        .attr("id")
        .await
        .unwrap()
        .unwrap();
    tap(browser, ".question-card .quiet-button").await;
    until(
        browser,
        &format!("document.getElementById('{asked}') === null"),
    )
    .await;
}

async fn ruler_by_finger(browser: &fantoccini::Client) {
    // The ruler follows the finger.
    drag_up(browser, ".ruler .ruler-grip", 120.0).await;
    until(
        browser,
        "document.querySelector('.ruler.known') && \
        document.querySelector('[data-seq]').dataset.seq === '5'",
    )
    .await;
    let height = browser
        .execute(
            "return Number(document.getElementById('fault_mm').value)",
            vec![],
        )
        .await
        .unwrap()
        .as_f64()
        .unwrap();
    assert!((15.0..45.0).contains(&height), "{height} mm of 100");
}

#[tokio::test(flavor = "multi_thread")]
async fn an_expert_takes_a_case_in_by_keyboard_alone() {
    let w = workshop().await;
    w.second_machine().await;
    let base = served(&w).await;
    let driver = Driver::start();
    let browser = driver.client().await;
    browser.goto(&base).await.unwrap();
    type_in(&browser, "n").await;
    found(&browser, ".machine-chips").await;
    let teal = w.machine.to_string();
    let chip = format!("input[name=machine][value='{teal}']");
    let chip = browser.find(Locator::Css(&chip)).await.unwrap();
    let key = chip.attr("data-key").await.unwrap().unwrap();
    type_in(&browser, &key).await;
    // The digit leads on to the words.
    found(&browser, "#told:focus").await;
    type_in(
        &browser,
        "Oar blade. Suddenly one step sideways, no strings",
    )
    .await;
    tab_to(&browser, ".submit-row .main").await;
    press(&browser, Key::Enter).await;
    found(&browser, ".proposals").await;
    for many in 1..=3 {
        type_in(&browser, "1").await;
        facts(&browser, many).await;
    }
    tab_to(&browser, ".stages a:nth-child(2)").await;
    press(&browser, Key::Enter).await;
    tab_to(&browser, ".spot[aria-label^='Band']").await;
    press(&browser, Key::Enter).await;
    found(&browser, "#s-missing-layers").await;
    tab_to(&browser, "#b-missing-layers-absent").await;
    press(&browser, Key::Enter).await;
    facts(&browser, 4).await;
    numbers_by_keyboard(&browser).await;
    tab_to(&browser, ".onward .main").await;
    press(&browser, Key::Enter).await;
    assert!(
        text(&browser, ".history")
            .await
            .contains("Height of the fault above the plate: 21 mm")
    );
    assert_eq!(complaints(&browser).await, Vec::<String>::new());
    browser.close().await.unwrap();
    w.db.remove().await;
}

/// Heights on the ruler and numbers of the form, without a pointer.
async fn numbers_by_keyboard(browser: &fantoccini::Client) {
    // The focus stays where it was, so that the next answer is one Tab away.
    assert_eq!(
        browser
            .execute("return document.activeElement.id", vec![])
            .await
            .unwrap(),
        json!("b-missing-layers-absent")
    );
    tab_to(browser, ".ruler").await;
    for key in [Key::PageUp, Key::PageUp, Key::Up, Key::Enter] {
        press(browser, key).await;
    }
    until(
        browser,
        "document.querySelector('.ruler.known') && \
        document.getElementById('fault_mm').value === '21'",
    )
    .await;
    facts(browser, 5).await;
    tab_to(browser, "#piece_mm").await;
    type_in(browser, "60").await;
    tab_to(browser, "input[name=reach]").await;
    press(browser, Key::Right).await;
    press(browser, Key::Enter).await;
    facts(browser, 7).await;
    a_number_outside_its_window(browser).await;
}

/// A number is recorded when it is finished, and what lies outside the material's window is marked
/// at once.
async fn a_number_outside_its_window(browser: &fantoccini::Client) {
    tab_to(browser, ".stages a:nth-child(5)").await;
    press(browser, Key::Enter).await;
    found(browser, "#material").await;
    tab_to(browser, "#material").await;
    type_in(browser, "PETG").await;
    tab_to(browser, "#n-nozzle_c").await;
    type_in(browser, "554 F").await;
    tab_to(browser, "#n-bed_c").await;
    until(
        browser,
        "document.querySelector('#w-nozzle_c .outside-word') !== null",
    )
    .await;
    assert_eq!(
        browser
            .execute("return document.getElementById('n-nozzle_c').value", vec![])
            .await
            .unwrap(),
        json!("290")
    );
    assert_eq!(
        browser
            .execute("return document.activeElement.id", vec![])
            .await
            .unwrap(),
        json!("n-bed_c"),
        "typing goes on"
    );
}

#[tokio::test(flavor = "multi_thread")]
async fn two_people_see_each_others_entries_over_two_servers() {
    let here = workshop().await;
    let case = here.open(&[("f.layer-step", "present")]).await;
    // A second process would have connections of its own; nothing else is shared with the first.
    let store = Store::connect(&here.db.url).await.unwrap();
    let state = AppState::new(store.clone(), std::sync::Arc::new(Knowledge::shipped()));
    let other = router(state.clone(), suspect_web::Hosts::default());
    let base = served(&here).await;
    let driver = Driver::start();
    let browser = driver.client().await;
    browser
        .goto(&format!("{base}{case}/intake?part=print&at=band"))
        .await
        .unwrap();
    let typed = "window.samePage = true; document.getElementById('piece_mm').value = '74'";
    browser.execute(typed, vec![]).await.unwrap();
    let there = Workshop {
        pages: other,
        state,
        ..here
    };
    there
        .record(
            &case,
            "observe",
            &[("finding", "missing-layers"), ("state", "absent")],
        )
        .await;
    until(
        &browser,
        "document.querySelector('#b-missing-layers-absent[aria-pressed=true]') !== null",
    )
    .await;
    let kept = browser
        .execute(
            "return window.samePage && document.getElementById('piece_mm').value",
            vec![],
        )
        .await
        .unwrap();
    assert_eq!(kept, json!("74"), "no new page, and what was typed stays");
    both_touch(&browser, &there, &case).await;
    browser.goto(&format!("{base}{case}")).await.unwrap();
    there
        .record(&case, "note", &[("text", "Seen from the other bench")])
        .await;
    until(
        &browser,
        "document.querySelector('.history').textContent.includes('Seen from the other bench')",
    )
    .await;
    assert_eq!(complaints(&browser).await, Vec::<String>::new());
    browser.close().await.unwrap();
    store.close().await;
    there.db.remove().await;
}

/// Neither of two who touch at once is asked to choose.
async fn both_touch(browser: &fantoccini::Client, there: &Workshop, case: &str) {
    there
        .record(
            case,
            "observe",
            &[("finding", "bands-regular"), ("state", "absent")],
        )
        .await;
    click(browser, "#b-band-one-height-absent").await;
    for sign in ["bands-regular", "band-one-height"] {
        until(
            browser,
            &format!("document.querySelector('#b-{sign}-absent[aria-pressed=true]') !== null"),
        )
        .await;
    }
}
