//! A stream of bytes cut into lines, whatever pieces it comes in.

use memchr::memchr;

/// Bytes of one line that are read. What is longer is cut, and said to be.
pub const LONGEST_LINE: usize = 64 * 1024;

/// One line and its place.
#[derive(Debug, Clone, Copy)]
pub(crate) struct Line<'a> {
    /// The line without its end.
    pub bytes: &'a [u8],
    /// Counted from 1.
    pub number: u64,
    /// Where it begins in the file, in bytes.
    pub offset: u64,
    /// It was longer than [`LONGEST_LINE`], and this is its beginning.
    pub cut: bool,
}

/// Cuts what it is fed into lines. Keeps the torn line between two pieces, at most
/// [`LONGEST_LINE`] bytes of it.
#[derive(Debug, Default)]
pub(crate) struct Lines {
    torn: Vec<u8>,
    /// Bytes of the torn line, those thrown away included.
    length: u64,
    number: u64,
    offset: u64,
}

impl Lines {
    /// Goes on in the middle of a file: the next line has this number and place.
    pub fn from(number: u64, offset: u64) -> Self {
        Lines {
            number: number.saturating_sub(1),
            offset,
            ..Lines::default()
        }
    }

    /// Lines that ended so far.
    pub fn count(&self) -> u64 {
        self.number
    }

    /// Calls `each` with every line that `bytes` completes.
    #[inline]
    pub fn feed(&mut self, mut bytes: &[u8], mut each: impl FnMut(Line<'_>)) {
        while let Some(rest) = self.cut(bytes, &mut each) {
            bytes = rest;
        }
    }

    /// Whether what is fed next begins a line.
    #[inline]
    pub fn begins(&self) -> bool {
        self.length == 0
    }

    /// A line that somebody else has read, with its end so many bytes long. Its number and place.
    #[inline]
    pub fn pass(&mut self, length: usize) -> (u64, u64) {
        let offset = self.offset;
        self.number += 1;
        self.offset += length as u64;
        (self.number, offset)
    }

    /// Calls `each` with the line that ends next, and returns what follows it; keeps `bytes` where
    /// none ends in them.
    #[inline]
    pub fn cut<'a>(&mut self, bytes: &'a [u8], mut each: impl FnMut(Line<'_>)) -> Option<&'a [u8]> {
        let Some(end) = memchr(b'\n', bytes) else {
            self.keep(bytes);
            return None;
        };
        let (line, rest) = (&bytes[..end], &bytes[end + 1..]);
        self.number += 1;
        if self.length == 0 {
            let cut = line.len() > LONGEST_LINE;
            let kept = if cut { &line[..LONGEST_LINE] } else { line };
            each(self.line(kept, cut));
            self.offset += end as u64 + 1;
        } else {
            self.keep(line);
            let torn = std::mem::take(&mut self.torn);
            each(self.line(&torn, self.length > LONGEST_LINE as u64));
            self.offset += self.length + 1;
            self.torn = torn;
            self.torn.clear();
            self.length = 0;
        }
        Some(rest)
    }

    /// The last line, when the file does not end with a line's end.
    pub fn end(&mut self, mut each: impl FnMut(Line<'_>)) {
        if self.length > 0 {
            self.number += 1;
            let torn = std::mem::take(&mut self.torn);
            each(self.line(&torn, self.length > LONGEST_LINE as u64));
            self.offset += std::mem::take(&mut self.length);
        }
    }

    fn keep(&mut self, bytes: &[u8]) {
        self.length += bytes.len() as u64;
        let room = LONGEST_LINE
            .saturating_sub(self.torn.len())
            .min(bytes.len());
        self.torn.extend_from_slice(&bytes[..room]);
    }

    fn line<'a>(&self, bytes: &'a [u8], cut: bool) -> Line<'a> {
        let bytes = bytes.strip_suffix(b"\r").unwrap_or(bytes);
        Line {
            bytes,
            number: self.number,
            offset: self.offset,
            cut,
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn all(pieces: &[&[u8]]) -> Vec<(Vec<u8>, u64, u64, bool)> {
        let mut lines = Lines::default();
        let mut found = Vec::new();
        let mut each = |line: Line<'_>| {
            found.push((line.bytes.to_vec(), line.number, line.offset, line.cut));
        };
        for piece in pieces {
            lines.feed(piece, &mut each);
        }
        lines.end(&mut each);
        found
    }

    #[test]
    fn lines_keep_number_and_place_however_they_are_torn() {
        let whole = all(&[b"G28\r\nG1 X1\n\nM84"]);
        assert_eq!(whole.len(), 4);
        assert_eq!(whole[1], (b"G1 X1".to_vec(), 2, 5, false));
        assert_eq!(whole[3], (b"M84".to_vec(), 4, 12, false));
        assert_eq!(
            all(&[b"G2", b"8\r", b"\nG1 X", b"1\n", b"\nM8", b"4"]),
            whole
        );
    }

    #[test]
    fn a_line_without_end_takes_no_more_room_than_a_long_one() {
        let piece = vec![b'x'; 50_000];
        let found = all(&[&piece, &piece, &piece, b"\nG28\n"]);
        assert_eq!(found[0].0.len(), LONGEST_LINE);
        assert!(found[0].3);
        assert_eq!(
            (&found[1].0[..], found[1].2, found[1].3),
            (&b"G28"[..], 150_001, false)
        );
    }
}
