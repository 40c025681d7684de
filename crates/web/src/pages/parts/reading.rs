//! A number that is read: its field with unit, letter and what was wrong.

use crate::pages::parts::link::Choice;
use crate::show;
use suspect_core::knowledge::{FindingId, Knowledge};

/// One number or word asked for.
#[derive(Default)]
pub struct InputView {
    pub id: &'static str,
    pub label: String,
    /// Its letter in the drawing.
    pub letter: Option<char>,
    pub unit: &'static str,
    pub value: String,
    pub several: bool,
    pub optional: bool,
    /// How it was understood: "0.018 in read as 0.4572".
    pub note: Option<String>,
    pub error: Option<String>,
    /// Where a reading is taken from a device.
    pub take: Option<String>,
    /// Words to choose from, where it is no number.
    pub choices: Vec<Choice>,
}

/// "calipers good to 0.02 mm": what is taken while nobody says otherwise.
pub fn taken(folded: &[InputView]) -> String {
    let given = folded.iter().filter(|i| !i.value.is_empty());
    let said = given.map(|i| {
        let label = show::lower_first(&i.label);
        format!("{label} {} {}", i.value, i.unit)
            .trim_end()
            .to_string()
    });
    said.collect::<Vec<_>>().join(", ")
}

/// How well an outcome fits what was read.
pub struct FitView {
    pub phrase: String,
    pub share: String,
    pub width: f64,
}

/// How well each outcome fits, the best first.
pub fn fits(k: &Knowledge, finding: FindingId, weights: &[f64]) -> Vec<FitView> {
    let states = k.finding(finding).states.iter().zip(weights);
    let mut states: Vec<(f64, &str)> = states.map(|(s, w)| (*w, s.phrase.as_str())).collect();
    states.sort_by(|a, b| b.0.total_cmp(&a.0));
    let fit = |(w, phrase): (f64, &str)| FitView {
        phrase: show::capital(phrase),
        share: show::percent(w),
        width: (w * 100.0).max(0.5),
    };
    states.into_iter().map(fit).collect()
}
