//! Strength words: how often a cause shows a state, said in words or as a number.

use serde::Deserialize;

/// A chance written as a word of the scale or as a number between 0 and 1.
#[derive(Debug, Clone, PartialEq, Deserialize)]
#[serde(untagged)]
pub enum Strength {
    /// A number between 0 and 1.
    Number(f64),
    /// A word of [`WORDS`].
    Word(String),
}

/// The scale of strength words.
pub const WORDS: [(&str, f64); 6] = [
    ("always", 0.98),
    ("usually", 0.85),
    ("often", 0.6),
    ("sometimes", 0.3),
    ("rarely", 0.08),
    ("never", 0.01),
];

/// The scale of weights: how common a cause is before anything is known.
pub const WEIGHTS: [(&str, f64); 5] = [
    ("very common", 16.0),
    ("common", 8.0),
    ("occasional", 4.0),
    ("uncommon", 2.0),
    ("rare", 1.0),
];

impl Strength {
    /// The probability meant.
    ///
    /// # Errors
    /// For an unknown word or a number outside 0..1.
    pub fn value(&self) -> Result<f64, String> {
        match self {
            Strength::Number(p) if (0.0..=1.0).contains(p) => Ok(*p),
            Strength::Number(p) => Err(format!(
                "{p} is not a probability: it must lie between 0 and 1"
            )),
            Strength::Word(w) => WORDS
                .iter()
                .find(|(word, _)| word == w)
                .map(|(_, p)| *p)
                .ok_or_else(|| {
                    let words: Vec<_> = WORDS.iter().map(|(w, _)| *w).collect();
                    format!(
                        "`{w}` is no strength word: use {} or a number",
                        words.join(", ")
                    )
                }),
        }
    }

    /// Checks a link's strength against the background `b` of its state: a word that speaks for a
    /// cause must lie above it, a word that speaks against must lie below. Numbers are free.
    ///
    /// # Errors
    /// Says on which side of the background the word falls.
    pub fn against_background(&self, b: f64) -> Result<f64, String> {
        let p = self.value()?;
        let Strength::Word(word) = self else {
            return Ok(p);
        };
        let speaks_for = p >= 0.3;
        match (speaks_for, p > b, p < b) {
            (true, false, _) => Err(format!(
                "`{word}` ({p}) is not above the background {b}, so it would speak against the \
                    cause: leave the link out or give a number"
            )),
            (false, _, false) => Err(format!(
                "`{word}` ({p}) is not below the background {b}, so this would speak for the \
                    cause: leave the link out or give a number"
            )),
            _ => Ok(p),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_word_on_the_wrong_side_of_the_background_is_refused() {
        let rarely = Strength::Word("rarely".into());
        assert_eq!(rarely.against_background(0.1), Ok(0.08));
        assert!(
            rarely
                .against_background(0.03)
                .unwrap_err()
                .contains("speak for the cause")
        );
        assert!(
            Strength::Word("sometimes".into())
                .against_background(0.9)
                .unwrap_err()
                .contains("speak against")
        );
        assert_eq!(Strength::Number(0.05).against_background(0.03), Ok(0.05));
    }
}
