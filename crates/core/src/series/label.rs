//! Labels of pieces: `T7-B` is copy B of set 7.

use std::fmt;

/// How a label looks, for a person who typed another thing.
pub const LABEL_HELP: &str = "a label is T, a number, a dash and a letter: T7-B";

/// Letters of copies: I and O look like numbers.
const LETTERS: &[u8] = b"ABCDEFGHJKLMNPQRSTUVWXYZ";

/// A label.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub struct Label {
    /// Number of the set: 0 all old, 1 all new, then one a set in the order they were first made.
    pub set: u32,
    /// Number of the copy, from 0.
    pub copy: u32,
}

impl Label {
    /// The label of a set's copy.
    pub fn new(set: u32, copy: u32) -> Label {
        Label { set, copy }
    }

    /// Reads `T7-B`, in either case.
    pub fn parse(text: &str) -> Option<Label> {
        let (set, copy) = text.trim().split_once('-')?;
        let set = set.strip_prefix(['T', 't'])?;
        let plain = set.len() <= 4 && set.bytes().all(|b| b.is_ascii_digit());
        let set = plain.then(|| set.parse().ok())??;
        let letter = |b: u8| LETTERS.iter().position(|l| *l == b.to_ascii_uppercase());
        let base = LETTERS.len() as u32;
        let mut number = 0;
        for b in copy.bytes().take(4) {
            number = number * base + letter(b)? as u32 + 1;
        }
        let copy = (!copy.is_empty() && copy.len() <= 4).then(|| number.checked_sub(1))??;
        Some(Label { set, copy })
    }
}

impl fmt::Display for Label {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let base = LETTERS.len() as u32;
        let (mut left, mut letters) = (self.copy + 1, Vec::new());
        while left > 0 {
            letters.push(LETTERS[((left - 1) % base) as usize]);
            left = (left - 1) / base;
        }
        letters.reverse();
        write!(f, "T{}-{}", self.set, String::from_utf8_lossy(&letters))
    }
}
