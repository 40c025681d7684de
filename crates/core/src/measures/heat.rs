//! Temperature of a motor's case or a driver.

use super::density::{normal, together};
use super::{Gauge, Input, Read, Reckoned, input, shown};

pub const AXIS: Gauge = Gauge {
    check: "axis-motor-heat",
    inputs: &MOTOR,
    reckon: motor,
};
pub const FEEDER: Gauge = Gauge {
    check: "feeder-heat",
    inputs: &MOTOR,
    reckon: motor,
};
pub const DRIVER: Gauge = Gauge {
    check: "driver-heat",
    inputs: &MOTOR,
    reckon: driver,
};

const MOTOR: [Input; 2] = [
    input(
        "case_c",
        "temperature after an hour of printing",
        "°C",
        (-20.0, 300.0),
        None,
        1,
    ),
    input(
        "thermometer_c",
        "read to within",
        "°C",
        (0.5, 30.0),
        Some(4.0),
        1,
    ),
];

fn motor(read: &Read) -> Reckoned {
    reckon(
        read,
        (52.0, 9.0),
        (90.0, 9.0),
        "To about 70 °C is ordinary, above 80 °C is suspect; a printed mount softens earlier.",
    )
}

fn driver(read: &Read) -> Reckoned {
    reckon(
        read,
        (62.0, 12.0),
        (115.0, 14.0),
        "Drivers drop out from about 120 °C inside; their surface shows less.",
    )
}

/// # Formula
/// P(reading | outcome) = N(reading; usual there, spread there ⊕ thermometer)
fn reckon(read: &Read, ordinary: (f64, f64), hot: (f64, f64), says: &str) -> Reckoned {
    let (case, sigma) = (read.one("case_c"), read.one("thermometer_c"));
    let of = |(mean, spread): (f64, f64)| normal(case, mean, together(&[spread, sigma]));
    let cold = (case < 25.0).then(|| {
        "So cool after an hour? Was it printing, and was the thermometer at the motor?".to_string()
    });
    Reckoned {
        result: format!("{} ± {} °C", shown(case), shown(sigma)),
        lines: vec![says.to_string()],
        warnings: cold.into_iter().collect(),
        // Beyond the usual range it is only more so.
        likelihood: vec![
            (
                "ordinary",
                if case < ordinary.0 {
                    of((case, ordinary.1))
                } else {
                    of(ordinary)
                },
            ),
            (
                "too-hot",
                if case > hot.0 {
                    of((case, hot.1))
                } else {
                    of(hot)
                },
            ),
        ],
    }
}
