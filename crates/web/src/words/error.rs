//! What an error page says: heading and message.

use crate::page_error::PageError;

/// Nothing is known of what became of a form: its identity makes it safe to send again.
const SEND_AGAIN: &str =
    "If you sent something, send it again: it is stored once, however often it arrives.";

/// Heading and message of an error.
pub fn told(error: &PageError) -> (&'static str, String) {
    match error {
        PageError::Busy | PageError::Slow | PageError::Unavailable | PageError::Broken => {
            of_ours(error)
        }
        PageError::NotFound(what) => (
            "Nothing here",
            format!(
                "There is no such {what}. The link may be mistyped, or it belongs to another \
                 workshop."
            ),
        ),
        PageError::TooManyFields(most) => (
            "Too much at once",
            format!(
                "The form has more fields than any of ours: at most {most}. Nothing was recorded."
            ),
        ),
        PageError::Refused { message, .. } => ("Not recorded", message.clone()),
        PageError::MayNot { deed, who, .. } => (
            "Not yours to do",
            format!(
                "It takes a {} to {}. Nothing was recorded; what you typed is still on the page \
                 before. {}",
                deed.least().words(),
                deed.words(),
                match who.is_empty() {
                    true => "Nobody here may: a keeper can change that.".to_string(),
                    false => format!("Ask {}.", who.join(", ")),
                }
            ),
        ),
        fixed => {
            let (title, message) = of_the_request(fixed);
            (title, message.to_string())
        }
    }
}

/// What was wrong with the request.
fn of_the_request(error: &PageError) -> (&'static str, &'static str) {
    match error {
        PageError::NoSuchLink => (
            "This link does not work",
            "It may be mistyped, or whoever made it has revoked it. Ask them for a new one.",
        ),
        PageError::WrongMethod => (
            "Not this way",
            "This address takes a form, it cannot be opened as a page.",
        ),
        PageError::BadAddress => (
            "Not an address",
            "This address holds characters that no address here has. Follow a link instead of \
             typing it.",
        ),
        PageError::WrongHost => (
            "Not this place",
            "The address you used does not name this workshop. Open it by the address it printed \
             when it started; whoever runs it can allow others (ALLOWED_HOSTS).",
        ),
        PageError::SignedOut(_) => (
            "You are signed out",
            "Nothing was recorded. What you typed is still on the page before: sign in on another \
             page, go back to it, and send it again.",
        ),
        PageError::NoKeeper => (
            "Nobody is let in yet",
            "This workshop is reached from other computers and has no keeper yet. Open the \
             address that the program printed when it started: it makes the first one.",
        ),
        PageError::SentBefore { .. } => (
            "Sent before with other words",
            "This very form was stored before with another content, which stands. Look at what is \
             there, and enter yours on a fresh page.",
        ),
        PageError::NotAForm => (
            "Not a form",
            "Expected a form as our pages send it (fields, or pictures as multipart/form-data). \
             Nothing was recorded.",
        ),
        PageError::TooLarge => (
            "Too much at once",
            "The form holds more than 2 MB. Nothing was recorded; go back, shorten the text and \
             send it again.",
        ),
        PageError::ForeignForm => (
            "Refused",
            "This form was sent from another site, so nothing was recorded. Open the page here and \
             send it again.",
        ),
        _ => ("Not recorded yet", ""),
    }
}

/// What is wrong on our side: nobody knows what became of a form.
fn of_ours(error: &PageError) -> (&'static str, String) {
    match error {
        PageError::Busy => (
            "Too many at once",
            format!(
                "More people or pages want the records just now than can be served, or somebody \
                 writes to this machine for long. Wait a moment. {SEND_AGAIN}"
            ),
        ),
        PageError::Slow => (
            "This took too long",
            format!("The page was not ready in time and was given up. Wait a moment. {SEND_AGAIN}"),
        ),
        PageError::Unavailable => (
            "The records cannot be reached",
            format!(
                "The database does not answer. Wait a moment; if it stays away, start the program \
                 anew. {SEND_AGAIN}"
            ),
        ),
        _ => (
            "This page broke",
            "The page could not be drawn, or something stored is not understood by this version of \
             the program. What was recorded before is safe; whoever runs it finds more in its log."
                .to_string(),
        ),
    }
}
