//! A workshop with one machine, and a person who reads pages and sends forms, without scripts.
#![allow(dead_code, reason = "each test file uses its part")]

pub mod chromium;

use axum::Router;
use axum::body::Body;
use axum::http::{HeaderValue, Request, StatusCode, header};
use scraper::{Html, Selector};
use std::sync::Arc;
use suspect_core::knowledge::Knowledge;
use suspect_core::machine::Described;
use suspect_store::Uuid;
use suspect_store::testing::{Fresh, fresh};
use suspect_web::{AppState, Hosts, router};
use tower::ServiceExt;

pub struct Workshop {
    pub db: Fresh,
    pub pages: Router,
    pub machine: Uuid,
    pub state: AppState,
}

/// A page as it came: status, place it leads to, parsed text.
pub struct Page {
    pub status: StatusCode,
    pub to: Option<String>,
    pub text: String,
}

/// A workshop with one machine.
pub async fn workshop() -> Workshop {
    let w = empty_workshop().await;
    let profile = [
        ("feed", "direct"),
        ("hotend", "all-metal"),
        ("motion", "crossed-belt"),
        ("levelling", "probe"),
        ("board_age", "protected"),
    ];
    let teal = described("Teal", "Skerry 300", &profile);
    let at = time::OffsetDateTime::UNIX_EPOCH;
    let added =
        w.db.store
            .add_machine(&w.state.knowledge, w.machine, &teal, at);
    added.await.unwrap();
    w
}

/// A workshop without any machine.
pub async fn empty_workshop() -> Workshop {
    let db = fresh().await;
    let knowledge = Arc::new(Knowledge::shipped());
    let state = AppState::new(db.store.clone(), knowledge);
    Workshop {
        pages: router(state.clone(), Hosts::default()),
        db,
        machine: Uuid::now_v7(),
        state,
    }
}

/// A machine as its log describes it.
pub fn described(name: &str, model: &str, profile: &[(&str, &str)]) -> Described {
    Described {
        name: name.into(),
        model: model.into(),
        profile: profile
            .iter()
            .map(|(f, v)| (f.to_string(), v.to_string()))
            .collect(),
        ..Described::default()
    }
}

impl Workshop {
    /// Sends a request to this workshop by its own name.
    pub async fn send(&self, mut request: Request<Body>) -> Page {
        let host = HeaderValue::from_static("localhost");
        request.headers_mut().entry(header::HOST).or_insert(host);
        let answer = self.pages.clone().oneshot(request).await.unwrap();
        let to = answer
            .headers()
            .get(header::LOCATION)
            .map(|v| v.to_str().unwrap().to_string());
        let status = answer.status();
        let bytes = axum::body::to_bytes(answer.into_body(), usize::MAX)
            .await
            .unwrap();
        Page {
            status,
            to,
            text: String::from_utf8_lossy(&bytes).into_owned(),
        }
    }

    /// What kind of thing an address gives, and its bytes.
    pub async fn pages_raw(&self, path: &str) -> (String, Vec<u8>) {
        let answer = self
            .pages
            .clone()
            .oneshot(
                Request::get(path)
                    .header(header::HOST, "localhost")
                    .body(Body::empty())
                    .unwrap(),
            )
            .await
            .unwrap();
        let kind = answer
            .headers()
            .get(header::CONTENT_TYPE)
            .map(|v| v.to_str().unwrap().to_string())
            .unwrap_or_default();
        (
            kind,
            axum::body::to_bytes(answer.into_body(), usize::MAX)
                .await
                .unwrap()
                .to_vec(),
        )
    }

    pub async fn get(&self, path: &str) -> Page {
        self.send(
            Request::get(path)
                .header(header::HOST, "localhost")
                .body(Body::empty())
                .unwrap(),
        )
        .await
    }

    pub async fn post(&self, path: &str, fields: &[(&str, &str)]) -> Page {
        let body = form_urlencoded::Serializer::new(String::new())
            .extend_pairs(fields)
            .finish();
        let request =
            Request::post(path).header(header::CONTENT_TYPE, "application/x-www-form-urlencoded");
        self.send(request.body(Body::from(body)).unwrap()).await
    }

    /// Opens a case with facts and returns its path.
    pub async fn open(&self, facts: &[(&str, &str)]) -> String {
        self.open_on(self.machine, facts).await
    }

    /// A second machine, so that a stop on one leaves the other free.
    pub async fn second_machine(&self) -> Uuid {
        let id = Uuid::now_v7();
        let dipper = described("Dipper", "Skiff 240", &[]);
        let at = time::OffsetDateTime::UNIX_EPOCH;
        self.db
            .store
            .add_machine(&self.state.knowledge, id, &dipper, at)
            .await
            .unwrap();
        id
    }

