//! The proof of a fix in words: how the fault struck, what the clean prints say, what is missing.

use crate::show;
use suspect_core::case::{Beside, CaseState, Lost, Proving, Shows, Struck};
use suspect_core::learning::hold::Holds;

/// When in a print a fault shows.
pub fn shows(shows: Shows) -> &'static str {
    match shows {
        Shows::AllTheTime => "all the time",
        Shows::FirstLayer => "in the first layer",
        Shows::AtPlace => "at a height, a feature or a passage of the file",
        Shows::AfterHours => "only after hours of printing",
        Shows::AnyMoment => "at any moment",
    }
}

/// "Struck in 2 of 5 prints, only after hours of printing (latest after 3 h)".
pub fn struck(struck: &Struck) -> String {
    let often = match (struck.every, struck.prints, struck.of) {
        (true, ..) => "in every print".to_string(),
        (false, 1, 1) => "once so far".to_string(),
        (false, k, n) => format!("in {k} of {n} prints"),
    };
    let clean = match struck.clean_before {
        Some(0) | None => String::new(),
        Some(1) => ", after one clean one".to_string(),
        Some(n) => format!(", after {n} clean ones"),
    };
    let hours = match (struck.shows, struck.hours) {
        (Shows::AfterHours, Some(h)) => format!(" (latest after {})", show::with_unit(h, "h")),
        (Shows::AnyMoment, Some(h)) => format!(" of {} in all", show::with_unit(h, "h")),
        _ => String::new(),
    };
    format!("Struck {often}{clean}, {}{hours}", shows(struck.shows))
}

/// What proved a fix beside clean prints.
pub fn beside(how: Beside) -> &'static str {
    match how {
        Beside::CheckSound => "The check that told was repeated: sound",
        Beside::FaultBack => "With the old value back the fault was there again",
    }
}

/// "6.5 h, 84 g", or where it was stopped.
pub fn loss(lost: &Lost) -> String {
    let hours = lost.hours.map(|h| show::with_unit(h, "h"));
    let grams = lost.grams.map(|g| show::with_unit(g, "g"));
    let amounts: Vec<String> = hours.into_iter().chain(grams).collect();
    match amounts.is_empty() {
        true => "first layer".into(),
        false => amounts.join(", "),
    }
}

/// "The failed print cost 6.5 h, 84 g; stopped in its first layer".
pub fn lost(lost: &Lost) -> String {
    match (lost.first_layer, lost.hours.or(lost.grams)) {
        (true, None) => "The failed print was stopped in its first layer".into(),
        (true, Some(_)) => format!(
            "The failed print cost {}; stopped in its first layer",
            loss(lost)
        ),
        (false, _) => format!("The failed print cost {}", loss(lost)),
    }
}

fn prints(n: u32) -> String {
    match n {
        1 => "one clean print".into(),
        n => format!("{n} clean prints"),
    }
}

/// What is still missing: "3 clean prints more of at least 6 h each prove it".
pub fn missing(p: &Proving) -> Option<String> {
    if p.proven {
        return None;
    }
    if let Some(hours) = p.more_hours {
        let hours = show::with_unit((hours * 10.0).ceil() / 10.0, "h");
        return Some(format!("{hours} of clean printing more prove it."));
    }
    let more = if p.prints > 0 { " more" } else { "" };
    let each = p.whole_hours.map_or(String::new(), |hours| {
        let each = if p.more_prints == 1 { "" } else { " each" };
        format!(" of at least {}{each}", show::minutes(hours * 60.0))
    });
    let verb = if p.more_prints == 1 {
        "proves"
    } else {
        "prove"
    };
    Some(format!(
        "{}{more}{each} {verb} it.",
        show::capital(&prints(p.more_prints))
    ))
}

/// What the prints since a fix say of an improvement: "Of 4 prints since it 1 showed the fault:
/// rarer than before with 71 %."
pub fn rarer(case: &CaseState) -> Option<String> {
    let since = case.since.as_ref().filter(|s| s.strikes > 0)?;
    let chance = show::percent(case.rarer()?);
    let told = match (since.prints, since.strikes) {
        (1, _) => "The one print since the fix showed the fault".to_string(),
        (n, k) if n == k => format!("All {n} prints since the fix showed the fault"),
        (n, k) => format!("Of {n} prints since the fix {k} showed the fault"),
    };
    let weaker = match since.better {
        0 => String::new(),
        1 => ", once weaker".to_string(),
        n => format!(", {n} times weaker"),
    };
    Some(format!(
        "{told}{weaker}: it strikes less often than before with {chance}."
    ))
}

/// Why "improved" may not be said yet, where a print since the last fix showed the fault.
pub fn not_improved(case: &CaseState) -> Option<String> {
    let told = rarer(case).filter(|_| !case.improved() && case.weakened_by().is_some())?;
    Some(format!(
        "{told} “Improved” takes two prints a step better than the one kept, or 90 %."
    ))
}

/// Where prints alone do not get anywhere.
pub const OTHER_PROOFS: &str = "Prints alone can hardly prove it. Quicker: do the check that spoke \
    for the cause again, or put the old value back and see the fault again.";

/// Which prints count as proof.
pub fn reaches(shows: Shows) -> &'static str {
    match shows {
        Shows::AllTheTime => {
            "A print counts on this machine and material, with the same file or a piece that \
             showed it, half an hour at least."
        }
        Shows::FirstLayer | Shows::AtPlace => {
            "A print counts on this machine and material once that place is printed, as large and \
             in the same spot."
        }
        Shows::AfterHours => {
            "A print counts on this machine and material by how long it runs; a short one proves \
             little or nothing."
        }
        Shows::AnyMoment => "Hours of clean printing on this machine and material count.",
    }
}

/// What the clean prints so far say.
pub fn so_far(p: &Proving) -> Option<String> {
    (p.prints > 0).then(|| {
        format!(
            "{} so far: left alone the fault would have stayed away as long with {}; it is still \
             there with {}.",
            show::capital(&prints(p.prints as u32)),
            show::percent(p.silent),
            show::percent(p.still_there)
        )
    })
}

/// "83 % hold 90 days (68 to 94 %)".
pub fn holds(holds: Holds, days: f64) -> String {
    format!(
        "{} hold {days:.0} days ({} to {})",
        show::percent(holds.chance),
        show::percent(holds.low),
        show::percent(holds.high)
    )
}
