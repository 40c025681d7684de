//! A world that is not quite as the knowledge says: every chance moved a little, for trying how
//! much the advice depends on it.

use super::types::{CauseId, FindingId};
use super::{FLOOR, Knowledge};

impl Knowledge {
    /// A copy in which every probability is moved in log-odds, and every weight in its logarithm,
    /// by what `noise` gives, one after the other. Distributions still sum to one.
    pub fn perturbed(&self, mut noise: impl FnMut() -> f64) -> Self {
        let mut world = self.clone();
        for cause in &mut world.causes {
            cause.weight *= noise().exp();
        }
        for chance in world.cures.iter_mut().filter(|k| **k > 0.0) {
            *chance = moved(*chance, noise()).clamp(0.05, 0.95);
        }
        for fix in 0..world.fixes.len() {
            for (cause, chance) in &mut world.fixes[fix].cures {
                *chance = world.cures[fix * self.causes.len() + cause.at()];
            }
        }
        for f in (0..self.findings.len() as u16).map(FindingId) {
            let background = moved_all(
                self.findings[f.at()].states.iter().map(|s| s.background),
                &mut noise,
            );
            for (state, b) in world.findings[f.at()].states.iter_mut().zip(&background) {
                state.background = *b;
            }
            for c in (0..self.causes.len() as u16).map(CauseId) {
                if self.table.linked(c, f) {
                    let states = moved_all(self.table.states(c, f).iter().copied(), &mut noise);
                    world.table.put(c, f, &states);
                } else {
                    world.table.put(c, f, &background);
                }
            }
        }
        world
    }
}

fn moved(p: f64, by: f64) -> f64 {
    let logit = (p / (1.0 - p)).ln() + by;
    1.0 / (1.0 + (-logit).exp())
}

fn moved_all(states: impl Iterator<Item = f64>, noise: &mut impl FnMut() -> f64) -> Vec<f64> {
    let mut states: Vec<f64> = states
        .map(|p| moved(p.clamp(FLOOR, 1.0 - FLOOR), noise()).max(FLOOR))
        .collect();
    let sum: f64 = states.iter().sum();
    states.iter_mut().for_each(|p| *p /= sum);
    states
}
