//! What is to be expected of open cases: reckoned when it is first asked for, and again when the
//! case or what it hangs on changed. Nothing is kept that could not be reckoned anew.

use std::collections::BTreeMap;
use std::sync::{Arc, Mutex, PoisonError};
use suspect_core::case::What;
use suspect_core::shift::Expected;
use suspect_store::Uuid;
use suspect_store::lists::CaseRow;
use time::OffsetDateTime;

/// What a course hangs on.
#[derive(Debug, Clone, PartialEq)]
pub struct Key {
    last_seq: u32,
    next_step: Option<String>,
    leader: Option<(String, u64)>,
    locked: bool,
    settings: u32,
}

impl Key {
    /// Of a case as its row has it, on a machine that something else locks or not, by settings of a
    /// number.
    pub fn of(row: &CaseRow, locked: bool, settings: u32) -> Self {
        let leader = row.leader.as_ref();
        Self {
            last_seq: row.last_seq,
            next_step: row.next_step.clone(),
            leader: leader.map(|(id, p)| (id.clone(), p.to_bits())),
            locked,
            settings,
        }
    }
}

/// A case as it is to be expected.
#[derive(Debug, Clone)]
pub struct Known {
    /// What is to be done now.
    pub what: What,
    /// Its course; nothing where nothing can be done.
    pub course: Option<Expected>,
    /// When that was reckoned: waits run on.
    pub at: OffsetDateTime,
}

/// Courses by case, each with what it hangs on.
type Courses = BTreeMap<Uuid, (Key, Arc<Known>)>;

/// Courses reckoned so far.
#[derive(Debug, Clone, Default)]
pub struct Expecting(Arc<Mutex<Courses>>);

impl Expecting {
    /// What was reckoned of a case, where it still holds.
    pub fn known(&self, case: Uuid, key: &Key) -> Option<Arc<Known>> {
        let all = self.0.lock().unwrap_or_else(PoisonError::into_inner);
        let (made_for, known) = all.get(&case)?;
        (made_for == key).then(|| Arc::clone(known))
    }

    /// Keeps what was reckoned; of cases that are not open any more nothing is kept.
    pub fn keep(&self, new: Vec<(Uuid, Key, Arc<Known>)>, open: &[Uuid]) {
        let mut all = self.0.lock().unwrap_or_else(PoisonError::into_inner);
        all.retain(|id, _| open.contains(id));
        all.extend(new.into_iter().map(|(id, key, known)| (id, (key, known))));
    }
}
