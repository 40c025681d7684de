//! A line taken apart into a command and its words: a letter and a number each.

use super::number;

/// A number larger than this is a slip of whoever wrote the file: no machine moves a kilometre.
pub(super) const LARGEST: f64 = 1e6;

/// What a line is.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Kind<'a> {
    /// Nothing to do, perhaps a comment.
    Empty,
    /// A letter and a code: `G1`, `M104`, `T0`. The words stand in [`Words`].
    Command,
    /// A command by name, with what follows it: `SET_FAN NAME=part SPEED=0.5`.
    Spoken(&'a str, &'a str),
}

/// What is odd about a line.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Odd {
    /// No command begins so.
    NoCommand,
    /// A letter stands there without its number.
    NoNumber(u8),
    /// The number behind a letter is out of any machine's reach.
    TooLarge(u8),
    /// The sum at the line's end does not fit the line.
    Checksum,
    /// The line is longer than what is read of one.
    Long,
    /// An arc whose centre cannot be.
    Arc,
}

/// The command of a line and its words.
#[derive(Debug, Clone)]
pub(crate) struct Words {
    /// `G`, `M` or `T`.
    pub letter: u8,
    /// The number behind it.
    pub code: u32,
    /// The digit behind its point: `G29.1` has 1.
    pub sub: u32,
    set: u32,
    bare: u32,
    values: [f64; 26],
    /// The first thing that is odd.
    pub odd: Option<Odd>,
}

impl Default for Words {
    fn default() -> Self {
        Words {
            letter: 0,
            code: 0,
            sub: 0,
            set: 0,
            bare: 0,
            values: [0.0; 26],
            odd: None,
        }
    }
}

impl Words {
    /// The number behind a letter.
    #[inline]
    pub fn get(&self, letter: u8) -> Option<f64> {
        let at = usize::from(letter - b'A');
        (self.set & (1 << at) != 0).then(|| self.values[at])
    }

    /// Whether the letter is there, with a number or without.
    pub fn has(&self, letter: u8) -> bool {
        (self.set | self.bare) & (1 << (letter - b'A')) != 0
    }

    /// Whether any of the letters has a number.
    #[inline]
    pub fn any(&self, letters: &[u8]) -> bool {
        letters
            .iter()
            .any(|letter| self.set & (1 << (letter - b'A')) != 0)
    }

    /// Takes a line apart; returns what it is and the comment behind it.
    #[inline]
    pub fn take<'a>(&mut self, line: &'a [u8]) -> (Kind<'a>, Option<&'a [u8]>) {
        self.set = 0;
        self.bare = 0;
        self.odd = None;
        let mut at = blank(line, 0);
        if line.get(at).is_some_and(|b| b | 32 == b'n') && digit(line, at + 1) {
            at = blank(line, at + 1 + digits(&line[at + 1..]));
            self.check_sum(line);
        }
        let Some(&first) = line.get(at) else {
            return (Kind::Empty, None);
        };
        match first {
            b';' => (Kind::Empty, Some(&line[at + 1..])),
            b'(' | b'%' | b'*' => (Kind::Empty, inner(&line[at..])),
            _ => self.command(line, at),
        }
    }

    #[inline]
    fn command<'a>(&mut self, line: &'a [u8], at: usize) -> (Kind<'a>, Option<&'a [u8]>) {
        let letter = line[at] & !32;
        if matches!(letter, b'G' | b'M' | b'T') && digit(line, at + 1) {
            let (mut code, mut next) = (0u32, at + 1);
            while digit(line, next) {
                code = code
                    .saturating_mul(10)
                    .saturating_add(u32::from(line[next] - b'0'));
                next += 1;
            }
            (self.letter, self.code, self.sub) = (letter, code, 0);
            if line.get(next) == Some(&b'.') && digit(line, next + 1) {
                self.sub = u32::from(line[next + 1] - b'0');
                next += 1 + digits(&line[next + 1..]);
            }
            if letter == b'M' && matches!(code, 117 | 118 | 23 | 28 | 30 | 32 | 928) {
                return (Kind::Empty, None);
            }
            (Kind::Command, self.words(line, next))
        } else {
            self.spoken(line, at)
        }
    }

    #[inline]
    fn words<'a>(&mut self, line: &'a [u8], mut at: usize) -> Option<&'a [u8]> {
        while let Some(&byte) = line.get(at) {
            let letter = byte & !32;
            if letter.is_ascii_uppercase() {
                at = self.word(line, at, letter);
                continue;
            }
            match byte {
                b' ' | b'\t' | b'\r' => at += 1,
                b';' => return Some(&line[at + 1..]),
                b'*' => return None,
                b'(' => {
                    at += 1 + line[at..]
                        .iter()
                        .position(|b| *b == b')')
                        .unwrap_or(line.len());
                }
                b'"' => {
                    let end = line[at + 1..].iter().position(|b| *b == b'"');
                    at = end.map_or(line.len(), |end| at + 2 + end);
                }
                _ => {
                    self.say(Odd::NoCommand);
                    at += 1;
                }
            }
        }
        None
    }

    #[inline]
    fn word(&mut self, line: &[u8], at: usize, letter: u8) -> usize {
        let mut from = at + 1;
        while line.get(from) == Some(&b' ') {
            from += 1;
        }
        let bit = 1 << (letter - b'A');
        match number::read(&line[from..]) {
            Some((value, taken)) if value.abs() <= LARGEST => {
                self.set |= bit;
                self.values[usize::from(letter - b'A')] = value;
                from + taken
            }
            Some((_, taken)) => {
                self.say(Odd::TooLarge(letter));
                from + taken
            }
            None => {
                self.bare |= bit;
                let axis = matches!((self.letter, self.code), (b'G', 0..=3 | 92));
                if axis
                    && matches!(
                        letter,
                        b'X' | b'Y' | b'Z' | b'E' | b'F' | b'I' | b'J' | b'R'
                    )
                {
                    self.say(Odd::NoNumber(letter));
                }
                at + 1
                    + line[at + 1..]
                        .iter()
                        .take_while(|b| b.is_ascii_alphabetic())
                        .count()
            }
        }
    }

    #[cold]
    fn spoken<'a>(&mut self, line: &'a [u8], at: usize) -> (Kind<'a>, Option<&'a [u8]>) {
        let end = line.iter().position(|b| *b == b';').unwrap_or(line.len());
        let comment = line.get(end + 1..);
        let text = std::str::from_utf8(&line[at..end.max(at)])
            .unwrap_or("")
            .trim();
        let name = text.split([' ', '\t']).next().unwrap_or("");
        let named = name.len() > 1
            && name.starts_with(|c: char| c.is_ascii_alphabetic() || c == '_')
            && name
                .chars()
                .all(|c| c.is_ascii_alphanumeric() || matches!(c, '_' | '.'));
        // One word of prose is a command as far as anybody can tell; a sentence is none.
        let rest = text[name.len()..].trim();
        let words = rest
            .split_whitespace()
            .filter(|word| !word.contains('='))
            .count();
        if named && (words <= 2 || name.contains('_')) {
            (Kind::Spoken(name, rest), comment)
        } else {
            self.say(Odd::NoCommand);
            (Kind::Empty, comment)
        }
    }

    #[cold]
    fn check_sum(&mut self, line: &[u8]) {
        let Some(star) = line.iter().rposition(|b| *b == b'*') else {
            return;
        };
        let sum = line[..star].iter().fold(0u8, |sum, b| sum ^ b);
        if number::read(&line[star + 1..]).is_none_or(|(said, _)| said != f64::from(sum)) {
            self.say(Odd::Checksum);
        }
    }

    /// Keeps the first thing that is odd about a line.
    #[cold]
    pub fn say(&mut self, odd: Odd) {
        self.odd.get_or_insert(odd);
    }
}