    /// The same on a machine of choice.
    pub async fn open_on(&self, machine: Uuid, facts: &[(&str, &str)]) -> String {
        let machine = machine.to_string();
        let told = if facts.is_empty() {
            ""
        } else {
            "Joint, one step"
        };
        let page = self
            .post(
                "/cases",
                &[
                    ("machine", machine.as_str()),
                    ("told", told),
                    ("twin", "no"),
                ],
            )
            .await;
        assert_eq!(page.status, StatusCode::SEE_OTHER, "{}", page.text);
        let case = page
            .to
            .unwrap()
            .split("/intake")
            .next()
            .unwrap()
            .to_string();
        if !facts.is_empty() {
            self.record(
                &case,
                "numbers",
                &[
                    ("title", "Joint, one step"),
                    ("spool", ""),
                    ("material", "petg"),
                ],
            )
            .await;
            self.record(&case, "facts", facts).await;
        }
        case
    }

    /// Lifts a stop of a case as a named person does: every step ticked.
    pub async fn lift(&self, case: &str, stop: &str, by: &str, reason: &str) -> Page {
        let steps = self
            .state
            .knowledge
            .stops
            .iter()
            .find(|s| s.id == stop)
            .unwrap();
        let seen: Vec<String> = (1..=steps.work.steps.len())
            .map(|n| n.to_string())
            .collect();
        let mut fields = vec![("by", by), ("reason", reason)];
        fields.extend(seen.iter().map(|n| ("seen", n.as_str())));
        self.record(case, &format!("stop/{stop}"), &fields).await
    }

    /// Sends a form below a case as its page stands now, and expects it to be taken.
    pub async fn record(&self, case: &str, what: &str, fields: &[(&str, &str)]) -> Page {
        let seq = self.get(case).await.seq();
        let mut all = vec![("seq", seq.as_str())];
        all.extend_from_slice(fields);
        let page = self.post(&format!("{case}/{what}"), &all).await;
        assert_eq!(
            page.status,
            StatusCode::SEE_OTHER,
            "{what} {fields:?}: {}",
            page.text
        );
        page
    }

    /// Sends pictures as a browser does.
    pub async fn upload(&self, case: &str, files: &[(&str, &[u8])]) -> Page {
        let mut body = Vec::new();
        let seq = self.get(case).await.seq();
        let upload = Uuid::now_v7().to_string();
        for (name, value) in [("seq", seq.as_str()), ("upload", &upload)] {
            body.extend(
                format!(
                    "--edge\r\nContent-Disposition: form-data; name=\"{name}\"\r\n\r\n{value}\r\n"
                )
                .bytes(),
            );
        }
        for (name, bytes) in files {
            let head = format!(
                "--edge\r\nContent-Disposition: form-data; name=\"files\"; \
                    filename=\"{name}\"\r\nContent-Type: image/jpeg\r\n\r\n"
            );
            body.extend(head.bytes());
            body.extend_from_slice(bytes);
            body.extend(b"\r\n");
        }
        body.extend(b"--edge--\r\n");
        self.send_upload(case, body).await
    }

    /// Sends the body of an upload as it is.
    pub async fn send_upload(&self, case: &str, body: Vec<u8>) -> Page {
        let request = Request::post(format!("{case}/pictures"))
            .header(header::CONTENT_TYPE, "multipart/form-data; boundary=edge");
        self.send(request.body(Body::from(body)).unwrap()).await
    }
}

impl Page {
    /// Texts of what a selector finds.
    pub fn all(&self, selector: &str) -> Vec<String> {
        let page = Html::parse_document(&self.text);
        let selector = Selector::parse(selector).unwrap();
        page.select(&selector)
            .map(|e| {
                e.text()
                    .collect::<Vec<_>>()
                    .join(" ")
                    .split_whitespace()
                    .collect::<Vec<_>>()
                    .join(" ")
            })
            .collect()
    }

    pub fn one(&self, selector: &str) -> String {
        self.all(selector)
            .into_iter()
            .next()
            .unwrap_or_else(|| panic!("no {selector} in {}", self.text))
    }

    /// An attribute of the first thing a selector finds.
    pub fn attribute(&self, selector: &str, name: &str) -> String {
        let page = Html::parse_document(&self.text);
        let parsed = Selector::parse(selector).unwrap();
        let found = page.select(&parsed).next();
        found
            .and_then(|e| e.value().attr(name))
            .unwrap_or_else(|| panic!("no {selector}[{name}] in {}", self.text))
            .to_string()
    }

    /// Identifiers of what a selector finds.
    pub fn ids(&self, selector: &str) -> Vec<String> {
        let page = Html::parse_document(&self.text);
        let selector = Selector::parse(selector).unwrap();
        page.select(&selector)
            .filter_map(|e| e.value().attr("id"))
            .map(str::to_string)
            .collect()
    }

    /// Values of the fields that a selector finds.
    pub fn values(&self, selector: &str) -> Vec<String> {
        let page = Html::parse_document(&self.text);
        let selector = Selector::parse(selector).unwrap();
        let values = page
            .select(&selector)
            .filter_map(|e| e.value().attr("value"));
        values.map(str::to_string).collect()
    }

    /// Addresses of all links.
    pub fn links(&self) -> Vec<String> {
        let page = Html::parse_document(&self.text);
        page.select(&Selector::parse("a[href]").unwrap())
            .filter_map(|a| a.value().attr("href"))
            .map(str::to_string)
            .collect()
    }

    pub fn seq(&self) -> String {
        self.attribute("input[name=seq]", "value")
    }
}
