//! Where practitioners differ: the sides, when each applies, what it costs and risks.

use super::{CheckId, FixId};

/// A disagreement of practice.
#[derive(Debug, Clone)]
pub struct School {
    /// Identifier.
    pub id: String,
    /// The question in a line: "Flat tops: denser infill, or more top layers".
    pub title: String,
    /// What is behind it.
    pub why: String,
    /// The sides, two or more.
    pub sides: Vec<Side>,
}

/// One way of doing it.
#[derive(Debug, Clone)]
pub struct Side {
    /// Identifier within the school.
    pub id: String,
    /// What is done.
    pub name: String,
    /// When it applies.
    pub when: String,
    /// What it costs.
    pub costs: String,
    /// What it risks.
    pub risks: String,
    /// Fixes that belong to it.
    pub fixes: Vec<FixId>,
    /// Checks that belong to it.
    pub checks: Vec<CheckId>,
}

impl School {
    /// The side with this identifier.
    pub fn side(&self, id: &str) -> Option<&Side> {
        self.sides.iter().find(|s| s.id == id)
    }

    /// Whether a fix belongs to one of its sides.
    pub fn has_fix(&self, fix: FixId) -> bool {
        self.sides.iter().any(|s| s.fixes.contains(&fix))
    }

    /// Whether a check belongs to one of its sides.
    pub fn has_check(&self, check: CheckId) -> bool {
        self.sides.iter().any(|s| s.checks.contains(&check))
    }
}
