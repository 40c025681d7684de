//! A picture of a case: shown large, judged, marked.

use crate::drawing::marks;
use crate::form::Fields;
use crate::page_error::PageError;
use crate::pages::open_case::{CaseHead, OpenCase};
use crate::pages::parts::pictures::{find, jpeg, verdict};
use crate::pages::record::Recorded;
use crate::pages::{Answer, Page, again};
use crate::state::AppState;
use crate::words::refusal;
use crate::{show, urls};
use askama::Template;
use axum::extract::{Path, State};
use axum::response::Html;
use suspect_core::case::Event;
use suspect_core::picture::{Judgement, Mark, MarkKind};
use suspect_core::settings::{NumberProblem, read_number};
use suspect_store::Store;

struct MarkRow {
    /// The mark itself, for taking it away: not its place in a list that others change too.
    key: String,
    words: String,
}

#[derive(Template)]
#[template(path = "case/picture.html")]
struct PicturePage {
    head: CaseHead,
    back: String,
    name: String,
    full: String,
    measure: String,
    verdict: String,
    good: bool,
    figures: Vec<(&'static str, String)>,
    overlay: String,
    width: u32,
    height: u32,
    marks: Vec<MarkRow>,
    action: String,
    error: Option<String>,
    closed: bool,
}

/// `GET /cases/{id}/pictures/{picture}`
pub async fn show(case: OpenCase, Path((_, picture)): Path<(String, String)>) -> Page {
    Ok(Html(page(&case, &picture, None)?))
}

/// `GET /cases/{id}/pictures/{picture}/{size}`: `full.jpg` or `small.jpg`.
pub async fn bytes(
    State(store): State<Store>,
    case: OpenCase,
    Path((_, picture, size)): Path<(String, String, String)>,
) -> Answer {
    jpeg(&store, &case, &picture, &size).await
}

fn page(case: &OpenCase, picture: &str, error: Option<String>) -> Result<String, PageError> {
    let p = find(case, picture)?;
    let j = &p.judgement;
    let (verdict, good) = verdict(j);
    let href = urls::picture(case.id, picture);
    let page = PicturePage {
        head: case.head(),
        back: urls::intake(case.id, "pictures", ""),
        name: match p.name.as_str() {
            "" => "Picture".into(),
            name => name.into(),
        },
        full: format!("{href}/full.jpg"),
        measure: format!("{href}/measure"),
        verdict,
        good,
        figures: figures(j),
        overlay: marks::svg(&p.marks, j.width, j.height),
        width: j.width,
        height: j.height,
        marks: p.marks.iter().map(mark_row).collect(),
        action: format!("{href}/marks"),
        error,
        closed: case.state.resolved(),
    };
    Ok(page.render()?)
}

/// What was measured on it.
fn figures(j: &Judgement) -> Vec<(&'static str, String)> {
    let share = |s: f64| match s > 0.0 && s < 0.01 {
        true => "under 1\u{a0}%".to_string(),
        false => show::percent(s),
    };
    let size = format!("{} × {} pixels", j.width, j.height);
    let sharpness = format!("{:.0} (45 or more will do)", j.sharpness);
    vec![
        ("Size as it came", size),
        ("Sharpness", sharpness),
        ("Clipped shadows", share(j.dark)),
        ("Clipped lights", share(j.light)),
        ("Glare", share(j.glare)),
    ]
}

fn mark_row(mark: &Mark) -> MarkRow {
    let what = match mark.kind {
        MarkKind::Circle => "Ring",
        MarkKind::Arrow => "Arrow",
        MarkKind::Text => "Words",
    };
    let said = match mark.text.as_str() {
        "" => String::new(),
        text => format!(": {text}"),
    };
    MarkRow {
        key: key(mark),
        words: format!(
            "{what} {} from the left, {} from the top{said}",
            show::percent(mark.x),
            show::percent(mark.y)
        ),
    }
}

/// `POST /cases/{id}/pictures/{picture}/marks`: adds one mark, its places in per cent, or takes one
/// away.
pub async fn mark(
    State(state): State<AppState>,
    case: OpenCase,
    Path((_, picture)): Path<(String, String)>,
    fields: Fields,
) -> Answer {
    let mut marks = find(&case, &picture)?.marks.clone();
    match fields.given("remove") {
        // One that is gone already stays gone.
        Some(gone) => marks.retain(|mark| key(mark) != gone),
        None => match read_mark(&fields) {
            Ok(mark) => marks.push(mark),
            Err(problem) => return Ok(again(page(&case, &picture, Some(problem))?)),
        },
    }
    let form = case.form(&state, &fields, &format!("pictures/{picture}/marks"));
    let event = Event::Marked {
        picture: picture.clone(),
        marks,
    };
    let here = urls::picture(case.id, &picture);
    match form.record(&[event], here).await? {
        Recorded::Done(response) => Ok(response),
        Recorded::Invalid { message, .. } => Ok(again(page(&case, &picture, Some(message))?)),
    }
}

/// What a mark is, in one word.
fn key(mark: &Mark) -> String {
    let places = mark.places().map(|p| format!("{p:.5}"));
    format!("{}-{}-{}", mark.kind, places.join("-"), mark.text)
}

/// The mark a form asks for; the message when it makes no sense.
fn read_mark(fields: &Fields) -> Result<Mark, String> {
    let kind = MarkKind::from_id(fields.get("kind"));
    let kind = kind.ok_or("Choose a ring, an arrow or words.")?;
    places(kind, fields).map_err(|problem| refusal::number(&problem))
}

/// Where a mark stands. A ring or an arrow without a second point gets a handy size.
fn places(kind: MarkKind, fields: &Fields) -> Result<Mark, NumberProblem> {
    let place = |field: &str, plain: &str| {
        read_number(plain, fields.get(field)).map(|percent| percent / 100.0)
    };
    let other = |field: &str, plain: &str, otherwise: f64| match fields.given(field) {
        Some(_) => place(field, plain),
        None => Ok(otherwise),
    };
    let x = place("x", "the distance from the left")?;
    let y = place("y", "the distance from the top")?;
    let (to_x, to_y) = match kind {
        MarkKind::Text => (x, y),
        MarkKind::Circle => (
            other("to_x", "the ring's edge from the left", (x + 0.08).min(1.0))?,
            other("to_y", "the ring's edge from the top", y)?,
        ),
        MarkKind::Arrow => (
            other(
                "to_x",
                "the arrow's tail from the left",
                (x + 0.15).min(1.0),
            )?,
            other("to_y", "the arrow's tail from the top", (y - 0.15).max(0.0))?,
        ),
    };
    Ok(Mark {
        kind,
        x,
        y,
        to_x,
        to_y,
        text: fields.get("text").to_string(),
    })
}
