//! What locks a machine.

/// What locks a machine from outside a case.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Holder {
    /// A stop of another case.
    Case {
        /// Identifier of that case.
        id: String,
        /// Its running number.
        number: i64,
    },
    /// How the machine is built.
    Build,
}

/// The machine is locked, and not by the case that is looked at.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Lock {
    /// What holds it.
    pub holder: Holder,
    /// The stop that holds, by place in the knowledge.
    pub stop: usize,
}

impl Lock {
    /// The case that holds the lock, if a case does: identifier and running number.
    pub fn case(&self) -> Option<(&str, i64)> {
        match &self.holder {
            Holder::Case { id, number } => Some((id, *number)),
            Holder::Build => None,
        }
    }
}
