//! Who is at this screen, and in which time zone its dates are told: known once for each request.
//!
//! The name is what somebody said of themselves in this browser; nobody signs in for it. It is
//! written beside every entry.

use crate::people::Present;
use crate::state::AppState;
use axum::extract::{Request, State};
use axum::http::{HeaderMap, HeaderValue, header};
use axum::middleware::Next;
use axum::response::Response;
use jiff::tz::TimeZone;
use std::sync::{Arc, Mutex, OnceLock, PoisonError};
use suspect_core::case::LONGEST_NAME;
use suspect_core::knowledge::Knowledge;
use suspect_core::people::{Deed, REST};
use suspect_core::text;
use time::OffsetDateTime;

/// Cookie with the name of who is here, and with the names used in this browser, latest first.
const WHO: &str = "us-who";
const NAMES: &str = "us-names";
/// Names a browser remembers.
const MOST_NAMES: usize = 6;
/// How long it remembers them, in seconds: a year.
const REMEMBERED: u32 = 31_536_000;

/// What holds a machine, said at the head of every page of a case; nothing while nothing does.
#[derive(Debug, Clone)]
pub struct Held {
    pub words: String,
    pub href: String,
    pub link: String,
}

/// What the rail marks at the shift.
#[derive(Debug, Clone, Copy, Default)]
pub struct Marks {
    /// Open cases with a stop.
    pub stops: i64,
    /// Waits that are over, and nobody went on.
    pub waits: i64,
}

impl Marks {
    /// How many there are; nothing where there are none.
    pub fn many(self) -> Option<i64> {
        Some(self.stops + self.waits).filter(|n| *n > 0)
    }

    /// "1 machine is held, 2 waits are over".
    pub fn words(self) -> String {
        let held = match self.stops {
            1 => "1 machine is held".to_string(),
            n => format!("{n} machines are held"),
        };
        let over = match self.waits {
            1 => "1 wait is over".to_string(),
            n => format!("{n} waits are over"),
        };
        let some = [(self.stops, held), (self.waits, over)];
        let some = some
            .into_iter()
            .filter(|(n, _)| *n > 0)
            .map(|(_, words)| words);
        some.collect::<Vec<_>>().join(", ")
    }
}

/// What pages know of the screen they are drawn for.
#[derive(Clone)]
pub struct Screen {
    /// Who is here, when somebody had said so.
    pub who: Option<String>,
    /// Names used in this browser, latest first.
    pub names: Vec<String>,
    /// The workshop's time zone.
    pub zone: TimeZone,
    /// The moment of the request.
    pub now: OffsetDateTime,
    /// Where the page is, to come back to it.
    pub here: String,
    knowledge: Arc<Knowledge>,
    /// What holds the machine of the page's case.
    held: Arc<Mutex<Vec<Held>>>,
    /// Who signed in, and the names of all.
    present: Arc<OnceLock<Present>>,
    /// What the rail marks.
    marks: Arc<OnceLock<Marks>>,
}

tokio::task_local! {
    static SCREEN: Screen;
}

/// Who is here, as entries name them: whoever signed in by their number, else the name that
/// somebody said.
pub fn who() -> Option<String> {
    match with_present(Present::author) {
        Some(author) => author,
        None => SCREEN.try_with(|s| s.who.clone()).ok().flatten(),
    }
}

/// Who is here, as pages name them.
pub fn who_shown() -> Option<String> {
    who().map(|by| shown(&by))
}

/// The name behind what an entry holds of its author.
pub fn shown(by: &str) -> String {
    let shown = SCREEN.try_with(|s| s.present.get().map(|p| p.shown(by)));
    shown
        .ok()
        .flatten()
        .unwrap_or_else(|| Present::default().shown(by))
}

/// Whether people sign in here.
pub fn signs_in() -> bool {
    with_present(|_| ()).is_some()
}

/// Whether whoever is here looks after members.
pub fn may_keep() -> bool {
    with_present(|p| p.may(Deed::Keep)).unwrap_or(false)
}

