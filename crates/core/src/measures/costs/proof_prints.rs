//! How many good prints in a row prove a fix.

use crate::measures::card::{Card, Hold};
use crate::measures::input::{hours, percent, whole};
use crate::measures::maths::{ceil, largest, show};
use crate::measures::refused::refuse;
use crate::measures::{Given, Measure, Out, Refused};

pub(super) const MEASURE: Measure = Measure {
    id: "proof-prints",
    plain: "prints that prove a fix",
    not: "a fault that comes with one model only",
    safety: "",
    card: Card {
        hold: Hold::Pencil,
        words: "how many good prints prove fixed intermittent",
        formulas: &[
            "{prints_needed} = ⌈ln(1 − {sure_percent} / 100) / ln(1 − {strikes} / {prints})⌉",
        ],
        example: &[("strikes", "2"), ("prints", "6")],
        against: "",
    },
    inputs: &[
        whole("strikes", "prints with the fault", 1.0, 1000.0).needed(),
        whole("prints", "prints in all", 1.0, 1000.0).needed(),
        percent("sure_percent", "sure to")
            .range(50.0, 99.9)
            .usual(95.0),
        hours("to_fault_h", "hours until it struck")
            .range(0.01, 1000.0)
            .readings(3),
    ],
    reckon,
};

/// A proof is not asked to be longer than this.
const MOST: u32 = 10_000;

/// # Formula
/// n prints without the fault have the chance (1 − p)ⁿ when nothing was mended. Cautious: p is not
/// known but by the prints before, Beta(strikes + ½, others + ½).
fn reckon(_: &'static str, g: &Given, o: &mut Out) -> Result<(), Refused> {
    let (strikes, prints) = (g.num("strikes"), g.num("prints"));
    if strikes > prints {
        return refuse("strikes, prints: more faults than prints: are they swapped?");
    }
    let (p, left) = (strikes / prints, 1.0 - g.num("sure_percent") / 100.0);
    let always = p == 1.0;
    let needed = if always {
        1.0
    } else {
        ceil(left.ln() / (1.0 - p).ln()).max(1.0)
    };
    let (a, b) = (strikes + 0.5, prints - strikes + 0.5);
    let (mut cautious, mut chance) = (0, 1.0);
    while chance > left && cautious < MOST {
        let n = f64::from(cautious);
        chance *= (b + n) / (a + b + n);
        cautious += 1;
    }
    if needed > 1.0 {
        o.warn("one good print proves nothing here");
    }
    o.num("p_percent", 100.0 * p, 0.1);
    o.num("prints_needed", needed, 0.0);
    o.num("prints_cautious", f64::from(cautious), 0.0);
    let times = g.list("to_fault_h");
    let least = (!times.is_empty()).then(|| 1.5 * largest(times));
    o.maybe("least_h", least, 0.1);
    let long = least.map(|h| format!(" of at least {} h", show(h, 0.1)));
    o.result = format!("{needed} good prints in a row{}", long.unwrap_or_default());
    Ok(())
}
