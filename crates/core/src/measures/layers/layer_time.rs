//! The time of a layer, and the speed that keeps it long enough.

use crate::measures::card::{Card, Hold};
use crate::measures::input::{mm, mm_s, seconds};
use crate::measures::maths::{ceil, down, show};
use crate::measures::usual::PACE;
use crate::measures::{Given, Measure, Out, Refused};

pub(super) const MEASURE: Measure = Measure {
    id: "layer-time",
    plain: "layer time and the speed that keeps it",
    not: "a nozzle that waits over the print",
    safety: "",
    card: Card {
        hold: Hold::File,
        words: "small layers cooling too hot slow minimum layer time",
        formulas: &[
            "{time_s} = ({path_mm} / {speed_mm_s} + {travel_mm} / {travel_mm_s}) / {pace_ratio}",
        ],
        example: &[
            ("path_mm", "380"),
            ("speed_mm_s", "70"),
            ("travel_mm", "60"),
        ],
        against: "least_s",
    },
    inputs: &[
        mm("path_mm", "path of the layer")
            .range(1.0, 1_000_000.0)
            .needed(),
        mm_s("speed_mm_s", "speed").needed().from("speed_mm_s"),
        mm("travel_mm", "travel of the layer")
            .range(0.0, 1_000_000.0)
            .usual(0.0),
        mm_s("travel_mm_s", "travel speed")
            .range(1.0, 2000.0)
            .usual(150.0),
        PACE,
        seconds("least_s", "least time of a layer")
            .range(1.0, 300.0)
            .usual(10.0),
    ],
    reckon,
};

/// How far such a time is off, as a share.
const OFF: f64 = 0.15;

fn reckon(_: &'static str, g: &Given, o: &mut Out) -> Result<(), Refused> {
    let (path, pace, least) = (g.num("path_mm"), g.num("pace_ratio"), g.num("least_s"));
    let travel = g.num("travel_mm") / g.num("travel_mm_s");
    let time = (path / g.num("speed_mm_s") + travel) / pace;
    let pieces = ceil(least / time).max(1.0);
    o.pair("time", "s", (time, OFF * time), 0.1);
    o.num("pieces", pieces, 0.0);
    o.result = format!("{} s a layer", show(time, 0.1));
    if time < least {
        let speed = down(path / (least * pace - travel), 0.1);
        o.num("speed_to_set_mm_s", speed, 0.1);
        let speed = show(speed, 0.1);
        o.result += &format!(": print at {speed} mm/s or {pieces} pieces at once");
    }
    Ok(())
}