/// Whose drafts a browser keeps: what one member was typing waits for them.
pub fn owner() -> Option<String> {
    with_present(|p| p.member.as_ref().map(|m| m.id.simple().to_string())).flatten()
}

/// Seconds of rest after which a shared station is nobody's again.
pub fn rests_after() -> Option<i64> {
    let here = |p: &Present| p.station.is_some() && p.member.is_some();
    with_present(here)
        .unwrap_or(false)
        .then(|| REST.whole_seconds())
}

/// The name behind the author of an entry, where it has one.
pub fn shown_of(by: Option<&str>) -> Option<String> {
    by.map(shown)
}

/// Something of who is there; nothing where one person works alone.
pub fn with_present<T>(of: impl FnOnce(&Present) -> T) -> Option<T> {
    let with = |s: &Screen| s.present.get().filter(|p| !p.alone).map(of);
    SCREEN.try_with(with).ok().flatten()
}

/// Notes what the rail marks.
pub fn mark(marks: Marks) {
    let _ = SCREEN.try_with(|s| s.marks.set(marks));
}

/// What the rail marks.
pub fn marks() -> Marks {
    let of = |s: &Screen| s.marks.get().copied();
    SCREEN.try_with(of).ok().flatten().unwrap_or_default()
}

/// Notes who is there.
pub fn present(present: Present) {
    let _ = SCREEN.try_with(|s| drop(s.present.set(present)));
}

/// The place of the rail that a page belongs to, after its address.
pub fn place() -> &'static str {
    let here = here();
    let path = here.split('?').next().unwrap_or("");
    match path.trim_start_matches('/').split('/').collect::<Vec<_>>()[..] {
        [""]
        | [
            "machines" | "workshop" | "round" | "spools" | "stock" | "kinds",
            ..,
        ] => "floor",
        ["cases", "new"] => "new",
        ["bench", ..] => "bench",
        ["shift", ..] => "shift",
        ["records" | "again" | "statistics", ..] => "records",
        ["trials" | "pieces", ..] => "trials",
        ["handbook" | "suspects" | "practice", ..] => "handbook",
        _ => "",
    }
}

/// Names used in this browser that are not the present one.
pub fn other_names() -> Vec<String> {
    let others = |s: &Screen| {
        s.names
            .iter()
            .filter(|n| Some(*n) != s.who.as_ref())
            .cloned()
            .collect()
    };
    SCREEN.try_with(others).unwrap_or_default()
}

/// Where the page is.
pub fn here() -> String {
    SCREEN
        .try_with(|s| s.here.clone())
        .unwrap_or_else(|_| "/".into())
}

/// Notes what holds the machine of the case this page is about, so that every page says it.
pub fn hold(held: Vec<Held>) {
    let _ = SCREEN.try_with(|s| *s.held.lock().unwrap_or_else(PoisonError::into_inner) = held);
}

/// What holds the machine of the case this page is about.
pub fn held() -> Vec<Held> {
    let held = |s: &Screen| {
        s.held
            .lock()
            .unwrap_or_else(PoisonError::into_inner)
            .clone()
    };
    SCREEN.try_with(held).unwrap_or_default()
}

/// The moment for which a page is drawn.
pub fn now() -> OffsetDateTime {
    let now = SCREEN.try_with(|s| s.now);
    now.unwrap_or_else(|_| OffsetDateTime::now_utc())
}

/// The knowledge by which words of the trade are explained.
pub fn knowledge() -> Option<Arc<Knowledge>> {
    SCREEN.try_with(|s| s.knowledge.clone()).ok()
}

/// The time zone in which dates are told.
pub fn zone() -> TimeZone {
    SCREEN.try_with(|s| s.zone.clone()).unwrap_or(TimeZone::UTC)
}

/// A name somebody gave of themselves, when it is words and fits.
pub fn name_of(text: &str) -> Option<String> {
    let name = text::trimmed(text);
    text::words(name, LONGEST_NAME).ok()?;
    Some(name.to_string())
}

