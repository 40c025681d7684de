//! Real Chromium: a whole case with scripts on, accessibility of every page, no console errors, no sideways scroll on a phone.

mod common;

use common::{Workshop, workshop};
use fantoccini::{Client, ClientBuilder, Locator};
use serde_json::{Value, json};
use std::io::{BufRead, BufReader};
use std::os::unix::process::CommandExt;
use std::process::{Child, Command, Stdio};
use tokio::net::TcpListener;

const AXE: &str = include_str!("../../../assets/vendor/test/axe.js");

/// ChromeDriver in a process group of its own, ended with its Chromium even when a test panics.
struct Driver {
    child: Child,
    port: u16,
    profile: std::path::PathBuf,
}

impl Driver {
    fn start() -> Self {
        let mut child = Command::new("chromedriver")
            .arg("--port=0")
            .stdout(Stdio::piped())
            .stderr(Stdio::null())
            .process_group(0)
            .spawn()
            .expect("chromedriver is installed: run ./test");
        let mut lines = BufReader::new(child.stdout.take().expect("piped")).lines();
        let said = lines.by_ref().map_while(Result::ok).find_map(|l| l.split("started successfully on port ").nth(1).map(str::to_string));
        let port = said.expect("chromedriver says its port").trim().trim_end_matches('.').parse().expect("a port");
        // Its later output must go somewhere, or it blocks.
        std::thread::spawn(move || lines.for_each(drop));
        let profile = std::env::temp_dir().join(format!("us-chromium-{}", suspect_store::Uuid::now_v7()));
        Self { child, port, profile }
    }

    async fn client(&self) -> Client {
        let arguments = [
            "--headless=new",
            "--no-sandbox",
            "--disable-gpu",
            "--disable-quic",
            "--no-first-run",
            "--disable-background-networking",
            "--disable-component-update",
            "--disable-sync",
            "--disable-dev-shm-usage",
            "--window-size=1280,800",
            "--force-device-scale-factor=1",
        ];
        let mut arguments: Vec<String> = arguments.iter().map(|a| a.to_string()).collect();
        arguments.push(format!("--user-data-dir={}", self.profile.display()));
        let wanted = json!({ "goog:chromeOptions": { "args": arguments }, "goog:loggingPrefs": { "browser": "ALL" } });
        let Value::Object(wanted) = wanted else { unreachable!("an object") };
        ClientBuilder::new(hyper_util::client::legacy::connect::HttpConnector::new())
            .capabilities(wanted)
            .connect(&format!("http://127.0.0.1:{}", self.port))
            .await
            .expect("a browser starts")
    }
}

impl Drop for Driver {
    fn drop(&mut self) {
        let _ = Command::new("kill").args(["-KILL", "--", &format!("-{}", self.child.id())]).status();
        let _ = self.child.wait();
        let _ = std::fs::remove_dir_all(&self.profile);
    }
}

/// Serves the workshop on a free port.
async fn served(w: &Workshop) -> String {
    let listener = TcpListener::bind("127.0.0.1:0").await.unwrap();
    let address = format!("http://{}", listener.local_addr().unwrap());
    let state = w.state.clone();
    tokio::spawn(suspect_web::serve(listener, state, std::future::pending()));
    address
}

async fn click(browser: &Client, selector: &str) {
    let element = found(browser, selector).await;
    browser.execute("arguments[0].scrollIntoView({ block: 'center' })", vec![serde_json::to_value(&element).unwrap()]).await.unwrap();
    element.click().await.unwrap_or_else(|e| panic!("{selector}: {e}"));
}

/// Waits for an element; a failure shows the page as it was.
async fn found(browser: &Client, selector: &str) -> fantoccini::elements::Element {
    match browser.wait().for_element(Locator::Css(selector)).await {
        Ok(element) => element,
        Err(e) => {
            let page = browser.execute("return location.href + ' ' + document.body.innerText", vec![]).await;
            panic!("{selector}: {e} on {page:?}")
        }
    }
}

