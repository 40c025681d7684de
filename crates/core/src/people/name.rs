//! Names of members, and how an entry names its author.

use crate::text::{self, LONGEST_NAME, TextProblem};
use unicode_security::MixedScript;

/// What a member who left is called.
pub const FORMER: &str = "former member";

/// What is wrong with a name.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
pub enum NameProblem {
    /// The text.
    #[error("the name {0}")]
    Text(#[from] TextProblem),
    /// Letters of several scripts that look alike.
    #[error(
        "\"{0}\" mixes letters of several scripts that look alike: write the name in one of them"
    )]
    Mixed(String),
    /// It would be read as something else.
    #[error("\"{0}\" stands for members who left: take another name")]
    Reserved(String),
}

/// What stands before the number of an author.
const AUTHOR: &str = "@member-";

/// What a name looks like to whoever reads it in a list: letters, digits and blanks that are taken
/// for each other are the same.
pub fn looks(name: &str) -> String {
    let seen = text::look(name).to_lowercase();
    let words: Vec<&str> = seen.split_whitespace().collect();
    let alike = |c: char| match c {
        'i' | 'l' | '1' | '|' => 'l',
        '0' => 'o',
        other => other,
    };
    words.join(" ").chars().map(alike).collect()
}

/// A name as it is kept: without blanks around it, words, in one script where letters look alike.
///
/// # Errors
/// What is wrong with it.
pub fn name(given: &str) -> Result<String, NameProblem> {
    let given = text::trimmed(given);
    text::words(given, LONGEST_NAME)?;
    if !given.is_single_script() {
        return Err(NameProblem::Mixed(crate::nearest::short(given)));
    }
    if looks(given) == looks(FORMER) || given.starts_with('@') {
        return Err(NameProblem::Reserved(crate::nearest::short(given)));
    }
    Ok(given.to_string())
}

/// How an entry names the member who made it: by their number, which stays when the name goes.
pub fn author(member: &str) -> String {
    format!("{AUTHOR}{member}")
}

/// The member who made an entry; none where somebody wrote a name, as without members.
pub fn author_of(by: &str) -> Option<&str> {
    by.strip_prefix(AUTHOR)
}
