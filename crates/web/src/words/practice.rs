//! Words of practice.

use suspect_rehearsal::practice::Level;

/// What a level is called.
pub fn level(level: Level) -> &'static str {
    match level {
        Level::Clear => "Clear: what is told points at who it is",
        Level::Messy => "Messy: little is told, and one thing of it is wrong",
        Level::PopularWrong => "Popular and wrong: what is told points at somebody else",
        Level::TwoCauses => "Two at once",
        Level::NothingWrong => "Nothing wrong: that is how prints look",
        Level::Dangerous => "Dangerous: the machine must stop first",
    }
}

/// The same in a word or two.
pub fn level_short(level: Level) -> &'static str {
    match level {
        Level::Clear => "Clear",
        Level::Messy => "Messy",
        Level::PopularWrong => "Popular and wrong",
        Level::TwoCauses => "Two at once",
        Level::NothingWrong => "Nothing wrong",
        Level::Dangerous => "Dangerous",
    }
}

/// What somebody is asked to pass: "3 × Messy".
pub fn asked(many: i32, level: &str) -> String {
    format!("{many} × {}", Level::from_id(level).map_or("", level_short))
}

/// What of it was passed: "2 of 3 passed".
pub fn passed(passed: i64, many: i32) -> String {
    format!("{passed} of {many} passed")
}

/// How a case ended, by the identifier of its end.
pub fn ended(end: &str) -> &'static str {
    match end {
        "solved" => "Solved",
        "made-safe" => "Made safe in time",
        "harm" => "Work on a machine that had to stand still",
        "hands" => "Hands in a machine under power",
        "overlooked" => "A danger overlooked",
        "mistaken" => "Called ordinary, and was not",
        _ => "Given up",
    }
}

/// Minutes above the advice: "+12 min", "−3 min".
pub fn score(minutes: f64) -> String {
    let sign = if minutes.round() < 0.0 { "−" } else { "+" };
    format!("{sign}{}", crate::show::minutes(minutes.abs().round()))
}
