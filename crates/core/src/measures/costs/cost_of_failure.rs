//! What a failure cost.

use crate::measures::card::{Card, Hold};
use crate::measures::input::{grams, hours, minutes, money, whole};
use crate::measures::maths::show;
use crate::measures::usual::{MONEY_H, MONEY_KG, WAGE};
use crate::measures::{Given, Measure, Out, Refused};

pub(super) const MEASURE: Measure = Measure {
    id: "cost-of-failure",
    plain: "cost of a failure",
    not: "the delay",
    safety: "",
    card: Card {
        hold: Hold::Pencil,
        words: "price failed print waste money",
        formulas: &[
            "{filament_money} = {grams} · {money_kg} / 1000",
            "{machine_money} = {machine_h} · {money_h}",
            "{labour_money} = {labour_min} · {wage_h} / 60",
            "{total_money} = {times} · ({filament_money} + {machine_money} + {labour_money} + \
             {parts_money})",
        ],
        example: &[("grams", "240"), ("machine_h", "11"), ("labour_min", "20")],
        against: "",
    },
    inputs: &[
        grams("grams", "filament lost").needed(),
        hours("machine_h", "machine hours lost")
            .range(0.0, 1000.0)
            .needed(),
        minutes("labour_min", "minutes of work").usual(0.0),
        money("parts_money", "parts").usual(0.0),
        MONEY_KG,
        MONEY_H,
        WAGE,
        whole("times", "times it happened", 1.0, 1000.0).usual(1.0),
    ],
    reckon,
};

fn reckon(_: &'static str, g: &Given, o: &mut Out) -> Result<(), Refused> {
    let (lost, h) = (g.num("grams"), g.num("machine_h"));
    // No machine prints much over half a kilogram an hour, and none under a gram.
    if lost > 0.0 && lost < 5.0 && h >= 1.0 && lost * 1000.0 / h <= 500.0 {
        o.slip("so few grams for so many hours: kilograms?");
    }
    if h >= 100.0 && lost / h < 1.0 {
        o.slip("so many hours for so few grams: minutes?");
    }
    let filament = lost * g.num("money_kg") / 1000.0;
    let machine = h * g.num("money_h");
    let labour = g.num("labour_min") * g.num("wage_h") / 60.0;
    let parts = g.num("parts_money");
    let total = g.num("times") * (filament + machine + labour + parts);
    o.num("filament_money", filament, 0.01);
    o.num("machine_money", machine, 0.01);
    o.num("labour_money", labour, 0.01);
    o.num("total_money", total, 0.01);
    let [filament, machine, labour, parts] =
        [filament, machine, labour, parts].map(|m| show(m, 0.01));
    o.result = format!(
        "{} (filament {filament}, machine {machine}, work {labour}, parts {parts})",
        show(total, 0.01)
    );
    Ok(())
}
