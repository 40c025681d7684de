//! Recording what a form of a case asks for: the same answer to conflict and refusal on every page.

use crate::form::Fields;
use crate::page_error::PageError;
use crate::pages::open_case::OpenCase;
use crate::pages::{Answer, again};
use crate::show;
use crate::state::AppState;
use crate::words::{entry, next, refusal};
use askama::Template;
use axum::response::{IntoResponse, Redirect, Response};
use suspect_core::case::{Entry, Event, Refusal};
use suspect_core::knowledge::Knowledge;
use suspect_core::settings::NumberId;
use suspect_store::StoreError;

/// What a person said with a form: the words for it, and the field that carries it.
struct Said {
    label: String,
    name: String,
    value: String,
    /// Words that may be mended here; everything else is carried along.
    text: bool,
}

/// A form that was not recorded: why, what happened meanwhile, and all that was sent, to send
/// again.
#[derive(Template)]
#[template(path = "not_recorded.html")]
struct KeptPage {
    title: &'static str,
    why: String,
    case_href: String,
    action: String,
    /// The number to send it with again; nothing when it cannot be recorded as it is.
    seq: Option<u32>,
    said: Vec<Said>,
    since: Vec<String>,
}

/// Fields that hold a person's own words, with what they are called.
const WORDS: [(&str, &str); 10] = [
    ("note", "Note"),
    ("text", "Your words"),
    ("told", "What happened"),
    ("reason", "Reason"),
    ("by", "Name"),
    ("title", "Title"),
    ("spool", "Spool"),
    ("before", "Before"),
    ("after", "After"),
    ("part", "Part"),
];

/// All a form said, in words where it has them.
fn said(k: &Knowledge, fields: &Fields) -> Vec<Said> {
    let row = |(name, value): &(String, String)| {
        let word = WORDS.iter().find(|(n, _)| n == name).map(|(_, word)| *word);
        let number = name.strip_prefix("n.").and_then(NumberId::from_id);
        let finding = name.strip_prefix("f.").and_then(|id| k.finding_id(id));
        let label = match (word, number, finding) {
            (Some(word), _, _) => word.to_string(),
            (_, Some(id), _) => show::capital(id.number().plain),
            (_, _, Some(f)) => show::capital(&k.finding(f).plain),
            // Identifiers of ours say nothing to a person.
            _ => String::new(),
        };
        Said {
            label,
            text: word.is_some() && name != "part",
            name: name.clone(),
            value: value.clone(),
        }
    };
    fields.said().map(row).collect()
}

/// A form of a case with what was sent.
pub struct CaseForm<'a> {
    state: &'a AppState,
    case: &'a OpenCase,
    fields: &'a Fields,
    action: String,
}

/// What became of a form.
pub enum Recorded {
    /// Stored, or stored before by the same form.
    Done(Response),
    /// A value makes no sense; the page shows it beside the field.
    Invalid { field: String, message: String },
}

impl OpenCase {
    /// A form of this case, whose action is `what` below it: `note`, `check/pulley-mark`.
    pub fn form<'a>(&'a self, state: &'a AppState, fields: &'a Fields, what: &str) -> CaseForm<'a> {
        CaseForm {
            state,
            case: self,
            fields,
            action: self.below(what),
        }
    }
}

impl CaseForm<'_> {
    /// Appends events for the sequence number the form was made for, and leads to `then`.
    ///
    /// # Errors
    /// Conflict, refusal by state or stop, or an unreachable database, each as a page.
    pub async fn record(&self, events: &[Event], then: String) -> Result<Recorded, PageError> {
        let (state, k) = (self.state, &self.state.knowledge);
        let stamp = self.fields.stamp(state.now());
        let stored = state
            .store
            .append(k, self.case.id, self.fields.seq(), events, stamp);
        match stored.await {
            Ok(_) => Ok(Recorded::Done(Redirect::to(&then).into_response())),
            Err(StoreError::Conflict {
                expected,
                actual,
                since,
            }) => Err(self.conflict((expected, actual), &since)),
            Err(StoreError::OtherTouch) => Err(PageError::SentBefore {
                back: self.case.href(),
            }),
            Err(StoreError::Refused(Refusal::Invalid { field, problem })) => {
                let message = refusal::problem(&field, &problem);
                Ok(Recorded::Invalid { field, message })
            }
            Err(StoreError::Refused(refused)) => Err(PageError::Refused {
                message: refusal::refusal(k, &refused),
                back: self.way_back(&refused),
            }),
            Err(other) => Err(other.into()),
        }
    }

    /// For forms of a single button: what makes no sense becomes a page with what was sent, to be
    /// mended there, and a way back.
    ///
    /// # Errors
    /// As [`CaseForm::record`].
    pub async fn record_or_explain(&self, events: &[Event], then: String) -> Answer {
        match self.record(events, then).await? {
            Recorded::Done(response) => Ok(response),
            Recorded::Invalid { message, .. } => {
                let heading = ("Not recorded", message);
                Ok(again(self.kept(
                    Some(self.fields.seq()),
                    heading,
                    Vec::new(),
                )?))
            }
        }
    }

    /// The page of a form that was not recorded. Nothing of it is lost.
    fn kept(
        &self,
        seq: Option<u32>,
        (title, why): (&'static str, String),
        since: Vec<String>,
    ) -> Result<String, PageError> {
        let page = KeptPage {
            title,
            why,
            case_href: self.case.href(),
            action: self.action.clone(),
            seq,
            said: said(&self.state.knowledge, self.fields),
            since,
        };
        Ok(page.render()?)
    }

    /// The conflict of the form: what happened since its page was made, and what it said.
    fn conflict(&self, (expected, actual): (u32, u32), since: &[Entry]) -> PageError {
        let why = match expected > actual {
            true => format!(
                "Your page speaks of entry {expected}, but the case has {actual}. Look at the case \
                 before you record this."
            ),
            false => "Someone wrote to this case after you opened your page, or took back what \
                      this form had recorded. Nothing of theirs or yours is lost."
                .to_string(),
        };
        let k = &self.state.knowledge;
        let since = since.iter().map(|e| entry::line(k, e)).collect();
        match self.kept(Some(actual), ("The case has moved on", why), since) {
            Ok(html) => PageError::Conflict(html),
            Err(e) => e,
        }
    }

    /// Where a refusal leads: to the stop that holds, to what locks the machine, else to the case.
    fn way_back(&self, refusal: &Refusal) -> String {
        let k = &self.state.knowledge;
        match refusal {
            Refusal::Stopped { stop, .. } if k.stop_at(stop).is_some() => {
                self.case.below(&format!("stop/{stop}"))
            }
            Refusal::Locked { lock } => next::lock_href(k, self.case.machine.id, lock),
            _ => self.case.href(),
        }
    }
}
