//! Plain moves, taken apart eight bytes at a time.
//!
//! Nearly every line of a print file is `G1` with a few numbers. Looked at byte by byte such lines
//! would be most of the work of reading. Here the places of everything that is no digit are found
//! first, eight bytes at a time; numbers lie between them, and their digits are joined in pairs.

use super::lines::LONGEST_LINE;
use super::number;
use super::words::{LARGEST, Words};
use memchr::memchr;
use std::num::NonZeroU64;

/// Bytes that a plain move may have, its end among them.
const LONGEST: usize = 64;

/// Bytes looked at: a number may be read beyond its end.
type Window = [u8; LONGEST + 8];

/// The words that a move heeds, in the order in which their numbers stand.
const HEEDED: [u8; 5] = *b"XYZEF";

/// Room for their numbers, and for that of a word that no move heeds.
const NUMBERS: usize = 8;

/// Where the number of a word stands, by the last five bits of its letter.
const PLACES: [u8; 32] = {
    let mut places = [HEEDED.len() as u8; 32];
    let mut at = 0;
    while at < HEEDED.len() {
        places[(HEEDED[at] % 32) as usize] = at as u8;
        at += 1;
    }
    places
};

/// What a move says.
#[derive(Debug, Clone, Copy, Default)]
pub(crate) struct Move {
    /// A bit for each word that is there.
    set: u8,
    /// Numbers of X, Y, Z, E, F, and of a word that no move heeds.
    values: [f64; NUMBERS],
}

impl Move {
    /// The words of a line that a move heeds.
    pub fn of(words: &Words) -> Self {
        let mut this = Move::default();
        for (at, letter) in HEEDED.into_iter().enumerate() {
            if let Some(value) = words.get(letter) {
                this.set |= 1 << at;
                this.values[at] = value;
            }
        }
        this
    }

    /// A place on an axis: 0 to 2 for X, Y, Z.
    #[inline]
    pub fn axis(&self, axis: usize) -> Option<f64> {
        self.word(axis)
    }

    /// Filament.
    #[inline]
    pub fn filament(&self) -> Option<f64> {
        self.word(3)
    }

    /// Speed.
    #[inline]
    pub fn feed(&self) -> Option<f64> {
        self.word(4)
    }

    #[inline]
    fn word(&self, at: usize) -> Option<f64> {
        if self.set & 1 << at != 0 {
            Some(self.values[at])
        } else {
            None
        }
    }

    /// Takes a plain move apart at the beginning of `bytes`: `G0` or `G1`, words in capital letters
    /// with numbers, perhaps a comment, the line's end. Returns the line's length and the comment.
    /// None for whatever else stands there or too near the end of the bytes, which
    /// [`Words::take`] has to look at; this is no move then.
    #[inline]
    pub fn take<'a>(&mut self, bytes: &'a [u8]) -> Option<(usize, Option<&'a [u8]>)> {
        let end = self.take_words(bytes)?;
        if bytes[end] == b'\n' {
            return Some((end + 1, None));
        }
        let comment = &bytes[end + 1..];
        let length = memchr(b'\n', comment).filter(|length| *length < LONGEST_LINE / 2)?;
        Some((end + 1 + length + 1, Some(&comment[..length])))
    }

    /// The same up to the end of the words: the place of a comment's sign or of the line's end.
    #[inline]
    fn take_words(&mut self, bytes: &[u8]) -> Option<usize> {
        let window: &Window = bytes.first_chunk()?;
        if window[0] != b'G' || window[1] & !1 != b'0' {
            return None;
        }
        let mut marks = Marks::of(window);
        marks.pass();
        // Another digit makes it another command.
        if marks.next()? != 2 {
            return None;
        }
        let mut set = 0;
        let end = loop {
            let mut at = marks.next()?;
            if window[at] == b' ' {
                marks.pass();
                at += 1;
            }
            let letter = window[at];
            if !letter.is_ascii_uppercase() {
                break at;
            }
            let place = usize::from(PLACES[usize::from(letter % 32)]);
            marks.pass();
            self.values[place % NUMBERS] = marks.number(at + 1)?;
            set |= 1 << place;
        };
        let end = end + usize::from(window[end] == b'\r');
        if !matches!(window[end], b'\n' | b';') {
            return None;
        }
        self.set = set;
        Some(end)
    }
}

/// The places of what is no digit, from a place on.
struct Marks<'a> {
    window: &'a Window,
    /// A bit for each place.
    ahead: u64,
    /// The second half is in `ahead`, too.
    whole: bool,
}

impl<'a> Marks<'a> {
    #[inline]
    fn of(window: &'a Window) -> Self {
        Marks {
            window,
            ahead: half(window, 0),
            whole: false,
        }
    }