/// Makes the screen known to everything that draws for this request.
pub async fn known(State(state): State<AppState>, request: Request, next: Next) -> Response {
    let names = names_in(request.headers());
    let path = request.uri().path_and_query().map_or("/", |p| p.as_str());
    let screen = Screen {
        who: cookie(request.headers(), WHO).as_deref().and_then(name_of),
        names,
        zone: state.zone(),
        now: state.now(),
        here: path.to_string(),
        knowledge: state.knowledge.clone(),
        held: Arc::default(),
        present: Arc::default(),
        marks: Arc::default(),
    };
    SCREEN.scope(screen, next.run(request)).await
}

fn names_in(headers: &HeaderMap) -> Vec<String> {
    let kept = cookie(headers, NAMES).unwrap_or_default();
    kept.split('\n')
        .filter_map(name_of)
        .take(MOST_NAMES)
        .collect()
}

/// A cookie's value, decoded.
fn cookie(headers: &HeaderMap, name: &str) -> Option<String> {
    let all = headers
        .get_all(header::COOKIE)
        .iter()
        .filter_map(|v| v.to_str().ok());
    let mut pairs = all
        .flat_map(|line| line.split(';'))
        .filter_map(|p| p.trim().split_once('='));
    let (_, value) = pairs.find(|(n, _)| *n == name)?;
    let pair = format!("v={value}");
    let decoded = form_urlencoded::parse(pair.as_bytes()).next();
    decoded.map(|(_, v)| v.into_owned())
}

/// The headers by which this browser remembers who is here; nobody when there is no name.
pub fn remember(headers: &HeaderMap, name: Option<&str>) -> Vec<HeaderValue> {
    let mut names: Vec<String> = name.map(str::to_string).into_iter().collect();
    names.extend(
        names_in(headers)
            .into_iter()
            .filter(|n| Some(n.as_str()) != name),
    );
    names.truncate(MOST_NAMES);
    [set(WHO, name.unwrap_or("")), set(NAMES, &names.join("\n"))]
        .into_iter()
        .flatten()
        .collect()
}

fn set(name: &str, value: &str) -> Option<HeaderValue> {
    let encoded: String = form_urlencoded::byte_serialize(value.as_bytes()).collect();
    let age = if value.is_empty() { 0 } else { REMEMBERED };
    let cookie = format!("{name}={encoded}; Path=/; Max-Age={age}; HttpOnly; SameSite=Lax");
    HeaderValue::from_str(&cookie).ok()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_browser_remembers_the_latest_names_and_nothing_that_is_none() {
        let mut headers = HeaderMap::new();
        let put = |headers: &mut HeaderMap, set: Vec<HeaderValue>| {
            let pairs: Vec<&str> = set
                .iter()
                .filter_map(|v| v.to_str().ok()?.split(';').next())
                .collect();
            headers.insert(
                header::COOKIE,
                HeaderValue::from_str(&pairs.join("; ")).unwrap(),
            );
        };
        for name in ["Ida", "M. Reed", "Ida", "Åsa; Path=/"] {
            let set = remember(&headers, Some(name));
            put(&mut headers, set);
        }
        assert_eq!(names_in(&headers), ["Åsa; Path=/", "Ida", "M. Reed"]);
        assert_eq!(cookie(&headers, WHO).as_deref(), Some("Åsa; Path=/"));
        let nobody = remember(&headers, None);
        put(&mut headers, nobody);
        assert_eq!(cookie(&headers, WHO).as_deref(), Some(""));
        assert_eq!(names_in(&headers).len(), 3);
        headers.insert(
            header::COOKIE,
            HeaderValue::from_static("us-who=%E2%80%8B; us-names=%00"),
        );
        assert_eq!(cookie(&headers, WHO).as_deref().and_then(name_of), None);
        assert!(names_in(&headers).is_empty());
    }
}
