//! What a closed top costs: more layers, or more infill.

use super::top_layers_count::{PATTERN, SKIN, TOP, infill_for, span};
use crate::measures::card::{Card, Hold};
use crate::measures::input::{mm, mm_s, percent, plain, whole};
use crate::measures::maths::{ceil, show};
use crate::measures::usual::{DENSITY, LAYER, LINE, MATERIAL, MONEY_H, MONEY_KG, PACE};
use crate::measures::usual::{density, price};
use crate::measures::{Given, Measure, Out, Refused};

pub(super) const MEASURE: Measure = Measure {
    id: "skin-ways",
    plain: "price of a closed top: layers or infill",
    not: "strength",
    safety: "",
    card: Card {
        hold: Hold::File,
        words: "top layers infill price time cheaper closed",
        formulas: &[
            "{layers_money} = {layers_grams} · {money_kg} / 1000 + {layers_minutes} · {money_h} / \
             60",
            "{infill_money} = {infill_grams} · {money_kg} / 1000 + {infill_minutes} · {money_h} / \
             60",
        ],
        example: &[
            ("top_layers", "3"),
            ("layer_mm", "0.2"),
            ("infill_percent", "12"),
            ("area_mm2", "6000"),
            ("body_mm", "18"),
        ],
        against: "",
    },
    inputs: &[
        TOP,
        LAYER.needed(),
        percent("infill_percent", "infill")
            .range(1.0, 100.0)
            .needed()
            .from("infill_percent"),
        PATTERN,
        LINE,
        plain("area_mm2", "area of the top, mm²", 1.0, 1_000_000.0).needed(),
        mm("body_mm", "height of the infilled body").needed(),
        plain("body_area_mm2", "its area, mm²", 1.0, 1_000_000.0),
        whole("to_layers", "top layers instead", 1.0, 100.0),
        percent("to_infill_percent", "infill instead").range(1.0, 100.0),
        mm_s("skin_mm_s", "speed of the skin").usual(40.0),
        mm_s("infill_mm_s", "speed of the infill").usual(80.0),
        PACE,
        MATERIAL,
        DENSITY,
        MONEY_KG,
        MONEY_H,
    ],
    reckon,
};

/// One way: what it adds.
struct Way {
    grams: f64,
    minutes: f64,
    money: f64,
}

impl Way {
    fn tell(&self, o: &mut Out, name: &str) {
        o.num(&format!("{name}_grams"), self.grams, 0.1);
        o.num(&format!("{name}_minutes"), self.minutes, 1.0);
        o.num(&format!("{name}_money"), self.money, 0.01);
    }

    fn said(&self) -> String {
        format!(
            "{} min, {} g",
            show(self.minutes, 1.0),
            show(self.grams, 0.1)
        )
    }
}

/// A way by what it fills, in mm³, and how long that takes, in seconds.
fn way(g: &Given, plastic: f64, seconds: f64) -> Way {
    let (grams, minutes) = (
        density(g) * plastic / 1000.0,
        seconds / g.num("pace_ratio") / 60.0,
    );
    let money = price(g, grams, minutes);
    Way {
        grams,
        minutes,
        money,
    }
}

fn reckon(_: &'static str, g: &Given, o: &mut Out) -> Result<(), Refused> {
    let (layer, infill, area) = (
        g.num("layer_mm"),
        g.num("infill_percent"),
        g.num("area_mm2"),
    );
    let had = g.num("top_layers");
    let enough = || had.max(ceil(SKIN / infill / layer));
    let layers = g.maybe("to_layers").unwrap_or_else(enough);
    let carrying = if had > 0.0 {
        infill_for(had * layer)
    } else {
        100.0
    };
    let to_infill = g.maybe("to_infill_percent").unwrap_or(infill.max(carrying));
    let (share, line) = (infill / 100.0, g.num("line_width_mm") * layer);
    let (skin_rate, infill_rate) = (line * g.num("skin_mm_s"), line * g.num("infill_mm_s"));
    let skin = (layers - had) * layer * area;
    let body_area = g.maybe("body_area_mm2").unwrap_or(area);
    let body = body_area * g.num("body_mm") * (to_infill - infill) / 100.0;
    let by_layers = way(
        g,
        skin * (1.0 - share),
        skin / skin_rate - skin * share / infill_rate,
    );
    let by_infill = way(g, body, body / infill_rate);
    if layers == had && to_infill == infill {
        o.warn("enough as it is: nothing to add");
    }
    o.num("span_mm", span(g, infill), 0.01);
    o.num("layers_to", layers, 0.0);
    by_layers.tell(o, "layers");
    o.num("infill_to_percent", to_infill, 1.0);
    o.num("infill_span_mm", span(g, to_infill), 0.01);
    by_infill.tell(o, "infill");
    let cheaper = match by_layers.money - by_infill.money {
        d if d.abs() < 0.005 => "neither",
        d if d < 0.0 => "layers",
        _ => "infill",
    };
    o.word("cheaper", cheaper);
    o.result = format!(
        "{layers} top layers: {}; {} % infill: {}",
        by_layers.said(),
        show(to_infill, 1.0),
        by_infill.said()
    );
    Ok(())
}
