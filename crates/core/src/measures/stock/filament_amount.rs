//! Filament in grams, metres and cubic centimetres.

use crate::measures::card::{Card, Hold};
use crate::measures::input::{grams, mm, plain};
use crate::measures::maths::{area, rss, show};
use crate::measures::refused::refuse;
use crate::measures::usual::{DENSITY, FILAMENT, MATERIAL, density};
use crate::measures::{Given, Measure, Out, Refused};

pub(super) const MEASURE: Measure = Measure {
    id: "filament-amount",
    plain: "filament: grams, metres, volume",
    not: "what is on a spool: weigh it",
    safety: "",
    card: Card {
        hold: Hold::Scales,
        words: "metres grams volume length weight filament",
        formulas: &[
            "{volume_cm3} = π · {filament_mm}² / 4 · {length_m}",
            "{grams} = {density_g_cm3} · {volume_cm3}",
        ],
        example: &[
            ("grams", "500"),
            ("material", "petg"),
            ("density_g_cm3", "1.27"),
        ],
        against: "",
    },
    inputs: &[
        grams("grams", "grams").range(0.01, 100_000.0),
        plain("length_m", "metres", 0.001, 100_000.0),
        plain("volume_cm3", "volume, cm³", 0.001, 100_000.0),
        FILAMENT,
        mm("diameter_u_mm", "diameter known to")
            .range(0.0, 0.2)
            .usual(0.02),
        MATERIAL,
        DENSITY,
    ],
    reckon,
};

/// How well the density of a material is known, as a share.
const OFF: f64 = 0.02;

fn reckon(_: &'static str, g: &Given, o: &mut Out) -> Result<(), Refused> {
    let (section, rho) = (area(g.num("filament_mm")), density(g));
    let of_diameter = 2.0 * g.num("diameter_u_mm") / g.num("filament_mm");
    let given = (g.maybe("grams"), g.maybe("length_m"), g.maybe("volume_cm3"));
    let volume = match given {
        (Some(mass), Some(length), None) => {
            let found = mass / (section * length);
            if !(0.8..=2.0).contains(&found) {
                o.slip("no filament has such a density: a slipped number, or the other diameter?");
            }
            o.num("density_g_cm3", found, 0.001);
            o.num("volume_cm3", section * length, 0.01);
            o.num("u_percent", 100.0 * of_diameter, 0.1);
            o.result = format!("{} g/cm³", show(found, 0.001));
            return Ok(());
        }
        (Some(mass), None, None) => mass / rho,
        (None, Some(length), None) => section * length,
        (None, None, Some(volume)) => volume,
        _ => {
            return refuse(
                "give one of grams, length_m, volume_cm3 (or grams with length_m for the density)",
            );
        }
    };
    let of_density = if g.maybe("density_g_cm3").is_some() {
        0.0
    } else {
        OFF
    };
    o.num("grams", rho * volume, 0.01);
    o.num("length_m", volume / section, 0.01);
    o.num("volume_cm3", volume, 0.01);
    o.num("u_percent", 100.0 * rss([of_diameter, of_density]), 0.1);
    o.result = format!(
        "{} g = {} m = {} cm³",
        show(rho * volume, 0.01),
        show(volume / section, 0.01),
        show(volume, 0.01)
    );
    Ok(())
}
