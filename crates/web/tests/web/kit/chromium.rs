//! Real Chromium, driven the way a person drives it: by mouse, by finger, by keyboard.
#![allow(dead_code, reason = "each test file uses its part")]

use super::Workshop;
use fantoccini::actions::{InputSource, KeyAction, KeyActions};
use fantoccini::key::Key;
use fantoccini::{Client, ClientBuilder, Locator};
use serde_json::{Value, json};
use std::io::{BufRead, BufReader};
use std::os::unix::process::CommandExt;
use std::process::{Child, Command, Stdio};
use tokio::net::TcpListener;

pub const AXE: &str = include_str!("../../../../../assets/vendor/test/axe.js");

/// ChromeDriver in a process group of its own, ended with its Chromium even when a test panics.
pub struct Driver {
    child: Child,
    port: u16,
    profile: std::path::PathBuf,
}

type Lines = std::io::Lines<BufReader<std::process::ChildStdout>>;

/// A driver on a port of its own choice, or none if it ended without naming one.
fn begin() -> Option<(Child, u16, Lines)> {
    let mut child = Command::new("chromedriver")
        .arg("--port=0")
        .stdout(Stdio::piped())
        .stderr(Stdio::null())
        .process_group(0)
        .spawn()
        .expect("chromedriver is installed: run ./test");
    let mut lines = BufReader::new(child.stdout.take().expect("piped")).lines();
    let said = lines.by_ref().map_while(Result::ok).find_map(|l| {
        l.split("started successfully on port ")
            .nth(1)
            .map(str::to_string)
    });
    let Some(said) = said else {
        child.wait().expect("a driver that said nothing has ended");
        return None;
    };
    let port = said.trim().trim_end_matches('.').parse().expect("a port");
    Some((child, port, lines))
}

impl Driver {
    pub fn start() -> Self {
        // Two that start at once may choose the same port; the one too late ends and is begun anew.
        let (child, port, mut lines) = std::iter::repeat_with(begin)
            .take(5)
            .find_map(|begun| begun)
            .expect("chromedriver says its port");
        // Its later output must go somewhere, or it blocks.
        std::thread::spawn(move || lines.by_ref().for_each(drop));
        let profile =
            std::env::temp_dir().join(format!("us-chromium-{}", suspect_store::Uuid::now_v7()));
        Self {
            child,
            port,
            profile,
        }
    }

