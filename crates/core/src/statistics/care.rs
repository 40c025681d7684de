//! How cases end, and with how much care.

use super::{Counted, Sums, Told};
use crate::case::Outcome;
use crate::learning::{Share, share};

/// Cases from which a share is told.
const SHARES_FROM: i64 = 5;

/// How cases end.
#[derive(Debug, Clone, PartialEq)]
pub struct Ends {
    /// Closed cases.
    pub cases: i64,
    /// Each outcome there is, with how many ended so and the share.
    pub by: Told<Vec<(Outcome, i64, Share)>>,
}

/// How cases end, the commonest first.
pub fn ends(sums: &Sums) -> Ends {
    let cases = sums.all(Counted::Ended);
    let by = || {
        let known = sums.of(Counted::Ended);
        let known = known.filter_map(|(key, n, _)| Some((Outcome::from_id(key)?, n)));
        let mut by: Vec<_> = known
            .filter_map(|(o, n)| Some((o, n, share(n as f64, cases as f64)?)))
            .collect();
        by.sort_by_key(|(o, n, _)| (-n, *o));
        Some(by)
    };
    Ends {
        cases,
        by: Told::from(cases, SHARES_FROM, by),
    }
}

/// How careful the shop is.
#[derive(Debug, Clone, PartialEq)]
pub struct Care {
    /// Faults of the first layer whose print was stopped there.
    pub first_layers: Told<Share>,
    /// Mended cases whose proof was complete.
    pub proven: Told<Share>,
    /// Mended cases of which somebody said later that the fix held.
    pub answered: Told<Share>,
}

/// How careful the shop is.
pub fn care(sums: &Sums) -> Care {
    let part = |of: Counted, key: &str| {
        let (some, all) = (sums.n(of, key), sums.all(of));
        Told::from(all, SHARES_FROM, || share(some as f64, all as f64))
    };
    Care {
        first_layers: part(Counted::FirstLayer, "caught"),
        proven: part(Counted::Proof, "complete"),
        answered: part(Counted::Held, "told"),
    }
}
