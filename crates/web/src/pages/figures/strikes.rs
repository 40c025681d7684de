//! What strikes here: causes against what the book expects, and over the months.

use super::asked::Asked;
use super::section::{Cell, How, Section, Table, linked, plain};
use crate::drawing::figures::{Place, Stacked, swatch};
use crate::show;
use crate::words::learned as words_of;
use crate::words::work;
use std::collections::BTreeMap;
use suspect_core::knowledge::{CauseId, Knowledge};
use suspect_core::learning::Learned;
use suspect_core::learning::learned::Counted as Level;
use suspect_core::statistics::{Counted, DRAWN, Sums};

/// Cases from which a factor is told.
const FACTOR_FROM: f64 = 3.0;
/// The chart's name in patterns.
const CHART: &str = "strikes-chart";

/// What strikes here.
pub fn section(
    k: &Knowledge,
    (sums, months): (&Sums, &BTreeMap<String, Sums>),
    (learned, rests): (Option<&Learned>, bool),
    asked: &Asked,
) -> Section {
    let mut recorded: Vec<(&str, i64)> =
        sums.of(Counted::Cause).map(|(id, n, _)| (id, n)).collect();
    recorded.sort_by(|a, b| b.1.cmp(&a.1).then(a.0.cmp(b.0)));
    let mut section = Section {
        id: "strikes",
        title: "What strikes here",
        how: how(),
        ..Section::default()
    };
    if recorded.is_empty() {
        section
            .says
            .push("No cause was recorded in this time.".into());
        return section;
    }
    if rests {
        section.says.push(words_of::RESTS.into());
    }
    let drawn = sums.most(Counted::Cause, DRAWN);
    let mut names: Vec<String> = drawn.iter().map(|id| work::cause(k, id)).collect();
    if recorded.len() > DRAWN {
        names.push(format!("{} others", recorded.len() - DRAWN));
    }
    let places: Vec<Place> = months
        .iter()
        .map(|(month, sums)| place(month, sums, &drawn))
        .collect();
    let chart = Stacked {
        id: CHART,
        title: "Cases by cause and month",
        unit: "cases a month",
        places: &places,
        parts: &names,
    };
    section.drawing = Some(chart.svg());
    let legend = names.iter().enumerate();
    section.legend = legend
        .map(|(at, name)| (swatch(&format!("{CHART}-legend-{at}"), at), name.clone()))
        .collect();
    section.table = Some(Table {
        head: vec!["Cause", "Cases", "Counted", "Expected", "Factor"],
        rows: recorded
            .iter()
            .map(|(id, n)| row(k, (id, *n), learned, asked))
            .collect(),
    });
    section
}

fn how() -> Vec<How> {
    vec![
        How {
            words: "Counted: verified cases whole, half-proven ones half, weighed by how far the \
                    evidence agrees with the record; half as much after two years. Expected: as \
                    many by the book on these machines.",
            formula: "factor = Π (κ + n)/(κ + E), within ¼ to 4; κ: shop 10, kind 6, machine 3",
        },
        How {
            words: "Cases in the drawing are counted whole, by the month they were closed in.",
            formula: "n",
        },
    ]
}

fn place(month: &str, sums: &Sums, drawn: &[&str]) -> Place {
    let of = drawn.iter().map(|id| sums.n(Counted::Cause, id) as f64);
    let mut parts: Vec<f64> = of.collect();
    parts.push(sums.all(Counted::Cause) as f64 - parts.iter().sum::<f64>());
    Place {
        name: show::month(month),
        parts,
    }
}

/// The level that was asked for.
fn level(learned: &Learned, cause: CauseId, asked: &Asked) -> Level {
    let own = learned.cause(cause);
    match (asked.machine, &asked.kind) {
        (Some(_), _) => own.machine,
        (None, Some(_)) => own.kind,
        (None, None) => own.shop,
    }
}

fn row(k: &Knowledge, (id, n): (&str, i64), learned: Option<&Learned>, asked: &Asked) -> Vec<Cell> {
    let counted = k.cause_id(id).zip(learned);
    let counted = counted.map(|(c, l)| (level(l, c, asked), l.factor(c)));
    let mut cells = vec![
        linked(work::cause(k, id), asked.records(&[("cause", id)])),
        plain(n.to_string()),
    ];
    match counted {
        Some((level, factor)) => {
            cells.push(plain(show::tenths(level.n)));
            cells.push(plain(show::tenths(level.expected)));
            cells.push(plain(match level.n >= FACTOR_FROM {
                true => format!("× {}", show::tenths(factor)),
                false => "too few yet".into(),
            }));
        }
        None => cells.extend(["–", "–", "–"].map(plain)),
    }
    cells
}
