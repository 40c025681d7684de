//! Real Chromium: a whole case with scripts on, accessibility of every page, no console errors, no
//! sideways scroll on a phone.

use crate::kit::chromium::{
    AXE, Driver, click, complaints, devtools, served, set_size, text, type_in, type_into, until,
    value,
};
use crate::kit::{Workshop, workshop};
use fantoccini::Client;
use serde_json::json;
use suspect_pictures::render::{Flaw, Scene, photo};

#[tokio::test(flavor = "multi_thread")]
async fn a_whole_case_with_scripts_on() {
    let w = workshop().await;
    let base = served(&w).await;
    let driver = Driver::start();
    let browser = driver.client().await;
    browser.goto(&base).await.unwrap();
    told_and_confirmed(&browser).await;
    answered_on_the_card(&browser).await;
    fixed_proved_and_closed(&browser).await;
    browser.goto(&format!("{base}/records")).await.unwrap();
    let record = text(&browser, "tbody tr").await;
    assert!(record.contains("Tighten the pulley"));
    assert_eq!(complaints(&browser).await, Vec::<String>::new());
    browser.close().await.unwrap();
    w.db.remove().await;
}

/// The strip over the intake says so many facts.
async fn facts(browser: &Client, many: &str) {
    let says = format!(
        "document.getElementById('strip').textContent.replace(/\\s+/g, ' ').includes('{many}')"
    );
    until(browser, &says).await;
}

/// Confirming moves the line-up beside it without a new page; what is being typed stays.
async fn told_and_confirmed(browser: &Client) {
    click(browser, ".machine-foot a").await;
    type_into(browser, "#told", "Puppet joint. Suddenly one step sideways").await;
    click(browser, ".submit-row .main").await;
    click(browser, "#p-onset .main").await;
    facts(browser, "1 fact").await;
    value(browser, "window.samePage = true").await;
    type_into(browser, "#text", "all of a sud").await;
    click(browser, "#p-layer-step .main").await;
    facts(browser, "2 facts").await;
    let typed = "return window.samePage && document.getElementById('text').value";
    assert_eq!(value(browser, typed).await, json!("all of a sud"));
    click(browser, ".onward .main").await;
}

/// An answer on the card is morphed in place; the ghost shows where the suspects stood. And `u`
/// takes it back.
async fn answered_on_the_card(browser: &Client) {
    let first = text(browser, ".outcome .what").await;
    let entries = "document.querySelectorAll('.history > ol > li').length";
    let before = format!("window.samePage = true; window.before = {entries}");
    value(browser, &before).await;
    type_in(browser, "1").await;
    until(browser, &format!("{entries} > window.before")).await;
    assert_eq!(value(browser, "return window.samePage").await, json!(true));
    assert!(!first.is_empty());
    type_in(browser, "u").await;
    until(browser, "document.querySelector('.undone') !== null").await;
}

async fn fixed_proved_and_closed(browser: &Client) {
    let case = browser.current_url().await.unwrap();
    let below = async |what: &str| browser.goto(&format!("{case}/{what}")).await.unwrap();
    below("check/pulley-mark?know=yes").await;
    click(browser, ".outcome[value=slips]").await;
    let leads =
        "document.querySelector('.line-up.wide .chosen .name')?.textContent.includes('pulley')";
    until(browser, leads).await;
    below("fix/tighten-pulley?know=yes").await;
    click(browser, ".step .main").await;
    click(browser, ".struck-form .main").await;
    until(browser, "document.querySelector('.proof-state') !== null").await;
    click(browser, ".outcome[value=cured]").await;
    click(browser, ".narrow .main").await;
    let closed = text(browser, ".closed-box").await;
    assert!(closed.contains("Closed as fixed and verified"));
}

#[tokio::test(flavor = "multi_thread")]
async fn every_page_is_accessible_quiet_and_fits_a_phone() {
    every_page_in("light").await;
}

#[tokio::test(flavor = "multi_thread")]
async fn every_page_is_accessible_in_the_dark() {
    every_page_in("dark").await;
}

async fn every_page_in(theme: &str) {
    let w = workshop().await;
    let base = served(&w).await;
    let pages = every_page(&w).await;
    let driver = Driver::start();
    let browser = driver.client().await;
    let feature = json!([{ "name": "prefers-color-scheme", "value": theme }]);
    let media = json!({ "features": feature });
    devtools(&browser, "Emulation.setEmulatedMedia", media).await;
    for (width, height) in [(1280, 800), (390, 844), (320, 700)] {
        set_size(&browser, &base, width, height).await;
        for page in &pages {
            browser.goto(&format!("{base}{page}")).await.unwrap();
            fits_and_is_accessible(&browser, page, width).await;
        }
    }
    assert_eq!(complaints(&browser).await, Vec::<String>::new());
    browser.close().await.unwrap();
    w.db.remove().await;
}

