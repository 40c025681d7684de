//! How often each machine troubles, and which again and again.

use super::section::{Cell, How, Section, Table, linked, plain, too_few};
use crate::show;
use crate::urls;
use suspect_core::statistics::{Exposure, Told, offenders, pace};
use suspect_store::lessons::figures::Busy;
use suspect_store::machines::Machine;

/// How often each machine troubles.
pub fn section(machines: &[Machine], busy: &[Busy]) -> Section {
    let exposures: Vec<Exposure> = busy.iter().map(|b| b.days).collect();
    let name = |at: usize| {
        let of = machines.iter().find(|m| m.id == busy[at].machine);
        of.map_or("a machine", |m| m.name.as_str())
    };
    let alarms = offenders(&exposures).into_iter().map(|o| {
        format!(
            "{} troubles again and again: {} cases in ninety days; luck alone would bring so many \
             with a chance of {}.",
            name(o.at),
            exposures[o.at].cases,
            show::percent(o.chance)
        )
    });
    let mut order: Vec<usize> = (0..busy.len()).collect();
    order.sort_by_key(|at| (-exposures[*at].cases, *at));
    Section {
        id: "machines",
        title: "Which machine troubles",
        alarms: alarms.collect(),
        table: Some(Table {
            head: vec![
                "Machine",
                "Cases in 90 days",
                "Between cases",
                "Nine in ten",
            ],
            rows: order.iter().map(|at| row(name(*at), &busy[*at])).collect(),
        }),
        open: true,
        how: vec![
            How {
                words: "Printing hours between cases where the counter was read twice within the \
                        ninety days, else days.",
                formula: "T/N; the rate is Gamma(N, T)",
            },
            How {
                words: "Again and again: more cases than luck brings, against all other machines; \
                        wrongly said of one shop in twenty.",
                formula: "P(N or more) < 0.05/machines; negative binomial, size N' + ½, \
                          p = T'/(T' + T)",
            },
        ],
        ..Section::default()
    }
}

fn row(name: &str, busy: &Busy) -> Vec<Cell> {
    let (exposure, unit) = match busy.hours_a_day {
        Some(hours) => {
            let time = hours * busy.days.time;
            (Exposure { time, ..busy.days }, "h")
        }
        None => (busy.days, "days"),
    };
    let value = |v: f64| show::with_unit(v.round(), unit);
    let (between, within) = match pace(exposure) {
        Told::Known(p) => (
            value(p.between),
            format!("{}–{}", p.low.round(), value(p.high)),
        ),
        Told::TooFew { n, least } => (too_few(n, least), "–".into()),
    };
    vec![
        linked(name, urls::machine(busy.machine)),
        plain(busy.days.cases.to_string()),
        plain(between),
        plain(within),
    ]
}
