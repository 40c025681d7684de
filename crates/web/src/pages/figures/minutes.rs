//! Minutes it takes to resolve a case.

use super::asked::Asked;
use super::section::{How, Section, Table, plain, tile};
use crate::drawing::figures::{Place, Stacked};
use crate::show;
use suspect_core::statistics::{Minutes, Sums, minutes};

/// Classes of the drawing: up to so many minutes.
const CLASSES: [(f64, &str); 8] = [
    (10.0, "to 10"),
    (20.0, "to 20"),
    (30.0, "to 30"),
    (45.0, "to 45"),
    (60.0, "to 60"),
    (120.0, "to 2 h"),
    (240.0, "to 4 h"),
    (f64::INFINITY, "longer"),
];

/// Minutes to resolve.
pub fn section(sums: &Sums, asked: &Asked) -> Section {
    let known = minutes(sums);
    let all = Some(asked.records(&[]));
    let told = |m: &f64| (show::minutes(*m), String::new());
    let mut section = Section {
        id: "minutes",
        title: "Minutes to resolve",
        tiles: vec![
            tile("half take no longer than", &known.median, all.clone(), told),
            tile("nine in ten no longer than", &known.nine_in_ten, all, told),
            tile("of a printed guide's minutes", &known.against, None, |r| {
                let within = format!("{}–{}", show::tenths(r.low), show::tenths(r.high));
                (
                    format!("× {}", show::tenths(r.ratio)),
                    format!("{within} with nine in ten"),
                )
            }),
            tile(
                "saved against a printed guide",
                &known.against,
                None,
                |r| match r.saved {
                    saved if saved < 0.0 => {
                        ("none".into(), "the guide would have been faster".into())
                    }
                    saved => (show::minutes(saved), "over these cases".into()),
                },
            ),
        ],
        how: vec![
            How {
                words: "Minutes of search and repair of closed cases, told to the minute up to an \
                        hour and coarser above.",
                formula: "median; 9th decile",
            },
            How {
                words: "The printed guide tries the first fix of every cause the signs speak for, \
                        commonest first, up to the right one: hands only, no waiting; 240 min \
                        where it does not list it. Verified cases only.",
                formula: "Σ s/Σ l; jackknife: error² = n/(n − 1) · Σ (s − r·l)²/(Σ l)²",
            },
        ],
        ..Section::default()
    };
    if known.cases > 0 {
        draw(&mut section, &known);
    }
    section
}

fn draw(section: &mut Section, known: &Minutes) {
    let mut from = 0.0;
    let classes: Vec<(&str, i64)> = CLASSES
        .iter()
        .map(|(to, name)| {
            let within = known
                .bins
                .iter()
                .filter(|(low, ..)| (from..*to).contains(low));
            let n = within.map(|(.., n)| n).sum();
            from = *to;
            (*name, n)
        })
        .collect();
    let place = |(name, n): &(&str, i64)| Place {
        name: name.to_string(),
        parts: vec![*n as f64],
    };
    let chart = Stacked {
        id: "minutes-chart",
        title: "Closed cases by the minutes they took",
        unit: "cases",
        places: &classes.iter().map(place).collect::<Vec<_>>(),
        parts: &["cases".to_string()],
    };
    section.drawing = Some(chart.svg());
    let rows = classes
        .iter()
        .map(|(name, n)| vec![plain(show::capital(name)), plain(n.to_string())]);
    section.table = Some(Table {
        head: vec!["Minutes", "Cases"],
        rows: rows.collect(),
    });
}
