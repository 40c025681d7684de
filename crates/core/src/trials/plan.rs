//! A plan of trials: the units that differ between the good configuration and the bad one, what is
//! thought of them, what they cost and which pieces can be made at all.

use super::grade::{SLIP, Tables};
use super::pairs::Pairs;
use super::set::Set;
use serde::{Deserialize, Serialize};

/// What living with the fault for good is thought to cost, counted minutes.
pub const GIVE_UP_MINUTES: f64 = 240.0;

/// How likely a pair known to fight is to be the interaction, against an ordinary pair.
const TIE_FIGHT: f64 = 20.0;
/// The same of two of one group.
const TIE_GROUP: f64 = 2.0;

/// The shares of the ways in which a list can be guilty, before any piece. One unit alone has the
/// rest.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Shares {
    /// None of the list.
    pub elsewhere: f64,
    /// Clean or faulty at even odds, whatever is put back.
    pub comes_and_goes: f64,
    /// Two that act together: either put back cures.
    pub together: f64,
    /// Two faults of their own: half with a half cure that is seen, half without.
    pub separate: f64,
}

impl Default for Shares {
    fn default() -> Shares {
        Shares {
            elsewhere: 0.08,
            comes_and_goes: 0.03,
            together: 0.08,
            separate: 0.06,
        }
    }
}

impl Shares {
    /// One unit alone.
    pub fn alone(&self) -> f64 {
        1.0 - self.elsewhere - self.comes_and_goes - self.together - self.separate
    }
}

/// What holds for every piece of a plan.
#[derive(Debug, Clone, PartialEq)]
pub struct Terms {
    /// Price of a piece without change-overs, counted minutes.
    pub piece_minutes: f64,
    /// Grade of the bad piece, 0 to 4.
    pub bad_grade: f64,
    /// Chance of a slip.
    pub slip: f64,
    /// What living with the fault for good costs, counted minutes.
    pub give_up_minutes: f64,
    /// Shares before any piece.
    pub shares: Shares,
}

impl Default for Terms {
    fn default() -> Terms {
        Terms {
            piece_minutes: 30.0,
            bad_grade: 1.0,
            slip: SLIP,
            give_up_minutes: GIVE_UP_MINUTES,
            shares: Shares::default(),
        }
    }
}

/// What is put back or left as one: a difference, or several that go only together.
#[derive(Debug, Clone, PartialEq)]
pub struct Unit {
    /// Its name.
    pub name: String,
    /// Weight of the suspicion.
    pub weight: f64,
    /// Minutes to change it over.
    pub swap: f64,
    /// Price of leaving it at its old value for good, counted minutes.
    pub live: f64,
}

/// Units that are changed over in one go, such as all settings of one firmware.
#[derive(Debug, Clone, PartialEq)]
pub struct Group {
    /// Its name.
    pub name: String,
    /// Its units.
    pub units: Set,
    /// Minutes once, when anything in it changes.
    pub once: f64,
}

/// The units, and what is known of them. One to [`super::MOST_UNITS`].
#[derive(Debug, Clone, PartialEq)]
pub struct Plan {
    /// The units, in the list's order.
    pub units: Vec<Unit>,
    /// Groups, each unit in at most one.
    pub groups: Vec<Group>,
    /// What holds for every piece.
    pub terms: Terms,
    /// What a grade says.
    pub(super) tables: Tables,
    /// How likely two are to be a pair, against an ordinary one.
    pub(super) tie: Pairs,
    /// What is old wherever this is old, itself among them.
    pub(super) up: Vec<Set>,
    /// What is new wherever this is new, itself among them.
    pub(super) down: Vec<Set>,
}

impl Plan {
    /// A plan of units. `needs` are pairs "the first old needs the second old" without circles
    /// (what goes only together is one unit), `fights` pairs that are known to disturb each other.
    pub fn new(
        units: Vec<Unit>,
        groups: Vec<Group>,
        needs: &[(usize, usize)],
        fights: &[(usize, usize)],
        terms: Terms,
    ) -> Plan {
        let n = units.len();
        let mut tie = Pairs::filled(n, 1.0);
        for group in &groups {
            for (i, j) in super::pairs::all(n) {
                if group.units.has(i) && group.units.has(j) {
                    tie.set(i, j, TIE_GROUP);
                }
            }
        }
        for &(i, j) in fights {
            tie.set(i, j, TIE_FIGHT);
        }
        let up = closed(n, needs);
        let down = (0..n)
            .map(|i| (0..n).filter(|&j| up[j].has(i)).collect())
            .collect();
        Plan {
            tables: Tables::new(terms.bad_grade, terms.slip),
            units,
            groups,
            terms,
            tie,
            up,
            down,
        }
    }

    /// How many units.
    pub fn n(&self) -> usize {
        self.units.len()
    }

    /// Every unit.
    pub fn all(&self) -> Set {
        Set::all(self.n())
    }

    /// What a grade says.
    pub fn tables(&self) -> &Tables {
        &self.tables
    }

    /// The set with all that its units need.
    pub fn close(&self, set: Set) -> Set {
        set.iter().fold(set, |s, i| s.and(self.up[i]))
    }

    /// A unit of the set that needs another which is not in it, with that other.
    pub fn lacking(&self, set: Set) -> Option<(usize, usize)> {
        set.iter()
            .find_map(|i| Some((i, self.up[i].minus(set).iter().next()?)))
    }

    /// The set with one unit turned over, and what that drags along.
    pub(super) fn turned(&self, set: Set, unit: usize) -> Set {
        if set.has(unit) {
            set.minus(self.down[unit])
        } else {
            set.and(self.up[unit])
        }
    }

    /// Price of a piece after another, counted minutes: the piece, what is changed over, and once
    /// for each group in which something changes.
    pub fn price(&self, set: Set, before: Set) -> f64 {
        let changed = set.differs(before);
        let swaps: f64 = changed.iter().map(|i| self.units[i].swap).sum();
        let once: f64 = self
            .groups
            .iter()
            .filter(|g| !g.units.common(changed).is_empty())
            .map(|g| g.once)
            .sum();
        self.terms.piece_minutes + swaps + once
    }

    /// The names of a set.
    pub fn names(&self, set: Set) -> Vec<&str> {
        set.iter().map(|i| self.units[i].name.as_str()).collect()
    }
}

/// What is needed, directly and by others, itself among it.
fn closed(n: usize, needs: &[(usize, usize)]) -> Vec<Set> {
    let mut up: Vec<Set> = (0..n).map(Set::one).collect();
    for &(i, j) in needs {
        up[i] = up[i].and(Set::one(j));
    }
    for k in 0..n {
        for i in 0..n {
            if up[i].has(k) {
                up[i] = up[i].and(up[k]);
            }
        }
    }
    up
}