#[inline]
fn digit(line: &[u8], at: usize) -> bool {
    line.get(at).is_some_and(u8::is_ascii_digit)
}

fn digits(bytes: &[u8]) -> usize {
    bytes.iter().take_while(|b| b.is_ascii_digit()).count()
}

#[inline]
fn blank(line: &[u8], mut at: usize) -> usize {
    while line.get(at).is_some_and(|b| matches!(b, b' ' | b'\t')) {
        at += 1;
    }
    at
}

/// What stands in the brackets of a comment.
fn inner(line: &[u8]) -> Option<&[u8]> {
    let rest = line.strip_prefix(b"(")?;
    Some(rest.strip_suffix(b")").unwrap_or(rest))
}

#[cfg(test)]
mod tests {
    use super::*;

    fn words(line: &str) -> Words {
        let mut words = Words::default();
        words.take(line.as_bytes());
        words
    }

    #[test]
    fn words_are_read_packed_spaced_and_in_lower_case() {
        for line in [
            "G1 X10 Y-.5 E2",
            "g1x10y-.5e2",
            "N7 G1 X10Y-.5 E2*101 ",
            " G01 X 10 Y -.5 E2",
        ] {
            let words = words(line);
            assert_eq!((words.letter, words.code), (b'G', 1), "{line}");
            assert_eq!(words.get(b'X'), Some(10.0), "{line}");
            assert_eq!(words.get(b'Y'), Some(-0.5), "{line}");
            assert_eq!(words.get(b'E'), Some(2.0), "{line}");
        }
    }

    #[test]
    fn comments_of_both_kinds_hold_no_words() {
        let all = words("G1 X1 (E5 and Y7) Z2 ; E9");
        assert_eq!(
            (all.get(b'E'), all.get(b'Y'), all.get(b'Z')),
            (None, None, Some(2.0))
        );
        assert_eq!(
            Words::default().take(b"; layer 3").1,
            Some(&b" layer 3"[..])
        );
        assert_eq!(Words::default().take(b"(layer 3)").1, Some(&b"layer 3"[..]));
        assert_eq!(words("M117 E5 X9 100%").odd, None);
    }

    #[test]
    fn what_is_odd_is_told_and_what_is_spoken_is_not() {
        assert_eq!(words("G1 Xnan Y1").odd, Some(Odd::NoNumber(b'X')));
        assert_eq!(words("G1 X99999999999").odd, Some(Odd::TooLarge(b'X')));
        assert_eq!(words("N3 G28*5").odd, Some(Odd::Checksum));
        assert_eq!(words("\u{1}\u{2}JFIF").odd, Some(Odd::NoCommand));
        assert_eq!(words("this is no command at all").odd, Some(Odd::NoCommand));
        let spoken = Words::default().take(b"START_PRINT BED=60 NOZZLE=215").0;
        assert_eq!(spoken, Kind::Spoken("START_PRINT", "BED=60 NOZZLE=215"));
        assert_eq!(words("G28 X Y").odd, None);
    }
}
