//! Readings that may be slips: as they are typed, against what was to be expected.

use super::deck::{Card, Kind, blank};
use suspect_core::measures::slips::{LENGTHS, slip};

/// What is measured, its unit, what is expected, what was typed.
type Typed = (&'static str, &'static str, f64, f64);

/// Readings as people type them.
const READINGS: [Typed; 12] = [
    ("the width of a line", "mm", 0.45, 4.5),
    ("the width of a line", "mm", 0.45, 0.47),
    ("the thickness of a wall", "mm", 0.86, 0.034),
    ("the thickness of a wall", "mm", 0.86, 0.81),
    ("the diameter of the filament", "mm", 1.75, 17.4),
    ("the diameter of the filament", "mm", 1.75, 1.71),
    ("the diameter of the filament", "mm", 1.75, 0.069),
    ("the height of a layer", "mm", 0.2, 20.0),
    ("the height of a layer", "mm", 0.2, 0.22),
    ("the distance of two bands", "mm", 8.0, 0.315),
    ("the edge of a cube", "mm", 20.0, 2.0),
    ("the edge of a cube", "mm", 20.0, 19.86),
];
/// How many there are.
pub(super) const MANY: usize = READINGS.len();
/// The answer where it is none.
const NONE: &str = "as it is";

/// The card of a reading.
pub(super) fn card(n: usize) -> Option<Card> {
    let (what, unit, expected, typed) = *READINGS.get(n)?;
    let question = format!(
        "{expected} {unit} is expected of {what}; somebody typed {typed} {unit}. What is it?"
    );
    let found = slip(typed, expected, LENGTHS);
    let mut card = blank(
        Kind::Reading,
        question,
        found.map_or(NONE, |(_, words)| words),
    );
    let words = [NONE, "inches", "a slipped decimal", "a lost decimal point"];
    let said = |w: &str| match w {
        NONE => "The reading as it is: no slip".to_string(),
        "inches" => "Inches, read as millimetres".to_string(),
        "a slipped decimal" => "A decimal point one place off".to_string(),
        _ => "A lost decimal point".to_string(),
    };
    card.answers = words.map(|w| (w.to_string(), said(w))).to_vec();
    card.because = match found {
        Some((factor, words)) => format!(
            "{words}: {typed} × {factor} = {:.3} {unit}, near the {expected} {unit} expected. Ask \
             before it is reckoned with",
            typed * factor
        ),
        None => format!("{typed} {unit} lies near {expected} {unit}: that is what was read"),
    };
    Some(card)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_reading_has_its_right_answer_among_those_offered() {
        for n in 0..MANY {
            let card = card(n).unwrap();
            assert!(
                card.answers.iter().any(|(v, _)| *v == card.right),
                "{card:?}"
            );
        }
        assert!(card(MANY).is_none());
    }
}
