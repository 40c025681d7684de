//! Examination of the knowledge over vignettes: cases whose answer is known beforehand.
//!
//! A vignette is a case file with one member more, `expect`. The examination ranks the case and
//! compares:
//! is the right suspect in front, how far behind is it otherwise, do the probabilities mean what
//! they say.

mod against;
mod verdict;
mod vignette;

pub use against::{Shift, against};
pub use vignette::{Expect, Names, Vignette, read};

use crate::case::report::{Mode, line_up};
use crate::knowledge::Knowledge;
use serde::Serialize;
use verdict::judge;

/// Bins of the calibration table.
pub const BINS: usize = 10;

/// A vignette that did not go as expected.
#[derive(Debug, Serialize)]
pub struct Failure {
    /// The vignette.
    pub name: String,
    /// The rule it stands for.
    pub why: String,
    /// What was expected and what came, one line each.
    pub wrong: Vec<String>,
    /// The ledgers of those concerned.
    pub explanation: Vec<String>,
}

/// How often something went as expected.
#[derive(Debug, Default, Clone, Copy, PartialEq, Eq, Serialize)]
pub struct Share {
    /// Vignettes that went as expected.
    pub right: usize,
    /// Vignettes that asked for it.
    pub of: usize,
}

impl Share {
    fn count(&mut self, right: bool) {
        self.right += usize::from(right);
        self.of += 1;
    }

    /// Share between 0 and 1; 1 when nothing was asked.
    pub fn rate(self) -> f64 {
        if self.of == 0 {
            1.0
        } else {
            self.right as f64 / self.of as f64
        }
    }
}

/// One bin of the calibration table.
#[derive(Debug, Default, Clone, Copy, PartialEq, Serialize)]
pub struct Bin {
    /// Statements "this cause acts with probability p" whose p falls into the bin.
    pub statements: usize,
    /// Mean of p.
    pub said: f64,
    /// Share of them that were true.
    pub came_true: f64,
}

/// The figures over all vignettes.
#[derive(Debug, Default, Serialize)]
pub struct Examination {
    /// Vignettes run.
    pub vignettes: usize,
    /// The leader is the truth, or the expected one.
    pub leader_right: Share,
    /// The truth stands among the first three.
    pub in_top_three: Share,
    /// The first step advised is an expected one.
    pub next_right: Share,
    /// Steps that belong early stand among the first three.
    pub early_right: Share,
    /// Suspects that must not lead do not.
    pub kept_back: Share,
    /// Early cases whose leader is no more certain than allowed.
    pub spread: Share,
    /// Mean rank of the truth, 1 for the leader.
    pub mean_rank: f64,
    /// Mean probability of the truth.
    pub mean_probability: f64,
    /// Mean over vignettes of Σ over causes (p − truth)²: 0 perfect, 1 for certainty of nothing.
    pub brier: f64,
    /// Calibration in ten bins of p.
    pub calibration: [Bin; BINS],
    /// What went wrong.
    pub failures: Vec<Failure>,
    /// How each vignette stands.
    pub standings: Vec<Standing>,
}

/// How one vignette stands.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct Standing {
    /// Its name.
    pub name: String,
    /// Expectations it misses.
    pub missed: usize,
    /// Probability of the first cause that acts; nothing where none is told.
    pub truth: Option<f64>,
}

/// Ranks every vignette and compares.
pub fn run(knowledge: &Knowledge, vignettes: &[Vignette]) -> Examination {
    let mut examination = Examination {
        vignettes: vignettes.len(),
        ..Examination::default()
    };
    let (mut ranks, mut truths, mut known) = (0usize, 0usize, 0usize);
    for vignette in vignettes {
        let report = line_up(knowledge, &vignette.facts, Mode::Full);
        judge(vignette, &report, &mut examination);
        let told = vignette.truth().first();
        let missed = examination
            .failures
            .last()
            .filter(|f| f.name == vignette.name);
        examination.standings.push(Standing {
            name: vignette.name.clone(),
            missed: missed.map_or(0, |f| f.wrong.len()),
            truth: told.and_then(|t| {
                let line = report.line_up.iter().find(|l| l.cause == *t);
                line.map(|l| l.probability)
            }),
        });
        let truth = vignette.truth();
        if truth.is_empty() {
            continue;
        }
        known += 1;
        for (place, line) in report.line_up.iter().enumerate() {
            let acts = truth.contains(&line.cause);
            if acts {
                ranks += place + 1;
                truths += 1;
                examination.mean_probability += line.probability;
            }
            examination.brier += (line.probability - f64::from(u8::from(acts))).powi(2);
            let bin = &mut examination.calibration
                [((line.probability * BINS as f64) as usize).min(BINS - 1)];
            bin.statements += 1;
            bin.said += line.probability;
            bin.came_true += f64::from(u8::from(acts));
        }
    }
    if truths > 0 {
        examination.mean_rank = ranks as f64 / truths as f64;
        examination.mean_probability /= truths as f64;
        examination.brier /= known as f64;
    }
    for bin in examination
        .calibration
        .iter_mut()
        .filter(|b| b.statements > 0)
    {
        bin.said /= bin.statements as f64;
        bin.came_true /= bin.statements as f64;
    }
    examination
}
