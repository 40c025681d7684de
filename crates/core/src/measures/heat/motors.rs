//! Temperature of a motor or driver, and what turning its current down took off.

use crate::measures::card::{Card, Hold};
use crate::measures::input::celsius;
use crate::measures::maths::{normal, rss};
use crate::measures::out::plus_minus;
use crate::measures::{Given, Input, Measure, Out, Refused};
use std::f64::consts::SQRT_2;

const INPUTS: &[Input] = &[
    celsius("case_c", "its case, after an hour of printing").needed(),
    celsius("thermometer_c", "thermometer good to").usual(4.0),
    celsius("room_c", "the room"),
    celsius("before_c", "its case before the change"),
    celsius("before_room_c", "the room then"),
];

const fn of(id: &'static str, plain: &'static str) -> Measure {
    Measure {
        id,
        plain,
        not: "why it is hot; and name the motor",
        safety: "never touch a live board: read the driver's own report; mounts of PLA soften \
                 from 55 °C",
        card: Card {
            hold: Hold::Thermometer,
            words: "hot motor driver stepper current heat too warm touch skips",
            formulas: &[
                "{rise_c} = {case_c} − {room_c}",
                "{drop_c} = {before_c} − {case_c} − ({before_room_c} − {room_c}) | {drop_c} = \
                 {before_c} − {case_c}",
            ],
            example: &[("case_c", "63"), ("room_c", "22"), ("before_c", "81")],
            against: "",
        },
        inputs: INPUTS,
        reckon,
    }
}

pub(super) const AXIS: Measure = of("axis-motor-heat", "temperature of an axis motor");
pub(super) const FEEDER: Measure = of("feeder-heat", "temperature of the feeder's motor");
pub(super) const DRIVER: Measure = of("driver-heat", "temperature of a motor driver");

/// Usual and too hot, each with its spread, in degrees Celsius.
type Heats = [(f64, f64); 2];
const MOTOR: Heats = [(52.0, 9.0), (90.0, 9.0)];
const CHIP: Heats = [(62.0, 12.0), (115.0, 14.0)];

fn reckon(id: &'static str, g: &Given, o: &mut Out) -> Result<(), Refused> {
    let (case, s) = (g.num("case_c"), g.num("thermometer_c"));
    let driver = id == DRIVER.id;
    let [usual, hot] = if driver { CHIP } else { MOTOR };
    if case < 25.0 {
        o.warn("so cool after an hour: was it printing?");
    }
    let celsius = (case - 32.0) / 1.8;
    if !driver && case > 110.0 && celsius < 90.0 {
        o.slip(format!(
            "{case} looks like degrees Fahrenheit: {celsius:.0} °C"
        ));
    }
    o.num("case_c", case, 1.0);
    let room = g.maybe("room_c");
    o.maybe("rise_c", room.map(|r| case - r), 1.0);
    o.result = plus_minus(case, s, 1.0, "°C");
    if let Some(before) = g.maybe("before_c") {
        let warmer = g.maybe("before_room_c").zip(room);
        let drop = before - case - warmer.map_or(0.0, |(then, now)| then - now);
        o.pair("drop", "c", (drop, SQRT_2 * s), 1.0);
        o.result += &format!(
            ", {} °C less than before",
            plus_minus(drop, SQRT_2 * s, 1.0, "")
        );
    }
    let states = [
        (
            "ordinary",
            normal(case.max(usual.0), usual.0, rss([usual.1, s])),
        ),
        ("too-hot", normal(case.min(hot.0), hot.0, rss([hot.1, s]))),
    ];
    o.find(id, &states);
    Ok(())
}

#[cfg(test)]
mod tests {
    use crate::measures::{Output, Raw, measure};
    use std::collections::BTreeMap;

    #[test]
    fn a_warmer_room_is_no_success() {
        let given = [
            ("case_c", 60.0),
            ("before_c", 70.0),
            ("room_c", 20.0),
            ("before_room_c", 30.0),
        ];
        let raw: BTreeMap<String, Raw> = given
            .iter()
            .map(|(k, v)| ((*k).to_string(), Raw::Number(*v)))
            .collect();
        let out = measure("driver-heat").unwrap().reckon(&raw).unwrap();
        assert!(
            out.outputs
                .contains(&("drop_c".into(), Output::Number(0.0)))
        );
    }
}
