//! The shipped knowledge, and what the validator says of a bad one.

use std::collections::BTreeMap;
use suspect_core::knowledge::{Knowledge, Problem};

#[test]
fn the_shipped_knowledge_validates() {
    if let Err(problems) = Knowledge::load(&Knowledge::shipped_files()) {
        let lines: Vec<_> = problems.iter().map(Problem::to_string).collect();
        panic!("{} problems:\n{}", lines.len(), lines.join("\n"));
    }
}
