//! Real Chromium: a whole case with scripts on, accessibility of every page, no console errors, no
//! sideways scroll on a phone.

use crate::kit::chromium::{AXE, Driver, click, complaints, served, set_size, text, until};
use crate::kit::workshop;
use fantoccini::Locator;
use serde_json::json;
use suspect_pictures::render::{Flaw, Scene, photo};

#[tokio::test(flavor = "multi_thread")]
async fn a_whole_case_with_scripts_on() {
    let w = workshop().await;
    let base = served(&w).await;
    let driver = Driver::start();
    let browser = driver.client().await;
    browser.goto(&base).await.unwrap();
    click(&browser, ".machine-foot a").await;
    browser
        .find(Locator::Css("#told"))
        .await
        .unwrap()
        .send_keys("Puppet joint. Suddenly one step sideways")
        .await
        .unwrap();
    click(&browser, ".submit-row .main").await;
    // Confirming moves the line-up beside it without a new page; what is being typed stays.
    let facts = async |many: &str| {
        until(
            &browser,
            &format!(
                "document.getElementById('strip').textContent.replace(/\\s+/g, ' ') \
                    .includes('{many}')"
            ),
        )
        .await;
    };
    click(&browser, "#p-onset .main").await;
    facts("1 fact").await;
    browser
        .execute("window.samePage = true", vec![])
        .await
        .unwrap();
    browser
        .find(Locator::Css("#text"))
        .await
        .unwrap()
        .send_keys("all of a sud")
        .await
        .unwrap();
    click(&browser, "#p-layer-step .main").await;
    facts("2 facts").await;
    assert_eq!(
        browser
            .execute(
                "return window.samePage && document.getElementById('text').value",
                vec![]
            )
            .await
            .unwrap(),
        json!("all of a sud")
    );
    click(&browser, ".onward .main").await;

    // An answer on the card is morphed in place; the ghost shows where the suspects stood.
    let first = text(&browser, ".outcome .what").await;
    let entries = "document.querySelectorAll('.history > ol > li').length";
    browser
        .execute(
            &format!("window.samePage = true; window.before = {entries}"),
            vec![],
        )
        .await
        .unwrap();
    browser
        .find(Locator::Css("body"))
        .await
        .unwrap()
        .send_keys("1")
        .await
        .unwrap();
    until(&browser, &format!("{entries} > window.before")).await;
    assert_eq!(
        browser
            .execute("return window.samePage", vec![])
            .await
            .unwrap(),
        json!(true)
    );
    assert!(!first.is_empty());
    // And `u` takes it back.
    browser
        .find(Locator::Css("body"))
        .await
        .unwrap()
        .send_keys("u")
        .await
        .unwrap();
    until(&browser, "document.querySelector('.undone') !== null").await;

    let case = browser.current_url().await.unwrap();
    browser
        .goto(&format!("{case}/check/pulley-mark"))
        .await
        .unwrap();
    click(&browser, ".outcome[value=slips]").await;
    until(
        &browser,
        "document.querySelector('.line-up.wide .chosen .name')?.textContent.includes('pulley')",
    )
    .await;
    browser
        .goto(&format!("{case}/fix/tighten-pulley"))
        .await
        .unwrap();
    click(&browser, ".step .main").await;
    click(&browser, ".outcome[value=cured]").await;
    click(&browser, ".narrow .main").await;
    assert!(
        text(&browser, ".closed-box")
            .await
            .contains("Closed as fixed and verified")
    );
    browser.goto(&format!("{base}/records")).await.unwrap();
    assert!(
        text(&browser, "tbody tr")
            .await
            .contains("Tighten the pulley")
    );
    assert_eq!(complaints(&browser).await, Vec::<String>::new());
    browser.close().await.unwrap();
    w.db.remove().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn every_page_is_accessible_quiet_and_fits_a_phone() {
    let w = workshop().await;
    let base = served(&w).await;
    let open = w
        .open(&[
            ("f.layer-step", "present"),
            ("f.onset", "sudden"),
            ("n.nozzle_c", "240"),
        ])
        .await;
    let seq = w.get(&open).await.seq();
    w.post(
        &format!("{open}/check/belt-pluck"),
        &[("seq", &seq), ("outcome", "right")],
    )
    .await;
    let fixing = w.open(&[("f.layer-step", "present")]).await;
    let seq = w.get(&fixing).await.seq();
    w.post(
        &format!("{fixing}/fix/tighten-pulley"),
        &[("seq", &seq), ("minutes", "8")],
    )
    .await;
    let closed = w.open(&[("f.plain-seam-line", "present")]).await;
    let seq = w.get(&closed).await.seq();
    w.post(
        &format!("{closed}/close"),
        &[
            ("seq", &seq),
            ("outcome", "not-a-fault"),
            ("cause", "normal-seam"),
        ],
    )
    .await;
    let second = w.second_machine().await;
    let locked = w.open_on(second, &[("f.burnt-smell", "present")]).await;
    let waiting = w.open_on(second, &[("f.layer-step", "present")]).await;
    let stuck = w.open(&[("f.strings", "strong")]).await;
    for fix in [
        "raise-retraction",
        "speed-up-travel",
        "lower-nozzle-temperature",
    ] {
        w.record(
            &stuck,
            &format!("fix/{fix}"),
            &[("before", "4 mm"), ("after", "5 mm")],
        )
        .await;
        w.record(&stuck, "verify", &[("result", "same")]).await;
    }
    w.record(
        &stuck,
        "timer",
        &[("work", "check/cold-pull"), ("step", "3"), ("minutes", "5")],
    )
    .await;
    w.record(
        &stuck,
        "aside",
        &[
            ("work", "check/strand-look"),
            ("why", "unclear"),
            ("minutes", "2"),
        ],
    )
    .await;
    w.record(
        &open,
        "tell",
        &[("text", "It strings and pops, no warping")],
    )
    .await;
    let shot = photo(&Scene {
        colour: [60, 110, 160],
        flaw: Flaw::Strings,
        lamp: 1.0,
        blur: 5,
    });
    w.upload(&open, &[("strings.jpg", &shot)]).await;
    let picture = w
        .get(&format!("{open}/intake?part=pictures"))
        .await
        .attribute(".picture-cards a", "href");
    let marks = format!(
        "{}/marks",
        picture.strip_prefix(&format!("{open}/")).unwrap()
    );
    w.record(
        &open,
        &marks,
        &[
            ("kind", "arrow"),
            ("x", "50"),
            ("y", "50"),
            ("text", "here"),
        ],
    )
    .await;
    w.record(&open, "links", &[]).await;
    let help = w
        .get(&format!("{open}/brief"))
        .await
        .attribute(".help-link a", "href");
    w.post(
        &format!("{help}/suggest"),
        &[("by", "Lock crew"), ("check", "pulley-mark")],
    )
    .await;
    w.record(&open, "hours", &[("hours", "812"), ("at", "motion")])
        .await;
    let pages = [
        "/".into(),
        "/cases/new".into(),
        format!("/cases/new?machine={}", w.machine),
        format!("{open}/intake?part=words"),
        format!("{open}/intake?part=print&at=band"),
        format!("{open}/intake?part=machine&at=motion"),
        format!("{open}/intake?part=questions"),
        format!("{open}/intake?part=numbers"),
        format!("{open}/intake?part=pictures"),
        picture,
        format!("{open}/brief"),
        help,
        open.clone(),
        format!("{open}?suspect=belt-loose"),
        format!("{open}/facts"),
        format!("{open}/check/pulley-mark"),
        format!("{open}/fix/replace-nozzle"),
        format!("{open}/close"),
        fixing.clone(),
        format!("{fixing}/verify"),
        closed,
        locked.clone(),
        format!("{locked}/stop/burning"),
        format!("{locked}/stop/burning/tag"),
        waiting,
        stuck.clone(),
        format!("{stuck}/stuck"),
        format!("{stuck}/plan?depth=4"),
        format!("{stuck}/check/cold-pull?step=3"),
        format!("{stuck}/check/shift-size"),
        format!("{stuck}/check/wall-thickness?step=2"),
        format!("{stuck}/fix/reseat-tube?step=4"),
        format!("{stuck}/fix/reseat-tube"),
        "/workshop".into(),
        format!("/machines/{}/before?material=abs&hours=12", w.machine),
        "/records".into(),
        "/suspects".into(),
        "/suspects/ground-out".into(),
        "/suspects/bearing-worn".into(),
        "/handbook?q=stringy".into(),
        "/handbook/signs".into(),
        "/handbook/signs/strings".into(),
        "/handbook/checks".into(),
        "/handbook/checks/watch-gear".into(),
        "/handbook/fixes".into(),
        "/handbook/fixes/tighten-pulley".into(),
        "/handbook/cautions".into(),
        "/handbook/materials".into(),
        "/handbook/words".into(),
        "/machines/new".into(),
    ];
    let driver = Driver::start();
    let browser = driver.client().await;
    for (width, height) in [(1280, 800), (390, 844)] {
        set_size(&browser, &base, width, height).await;
        for page in &pages {
            browser.goto(&format!("{base}{page}")).await.unwrap();
            let wide = browser
                .execute(
                    "document.querySelectorAll('details').forEach(d => d.open = \
                true); return document.documentElement.scrollWidth - \
                innerWidth",
                    vec![],
                )
                .await
                .unwrap();
            assert!(
                wide.as_i64().unwrap() <= 0,
                "{page} scrolls sideways at {width} by {wide}"
            );
            browser.execute(AXE, vec![]).await.unwrap();
            let run = "const done = arguments[arguments.length - 1]; axe.run().then(r => \
                done(r.violations.map(v => v.id + ': ' + v.nodes.map(n => n.html + ' ' + \
                n.failureSummary).slice(0, 3).join(' | '))))";
            let violations = browser.execute_async(run, vec![]).await.unwrap();
            assert_eq!(violations, json!([]), "{page} at {width}");
        }
    }
    assert_eq!(complaints(&browser).await, Vec::<String>::new());
    browser.close().await.unwrap();
    w.db.remove().await;
}