    pub async fn client(&self) -> Client {
        let arguments = [
            "--headless=new",
            // A microphone that beeps, and leave to use it.
            "--use-fake-device-for-media-stream",
            "--use-fake-ui-for-media-stream",
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
        let mut arguments: Vec<String> = arguments
            .iter()
            .map(std::string::ToString::to_string)
            .collect();
        arguments.push(format!("--user-data-dir={}", self.profile.display()));
        let wanted = json!({ "goog:chromeOptions": { "args": arguments },
            "goog:loggingPrefs": { "browser": "ALL" } });
        let Value::Object(wanted) = wanted else {
            unreachable!("an object")
        };
        ClientBuilder::new(hyper_util::client::legacy::connect::HttpConnector::new())
            .capabilities(wanted)
            .connect(&format!("http://127.0.0.1:{}", self.port))
            .await
            .expect("a browser starts")
    }
}

impl Drop for Driver {
    fn drop(&mut self) {
        let _ = Command::new("kill")
            .args(["-KILL", "--", &format!("-{}", self.child.id())])
            .status();
        let _ = self.child.wait();
        let _ = std::fs::remove_dir_all(&self.profile);
    }
}

/// Serves the workshop on a free port.
pub async fn served(w: &Workshop) -> String {
    let listener = TcpListener::bind("127.0.0.1:0").await.unwrap();
    let address = format!("http://{}", listener.local_addr().unwrap());
    let state = w.state.clone();
    tokio::spawn(suspect_web::serve(
        listener,
        suspect_web::Wire::default(),
        state,
        suspect_web::Hosts::default(),
        std::future::pending(),
    ));
    address
}

pub async fn click(browser: &Client, selector: &str) {
    let element = found(browser, selector).await;
    browser
        .execute(
            "arguments[0].scrollIntoView({ block: 'center' })",
            vec![serde_json::to_value(&element).unwrap()],
        )
        .await
        .unwrap();
    element
        .click()
        .await
        .unwrap_or_else(|e| panic!("{selector}: {e}"));
}

/// Runs a script in the page.
pub async fn run(browser: &Client, script: &str) -> Value {
    browser
        .execute(script, vec![])
        .await
        .unwrap_or_else(|e| panic!("{script}: {e}"))
}

/// Waits for an element; a failure shows the page as it was.
pub async fn found(browser: &Client, selector: &str) -> fantoccini::elements::Element {
    match browser.wait().for_element(Locator::Css(selector)).await {
        Ok(element) => element,
        Err(e) => {
            let page = browser
                .execute(
                    "return location.href + ' ' + document.body.innerText",
                    vec![],
                )
                .await;
            panic!("{selector}: {e} on {page:?}")
        }
    }
}

pub async fn text(browser: &Client, selector: &str) -> String {
    found(browser, selector).await.text().await.unwrap()
}

/// Waits until a condition in the page holds, also over a change of the page: it is asked again and
/// again, because a question under way when a page leaves is never answered.
pub async fn until(browser: &Client, condition: &str) {
    let ask = format!("return Boolean({condition})");
    let began = std::time::Instant::now();
    while began.elapsed() < LONGEST_WAIT {
        if matches!(browser.execute(&ask, vec![]).await, Ok(Value::Bool(true))) {
            return;
        }
    }
    let shown = "return location.href + ' ' + document.body.innerText";
    let page = browser.execute(shown, vec![]).await;
    panic!("waiting for {condition} on {page:?}");
}

/// What takes longer than this never comes.
const LONGEST_WAIT: std::time::Duration = std::time::Duration::from_secs(30);

/// Console messages of level error, and refusals of the content security policy.
pub async fn complaints(browser: &Client) -> Vec<String> {
    let log = command(browser, "se/log", json!({ "type": "browser" })).await;
    let lines = log.as_array().cloned().unwrap_or_default();
    lines
        .iter()
        .filter(|l| l["level"] == "SEVERE")
        .map(|l| l["message"].to_string())
        .collect()
}

/// A command of the driver beyond the common ones.
async fn command(browser: &Client, path: &'static str, body: Value) -> Value {
    #[derive(Debug)]
    struct Post(&'static str, Value);
    impl fantoccini::wd::WebDriverCompatibleCommand for Post {
        fn endpoint(
            &self,
            base: &url::Url,
            session: Option<&str>,
        ) -> Result<url::Url, url::ParseError> {
            base.join(&format!(
                "session/{}/{}",
                session.unwrap_or_default(),
                self.0
            ))
        }
        fn method_and_body(&self, _: &url::Url) -> (http::Method, Option<String>) {
            (http::Method::POST, Some(self.1.to_string()))
        }
    }
    browser
        .issue_cmd(Post(path, body))
        .await
        .expect("the driver obeys")
}

/// A command of the browser's own protocol.
pub async fn devtools(browser: &Client, cmd: &str, params: Value) {
    command(
        browser,
        "goog/cdp/execute",
        json!({ "cmd": cmd, "params": params }),
    )
    .await;
}

/// Sizes the page itself, not the window around it. Headless windows have a least width: below it
/// the page is emulated.
pub async fn set_size(browser: &Client, base: &str, width: u32, height: u32) {
    browser.goto(base).await.unwrap();
    let phone = width < 500;
    let metrics =
        json!({ "width": width, "height": height, "deviceScaleFactor": 1, "mobile": phone });
    devtools(browser, "Emulation.setDeviceMetricsOverride", metrics).await;
    devtools(
        browser,
        "Emulation.setTouchEmulationEnabled",
        json!({ "enabled": phone }),
    )
    .await;
    browser.goto(base).await.unwrap();
    assert_eq!(
        browser.execute("return innerWidth", vec![]).await.unwrap(),
        json!(width)
    );
}

/// Touches an element with a finger, once it stands still in sight.
pub async fn tap(browser: &Client, selector: &str) {
    let (x, y) = middle(browser, selector).await;
    devtools(
        browser,
        "Input.dispatchTouchEvent",
        json!({ "type": "touchStart", "touchPoints": [{ "x": x, "y": y }] }),
    )
    .await;
    devtools(
        browser,
        "Input.dispatchTouchEvent",
        json!({ "type": "touchEnd", "touchPoints": [] }),
    )
    .await;
}

/// Drags an element upward by so many pixels, with a finger.
pub async fn drag_up(browser: &Client, selector: &str, by: f64) {
    let (x, y) = middle(browser, selector).await;
    devtools(
        browser,
        "Input.dispatchTouchEvent",
        json!({ "type": "touchStart", "touchPoints": [{ "x": x, "y": y }] }),
    )
    .await;
    for step in [0.3, 0.7, 1.0] {
        let points = json!([{ "x": x, "y": y - by * step }]);
        devtools(
            browser,
            "Input.dispatchTouchEvent",
            json!({ "type": "touchMove", "touchPoints": points }),
        )
        .await;
    }
    devtools(
        browser,
        "Input.dispatchTouchEvent",
        json!({ "type": "touchEnd", "touchPoints": [] }),
    )
    .await;
}

async fn middle(browser: &Client, selector: &str) -> (f64, f64) {
    let element = found(browser, selector).await;
    let script = "arguments[0].scrollIntoView({ block: 'center' }); const b = \
        arguments[0].getBoundingClientRect(); \
                  return [b.x + b.width / 2, b.y + b.height / 2]";
    let at = browser
        .execute(script, vec![serde_json::to_value(&element).unwrap()])
        .await
        .unwrap();
    (at[0].as_f64().unwrap(), at[1].as_f64().unwrap())
}

/// Presses Tab until the focus is on what a selector names: everything must be reachable so.
pub async fn tab_to(browser: &Client, selector: &str) {
    for _ in 0..250 {
        let there = browser
            .execute(
                "return document.activeElement.matches(arguments[0])",
                vec![json!(selector)],
            )
            .await
            .unwrap();
        if there == json!(true) {
            return;
        }
        press(browser, Key::Tab).await;
    }
    panic!("{selector} cannot be reached by Tab");
}

/// Presses a key of the keyboard, whatever has the focus: a field for files takes no typing.
pub async fn press(browser: &Client, key: Key) {
    let value = char::from(key);
    let strokes = KeyActions::new("keyboard".into())
        .then(KeyAction::Down { value })
        .then(KeyAction::Up { value });
    browser.perform_actions(strokes).await.unwrap();
}

/// Types into whatever has the focus, once digits do not rest any more.
pub async fn type_in(browser: &Client, text: &str) {
    if text.len() == 1 && text.starts_with(|c: char| c.is_ascii_digit()) {
        found(browser, "html:not([data-resting])").await;
    }
    browser
        .active_element()
        .await
        .unwrap()
        .send_keys(text)
        .await
        .unwrap();
}

/// Types into what a selector finds.
pub async fn type_into(browser: &Client, selector: &str, text: &str) {
    let field = browser.find(Locator::Css(selector)).await;
    let field = field.unwrap_or_else(|e| panic!("{selector}: {e}"));
    field.send_keys(text).await.unwrap();
}

/// What a script of the page returns.
pub async fn value(browser: &Client, script: &str) -> serde_json::Value {
    browser.execute(script, vec![]).await.unwrap()
}
