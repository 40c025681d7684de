//! What is left on the spool, by weight.

use crate::measures::card::{Card, Hold};
use crate::measures::input::{grams, percent};
use crate::measures::maths::{area, phi, rss, show};
use crate::measures::out::plus_minus;
use crate::measures::refused::refuse;
use crate::measures::usual::{DENSITY, FILAMENT, MATERIAL, density};
use crate::measures::{Given, Measure, Out, Refused};

pub(super) const MEASURE: Measure = Measure {
    id: "spool-remaining",
    plain: "what is left on the spool",
    not: "a tangle; note the empty weight by kind of spool",
    safety: "",
    card: Card {
        hold: Hold::Scales,
        words: "spool left enough weigh rest",
        formulas: &["{left_g} = max(0, {gross_g} − {empty_g})"],
        example: &[("gross_g", "520"), ("job_g", "180")],
        against: "job_g",
    },
    inputs: &[
        grams("gross_g", "spool with filament")
            .range(0.01, 20_000.0)
            .needed(),
        grams("empty_g", "empty spool of that kind").usual(200.0),
        grams("empty_u_g", "which is known to").usual(20.0),
        grams("scale_g", "scale good to")
            .range(0.01, 20.0)
            .usual(1.0),
        grams("job_g", "the next print takes"),
        percent("spare_percent", "with so much to spare").usual(5.0),
        FILAMENT,
        MATERIAL,
        DENSITY,
    ],
    reckon,
};

fn reckon(_: &'static str, g: &Given, o: &mut Out) -> Result<(), Refused> {
    let (gross, empty) = (g.num("gross_g"), g.num("empty_g"));
    if gross < 10.0 && empty >= 10.0 {
        return refuse("gross_g: that looks like kilograms: give grams");
    }
    let u = rss([g.num("scale_g"), g.num("empty_u_g")]);
    if gross < empty - 2.0 * u {
        return refuse("gross_g, empty_g: lighter than its empty spool: are the two swapped?");
    }
    let left = (gross - empty).max(0.0);
    let metres = left / (density(g) * area(g.num("filament_mm")));
    o.pair("left", "g", (left, u), 1.0);
    o.num("left_m", metres, 0.1);
    let said = plus_minus(left, u, 1.0, "g");
    o.result = format!("{said} or {} m left", show(metres, 1.0));
    if let Some(job) = g.maybe("job_g") {
        let sure = phi((left - job * (1.0 + g.num("spare_percent") / 100.0)) / u);
        let enough = match sure {
            s if s >= 0.95 => "yes",
            s if s <= 0.05 => "no",
            _ => "unsure",
        };
        o.num("sure_percent", 100.0 * sure, 1.0);
        o.word("enough", enough);
        o.result += &format!("; enough for {} g: {enough}", show(job, 1.0));
    }
    Ok(())
}
