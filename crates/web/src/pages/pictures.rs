//! Pictures of a case: taken in, judged at once, marked, shown.

use super::intake::Scene;
use super::recording::{self, Recorded};
use super::{Opened, Page, intake, opened};
use crate::drawing::marks;
use crate::form::{Errors, Fields};
use crate::page_error::PageError;
use crate::state::AppState;
use crate::{show, urls};
use askama::Template;
use axum::extract::multipart::{Field, MultipartRejection};
use axum::extract::{Multipart, Path, State};
use axum::http::{StatusCode, header};
use axum::response::{Html, IntoResponse, Redirect, Response};
use std::time::{Duration, Instant};
use suspect_core::case::{Event, LONGEST_TITLE, MOST_PICTURES, Picture};
use suspect_core::picture::{Fault, Judgement, Mark, MarkKind};
use suspect_core::settings::read_number;
use suspect_pictures::{Kept, LARGEST_FILE, Refused, take_in};
use suspect_store::pictures::PictureBytes;
use suspect_store::{Stamp, StoreError, Touch, Uuid};
use tokio::sync::Semaphore;
use tokio::time::timeout;

/// Pictures decoded at a time in one process: each may take 150 MB for a moment.
static DECODING: Semaphore = Semaphore::const_new(1);
/// Uploads whose bodies are read at a time: each holds one picture in memory until it is decoded.
/// Others wait before their bodies are read, and the network makes their browsers wait.
static READING: Semaphore = Semaphore::const_new(2);
/// Slowest line that is waited for, in bytes a second, once it had time to begin: others wait too.
const SLOWEST: usize = 16 * 1024;
/// How long an upload may stand still before it is given up, so that nobody waits for a dead line.
const STILL: Duration = Duration::from_secs(20);

/// Largest body of the upload form, in bytes: as many pictures as a case holds, and the form around them.
pub const LARGEST_UPLOAD: usize = MOST_PICTURES * LARGEST_FILE + 1024 * 1024;

pub struct PictureCard {
    pub href: String,
    pub small: String,
    pub name: String,
    pub verdict: String,
    pub good: bool,
    pub marks: usize,
    /// The marks, to lie over the small picture.
    pub overlay: String,
    pub seq_of: u32,
}

pub struct PicturesView {
    pub cards: Vec<PictureCard>,
    pub left: usize,
    pub add_action: String,
    pub retract_action: String,
    pub upload: Uuid,
    pub seq: u32,
    pub problems: Vec<String>,
}

/// Pictures as a part of the intake.
pub fn view(scene: &Scene, errors: &Errors) -> PicturesView {
    let case = scene.case;
    PicturesView {
        cards: cards(case),
        left: MOST_PICTURES.saturating_sub(case.state.pictures.len()),
        add_action: urls::in_case(case.id, "pictures"),
        retract_action: urls::in_case(case.id, "retract"),
        upload: Uuid::now_v7(),
        seq: case.state.last_seq,
        problems: errors
            .iter()
            .filter(|(f, _)| f.starts_with("picture"))
            .map(|(_, m)| m.clone())
            .collect(),
    }
}

/// The pictures of a case as cards.
pub fn cards(case: &Opened) -> Vec<PictureCard> {
    let card = |(n, p): (usize, &Picture)| {
        let (verdict, good) = verdict(&p.judgement);
        PictureCard {
            href: urls::picture(case.id, &p.id),
            small: format!("{}/small.jpg", urls::picture(case.id, &p.id)),
            name: if p.name.is_empty() {
                format!("Picture {}", n + 1)
            } else {
                p.name.clone()
            },
            verdict,
            good,
            marks: p.marks.len(),
            overlay: marks::svg(&p.marks, p.judgement.width, p.judgement.height),
            seq_of: p.seq,
        }
    };
    case.state.pictures.iter().enumerate().map(card).collect()
}

/// What is to be said of a picture, and whether it will do.
pub fn verdict(judgement: &Judgement) -> (String, bool) {
    let faults = judgement.faults();
    let say = |fault: &Fault| match fault {
        Fault::Blurred => {
            "Too blurred to judge layers: hold steady, step closer, wait for the focus."
        }
        Fault::Dark => "Too dark: bring a lamp from the side.",
        Fault::Light => "Too light, the layers are washed out: turn from the window or the lamp.",
        Fault::Glare => "A lamp mirrors in it and hides what is beneath: tilt the piece a little.",
        Fault::Small => "Too few pixels to see layers: send the photo itself, not a preview of it.",
    };
    match faults.is_empty() {
        true => ("Sharp and well lit: layers can be judged.".into(), true),
        false => (faults.iter().map(say).collect::<Vec<_>>().join(" "), false),
    }
}

