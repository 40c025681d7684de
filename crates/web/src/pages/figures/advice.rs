//! How far the advice was right.

use super::asked::Asked;
use super::section::{How, Section, Table, Tile, linked, plain, share, tile};
use crate::drawing::figures::{Curve, Curves, Point};
use crate::show;
use crate::words::work;
use suspect_core::knowledge::Knowledge;
use suspect_core::statistics::{Advice, Sums, advice};

/// Mistakes listed at most.
const LISTED: usize = 12;

/// How far the advice was right.
pub fn section(k: &Knowledge, sums: &Sums, asked: &Asked) -> Section {
    let known = advice(sums);
    let mut section = Section {
        id: "advice",
        title: "Was the advice right?",
        tiles: tiles(&known, asked),
        how: how(),
        ..Section::default()
    };
    if known.too_sure {
        let words =
            "Take these numbers with caution: the advice was right less often than it said.";
        section.alarms.push(words.into());
    }
    if known.missing {
        section.alarms.push(format!(
            "Suspects are missing: {} cases were of nobody who is listed.",
            known.someone_else
        ));
    }
    if !known.bins.is_empty() {
        section.drawing = Some(drawing(&known));
        let words = "Points on the dashed line: it was right as often as it was sure.";
        section.says.push(words.into());
    }
    if !known.mistaken.is_empty() {
        section.table = Some(mistaken(k, &known, asked));
    }
    section
}

fn tiles(known: &Advice, asked: &Asked) -> Vec<Tile> {
    let verified = asked.records(&[("outcome", "fixed-and-verified")]);
    let right = Some(verified.clone());
    vec![
        tile("the first suspect was it", &known.right, right, share),
        tile(
            "right oftener than it said",
            &known.z,
            Some(verified),
            |z| {
                let below = match known.too_sure {
                    true => "too sure: below −1.6",
                    false => "not too sure",
                };
                (format!("{} σ", show::signed(*z)), below.into())
            },
        ),
        tile("Brier score", &known.brier, None, |b| {
            let below = "0 is perfect, guessing is near 1";
            (show::hundredths(*b), below.into())
        }),
        tile("log score", &known.log, None, |l| {
            let value = format!("{} nats", show::hundredths(*l));
            (value, "0 is perfect".into())
        }),
    ]
}

fn how() -> Vec<How> {
    vec![
        How {
            words: "All verified cases: the line-up as it stood before the first check or fix, by \
                    the book.",
            formula: "z = (R − Σ 0.9p)/√Σ 0.9p(1 − 0.9p): one record in ten is wrong",
        },
        How {
            words: "Brier: how far all chances stood from the truth. Log: how surprised the advice \
                    was by who it was.",
            formula: "Σ (p − truth)²; −ln p",
        },
    ]
}

fn drawing(known: &Advice) -> String {
    let point = |b: &suspect_core::statistics::Bin| Point {
        x: b.sure,
        y: b.right.share,
        low: b.right.low,
        high: b.right.high,
    };
    let points: Vec<Point> = known.bins.iter().map(point).collect();
    Curves {
        title: "How often the first suspect was the one, by how sure the advice was",
        x_words: "how sure the advice was",
        y_words: "how often it was right",
        x: (0.0, 1.0),
        curves: &[Curve {
            look: "first",
            points: &points,
            apart: true,
        }],
        diagonal: true,
        told: show::percent,
    }
    .svg()
}

fn mistaken(k: &Knowledge, known: &Advice, asked: &Asked) -> Table {
    let rows = known.mistaken.iter().take(LISTED).map(|m| {
        let was = [("cause", m.was.as_str()), ("outcome", "fixed-and-verified")];
        vec![
            plain(work::cause(k, &m.leader)),
            linked(work::cause(k, &m.was), asked.records(&was)),
            plain(m.n.to_string()),
        ]
    });
    Table {
        head: vec!["The advice said first", "It was", "Cases"],
        rows: rows.collect(),
    }
}