async fn text(browser: &Client, selector: &str) -> String {
    found(browser, selector).await.text().await.unwrap()
}

/// Waits until a condition in the page holds.
async fn until(browser: &Client, condition: &str) {
    let script = "const done = arguments[arguments.length - 1]; const test = new Function('return ' + arguments[0]); \
                  const look = () => test() ? done(true) : requestAnimationFrame(look); look();";
    browser.execute_async(script, vec![json!(condition)]).await.unwrap_or_else(|e| panic!("waiting for {condition}: {e}"));
}

/// Console messages of level error, and refusals of the content security policy.
async fn complaints(browser: &Client) -> Vec<String> {
    #[derive(Debug)]
    struct Log;
    impl fantoccini::wd::WebDriverCompatibleCommand for Log {
        fn endpoint(&self, base: &url::Url, session: Option<&str>) -> Result<url::Url, url::ParseError> {
            base.join(&format!("session/{}/se/log", session.unwrap_or_default()))
        }
        fn method_and_body(&self, _: &url::Url) -> (http::Method, Option<String>) {
            (http::Method::POST, Some(json!({ "type": "browser" }).to_string()))
        }
    }
    let log = browser.issue_cmd(Log).await.expect("the console can be read");
    let lines = log.as_array().cloned().unwrap_or_default();
    lines.iter().filter(|l| l["level"] == "SEVERE").map(|l| l["message"].to_string()).collect()
}

