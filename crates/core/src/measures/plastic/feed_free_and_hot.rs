//! Calibration told from slip: the same length fed free of the hot end and through it.

use super::extruder_steps::fed;
use crate::measures::card::{Card, Hold};
use crate::measures::input::mm;
use crate::measures::out::plus_minus;
use crate::measures::refused::refuse;
use crate::measures::slips::LENGTHS;
use crate::measures::{Given, Measure, Out, Refused};
use std::f64::consts::SQRT_2;

pub(super) const MEASURE: Measure = Measure {
    id: "feed-free-and-hot",
    plain: "calibration told from slip",
    not: "whether a clog, a cold nozzle or a slack idler holds it back",
    safety: "the nozzle is hot where it feeds through it",
    card: Card {
        hold: Hold::Ruler,
        words: "slip back pressure feed hot clog loss",
        formulas: &["{loss_mm} = {free_mm} − {hot_mm}"],
        example: &[("free_mm", "100.5"), ("hot_mm", "94")],
        against: "0",
    },
    inputs: &[
        mm("free_mm", "length fed free of the hot end")
            .range(0.0, 1000.0)
            .needed(),
        mm("hot_mm", "length fed through the hot end")
            .range(0.0, 1000.0)
            .needed(),
        mm("commanded_mm", "length commanded")
            .range(10.0, 900.0)
            .usual(100.0),
        mm("ruler_mm", "ruler good to").usual(0.5),
    ],
    reckon,
};

fn reckon(_: &'static str, g: &Given, o: &mut Out) -> Result<(), Refused> {
    let (free, hot) = (g.num("free_mm"), g.num("hot_mm"));
    let (commanded, ruler) = (g.num("commanded_mm"), g.num("ruler_mm"));
    if free <= 0.0 {
        return refuse("free_mm: nothing was fed free of the hot end: look at the feeder first");
    }
    o.check("fed free", &[free], commanded, ("mm", LENGTHS));
    if hot > 0.0 {
        o.check("fed hot", &[hot], commanded, ("mm", LENGTHS));
    }
    let loss = free - hot;
    let limit = (4.0 * ruler).max(0.01 * commanded);
    let off = (free - commanded).abs() > (2.0 * SQRT_2 * ruler).max(0.01 * commanded);
    if -loss > limit {
        o.slip("more through the hot end than free of it: are the two swapped?");
    }
    let says = match (off, loss > limit) {
        (true, true) => "both",
        (true, false) => "calibration",
        (false, true) => "back-pressure",
        (false, false) => "sound",
    };
    o.pair("loss", "mm", (loss, 2.0 * ruler), 0.1);
    o.num("loss_percent", 100.0 * loss / free, 0.1);
    o.word("says", says);
    let said = plus_minus(loss, 2.0 * ruler, 0.1, "mm");
    o.result = format!("{said} less through the hot end: {says}");
    let s = SQRT_2 * ruler / commanded;
    o.find("extruder-steps-free", &fed(free / commanded, s));
    o.find("extruder-steps-hot", &fed(hot / commanded, s));
    Ok(())
}
