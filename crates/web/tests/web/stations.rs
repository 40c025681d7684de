//! Shared stations, secret addresses, what is kept of a member, and the wire.

use crate::kit::{Workshop, workshop};
use crate::people::{Browser, member};
use axum::http::StatusCode;
use std::io::{Read, Write};
use std::sync::Arc;
use std::sync::atomic::{AtomicI64, Ordering};
use suspect_core::people::Role;
use suspect_web::{Hosts, Wire, router};
use time::{Duration, OffsetDateTime};
use tokio_rustls::rustls::pki_types::CertificateDer;
use tokio_rustls::rustls::pki_types::pem::PemObject;
use tokio_rustls::rustls::{ClientConfig, ClientConnection, RootCertStore, StreamOwned};

/// Minutes that have passed at a station of these tests.
static PASSED: AtomicI64 = AtomicI64::new(0);

fn later() -> OffsetDateTime {
    OffsetDateTime::now_utc() + Duration::minutes(PASSED.load(Ordering::SeqCst))
}

async fn id_of(w: &Workshop, name: &str) -> String {
    let members = w.db.store.members().await.unwrap();
    members
        .iter()
        .find(|m| m.name == name)
        .unwrap()
        .id
        .to_string()
}

/// A station that a keeper registers, and a volunteer with a PIN.
async fn station(w: &Workshop) -> (Browser<'_>, Browser<'_>, String) {
    let keeper = member(w, "Ida", Role::Keeper).await;
    let jonas = member(w, "Jonas", Role::Volunteer).await;
    let pin = jonas.post("/me/pin", &[("pin", "4917")]).await;
    assert_eq!(pin.status, StatusCode::SEE_OTHER);
    let tablet = member(w, "Mira", Role::Keeper).await;
    let made = tablet
        .post("/people/stations", &[("name", "By the door")])
        .await;
    assert_eq!(made.to.as_deref(), Some("/station"), "{}", made.text);
    let jonas = id_of(w, "Jonas").await;
    (keeper, tablet, jonas)
}

async fn come_in(tablet: &Browser<'_>, who: &str, pin: &str) -> crate::kit::Page {
    let fields = [("who", who), ("pin", pin), ("next", "/machines/new")];
    tablet.post("/station", &fields).await
}

