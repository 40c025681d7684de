//! Numbers as print files write them.
//!
//! An `E` after a number is the next word and no exponent: `G1X10E2` is X 10, E 2. So the readers
//! of the standard library do not serve; they also take `nan` and `inf`.

/// Powers of ten a double holds exactly.
const TENS: [f64; 16] = [
    1.0, 1e1, 1e2, 1e3, 1e4, 1e5, 1e6, 1e7, 1e8, 1e9, 1e10, 1e11, 1e12, 1e13, 1e14, 1e15,
];

/// Digits a double holds exactly.
const DIGITS: u32 = 15;

/// The number at the beginning of `bytes`, and how many bytes it takes. None where there is no
/// digit.
#[inline]
pub(crate) fn read(bytes: &[u8]) -> Option<(f64, usize)> {
    let negative = bytes.first() == Some(&b'-');
    let mut at = usize::from(negative || bytes.first() == Some(&b'+'));
    let first = at;
    let mut whole: u64 = 0;
    while let Some(digit) = digit(bytes, at) {
        whole = whole.wrapping_mul(10).wrapping_add(digit);
        at += 1;
    }
    let mut digits = at - first;
    let mut decimals = 0;
    if bytes.get(at) == Some(&b'.') {
        at += 1;
        let point = at;
        while let Some(digit) = digit(bytes, at) {
            whole = whole.wrapping_mul(10).wrapping_add(digit);
            at += 1;
        }
        decimals = at - point;
        digits += decimals;
    }
    if digits == 0 {
        return None;
    }
    if digits > DIGITS as usize {
        return long(&bytes[..at]).map(|value| (value, at));
    }
    let value = whole as f64 / TENS[decimals];
    Some((if negative { -value } else { value }, at))
}

#[inline]
fn digit(bytes: &[u8], at: usize) -> Option<u64> {
    let digit = bytes.get(at)?.wrapping_sub(b'0');
    (digit < 10).then_some(u64::from(digit))
}

#[cold]
fn long(bytes: &[u8]) -> Option<f64> {
    std::str::from_utf8(bytes).ok()?.parse().ok()
}

#[cfg(test)]
mod tests {
    use super::read;

    #[test]
    fn a_number_ends_where_the_next_word_begins() {
        assert_eq!(read(b"10E2"), Some((10.0, 2)));
        assert_eq!(read(b".5Y"), Some((0.5, 2)));
        assert_eq!(read(b"-.25"), Some((-0.25, 4)));
        assert_eq!(read(b"+3. "), Some((3.0, 3)));
        assert_eq!(read(b"0.04217"), Some((0.04217, 7)));
    }

    #[test]
    fn what_has_no_digit_is_no_number() {
        for none in [&b"nan"[..], b"inf", b"-", b".", b"", b"-.", b"e5"] {
            assert_eq!(read(none), None, "{none:?}");
        }
    }

    #[test]
    fn more_digits_than_a_double_holds_are_read_as_the_library_reads_them() {
        let (value, taken) = read(b"123456789012345678901.5X").unwrap();
        assert_eq!(taken, 23);
        assert!((value / 123_456_789_012_345_678_901.5 - 1.0).abs() < 1e-15);
    }
}