    /// The next one; none where it is too far away.
    #[inline]
    fn next(&mut self) -> Option<usize> {
        if self.ahead == 0 && !self.whole {
            (self.ahead, self.whole) = (second_half(self.window), true);
        }
        let ahead = NonZeroU64::new(self.ahead)?;
        Some(ahead.trailing_zeros() as usize % LONGEST)
    }

    /// Goes beyond the next one.
    #[inline]
    fn pass(&mut self) {
        self.ahead &= self.ahead.wrapping_sub(1);
    }

    /// The number that begins at a place, and stands before the next mark afterwards.
    #[inline]
    fn number(&mut self, from: usize) -> Option<f64> {
        let mut from = from;
        let mut end = self.next()?;
        if end < from {
            // The letter begins the second half, at which nobody had looked yet.
            self.pass();
            end = self.next()?;
        }
        let negative = end == from && self.window[end] == b'-';
        if negative {
            self.pass();
            from += 1;
            end = self.next()?;
        }
        let mut point = None;
        if self.window[end] == b'.' {
            self.pass();
            point = Some(end);
            end = self.next()?;
        }
        let value = match point {
            _ if end - from <= usize::from(point.is_some()) => return None,
            Some(point) if end - from <= 8 && point - from <= 6 => {
                let digits = eight(self.window, from) << (64 - 8 * (end - from));
                let decimals = end - point - 1;
                let behind = BEHIND[decimals];
                let digits = digits & behind | digits << 8 & !behind;
                exact(joined(digits)) / TENS[decimals]
            }
            Some(point) if point - from <= 7 && end - point <= 8 => {
                let decimals = end - point - 1;
                let whole = self.whole_number(from, point) * WHOLE_TENS[decimals];
                exact(whole + self.whole_number(point + 1, end)) / TENS[decimals]
            }
            None if end - from <= 6 => exact(self.whole_number(from, end)),
            _ => number::read(&self.window[from..])?.0,
        };
        if value > LARGEST {
            return None;
        }
        Some(if negative { -value } else { value })
    }

    /// The number that the digits from one place to another write: at most eight.
    #[inline]
    fn whole_number(&self, from: usize, end: usize) -> u64 {
        if from == end {
            return 0;
        }
        joined(eight(self.window, from) << (64 - 8 * (end - from)))
    }
}

/// Powers of ten up to seven decimals.
const TENS: [f64; 8] = [1.0, 1e1, 1e2, 1e3, 1e4, 1e5, 1e6, 1e7];
const WHOLE_TENS: [u64; 8] = [1, 10, 100, 1000, 10_000, 100_000, 1_000_000, 10_000_000];

/// So many bytes at the end of eight.
const BEHIND: [u64; 8] = [
    0,
    0xff << 56,
    0xffff << 48,
    0xff_ffff << 40,
    0xffff_ffff << 32,
    0xff_ffff_ffff << 24,
    0xffff_ffff_ffff << 16,
    0xff_ffff_ffff_ffff << 8,
];

/// Eight bytes from a place on, the first in the lowest byte.
#[inline]
fn eight(window: &Window, from: usize) -> u64 {
    let from = from % LONGEST;
    let mut bytes = [0; 8];
    bytes.copy_from_slice(&window[from..from + 8]);
    u64::from_le_bytes(bytes)
}

/// The number that eight digits write, the first in the lowest byte. A byte of 0 is a 0, too.
#[inline]
fn joined(digits: u64) -> u64 {
    // Joined by pairs, by fours, and all eight.
    let ones = digits & 0x0f0f_0f0f_0f0f_0f0f;
    let pairs = (ones * 10 + (ones >> 8)) & 0x00ff_00ff_00ff_00ff;
    let fours = (pairs * 100 + (pairs >> 16)) & 0x0000_ffff_0000_ffff;
    (fours * 10_000 + (fours >> 32)) & 0xffff_ffff
}

/// A whole number below 2^52 as a double, which holds it exactly.
#[inline]
fn exact(whole: u64) -> f64 {
    const LARGE: f64 = (1_u64 << 52) as f64;
    f64::from_bits(LARGE.to_bits() | whole) - LARGE
}

#[cold]
#[inline(never)]
fn second_half(window: &Window) -> u64 {
    half(window, LONGEST / 2) << (LONGEST / 2)
}

