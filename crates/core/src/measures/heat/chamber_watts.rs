//! Power of a chamber heater by subtraction, and the next duty.

use crate::measures::card::{Card, Hold};
use crate::measures::input::{ratio, watts};
use crate::measures::maths::{down, mean, normal, range, rss, show, under};
use crate::measures::out::plus_minus;
use crate::measures::refused::refuse;
use crate::measures::slips::PLAIN;
use crate::measures::{Given, Measure, Out, Refused};
use std::f64::consts::SQRT_2;

pub(super) const MEASURE: Measure = Measure {
    id: "chamber-watts",
    plain: "heater power by subtraction, next duty",
    not: "how warm the chamber gets",
    safety: "watch meter, wiring and plug while it heats; mains work is for a competent person",
    card: Card {
        hold: Hold::Meter,
        words: "power heater watts chamber rating overload",
        formulas: &[
            "{power_w} = {with_w} − {without_w}",
            "{share_percent} = 100 · {power_w} / {rating_w}",
        ],
        example: &[
            ("with_w", "395 398 396"),
            ("without_w", "118 117 119"),
            ("rating_w", "300"),
        ],
        against: "rating_w",
    },
    inputs: &[
        watts("with_w", "watts with the heater")
            .readings(3)
            .needed(),
        watts("without_w", "watts without").readings(3).needed(),
        watts("rating_w", "watts it may have")
            .range(1.0, 5000.0)
            .needed(),
        watts("meter_w", "meter good to")
            .range(0.1, 200.0)
            .usual(5.0),
        ratio("duty_now", "duty set now"),
        ratio("duty_before", "duty set before"),
        watts("power_before_w", "watts found with that").range(1.0, 5000.0),
    ],
    reckon,
};

/// Share of its rating a heater is led up to.
const AIM: f64 = 0.95;
/// Most a duty is raised in one step.
const STEP: f64 = 1.1;

fn reckon(_: &'static str, g: &Given, o: &mut Out) -> Result<(), Refused> {
    let (with, without) = (g.list("with_w"), g.list("without_w"));
    let (rating, meter) = (g.num("rating_w"), g.num("meter_w"));
    let (power, u) = (mean(with) - mean(without), SQRT_2 * meter);
    o.pair("power", "w", (power, u), 1.0);
    o.num("share_percent", 100.0 * power / rating, 0.1);
    if power < 0.0 {
        o.slip("less with the heater than without: are the two swapped?");
    } else {
        o.check("the power", &[power], rating, ("W", PLAIN));
    }
    if power > rating + 2.0 * u {
        o.warn("over its rating: lower the duty at once");
    }
    if [with, without].iter().any(|w| range(w) > 4.0 * meter) {
        o.warn("the readings swing: average over whole cycles of the bed");
    }
    let said = plus_minus(power, u, 1.0, "W");
    o.result = format!("{said} of {} W", show(rating, 1.0));
    if let Some(duty) = g.maybe("duty_now").filter(|_| power > 0.0 && !o.slipped) {
        next(g, o, (duty, power, rating))?;
    }
    let states = [
        (
            "as-rated",
            normal(power / rating, 1.0, rss([u / rating, 0.06])),
        ),
        ("low", under(power / rating, 0.9, 0.9, u / rating)),
    ];
    o.find("chamber-watts", &states);
    Ok(())
}

/// The duty to try next, led up to its aim by the slope between two duties or, of one alone, in
/// proportion; never by more than a tenth at once.
///
/// # Formula
/// P ~ duty^q, q = ln(P₂/P₁) / ln(d₂/d₁), 1 of one duty alone
fn next(g: &Given, o: &mut Out, (duty, power, rating): (f64, f64, f64)) -> Result<(), Refused> {
    let aim = AIM * rating;
    let mut exponent = 1.0;
    let mut raised = f64::INFINITY;
    if let (Some(old), Some(had)) = (g.maybe("duty_before"), g.maybe("power_before_w")) {
        let slope = (power - had) / (duty - old);
        if !(slope > 0.0 && slope.is_finite()) {
            return refuse(
                "duty_before, power_before_w: no slope follows: watts must rise with duty",
            );
        }
        exponent = (power / had).ln() / (duty / old).ln();
        o.num("slope_w", slope, 1.0);
        raised = duty + (aim - power) / slope;
    }
    let (action, new) = if power > rating {
        ("lower", duty * aim / power)
    } else if power >= aim {
        ("stop", duty)
    } else {
        let by_power = duty * (aim / power).powf(1.0 / exponent);
        ("raise", raised.min(by_power).min(STEP * duty).min(1.0))
    };
    let new = if action == "stop" {
        new
    } else {
        down(new, 0.005)
    };
    o.word("action", action);
    o.num("next_duty", new, 0.005);
    o.num("expected_w", power * (new / duty).powf(exponent), 1.0);
    o.result += &match action {
        "stop" => ": stop here".to_string(),
        action => format!(": {action} the duty to {}", show(new, 0.001)),
    };
    Ok(())
}