/// With everything opened nothing scrolls sideways, and the checker of accessibility finds nothing.
async fn fits_and_is_accessible(browser: &Client, page: &str, width: u32) {
    let wide = "document.querySelectorAll('details').forEach(d => d.open = true); \
                return document.documentElement.scrollWidth - innerWidth";
    let wide = value(browser, wide).await;
    assert!(
        wide.as_i64().unwrap() <= 0,
        "{page} scrolls sideways at {width} by {wide}"
    );
    let small = value(browser, TARGETS).await;
    assert_eq!(small, json!([]), "{page} at {width}: too small for a thumb");
    value(browser, AXE).await;
    let run = "const done = arguments[arguments.length - 1]; axe.run().then(r => \
        done(r.violations.map(v => v.id + ': ' + v.nodes.map(n => n.html + ' ' + \
        n.failureSummary).slice(0, 3).join(' | '))))";
    let violations = browser.execute_async(run, vec![]).await.unwrap();
    assert_eq!(violations, json!([]), "{page} at {width}");
}

/// What a thumb must hit and is lower than 44 pixels, 24 inside running text. What is shown only
/// while it has the focus is left out.
const TARGETS: &str = "
    const targets = 'a[href], button, summary, select, textarea, label.tick, label.chip, \
        input:not([type=hidden], [type=radio], [type=checkbox])';
    const small = (target) => {
        const box = target.getBoundingClientRect();
        const inText = getComputedStyle(target).display === 'inline';
        return box.width > 0 && box.height < (inText ? 24 : 44) - 0.5;
    };
    const seen = (target) => target.checkVisibility() && !target.closest('svg, .skip, .unseen');
    return innerWidth > 1020 ? [] : [...document.querySelectorAll(targets)]
        .filter((target) => seen(target) && small(target))
        .map((target) => `${target.outerHTML.slice(0, 120)} ${target.offsetHeight}`)
        .slice(0, 5);";

/// A case that is looked into: told, with a picture and a mark, a helper's link and hours.
struct LookedInto {
    case: String,
    picture: String,
    help: String,
}

async fn looked_into(w: &Workshop) -> LookedInto {
    let facts = [
        ("f.layer-step", "present"),
        ("f.onset", "sudden"),
        ("n.nozzle_c", "240"),
    ];
    let case = w.open(&facts).await;
    w.record(&case, "check/belt-pluck", &[("outcome", "right")])
        .await;
    let told = [(
        "text",
        "It strings and pops, no warping, the flux capacitor howls",
    )];
    w.record(&case, "tell", &told).await;
    let shot = photo(&Scene {
        colour: [60, 110, 160],
        flaw: Flaw::Strings,
        lamp: 1.0,
        blur: 5,
    });
    w.upload(&case, &[("strings.jpg", &shot)]).await;
    let pictures = w.get(&format!("{case}/intake?part=pictures")).await;
    let picture = pictures.attribute(".picture-cards a", "href");
    let marks = picture.strip_prefix(&format!("{case}/")).unwrap();
    let arrow = [
        ("kind", "arrow"),
        ("x", "50"),
        ("y", "50"),
        ("text", "here"),
    ];
    w.record(&case, &format!("{marks}/marks"), &arrow).await;
    w.record(&case, "links", &[]).await;
    let brief = w.get(&format!("{case}/brief")).await;
    let help = brief.attribute(".help-link a", "href");
    let help = help[help.find("/help/").unwrap()..].to_string();
    let hearsay = [("by", "Lock crew"), ("check", "pulley-mark")];
    w.post(&format!("{help}/suggest"), &hearsay).await;
    w.record(&case, "hours", &[("hours", "812"), ("at", "motion")])
        .await;
    LookedInto {
        case,
        picture,
        help,
    }
}

/// A case in which three fixes did nothing, a wait runs and a check was set aside.
async fn stuck(w: &Workshop) -> String {
    let case = w.open(&[("f.strings", "strong")]).await;
    for fix in [
        "raise-retraction",
        "speed-up-travel",
        "lower-nozzle-temperature",
    ] {
        let changed = [("before", "4 mm"), ("after", "5 mm")];
        w.record(&case, &format!("fix/{fix}"), &changed).await;
        w.record(&case, "verify", &[("result", "same")]).await;
    }
    let wait = [("work", "check/cold-pull"), ("step", "3"), ("minutes", "5")];
    w.record(&case, "timer", &wait).await;
    let aside = [
        ("work", "check/strand-look"),
        ("why", "unclear"),
        ("minutes", "2"),
    ];
    w.record(&case, "aside", &aside).await;
    case
}

