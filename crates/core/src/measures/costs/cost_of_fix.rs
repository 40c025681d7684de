//! What a fix costs, and when it pays.

use crate::measures::card::{Card, Hold};
use crate::measures::input::{grams, hours, minutes, money, ratio};
use crate::measures::maths::{ceil, show};
use crate::measures::usual::{MONEY_H, MONEY_KG, WAGE, price};
use crate::measures::{Given, Measure, Out, Refused};

pub(super) const MEASURE: Measure = Measure {
    id: "cost-of-fix",
    plain: "cost of a fix and when it pays",
    not: "warranty",
    safety: "",
    card: Card {
        hold: Hold::Pencil,
        words: "price repair pays worth it money",
        formulas: &[
            "{once_money} = {minutes} · {wage_h} / 60 + {parts_money} + {grams} · {money_kg} / \
             1000 + {machine_h} · {money_h}",
            "{per_cure_money} = {once_money} / {chance}",
            "{pays_after_prints} = ⌈{per_cure_money} / {saves_print_money}⌉",
        ],
        example: &[
            ("minutes", "25"),
            ("parts_money", "9"),
            ("grams", "20"),
            ("machine_h", "1.5"),
            ("chance", "0.7"),
            ("saves_print_money", "2.5"),
        ],
        against: "",
    },
    inputs: &[
        minutes("minutes", "minutes of work").needed(),
        money("parts_money", "parts").usual(0.0),
        grams("grams", "filament of the proof").usual(0.0),
        hours("machine_h", "machine hours of the proof")
            .range(0.0, 1000.0)
            .usual(0.0),
        ratio("chance", "chance that it cures").needed(),
        WAGE,
        MONEY_KG,
        MONEY_H,
        money("saves_print_money", "what it saves a print"),
    ],
    reckon,
};

fn reckon(_: &'static str, g: &Given, o: &mut Out) -> Result<(), Refused> {
    let work = g.num("minutes") * g.num("wage_h") / 60.0;
    let proof = price(g, g.num("grams"), 60.0 * g.num("machine_h"));
    let once = work + g.num("parts_money") + proof;
    let cure = once / g.num("chance");
    o.num("once_money", once, 0.01);
    o.num("per_cure_money", cure, 0.01);
    o.result = format!("{} a try, {} a cure", show(once, 0.01), show(cure, 0.01));
    if let Some(saves) = g.maybe("saves_print_money").filter(|s| *s > 0.0) {
        let prints = ceil(cure / saves);
        o.num("pays_after_prints", prints, 0.0);
        o.result += &format!(", paid back after {prints} prints");
    }
    Ok(())
}
