//! Texts that people type: how long they may be, what cannot be kept, and whether they say
//! anything.

/// Longest title, in characters.
pub const LONGEST_TITLE: usize = 120;
/// Longest name of a machine, a spool or a person, in characters.
pub const LONGEST_NAME: usize = 60;
/// Longest note or reason, in characters.
pub const LONGEST_TEXT: usize = 2_000;

/// Letters a name or a reason has at least before it counts as words.
const FEWEST_LETTERS: usize = 2;

/// Whether a character turns the direction of the text around it or ends its line unseen: it could
/// make a stored text read as something else.
fn is_deceptive(c: char) -> bool {
    (c.is_control() && !matches!(c, '\n' | '\r' | '\t'))
        || matches!(c, '\u{202a}'..='\u{202e}' | '\u{2066}'..='\u{2069}' | '\u{2028}' | '\u{2029}')
}

/// Whether a character leaves no mark on the page.
fn is_invisible(c: char) -> bool {
    c.is_whitespace()
        || c.is_control()
        || matches!(c,
            '\u{ad}' | '\u{34f}' | '\u{61c}' | '\u{115f}' | '\u{1160}' | '\u{17b4}' | '\u{17b5}'
            | '\u{180b}'..='\u{180f}' | '\u{200b}'..='\u{200f}' | '\u{202a}'..='\u{202e}'
            | '\u{2060}'..='\u{206f}' | '\u{2800}' | '\u{3164}' | '\u{feff}' | '\u{ffa0}'
            | '\u{fe00}'..='\u{fe0f}' | '\u{e0000}'..='\u{e0fff}')
}

/// Whether nothing of a text can be seen.
pub fn is_blank(text: &str) -> bool {
    text.chars().all(is_invisible)
}

/// Whether a text is words: at least two letters that can be seen.
pub fn is_words(text: &str) -> bool {
    text.chars()
        .filter(|c| c.is_alphabetic() && !is_invisible(*c))
        .count()
        >= FEWEST_LETTERS
}

/// Without what cannot be seen at both ends.
pub fn trimmed(text: &str) -> &str {
    text.trim_matches(is_invisible)
}

/// What is wrong with a text.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
pub enum TextProblem {
    /// Nothing can be seen of it.
    #[error("is missing")]
    Missing,
    /// It is too long.
    #[error("has {length} characters: at most {most} fit")]
    TooLong {
        /// Characters it has.
        length: usize,
        /// Characters that fit.
        most: usize,
    },
    /// It is not empty, and yet nothing of it can be seen.
    #[error("holds only characters that cannot be seen")]
    Unseen,
    /// It holds a null, which no database keeps.
    #[error("holds a character that cannot be kept (a null)")]
    Null,
    /// It holds a character that changes how the text around it reads.
    #[error(
        "holds a character that cannot be seen and changes how the text reads (U+{:04X}): write \
         it without",
        *.0 as u32
    )]
    Deceptive(char),
    /// It has no letters, where somebody answers for it by words. What was given, cut short.
    #[error("must be words, but \"{0}\" was given")]
    NoWords(String),
}

/// Checks a text that may be left empty, of at most `longest` characters.
///
/// # Errors
/// What is wrong with it.
pub fn optional(text: &str, longest: usize) -> Result<(), TextProblem> {
    let length = text.chars().count();
    if length > longest {
        return Err(TextProblem::TooLong {
            length,
            most: longest,
        });
    }
    if !text.trim().is_empty() && is_blank(text) {
        return Err(TextProblem::Unseen);
    }
    match text.chars().find(|c| is_deceptive(*c)) {
        None => Ok(()),
        Some('\0') => Err(TextProblem::Null),
        Some(c) => Err(TextProblem::Deceptive(c)),
    }
}

/// Checks a text that must say something.
///
/// # Errors
/// As [`optional`], and when nothing can be seen.
pub fn required(text: &str, longest: usize) -> Result<(), TextProblem> {
    if is_blank(text) {
        return Err(TextProblem::Missing);
    }
    optional(text, longest)
}

/// Checks a name or a reason that somebody answers for: it must be words.
///
/// # Errors
/// As [`required`], and when there are no letters in it.
pub fn words(text: &str, longest: usize) -> Result<(), TextProblem> {
    required(text, longest)?;
    if is_words(text) {
        return Ok(());
    }
    Err(TextProblem::NoWords(crate::nearest::short(text)))
}

/// What a name looks like to the eye: names that only differ in look-alike letters, capitals or
/// unseen characters are the same to a person.
pub fn look(name: &str) -> String {
    let seen: String = trimmed(name)
        .chars()
        .filter(|c| !is_invisible(*c) || *c == ' ')
        .collect();
    unicode_security::skeleton(&seen.to_lowercase()).collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_cannot_be_seen_is_no_name() {
        for unseen in ["", " ", "\u{200b}", "\u{2060}\u{ad}", "\u{3164}\t"] {
            assert!(
                required(unseen, 60) == Err(TextProblem::Missing),
                "{unseen:?}"
            );
        }
        for no_words in ["-", "12", "…", "x"] {
            let problem = words(no_words, 60).unwrap_err();
            assert_eq!(problem, TextProblem::NoWords(no_words.into()));
        }
        for name in ["M. Reed", "Åsa", "李明"] {
            assert_eq!(words(name, 60), Ok(()));
        }
        assert!(optional("\u{200b}", 60).is_err());
        assert_eq!(optional("", 60), Ok(()));
    }

    #[test]
    fn what_turns_a_text_around_is_named() {
        let refused = optional("safe \u{202e}drah", 60).unwrap_err();
        assert_eq!(refused, TextProblem::Deceptive('\u{202e}'));
        assert!(refused.to_string().contains("U+202E"), "{refused}");
        assert_eq!(optional("a\0b", 60), Err(TextProblem::Null));
        assert_eq!(optional("two\r\nlines\tand a 👩\u{200d}🔧", 60), Ok(()));
    }

    #[test]
    fn names_that_look_alike_are_alike() {
        assert_eq!(look("Heron"), look("H\u{435}ron"));
        assert_eq!(look("Heron"), look(" heron\u{200b}"));
        assert_ne!(look("Heron"), look("Teal"));
    }
}
