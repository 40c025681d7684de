//! How cases end, and with how much care.

use super::asked::Asked;
use super::section::{How, Section, Table, between, linked, plain, share, tile, too_few};
use crate::drawing::figures::{Ranked, Row};
use crate::show;
use crate::words::outcome;
use suspect_core::statistics::{Sums, Told, care, ends};

/// How cases end.
pub fn section(sums: &Sums, asked: &Asked) -> Section {
    let (ends, care) = (ends(sums), care(sums));
    let mut section = Section {
        id: "ends",
        title: "How cases end",
        tiles: vec![
            tile("proof complete", &care.proven, None, share),
            tile("first layers caught", &care.first_layers, None, share),
            tile("said whether it held", &care.answered, None, share),
        ],
        how: vec![
            How {
                words: "A share with the interval it lies in with nine in ten (Jeffreys).",
                formula: "k/n; Beta(k + ½, n − k + ½)",
            },
            How {
                words: "First layers caught: of the faults that show there and whose cost was \
                        told, those whose print was stopped in it.",
                formula: "caught/(caught + missed)",
            },
        ],
        ..Section::default()
    };
    let by = match &ends.by {
        Told::Known(by) => by,
        Told::TooFew { n, least } => {
            section.says.push(too_few(*n, *least));
            return section;
        }
    };
    let rows = by.iter().map(|(o, n, s)| Row {
        name: show::capital(outcome::outcome(*o)),
        value: s.share,
        low: s.low,
        high: s.high,
        shown: format!("{n} · {}", show::percent(s.share)),
    });
    let title = "How cases end, each with its share and interval";
    section.drawing = Some(
        Ranked {
            title,
            rows: &rows.collect::<Vec<_>>(),
        }
        .svg(),
    );
    let rows = by.iter().map(|(o, n, s)| {
        let name = show::capital(outcome::outcome(*o));
        vec![
            linked(name, asked.records(&[("outcome", o.id())])),
            plain(n.to_string()),
            plain(show::percent(s.share)),
            plain(between(s.low, s.high)),
        ]
    });
    section.table = Some(Table {
        head: vec!["Outcome", "Cases", "Share", "Nine in ten"],
        rows: rows.collect(),
    });
    section
}
