//! A piece: graded beside the baseline, photographed, put somewhere; its label.

use super::next_piece::in_words;
use super::open_series::{OpenSeries, Recorded, not_recorded};
use crate::form::Fields;
use crate::form::LARGEST_FORM;
use crate::page_error::PageError;
use crate::pages::parts::files::STILL;
use crate::pages::parts::tag::{code, origin};
use crate::pages::parts::taking::{Bytes, READING, decoded, read};
use crate::pages::{Answer, Page, again};
use crate::show;
use crate::state::AppState;
use crate::words::trial as words;
use askama::Template;
use axum::extract::multipart::MultipartRejection;
use axum::extract::{Multipart, Path, State};
use axum::http::{HeaderMap, header};
use axum::response::{Html, IntoResponse, Redirect};
use suspect_core::series::{Event, Piece};
use suspect_core::trials::{Confidence, Grade, Word};
use suspect_pictures::LARGEST_FILE;
use suspect_store::Uuid;
use suspect_store::pictures::PictureBytes;
use tokio::time::timeout;

/// Largest form with a photo.
pub const LARGEST_UPLOAD: usize = LARGEST_FILE + 64 * 1024;

struct LookLine {
    seq: u32,
    grade: String,
    said: String,
}

#[derive(Template)]
#[template(path = "trials/piece.html")]
struct PiecePage {
    name: String,
    href: String,
    seq: u32,
    label: String,
    here: String,
    what: String,
    values: Vec<(String, String)>,
    with: String,
    place: String,
    blind: bool,
    shown: bool,
    baseline: Option<String>,
    baseline_words: String,
    photo: Option<String>,
    grades: [(u8, &'static str); 6],
    grade_words: [(&'static str, Word); 5],
    looks: Vec<LookLine>,
    made: u32,
    problem: Option<String>,
    note: String,
    reading: String,
}

/// `GET /trials/{series}/pieces/{piece}`
pub async fn show(State(_): State<AppState>, open: OpenSeries) -> Page {
    let piece = open.piece()?;
    Ok(Html(page(&open, piece, &Fields::default(), None)?))
}

fn page(
    open: &OpenSeries,
    piece: &Piece,
    fields: &Fields,
    problem: Option<String>,
) -> Result<String, PageError> {
    let now = &open.now;
    let picture = |id: &String| open.below(&format!("pictures/{id}"));
    let value = |l: &suspect_core::series::Listed| {
        let d = &l.difference;
        let old = piece.made.old.contains(&d.name);
        let (value, word) = if old {
            (&d.old, "good")
        } else {
            (&d.new, "bad")
        };
        let value = value.clone().unwrap_or_else(|| format!("the {word} value"));
        (d.name.clone(), value)
    };
    let graded = !piece.looks.is_empty();
    let page = PiecePage {
        name: now.name.clone(),
        href: open.href(),
        seq: now.seq,
        label: piece.label.to_string(),
        here: open.of_piece(piece.label, ""),
        what: show::capital(&in_words(now, &piece.made.old)),
        values: now.list.iter().map(value).collect(),
        with: with(piece),
        place: piece.made.place.clone(),
        blind: now.blind,
        shown: !now.blind || graded,
        baseline: now.baseline_pictures.last().map(picture),
        baseline_words: now.baseline.place.clone(),
        photo: piece.pictures.last().map(picture),
        grades: words::GRADES,
        grade_words: words::GRADE_WORDS,
        looks: looks(piece),
        made: piece.seq,
        problem,
        note: fields.get("note").to_owned(),
        reading: fields.get("reading").to_owned(),
    };
    Ok(page.render()?)
}

/// What a piece was printed with: settings, spool, file.
fn with(piece: &Piece) -> String {
    let made = &piece.made;
    let all = [&made.settings, &made.spool, &made.file].map(String::as_str);
    all.into_iter()
        .filter(|w| !w.is_empty())
        .collect::<Vec<_>>()
        .join(" · ")
}

fn looks(piece: &Piece) -> Vec<LookLine> {
    let line = |l: &suspect_core::series::Look| {
        let mut said = vec![show::moment(l.at)];
        said.extend(crate::screen::shown_of(l.by.as_deref()));
        if l.blind {
            said.push("blind".into());
        }
        let confidence = words::confidence(l.confidence);
        said.extend((!confidence.is_empty()).then(|| confidence.to_owned()));
        said.extend(
            [&l.reading, &l.note]
                .into_iter()
                .filter(|t| !t.is_empty())
                .cloned(),
        );
        LookLine {
            seq: l.seq,
            grade: words::grade(l.grade),
            said: said.join(" · "),
        }
    };
    piece.looks.iter().map(line).collect()
}

/// A grade as the form sends it: a number, or a word.
fn grade(text: &str) -> Option<Grade> {
    if let Ok(number) = text.parse() {
        return Some(Grade::Number(number));
    }
    let word: Word = serde_json::from_value(serde_json::json!(text)).ok()?;
    Some(Grade::Word(word))
}

/// `POST /trials/{series}/pieces/{piece}`: one more look, or where it lies.
pub async fn look(State(state): State<AppState>, open: OpenSeries, fields: Fields) -> Answer {
    let piece = open.piece()?;
    let label = piece.label.to_string();
    let event = match fields.sent("place") {
        Some(place) => Event::Placed {
            label,
            place: place.trim().to_owned(),
        },
        None => {
            let Some(grade) = grade(fields.get("grade")) else {
                let why = "Choose a grade: 0 to 5, or a word.".to_owned();
                return Ok(again(page(&open, piece, &fields, Some(why))?));
            };
            let sure = match fields.get("confidence") {
                "likely" => Confidence::Likely,
                "hunch" => Confidence::Hunch,
                _ => Confidence::Sure,
            };
            Event::Graded {
                label,
                grade,
                confidence: sure,
                reading: fields.get("reading").trim().to_owned(),
                blind: open.now.blind && piece.looks.is_empty(),
                note: fields.get("note").trim().to_owned(),
            }
        }
    };
    let then = match event {
        Event::Placed { .. } => open.of_piece(piece.label, ""),
        _ => open.href(),
    };
    match open.record(&state, &fields, &[event], &then).await? {
        Recorded::Done(answer) => Ok(answer),
        Recorded::Not(why) => Ok(again(page(&open, piece, &fields, Some(why))?)),
    }
}

/// What a form with a photo said; no photo where none was chosen or the line broke off.
async fn with_photo(mut form: Multipart) -> Result<(Fields, Option<Bytes>), PageError> {
    let (mut fields, mut photo) = (Fields::default(), None);
    while let Ok(Ok(Some(field))) = timeout(STILL, form.next_field()).await {
        let name = field.name().unwrap_or_default().to_owned();
        if field.file_name().is_some() {
            let _reading = READING.acquire().await;
            photo = read(field, LARGEST_FILE).await;
            continue;
        }
        let Some(words) = read(field, LARGEST_FORM).await else {
            break;
        };
        if words.total > LARGEST_FORM {
            return Err(PageError::TooLarge);
        }
        fields.push(name, String::from_utf8_lossy(&words.kept).into_owned());
    }
    Ok((fields, photo.filter(|p| p.total > 0)))
}

/// `POST /trials/{series}/photo` of the baseline, `…/pieces/{piece}/photo` of a piece.
pub async fn photo(
    State(state): State<AppState>,
    open: OpenSeries,
    form: Result<Multipart, MultipartRejection>,
) -> Answer {
    let form = form.map_err(|_| PageError::NotAForm)?;
    let (fields, photo) = with_photo(form).await?;
    let (label, then) = match open.piece() {
        Ok(piece) => (piece.label.to_string(), open.of_piece(piece.label, "")),
        Err(_) => (String::new(), open.below("tray")),
    };
    let refused = |message: String| PageError::Refused {
        message,
        back: then.clone(),
    };
    let photo = photo.ok_or_else(|| {
        refused("No photo came: choose one, or send it again if the line broke off.".into())
    })?;
    let kept = decoded(photo).await;
    let kept = kept.map_err(|e| refused(show::sentence(&show::capital(&e.to_string()))))?;
    let stamp = fields.stamp(state.now());
    // The form's own identity: the same form sent twice adds one photo.
    let id = stamp.touch.as_ref().map_or_else(Uuid::now_v7, |t| t.id);
    let event = Event::Pictured {
        label,
        picture: id.to_string(),
    };
    let picture = PictureBytes {
        picture: &kept.picture,
        thumbnail: &kept.thumbnail,
    };
    let written = state
        .store
        .add_series_picture(open.row.id, fields.seq(), (id, picture), event, stamp)
        .await;
    match written {
        Ok(_) => Ok(Redirect::to(&then).into_response()),
        Err(e) => Err(refused(not_recorded(e)?)),
    }
}

async fn bytes(state: &AppState, path: (String, String), small: bool) -> Answer {
    let missing = || PageError::NotFound("picture");
    let id = |text: &str| text.parse::<Uuid>().map_err(|_| missing());
    let (series, picture) = (id(&path.0)?, id(&path.1)?);
    let bytes = state.store.series_picture(series, picture, small).await;
    let bytes = bytes.map_err(|_| missing())?;
    let head = [
        (header::CONTENT_TYPE, "image/jpeg"),
        (
            header::CACHE_CONTROL,
            "private, max-age=31536000, immutable",
        ),
    ];
    Ok((head, bytes).into_response())
}

/// `GET /trials/{series}/pictures/{picture}`
pub async fn picture(State(state): State<AppState>, Path(path): Path<(String, String)>) -> Answer {
    bytes(&state, path, false).await
}

/// `GET /trials/{series}/pictures/{picture}/small`
pub async fn small(State(state): State<AppState>, Path(path): Path<(String, String)>) -> Answer {
    bytes(&state, path, true).await
}

#[derive(Template)]
#[template(path = "trials/label.html")]
struct LabelPage {
    label: String,
    series: String,
    machine: String,
    at: String,
    what: String,
    with: String,
    piece: String,
    place: String,
    blind: bool,
    code: String,
    address: String,
    back: String,
}

/// `GET /trials/{series}/pieces/{piece}/label`: A6, the strip for a small piece on the same sheet.
pub async fn label(State(state): State<AppState>, open: OpenSeries, headers: HeaderMap) -> Page {
    let piece = open.piece()?;
    let case = match open.row.case {
        Some(id) => format!(
            "{} · ",
            show::case_label(state.store.case_row(id).await?.number)
        ),
        None => String::new(),
    };
    let back = open.of_piece(piece.label, "");
    let address = format!("{}{back}", origin(&headers));
    let page = LabelPage {
        label: piece.label.to_string(),
        series: open.now.name.clone(),
        machine: format!("{case}{}", open.machine.name),
        at: show::moment(piece.at),
        what: show::capital(&in_words(&open.now, &piece.made.old)),
        with: with(piece),
        piece: words::piece_name(&open.now.printed.piece),
        place: piece.made.place.clone(),
        blind: open.now.blind,
        code: code(&address).unwrap_or_default(),
        address,
        back,
    };
    Ok(Html(page.render()?))
}
