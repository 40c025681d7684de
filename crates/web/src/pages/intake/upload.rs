//! Taking pictures in: read within bounds, decoded one at a time, kept with the case.

use super::show::refused;
use crate::form::LARGEST_FORM;
use crate::form::{Errors, Fields};
use crate::page_error::PageError;
use crate::pages::Answer;
use crate::pages::open_case::OpenCase;
use crate::pages::parts::files::{STILL, file_name};
use crate::pages::parts::taking::{Bytes, READING, decoded, read};
use crate::state::AppState;
use crate::words::refusal;
use crate::{show, urls};
use axum::extract::multipart::{Field, MultipartRejection};
use axum::extract::{Multipart, State};
use axum::response::{IntoResponse, Redirect};
use suspect_core::case::{Event, Holding, MOST_PICTURES, Problem};
use suspect_pictures::{Kept, LARGEST_FILE};
use suspect_store::pictures::PictureBytes;
use suspect_store::{Stamp, StoreError, Touch, Uuid};
use tokio::time::timeout;

/// Largest body of the upload form, in bytes: as many pictures as a case holds, and the form around
/// them.
pub const LARGEST_UPLOAD: usize = MOST_PICTURES * LARGEST_FILE + 1024 * 1024;

/// What a form said so far, and what became of its pictures.
#[derive(Default)]
pub struct Taken {
    pub fields: Fields,
    pub errors: Errors,
    /// Pictures that came, good or not.
    pictures: u128,
}

impl Taken {
    fn cut_off(&mut self) {
        let message = "The upload broke off before it was complete. Send the picture again.";
        self.errors.insert("picture.0".into(), message.into());
    }

    /// The next field of the form; nothing when there is none any more, or the line broke off.
    pub async fn next<'a>(&mut self, form: &'a mut Multipart) -> Option<Field<'a>> {
        match timeout(STILL, form.next_field()).await {
            Ok(Ok(field)) => field,
            Ok(Err(_)) | Err(_) => {
                self.cut_off();
                None
            }
        }
    }

    /// Takes a field of words in; false when the line broke off in it.
    ///
    /// # Errors
    /// When it is longer than a whole form may be.
    pub async fn words(&mut self, field: Field<'_>) -> Result<bool, PageError> {
        let name = field.name().unwrap_or_default().to_string();
        let Some(bytes) = read(field, LARGEST_FORM).await else {
            self.cut_off();
            return Ok(false);
        };
        if bytes.total > LARGEST_FORM {
            return Err(PageError::TooLarge);
        }
        let text = String::from_utf8_lossy(&bytes.kept).into_owned();
        self.fields.push(name, text);
        Ok(true)
    }

    /// Takes a field with a picture in, for a case; false when the line broke off in it.
    pub async fn picture(
        &mut self,
        state: &AppState,
        case: &OpenCase,
        field: Field<'_>,
    ) -> Result<bool, PageError> {
        let file = field.file_name().map(file_name).unwrap_or_default();
        let _reading = READING.acquire().await;
        let Some(bytes) = read(field, LARGEST_FILE).await else {
            self.cut_off();
            return Ok(false);
        };
        // An empty field of the form: no file was chosen.
        if file.is_empty() && bytes.total == 0 {
            return Ok(true);
        }
        self.pictures += 1;
        let n = self.pictures;
        if let Err(message) = keep(state, case, &self.fields, n, &file, bytes).await? {
            let message = match file.as_str() {
                "" => message,
                file => format!("{file}: {message}"),
            };
            self.errors.insert(format!("picture.{n}"), message);
        }
        Ok(true)
    }
}

/// `POST /cases/{id}/pictures`: one or more pictures, each kept whole or not at all.
pub async fn add(
    State(state): State<AppState>,
    case: OpenCase,
    form: Result<Multipart, MultipartRejection>,
) -> Answer {
    let mut form = form.map_err(|_| PageError::NotAForm)?;
    let mut taken = Taken::default();
    while let Some(field) = taken.next(&mut form).await {
        let whole = match field.file_name() {
            Some(_) => taken.picture(&state, &case, field).await?,
            None => taken.words(field).await?,
        };
        if !whole {
            break;
        }
    }
    let Taken {
        fields,
        mut errors,
        pictures,
    } = taken;
    if pictures == 0 && errors.is_empty() {
        errors.insert("picture.0".into(), "No picture was chosen.".into());
    }
    if errors.is_empty() {
        return Ok(Redirect::to(&urls::intake(case.id, "pictures", "")).into_response());
    }
    // What was good is kept: the page shows it beside what was wrong.
    let case = OpenCase::read(&state, case.id).await?;
    refused(&state, &case, ("pictures", ""), &fields, &errors).await
}

/// Takes the n-th picture of a form in. The inner error is for the person who sent it.
async fn keep(
    state: &AppState,
    case: &OpenCase,
    fields: &Fields,
    n: u128,
    name: &str,
    bytes: Bytes,
) -> Result<Result<(), String>, PageError> {
    // Before the work of decoding; the store counts again under its lock.
    if case.state.pictures.len() >= MOST_PICTURES {
        let holding = Holding::Pictures;
        let most = MOST_PICTURES;
        let full = Problem::Full { holding, most };
        return Ok(Err(refusal::problem("picture", &full)));
    }
    match decoded(bytes).await {
        Ok(kept) => store(state, case, fields, n, name, kept).await,
        Err(refused) => Ok(Err(show::sentence(&refused.to_string()))),
    }
}

/// Stores a picture. The form's own identity and the place in it make its identifier: the same form
/// sent twice adds each picture once.
async fn store(
    state: &AppState,
    case: &OpenCase,
    fields: &Fields,
    n: u128,
    name: &str,
    kept: Kept,
) -> Result<Result<(), String>, PageError> {
    let form = fields.given("touch").or(fields.given("upload"));
    let form = form.and_then(|t| t.parse::<Uuid>().ok());
    let id = Uuid::from_u128(form.unwrap_or_else(Uuid::now_v7).as_u128() ^ n);
    let sent = fields.stamp(state.now());
    let after = sent.touch.map(|t| t.after).unwrap_or_default();
    let touch = Some(Touch { id, after });
    let stamp = Stamp { touch, ..sent };
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
    let stored = state
        .store
        .add_picture(k, case.id, seq, (id, bytes), event, stamp);
    match stored.await {
        Ok(_) => Ok(Ok(())),
        Err(StoreError::Refused(refused)) => Ok(Err(refusal::refusal(k, &refused))),
        Err(StoreError::Conflict { .. }) => {
            again("The case moved on in a way this picture cannot join.")
        }
        Err(StoreError::OtherTouch | StoreError::Taken(_)) => {
            again("This form was sent before with another picture.")
        }
        Err(e) => Err(e.into()),
    }
}
