//! Extruder steps from a measured feed, free of the hot end and through it.

use crate::measures::card::{Card, Hold};
use crate::measures::input::{mm, plain};
use crate::measures::maths::{normal, over, rss, show, under};
use crate::measures::out::plus_minus;
use crate::measures::slips::LENGTHS;
use crate::measures::{Given, Input, Measure, Out, Refused};
use std::f64::consts::SQRT_2;

const INPUTS: &[Input] = &[
    mm("remaining_mm", "from the mark to the feeder after feeding")
        .range(-50.0, 1000.0)
        .needed(),
    mm("mark_mm", "from the mark to the feeder before")
        .range(20.0, 1000.0)
        .usual(120.0),
    mm("commanded_mm", "length commanded")
        .range(10.0, 900.0)
        .usual(100.0),
    mm("ruler_mm", "ruler good to").usual(0.5),
    plain("steps_now", "steps per mm set now", 1.0, 20_000.0),
];
const NOT: &str = "slip at speed: feed at 1 to 2 mm/s";
const SAFETY: &str = "note the old value; the nozzle is hot where it feeds through it";

pub(super) const FREE: Measure = Measure {
    id: "extruder-steps-free",
    plain: "extruder steps from a measured feed, free of the hot end",
    not: NOT,
    safety: SAFETY,
    card: Card {
        hold: Hold::Ruler,
        words: "esteps steps extruder feed filament mark calibrate",
        formulas: &[
            "{fed_mm} = {mark_mm} − {remaining_mm}",
            "{ratio} = {fed_mm} / {commanded_mm}",
            "{steps_new} = {steps_now} / {ratio}",
        ],
        example: &[("remaining_mm", "24.5"), ("steps_now", "93")],
        against: "commanded_mm",
    },
    inputs: INPUTS,
    reckon,
};

pub(super) const HOT: Measure = Measure {
    id: "extruder-steps-hot",
    plain: "extruder steps from a measured feed, through the hot end",
    ..FREE
};

/// How likely a ratio of fed to commanded is, by what the check says of it.
pub(super) fn fed(ratio: f64, s: f64) -> [(&'static str, f64); 3] {
    [
        ("right", normal(ratio, 1.0, rss([s, 0.01]))),
        ("short", under(ratio, 0.98, 0.98, s)),
        ("long", over(ratio, 1.02, 0.15, s)),
    ]
}

/// # Formula
/// ratio = (mark − remaining) / commanded; steps = now / ratio
fn reckon(id: &'static str, g: &Given, o: &mut Out) -> Result<(), Refused> {
    let (mark, remaining) = (g.num("mark_mm"), g.num("remaining_mm"));
    let commanded = g.num("commanded_mm");
    let (went, u) = (mark - remaining, SQRT_2 * g.num("ruler_mm"));
    let (ratio, s, wanted) = (went / commanded, u / commanded, mark - commanded);
    o.check("what remains", &[remaining], wanted, ("mm", LENGTHS));
    if mark < commanded {
        o.warn("the mark runs into the feeder before the length is fed: set it further up");
    }
    let as_commanded = (remaining / commanded - 1.0).abs() < 0.15;
    if went <= 0.0 {
        o.slip("nothing was fed, or mark and remainder were swapped");
    } else if as_commanded && (remaining - wanted).abs() > 0.15 * commanded {
        o.slip("this looks like the length fed, typed for what remains");
    } else if (ratio - 1.0).abs() > 0.15 {
        o.warn("more than 15 % off: look at gear, idler and the set ratio before typing it in");
    }
    o.num("fed_mm", went, 0.1);
    o.num("fed_u", u, 0.01);
    o.num("ratio", ratio, 0.0001);
    let mut set = String::new();
    if let Some(now) = g.maybe("steps_now").filter(|_| went > 0.0) {
        let new = now / ratio;
        o.pair("steps", "new", (new, new * s / ratio), 0.1);
        set = format!(
            ": set {}",
            plus_minus(new, new * s / ratio, 0.1, "steps per mm")
        );
    }
    let said = plus_minus(went, u, 0.1, "mm");
    o.result = format!("{said} fed of {} mm{set}", show(commanded, 0.1));
    o.find(id, &fed(ratio, s));
    Ok(())
}
