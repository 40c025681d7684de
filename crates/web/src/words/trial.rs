//! Trials in words: grades, suspicion, verdicts, ends.

use crate::show;
use suspect_core::series::{How, Series};
use suspect_core::trials::{Confidence, Finding, Grade, Planned, Suspicion, Verdict, Word};

/// The grades with what each means.
pub const GRADES: [(u8, &str); 6] = [
    (0, "worse than ever"),
    (1, "the fault, plain"),
    (2, "the fault, weaker"),
    (3, "half gone"),
    (4, "nearly clean"),
    (5, "as the baseline"),
];

/// Words against the bad piece, by identifier.
pub const GRADE_WORDS: [(&str, Word); 5] = [
    ("cured", Word::Cured),
    ("better", Word::Better),
    ("same", Word::Same),
    ("worse", Word::Worse),
    ("unclear", Word::Unclear),
];

/// A grade in words.
pub fn grade(grade: Grade) -> String {
    match grade {
        Grade::Number(g) => g.to_string(),
        Grade::Word(word) => word.plain().into(),
    }
}

/// How sure, where it is not sure.
pub fn confidence(confidence: Confidence) -> &'static str {
    match confidence {
        Confidence::Sure => "",
        Confidence::Likely => "likely so",
        Confidence::Hunch => "a hunch",
    }
}

/// A suspicion word.
pub fn suspicion(suspicion: Suspicion) -> &'static str {
    match suspicion {
        Suspicion::Likely => "likely",
        Suspicion::Possible => "possible",
        Suspicion::Unlikely => "unlikely",
    }
}

/// How a series ended.
pub fn ended(how: How) -> &'static str {
    match how {
        How::Solved => "Found and put back",
        How::Elsewhere => "The whole list is cleared: look elsewhere",
        How::ComesAndGoes => "It comes and goes by itself: look for drift",
        How::LivingWithIt => "The good values stay: cheaper than finding out",
        How::LeftOff => "Left unfinished",
    }
}

/// A verdict that its own piece proved.
pub fn proven(series: &Series, planned: &Planned, verdict: Verdict) -> String {
    let sure = show::percent(verdict.probability);
    match verdict.finding {
        Finding::Set(set) => {
            let names = series.names(planned, set);
            let word = if set.count() > 1 {
                "It takes both: "
            } else {
                "It is "
            };
            format!("{word}{} ({sure})", names.join(" and "))
        }
        Finding::Elsewhere => format!("The whole list is cleared: look elsewhere ({sure})"),
        Finding::ComesAndGoes => {
            format!("It comes and goes by itself: stop toggling, look for drift ({sure})")
        }
        Finding::Together(a, b) => {
            let name = |unit: usize| planned.plan.units[unit].name.as_str();
            let (a, b) = (name(a), name(b));
            format!("It takes two together: {a} and {b}; either put back cures ({sure})")
        }
    }
}

/// The test piece that serves the check or the fix of this page: its name, and its address, for the
/// case where the page belongs to one.
pub fn piece_of_this_page() -> Option<(&'static str, String)> {
    let here = crate::screen::here();
    let path = here.split(['?', '#']).next().unwrap_or_default();
    let parts: Vec<&str> = path.trim_matches('/').split('/').collect();
    let sheet = suspect_pieces::sheets::for_work(parts.last()?)?;
    let piece = suspect_pieces::piece(&sheet.piece)?;
    let href = crate::urls::piece(piece.id);
    Some(match parts[..] {
        ["cases", id, ..] => (piece.name, format!("{href}?case={id}")),
        _ => (piece.name, href),
    })
}

/// The piece that is printed.
pub fn piece_name(id: &str) -> String {
    suspect_pieces::piece(id).map_or_else(
        || {
            if id.is_empty() {
                "The case's own model".into()
            } else {
                id.to_owned()
            }
        },
        |p| format!("Test piece: {}", p.name),
    )
}
