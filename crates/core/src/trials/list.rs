//! The list of differences between a good configuration and a bad one, and the plan made of it.

use super::grade::SLIP;
use super::list_check::ListProblem;
use super::plan::{GIVE_UP_MINUTES, Group, Plan, Shares, Terms, Unit};
use super::set::{MOST_UNITS, Set};
use crate::nearest::{nearest, short};
use serde::{Deserialize, Serialize};
use std::collections::{BTreeMap, HashMap};

/// Most differences of a list.
pub const MOST_DIFFERENCES: usize = 200;

/// How likely somebody thinks a difference to be guilty.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Suspicion {
    /// Weight 4.
    Likely,
    /// Weight 2.
    #[default]
    Possible,
    /// Weight 1.
    Unlikely,
}

impl Suspicion {
    /// Every word, the heaviest first.
    pub const ALL: [Suspicion; 3] = [Suspicion::Likely, Suspicion::Possible, Suspicion::Unlikely];

    /// Its identifier.
    pub fn id(self) -> &'static str {
        match self {
            Suspicion::Likely => "likely",
            Suspicion::Possible => "possible",
            Suspicion::Unlikely => "unlikely",
        }
    }

    fn weight(self) -> f64 {
        match self {
            Suspicion::Likely => 4.0,
            Suspicion::Possible => 2.0,
            Suspicion::Unlikely => 1.0,
        }
    }
}

/// One thing that differs.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Difference {
    /// What it is called; one name once.
    pub name: String,
    /// Its good value, in words.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub old: Option<String>,
    /// Its bad value, in words.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub new: Option<String>,
    /// How likely it is thought to be.
    #[serde(default)]
    pub suspicion: Suspicion,
    /// What it belongs to.
    #[serde(default)]
    pub group: Option<String>,
    /// Minutes to change it over.
    #[serde(default)]
    pub swap_minutes: f64,
    /// Price of leaving it at its good value for good, counted minutes.
    #[serde(default)]
    pub live_minutes: f64,
    /// Others that have to be old where this one is. Two that need each other go only together.
    #[serde(default)]
    pub needs: Vec<String>,
}

/// The list with what holds for its pieces.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct List {
    /// Price of a piece without change-overs, counted minutes.
    #[serde(default = "default_piece")]
    pub piece_minutes: f64,
    /// Grade of the bad piece, 0 to 4.
    #[serde(default = "default_bad")]
    pub bad_grade: f64,
    /// Chance of a slip.
    #[serde(default = "default_slip")]
    pub slip: f64,
    /// What living with the fault for good costs, counted minutes.
    #[serde(default = "default_give_up")]
    pub give_up_minutes: f64,
    /// Shares before any piece.
    #[serde(default)]
    pub shares: Shares,
    /// What differs.
    pub differences: Vec<Difference>,
    /// Pairs known to disturb each other.
    #[serde(default)]
    pub fights: Vec<(String, String)>,
    /// Minutes once for a group in which anything changes, such as a flash.
    #[serde(default, skip_serializing_if = "BTreeMap::is_empty")]
    pub group_minutes: BTreeMap<String, f64>,
}

fn default_piece() -> f64 {
    30.0
}
fn default_bad() -> f64 {
    1.0
}
fn default_slip() -> f64 {
    SLIP
}
fn default_give_up() -> f64 {
    GIVE_UP_MINUTES
}

impl Default for List {
    fn default() -> List {
        List {
            piece_minutes: default_piece(),
            bad_grade: default_bad(),
            slip: default_slip(),
            give_up_minutes: default_give_up(),
            shares: Shares::default(),
            differences: Vec::new(),
            fights: Vec::new(),
            group_minutes: BTreeMap::new(),
        }
    }
}

/// Differences that go only together, as one unit.
#[derive(Debug, Clone, PartialEq)]
pub struct Planned {
    /// The plan.
    pub plan: Plan,
    /// The unit of each difference, in the list's order.
    pub unit_of: Vec<usize>,
}

impl Planned {
    /// The units of differences by number.
    pub fn units(&self, differences: impl IntoIterator<Item = usize>) -> Set {
        differences.into_iter().map(|d| self.unit_of[d]).collect()
    }

    /// The differences of units, in the list's order.
    pub fn differences(&self, units: Set) -> Vec<usize> {
        (0..self.unit_of.len())
            .filter(|&d| units.has(self.unit_of[d]))
            .collect()
    }
}

