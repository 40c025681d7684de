//! What is asked of the hot end in a second, and the speed it bears.

use crate::measures::card::{Card, Hold};
use crate::measures::input::{choice, mm, mm_s, percent, plain, ratio};
use crate::measures::maths::{area, down, phi, show};
use crate::measures::usual::{FILAMENT, LAYER};
use crate::measures::{Given, Measure, Out, Refused};
use std::f64::consts::FRAC_PI_4;

pub(super) const MEASURE: Measure = Measure {
    id: "melt-demand",
    plain: "volumetric rate and highest speed",
    not: "the part fan and cold settings, which lower it",
    safety: "",
    card: Card {
        hold: Hold::File,
        words: "volumetric rate flow speed melt too fast hot end limit",
        formulas: &[
            "{rate_mm3_s} = {layer_mm} · {line_width_mm} · {speed_mm_s} · {flow_ratio}",
            "{filament_mm_s} = {rate_mm3_s} / (π · {filament_mm}² / 4)",
            "{speed_max_mm_s} = ⌊{melt_limit_mm3_s} / ({layer_mm} · {line_width_mm} · \
             {flow_ratio})⌋",
        ],
        example: &[
            ("layer_mm", "0.24"),
            ("line_width_mm", "0.5"),
            ("speed_mm_s", "70"),
            ("melt_limit_mm3_s", "11"),
        ],
        against: "",
    },
    inputs: &[
        choice("hotend", "hot end", &["lined", "all-metal"]).from("hotend"),
        plain("melt_limit_mm3_s", "melt limit", 0.5, 200.0).from("melt_limit_mm3_s"),
        percent("limit_u_percent", "melt limit good to").usual(15.0),
        LAYER.needed(),
        mm("line_width_mm", "line width")
            .range(0.05, 3.0)
            .needed()
            .from("line_width_mm"),
        mm_s("speed_mm_s", "speed").needed().from("speed_mm_s"),
        ratio("flow_ratio", "flow")
            .range(0.2, 3.0)
            .usual(1.0)
            .from("flow_ratio"),
        FILAMENT,
    ],
    reckon,
};

/// What a hot end melts where nobody measured it, in mm³/s.
const LINED: f64 = 10.0;
const ALL_METAL: f64 = 14.0;

/// # Formula
/// rate = h·w·v·flow; with rounded edges ((w − h)h + πh²/4)·v·flow
fn reckon(_: &'static str, g: &Given, o: &mut Out) -> Result<(), Refused> {
    let (h, w) = (g.num("layer_mm"), g.num("line_width_mm"));
    let (v, flow) = (g.num("speed_mm_s"), g.num("flow_ratio"));
    let usual = if g.word("hotend") == "lined" {
        LINED
    } else {
        ALL_METAL
    };
    let limit = g.maybe("melt_limit_mm3_s").unwrap_or(usual);
    let rate = h * w * v * flow;
    if h > 3.0 * w {
        o.slip("the layer is much higher than the line is wide: a slipped decimal?");
    } else if w < h {
        o.warn("the line is narrower than it is high");
    }
    let (top, x) = (limit / (h * w * flow), rate / limit);
    let limit_u = g.num("limit_u_percent") / 100.0;
    o.num("rate_mm3_s", rate, 0.01);
    if w >= h {
        let sharp = ((w - h) * h + FRAC_PI_4 * h * h) * v * flow;
        o.num("rate_sharp_mm3_s", sharp, 0.01);
    }
    o.num("filament_mm_s", rate / area(g.num("filament_mm")), 0.01);
    o.num("share_percent", 100.0 * x, 0.1);
    o.num("speed_max_mm_s", down(top, 1.0), 0.0);
    o.num("speed_max_u", top * limit_u, 1.0);
    o.result = format!(
        "{} mm³/s of {} ({} %); highest speed {} mm/s",
        show(rate, 0.01),
        show(limit, 0.1),
        show(100.0 * x, 1.0),
        show(down(top, 1.0), 1.0)
    );
    let s = (x * limit_u).max(0.001);
    let (easy, within) = (phi((0.8 - x) / s), phi((1.0 - x) / s));
    let states = [
        ("easy", easy),
        ("near-limit", within - easy),
        ("over-limit", 1.0 - within),
    ];
    o.find("flow-demand", &states);
    Ok(())
}
