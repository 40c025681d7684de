//! Readings of one piece on one machine, the latest first: piece against piece, fast beside normal.

use crate::show;
use std::collections::BTreeMap;
use suspect_core::machine::{FeatureRead, MachineEntry, MachineEvent};
use suspect_pieces::sheets::Sheet;

/// Readings shown side by side.
const SHOWN: usize = 6;

/// One piece that was read.
pub struct Column {
    pub when: String,
    /// Speed and spool.
    pub how: String,
    features: BTreeMap<String, String>,
}

impl Column {
    /// What was read of a feature.
    pub fn said(&self, feature: &str) -> &str {
        self.features.get(feature).map_or("–", String::as_str)
    }
}

/// The readings of a sheet's piece in a machine's log.
pub fn columns(sheet: &Sheet, log: &[MachineEntry]) -> Vec<Column> {
    let column = |entry: &MachineEntry| match &entry.event {
        MachineEvent::PieceRead {
            piece,
            fast,
            spool,
            features,
        } if *piece == sheet.piece => {
            let speed = if *fast { "fast" } else { "normal" };
            let said = features
                .iter()
                .map(|(id, read)| (id.clone(), words(sheet, id, read)));
            Some(Column {
                when: show::date(entry.at),
                how: [speed, spool].join(" ").trim().to_owned(),
                features: said.collect(),
            })
        }
        _ => None,
    };
    log.iter().rev().filter_map(column).take(SHOWN).collect()
}

fn words(sheet: &Sheet, feature: &str, read: &FeatureRead) -> String {
    let plain = match read.said.as_str() {
        "normal" => "normal".to_owned(),
        id => sheet
            .feature(feature)
            .and_then(|f| f.reading(id))
            .map_or_else(|| id.to_owned(), |r| r.plain.clone()),
    };
    let grade = read.grade.map(|g| format!("{g} of 5"));
    let said = [Some(plain).filter(|p| !p.is_empty()), grade];
    said.into_iter().flatten().collect::<Vec<_>>().join(", ")
}
