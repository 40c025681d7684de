//! The value that stood at a height of a tower.

use crate::measures::card::{Card, Hold};
use crate::measures::input::{mm, plain, short, whole};
use crate::measures::maths::phi;
use crate::measures::refused::refuse;
use crate::measures::{Given, Measure, Out, Refused};

pub(super) const MEASURE: Measure = Measure {
    id: "tower-reading",
    plain: "value at a height of a tower",
    not: "values between the bands: half a step is all it tells",
    safety: "",
    card: Card {
        hold: Hold::Ruler,
        words: "tower temperature test piece band value",
        formulas: &[
            "{band_number} = ⌊({z_mm} − {base_mm}) / {band_mm}⌋ + 1",
            "{value} = {first} + {step} · ({band_number} − 1)",
        ],
        example: &[
            ("z_mm", "31"),
            ("base_mm", "1.2"),
            ("band_mm", "8"),
            ("first", "230"),
            ("step", "-5"),
        ],
        against: "",
    },
    inputs: &[
        mm("z_mm", "height of the best place")
            .range(0.0, 1000.0)
            .needed(),
        mm("base_mm", "height of the base below the first band")
            .range(0.0, 200.0)
            .usual(0.0),
        mm("band_mm", "height of a band").needed(),
        plain("first", "value of the first band", -100_000.0, 100_000.0).needed(),
        plain("step", "step from band to band", -10_000.0, 10_000.0).needed(),
        whole("bands", "bands", 1.0, 100.0),
        mm("read_mm", "height read to").usual(0.3),
    ],
    reckon,
};

/// Sureness below which the neighbour is named too.
const SURE: f64 = 0.95;

fn reckon(_: &'static str, g: &Given, o: &mut Out) -> Result<(), Refused> {
    let (z, base, band) = (g.num("z_mm"), g.num("base_mm"), g.num("band_mm"));
    let (first, step, read) = (g.num("first"), g.num("step"), g.num("read_mm"));
    let bands = g.maybe("bands").unwrap_or(f64::INFINITY);
    if step == 0.0 {
        return refuse("step: a step of 0 tells nothing");
    }
    if z < base {
        return refuse("z_mm: below the first band, in the base");
    }
    let n = ((z - base) / band + 1e-9).floor();
    if n >= bands {
        return refuse("z_mm: above the last band");
    }
    if n >= 100.0 {
        o.slip("over a hundred bands high: a slipped decimal?");
    }
    let (low, high) = (base + n * band, base + (n + 1.0) * band);
    let sure = phi((z - low) / read) - phi((z - high) / read);
    o.num("band_number", n + 1.0, 0.0);
    o.num("value", first + step * n, 0.0001);
    o.num("sure_percent", 100.0 * sure, 1.0);
    if sure < SURE {
        o.warn("near the border of two bands");
        let other = if z - low < high - z { n - 1.0 } else { n + 1.0 };
        if other >= 0.0 && other < bands {
            o.num("other_value", first + step * other, 0.0001);
        }
    }
    let (value, half) = (short(first + step * n), short(step.abs() / 2.0));
    o.result = format!("band {}: {value} ± {half}", n + 1.0);
    Ok(())
}
