//! Extra restart from the bare length at the start of a line.

use crate::measures::card::{Card, Hold};
use crate::measures::input::mm;
use crate::measures::maths::{area, half, mean, median, of_mean, over, rss, show};
use crate::measures::out::plus_minus;
use crate::measures::slips::LENGTHS;
use crate::measures::usual::{FILAMENT, LAYER, LINE};
use crate::measures::{Given, Measure, Out, Refused};

pub(super) const MEASURE: Measure = Measure {
    id: "missing-restart",
    plain: "extra restart from a bare length",
    not: "a general shortage, where the ends are bare too",
    safety: "",
    card: Card {
        hold: Hold::Ruler,
        words: "retraction restart prime infill bare gap start of a line",
        formulas: &[
            "{volume_mm3} = {length_mm} · {line_width_mm} · {layer_mm}",
            "{extra_mm} = {volume_mm3} / (π · {filament_mm}² / 4)",
            "{restart_new_mm} = {restart_now_mm} + {extra_mm}",
        ],
        example: &[("missing_mm", "4 4.5 5")],
        against: "",
    },
    inputs: &[
        mm("missing_mm", "bare length at the start")
            .range(0.0, 100.0)
            .readings(3)
            .needed(),
        mm("restart_now_mm", "extra restart set now")
            .range(-5.0, 10.0)
            .usual(0.0),
        mm("read_mm", "read to").usual(0.5),
        LINE,
        LAYER.usual(0.2),
        FILAMENT,
    ],
    reckon,
};

/// # Formula
/// extra = length·w·h / filament's cross section
fn reckon(_: &'static str, g: &Given, o: &mut Out) -> Result<(), Refused> {
    let bare = g.list("missing_mm");
    let (length, u) = (mean(bare), rss([of_mean(bare), g.num("read_mm")]));
    let volume = length * g.num("line_width_mm") * g.num("layer_mm");
    let extra = volume / area(g.num("filament_mm"));
    if length > 0.0 {
        o.check("bare length", bare, median(bare), ("mm", LENGTHS));
    }
    o.few(bare.len(), 3);
    if extra > 1.0 {
        o.warn("more than 1 mm is too much for a restart: look at oozing and joined lines");
    }
    let share = if length > 0.0 { u / length } else { 0.0 };
    o.num("length_mm", length, 0.1);
    o.num("volume_mm3", volume, 0.001);
    o.pair("extra", "mm", (extra, extra * share), 0.01);
    o.num("restart_new_mm", g.num("restart_now_mm") + extra, 0.01);
    let said = plus_minus(length, u, 0.1, "mm");
    let extra = show(extra, 0.01);
    o.result = format!("{said} bare: {extra} mm more filament at each restart");
    let states = [
        ("present", over(length, 0.5, 10.0, u)),
        ("absent", half(length, rss([u, 0.3]))),
    ];
    o.find("infill-short-of-wall", &states);
    Ok(())
}
