//! What a number looks like that lies far from what was expected: inches, a decimal, per cent. It
//! is asked about and never mended.

/// A factor that would bring a slipped number near, and what it is called.
pub type Factor = (f64, &'static str);

/// Lengths.
pub const LENGTHS: &[Factor] = &[
    (25.4, "inches"),
    (10.0, "a slipped decimal"),
    (0.1, "a slipped decimal"),
    (0.01, "a lost decimal point"),
    (0.0254, "thousandths of an inch"),
];
/// Small lengths, where inches and a decimal may slip at once.
pub const SMALL: &[Factor] = &[
    (25.4, "inches"),
    (10.0, "a slipped decimal"),
    (0.1, "a slipped decimal"),
    (0.01, "a lost decimal point"),
    (0.0254, "thousandths of an inch"),
    (2.54, "inches with a slipped decimal"),
];
/// Numbers that are no lengths.
pub const PLAIN: &[Factor] = &[
    (10.0, "a slipped decimal"),
    (0.1, "a slipped decimal"),
    (0.01, "per cent"),
    (100.0, "a ratio for per cent"),
];

/// Within this of what was expected, in the logarithm, nothing is asked.
const NEAR: f64 = 1.3;

/// The slip that brings a number nearest to what was expected, with its factor; nothing when it is
/// near as it stands, or nothing fits.
pub fn slip(value: f64, expected: f64, table: &[Factor]) -> Option<Factor> {
    let off = |factor: f64| (value * factor / expected).ln().abs();
    if !(value > 0.0 && expected > 0.0) || off(1.0) <= NEAR.ln() {
        return None;
    }
    let fits = table.iter().filter(|(f, _)| off(*f) <= NEAR.ln());
    fits.min_by(|a, b| off(a.0).total_cmp(&off(b.0))).copied()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_slip_is_known_by_its_factor_and_a_near_number_is_none() {
        let of = |v, e, t| slip(v, e, t).map(|(_, what)| what);
        assert_eq!(of(0.018, 0.45, LENGTHS), Some("inches"));
        assert_eq!(of(4.5, 0.45, LENGTHS), Some("a slipped decimal"));
        assert_eq!(of(45.0, 0.45, LENGTHS), Some("a lost decimal point"));
        assert_eq!(of(18.0, 0.45, LENGTHS), Some("thousandths of an inch"));
        assert_eq!(of(0.34, 0.85, SMALL), Some("inches with a slipped decimal"));
        assert_eq!(of(0.34, 0.85, LENGTHS), None);
        assert_eq!(of(0.5, 0.45, SMALL), None);
        assert_eq!(of(-1.0, 0.45, SMALL), None);
    }
}