/// Every page there is, each in a state that shows all of it.
async fn every_page(w: &Workshop) -> Vec<String> {
    let LookedInto {
        case: open,
        picture,
        help,
    } = looked_into(w).await;
    let fixing = w.open(&[("f.layer-step", "present")]).await;
    w.record(&fixing, "fix/tighten-pulley", &[("minutes", "8")])
        .await;
    let closed = w.open(&[("f.plain-seam-line", "present")]).await;
    let ended = [("outcome", "not-a-fault"), ("cause", "normal-seam")];
    w.record(&closed, "close", &ended).await;
    let second = w.second_machine().await;
    let locked = w.open_on(second, &[("f.burnt-smell", "present")]).await;
    let waiting = w.open_on(second, &[("f.layer-step", "present")]).await;
    let stuck = stuck(w).await;
    let (machine, read) = (w.machine, "wall_mm=0.48+0.47+0.48+0.48");
    let id = open.trim_start_matches("/cases/");
    let mut pages = vec![
        format!("{picture}/measure?what=rhythm&scale_mm=10"),
        format!("/machines/{machine}/devices"),
        format!("/bench/wall-thickness?{read}&case={id}"),
        format!("/bench/belt-pluck?tone_hz=98&span_mm=220&machine={machine}"),
        picture,
        help,
        fixing.clone(),
        closed,
        locked.clone(),
        waiting,
        stuck.clone(),
        format!("/cases/new?machine={}", w.machine),
        format!("/machines/{}/before?material=abs&hours=12", w.machine),
    ];
    let of = |case: &str, whats: &[&str]| -> Vec<String> {
        whats.iter().map(|what| format!("{case}{what}")).collect()
    };
    pages.extend(of(&open, &OF_A_CASE));
    let mended = crate::figures::mended(w).await;
    pages.extend(of(&mended, &["/sheet", "/account"]));
    pages.extend(of(&fixing, &["/verify"]));
    pages.extend(of(&locked, &["/stop/burning", "/stop/burning/tag"]));
    pages.extend(of(&stuck, &OF_A_STUCK_CASE));
    pages.extend(of("", &OF_THE_PROGRAM));
    pages.extend(crate::book_every_page::every_page(w).await);
    pages.extend(crate::trials::every_page(w).await);
    pages.extend(crate::shift::every_page(w).await);
    pages.extend(crate::practice::every_page(w).await);
    pages
}

const OF_A_CASE: [&str; 20] = [
    "",
    "/lost",
    "/sheet",
    "/intake?part=words",
    "/intake?part=print&at=band",
    "/intake?part=machine&at=motion",
    "/intake?part=questions",
    "/intake?part=numbers",
    "/intake?part=pictures",
    "/brief",
    "?suspect=belt-loose",
    "/facts",
    "/check/pulley-mark",
    "/check/inspect-feeder",
    "/check/pulley-mark?step=0",
    "/fix/replace-nozzle?know=yes",
    "/other?q=belt",
    "/join",
    "/why/belt-loose",
    "/close",
];

const OF_A_STUCK_CASE: [&str; 7] = [
    "/stuck",
    "/plan?depth=4",
    "/check/cold-pull?step=3",
    "/check/shift-size",
    "/check/wall-thickness?step=2",
    "/fix/reseat-tube?step=4",
    "/fix/reseat-tube",
];

const OF_THE_PROGRAM: [&str; 30] = [
    "/people",
    "/sign-in?next=/records",
    "/statistics?span=all",
    "/records/exchange",
    "/",
    "/cases/new",
    "/workshop",
    "/records",
    "/suspects",
    "/suspects/ground-out",
    "/suspects/bearing-worn",
    "/handbook?q=stringy",
    "/handbook/signs",
    "/handbook/signs/strings",
    "/handbook/checks",
    "/handbook/checks/watch-gear",
    "/handbook/fixes",
    "/handbook/fixes/tighten-pulley",
    "/handbook/cautions",
    "/handbook/materials",
    "/handbook/schools",
    "/handbook/words",
    "/machines/new",
    "/bench",
    "/bench?q=belt",
    "/bench/tone",
    "/bench/temperature-trace",
    "/bench/wall-thickness/sheet",
    "/handbook/measures",
    "/handbook/measures/belt-pluck",
];
