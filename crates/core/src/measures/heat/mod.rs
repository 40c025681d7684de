//! Heat: the chamber, motors and drivers, thermometers, traces.

mod chamber_two_sensors;
mod chamber_watts;
mod heat_up;
mod motors;
mod second_thermometer;
mod temperature_trace;

use super::Measure;
pub(super) use temperature_trace::jump_times;

pub(super) const ALL: &[Measure] = &[
    chamber_watts::MEASURE,
    motors::AXIS,
    motors::FEEDER,
    motors::DRIVER,
    second_thermometer::MEASURE,
    chamber_two_sensors::MEASURE,
    heat_up::MEASURE,
    temperature_trace::MEASURE,
];
