//! Which fixes hold, and which cure.

use super::asked::Asked;
use super::section::{How, Section, Table, between, linked, plain};
use crate::drawing::figures::{Curve, Curves, Point};
use crate::show;
use crate::words::work;
use suspect_core::knowledge::Knowledge;
use suspect_core::learning::Learned;
use suspect_core::learning::hold::{Holding, Holds, WATCHED_DAYS};
use suspect_store::lessons::figures::FixHeld;

/// Cases from which a chance is told.
const FROM: i64 = 3;
/// Uses from which a cure is told.
const USES_FROM: f64 = 3.0;
/// Days between points of a curve.
const STEP: usize = 3;

/// Which fixes hold.
pub fn holding(
    k: &Knowledge,
    (shop, answers): (&Holding, i64),
    fixes: &[FixHeld],
    asked: &Asked,
) -> Section {
    let mut section = Section {
        id: "holds",
        title: "Which fixes hold",
        drawing: Some(curves(shop, answers)),
        legend: vec![(line("second"), "as the book has it".into())],
        table: (!fixes.is_empty()).then(|| table(k, shop, fixes, asked)),
        how: vec![How {
            words: "Chance that a fix still holds ninety days after its last clean print: a rate \
                    of return up to two weeks and one after, the shop's shared by fixes with few \
                    cases of their own. Over the whole shop and all the time.",
            formula: "H(t) = (β₁/(β₁ + min(t, 14)))^α₁ · (β₂/(β₂ + t − 14))^α₂; α + 1 a return, \
                      β + days watched; book 0.8/134, 0.8/730",
        }],
        ..Section::default()
    };
    match answers >= FROM {
        true => section
            .legend
            .insert(0, (line("first"), "this workshop".into())),
        false => section.says.push(format!(
            "Too few answers yet: {answers} of {FROM}. Until then the book speaks."
        )),
    }
    section
}

/// The chance of holding by days: the book's, and the shop's once enough answers speak.
fn curves(shop: &Holding, answers: i64) -> String {
    let points = |holding: &Holding| -> Vec<Point> {
        let days = (0..=WATCHED_DAYS as usize).step_by(STEP);
        days.map(|day| point(day as f64, holding.holds(day as f64)))
            .collect()
    };
    let (own, book) = (points(shop), points(&Holding::default()));
    let curve = |look, points| Curve {
        look,
        points,
        apart: false,
    };
    let curves = [curve("second", &book), curve("first", &own)];
    Curves {
        title: "Chance that a fix still holds, by days since its last clean print",
        x_words: "days after the last clean print",
        y_words: "still holds",
        x: (0.0, WATCHED_DAYS),
        curves: if answers >= FROM {
            &curves
        } else {
            &curves[..1]
        },
        diagonal: false,
        told: show::number,
    }
    .svg()
}

fn table(k: &Knowledge, shop: &Holding, fixes: &[FixHeld], asked: &Asked) -> Table {
    let mut rows: Vec<&FixHeld> = fixes.iter().collect();
    rows.sort_by(|a, b| b.asked.cmp(&a.asked).then(a.fix.cmp(&b.fix)));
    let rows = rows.into_iter().map(|f| {
        let own = shop.of_a_fix().plus(f.pieces).holds(WATCHED_DAYS);
        let (chance, within) = match f.asked >= FROM {
            true => (show::percent(own.chance), between(own.low, own.high)),
            false => ("too few yet".into(), "–".into()),
        };
        vec![
            linked(work::fix(k, &f.fix), asked.records(&[("fix", &f.fix)])),
            plain(format!("{} of {}", f.returned, f.asked)),
            plain(chance),
            plain(within),
        ]
    });
    Table {
        head: vec!["Fix", "Came back", "Holds 90 days", "Nine in ten"],
        rows: rows.collect(),
    }
}

fn point(day: f64, holds: Holds) -> Point {
    Point {
        x: day,
        y: holds.chance,
        low: holds.low,
        high: holds.high,
    }
}

/// A line of a look, for a legend.
fn line(look: &str) -> String {
    format!(
        r#"<svg class="swatch" viewBox="0 0 16 16" aria-hidden="true"><path class="curve {look}"
            d="M0 8H16"/></svg>"#
    )
}

/// Which fixes cure.
pub fn curing(k: &Knowledge, learned: Option<&Learned>, asked: &Asked) -> Section {
    let mut section = Section {
        id: "cures",
        title: "Which fixes cure",
        how: vec![How {
            words: "Every use of a fix in a case that ended, unsolved ones too, weighed by the \
                    chance that it was this cause. Over the whole shop and all the time.",
            formula: "(10 · book + Σ w·s)/(10 + Σ w); s = 1 cured with proof, ½ improved, else 0",
        }],
        ..Section::default()
    };
    let pairs = k.fix_ids().flat_map(|x| k.cause_ids().map(move |c| (x, c)));
    let used = pairs.filter_map(|(x, c)| Some((x, c, learned?.cure(x, c)?)));
    let mut used: Vec<_> = used.filter(|(.., cure)| cure.uses >= USES_FROM).collect();
    used.sort_by(|a, b| b.2.uses.total_cmp(&a.2.uses));
    if used.is_empty() {
        let few = "Too few yet: no fix was used three times for one cause.";
        section.says.push(few.into());
        return section;
    }
    let rows = used.iter().map(|(x, c, cure)| {
        let (fix, cause) = (k.fix(*x), k.cause(*c));
        let behind = [("fix", fix.id.as_str()), ("cause", cause.id.as_str())];
        vec![
            linked(fix.work.name.clone(), asked.records(&behind)),
            plain(cause.name.clone()),
            plain(format!(
                "{} of {}",
                show::tenths(cure.worked),
                show::tenths(cure.uses)
            )),
            plain(show::percent(cure.chance)),
            plain(show::percent(k.cure(*x, *c))),
        ]
    });
    section.table = Some(Table {
        head: vec!["Fix", "For", "Cured here", "Chance", "By the book"],
        rows: rows.collect(),
    });
    section.open = true;
    section
}
