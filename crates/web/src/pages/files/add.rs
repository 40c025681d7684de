//! Adding a print file to a case, or to a machine as its last good one: read while it comes, kept
//! whole or not at all.

use super::open_file::as_stored;
use crate::form::Fields;
use crate::form::LARGEST_FORM;
use crate::page_error::PageError;
use crate::pages::open_case::{OpenCase, OpenMachine};
use crate::pages::parts::files::{self, STILL};
use crate::pages::{Answer, Page, again};
use crate::state::AppState;
use crate::words::refusal;
use crate::{show, urls};
use askama::Template;
use axum::body::Bytes;
use axum::extract::multipart::{Field, MultipartRejection};
use axum::extract::{Multipart, RawQuery, State};
use axum::response::{Html, IntoResponse, Redirect};
use suspect_core::case::Event;
use suspect_core::machine::MachineEvent;
use suspect_print_files::{Keeper, Kept, Limits, Refused};
use suspect_store::print_files::NewFile;
use suspect_store::{StoreError, Uuid};
use tokio::sync::{Semaphore, mpsc};
use tokio::time::timeout;

/// Print files read at a time in one process. Others wait before their bodies are read.
static READING: Semaphore = Semaphore::const_new(2);
/// Pieces of an upload that may wait for the reader.
const WAITING: usize = 8;

/// Other print files of a container that are named.
const MOST_OTHERS: usize = 24;

/// Largest body of the form, in bytes: a file and the form around it.
pub const LARGEST_UPLOAD: usize = (512 << 20) + (1 << 20);

#[derive(Template)]
#[template(path = "files/add.html")]
struct AddPage {
    title: &'static str,
    /// Where it belongs: words and address.
    of: (String, String),
    lead: &'static str,
    action: String,
    seq: u32,
    megabytes: u64,
    problem: Option<String>,
    /// Files that are there already: name and address.
    there: Vec<(String, String)>,
    /// Of a container, the entry asked for.
    entry: String,
}

/// Whom a file is added to.
enum Target {
    Case(Box<OpenCase>),
    Machine(OpenMachine),
}

impl Target {
    fn page(&self, entry: &str, problem: Option<String>) -> AddPage {
        let megabytes = Limits::default().bytes >> 20;
        match self {
            Target::Case(case) => AddPage {
                title: "The file that made the print",
                of: (
                    format!("{} {}", case.head().label, case.head().title),
                    case.href(),
                ),
                lead: "Choose the file that was sent to the machine. What it asked for is read \
                       and offered as evidence, each fact with its lines.",
                action: case.below("files"),
                seq: case.state.last_seq,
                megabytes,
                problem,
                there: there(case),
                entry: entry.to_string(),
            },
            Target::Machine(OpenMachine(machine)) => AddPage {
                title: "The last good file",
                of: (machine.name.clone(), urls::machine(machine.id)),
                lead: "Choose a file whose print came out well on this machine. Later files are \
                       compared with it.",
                action: urls::in_machine(machine.id, "files"),
                seq: 0,
                megabytes,
                problem,
                there: Vec::new(),
                entry: entry.to_string(),
            },
        }
    }

    fn render(&self, problem: Option<String>) -> Result<String, PageError> {
        Ok(self.page("", problem).render()?)
    }

    /// The empty form. The address may name the entry of a container that is wanted.
    fn form(&self, query: Option<String>) -> Page {
        let fields = Fields::of_query(query);
        Ok(Html(self.page(fields.get("entry"), None).render()?))
    }
}

fn there(case: &OpenCase) -> Vec<(String, String)> {
    let of_case = [("case", case.id.to_string())];
    let files = case.state.files.iter().filter_map(|f| {
        let id: Uuid = f.id.parse().ok()?;
        Some((f.name.clone(), urls::with(&urls::print_file(id), &of_case)))
    });
    files.collect()
}

/// `GET /cases/{id}/files`
pub async fn form(case: OpenCase, RawQuery(query): RawQuery) -> Page {
    Target::Case(Box::new(case)).form(query)
}

/// `GET /machines/{id}/files`
pub async fn form_for_machine(machine: OpenMachine, RawQuery(query): RawQuery) -> Page {
    Target::Machine(machine).form(query)
}

type Form = Result<Multipart, MultipartRejection>;

/// `POST /cases/{id}/files`
pub async fn add(State(state): State<AppState>, case: OpenCase, form: Form) -> Answer {
    take(&state, Target::Case(Box::new(case)), form).await
}

/// `POST /machines/{id}/files`
pub async fn add_to_machine(
    State(state): State<AppState>,
    machine: OpenMachine,
    form: Form,
) -> Answer {
    take(&state, Target::Machine(machine), form).await
}

