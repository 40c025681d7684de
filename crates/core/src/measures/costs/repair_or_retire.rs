//! Whether an old machine is repaired or retired.

use crate::measures::card::{Card, Hold};
use crate::measures::input::{choice, hours, minutes, money, ratio};
use crate::measures::maths::show;
use crate::measures::usual::WAGE;
use crate::measures::{Given, Measure, Out, Refused};

pub(super) const MEASURE: Measure = Measure {
    id: "repair-or-retire",
    plain: "repair an old machine or retire it",
    not: "what it is worth to you",
    safety: "no heat before the cold looks at protection, wiring and heater fit",
    card: Card {
        hold: Hold::Pencil,
        words: "old machine replace buy new scrap",
        formulas: &[
            "{repair_money} = {parts_money} + {safety_money} + {minutes} · {wage_h} / 60",
            "{repair_per_h} = {repair_money} / ({chance} · {hours_after})",
            "{new_per_h} = ({new_money} − {scrap_money}) / {new_hours}",
        ],
        example: &[
            ("parts_money", "55"),
            ("minutes", "150"),
            ("chance", "0.75"),
            ("hours_after", "1500"),
            ("new_money", "320"),
            ("new_hours", "4000"),
        ],
        against: "",
    },
    inputs: &[
        money("parts_money", "parts").needed(),
        money("safety_money", "parts that make it safe").usual(0.0),
        minutes("minutes", "minutes of work").needed(),
        WAGE,
        ratio("chance", "chance that it holds").needed(),
        hours("hours_after", "hours it would run then")
            .range(1.0, 100_000.0)
            .needed(),
        money("new_money", "price of a new one").needed(),
        hours("new_hours", "hours that one would run")
            .range(1.0, 100_000.0)
            .needed(),
        money("scrap_money", "what the old one brings").usual(0.0),
        choice("unsafe", "is it unsafe?", &["no", "yes"]),
    ],
    reckon,
};

fn reckon(_: &'static str, g: &Given, o: &mut Out) -> Result<(), Refused> {
    let labour = g.num("minutes") * g.num("wage_h") / 60.0;
    let (safety, held) = (
        g.num("safety_money"),
        g.num("chance") * g.num("hours_after"),
    );
    let cost = g.num("parts_money") + safety + labour;
    let new = (g.num("new_money") - g.num("scrap_money")) / g.num("new_hours");
    let (old, worth) = (cost / held, held * new - safety - labour);
    let risky = g.word("unsafe") == "yes";
    let verdict = if risky && safety == 0.0 {
        "make-safe-first"
    } else if old <= new {
        "repair"
    } else {
        "retire"
    };
    if risky {
        o.warn(
            "unsafe: no heat before protection, wiring and heater fit are answered, cold and \
             unplugged",
        );
    }
    o.num("repair_money", cost, 0.01);
    o.num("repair_per_h", old, 0.0001);
    o.num("new_per_h", new, 0.0001);
    o.num("crossover_money", worth, 0.01);
    o.word("verdict", verdict);
    o.result = format!(
        "{} an hour repaired, {} new: {verdict}; parts up to {} are worth it",
        show(old, 0.001),
        show(new, 0.001),
        show(worth, 0.01)
    );
    Ok(())
}
