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
                    filament, minutes and parts of search and repair; at the rates of the \
                    workshop.",
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
    section.tiles = tiles(&all, money(mean, workshop), asked);
    draw(&mut section, &by_month, &workshop.currency);
    section.table = Some(table(&by_month, workshop, asked));
    section
}

fn money(amount: f64, workshop: &Workshop) -> String {
    show::money(amount, &workshop.currency).unwrap_or_else(|| "0".into())
}

fn tiles(all: &Loss, mean: String, asked: &Asked) -> Vec<Tile> {
    let hours = show::with_unit(all.hours.round(), "h");
    let people = show::minutes(all.minutes);
    let lost = "failed prints, search and proof";
    [
        ("a month", mean, format!("{} cases in all", all.cases)),
        ("hours of failed prints", hours, told(all)),
        ("filament", show::grams(all.grams), lost.into()),
        ("time of people", people, "search and repair".into()),
    ]
    .map(|(name, value, below)| Tile {
        name: name.into(),
        value: Some(value),
        below,
        href: Some(asked.records(&[])),
    })
    .into()
}

fn table(by_month: &[MonthCost], workshop: &Workshop, asked: &Asked) -> Table {
    let rows = by_month.iter().rev().map(|m| {
        let from = format!("{}-01", m.month);
        let behind = asked.records(&[("from", &from), ("month", "one")]);
        let p = &m.priced;
        let mut cells = vec![
            linked(show::month(&m.month), behind),
            plain(m.loss.cases.to_string()),
        ];
        let amounts = [p.work, p.filament, p.machine, p.parts, p.total()];
        cells.extend(amounts.map(|v| plain(money(v, workshop))));
        cells
    });
    Table {
        head: vec![
            "Month", "Cases", "Work", "Filament", "Machine", "Parts", "Total",
        ],
        rows: rows.collect(),
    }
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