async fn take(state: &AppState, target: Target, form: Form) -> Answer {
    let mut form = form.map_err(|_| PageError::NotAForm)?;
    let mut fields = Fields::default();
    let mut came: Option<(String, Result<Kept, String>)> = None;
    loop {
        let Ok(Ok(field)) = timeout(STILL, form.next_field()).await else {
            return Ok(again(target.render(Some(broke_off()))?));
        };
        let Some(field) = field else { break };
        match field.file_name().map(files::file_name) {
            Some(name) if came.is_none() => {
                let chosen = fields.given("entry").map(str::to_owned);
                came = Some((name, read(field, chosen).await?));
            }
            Some(_) => {}
            None => {
                let name = field.name().unwrap_or_default().to_string();
                let Some(text) = files::read(field, LARGEST_FORM).await else {
                    return Ok(again(target.render(Some(broke_off()))?));
                };
                fields.push(name, String::from_utf8_lossy(&text).into_owned());
            }
        }
    }
    let (name, kept) = match came {
        Some((name, Ok(kept))) => (name, kept),
        Some((name, Err(why))) if name.is_empty() => return Ok(again(target.render(Some(why))?)),
        Some((name, Err(why))) => {
            return Ok(again(target.render(Some(format!("{name}: {why}")))?));
        }
        None => return Ok(again(target.render(Some("No file was chosen.".into()))?)),
    };
    let (name, others) = within(name, &kept.taken.entries);
    let id = keep(state, kept).await?;
    match record(state, &target, &fields, id, name).await? {
        Ok(to) => Ok(Redirect::to(&format!("{to}{others}")).into_response()),
        Err(why) => Ok(again(target.render(Some(why))?)),
    }
}

fn broke_off() -> String {
    "The upload broke off before it was complete; nothing was kept. Send the file again.".into()
}

/// Reads a file while it comes. The inner error is for the person who sent it.
async fn read(
    mut field: Field<'_>,
    chosen: Option<String>,
) -> Result<Result<Kept, String>, PageError> {
    let _turn = READING.acquire().await;
    let (send, mut receive) = mpsc::channel::<Bytes>(WAITING);
    let work = tokio::task::spawn_blocking(move || -> Result<Keeper, Refused> {
        let mut keeper = Keeper::new(Limits::default(), chosen)?;
        while let Some(bytes) = receive.blocking_recv() {
            keeper.feed(&bytes)?;
        }
        Ok(keeper)
    });
    let mut whole = false;
    loop {
        match timeout(STILL, field.chunk()).await {
            Ok(Ok(Some(bytes))) => {
                if send.send(bytes).await.is_err() {
                    // Refused by the reader: its reason comes from `work`.
                    break;
                }
            }
            Ok(Ok(None)) => {
                whole = true;
                break;
            }
            Ok(Err(_)) | Err(_) => break,
        }
    }
    drop(send);
    let refused = |why: Refused| show::sentence(&why.to_string());
    let keeper = match work.await {
        Ok(Ok(keeper)) => keeper,
        Ok(Err(why)) => return Ok(Err(refused(why))),
        Err(_) => return Err(PageError::Broken),
    };
    if !whole {
        return Ok(Err(broke_off()));
    }
    let kept = tokio::task::spawn_blocking(move || keeper.end()).await;
    Ok(kept.map_err(|_| PageError::Broken)?.map_err(refused))
}

/// What a file out of a container is called, and what its page is told of the other print files
/// there: nothing where it was the only one.
fn within(name: String, entries: &[String]) -> (String, String) {
    let [read, others @ ..] = entries else {
        return (name, String::new());
    };
    if others.is_empty() {
        return (name, String::new());
    }
    let told = others.iter().take(MOST_OTHERS).map(|other| {
        let other: String = form_urlencoded::byte_serialize(other.as_bytes()).collect();
        format!("&other={other}")
    });
    (format!("{name}: {read}"), told.collect())
}

async fn keep(state: &AppState, kept: Kept) -> Result<Uuid, PageError> {
    let file = NewFile {
        sha256: kept.text_sha256,
        bytes: kept.taken.bytes,
        text_bytes: kept.taken.text_bytes,
        packed: kept.taken.packed.map(str::to_owned),
        reading: as_stored(&kept.reading)?,
        at: state.now(),
    };
    Ok(state.store.keep_print_file(file, kept.text).await?)
}

/// Names the file in the log it belongs to. Where to go then, or why not.
async fn record(
    state: &AppState,
    target: &Target,
    fields: &Fields,
    id: Uuid,
    name: String,
) -> Result<Result<String, String>, PageError> {
    let (k, file) = (&state.knowledge, id.to_string());
    let stamp = fields.stamp(state.now());
    let (stored, to) = match target {
        Target::Case(case) => {
            let event = Event::Filed { file, name };
            let to = urls::with(&urls::print_file(id), &[("case", case.id.to_string())]);
            let stored = state
                .store
                .append(k, case.id, fields.seq(), &[event], stamp)
                .await;
            (stored.map(|_| ()), to)
        }
        Target::Machine(OpenMachine(machine)) => {
            let event = MachineEvent::Filed { file, name };
            let to = urls::with(
                &urls::print_file(id),
                &[("machine", machine.id.to_string())],
            );
            (
                state
                    .store
                    .append_to_machine(k, machine.id, None, &event, stamp)
                    .await,
                to,
            )
        }
    };
    match stored {
        Ok(()) => Ok(Ok(to)),
        Err(StoreError::Refused(refused)) => Ok(Err(refusal::refusal(k, &refused))),
        Err(StoreError::Conflict { .. } | StoreError::OtherTouch) => {
            // The same file sent twice at once: the other one was first.
            if let Target::Case(case) = target {
                let now = OpenCase::read(state, case.id).await?;
                if now.state.files.iter().any(|f| f.id == id.to_string()) {
                    return Ok(Ok(to));
                }
            }
            Ok(Err(
                "The case moved on meanwhile. Choose the file and send it again.".into(),
            ))
        }
        Err(e) => Err(e.into()),
    }
}
