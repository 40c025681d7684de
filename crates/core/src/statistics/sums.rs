//! Sums over closed cases.

use super::counts::{Count, Counted, PARTS};
use std::collections::BTreeMap;

/// Sums over closed cases, by what is counted and which.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Sums(BTreeMap<(Counted, String), (i64, i64)>);

impl Sums {
    /// Adds a count, or takes it away.
    pub fn add(&mut self, count: Count, times: i64) {
        let sum = self.0.entry((count.of, count.key)).or_default();
        sum.0 += times * count.n;
        sum.1 += times * count.amount;
    }

    /// How many.
    pub fn n(&self, of: Counted, key: &str) -> i64 {
        self.0.get(&(of, key.to_string())).map_or(0, |sum| sum.0)
    }

    /// What goes with them.
    pub fn amount(&self, of: Counted, key: &str) -> f64 {
        let sum = self.0.get(&(of, key.to_string()));
        sum.map_or(0.0, |sum| sum.1 as f64 / PARTS)
    }

    /// How many of all keys together.
    pub fn all(&self, of: Counted) -> i64 {
        self.of(of).map(|(_, n, _)| n).sum()
    }

    /// Every key with how many, and what goes with them; keys in order, none that came out even.
    pub fn of(&self, of: Counted) -> impl Iterator<Item = (&str, i64, f64)> {
        let range = (of, String::new())..;
        let keys = self.0.range(range).take_while(move |((o, _), _)| *o == of);
        let told = keys.map(|((_, key), (n, amount))| (key.as_str(), *n, *amount as f64 / PARTS));
        told.filter(|(_, n, _)| *n != 0)
    }

    /// The keys there are most of, the commonest first.
    pub fn most(&self, of: Counted, many: usize) -> Vec<&str> {
        let mut keys: Vec<(&str, i64)> = self.of(of).map(|(key, n, _)| (key, n)).collect();
        keys.sort_by(|a, b| b.1.cmp(&a.1).then(a.0.cmp(b.0)));
        keys.into_iter().take(many).map(|(key, _)| key).collect()
    }

    /// Everything that did not come out even.
    pub fn into_counts(self) -> impl Iterator<Item = Count> {
        let uneven = self.0.into_iter().filter(|(_, sum)| *sum != (0, 0));
        uneven.map(|((of, key), (n, amount))| Count { of, key, n, amount })
    }
}

impl FromIterator<Count> for Sums {
    fn from_iter<T: IntoIterator<Item = Count>>(counts: T) -> Self {
        let mut sums = Sums::default();
        counts.into_iter().for_each(|count| sums.add(count, 1));
        sums
    }
}
