//! A number for each pair of units.

use super::set::Set;

/// Every pair of `n` units, the smaller number first.
pub(super) fn all(n: usize) -> impl Iterator<Item = (usize, usize)> {
    (0..n).flat_map(move |i| (i + 1..n).map(move |j| (i, j)))
}

/// A number for each pair, in both places of a square; 0 on the diagonal.
#[derive(Debug, Clone, PartialEq)]
pub(super) struct Pairs {
    n: usize,
    values: Vec<f64>,
}

/// A sum in eight lanes: the order is fixed, and the processor adds several at a time.
fn total(values: &[f64]) -> f64 {
    let mut lanes = [0.0; 8];
    let chunks = values.chunks_exact(8);
    let rest: f64 = chunks.remainder().iter().sum();
    for chunk in chunks {
        lanes.iter_mut().zip(chunk).for_each(|(lane, v)| *lane += v);
    }
    lanes.iter().sum::<f64>() + rest
}

/// The sums over pairs by how many of the two are in a set.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) struct Split {
    /// Both.
    pub two: f64,
    /// One of them.
    pub one: f64,
    /// Neither.
    pub none: f64,
}

impl Pairs {
    pub(super) fn filled(n: usize, value: f64) -> Pairs {
        let mut pairs = Pairs {
            n,
            values: vec![value; n * n],
        };
        for i in 0..n {
            pairs.values[i * n + i] = 0.0;
        }
        pairs
    }

    pub(super) fn set(&mut self, i: usize, j: usize, value: f64) {
        self.values[i * self.n + j] = value;
        self.values[j * self.n + i] = value;
    }

    pub(super) fn get(&self, i: usize, j: usize) -> f64 {
        self.values[i * self.n + j]
    }

    pub(super) fn row(&self, i: usize) -> &[f64] {
        &self.values[i * self.n..(i + 1) * self.n]
    }

    /// The sum over each pair once.
    pub(super) fn sum(&self) -> f64 {
        total(&self.values) / 2.0
    }

    /// The sum of each unit's pairs.
    pub(super) fn row_sums(&self) -> Vec<f64> {
        (0..self.n).map(|i| total(self.row(i))).collect()
    }

    /// The sum of each unit's pairs with the units of a set.
    pub(super) fn along(&self, set: Set) -> Vec<f64> {
        let mut sums = vec![0.0; self.n];
        for unit in set.iter() {
            sums.iter_mut()
                .zip(self.row(unit))
                .for_each(|(sum, v)| *sum += v);
        }
        sums
    }

    pub(super) fn map(&self, f: impl Fn(f64) -> f64) -> Pairs {
        Pairs {
            n: self.n,
            values: self.values.iter().map(|&v| f(v)).collect(),
        }
    }

    pub(super) fn plus(&self, other: &Pairs) -> Pairs {
        let values = self.values.iter().zip(&other.values);
        Pairs {
            n: self.n,
            values: values.map(|(a, b)| a + b).collect(),
        }
    }

    pub(super) fn scale(&mut self, by: f64) {
        self.values.iter_mut().for_each(|v| *v *= by);
    }

    /// Each pair times a number by how many of the two are in the set: 0, 1, 2.
    pub(super) fn weigh(&mut self, set: Set, by_count: [f64; 3]) {
        let n = self.n;
        let held = |i: usize| usize::from(set.has(i));
        for i in 0..n {
            for (j, v) in self.values[i * n..(i + 1) * n].iter_mut().enumerate() {
                *v *= by_count[held(i) + held(j)];
            }
        }
    }

    /// The sums by how many of the two are in the set; `whole` is the sum over all.
    pub(super) fn split(&self, set: Set, whole: f64) -> Split {
        let (mut twice, mut one) = (0.0, 0.0);
        for (unit, sum) in self.along(set).into_iter().enumerate() {
            if set.has(unit) {
                twice += sum;
            } else {
                one += sum;
            }
        }
        Split {
            two: twice / 2.0,
            one,
            none: whole - twice / 2.0 - one,
        }
    }

    /// The `k` pairs of the largest numbers, in their order; of equal ones the first in the list.
    pub(super) fn top(&self, k: usize) -> Vec<(usize, usize)> {
        let mut pairs: Vec<(usize, usize)> = all(self.n).collect();
        let by = |&(i, j): &(usize, usize), &(l, m): &(usize, usize)| {
            self.get(l, m).total_cmp(&self.get(i, j))
        };
        if k < pairs.len() && k > 0 {
            // Ties are parted by the list's order, so that the choice does not hang on the sort.
            let whole = |a: &(usize, usize), b: &(usize, usize)| by(a, b).then(a.cmp(b));
            pairs.select_nth_unstable_by(k, whole);
            pairs.truncate(k);
        }
        pairs.sort_by(|a, b| by(a, b).then(a.cmp(b)));
        pairs.truncate(k);
        pairs
    }
}