/// `POST /cases/{id}/pictures`: one or more pictures, each kept whole or not at all.
pub async fn add(
    State(state): State<AppState>,
    Path(id): Path<String>,
    form: Result<Multipart, MultipartRejection>,
) -> Result<Response, PageError> {
    let mut form = form.map_err(|_| PageError::NotAForm)?;
    let case = opened(&state, &id).await?;
    let mut errors = Errors::new();
    let mut fields = Fields::default();
    let mut taken = 0;
    let cut_off = |errors: &mut Errors| {
        errors.insert(
            "picture.0".into(),
            "The upload broke off before it was complete. Send the picture again.".into(),
        );
    };
    loop {
        let field = match timeout(STILL, form.next_field()).await {
            Ok(Ok(Some(field))) => field,
            Ok(Ok(None)) => break,
            Ok(Err(_)) | Err(_) => {
                cut_off(&mut errors);
                break;
            }
        };
        let name = field.name().unwrap_or_default().to_string();
        let file = field.file_name().map(file_name);
        let reading = READING.acquire().await;
        let most = if file.is_some() { LARGEST_FILE } else { 1024 };
        let Some(bytes) = read(field, most).await else {
            cut_off(&mut errors);
            break;
        };
        match file {
            None => fields.push(name, String::from_utf8_lossy(&bytes.kept).into_owned()),
            // An empty field of the form: no file was chosen.
            Some(file) if file.is_empty() && bytes.total == 0 => {}
            Some(file) => {
                taken += 1;
                if let Err(message) = keep(&state, &case, &fields, taken, &file, bytes).await? {
                    errors.insert(
                        format!("picture.{taken}"),
                        if file.is_empty() {
                            message
                        } else {
                            format!("{file}: {message}")
                        },
                    );
                }
            }
        }
        drop(reading);
    }
    if taken == 0 && errors.is_empty() {
        errors.insert("picture.0".into(), "No picture was chosen.".into());
    }
    if errors.is_empty() {
        return Ok(Redirect::to(&urls::intake(case.id, "pictures", "")).into_response());
    }
    // What was good is kept: the page shows it beside what was wrong.
    let case = opened(&state, &id).await?;
    let html = intake::page(&state, &case, "pictures", String::new(), &fields, &errors).await?;
    Ok((StatusCode::UNPROCESSABLE_ENTITY, Html(html)).into_response())
}

/// Bytes of one field: at most so many are kept, the rest is counted.
struct Bytes {
    kept: Vec<u8>,
    total: usize,
}

/// Reads a field; nothing when the line breaks off or stands still.
async fn read(mut field: Field<'_>, most: usize) -> Option<Bytes> {
    let mut bytes = Bytes {
        kept: Vec::new(),
        total: 0,
    };
    let began = Instant::now();
    while let Some(chunk) = timeout(STILL, field.chunk()).await.ok()?.ok()? {
        bytes.total += chunk.len();
        let seconds = began.elapsed().as_secs() as usize;
        if seconds > STILL.as_secs() as usize && bytes.total / seconds < SLOWEST {
            return None;
        }
        if bytes.total <= most {
            bytes.kept.extend_from_slice(&chunk);
        } else {
            bytes.kept = Vec::new();
        }
    }
    Some(bytes)
}

/// The last part of a path, without what cannot be kept, no longer than a title.
fn file_name(given: &str) -> String {
    let last = given.rsplit(['/', '\\']).next().unwrap_or("");
    last.chars()
        .filter(|c| !c.is_control())
        .take(LONGEST_TITLE / 2)
        .collect()
}

