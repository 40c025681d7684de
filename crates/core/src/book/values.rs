//! Values found for a machine, a nozzle and a material, and whether they still hold.

use super::Book;
use crate::machine::{Value, value_of};
use time::{Duration, OffsetDateTime};

/// A value older than that is measured again.
const OLD_AFTER: Duration = Duration::days(365);
/// Nozzles closer than this, in mm, are one size.
const SAME_NOZZLE: f64 = 0.01;
/// Said of a material that was never calibrated.
pub const NEVER: &str = "not calibrated yet";

/// Why a value may not hold any more.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Stale {
    /// It was found long ago.
    Old,
    /// A part on which it hangs was fitted new since.
    Part(&'static str),
}

/// A value as it was found last.
#[derive(Debug, Clone)]
pub struct Found {
    /// Nozzle in mm.
    pub nozzle_mm: f64,
    /// Material family.
    pub material: String,
    /// Which value.
    pub of: &'static Value,
    /// How much.
    pub value: f64,
    /// When.
    pub at: OffsetDateTime,
    /// Who.
    pub by: Option<String>,
    /// The piece it was read from, in words.
    pub piece: String,
    /// Why it may not hold any more.
    pub stale: Option<Stale>,
}

/// The latest of every value, by material, nozzle and value.
pub fn found(book: &Book, now: OffsetDateTime) -> Vec<Found> {
    let mut all: Vec<Found> = Vec::new();
    for calibrated in book.calibrated.iter().rev() {
        let nozzle_mm = calibrated.found.nozzle_mm;
        for (id, value) in &calibrated.found.values {
            let Some(of) = value_of(id) else { continue };
            let known = |f: &Found| {
                f.of.id == of.id
                    && f.material == calibrated.found.material
                    && (f.nozzle_mm - nozzle_mm).abs() < SAME_NOZZLE
            };
            if all.iter().any(known) {
                continue;
            }
            all.push(Found {
                nozzle_mm,
                material: calibrated.found.material.clone(),
                of,
                value: *value,
                at: calibrated.at,
                by: calibrated.by.clone(),
                piece: calibrated.found.piece.clone(),
                stale: stale(book, of, calibrated.at, now),
            });
        }
    }
    all.sort_by(|a, b| {
        let nozzle = a.nozzle_mm.total_cmp(&b.nozzle_mm);
        a.material
            .cmp(&b.material)
            .then(nozzle)
            .then(a.of.id.cmp(b.of.id))
    });
    all
}

fn stale(book: &Book, of: &Value, at: OffsetDateTime, now: OffsetDateTime) -> Option<Stale> {
    let newer = |part: &&&str| {
        let fitted = book.fitted.get(**part).and_then(|all| all.last());
        fitted.is_some_and(|f| f.at > at)
    };
    match of.parts.iter().find(newer) {
        Some(part) => Some(Stale::Part(part)),
        None => (now - at > OLD_AFTER).then_some(Stale::Old),
    }
}

/// Values found for one material, and one nozzle where it is known: what a case on the machine may
/// take over.
pub fn found_for(
    book: &Book,
    material: &str,
    nozzle_mm: Option<f64>,
    now: OffsetDateTime,
) -> Vec<Found> {
    let fits = |f: &Found| {
        let nozzle = nozzle_mm.is_none_or(|n| (n - f.nozzle_mm).abs() < SAME_NOZZLE);
        f.material == material && nozzle
    };
    found(book, now).into_iter().filter(fits).collect()
}
