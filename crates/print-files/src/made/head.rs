//! The start and the end of the file.

use super::writer::Writer;
use super::{Recipe, Start};

pub(super) fn begin(out: &mut Writer<'_>, recipe: &Recipe) {
    out.say("; lighthouse, made by a small slicer of its own");
    out.say("G90");
    out.say(if recipe.relative { "M83" } else { "M82" });
    let acceleration = recipe.acceleration;
    out.say("M201 X5000 Y5000 Z200 E5000");
    out.say(&format!("M204 P{acceleration:.0} R2000 T{acceleration:.0}"));
    out.say("M205 X8 Y8 Z0.4 E5");
    out.say(&format!("M140 S{:.0}", recipe.bed_c));
    out.say(&format!("M104 S{:.0}", recipe.nozzle_c[0]));
    out.say(&format!("M190 S{:.0}", recipe.bed_c));
    out.say(&format!("M109 S{:.0}", recipe.nozzle_c[0]));
    out.say("G28 ; all axes");
    if matches!(recipe.start, Start::Measures | Start::MeasuresAndLoads) {
        out.say("G29 ; measure the bed");
    }
    if matches!(recipe.start, Start::Loads | Start::MeasuresAndLoads) {
        out.say("M420 S1 ; use the mesh");
    }
    out.say("M107");
}

pub(super) fn end(out: &mut Writer<'_>, recipe: &Recipe) {
    out.retract();
    for line in ["M107", "M104 S0", "M140 S0", "G28 X", "M84"] {
        out.say(line);
    }
    if !recipe.settings {
        return;
    }
    let lines = [
        format!("; layer_height = {}", recipe.layer),
        format!("; line_width = {}", recipe.width),
        format!("; nozzle_diameter = {}", recipe.nozzle),
        format!("; filament_diameter = {}", recipe.diameter),
        format!(
            "; infill_density = {:.0}%",
            recipe.width / recipe.infill * 100.0
        ),
        format!("; top_layers = {}", recipe.top_layers),
        "; walls = 2".to_owned(),
        "; flow_ratio = 1".to_owned(),
        "; travel_speed = 150".to_owned(),
    ];
    lines.iter().for_each(|line| out.say(line));
}