/// Takes the n-th picture of a form in. The inner error is for the person who sent it.
async fn keep(
    state: &AppState,
    case: &Opened,
    fields: &Fields,
    n: u128,
    name: &str,
    bytes: Bytes,
) -> Result<Result<(), String>, PageError> {
    let sentence = |refused: Refused| show::sentence(&refused.to_string());
    if bytes.total > LARGEST_FILE {
        return Ok(Err(sentence(Refused::TooLarge(bytes.total))));
    }
    // Before the work of decoding; the store counts again under its lock.
    if case.state.pictures.len() >= MOST_PICTURES {
        return Ok(Err(format!(
            "This case holds {MOST_PICTURES} pictures already: take one back first."
        )));
    }
    let permit = DECODING.acquire().await;
    let kept = tokio::task::spawn_blocking(move || take_in(&bytes.kept)).await;
    drop(permit);
    let kept: Kept = match kept {
        Ok(Ok(kept)) => kept,
        Ok(Err(refused)) => return Ok(Err(sentence(refused))),
        // A decoder that panics has met a damaged picture.
        Err(_) => return Ok(Err(sentence(Refused::Damaged))),
    };
    // The form's own identity and the place in it: the same form sent twice adds each picture once.
    let form = fields.given("touch").or(fields.given("upload"));
    let form = form
        .and_then(|t| t.parse::<Uuid>().ok())
        .unwrap_or_else(Uuid::now_v7);
    let id = Uuid::from_u128(form.as_u128() ^ n);
    let sent = fields.stamp(state.now());
    let after = sent.touch.map(|t| t.after).unwrap_or_default();
    let stamp = Stamp {
        touch: Some(Touch { id, after }),
        ..sent
    };
    let event = Event::Pictured {
        picture: id.to_string(),
        name: name.to_string(),
        judgement: kept.judgement,
    };
    let bytes = PictureBytes {
        picture: &kept.picture,
        thumbnail: &kept.thumbnail,
    };
    let (k, seq) = (&state.knowledge, fields.seq());
    let again = |why: &str| Ok(Err(format!("{why} Choose it and send it again.")));
    match state
        .store
        .add_picture(k, case.id, seq, (id, bytes), event, stamp)
        .await
    {
        Ok(_) => Ok(Ok(())),
        Err(StoreError::Refused(refusal)) => Ok(Err(show::sentence(&refusal.to_string()))),
        Err(StoreError::Conflict { .. }) => {
            again("The case moved on in a way this picture cannot join.")
        }
        Err(StoreError::OtherTouch | StoreError::Taken(_)) => {
            again("This form was sent before with another picture.")
        }
        Err(e) => Err(e.into()),
    }
}

/// `GET /cases/{id}/pictures/{picture}/{size}`: `full.jpg` or `small.jpg`.
pub async fn bytes(
    State(state): State<AppState>,
    Path((id, picture, size)): Path<(String, String, String)>,
) -> Result<Response, PageError> {
    let case = opened(&state, &id).await?;
    jpeg(&state, &case, &picture, &size).await
}

/// The bytes of a picture that the case shows. They never change, but the picture may be taken back
/// and a link to it revoked: whoever keeps it asks each time whether it may still be shown.
pub async fn jpeg(
    state: &AppState,
    case: &Opened,
    picture: &str,
    size: &str,
) -> Result<Response, PageError> {
    find(case, picture)?;
    let id: Uuid = picture
        .parse()
        .map_err(|_| PageError::NotFound("picture"))?;
    let small = match size {
        "small.jpg" => true,
        "full.jpg" => false,
        _ => return Err(PageError::NotFound("picture")),
    };
    let bytes = state
        .store
        .picture(case.id, id, small)
        .await
        .map_err(|e| match e {
            StoreError::NotFound => PageError::NotFound("picture"),
            other => other.into(),
        })?;
    let headers = [
        (header::CONTENT_TYPE, "image/jpeg"),
        (header::CACHE_CONTROL, "private, no-cache"),
    ];
    Ok((headers, bytes).into_response())
}

struct MarkRow {
    /// The mark itself, for taking it away: not its place in a list that others change too.
    key: String,
    words: String,
}

#[derive(Template)]
#[template(path = "picture.html")]
struct PicturePage {
    place: &'static str,
    label: String,
    title: String,
    back: String,
    case_id: Uuid,
    seq: u32,
    name: String,
    full: String,
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
pub async fn show(
    State(state): State<AppState>,
    Path((id, picture)): Path<(String, String)>,
) -> Page {
    let case = opened(&state, &id).await?;
    Ok(Html(picture_page(&case, &picture, None)?))
}

fn find<'a>(case: &'a Opened, picture: &str) -> Result<&'a Picture, PageError> {
    case.state
        .pictures
        .iter()
        .find(|p| p.id == picture)
        .ok_or(PageError::NotFound("picture"))
}

