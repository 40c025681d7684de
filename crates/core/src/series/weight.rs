//! What a series says of the causes of its case: one row of evidence.

use super::state::Series;
use crate::planning::Workshop;
use crate::trials::{Likelihood, decibans};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

/// What a series says of causes, by identifier.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize)]
pub struct Weight {
    /// Decibans of each cause that its differences name, against whatever is not on the list.
    pub causes: BTreeMap<String, f64>,
    /// Looks it rests on.
    pub looks: u32,
}

/// What a case is told by a series.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize)]
pub struct Word {
    /// Identifier of the series.
    pub series: String,
    /// What it is called.
    pub name: String,
    /// What it says.
    pub weight: Weight,
}

impl Series {
    /// What the series says of the causes that its differences name. Nothing before a look that
    /// tells something: what could not be told silences no check.
    pub fn weight(&self, workshop: &Workshop) -> Weight {
        let Ok(planned) = self.planned(workshop) else {
            return Weight::default();
        };
        let course = self.course(&planned);
        let telling = course
            .said
            .iter()
            .filter(|(_, said)| *said != Likelihood::FLAT);
        let looks = telling.count() as u32;
        if looks == 0 {
            return Weight::default();
        }
        let mut named: BTreeMap<&str, Vec<usize>> = BTreeMap::new();
        for (d, listed) in self.list.iter().enumerate() {
            for cause in &listed.causes {
                named.entry(cause).or_default().push(d);
            }
        }
        // A hundredth of a deciban is finer than anybody reads.
        let rounded = |db: f64| (db * 100.0).round() / 100.0;
        let causes = named.into_iter().map(|(cause, at)| {
            (
                cause.to_owned(),
                rounded(decibans(&course, planned.units(at))),
            )
        });
        Weight {
            causes: causes.collect(),
            looks,
        }
    }
}
