//! What follows from the numbers: the result, how it was reckoned, how sure, what it says of whom.

use crate::drawing::band::{self, Band};
use crate::pages::bench::context::For;
use crate::pages::parts::line_up::{self, LineUpView};
use crate::pages::parts::reading::{FitView, fits};
use crate::words::{formula, reading};
use crate::{show, urls};
use suspect_core::evidence::Answer;
use suspect_core::knowledge::Knowledge;
use suspect_core::measures::{Given, Measure, Out, against, answers, formulas, with_reading};
use suspect_core::ranking::{LineUp, rank};

/// A formula with names, and with the numbers put in.
pub struct Formula {
    pub words: String,
    pub numbers: Option<String>,
}

/// A finding the reading speaks of.
pub struct Finding {
    pub caption: String,
    pub fits: Vec<FitView>,
}

/// What a reading does to a case's line-up.
pub struct Moves {
    pub line_up: LineUpView,
    /// "Loose pulley 46 % → 71 %": who moves most.
    pub moved: Vec<String>,
}

/// What follows.
pub struct Says {
    pub result: String,
    pub lines: Vec<String>,
    pub band: Option<String>,
    pub formulas: Vec<Formula>,
    pub warnings: Vec<String>,
    /// What looks like a slip, and nobody has said that it is so.
    pub asks: bool,
    pub findings: Vec<Finding>,
    /// Whether it says anything a case can hear.
    pub speaks: bool,
}

/// Suspects named among those that move.
const MOVED: usize = 4;
/// A change below this share is not told.
const LEAST_MOVE: f64 = 0.005;

/// What follows from a measure's numbers.
pub fn says(
    k: &Knowledge,
    measure: &'static Measure,
    (given, out): (&Given, &Out),
    confirmed: bool,
) -> Says {
    let worked = formulas(measure, given, out);
    let worked = worked.iter().map(|f| Formula {
        words: formula::in_words(measure, f),
        numbers: formula::in_numbers(measure, f),
    });
    let said = answers(k, measure, out);
    let speaks = !said.is_empty();
    let findings = said.into_iter().filter_map(|(f, answer)| match answer {
        Answer::Read(weights) => Some(Finding {
            caption: format!("How well it fits: {}", k.finding(f).plain),
            fits: fits(k, f, &weights),
        }),
        _ => None,
    });
    Says {
        result: show::capital(&out.result),
        lines: reading::lines(out),
        band: band_of(measure, given, out),
        formulas: worked.collect(),
        warnings: out.warnings.iter().map(|w| show::sentence(w)).collect(),
        asks: out.slipped && !confirmed,
        findings: findings.collect(),
        speaks,
    }
}

fn band_of(measure: &Measure, given: &Given, out: &Out) -> Option<String> {
    let (name, value, u) = out.uncertain()?;
    let unit = reading::unit_of(name);
    let shown = |v: f64| format!("{}{unit}", reading::signed((v * 1e4).round() / 1e4));
    let against = against(measure, given, out);
    let words = format!(
        "{} {} ± {}{unit}",
        reading::name_of(name),
        show::exact(value),
        u
    );
    (u > 0.0).then(|| {
        band::svg(&Band {
            value,
            u,
            against,
            words: &words,
            shown: shown(value),
            expected: against
                .map(|v| format!("expected {}", shown(v)))
                .unwrap_or_default(),
        })
    })
}

/// The line-up of the case before and after the reading; nothing without a case, or where the
/// reading speaks of nobody.
pub fn moves(k: &Knowledge, measure: &Measure, out: &Out, to: &For) -> Option<Moves> {
    let case = to.case.as_ref().filter(|_| !out.findings.is_empty())?;
    let before = rank(k, &to.facts);
    let after = rank(k, &with_reading(k, &to.facts, measure, out));
    let href = |cause: &str| urls::case_suspect(case.id, cause);
    Some(Moves {
        moved: moved(k, &before, &after),
        line_up: line_up::view(k, &after, Some(&before), None, href),
    })
}

/// Who moves most, in words.
fn moved(k: &Knowledge, before: &LineUp, after: &LineUp) -> Vec<String> {
    let mut all: Vec<(f64, f64, &str)> = after
        .causes
        .iter()
        .map(|l| {
            let was = before.line(l.cause).map_or(0.0, |b| b.probability);
            (was, l.probability, k.cause(l.cause).name.as_str())
        })
        .filter(|(was, now, _)| (was - now).abs() >= LEAST_MOVE)
        .collect();
    all.sort_by(|a, b| (b.1 - b.0).abs().total_cmp(&(a.1 - a.0).abs()));
    let said = |(was, now, name): &(f64, f64, &str)| {
        let (was, now) = (show::percent(*was), show::percent(*now));
        (was != now).then(|| format!("{name} {was} → {now}"))
    };
    all.iter().filter_map(said).take(MOVED).collect()
}
