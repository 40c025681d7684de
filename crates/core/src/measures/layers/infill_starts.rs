//! What infill that starts bare costs to mend: joined ends, a slower speed, an extra restart.

use crate::measures::card::{Card, Hold};
use crate::measures::input::{mm, mm_s, percent, plain, ratio, whole};
use crate::measures::maths::{area, show};
use crate::measures::usual::{DENSITY, FILAMENT, LAYER, LINE, MATERIAL, MONEY_H, MONEY_KG, PACE};
use crate::measures::usual::{density, price};
use crate::measures::{Given, Measure, Out, Refused};

pub(super) const MEASURE: Measure = Measure {
    id: "infill-starts",
    plain: "price of infill that starts bare: joined, slower, restarted",
    not: "strength",
    safety: "",
    card: Card {
        hold: Hold::File,
        words: "infill gaps slow join lines price restart",
        formulas: &[
            "{starts} = 1000 · {length_m} / {line_mm}",
            "{restart_extra_mm} = {missing_mm} · {line_width_mm} · {layer_mm} / (π · \
             {filament_mm}² / 4)",
        ],
        example: &[
            ("area_mm2", "3500"),
            ("layers", "120"),
            ("infill_percent", "18"),
            ("line_mm", "45"),
        ],
        against: "",
    },
    inputs: &[
        plain("area_mm2", "area filled, mm²", 1.0, 1_000_000.0).needed(),
        whole("layers", "layers with infill", 1.0, 20_000.0).needed(),
        percent("infill_percent", "infill")
            .range(1.0, 100.0)
            .needed()
            .from("infill_percent"),
        mm("line_mm", "length of a line of infill").needed(),
        mm("missing_mm", "bare length at its start")
            .range(0.0, 100.0)
            .usual(5.0),
        LINE,
        LAYER.usual(0.2),
        mm_s("infill_mm_s", "speed of the infill").usual(80.0),
        mm_s("slow_mm_s", "slower speed").usual(40.0),
        ratio("wider_ratio", "lines wider by")
            .range(1.0, 2.0)
            .usual(1.0),
        mm_s("restart_mm_s", "speed of the restart")
            .range(1.0, 200.0)
            .usual(30.0),
        PACE,
        FILAMENT,
        MATERIAL,
        DENSITY,
        MONEY_KG,
        MONEY_H,
    ],
    reckon,
};

fn reckon(_: &'static str, g: &Given, o: &mut Out) -> Result<(), Refused> {
    let (width, layer) = (g.num("line_width_mm"), g.num("layer_mm"));
    let (fast, slow, pace) = (
        g.num("infill_mm_s"),
        g.num("slow_mm_s"),
        g.num("pace_ratio"),
    );
    let missing = g.num("missing_mm");
    let spacing = width * 100.0 / g.num("infill_percent");
    let length = g.num("layers") * g.num("area_mm2") / spacing;
    let starts = length / g.num("line_mm");
    let extra = missing * width * layer / area(g.num("filament_mm"));
    if slow >= fast {
        o.warn("the slow speed is not slower");
    }
    o.num("starts", starts, 1.0);
    o.num("length_m", length / 1000.0, 0.1);
    o.num("restart_extra_mm", extra, 0.01);
    // Of each way: the line it adds, in millimetres, and the time, in seconds.
    let ways = [
        ("joined", starts * spacing, starts * spacing / fast / pace),
        (
            "slower",
            (g.num("wider_ratio") - 1.0) * length,
            length * (1.0 / slow - 1.0 / fast) / pace,
        ),
        (
            "restarted",
            starts * missing,
            starts * extra / g.num("restart_mm_s"),
        ),
    ];
    let mut priced = Vec::new();
    let mut said = Vec::new();
    for (name, line, seconds) in ways {
        let (grams, minutes) = (density(g) * line * width * layer / 1000.0, seconds / 60.0);
        let money = price(g, grams, minutes);
        o.num(&format!("{name}_grams"), grams, 0.1);
        o.num(&format!("{name}_minutes"), minutes, 0.1);
        o.num(&format!("{name}_money"), money, 0.01);
        priced.push((name, money));
        said.push(format!(
            "{name}: {} min, {} g",
            show(minutes, 0.1),
            show(grams, 0.1)
        ));
    }
    let cheapest = priced.iter().min_by(|a, b| a.1.total_cmp(&b.1));
    o.word("cheapest", cheapest.map_or("", |(name, _)| name));
    o.result = said.join("; ");
    Ok(())
}
