//! Travel in Z, commanded against measured, at several places.

use crate::measures::card::{Card, Hold};
use crate::measures::input::{mm, plain};
use crate::measures::maths::{mean, normal, of_mean, over, range, rss, show, under};
use crate::measures::out::plus_minus;
use crate::measures::slips::LENGTHS;
use crate::measures::{Given, Measure, Out, Refused};
use std::f64::consts::SQRT_2;

pub(super) const MEASURE: Measure = Measure {
    id: "z-travel",
    plain: "travel in Z, commanded against measured",
    not: "how far it is level elsewhere: measure at three places",
    safety: "fingers clear while it moves",
    card: Card {
        hold: Hold::Ruler,
        words: "z steps height too tall short travel half double",
        formulas: &[
            "{ratio} = {travelled_mm} / {commanded_mm}",
            "{steps_new} = {steps_now} / {ratio}",
        ],
        example: &[("travelled_mm", "49.6 49.7 49.6"), ("steps_now", "400")],
        against: "1",
    },
    inputs: &[
        mm("travelled_mm", "travel measured")
            .range(0.0, 1000.0)
            .readings(3)
            .needed(),
        mm("commanded_mm", "travel commanded")
            .range(5.0, 1000.0)
            .usual(50.0),
        mm("calipers_mm", "calipers good to").usual(0.1),
        plain("steps_now", "steps per mm set now", 1.0, 20_000.0),
    ],
    reckon,
};

/// # Formula
/// ratio = measured / commanded; a way has two caliper readings. Where the places differ, the worst
/// one counts.
fn reckon(_: &'static str, g: &Given, o: &mut Out) -> Result<(), Refused> {
    let (all, commanded) = (g.list("travelled_mm"), g.num("commanded_mm"));
    let calipers = g.num("calipers_mm");
    let t = mean(all);
    let s = rss([of_mean(all), SQRT_2 * calipers]) / commanded;
    let ratio = t / commanded;
    o.check("travel", all, commanded, ("mm", LENGTHS));
    let apart = range(all) > 4.0 * calipers;
    if apart {
        o.warn("the places differ: it binds or slips at one height");
    }
    if t == 0.0 {
        o.warn("it stood still");
    }
    o.num("travelled_mm", t, 0.01);
    o.pair("ratio", "", (ratio, s), 0.0001);
    let said = plus_minus(t, s * commanded, 0.01, "mm");
    o.result = format!("{said} of {} mm", show(commanded, 0.01));
    if let Some(now) = g.maybe("steps_now").filter(|_| t > 0.0) {
        let new = now / ratio;
        o.pair("steps", "new", (new, new * s / ratio), 0.01);
        o.result += &format!(": set {} steps per mm", show(new, 0.01));
    }
    let worst = |a: &&f64, b: &&f64| (**a - commanded).abs().total_cmp(&(**b - commanded).abs());
    let (r, s) = match all.iter().max_by(worst).filter(|_| apart) {
        Some(worst) => (worst / commanded, SQRT_2 * calipers / commanded),
        None => (ratio, s),
    };
    let states = [
        ("right", normal(r, 1.0, rss([s, 0.003]))),
        ("short", under(r, 0.995, 0.2, s)),
        ("long", over(r, 1.005, 0.2, s)),
    ];
    o.find("z-travel", &states);
    Ok(())
}
