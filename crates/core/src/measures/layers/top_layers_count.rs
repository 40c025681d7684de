//! The top skin over its infill.

use crate::measures::card::{Card, Hold};
use crate::measures::input::{choice, percent, whole};
use crate::measures::maths::{ceil, phi, show};
use crate::measures::usual::{LAYER, LINE};
use crate::measures::{Given, Input, Measure, Out, Refused};

/// Patterns of infill.
pub(super) const PATTERN: Input = choice(
    "pattern",
    "infill pattern",
    &["lines", "gyroid", "grid", "triangles", "cubic"],
);
/// Layers of the top skin.
pub(super) const TOP: Input = whole("top_layers", "top layers", 0.0, 100.0)
    .needed()
    .from("top_layers");

pub(super) const MEASURE: Measure = Measure {
    id: "top-layers-count",
    plain: "top skin over its infill",
    not: "moisture or flow",
    safety: "",
    card: Card {
        hold: Hold::Eye,
        words: "top holes pillowing skin layers infill",
        formulas: &[
            "{thickness_mm} = {top_layers} · {layer_mm}",
            "{needed_mm} = 0.8 · 20 / {infill_percent}",
            "{layers_needed} = ⌈{needed_mm} / {layer_mm}⌉",
        ],
        example: &[
            ("top_layers", "3"),
            ("layer_mm", "0.2"),
            ("infill_percent", "15"),
        ],
        against: "",
    },
    inputs: &[
        TOP,
        LAYER.needed(),
        percent("infill_percent", "infill")
            .needed()
            .from("infill_percent"),
        PATTERN,
        LINE,
    ],
    reckon,
};

/// The skin a workshop lays over infill, in millimetres, times the per cent of infill: 0.8 mm over
/// 20 %.
pub(super) const SKIN: f64 = 16.0;

/// Distance of neighbouring lines of infill, in millimetres. A grid draws its lines twice over, so
/// they lie twice as far apart.
pub(super) fn spacing(g: &Given, infill: f64) -> f64 {
    let directions = match g.word("pattern") {
        "grid" => 2.0,
        "triangles" | "cubic" => 3.0,
        _ => 1.0,
    };
    directions * g.num("line_width_mm") * 100.0 / infill
}

/// The open span between two lines of infill.
pub(super) fn span(g: &Given, infill: f64) -> f64 {
    (spacing(g, infill) - g.num("line_width_mm")).max(0.0)
}

/// Infill, in per cent, a skin so thick can lie on.
pub(super) fn infill_for(skin: f64) -> f64 {
    (SKIN / skin).min(100.0)
}

fn reckon(_: &'static str, g: &Given, o: &mut Out) -> Result<(), Refused> {
    let (layer, infill) = (g.num("layer_mm"), g.num("infill_percent"));
    let skin = g.num("top_layers") * layer;
    o.num("thickness_mm", skin, 0.01);
    if infill == 0.0 {
        o.warn("hollow: the whole top is one bridge");
        o.result = format!("{} mm of skin over nothing", show(skin, 0.01));
        o.find("top-layers-count", &[("enough", 0.0), ("few", 1.0)]);
        return Ok(());
    }
    let needed = SKIN / infill;
    let open = span(g, infill);
    o.num("spacing_mm", spacing(g, infill), 0.01);
    o.num("span_mm", open, 0.01);
    o.num("needed_mm", needed, 0.01);
    o.num("layers_needed", ceil(needed / layer), 0.0);
    o.maybe(
        "infill_needed_percent",
        (skin > 0.0).then(|| infill_for(skin)),
        1.0,
    );
    o.result = format!(
        "{} mm of skin over open spans of {} mm; about {} mm are wanted",
        show(skin, 0.01),
        show(open, 0.01),
        show(needed, 0.01)
    );
    let enough = phi((skin / needed - 1.0) / 0.15);
    o.find(
        "top-layers-count",
        &[("enough", enough), ("few", 1.0 - enough)],
    );
    Ok(())
}