fn picture_page(case: &Opened, picture: &str, error: Option<String>) -> Result<String, PageError> {
    let p = find(case, picture)?;
    let j = &p.judgement;
    let (verdict, good) = verdict(j);
    let href = urls::picture(case.id, picture);
    let share = |s: f64| {
        if s > 0.0 && s < 0.01 {
            "under 1\u{a0}%".to_string()
        } else {
            show::percent(s)
        }
    };
    let words = |mark: &Mark| {
        let what = match mark.kind {
            MarkKind::Circle => "Ring",
            MarkKind::Arrow => "Arrow",
            MarkKind::Text => "Words",
        };
        let said = if mark.text.is_empty() {
            String::new()
        } else {
            format!(": {}", mark.text)
        };
        MarkRow {
            key: key(mark),
            words: format!(
                "{what} {} from the left, {} from the top{said}",
                show::percent(mark.x),
                show::percent(mark.y)
            ),
        }
    };
    let page = PicturePage {
        place: "case",
        label: show::case_label(case.row.number),
        title: case.state.title.clone(),
        back: urls::intake(case.id, "pictures", ""),
        case_id: case.id,
        seq: case.state.last_seq,
        name: if p.name.is_empty() {
            "Picture".into()
        } else {
            p.name.clone()
        },
        full: format!("{href}/full.jpg"),
        verdict,
        good,
        figures: vec![
            (
                "Size as it came",
                format!("{} × {} pixels", j.width, j.height),
            ),
            (
                "Sharpness",
                format!("{:.0} (45 or more will do)", j.sharpness),
            ),
            ("Clipped shadows", share(j.dark)),
            ("Clipped lights", share(j.light)),
            ("Glare", share(j.glare)),
        ],
        overlay: marks::svg(&p.marks, j.width, j.height),
        width: j.width,
        height: j.height,
        marks: p.marks.iter().map(words).collect(),
        action: format!("{href}/marks"),
        error,
        closed: case.state.resolved(),
    };
    Ok(page.render()?)
}

/// `POST /cases/{id}/pictures/{picture}/marks`: adds one mark, its places in per cent, or takes one away.
pub async fn mark(
    State(state): State<AppState>,
    Path((id, picture)): Path<(String, String)>,
    fields: Fields,
) -> Result<Response, PageError> {
    let case = opened(&state, &id).await?;
    let mut all = find(&case, &picture)?.marks.clone();
    let changed = match fields.given("remove") {
        // One that is gone already stays gone.
        Some(gone) => {
            all.retain(|mark| key(mark) != gone);
            Ok(())
        }
        None => read_mark(&fields).map(|mark| all.push(mark)),
    };
    let here = urls::picture(case.id, &picture);
    let problem = match changed {
        Ok(()) => {
            let event = Event::Marked {
                picture: picture.clone(),
                marks: all,
            };
            match recording::record(
                &state,
                &case,
                &fields,
                &format!("{here}/marks"),
                &[event],
                here.clone(),
            )
            .await?
            {
                Recorded::Done(response) => return Ok(response),
                Recorded::Invalid { message, .. } => message,
            }
        }
        Err(message) => show::sentence(&message),
    };
    Ok((
        StatusCode::UNPROCESSABLE_ENTITY,
        Html(picture_page(&case, &picture, Some(problem))?),
    )
        .into_response())
}

/// What a mark is, in one word.
fn key(mark: &Mark) -> String {
    let places = mark.places().map(|p| format!("{p:.5}"));
    format!("{:?}-{}-{}", mark.kind, places.join("-"), mark.text)
}

fn read_mark(fields: &Fields) -> Result<Mark, String> {
    let kind = match fields.get("kind") {
        "circle" => MarkKind::Circle,
        "arrow" => MarkKind::Arrow,
        "text" => MarkKind::Text,
        _ => return Err("choose a ring, an arrow or words".into()),
    };
    let place = |field: &str, plain: &str| {
        read_number(plain, fields.get(field)).map(|percent| percent / 100.0)
    };
    let (x, y) = (
        place("x", "the distance from the left")?,
        place("y", "the distance from the top")?,
    );
    // A ring or an arrow without a second point gets a handy size.
    let other = |field: &str, plain: &str, otherwise: f64| match fields.given(field) {
        Some(_) => place(field, plain),
        None => Ok(otherwise),
    };
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
