//! Source of evenly spaced bands: which part turns once for each.

use crate::measures::card::{Card, Hold};
use crate::measures::input::{mm, plain, seconds, whole};
use crate::measures::maths::{area, off_whole, rss};
use crate::measures::sources::{Source, likelihood, rank, tell};
use crate::measures::usual::{FILAMENT, LAYER, LINE, MOTOR_STEPS};
use crate::measures::{Given, Measure, Out, Refused};
use std::f64::consts::SQRT_2;

pub(super) const MEASURE: Measure = Measure {
    id: "band-spacing",
    plain: "source of evenly spaced bands",
    not: "whether screw or coupling is bent: turn the coupling end for end",
    safety: "",
    card: Card {
        hold: Hold::Ruler,
        words: "bands wobble layers z screw ribbing even lines horizontal",
        formulas: &["{spacing_mm} = {span_mm} / {bands}"],
        example: &[("span_mm", "64.2"), ("bands", "8"), ("lead_mm", "8")],
        against: "",
    },
    inputs: &[
        mm("span_mm", "length over several bands").needed(),
        whole("bands", "bands in it", 1.0, 200.0).usual(1.0),
        mm("read_mm", "read to").usual(0.2),
        mm("lead_mm", "lead of the Z screw")
            .range(0.2, 60.0)
            .usual(8.0),
        whole("starts", "starts of its thread", 1.0, 12.0).usual(1.0),
        mm("gear_turn_mm", "filament of a turn of the drive gear"),
        mm("filament_layer_mm", "filament of a layer"),
        mm("path_mm", "path of a layer"),
        seconds("layer_s", "time of a layer").range(0.5, 7200.0),
        seconds("bed_cycle_s", "cycle of the bed's heater").range(1.0, 3600.0),
        LAYER.usual(0.2),
        MOTOR_STEPS,
        plain("z_gear_ratio", "gear ratio of Z", 0.1, 100.0).usual(1.0),
        LINE,
        FILAMENT,
    ],
    reckon,
};

/// Spacings people measure span a factor of so much.
const SPACINGS: f64 = 250.0;

/// A part that does `x` turns a layer, known to a share, shows every h / |x − whole| of height:
/// it is seen once a layer only. Nothing where it shows never.
fn sampled(name: &'static str, (h, u): (f64, f64), x: f64, share: f64) -> Option<Source> {
    let off = off_whole(x).abs();
    let expects = h / off;
    let from_x = expects * share * x / off;
    (off > (2.0 * share * x).max(1e-6)).then(|| Source {
        name,
        expects,
        sigma: rss([u, from_x, 0.005 * expects]),
    })
}

fn sources(g: &Given, u: f64) -> Vec<Source> {
    let (h, lead) = (g.num("layer_mm"), g.num("lead_mm"));
    let turning = |name, expects: f64| Source {
        name,
        expects,
        sigma: rss([u, 0.005 * expects]),
    };
    let mut sources = vec![
        turning("screw-turn", lead),
        turning("coupling", lead),
        turning("half-turn", lead / 2.0),
    ];
    if g.num("starts") > 1.0 {
        sources.push(turning("screw-thread", lead / g.num("starts")));
    }
    let steps = h * g.num("motor_steps") * g.num("z_gear_ratio") / lead;
    sources.extend(sampled("layer-against-step", (h, u), steps, 0.0));
    let line = g.num("line_width_mm") * h / area(g.num("filament_mm"));
    let of_path = g.maybe("path_mm").map(|path| path * line);
    let filament = g.maybe("filament_layer_mm").or(of_path);
    if let Some((filament, turn)) = filament.zip(g.maybe("gear_turn_mm")) {
        sources.extend(sampled("gear-turn", (h, u), filament / turn, 0.03));
    }
    if let Some((layer, cycle)) = g.maybe("layer_s").zip(g.maybe("bed_cycle_s")) {
        sources.extend(sampled("bed-heater", (h, u), layer / cycle, 0.05));
    }
    sources
}

fn reckon(_: &'static str, g: &Given, o: &mut Out) -> Result<(), Refused> {
    let bands = g.num("bands");
    let (s, u) = (g.num("span_mm") / bands, SQRT_2 * g.num("read_mm") / bands);
    let sources = sources(g, u);
    o.pair("spacing", "mm", (s, u), 0.001);
    let fits = rank(o, s, &sources);
    if s < 2.5 * g.num("layer_mm") {
        o.warn("so narrow a spacing may be the layer lines themselves");
    }
    if bands < 3.0 {
        o.warn("too few bands: measure over three or more");
    }
    tell(o, (s, u), &sources, &fits);
    let anything = 1.0 / (s * SPACINGS.ln());
    let of = |name, otherwise| likelihood(s, &sources, name, otherwise);
    let turn = of("screw-turn", 0.0);
    let screw = 0.75 * turn + 0.15 * of("half-turn", 0.0) + 0.1 * of("screw-thread", turn);
    let states = [
        ("screw-lead", screw),
        ("gear-beat", of("gear-turn", anything)),
        ("heater-cycle", of("bed-heater", anything)),
        (
            "none-fits",
            0.8 * anything + 0.2 * of("layer-against-step", anything),
        ),
    ];
    o.find("band-spacing", &states);
    Ok(())
}
