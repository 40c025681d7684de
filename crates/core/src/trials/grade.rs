//! What a grade says: the chance of each grade where the fault is gone, half gone or still there.
//!
//! A piece that ought to look like `μ` gets grade `g` with a chance in proportion to
//! `exp(−(g − μ)² / (2·0.7²))`; at a slip a piece is taken for its opposite.

use serde::{Deserialize, Serialize};

/// Grades there are: 0 to 5.
pub const GRADES: usize = 6;

/// Standard deviation of a grade, in grades.
pub(super) const SPREAD: f64 = 0.7;

/// A slip of the eye or of the hand, where nothing is known of the workshop.
pub const SLIP: f64 = 0.10;

/// How a piece looks.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(untagged)]
pub enum Grade {
    /// 0 (worst) to 5 (as good as the baseline).
    Number(u8),
    /// In a word, against the bad piece.
    Word(Word),
}

/// A grade in a word, against the bad piece.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Word {
    /// As good as the baseline.
    Cured,
    /// Better than the bad piece, not as good as the baseline.
    Better,
    /// Like the bad piece.
    Same,
    /// Worse than the bad piece.
    Worse,
    /// Cured or better: not said which.
    Improved,
    /// Not as good as the baseline: not said how.
    NotAsGood,
    /// It could not be told.
    Unclear,
}

impl Word {
    /// In plain words.
    pub fn plain(self) -> &'static str {
        match self {
            Word::Cured => "as good as the baseline",
            Word::Better => "better",
            Word::Same => "the same",
            Word::Worse => "worse",
            Word::Improved => "improved",
            Word::NotAsGood => "not as good",
            Word::Unclear => "cannot tell",
        }
    }
}

/// How sure the one who graded was.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Confidence {
    /// Sure.
    #[default]
    Sure,
    /// Likely so.
    Likely,
    /// A hunch; also a piece printed elsewhere or long ago.
    Hunch,
}

impl Confidence {
    /// The share of the grade that counts.
    fn share(self) -> f64 {
        match self {
            Confidence::Sure => 1.0,
            Confidence::Likely => 0.75,
            Confidence::Hunch => 0.4,
        }
    }
}

/// How likely something is where the fault is gone, half gone, still there.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Likelihood {
    /// The fault is gone.
    pub clean: f64,
    /// One of two faults is gone, and it shows.
    pub half: f64,
    /// The fault is there.
    pub fault: f64,
}

impl Likelihood {
    /// It says nothing.
    pub const FLAT: Likelihood = Likelihood {
        clean: 1.0,
        half: 1.0,
        fault: 1.0,
    };

    /// Where the fault comes and goes by itself.
    pub fn fickle(self) -> f64 {
        (self.clean + self.fault) / 2.0
    }

    /// Whether it is nearer to clean than to the fault.
    pub fn good(self) -> bool {
        self.clean > self.fault
    }

    fn map(self, f: impl Fn(f64) -> f64) -> Likelihood {
        Likelihood {
            clean: f(self.clean),
            half: f(self.half),
            fault: f(self.fault),
        }
    }
}

/// The chances of the six grades where the piece ought to look like `mean`.
pub fn around(mean: f64) -> [f64; GRADES] {
    let raw: [f64; GRADES] =
        std::array::from_fn(|g| (-(g as f64 - mean).powi(2) / (2.0 * SPREAD * SPREAD)).exp());
    let sum: f64 = raw.iter().sum();
    raw.map(|k| k / sum)
}

/// The chances of every grade and word where the fault is gone, half gone, still there.
#[derive(Debug, Clone, PartialEq)]
pub struct Tables {
    grades: [Likelihood; GRADES],
    words: [Likelihood; 4],
}

impl Tables {
    /// `bad` is the grade of the bad piece, `slip` the chance of a slip.
    pub fn new(bad: f64, slip: f64) -> Tables {
        let (clean, half, fault) = (around(5.0), around(f64::midpoint(5.0, bad)), around(bad));
        let words = [
            (0.85, 0.10, 0.01),
            (0.13, 0.70, 0.05),
            (0.015, 0.17, 0.85),
            (0.005, 0.03, 0.09),
        ];
        Tables {
            grades: std::array::from_fn(|g| mixed(clean[g], half[g], fault[g], slip)),
            words: words.map(|(c, h, f)| mixed(c, h, f, slip)),
        }
    }

    /// By grade.
    pub fn grades(&self) -> &[Likelihood; GRADES] {
        &self.grades
    }

    /// What a grade says, at a confidence.
    pub fn of(&self, grade: Grade, confidence: Confidence) -> Likelihood {
        let (said, meant, all) = match grade {
            Grade::Number(g) => (vec![self.grades[usize::from(g).min(GRADES - 1)]], 1.0, 6.0),
            Grade::Word(Word::Unclear) => return Likelihood::FLAT,
            Grade::Word(word) => {
                let range = match word {
                    Word::Cured => 0..1,
                    Word::Better => 1..2,
                    Word::Same => 2..3,
                    Word::Worse => 3..4,
                    Word::Improved => 0..2,
                    Word::NotAsGood | Word::Unclear => 1..4,
                };
                let said = self.words[range].to_vec();
                let meant = said.len() as f64;
                (said, meant, 4.0)
            }
        };
        let sum = |of: fn(&Likelihood) -> f64| said.iter().map(of).sum::<f64>();
        let share = confidence.share();
        Likelihood {
            clean: sum(|l| l.clean),
            half: sum(|l| l.half),
            fault: sum(|l| l.fault),
        }
        .map(|p| share * p + (1.0 - share) * meant / all)
    }

    /// The same piece looked at again: the second look counts half, a third a quarter.
    pub fn looked_again(&self, said: Likelihood, looks_before: u32) -> Likelihood {
        match looks_before {
            0 => said,
            n => said.map(|p| p.powf(0.5_f64.powi(n.min(8) as i32))),
        }
    }
}

fn mixed(clean: f64, half: f64, fault: f64, slip: f64) -> Likelihood {
    Likelihood {
        clean: (1.0 - slip) * clean + slip * fault,
        half: (1.0 - slip) * half + slip * (clean + fault) / 2.0,
        fault: (1.0 - slip) * fault + slip * clean,
    }
}

/// The workshop's own chance of a slip, from pieces that were printed or graded twice: `repeats` of
/// them, `disagreements` with one look clean and the other faulty.
pub fn slip_of_the_shop(repeats: u32, disagreements: u32) -> f64 {
    ((2.0 + 0.5 * f64::from(disagreements)) / (20.0 + f64::from(repeats))).clamp(0.03, 0.25)
}
