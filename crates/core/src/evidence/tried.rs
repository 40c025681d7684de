//! A fix that was tried, or several before one print, and what came of it.

use crate::knowledge::{CauseId, FixId, Knowledge, TryResult};

/// Fixes beside the last one that a print tries; earlier ones are not told apart any more.
const MOST_TOGETHER: usize = 3;

/// A fix that was tried.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Tried {
    /// The fix; the last of them where several were applied before one print.
    pub fix: FixId,
    /// The others that the same print tried.
    pub together: Together,
    /// Only this cause was aimed at, by its first fix.
    pub aimed_at: Option<CauseId>,
    /// What happened.
    pub result: TryResult,
    /// It cured, and the trouble came back: the cure counts no more.
    pub came_undone: bool,
    /// How well what followed agrees with cured, better, same, worse, where prints were counted:
    /// they say less than "cured" does, and say it better.
    pub weights: Option<[f64; 4]>,
}

/// Fixes that were applied before the same print as another.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub struct Together([Option<FixId>; MOST_TOGETHER]);

impl Together {
    /// With one more; the earliest goes where there is no room.
    #[must_use]
    pub fn with(self, fix: FixId) -> Self {
        if self.iter().any(|known| known == fix) {
            return self;
        }
        let [a, b, _] = self.0;
        Self([Some(fix), a, b])
    }

    /// Without one.
    #[must_use]
    pub fn without(self, fix: FixId) -> Self {
        let left = self.iter().filter(|known| *known != fix);
        left.collect::<Vec<_>>()
            .into_iter()
            .rev()
            .fold(Self::default(), Self::with)
    }

    /// The fixes, the latest first.
    pub fn iter(self) -> impl Iterator<Item = FixId> {
        self.0.into_iter().flatten()
    }

    /// Whether there is none.
    pub fn is_empty(self) -> bool {
        self.0 == Self::default().0
    }

    /// Chance that one of several fixes cures a cause.
    ///
    /// # Formula
    /// 1 − Π(1 − k)
    pub fn cure(self, knowledge: &Knowledge, fix: FixId, cause: CauseId) -> f64 {
        let own = knowledge.cure(fix, cause);
        match self.is_empty() {
            true => own,
            false => {
                let left = self.iter().map(|x| 1.0 - knowledge.cure(x, cause));
                1.0 - (1.0 - own) * left.product::<f64>()
            }
        }
    }
}

impl Tried {
    /// One fix by itself.
    pub fn of(fix: FixId, result: TryResult) -> Self {
        Self {
            fix,
            together: Together::default(),
            aimed_at: None,
            result,
            came_undone: false,
            weights: None,
        }
    }

    /// Every fix that the print tried, the last one first.
    pub fn fixes(&self) -> impl Iterator<Item = FixId> {
        std::iter::once(self.fix).chain(self.together.iter())
    }

    /// Whether a fix is among them.
    pub fn tries(&self, fix: FixId) -> bool {
        self.fixes().any(|x| x == fix)
    }

    /// Chance that it cures a cause: of one alone where it was aimed at one.
    pub fn cure(&self, knowledge: &Knowledge, cause: CauseId) -> f64 {
        match self.aimed_at {
            Some(only) if only != cause => 0.0,
            _ => self.together.cure(knowledge, self.fix, cause),
        }
    }

    /// How far each result fits what was seen: the one it counts as, or weights of counted prints.
    pub fn fits(&self) -> [f64; 4] {
        self.weights.unwrap_or_else(|| {
            let mut one = [0.0; 4];
            one[self.counts_as() as usize] = 1.0;
            one
        })
    }

    /// What it counts as: a cure that came undone has only made things better for a while.
    pub fn counts_as(&self) -> TryResult {
        match (self.result, self.came_undone) {
            (TryResult::Cured, true) => TryResult::Better,
            (result, _) => result,
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_stands_beside_is_kept_once_and_taken_out_again() {
        let some = Together::default().with(FixId(1)).with(FixId(2));
        assert_eq!(some.with(FixId(1)), some);
        assert_eq!(some.without(FixId(2)), Together::default().with(FixId(1)));
        let many = (1..=5).map(FixId).fold(Together::default(), Together::with);
        assert_eq!(many.iter().map(|x| x.0).collect::<Vec<_>>(), [5, 4, 3]);
        assert_eq!(many.without(FixId(4)).iter().count(), 2);
    }
}
