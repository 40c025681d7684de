//! Length of a short insert of tube between nozzle and heat break.

use crate::measures::card::{Card, Hold};
use crate::measures::input::mm;
use crate::measures::maths::{ceil, mean, of_mean, range, rss, show};
use crate::measures::out::plus_minus;
use crate::measures::refused::refuse;
use crate::measures::slips::LENGTHS;
use crate::measures::{Given, Measure, Out, Refused};

pub(super) const MEASURE: Measure = Measure {
    id: "insert-length",
    plain: "length of a short insert",
    not: "the length for another hot end: keep one for each",
    safety: "the washer is printed first; unload hot, cool, unplug; nozzle in; soft threads",
    card: Card {
        hold: Hold::Calipers,
        words: "tube liner insert gap hot end coupler cut",
        formulas: &["{insert_mm} = {depth_mm} − {washer_mm} − {thread_mm}"],
        example: &[
            ("depth_mm", "41.2 41.3 41.1"),
            ("washer_mm", "3"),
            ("thread_mm", "4.5"),
        ],
        against: "",
    },
    inputs: &[
        mm("depth_mm", "depth from the top to the nozzle's rim")
            .readings(3)
            .needed(),
        mm("washer_mm", "washer").range(0.0, 20.0).needed(),
        mm("thread_mm", "thread of the coupler")
            .range(0.0, 15.0)
            .needed(),
        mm("read_mm", "read to").usual(0.3),
    ],
    reckon,
};

/// Depth of a usual hot end, in millimetres.
const USUAL: f64 = 36.0;

/// # Formula
/// insert = depth − washer − thread, cut to half a millimetre upward: too short leaves a gap
fn reckon(_: &'static str, g: &Given, o: &mut Out) -> Result<(), Refused> {
    let depths = g.list("depth_mm");
    let depth = mean(depths);
    o.check("depth", depths, USUAL, ("mm", LENGTHS));
    let insert = depth - g.num("washer_mm") - g.num("thread_mm");
    if insert < 5.0 {
        let ask = match o.slipped {
            true => "is the depth in inches or a decimal slipped?",
            false => "are depth and washer swapped?",
        };
        return refuse(format!(
            "depth_mm: {insert:.1} mm would be left, too short for an insert: {ask}"
        ));
    }
    o.few(depths.len(), 3);
    if range(depths) > 1.0 {
        o.warn("the readings differ by more than 1 mm: measure at the rim, not in the bore");
    }
    if !o.slipped && !(20.0..=60.0).contains(&depth) {
        o.warn("an unusual depth");
    }
    let u = rss([of_mean(depths), g.num("read_mm"), 0.1]);
    let cut = ceil((insert * 100.0).round() / 100.0 / 0.5) * 0.5;
    o.pair("insert", "mm", (insert, u), 0.1);
    o.num("cut_mm", cut, 0.0);
    let said = plus_minus(insert, u, 0.1, "mm");
    o.result = format!("{said}: cut {} mm", show(cut, 0.1));
    Ok(())
}
