//! Coasting from the hollow at the seam.

use crate::measures::card::{Card, Hold};
use crate::measures::input::{choice, mm, plain};
use crate::measures::maths::{area, half, over, rss, show};
use crate::measures::usual::{FILAMENT, LAYER, LINE};
use crate::measures::{Given, Measure, Out, Refused};

pub(super) const MEASURE: Measure = Measure {
    id: "coasting-volume",
    plain: "coasting from the hollow at the seam",
    not: "anything while pressure compensation is on",
    safety: "",
    card: Card {
        hold: Hold::Ruler,
        words: "seam hollow coasting gap before seam end of a loop",
        formulas: &[
            "{lost_mm3} = {gap_mm} · {line_width_mm} · {layer_mm}",
            "{coast_new_mm3} = max(0, {coast_now_mm3} − {lost_mm3})",
            "{usual_mm3} = {nozzle_mm}³",
        ],
        example: &[("gap_mm", "1.4"), ("coast_now_mm3", "0.25")],
        against: "",
    },
    inputs: &[
        mm("gap_mm", "length of the hollow")
            .range(0.0, 20.0)
            .needed(),
        choice(
            "where",
            "before or behind the seam",
            &["end", "start", "unsure"],
        ),
        plain("coast_now_mm3", "coasting set now, volume", 0.0, 5.0),
        mm("coast_now_mm", "coasting set now, length").range(0.0, 20.0),
        mm("read_mm", "read to").usual(0.2),
        LINE,
        LAYER.usual(0.2),
        FILAMENT,
        mm("nozzle_mm", "nozzle")
            .range(0.1, 2.0)
            .usual(0.4)
            .from("nozzle_mm"),
    ],
    reckon,
};

/// # Formula
/// lost = gap·w·h; new coasting = now − lost
fn reckon(_: &'static str, g: &Given, o: &mut Out) -> Result<(), Refused> {
    let (gap, read) = (g.num("gap_mm"), g.num("read_mm"));
    let line = g.num("line_width_mm") * g.num("layer_mm");
    let lost = gap * line;
    let by_length = g.maybe("coast_now_mm").map(|mm| mm * line);
    let now = g.maybe("coast_now_mm3").or(by_length);
    let usual = g.num("nozzle_mm").powi(3);
    o.pair("lost", "mm3", (lost, line * read), 0.001);
    o.num("extra_mm", lost / area(g.num("filament_mm")), 0.01);
    o.num("usual_mm3", usual, 0.001);
    o.num("usual_mm", usual / line, 0.01);
    o.result = format!("{} mm³ are missing", show(lost, 0.001));
    let place = g.word("where");
    match (place, now) {
        ("start", _) => o.warn("a hollow at the start is restart, not coasting: missing-restart"),
        ("unsure", _) => o.warn("work out the direction of the loop first"),
        (_, Some(now)) => {
            if lost > now {
                o.warn("coasting alone cannot make so large a hollow");
            }
            let new = (now - lost).max(0.0);
            o.num("coast_new_mm3", new, 0.001);
            o.num("coast_new_mm", new / line, 0.01);
            let (volume, length) = (show(new, 0.001), show(new / line, 0.01));
            o.result += &format!(": set coasting to {volume} mm³ or {length} mm");
        }
        _ => {}
    }
    if place != "unsure" {
        let there = over(gap, 0.3, 3.0, read);
        let at = |which: &str| there * if place == which { 0.95 } else { 0.05 };
        let states = [
            ("none", half(gap, rss([read, 0.15]))),
            ("at-start", at("start")),
            ("at-end", at("end")),
        ];
        o.find("gap-at-seam", &states);
    }
    Ok(())
}
