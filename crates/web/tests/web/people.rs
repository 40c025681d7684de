//! The way in, who may do what, and what is tried by whoever may not.

use crate::kit::{Page, Workshop, workshop};
use axum::body::Body;
use axum::http::{Request, StatusCode, header};
use std::cell::RefCell;
use suspect_core::people::Role;
use suspect_core::text::look;
use suspect_store::Uuid;
use suspect_web::{Hosts, router};
use tower::ServiceExt;

const GOOD: &str = "teapot glacier unison mildew";

/// Somebody's browser: it keeps its cookie.
pub struct Browser<'w> {
    w: &'w Workshop,
    pub cookie: RefCell<Option<String>>,
    /// What makes it a shared station.
    pub station: RefCell<Option<String>>,
}

impl<'w> Browser<'w> {
    pub fn of(w: &'w Workshop) -> Self {
        Browser {
            w,
            cookie: RefCell::default(),
            station: RefCell::default(),
        }
    }

    /// The cookies it sends along.
    fn held(&self) -> Option<String> {
        let (session, station) = (self.cookie.borrow(), self.station.borrow());
        let held = session.iter().chain(station.iter());
        let held: Vec<&str> = held.map(String::as_str).collect();
        (!held.is_empty()).then(|| held.join("; "))
    }

    async fn send(&self, mut request: Request<Body>) -> Page {
        request
            .headers_mut()
            .insert(header::HOST, "localhost".parse().unwrap());
        if let Some(held) = self.held() {
            request
                .headers_mut()
                .insert(header::COOKIE, held.parse().unwrap());
        }
        let answer = self.w.pages.clone().oneshot(request).await.unwrap();
        for set in answer.headers().get_all(header::SET_COOKIE) {
            let set = set.to_str().unwrap();
            let gone = set.contains("Max-Age=0");
            let guarded = set.contains("HttpOnly") && set.contains("SameSite=Lax");
            assert!(gone || guarded, "{set}");
            let kept = match set.starts_with("us-station") {
                true => &self.station,
                false => &self.cookie,
            };
            *kept.borrow_mut() = set.split(';').next().map(str::to_string);
        }
        let to = answer.headers().get(header::LOCATION);
        let to = to.map(|v| v.to_str().unwrap().to_string());
        let status = answer.status();
        let bytes = axum::body::to_bytes(answer.into_body(), usize::MAX).await;
        let text = String::from_utf8_lossy(&bytes.unwrap()).into_owned();
        Page { status, to, text }
    }

    pub async fn get(&self, path: &str) -> Page {
        self.send(Request::get(path).body(Body::empty()).unwrap())
            .await
    }

    pub async fn post(&self, path: &str, fields: &[(&str, &str)]) -> Page {
        let body = form_urlencoded::Serializer::new(String::new())
            .extend_pairs(fields)
            .finish();
        let kind = "application/x-www-form-urlencoded";
        let request = Request::post(path).header(header::CONTENT_TYPE, kind);
        self.send(request.body(Body::from(body)).unwrap()).await
    }

    pub async fn sign_in(&self, name: &str, passphrase: &str) -> Page {
        let fields = [
            ("name", name),
            ("passphrase", passphrase),
            ("next", "/records"),
        ];
        self.post("/sign-in", &fields).await
    }
}

/// A member with the usual passphrase, signed in.
pub async fn member<'w>(w: &'w Workshop, name: &str, role: Role) -> Browser<'w> {
    let store = &w.db.store;
    let by = store.members().await.unwrap().first().map(|m| m.id);
    let now = time::OffsetDateTime::now_utc();
    let link: String = name.chars().filter(char::is_ascii_alphanumeric).collect();
    store.invite(&link, (role, None), by, now).await.unwrap();
    let browser = Browser::of(w);
    let fields = [("name", name), ("passphrase", GOOD)];
    let page = browser.post(&format!("/invited/{link}"), &fields).await;
    assert_eq!(page.status, StatusCode::SEE_OTHER, "{}", page.text);
    browser
}

