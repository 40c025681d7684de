//! The picture of a finding: a sign of the print, a behaviour of the machine.

use super::{behaviour, sign};
use suspect_core::knowledge::{FindingId, Knowledge, Section};

/// How the fault of a sign looks, without its name: to be named by whoever looks.
pub fn unnamed(k: &Knowledge, finding: FindingId) -> String {
    sign::faulty(&k.finding(finding).id).unwrap_or_default()
}

/// The picture as SVG; empty where there is nothing to draw.
pub fn svg(k: &Knowledge, finding: FindingId) -> String {
    let finding = k.finding(finding);
    let drawn = match finding.section {
        Section::Print => sign::svg(&finding.id, &finding.plain),
        Section::Machine => behaviour::svg(&finding.id, &finding.plain),
        _ => None,
    };
    drawn.unwrap_or_default()
}
