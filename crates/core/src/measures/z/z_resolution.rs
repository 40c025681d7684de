//! Steps of the Z screw, and the layers a machine really makes.

use crate::measures::card::{Card, Hold};
use crate::measures::input::{mm, whole};
use crate::measures::maths::{largest, off_whole, show, smallest};
use crate::measures::usual::{GEAR_RATIO, LAYER, MICROSTEPS, MOTOR_STEPS};
use crate::measures::{Given, Measure, Out, Refused};

pub(super) const MEASURE: Measure = Measure {
    id: "z-resolution",
    plain: "Z steps and the layers really made",
    not: "that it shows on the print",
    safety: "",
    card: Card {
        hold: Hold::File,
        words: "layer height full step microstep lead screw uneven layers",
        formulas: &[
            "{full_step_mm} = {lead_mm} / ({motor_steps} · {gear_ratio})",
            "{steps_mm} = {motor_steps} · {microsteps} · {gear_ratio} / {lead_mm}",
            "{off_mm} = {layer_mm} − {nearest_mm}",
        ],
        example: &[("lead_mm", "8"), ("layer_mm", "0.22")],
        against: "",
    },
    inputs: &[
        mm("lead_mm", "lead of the screw")
            .range(0.2, 60.0)
            .usual(8.0),
        whole("layers", "layers looked at", 2.0, 40.0).usual(8.0),
        MOTOR_STEPS,
        MICROSTEPS,
        GEAR_RATIO,
        LAYER.needed(),
    ],
    reckon,
};

/// Whole heights told around the one asked for.
const HEIGHTS: i64 = 7;

/// # Formula
/// full step f = lead / (steps·gear); the motor rests on whole steps: layer i is f·⌊i·h/f + ½⌋
fn reckon(_: &'static str, g: &Given, o: &mut Out) -> Result<(), Refused> {
    let (lead, h) = (g.num("lead_mm"), g.num("layer_mm"));
    let turn = g.num("motor_steps") * g.num("gear_ratio");
    let f = lead / turn;
    let x = h / f;
    let whole = (x + 0.5 + 1e-9).floor().max(1.0);
    let layers = g.num("layers") as usize;
    let at = |i: usize| f * (i as f64 * x + 0.5 + 1e-9).floor();
    let made: Vec<f64> = (0..layers).map(|i| at(i + 1) - at(i)).collect();
    let first = (whole as i64 - 3).max(1);
    let heights: Vec<f64> = (first..first + HEIGHTS).map(|k| k as f64 * f).collect();
    o.num("steps_mm", turn * g.num("microsteps") / lead, 0.01);
    o.num("full_step_mm", f, 0.0001);
    o.num("nearest_mm", whole * f, 0.0001);
    o.num("off_mm", h - whole * f, 0.0001);
    o.list("whole_heights_mm", &heights, 0.0001);
    o.list("sequence_mm", &made, 0.0001);
    let (thin, thick) = (smallest(&made), largest(&made));
    o.num("thinnest_mm", thin, 0.0001);
    o.num("thickest_mm", thick, 0.0001);
    let off = off_whole(x).abs();
    if h < f {
        o.warn("the layer is thinner than one full step: coarse for this screw");
    }
    if off > 1e-6 {
        o.num("beat_layers", 1.0 / off, 0.01);
        o.num("beat_mm", h / off, 0.001);
        if f < 0.02 {
            o.warn("so fine a full step makes this a weak suspect");
        }
    }
    let rest = match off <= 1e-6 {
        true => ", a whole number".to_string(),
        false => format!(
            ": layers from {} to {} mm; {} mm would be whole",
            show(thin, 0.001),
            show(thick, 0.001),
            show(whole * f, 0.001)
        ),
    };
    o.result = format!(
        "one full step is {} mm; {} mm is {} of them{rest}",
        show(f, 0.0001),
        show(h, 0.01),
        show(x, 0.01)
    );
    Ok(())
}
