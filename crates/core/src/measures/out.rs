//! What follows from what was given: named outputs, a sentence, warnings, likelihoods.

use super::input::short;
use super::maths::{median, nearest, show};
use super::slips::slip;

/// Share of readings that say nothing because something else went wrong: the wrong thing measured,
/// a number misread.
const MISREAD: f64 = 0.02;

/// An output's value.
#[derive(Debug, Clone, PartialEq)]
pub enum Output {
    /// A number.
    Number(f64),
    /// A word.
    Word(String),
    /// Several numbers.
    Numbers(Vec<f64>),
    /// Several words.
    Words(Vec<String>),
}

/// λ of each state of a finding.
pub type Likelihoods = Vec<(&'static str, f64)>;

/// What follows.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Out {
    /// Named values, in the order they were reckoned.
    pub outputs: Vec<(String, Output)>,
    /// The result in a sentence.
    pub result: String,
    /// What looks like a slip or asks for care.
    pub warnings: Vec<String>,
    /// λ by finding and state. Empty while a slip is suspected.
    pub findings: Vec<(&'static str, Likelihoods)>,
    /// λ of the outcomes of the check of the same name, where it tells more apart than the finding
    /// does.
    pub finer: Option<Likelihoods>,
    /// A slip is suspected and not confirmed.
    pub slipped: bool,
}

/// A number rounded half up to a step; of no step, as it is.
fn stepped(value: f64, step: f64) -> f64 {
    if step <= 0.0 || !value.is_finite() {
        return value;
    }
    let rounded = nearest(value, step);
    // Away with the dust of the multiplication; and no minus before a nought.
    (rounded * 1e9).round() / 1e9 + 0.0
}

impl Out {
    /// A number, rounded half up to a step; 0 leaves it as it is.
    pub fn num(&mut self, name: &str, value: f64, step: f64) {
        let value = Output::Number(stepped(value, step));
        self.outputs.push((name.to_string(), value));
    }

    /// A number that may not be known.
    pub fn maybe(&mut self, name: &str, value: Option<f64>, step: f64) {
        if let Some(value) = value {
            self.num(name, value, step);
        }
    }

    /// A number with its uncertainty, which is called as the number is, its unit dropped.
    pub fn pair(&mut self, stem: &str, unit: &str, (value, u): (f64, f64), step: f64) {
        let name = match unit {
            "" => stem.to_string(),
            unit => format!("{stem}_{unit}"),
        };
        self.num(&name, value, step);
        self.num(&format!("{stem}_u"), u, step);
    }

    /// A word.
    pub fn word(&mut self, name: &str, word: &str) {
        let word = Output::Word(word.to_string());
        self.outputs.push((name.to_string(), word));
    }

    /// Several numbers.
    pub fn list(&mut self, name: &str, values: &[f64], step: f64) {
        let values = values.iter().map(|v| stepped(*v, step)).collect();
        self.outputs
            .push((name.to_string(), Output::Numbers(values)));
    }

    /// Several words.
    pub fn words(&mut self, name: &str, words: &[&str]) {
        let words = words.iter().map(|w| (*w).to_string()).collect();
        self.outputs.push((name.to_string(), Output::Words(words)));
    }

    /// Something that asks for care.
    pub fn warn(&mut self, text: impl Into<String>) {
        self.warnings.push(text.into());
    }

    /// Something that looks like a slip: nothing counts until it is confirmed.
    pub fn slip(&mut self, text: impl Into<String>) {
        self.warn(text);
        self.slipped = true;
    }

    /// Too few readings to tell their scatter.
    pub fn few(&mut self, many: usize, asked: usize) {
        if many < asked {
            self.warn(format!("too few readings: {many} of the {asked} asked for"));
        }
    }

    /// Asks about readings that look like a slip: each of three or more against their median, then
    /// the median against what was expected.
    pub fn check(
        &mut self,
        plain: &str,
        values: &[f64],
        expected: f64,
        (unit, table): (&str, &[(f64, &'static str)]),
    ) {
        let middle = median(values);
        let looks = |v: f64, (factor, what): (f64, &str)| {
            format!(
                "{} {unit} looks like {what}: it would be {} {unit}",
                short(v),
                short(v * factor)
            )
        };
        if values.len() > 2 {
            for (n, v) in values.iter().enumerate() {
                if let Some(found) = slip(*v, middle, table) {
                    self.slip(format!("{plain}, reading {}: {}", n + 1, looks(*v, found)));
                }
            }
        }
        if let Some(found) = slip(middle, expected, table) {
            self.slip(format!("{plain}: {}", looks(middle, found)));
        }
    }

    /// How likely the reading is under each state of a finding: 98 parts shared as reckoned, 2
    /// alike.
    pub fn find(&mut self, finding: &'static str, states: &[(&'static str, f64)]) {
        self.findings.push((finding, shared(states)));
    }

    /// How likely the reading is under each outcome of a check that tells more apart.
    pub fn find_finer(&mut self, states: &[(&'static str, f64)]) {
        self.finer = Some(shared(states));
    }
}

/// λ from what was reckoned: 98 parts shared, 2 alike.
fn shared(states: &[(&'static str, f64)]) -> Likelihoods {
    let total: f64 = states.iter().map(|(_, l)| l).sum();
    let alike = 1.0 / states.len() as f64;
    let sound = total > 0.0 && total.is_finite();
    let lambda = |l: f64| {
        let share = if sound { l / total } else { alike };
        let lambda = (1.0 - MISREAD) * share + MISREAD * alike;
        (lambda * 1e6).round() / 1e6
    };
    states.iter().map(|(s, l)| (*s, lambda(*l))).collect()
}

/// "0.475 ± 0.021 mm".
pub fn plus_minus(value: f64, u: f64, step: f64, unit: &str) -> String {
    let said = format!("{} ± {} {unit}", show(value, step), show(u, step));
    said.trim_end().to_string()
}