/// Half of a window from a place on: a bit for each byte that is no digit.
#[inline]
fn half(window: &Window, from: usize) -> u64 {
    (0..LONGEST / 2 / 8).fold(0, |marks, at| {
        // A digit is 0 to 9 now, and 0x76 more of it stays below 0x80.
        let digits = eight(window, from + 8 * at) ^ 0x3030_3030_3030_3030;
        let above = (digits & 0x7f7f_7f7f_7f7f_7f7f) + 0x7676_7676_7676_7676;
        let others = (above | digits) & 0x8080_8080_8080_8080;
        // Multiplied so, the highest bits of all bytes come to lie side by side in the last byte.
        let bits = (others >> 7).wrapping_mul(0x0102_0408_1020_4080) >> 56;
        marks | bits << (8 * at)
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    /// Reads a line the quick way, with other lines behind it.
    fn quick(line: &str) -> Option<(Move, usize)> {
        let mut read = Move::default();
        let bytes = [line.as_bytes(), &[b'7'; 80]].concat();
        read.take(&bytes).map(|(length, _)| (read, length))
    }

    fn words(read: &Move) -> [Option<f64>; 5] {
        [0, 1, 2, 3, 4].map(|at| read.word(at))
    }

    #[test]
    fn plain_moves_are_read_at_once() {
        for (line, told) in [
            ("G1 X107.123 Y60.5 E.02821\n", [107.123, 60.5, 0.02821]),
            ("G0X107.123Y-60E0\r\n", [107.123, -60.0, 0.0]),
            ("G1 X7 Y1 E.5 ; to: E9\n", [7.0, 1.0, 0.5]),
            (
                "G1 F1800 X1. Y-.5 E12345.67891\n",
                [1.0, -0.5, 12_345.678_91],
            ),
            (
                "G1 X999999 Y0.0000001 E0.1234567\n",
                [999_999.0, 1e-7, 0.123_456_7],
            ),
        ] {
            let (read, length) = quick(line).unwrap_or_else(|| panic!("{line}"));
            let [x, y, _, e, _] = words(&read).map(Option::unwrap_or_default);
            assert_eq!(([x, y, e], length), (told, line.len()), "{line}");
        }
    }

    #[test]
    fn the_middle_of_the_window_may_fall_anywhere() {
        for digits in 1..=40 {
            let line = format!("G1 X0.{:0digits$} Y-2.5 E1 F3\n", 5);
            if let Some((read, _)) = quick(&line) {
                let [_, y, _, e, feed] = words(&read);
                assert_eq!((y, e, feed), (Some(-2.5), Some(1.0), Some(3.0)), "{line}");
            }
            let line = format!("G1 X2.5 {:0digits$}\n", 5);
            assert!(quick(&line).is_none(), "{line}");
        }
    }

    #[test]
    fn other_lines_are_left_to_the_careful_reader() {
        let long = format!("G1 X1 {}\n", "Y2 ".repeat(30));
        for line in [
            "G2 X1 I5\n",
            "G10\n",
            "G1.1 X1\n",
            "g1 x1\n",
            "G1 X1 (to the side)\n",
            "G1 X1*33\n",
            "G1 X 1\n",
            "G1 Xnan\n",
            "G1 X-\n",
            "G1 X.\n",
            "G1 X1000001\n",
            "G1 X1e5\n",
            "G1 X1",
            "N5 G1 X1\n",
            &long,
        ] {
            assert!(quick(line).is_none(), "{line}");
        }
        assert_eq!(Move::default().take(b"G1 X1\n"), None, "too near the end");
        let torn = format!("G1 X1 ; to the {}", " side".repeat(20));
        assert_eq!(Move::default().take(torn.as_bytes()), None, "torn comment");
    }

    proptest! {
        #[test]
        fn both_ways_of_reading_agree(
            code in "G[01]",
            told in prop::collection::vec("[XYZEFS] ?-?[0-9]{0,9}(\\.[0-9]{0,8})?", 0..6),
            between in " {0,2}",
            end in " ?(;[ -~]{0,40})?\r?\n",
        ) {
            let line = format!("{code}{between}{}{end}", told.join(&between));
            let mut read = Move::default();
            let bytes = [line.as_bytes(), &[b'7'; 80]].concat();
            if let Some((length, comment)) = read.take(&bytes) {
                let mut careful = Words::default();
                let line = line.trim_end_matches('\n');
                let line = line.strip_suffix('\r').unwrap_or(line);
                let (_, said) = careful.take(line.as_bytes());
                prop_assert_eq!(careful.odd, None);
                prop_assert_eq!(comment.map(<[u8]>::trim_ascii), said.map(<[u8]>::trim_ascii));
                prop_assert_eq!(words(&read), words(&Move::of(&careful)), "{}", line);
                prop_assert_eq!(bytes[length - 1], b'\n');
            }
        }
    }
}