#[tokio::test(flavor = "multi_thread")]
async fn a_whole_case_with_scripts_on() {
    let w = workshop().await;
    let base = served(&w).await;
    let driver = Driver::start();
    let browser = driver.client().await;
    browser.goto(&base).await.unwrap();
    click(&browser, ".machine-foot a").await;
    browser.find(Locator::Css("#title")).await.unwrap().send_keys("Puppet joint").await.unwrap();
    // The line-up beside the form moves as facts are added, without a new page.
    browser
        .execute("window.samePage = true; document.querySelectorAll('details.group').forEach(d => d.open = true)", vec![])
        .await
        .unwrap();
    let before = text(&browser, "#strip").await;
    assert!(
        browser
            .execute("return document.querySelector('#preview .intake-next, #preview svg.phone') !== null", vec![])
            .await
            .unwrap()
            .as_bool()
            .unwrap()
    );
    click(&browser, "input[name='f.layer-step'][value='present']").await;
    until(&browser, "document.getElementById('strip').textContent.includes('1 fact')").await;
    click(&browser, "input[name='f.onset'][value='sudden']").await;
    until(&browser, "document.getElementById('strip').textContent.includes('2 facts')").await;
    assert_ne!(text(&browser, "#preview .so-far").await, before);
    assert_eq!(
        browser.execute("return window.samePage && document.getElementById('title').value", vec![]).await.unwrap(),
        json!("Puppet joint")
    );
    click(&browser, ".submit-row .main").await;

    // An answer on the card is morphed in place; the ghost shows where the suspects stood.
    let first = text(&browser, ".outcome .what").await;
    browser.execute("window.samePage = true", vec![]).await.unwrap();
    browser.find(Locator::Css("body")).await.unwrap().send_keys("1").await.unwrap();
    until(&browser, "document.querySelectorAll('.history > ol > li').length === 2").await;
    assert_eq!(browser.execute("return window.samePage", vec![]).await.unwrap(), json!(true));
    assert!(!first.is_empty());
    // And `u` takes it back.
    browser.find(Locator::Css("body")).await.unwrap().send_keys("u").await.unwrap();
    until(&browser, "document.querySelector('.undone') !== null").await;

    let case = browser.current_url().await.unwrap();
    browser.goto(&format!("{case}/check/pulley-mark")).await.unwrap();
    click(&browser, ".outcome[value=slips]").await;
    until(&browser, "document.querySelector('.line-up.wide .chosen .name')?.textContent.includes('pulley')").await;
    browser.goto(&format!("{case}/fix/tighten-pulley")).await.unwrap();
    click(&browser, ".step .main").await;
    click(&browser, ".outcome[value=cured]").await;
    click(&browser, ".narrow .main").await;
    assert!(text(&browser, ".closed-box").await.contains("Closed as fixed and verified"));
    browser.goto(&format!("{base}/records")).await.unwrap();
    assert!(text(&browser, "tbody tr").await.contains("Tighten the pulley"));
    assert_eq!(complaints(&browser).await, Vec::<String>::new());
    browser.close().await.unwrap();
    w.db.remove().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn every_page_is_accessible_quiet_and_fits_a_phone() {
    let w = workshop().await;
    let base = served(&w).await;
    let open = w.open(&[("f.layer-step", "present"), ("f.onset", "sudden"), ("n.nozzle_c", "240")]).await;
    let seq = w.get(&open).await.seq();
    w.post(&format!("{open}/check/belt-pluck"), &[("seq", &seq), ("outcome", "right")]).await;
    let fixing = w.open(&[("f.layer-step", "present")]).await;
    let seq = w.get(&fixing).await.seq();
    w.post(&format!("{fixing}/fix/tighten-pulley"), &[("seq", &seq), ("minutes", "8")]).await;
    let closed = w.open(&[("f.plain-seam-line", "present")]).await;
    let seq = w.get(&closed).await.seq();
    w.post(&format!("{closed}/close"), &[("seq", &seq), ("outcome", "not-a-fault"), ("cause", "normal-seam")]).await;
    let locked = w.open(&[("f.burnt-smell", "present")]).await;
    let pages = [
        "/".into(),
        "/cases/new".into(),
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
            let wide = browser.execute("document.querySelectorAll('details').forEach(d => d.open = true); return document.documentElement.scrollWidth - innerWidth", vec![]).await.unwrap();
            assert!(wide.as_i64().unwrap() <= 0, "{page} scrolls sideways at {width} by {wide}");
            browser.execute(AXE, vec![]).await.unwrap();
            let run = "const done = arguments[arguments.length - 1]; axe.run().then(r => done(r.violations.map(v => v.id + ': ' + v.nodes.map(n => n.html + ' ' + n.failureSummary).slice(0, 3).join(' | '))))";
            let violations = browser.execute_async(run, vec![]).await.unwrap();
            assert_eq!(violations, json!([]), "{page} at {width}");
        }
    }
    assert_eq!(complaints(&browser).await, Vec::<String>::new());
    browser.close().await.unwrap();
    w.db.remove().await;
}

/// Sizes the page itself, not the window around it. Headless windows have a least width: below it the page is emulated.
async fn set_size(browser: &Client, base: &str, width: u32, height: u32) {
    browser.goto(base).await.unwrap();
    #[derive(Debug)]
    struct Metrics(u32, u32);
    impl fantoccini::wd::WebDriverCompatibleCommand for Metrics {
        fn endpoint(&self, base: &url::Url, session: Option<&str>) -> Result<url::Url, url::ParseError> {
            base.join(&format!("session/{}/goog/cdp/execute", session.unwrap_or_default()))
        }
        fn method_and_body(&self, _: &url::Url) -> (http::Method, Option<String>) {
            let params = json!({ "width": self.0, "height": self.1, "deviceScaleFactor": 1, "mobile": self.0 < 500 });
            (http::Method::POST, Some(json!({ "cmd": "Emulation.setDeviceMetricsOverride", "params": params }).to_string()))
        }
    }
    browser.issue_cmd(Metrics(width, height)).await.expect("the page can be sized");
    browser.goto(base).await.unwrap();
    assert_eq!(browser.execute("return innerWidth", vec![]).await.unwrap(), json!(width));
}
