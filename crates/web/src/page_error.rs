//! The one door from errors to status and page. Nothing internal goes through it.

use crate::urls;
use suspect_core::people::Deed;
use suspect_store::StoreError;

/// Why a page could not be given.
#[derive(Debug)]
pub enum PageError {
    /// There is no such page, case, machine, suspect.
    NotFound(&'static str),
    /// A link for a helper that never was or was revoked: nobody learns which.
    NoSuchLink,
    /// The page exists, the method does not fit.
    WrongMethod,
    /// The address holds what no address of ours holds.
    BadAddress,
    /// The request names another host than ours.
    WrongHost,
    /// The case moved on; the page with what was sent is already made.
    Conflict(String),
    /// What was asked makes no sense now; text and way back.
    Refused {
        /// What is wrong and what would do.
        message: String,
        /// Address of the way back.
        back: String,
    },
    /// The form was stored before with another content.
    SentBefore {
        /// Address of the page to look at.
        back: String,
    },
    /// Not a form as our pages send it.
    NotAForm,
    /// The form is larger than any of ours.
    TooLarge,
    /// The form has more fields than any of ours: at most so many.
    TooManyFields(usize),
    /// They signed in and may not do it.
    MayNot {
        /// What they wanted.
        deed: Deed,
        /// Names of those who may.
        who: Vec<String>,
        /// What they had written, to be kept.
        wrote: Vec<String>,
    },
    /// Nobody signed in, and a form was sent; what was written in it.
    SignedOut(Vec<String>),
    /// Nobody is a member yet: only the address printed at the start lets somebody in.
    NoKeeper,
    /// A form from another site.
    ForeignForm,
    /// Too many want something at once.
    Busy,
    /// It took too long.
    Slow,
    /// The database cannot be reached.
    Unavailable,
    /// A template failed.
    Broken,
}

impl From<StoreError> for PageError {
    fn from(e: StoreError) -> Self {
        match e {
            StoreError::NotFound => PageError::NotFound("case"),
            // A handler that records words its refusals itself.
            StoreError::Refused(refusal) => PageError::Refused {
                message: crate::show::sentence(&refusal.to_string()),
                back: urls::FLOOR.into(),
            },
            // A handler that appends makes its own page of a conflict; one that slips through is
            // still no success.
            StoreError::Conflict { .. } => PageError::Refused {
                message: "Someone else wrote to this case first.".into(),
                back: urls::FLOOR.into(),
            },
            StoreError::OtherTouch => PageError::SentBefore {
                back: urls::FLOOR.into(),
            },
            // Two that wrote the same thing at the same moment: the second may try again.
            StoreError::Taken(rule) => {
                tracing::warn!("taken at the same moment: {rule}");
                PageError::Busy
            }
            StoreError::Busy => PageError::Busy,
            StoreError::Newer => PageError::Unavailable,
            StoreError::Unreadable(what) => {
                tracing::error!("stored and not understood: {what}");
                PageError::Broken
            }
            StoreError::Unavailable(e) => {
                tracing::error!("database: {e}");
                PageError::Unavailable
            }
        }
    }
}

impl From<askama::Error> for PageError {
    fn from(e: askama::Error) -> Self {
        tracing::error!("template: {e}");
        PageError::Broken
    }
}
