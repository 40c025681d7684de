//! A short number for a shared station: enough beside the station itself, with five tries.

/// Digits of a PIN.
pub const PIN_DIGITS: (usize, usize) = (4, 8);
/// Wrong PINs of a member at a station before only the passphrase frees it again.
pub const PIN_TRIES: u32 = 5;

/// Why a PIN is refused.
#[derive(Debug, Clone, Copy, PartialEq, Eq, thiserror::Error)]
pub enum PinProblem {
    /// Not digits, too few or too many.
    #[error("a PIN is four to eight digits")]
    Digits,
    /// What everybody tries first.
    #[error("that is what everybody tries first: no row of digits, no four the same, no year")]
    Common,
}

/// Checks a PIN.
///
/// # Errors
/// When it is no PIN, or one that everybody tries.
pub fn pin(text: &str) -> Result<(), PinProblem> {
    let digits: Vec<u8> = text.bytes().collect();
    let (least, most) = PIN_DIGITS;
    if !(least..=most).contains(&digits.len()) || !digits.iter().all(u8::is_ascii_digit) {
        return Err(PinProblem::Digits);
    }
    let steps = |by: i16| {
        digits
            .windows(2)
            .all(|w| i16::from(w[1]) - i16::from(w[0]) == by)
    };
    let half = digits.len() / 2;
    let twice = digits.len().is_multiple_of(2) && digits[..half] == digits[half..];
    let year = digits.len() == 4 && (text.starts_with("19") || text.starts_with("20"));
    match steps(0) || steps(1) || steps(-1) || twice || year {
        true => Err(PinProblem::Common),
        false => Ok(()),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_pin_is_digits_that_not_everybody_tries() {
        assert_eq!(pin("4917"), Ok(()));
        assert_eq!(pin("80135"), Ok(()));
        for odd in ["", "123", "12 4", "12a4", "123456789", "١٢٣٤"] {
            assert_eq!(pin(odd), Err(PinProblem::Digits), "{odd}");
        }
        for common in [
            "0000", "1234", "9876", "2345", "1998", "2026", "1212", "7777777",
        ] {
            assert_eq!(pin(common), Err(PinProblem::Common), "{common}");
        }
    }
}