async fn id_of(w: &Workshop, name: &str) -> Uuid {
    let members = w.db.store.members().await.unwrap();
    members
        .iter()
        .find(|m| look(&m.name) == look(name))
        .unwrap()
        .id
}

#[tokio::test]
async fn one_person_works_alone_until_somebody_is_a_member() {
    let w = workshop().await;
    let alone = Browser::of(&w);
    assert_eq!(alone.get("/").await.status, StatusCode::OK);
    let ida = member(&w, "Ida", Role::Keeper).await;
    assert_eq!(ida.get("/people").await.status, StatusCode::OK);
    let page = alone.get("/records?sort=x").await;
    assert_eq!(page.status, StatusCode::SEE_OTHER);
    let to = page.to.unwrap();
    assert!(to.starts_with("/sign-in?next=%2Frecords"), "{to}");
    let sent = alone.post("/cases", &[("told", "strings")]).await;
    assert_eq!(sent.status, StatusCode::UNAUTHORIZED);
    assert!(sent.text.contains("You are signed out"));
    w.db.remove().await;
}

#[tokio::test]
async fn an_address_for_others_serves_the_first_keeper_alone() {
    let w = workshop().await;
    let state = w.state.clone().with_strangers(true);
    let w = Workshop {
        pages: router(state, Hosts::default()),
        ..w
    };
    let stranger = Browser::of(&w);
    for path in ["/", "/people", "/machines/new", "/sign-in?next=/"] {
        let page = stranger.get(path).await;
        let open = path.starts_with("/sign-in");
        assert_eq!(page.status == StatusCode::OK, open, "{path}");
    }
    let keeper = member(&w, "Ida", Role::Keeper).await;
    assert_eq!(keeper.get("/").await.status, StatusCode::OK);
    assert_eq!(
        stranger.get("/invited/Ida").await.status,
        StatusCode::NOT_FOUND
    );
    w.db.remove().await;
}

#[tokio::test]
async fn signing_in_takes_both_and_gives_a_new_session_that_ends_with_signing_out() {
    let w = workshop().await;
    member(&w, "Ida", Role::Technician).await;
    let ida = Browser::of(&w);
    for (name, passphrase) in [("Ida", "wrong"), ("Nobody", GOOD), ("", "")] {
        let page = ida.sign_in(name, passphrase).await;
        assert_eq!(page.status, StatusCode::UNPROCESSABLE_ENTITY);
        assert!(page.text.contains("do not belong together"), "{name}");
    }
    *ida.cookie.borrow_mut() = Some("us-session=AAAAAAAAAAAAAAAAAAAAAA".into());
    let page = ida.sign_in(" ida ", GOOD).await;
    assert_eq!(page.to.as_deref(), Some("/records"), "{}", page.text);
    let first = ida.cookie.borrow().clone().unwrap();
    assert!(
        !first.contains("AAAAAAAAAA"),
        "a number that somebody planted is not kept"
    );
    assert!(
        ida.get("/me")
            .await
            .text
            .contains("You are a technician here")
    );
    ida.sign_in("Ida", GOOD).await;
    let second = ida.cookie.borrow().clone().unwrap();
    assert_ne!(first, second, "a new number with every sign-in");

    let thief = Browser::of(&w);
    *thief.cookie.borrow_mut() = Some(second);
    assert_eq!(thief.get("/me").await.status, StatusCode::OK);
    assert_eq!(
        ida.get("/sign-out").await.status,
        StatusCode::METHOD_NOT_ALLOWED
    );
    ida.post("/sign-out", &[]).await;
    assert_eq!(thief.get("/me").await.status, StatusCode::SEE_OTHER);
    w.db.remove().await;
}

