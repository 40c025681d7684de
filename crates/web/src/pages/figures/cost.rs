//! What failures cost.

use super::asked::Asked;
use super::section::{How, Section, Table, Tile, linked, plain};
use crate::drawing::figures::{Place, Stacked, swatch};
use crate::show;
use std::collections::BTreeMap;
use suspect_core::planning::Workshop;
use suspect_core::statistics::{Loss, MonthCost, Sums, costs};

/// What the money goes to.
const PARTS: [&str; 4] = ["work", "filament", "machine hours", "parts"];
/// The chart's name in patterns.
const CHART: &str = "cost-chart";

/// What failures cost.
pub fn section(
    sums: &Sums,
    months: &BTreeMap<String, Sums>,
    workshop: &Workshop,
    asked: &Asked,
) -> Section {
    let all = Loss::of(sums);
    let mut section = Section {
        id: "cost",
        title: "What failures cost",
        how: vec![How {
            words: "Filament and machine hours of the failed prints, as far as somebody told, with \
                    filament, minutes and parts of search and repair; at the rates of the workshop.",
            formula: "grams · price + machine hours · rate + minutes · wage + parts",
        }],
        ..Section::default()
    };
    if all.cases == 0 {
        section.says.push("No case was closed in this time.".into());
        return section;
    }
    let by_month = costs(months, workshop);
    let mean = all.priced(workshop).total() / by_month.len().max(1) as f64;
    let money = |v: f64| show::money(v, &workshop.currency).unwrap_or_else(|| "0".into());
    let tile = |name: &str, value: String, below: String| Tile {
        name: name.into(),
        value: Some(value),
        below,
        href: Some(asked.records(&[])),
    };
    section.tiles = vec![
        tile(
            "a month",
            money(mean),
            format!("{} cases in all", all.cases),
        ),
        tile(
            "hours of failed prints",
            show::with_unit(all.hours.round(), "h"),
            told(&all),
        ),
        tile(
            "filament",
            show::grams(all.grams),
            "failed prints, search and proof".into(),
        ),
        tile(
            "of people",
            show::minutes(all.minutes),
            "search and repair".into(),
        ),
    ];
    draw(&mut section, &by_month, &workshop.currency);
    let rows = by_month.iter().rev().map(|m| {
        let from = format!("{}-01", m.month);
        vec![
            linked(
                show::month(&m.month),
                asked.records(&[("from", &from), ("month", "one")]),
            ),
            plain(m.loss.cases.to_string()),
            plain(money(m.priced.work)),
            plain(money(m.priced.filament)),
            plain(money(m.priced.machine)),
            plain(money(m.priced.parts)),
            plain(money(m.priced.total())),
        ]
    });
    section.table = Some(Table {
        head: vec![
            "Month", "Cases", "Work", "Filament", "Machine", "Parts", "Total",
        ],
        rows: rows.collect(),
    });
    section
}

fn told(all: &Loss) -> String {
    format!("told of {} of {} cases", all.told, all.cases)
}

fn draw(section: &mut Section, by_month: &[MonthCost], currency: &str) {
    let place = |m: &MonthCost| Place {
        name: show::month(&m.month),
        parts: vec![
            m.priced.work,
            m.priced.filament,
            m.priced.machine,
            m.priced.parts,
        ],
    };
    let parts = PARTS.map(str::to_string);
    let unit = format!("{currency} a month");
    let chart = Stacked {
        id: CHART,
        title: "What failures cost, month by month",
        unit: &unit,
        places: &by_month.iter().map(place).collect::<Vec<_>>(),
        parts: &parts,
    };
    section.drawing = Some(chart.svg());
    let legend = PARTS.iter().enumerate();
    section.legend = legend
        .map(|(at, name)| {
            (
                swatch(&format!("{CHART}-legend-{at}"), at),
                show::capital(name),
            )
        })
        .collect();
}
