//! Why nothing follows from what was given.

/// Readings that make no sense, in one line: which input, which value, what would do.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
#[error("{0}")]
pub struct Refused(pub String);

/// A refusal in words.
pub fn refuse<T>(words: impl Into<String>) -> Result<T, Refused> {
    Err(Refused(words.into()))
}

impl Refused {
    /// The same with words for the identifiers that `plain` knows, and the first of them. An
    /// identifier counts only where it stands alone: `x_mm` is none of `screw_x_mm`.
    pub(super) fn in_words(
        &self,
        plain: impl Fn(&str) -> Option<&'static str>,
    ) -> (Option<String>, String) {
        let (mut named, mut said, mut word) = (None, String::new(), String::new());
        let mut end = |word: &mut String, said: &mut String| {
            match plain(word) {
                Some(words) => {
                    named.get_or_insert_with(|| word.clone());
                    said.push_str(words);
                }
                None => said.push_str(word),
            }
            word.clear();
        };
        for c in self.0.chars() {
            if c.is_ascii_alphanumeric() || c == '_' {
                word.push(c);
            } else {
                end(&mut word, &mut said);
                said.push(c);
            }
        }
        end(&mut word, &mut said);
        (named, said)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn only_whole_identifiers_become_words() {
        let why = Refused("screw_x_mm and x_mm: must have the same length".into());
        let plain = |id: &str| match id {
            "x_mm" => Some("places probed, X"),
            "screw_x_mm" => Some("screws, X"),
            _ => None,
        };
        let (named, said) = why.in_words(plain);
        assert_eq!(named.as_deref(), Some("screw_x_mm"));
        assert_eq!(
            said,
            "screws, X and places probed, X: must have the same length"
        );
    }
}
