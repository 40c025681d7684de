//! Sets of units.

use std::fmt;

/// Most units of a plan.
pub const MOST_UNITS: usize = 60;

/// A set of units of a plan by their numbers: those that are back at their old value in a piece.
#[derive(Clone, Copy, Default, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub struct Set(u64);

impl Set {
    /// No unit: everything at its new value.
    pub const NONE: Set = Set(0);

    /// The first `n` units; `n` is at most [`MOST_UNITS`].
    pub fn all(n: usize) -> Set {
        Set((1 << n.min(MOST_UNITS)) - 1)
    }

    /// One unit.
    pub fn one(unit: usize) -> Set {
        Set(1 << unit)
    }

    /// Whether the unit is in it.
    pub fn has(self, unit: usize) -> bool {
        self.0 >> unit & 1 == 1
    }

    /// With the units of another.
    pub fn and(self, other: Set) -> Set {
        Set(self.0 | other.0)
    }

    /// Without the units of another.
    pub fn minus(self, other: Set) -> Set {
        Set(self.0 & !other.0)
    }

    /// What is in one of the two only.
    pub fn differs(self, other: Set) -> Set {
        Set(self.0 ^ other.0)
    }

    /// What is in both.
    pub fn common(self, other: Set) -> Set {
        Set(self.0 & other.0)
    }

    /// How many.
    pub fn count(self) -> usize {
        self.0.count_ones() as usize
    }

    /// Whether there is none.
    pub fn is_empty(self) -> bool {
        self.0 == 0
    }

    /// The units in order.
    pub fn iter(self) -> impl Iterator<Item = usize> {
        let mut left = self.0;
        std::iter::from_fn(move || {
            let unit = (left != 0).then(|| left.trailing_zeros() as usize)?;
            left &= left - 1;
            Some(unit)
        })
    }
}

impl FromIterator<usize> for Set {
    fn from_iter<I: IntoIterator<Item = usize>>(units: I) -> Set {
        units.into_iter().fold(Set::NONE, |s, i| s.and(Set::one(i)))
    }
}

impl fmt::Debug for Set {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.debug_set().entries(self.iter()).finish()
    }
}
