//! A ladder: one number in many bands, each graded; where the best value lies.
//!
//! The model is a hill `q = max(0, top − 2·(d / h)²)`: `d` steps from the best value, a half-width
//! `h` of its own to each side, a top of 5, 4 or 3. Before looking, every place from two steps
//! before the first band to two steps after the last is equally likely.

use super::grade::{GRADES, SLIP, SPREAD};
use serde::{Deserialize, Serialize};

/// Places of the summit per step.
const PER_STEP: usize = 4;
/// Steps beyond the ends.
const BEYOND: usize = 2;
/// Half-widths of a side, steps.
const WIDTHS: [f64; 6] = [1.0, 1.5, 2.0, 3.0, 4.5, 7.0];
/// Grades at the summit.
const TOPS: [f64; 3] = [5.0, 4.0, 3.0];
/// From this chance on that the best lies beyond an end, the ladder goes on there.
pub const GO_ON: f64 = 0.3;

/// Bands and their grades.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Ladder {
    /// The values, evenly spaced, two or more.
    pub values: Vec<f64>,
    /// The grade of each, 0 to 5; nothing where a band could not be read.
    pub grades: Vec<Option<u8>>,
}

/// Why a ladder cannot be read.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
pub enum LadderProblem {
    /// Fewer than two bands, or more than a hundred.
    #[error("a ladder has 2 to 100 bands, this one has {0}")]
    Bands(usize),
    /// Not as many grades as values.
    #[error(
        "{values} bands and {grades} grades: give one grade a band, null where it cannot be \
        read"
    )]
    Counts {
        /// Values.
        values: usize,
        /// Grades.
        grades: usize,
    },
    /// A value that is no number, or steps that are not even.
    #[error("the bands must rise or fall in even steps; band {0} does not")]
    Uneven(usize),
    /// A grade beyond 5.
    #[error("band {band}: a grade is 0 to 5, not {grade}")]
    Grade {
        /// The band, from 1.
        band: usize,
        /// The grade.
        grade: u8,
    },
}

/// Where the best value lies.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
pub struct Best {
    /// The mean.
    pub best: f64,
    /// 5 % lie below it.
    pub low: f64,
    /// 95 % lie below it.
    pub high: f64,
    /// The chance that it lies below the lowest band.
    pub below: f64,
    /// The chance that it lies above the highest band.
    pub above: f64,
}

impl Ladder {
    /// Where the best value lies.
    ///
    /// # Errors
    ///
    /// [`LadderProblem`] where the bands are not even or the grades do not fit them.
    pub fn read(&self) -> Result<Best, LadderProblem> {
        let step = self.step()?;
        let weights = self.summits();
        let first = self.values[0];
        let place = |k: usize| first + (k as f64 / PER_STEP as f64 - BEYOND as f64) * step;
        // A falling ladder is read from its other end, so that low is low.
        let mut summits: Vec<(f64, f64)> = weights
            .iter()
            .enumerate()
            .map(|(k, &w)| (place(k), w))
            .collect();
        if step < 0.0 {
            summits.reverse();
        }
        let at = |share: f64| {
            let mut sum = 0.0;
            let reached = summits.iter().find(|(_, w)| {
                sum += w;
                sum >= share
            });
            reached.or(summits.last()).map_or(first, |s| s.0)
        };
        let ends = (first, self.values[self.values.len() - 1]);
        let (least, most) = (ends.0.min(ends.1), ends.0.max(ends.1));
        let sum_where =
            |of: &dyn Fn(f64) -> bool| summits.iter().filter(|s| of(s.0)).map(|s| s.1).sum::<f64>();
        Ok(Best {
            best: summits.iter().map(|(m, w)| m * w).sum(),
            low: at(0.05),
            high: at(0.95),
            below: sum_where(&|m| m < least),
            above: sum_where(&|m| m > most),
        })
    }

    /// The step from band to band.
    fn step(&self) -> Result<f64, LadderProblem> {
        let n = self.values.len();
        if !(2..=100).contains(&n) {
            return Err(LadderProblem::Bands(n));
        }
        if self.grades.len() != n {
            return Err(LadderProblem::Counts {
                values: n,
                grades: self.grades.len(),
            });
        }
        for (k, grade) in self.grades.iter().enumerate() {
            if let Some(grade) = *grade
                && usize::from(grade) >= GRADES
            {
                return Err(LadderProblem::Grade { band: k + 1, grade });
            }
        }
        let step = (self.values[n - 1] - self.values[0]) / (n - 1) as f64;
        for (k, value) in self.values.iter().enumerate() {
            let meant = self.values[0] + step * k as f64;
            let even = (value - meant).abs() <= step.abs() * 0.25;
            if !even || !value.is_finite() || step == 0.0 {
                return Err(LadderProblem::Uneven(k + 1));
            }
        }
        Ok(step)
    }

    /// The probability of each place of the summit.
    fn summits(&self) -> Vec<f64> {
        let n = self.values.len();
        let step = (self.values[n - 1] - self.values[0]) / (n - 1) as f64;
        let bands: Vec<(f64, usize)> = self
            .values
            .iter()
            .zip(&self.grades)
            .filter_map(|(v, g)| Some(((v - self.values[0]) / step, usize::from((*g)?))))
            .collect();
        let places = (n - 1 + 2 * BEYOND) * PER_STEP + 1;
        let mut logs = Vec::with_capacity(places);
        for k in 0..places {
            let summit = k as f64 / PER_STEP as f64 - BEYOND as f64;
            let mut hills = Vec::with_capacity(WIDTHS.len() * WIDTHS.len() * TOPS.len());
            for left in WIDTHS {
                for right in WIDTHS {
                    for top in TOPS {
                        let hill = |x: f64| {
                            let d = x - summit;
                            let h = if d < 0.0 { left } else { right };
                            (top - 2.0 * (d / h).powi(2)).max(0.0)
                        };
                        hills.push(bands.iter().map(|&(x, g)| log_chance(g, hill(x))).sum());
                    }
                }
            }
            logs.push(hills);
        }
        normalised(&logs)
    }
}

/// The logarithm of the chance of a grade where the band ought to look like `mean`.
fn log_chance(grade: usize, mean: f64) -> f64 {
    let kernel = |g: usize| (-(g as f64 - mean).powi(2) / (2.0 * SPREAD * SPREAD)).exp();
    let sum: f64 = (0..GRADES).map(kernel).sum();
    ((1.0 - SLIP) * kernel(grade) / sum + SLIP / GRADES as f64).ln()
}

fn normalised(logs: &[Vec<f64>]) -> Vec<f64> {
    let most = logs
        .iter()
        .flatten()
        .copied()
        .fold(f64::NEG_INFINITY, f64::max);
    let weights: Vec<f64> = logs
        .iter()
        .map(|hills| hills.iter().map(|l| (l - most).exp()).sum())
        .collect();
    let sum: f64 = weights.iter().sum();
    weights.iter().map(|w| w / sum).collect()
}
