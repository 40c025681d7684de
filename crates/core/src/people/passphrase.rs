//! How well a passphrase keeps others out, in words. No rules about symbols: length and surprise.

/// Fewer characters are guessed too soon, whatever they are.
pub const LEAST_CHARACTERS: usize = 10;
/// Longer ones are refused: they would only cost time.
pub const MOST_BYTES: usize = 1024;

/// How well it keeps others out.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Strength {
    /// Refused, with what would do.
    Weak(&'static str),
    /// Enough.
    Enough,
    /// More than enough.
    Strong,
}

/// Judges a passphrase beside words that whoever guesses would try first: the name, the workshop.
pub fn strength(passphrase: &str, known: &[&str]) -> Strength {
    let characters = passphrase.chars().count();
    if characters < LEAST_CHARACTERS {
        return Strength::Weak(
            "it is short: take ten characters or more, for instance four words that have nothing \
             to do with each other",
        );
    }
    if passphrase.len() > MOST_BYTES {
        return Strength::Weak("it is longer than 1024 bytes: take a shorter one");
    }
    match u8::from(zxcvbn::zxcvbn(passphrase, known).score()) {
        0..=1 => Strength::Weak(
            "it is guessed at once: it is a common word, a row of keys, or your name; take four \
             words that have nothing to do with each other",
        ),
        2 => Strength::Weak(
            "it is guessed in a day: add a word or two that have nothing to do with it",
        ),
        3 => Strength::Enough,
        _ => Strength::Strong,
    }
}