#[tokio::test]
async fn at_a_station_a_name_and_a_pin_let_a_member_in_and_rest_lets_them_out() {
    let w = workshop().await;
    let w = Workshop {
        pages: router(w.state.clone().with_clock(later), Hosts::default()),
        ..w
    };
    PASSED.store(0, Ordering::SeqCst);
    let (_, tablet, jonas) = station(&w).await;
    // The keeper is signed out of it, and a machine's code leads there after the PIN.
    let page = tablet.get("/machines/new").await;
    assert_eq!(page.to.as_deref(), Some("/station?next=%2Fmachines%2Fnew"));
    let page = tablet.get("/station").await;
    assert!(
        page.text.contains("Jonas") && !page.text.contains("Mira</a>"),
        "no PIN, no name"
    );
    let wrong = come_in(&tablet, &jonas, "1111").await;
    assert_eq!(wrong.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(wrong.text.contains("4 tries are left"), "{}", wrong.text);
    let right = come_in(&tablet, &jonas, "4917").await;
    assert_eq!(right.to.as_deref(), Some("/machines/new"));
    let floor = tablet.get("/").await;
    assert!(floor.text.contains("Jonas") && floor.text.contains("data-rest=\"300\""));
    // One's own page takes the passphrase.
    assert_eq!(
        tablet.get("/me").await.status,
        StatusCode::UNPROCESSABLE_ENTITY
    );
    PASSED.store(4, Ordering::SeqCst);
    assert_eq!(tablet.get("/").await.status, StatusCode::OK);
    PASSED.store(8, Ordering::SeqCst);
    assert_eq!(
        tablet.get("/").await.status,
        StatusCode::OK,
        "it goes on while it is used"
    );
    PASSED.store(14, Ordering::SeqCst);
    assert!(
        tablet.get("/").await.to.unwrap().starts_with("/station"),
        "rested"
    );
    w.db.remove().await;
}

#[tokio::test]
async fn five_wrong_pins_hold_until_the_passphrase_frees_them() {
    let w = workshop().await;
    let (_, tablet, jonas) = station(&w).await;
    for _ in 0..5 {
        come_in(&tablet, &jonas, "0001").await;
    }
    let held = come_in(&tablet, &jonas, "4917").await;
    assert!(held.text.contains("frees your PIN"), "{}", held.text);
    let own = Browser::of(&w);
    let signed = own.sign_in("Jonas", "teapot glacier unison mildew").await;
    assert_eq!(signed.status, StatusCode::SEE_OTHER);
    assert_eq!(
        come_in(&tablet, &jonas, "4917").await.status,
        StatusCode::SEE_OTHER
    );
    w.db.remove().await;
}

#[tokio::test]
async fn a_stolen_station_is_out_at_once_and_no_pin_makes_a_keeper() {
    let w = workshop().await;
    let (keeper, tablet, jonas) = station(&w).await;
    come_in(&tablet, &jonas, "4917").await;
    // The same session carried to another browser, without the station, is nobody's.
    let thief = Browser::of(&w);
    thief.cookie.replace(tablet.cookie.borrow().clone());
    assert!(thief.get("/").await.to.unwrap().starts_with("/sign-in"));
    come_in(&tablet, &jonas, "4917").await;
    assert_eq!(tablet.get("/").await.status, StatusCode::OK);
    let id = w.db.store.stations().await.unwrap()[0].id;
    let revoked = keeper.post(&format!("/people/stations/{id}"), &[]).await;
    assert_eq!(revoked.status, StatusCode::SEE_OTHER);
    assert!(tablet.get("/").await.to.unwrap().starts_with("/sign-in"));
    let page = keeper.get("/people").await;
    assert!(
        page.text
            .contains("took the station “By the door” out of use")
    );
    w.db.remove().await;
    let w = workshop().await;
    let (_, tablet, _) = station(&w).await;
    let mira = Browser::of(&w);
    mira.sign_in("Mira", "teapot glacier unison mildew").await;
    mira.post("/me/pin", &[("pin", "8306")]).await;
    come_in(&tablet, &id_of(&w, "Mira").await, "8306").await;
    assert_eq!(tablet.get("/people").await.status, StatusCode::FORBIDDEN);
    assert_eq!(tablet.get("/").await.status, StatusCode::OK);
    w.db.remove().await;
}

#[tokio::test]
async fn a_common_pin_is_refused_with_what_would_do() {
    let w = workshop().await;
    let ida = member(&w, "Ida", Role::Keeper).await;
    for (pin, why) in [
        ("1234", "everybody tries first"),
        ("12", "four to eight digits"),
    ] {
        let page = ida.post("/me/pin", &[("pin", pin)]).await;
        assert_eq!(page.status, StatusCode::UNPROCESSABLE_ENTITY);
        assert!(page.text.contains(why), "{}", page.text);
    }
    w.db.remove().await;
}

#[tokio::test]
async fn a_secret_address_opens_feeds_and_nothing_else_until_it_is_ended() {
    let w = workshop().await;
    w.open(&[("f.layer-step", "present")]).await;
    let ida = member(&w, "Ida", Role::Keeper).await;
    let page = ida.post("/me/feeds", &[]).await;
    let links = page.links();
    let at = links.iter().find(|l| l.contains("/feeds/")).unwrap();
    let base = at
        .split_once("localhost")
        .unwrap()
        .1
        .rsplit_once('/')
        .unwrap()
        .0
        .to_string();
    let program = Browser::of(&w);
    for (file, kind) in [
        ("floor.atom", "<feed"),
        ("mine.atom", "<feed"),
        ("waits.ics", "BEGIN:VCALENDAR"),
        ("due.ics", "BEGIN:VCALENDAR"),
        ("again.ics", "BEGIN:VCALENDAR"),
    ] {
        let feed = program.get(&format!("{base}/{file}")).await;
        assert_eq!(feed.status, StatusCode::OK, "{file}");
        assert!(feed.text.contains(kind), "{file}: {}", feed.text);
    }
    let floor = program.get(&format!("{base}/floor.atom")).await;
    assert!(
        floor.text.contains("<entry>") && floor.text.contains("C-001"),
        "{}",
        floor.text
    );
    assert!(program.get("/").await.to.unwrap().starts_with("/sign-in"));
    assert_eq!(
        program.get(&format!("{base}/people")).await.status,
        StatusCode::SEE_OTHER
    );
    ida.post("/me/feeds", &[("say", "end")]).await;
    let ended = program.get(&format!("{base}/floor.atom")).await;
    assert_eq!(ended.status, StatusCode::NOT_FOUND);
    w.db.remove().await;
}

#[tokio::test]
async fn what_is_kept_of_a_member_is_theirs_as_a_file() {
    let w = workshop().await;
    let ida = member(&w, "Ida", Role::Keeper).await;
    let note = [("say", "noted"), ("text", "Belt smells of rubber")];
    let path = format!("/machines/{}/journal", w.machine);
    assert_eq!(ida.post(&path, &note).await.status, StatusCode::SEE_OTHER);
    let file = ida.get("/me/kept.json").await;
    assert_eq!(file.status, StatusCode::OK, "{}", file.text);
    let kept: serde_json::Value = serde_json::from_str(&file.text).unwrap();
    assert_eq!(kept["member"]["name"], "Ida");
    assert_eq!(kept["sessions"].as_array().unwrap().len(), 1);
    let recorded = kept["recorded"].as_array().unwrap();
    assert!(
        recorded
            .iter()
            .any(|r| r["event"]["text"] == "Belt smells of rubber"),
        "{kept}"
    );
    assert!(!file.text.contains("argon2"), "no hash leaves");
    w.db.remove().await;
}

/// A certificate for this computer, made for the test, and files of it and its key.
fn certificate() -> (
    tempfile::TempDir,
    std::path::PathBuf,
    std::path::PathBuf,
    String,
) {
    let made = rcgen::generate_simple_self_signed(vec!["localhost".into()]).unwrap();
    let folder = tempfile::tempdir().unwrap();
    let (certificate, key) = (folder.path().join("c.pem"), folder.path().join("k.pem"));
    std::fs::write(&certificate, made.cert.pem()).unwrap();
    std::fs::write(&key, made.signing_key.serialize_pem()).unwrap();
    (folder, certificate, key, made.cert.pem())
}

/// Takes an invitation through a certificate that is trusted, and tells the whole answer.
fn over_tls(address: std::net::SocketAddr, pem: &str) -> String {
    let mut roots = RootCertStore::empty();
    roots
        .add(CertificateDer::from_pem_slice(pem.as_bytes()).unwrap())
        .unwrap();
    let provider = Arc::new(tokio_rustls::rustls::crypto::ring::default_provider());
    let config = ClientConfig::builder_with_provider(provider)
        .with_safe_default_protocol_versions()
        .unwrap()
        .with_root_certificates(roots)
        .with_no_client_auth();
    let name = "localhost".try_into().unwrap();
    let client = ClientConnection::new(Arc::new(config), name).unwrap();
    let tcp = std::net::TcpStream::connect(address).unwrap();
    let mut stream = StreamOwned::new(client, tcp);
    let body = "name=Ida&passphrase=teapot+glacier+unison+mildew";
    let request = format!(
        "POST /invited/link HTTP/1.1\r\nHost: localhost\r\nConnection: close\r\n\
         Content-Type: application/x-www-form-urlencoded\r\nContent-Length: {}\r\n\r\n{body}",
        body.len()
    );
    stream.write_all(request.as_bytes()).unwrap();
    let mut said = Vec::new();
    let _ = stream.read_to_end(&mut said);
    String::from_utf8_lossy(&said).into_owned()
}

#[tokio::test]
async fn behind_a_certificate_pages_go_over_https_alone_and_the_cookie_too() {
    let w = workshop().await;
    let (_folder, path, key, pem) = certificate();
    let wire = Wire::default().with_certificate(&path, &key).unwrap();
    assert!(wire.is_secure());
    assert!(
        Wire::default().with_certificate(&key, &path).is_err(),
        "the wrong way round"
    );
    let by = w.db.store.members().await.unwrap().first().map(|m| m.id);
    let now = OffsetDateTime::now_utc();
    w.db.store
        .invite("link", (Role::Keeper, None), by, now)
        .await
        .unwrap();
    let listener = tokio::net::TcpListener::bind("127.0.0.1:0").await.unwrap();
    let address = listener.local_addr().unwrap();
    let state = w.state.clone().with_https(true);
    let hosts = Hosts::default();
    tokio::spawn(suspect_web::serve(
        listener,
        wire,
        state,
        hosts,
        std::future::pending(),
    ));
    let said = tokio::task::spawn_blocking(move || over_tls(address, &pem));
    let said = said.await.unwrap();
    assert!(said.starts_with("HTTP/1.1 303"), "{said}");
    let cookie = said
        .lines()
        .find(|l| l.to_lowercase().starts_with("set-cookie"))
        .unwrap();
    assert!(cookie.contains("Secure"), "{cookie}");
    w.db.remove().await;
}