#[tokio::test]
async fn guessing_is_slowed_down_and_the_owner_still_gets_in() {
    let w = workshop().await;
    member(&w, "Ida", Role::Member).await;
    let thief = Browser::of(&w);
    let mut held = false;
    for _ in 0..8 {
        held |= thief
            .sign_in("Ida", "guess")
            .await
            .text
            .contains("Too many guesses");
    }
    assert!(held, "six wrong ones are too many");
    let now = time::OffsetDateTime::now_utc();
    let elsewhere = w.db.store.guesses("Ida", "10.0.0.7", now).await.unwrap();
    assert_eq!(suspect_core::people::wait(elsewhere, now), None);
    w.db.remove().await;
}

#[tokio::test]
async fn the_server_refuses_what_a_role_may_not_and_says_who_may() {
    let w = workshop().await;
    let keeper = member(&w, "Ida", Role::Keeper).await;
    let bo = member(&w, "Bo", Role::Member).await;
    let machine = w.machine.to_string();
    let told = [("machine", machine.as_str()), ("told", "strings")];
    let opened = bo.post("/cases", &told).await;
    assert_eq!(opened.status, StatusCode::SEE_OTHER, "{}", opened.text);
    let edit = format!("/machines/{}/journal", w.machine);
    let refused = bo
        .post(&edit, &[("say", "noted"), ("text", "Greased")])
        .await;
    assert_eq!(refused.status, StatusCode::FORBIDDEN);
    assert!(
        refused.text.contains("It takes a technician"),
        "{}",
        refused.text
    );
    assert!(refused.text.contains("Ask Ida."), "{}", refused.text);
    // Nobody promotes himself.
    let own = format!("/people/{}", id_of(&w, "Bo").await);
    let promoted = bo.post(&own, &[("role", "keeper")]).await;
    assert_eq!(promoted.status, StatusCode::FORBIDDEN);
    assert_eq!(bo.get("/people").await.status, StatusCode::FORBIDDEN);
    // Another role counts from the next touch on.
    keeper.post(&own, &[("role", "technician")]).await;
    let done = bo
        .post(&edit, &[("say", "noted"), ("text", "Greased")])
        .await;
    assert_eq!(done.status, StatusCode::SEE_OTHER, "{}", done.text);
    let last = format!("/people/{}", id_of(&w, "Ida").await);
    let gone = keeper.post(&last, &[("say", "leave")]).await;
    assert!(gone.text.contains("one keeper must stay") || gone.text.contains("One keeper"));
    w.db.remove().await;
}

#[tokio::test]
async fn what_was_written_in_a_form_that_does_not_pass_is_not_lost() {
    let w = workshop().await;
    let case = w.open(&[]).await;
    let ida = member(&w, "Ida", Role::Keeper).await;
    let bo = member(&w, "Bo", Role::Technician).await;
    let words = "The pulley turned on its shaft, look at the mark.";
    let closing = [("outcome", "unsolved"), ("note", words)];
    // Their role is another since they opened the form.
    let id = id_of(&w, "Bo").await;
    ida.post(&format!("/people/{id}"), &[("role", "member")])
        .await;
    let refused = bo.post(&format!("{case}/close"), &closing).await;
    assert_eq!(refused.status, StatusCode::FORBIDDEN);
    assert!(
        refused.text.contains(words) && refused.text.contains("Ida"),
        "{}",
        refused.text
    );
    let out = Browser::of(&w)
        .post(&format!("{case}/close"), &closing)
        .await;
    assert_eq!(out.status, StatusCode::UNAUTHORIZED);
    assert!(out.text.contains(words));
    let secret = [
        ("old_one", "teapot glacier unison mildew"),
        ("new_one", "a b c d e f g h i j"),
    ];
    let out = Browser::of(&w).post("/me/passphrase", &secret).await;
    assert!(!out.text.contains("teapot glacier") && !out.text.contains("a b c d"));
    w.db.remove().await;
}

