//! Where practice differs, said where it is met.

use crate::urls;
use suspect_core::knowledge::{CheckId, FixId, Knowledge, School, Side};
use suspect_core::planning::{Workshop, chosen};

/// A disagreement of practice in a line.
pub struct SchoolLine {
    /// The question.
    pub title: String,
    /// Where its sides stand.
    pub href: String,
    /// On which side what is on show stands.
    pub here: String,
    /// The side this workshop has chosen; empty where it has not.
    pub own: String,
}

/// The disagreements a fix belongs to.
pub fn of_fix(k: &Knowledge, workshop: Option<&Workshop>, fix: FixId) -> Vec<SchoolLine> {
    let schools = k.schools.iter().filter(|s| s.has_fix(fix));
    schools
        .map(|s| line(workshop, s, |side| side.fixes.contains(&fix)))
        .collect()
}

/// The disagreements a check belongs to.
pub fn of_check(k: &Knowledge, workshop: Option<&Workshop>, check: CheckId) -> Vec<SchoolLine> {
    let schools = k.schools.iter().filter(|s| s.has_check(check));
    schools
        .map(|s| line(workshop, s, |side| side.checks.contains(&check)))
        .collect()
}

fn line(workshop: Option<&Workshop>, school: &School, here: impl Fn(&Side) -> bool) -> SchoolLine {
    let own = workshop.and_then(|w| chosen(w, school));
    let side = school.sides.iter().find(|s| here(s));
    SchoolLine {
        title: school.title.clone(),
        href: urls::school(&school.id),
        here: side.map_or_else(String::new, |s| s.name.clone()),
        own: own.map_or_else(String::new, |s| s.name.clone()),
    }
}
