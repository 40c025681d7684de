//! What a change of the knowledge did to the vignettes: which got better, which worse.

use super::{Examination, Vignette, run};
use crate::knowledge::Knowledge;
use serde::Serialize;

/// A truth that moves by less than this stands where it stood.
const MOVED: f64 = 0.05;

/// How one vignette fared before and after.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct Shift {
    /// The vignette.
    pub name: String,
    /// How many expectations it missed before, and misses now.
    pub missed: (usize, usize),
    /// Probability of the truth before and now; nothing where none is told.
    pub truth: Option<(f64, f64)>,
}

impl Shift {
    /// Above zero when it got better, below when worse, else zero.
    pub fn gain(&self) -> f64 {
        let missed = self.missed.0 as f64 - self.missed.1 as f64;
        let truth = self.truth.map_or(0.0, |(before, now)| now - before);
        match missed {
            0.0 if truth.abs() < MOVED => 0.0,
            0.0 => truth,
            missed => missed,
        }
    }
}

/// Runs the vignettes under two knowledges and tells those that fared differently, worst first.
/// Those that only the newer one can read are left out.
pub fn against(
    old: (&Knowledge, &[Vignette]),
    new: (&Knowledge, &[Vignette]),
) -> (Examination, Vec<Shift>) {
    let before = run(old.0, old.1);
    let now = run(new.0, new.1);
    let mut shifts: Vec<Shift> = now
        .standings
        .iter()
        .filter_map(|s| {
            let was = before.standings.iter().find(|b| b.name == s.name)?;
            Some(Shift {
                name: s.name.clone(),
                missed: (was.missed, s.missed),
                truth: was.truth.zip(s.truth),
            })
        })
        .filter(|s| s.gain() != 0.0)
        .collect();
    shifts.sort_by(|a, b| a.gain().total_cmp(&b.gain()).then(a.name.cmp(&b.name)));
    (now, shifts)
}