impl List {
    /// The plan of it.
    ///
    /// # Errors
    ///
    /// [`ListProblem`] says what is wrong with the list, and what would do.
    pub fn plan(&self) -> Result<Planned, ListProblem> {
        self.check()?;
        let numbers = self.numbers();
        let place = |of: &str, named: &str| {
            numbers
                .get(named)
                .copied()
                .ok_or_else(|| ListProblem::Unknown {
                    of: short(of),
                    named: short(named),
                    maybe: nearest(named, numbers.keys().copied()).map(String::from),
                })
        };
        let mut needs = Vec::new();
        for (i, difference) in self.differences.iter().enumerate() {
            for other in &difference.needs {
                needs.push((i, place(&difference.name, other)?));
            }
        }
        let mut fights = Vec::new();
        for (a, b) in &self.fights {
            fights.push((
                place("a pair known to fight", a)?,
                place("a pair known to fight", b)?,
            ));
        }
        let unit_of = joined(self.differences.len(), &needs);
        let units = self.units(&unit_of);
        if units.len() > MOST_UNITS {
            return Err(ListProblem::TooMany {
                count: units.len(),
                most: MOST_UNITS,
            });
        }
        let between = |pairs: &[(usize, usize)]| -> Vec<(usize, usize)> {
            let units = pairs.iter().map(|&(i, j)| (unit_of[i], unit_of[j]));
            units.filter(|(i, j)| i != j).collect()
        };
        let groups = self.groups(&unit_of);
        let plan = Plan::new(
            units,
            groups,
            &between(&needs),
            &between(&fights),
            self.terms(),
        );
        Ok(Planned { plan, unit_of })
    }

    fn terms(&self) -> Terms {
        Terms {
            piece_minutes: self.piece_minutes,
            bad_grade: self.bad_grade,
            slip: self.slip,
            give_up_minutes: self.give_up_minutes,
            shares: self.shares,
        }
    }

    fn numbers(&self) -> HashMap<&str, usize> {
        let names = self.differences.iter().enumerate();
        names.map(|(i, d)| (d.name.as_str(), i)).collect()
    }

    fn units(&self, unit_of: &[usize]) -> Vec<Unit> {
        let mut units: Vec<Unit> = Vec::new();
        for (difference, &unit) in self.differences.iter().zip(unit_of) {
            if unit == units.len() {
                units.push(Unit {
                    name: difference.name.clone(),
                    weight: difference.suspicion.weight(),
                    swap: difference.swap_minutes,
                    live: difference.live_minutes,
                });
            } else {
                let whole = &mut units[unit];
                whole.name = format!("{} + {}", whole.name, difference.name);
                whole.weight += difference.suspicion.weight();
                whole.swap += difference.swap_minutes;
                whole.live += difference.live_minutes;
            }
        }
        units
    }

    fn groups(&self, unit_of: &[usize]) -> Vec<Group> {
        let mut groups: Vec<Group> = Vec::new();
        for (difference, &unit) in self.differences.iter().zip(unit_of) {
            let Some(name) = difference.group.as_deref().filter(|g| !g.is_empty()) else {
                continue;
            };
            if groups.iter().any(|g| g.units.has(unit)) {
                continue;
            }
            let at = groups
                .iter()
                .position(|g| g.name == name)
                .unwrap_or_else(|| {
                    groups.push(Group {
                        name: name.to_owned(),
                        units: Set::NONE,
                        once: self.group_minutes.get(name).copied().unwrap_or(0.0),
                    });
                    groups.len() - 1
                });
            groups[at].units = groups[at].units.and(Set::one(unit));
        }
        groups
    }
}

/// Those that need each other, directly or by others, are one unit; units are numbered in the order
/// of their first difference.
fn joined(n: usize, needs: &[(usize, usize)]) -> Vec<usize> {
    let mut reach = vec![vec![false; n]; n];
    for &(i, j) in needs {
        reach[i][j] = true;
    }
    for k in 0..n {
        let through = reach[k].clone();
        for row in &mut reach {
            if row[k] {
                row.iter_mut().zip(&through).for_each(|(to, by)| *to |= by);
            }
        }
    }
    let mut unit_of = vec![usize::MAX; n];
    let mut units = 0;
    for i in 0..n {
        let other = (0..i).find(|&j| reach[i][j] && reach[j][i]);
        unit_of[i] = other.map_or(units, |j| unit_of[j]);
        units += usize::from(other.is_none());
    }
    unit_of
}