#[tokio::test]
async fn entries_hold_the_member_and_read_former_member_once_they_left() {
    let w = workshop().await;
    let keeper = member(&w, "Ida", Role::Keeper).await;
    let bo = member(&w, "<b>Bo</b>", Role::Technician).await;
    let here = format!("/machines/{}", w.machine);
    let note = [("say", "noted"), ("text", "Greased the screws")];
    bo.post(&format!("{here}/journal"), &note).await;
    let log = w.db.store.machine_log(w.machine).await.unwrap();
    let by = log.last().unwrap().by.clone().unwrap();
    let id = id_of(&w, "<b>Bo</b>").await;
    assert_eq!(by, format!("@member-{id}"), "the log holds the number");
    let page = keeper.get(&here).await;
    assert!(page.text.contains("&#60;b&#62;Bo") || page.text.contains("&lt;b&gt;Bo"));
    assert!(!page.text.contains("<b>Bo</b>") && !page.text.contains("@member-"));
    keeper
        .post(&format!("/people/{id}"), &[("say", "leave")])
        .await;
    let page = keeper.get(&here).await;
    assert!(page.text.contains("former member") && !page.text.contains("b&#62;Bo"));
    assert_eq!(
        bo.get("/").await.status,
        StatusCode::SEE_OTHER,
        "out at once"
    );
    w.db.remove().await;
}

#[tokio::test]
async fn a_link_lets_one_person_in_and_a_forgotten_passphrase_is_a_new_link() {
    let w = workshop().await;
    let keeper = member(&w, "Ida", Role::Keeper).await;
    let made = keeper.post("/people", &[("role", "volunteer")]).await;
    let link = made.attribute(".made-link a", "href");
    let link = link.split_once("localhost").unwrap().1.to_string();
    let bo = Browser::of(&w);
    assert!(bo.get(&link).await.text.contains("You will be a volunteer"));
    let weak = bo
        .post(&link, &[("name", "Bo"), ("passphrase", "short")])
        .await;
    assert!(weak.text.contains("It is short"), "{}", weak.text);
    let alike = bo
        .post(&link, &[("name", "1da"), ("passphrase", GOOD)])
        .await;
    assert!(alike.text.contains("would look alike"), "{}", alike.text);
    let long = "x".repeat(10_000);
    let long = bo
        .post(&link, &[("name", &long), ("passphrase", GOOD)])
        .await;
    assert!(long.text.contains("10000 characters"), "{}", long.status);
    let taken = bo
        .post(&link, &[("name", "Bo"), ("passphrase", GOOD)])
        .await;
    assert_eq!(taken.status, StatusCode::SEE_OTHER, "{}", taken.text);
    assert_eq!(
        Browser::of(&w).get(&link).await.status,
        StatusCode::NOT_FOUND
    );

    let id = id_of(&w, "Bo").await;
    let again = keeper
        .post(&format!("/people/{id}"), &[("say", "link")])
        .await;
    let again = again.attribute(".made-link a", "href");
    let again = again.split_once("localhost").unwrap().1.to_string();
    let other = "lantern walnut forty drizzle";
    Browser::of(&w).post(&again, &[("passphrase", other)]).await;
    assert_eq!(
        bo.get("/").await.status,
        StatusCode::SEE_OTHER,
        "sessions end"
    );
    assert_eq!(
        bo.sign_in("Bo", GOOD).await.status,
        StatusCode::UNPROCESSABLE_ENTITY
    );
    assert_eq!(bo.sign_in("Bo", other).await.status, StatusCode::SEE_OTHER);
    let own = [("old_one", other), ("new_one", GOOD)];
    assert_eq!(
        bo.post("/me/passphrase", &own).await.status,
        StatusCode::SEE_OTHER
    );
    assert_eq!(bo.sign_in("Bo", GOOD).await.status, StatusCode::SEE_OTHER);
    bo.post("/me/sessions", &[]).await;
    assert_eq!(bo.get("/me").await.status, StatusCode::SEE_OTHER);
    w.db.remove().await;
}
