//! Real Chromium behind a line that breaks: what was missed meanwhile is caught up on.

use crate::kit::chromium::{Driver, found, run, served, until};
use crate::kit::workshop;
use std::sync::Arc;
use tokio::net::{TcpListener, TcpStream};
use tokio::sync::{Notify, watch};

/// A line to the server that can be cut and mended. Cut, it drops what it carries and takes nothing
/// in.
struct Line {
    address: String,
    whole: watch::Sender<bool>,
    /// Told each time somebody knocks while it is cut.
    knocked: Arc<Notify>,
}

impl Line {
    async fn to(server: &str) -> Self {
        let server = server.trim_start_matches("http://").to_string();
        let listener = TcpListener::bind("127.0.0.1:0").await.unwrap();
        let address = format!("http://{}", listener.local_addr().unwrap());
        let (whole, state) = watch::channel(true);
        let knocked = Arc::new(Notify::new());
        let knock = knocked.clone();
        tokio::spawn(async move {
            while let Ok((near, _)) = listener.accept().await {
                if *state.borrow() {
                    tokio::spawn(carry(near, server.clone(), state.clone()));
                } else {
                    knock.notify_one();
                }
            }
        });
        Self {
            address,
            whole,
            knocked,
        }
    }
}

/// Carries both ways until either end closes or the line is cut.
async fn carry(mut near: TcpStream, server: String, mut state: watch::Receiver<bool>) {
    let mut far = TcpStream::connect(server).await.unwrap();
    tokio::select! {
        _ = tokio::io::copy_bidirectional(&mut near, &mut far) => {}
        _ = state.wait_for(|whole| !whole) => {}
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn a_broken_stream_is_taken_up_again_and_what_was_missed_appears() {
    let w = workshop().await;
    let case = w.open(&[("f.layer-step", "present")]).await;
    let line = Line::to(&served(&w).await).await;
    let driver = Driver::start();
    let browser = driver.client().await;
    let page = format!("{}{case}", line.address);
    browser.goto(&page).await.unwrap();
    found(&browser, ".history").await;
    let heard =
        |said: &str| format!("document.querySelector('.history').textContent.includes('{said}')");
    w.record(&case, "note", &[("text", "while it holds")]).await;
    until(&browser, &heard("while it holds")).await;
    run(&browser, "window.samePage = true").await;
    // Cut: others go on writing, the page keeps what it shows and knocks again by itself.
    line.whole.send(false).unwrap();
    w.record(&case, "note", &[("text", "while it is cut")])
        .await;
    line.knocked.notified().await;
    let shown = run(&browser, &format!("return {}", heard("while it is cut"))).await;
    assert_eq!(shown, false);
    line.whole.send(true).unwrap();
    until(&browser, &heard("while it is cut")).await;
    assert_eq!(run(&browser, "return window.samePage").await, true);
    browser.close().await.unwrap();
    w.db.remove().await;
}
