//! What the next trial costs, and when to stop.

use crate::measures::card::{Card, Hold};
use crate::measures::input::{grams, minutes, percent, whole};
use crate::measures::maths::{ceil, show};
use crate::measures::usual::{MONEY_H, MONEY_KG, WAGE, price};
use crate::measures::{Given, Measure, Out, Refused};

pub(super) const MEASURE: Measure = Measure {
    id: "cost-of-trial",
    plain: "price of the next trial, and when to stop",
    not: "which difference it is",
    safety: "",
    card: Card {
        hold: Hold::Pencil,
        words: "price test prints trials stop work around",
        formulas: &[
            "{tests} = ⌈log2({differences})⌉",
            "{likely_trials} = ⌈({tests} + 1) / (1 − {unclear_percent} / 100)⌉",
            "{next_money} = {piece_grams} · {money_kg} / 1000 + {piece_min} · {money_h} / 60 + \
             {hands_min} · {wage_h} / 60",
        ],
        example: &[
            ("differences", "24"),
            ("piece_min", "40"),
            ("piece_grams", "9"),
        ],
        against: "",
    },
    inputs: &[
        whole("differences", "differences in question", 1.0, 10_000.0).needed(),
        minutes("piece_min", "minutes to print the piece")
            .range(1.0, 10_000.0)
            .needed(),
        grams("piece_grams", "filament of the piece").needed(),
        minutes("hands_min", "minutes of work a trial").usual(5.0),
        MONEY_KG,
        MONEY_H,
        WAGE,
        percent("unclear_percent", "trials that tell nothing")
            .range(0.0, 99.0)
            .usual(10.0),
        minutes("slow_extra_min", "minutes a work-around adds to a print"),
        whole("prints_planned", "prints still planned", 1.0, 10_000.0),
    ],
    reckon,
};

/// # Formula
/// Each trial halves what is in question: ⌈log₂ n⌉ trials and one to begin with, more by the share
/// that tells nothing
fn reckon(_: &'static str, g: &Given, o: &mut Out) -> Result<(), Refused> {
    let minutes = g.num("piece_min");
    let tests = ceil(g.num("differences").log2());
    let likely = ceil((tests + 1.0) / (1.0 - g.num("unclear_percent") / 100.0));
    let work = g.num("hands_min") * g.num("wage_h") / 60.0;
    let next = price(g, g.num("piece_grams"), minutes) + work;
    let all = likely * next;
    o.num("tests", tests, 0.0);
    o.num("likely_trials", likely, 0.0);
    o.num("next_money", next, 0.01);
    o.num("all_money", all, 0.01);
    o.num("hours", likely * minutes / 60.0, 0.1);
    o.result = format!(
        "the next trial costs {}, about {likely} trials {}",
        show(next, 0.01),
        show(all, 0.01)
    );
    let slower = g
        .maybe("slow_extra_min")
        .map(|m| m * g.num("money_h") / 60.0);
    if let Some((each, prints)) = slower.filter(|e| *e > 0.0).zip(g.maybe("prints_planned")) {
        let around = each * prints;
        o.num("workaround_money", around, 0.01);
        o.num("break_even_prints", ceil(all / each), 0.0);
        o.word(
            "cheaper",
            if around < all {
                "work-around"
            } else {
                "trials"
            },
        );
        if around < all {
            o.warn("stop here: the work-around is cheaper for the prints planned");
        }
    }
    Ok(())
}
