//! How long parts live in this shop, and what is due on its machines.

use super::section::{How, Section, Table, linked, plain};
use crate::drawing::figures::{Ranked, Row};
use crate::{show, urls};
use suspect_core::book::{ShopLife, shop_lives};
use suspect_store::books::{Books, Shelved};

/// Lives of parts.
pub fn section(books: &Books) -> Section {
    let machines: Vec<_> = books.all.iter().map(Shelved::beside).collect();
    let lives = shop_lives(&machines);
    let mut section = Section {
        id: "lives",
        title: "How long parts live here",
        how: vec![How {
            words: "Worn parts that were replaced, those that run, and the usual life counted for \
                two: hours by which five in ten are worn, with two and eight in ten.",
            formula: "√(B·((1 − q)^(−1/α) − 1)); α = 2 + ended, B = usual²/(√2 − 1) + Σ hours²",
        }],
        ..Section::default()
    };
    if lives.is_empty() {
        section
            .says
            .push("Too few yet: from two worn parts of a sort on.".into());
        return section;
    }
    let longest = lives.iter().map(|l| l.worn_by[2]).fold(1.0, f64::max);
    let row = |l: &ShopLife| Row {
        name: l.part.name.into(),
        value: l.worn_by[1] / longest,
        low: l.worn_by[0] / longest,
        high: l.worn_by[2] / longest,
        shown: format!("{} h", show::number(l.worn_by[1].round())),
    };
    let rows: Vec<Row> = lives.iter().map(row).collect();
    let title = "Hours by which half of the parts are worn, with two and eight in ten";
    section.drawing = Some(Ranked { title, rows: &rows }.svg());
    let rows = lives.iter().map(|l| {
        let [early, half, late] = l.worn_by.map(|h| show::number(h.round()));
        vec![
            linked(l.part.name, urls::ROUND.to_string()),
            plain(l.ended.to_string()),
            plain(format!("{half} h")),
            plain(format!("{early} to {late} h")),
            plain(format!("{} h", show::number(l.usual))),
        ]
    });
    section.table = Some(Table {
        head: vec!["Part", "Ended", "Half worn by", "Six in ten", "Usual"],
        rows: rows.collect(),
    });
    section
}
