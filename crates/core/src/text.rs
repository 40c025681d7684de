//! Texts that people type: how long they may be, what cannot be kept, and whether they say anything.

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

/// Checks a text that may be left empty.
///
/// # Errors
/// Names the field, what is wrong with it and what would do.
pub fn optional(field: &str, text: &str, longest: usize) -> Result<(), String> {
    let length = text.chars().count();
    if length > longest {
        return Err(format!(
            "{field} has {length} characters: at most {longest} fit"
        ));
    }
    if !text.trim().is_empty() && is_blank(text) {
        return Err(format!("{field} holds only characters that cannot be seen"));
    }
    match text.chars().find(|c| is_deceptive(*c)) {
        None => Ok(()),
        Some('\0') => Err(format!(
            "{field} holds a character that cannot be kept (a null)"
        )),
        Some(c) => Err(format!(
            "{field} holds a character that cannot be seen and changes how the text reads \
             (U+{:04X}): write it without",
            c as u32
        )),
    }
}

/// Checks a text that must say something.
///
/// # Errors
/// As [`optional`], and when nothing can be seen.
pub fn required(field: &str, text: &str, longest: usize) -> Result<(), String> {
    if is_blank(text) {
        return Err(format!("{field} is missing"));
    }
    optional(field, text, longest)
}

/// Checks a name or a reason that somebody answers for: it must be words.
///
/// # Errors
/// As [`required`], and when there are no letters in it.
pub fn words(field: &str, text: &str, longest: usize) -> Result<(), String> {
    required(field, text, longest)?;
    if is_words(text) {
        return Ok(());
    }
    Err(format!(
        "{field} must be words, but \"{}\" was given",
        crate::nearest::short(text)
    ))
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
                required("by", unseen, 60).unwrap_err().contains("missing"),
                "{unseen:?}"
            );
        }
        for no_words in ["-", "12", "…", "x"] {
            assert!(
                words("by", no_words, 60)
                    .unwrap_err()
                    .contains("must be words")
            );
        }
        for name in ["M. Reed", "Åsa", "李明"] {
            assert_eq!(words("by", name, 60), Ok(()));
        }
        assert!(optional("note", "\u{200b}", 60).is_err());
        assert_eq!(optional("note", "", 60), Ok(()));
    }

    #[test]
    fn what_turns_a_text_around_is_named() {
        let refused = optional("note", "safe \u{202e}drah", 60).unwrap_err();
        assert!(refused.contains("U+202E"), "{refused}");
        assert!(optional("note", "a\0b", 60).unwrap_err().contains("a null"));
        assert_eq!(
            optional("note", "two\r\nlines\tand a 👩\u{200d}🔧", 60),
            Ok(())
        );
    }

    #[test]
    fn names_that_look_alike_are_alike() {
        assert_eq!(look("Heron"), look("H\u{435}ron"));
        assert_eq!(look("Heron"), look(" heron\u{200b}"));
        assert_ne!(look("Heron"), look("Teal"));
    }
}
