//! Slips of the pen: inches for millimetres, a decimal place, per cent for a ratio.

use super::shown;

/// How near a slipped number must come to what was expected.
const NEAR: f64 = 0.15;

/// What a reading looks like when it lies far from what was expected: a question, never a
/// correction.
pub fn slip(plain: &str, given: f64, expected: f64, unit: &str) -> Option<String> {
    if !(given > 0.0 && expected > 0.0) {
        return None;
    }
    let near = |factor: f64| (given * factor / expected - 1.0).abs() < NEAR;
    if near(1.0) {
        return None;
    }
    let told = |what: &str, would: f64| {
        format!(
            "{plain} {} {unit} looks like {what}: it would be {} {unit}. Look again before you \
                record it.",
            shown(given),
            shown(would)
        )
    };
    [
        (25.4, "inches"),
        (10.0, "a slipped decimal"),
        (0.1, "a slipped decimal"),
        (0.01, "per cent"),
    ]
    .into_iter()
    .find(|(factor, what)| near(*factor) && (*what != "inches" || unit == "mm"))
    .map(|(factor, what)| told(what, given * factor))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn inches_decimals_and_per_cent_are_caught_and_honest_numbers_pass() {
        for (given, expected, says) in [
            (0.0177, 0.45, "inches"),
            (4.5, 0.45, "decimal"),
            (0.045, 0.45, "decimal"),
            (45.0, 0.45, "per cent"),
        ] {
            assert!(
                slip("mean wall", given, expected, "mm")
                    .unwrap()
                    .contains(says),
                "{given}"
            );
        }
        assert_eq!(slip("mean wall", 0.5, 0.45, "mm"), None);
        assert_eq!(slip("mean wall", 0.38, 0.45, "mm"), None);
    }
}
