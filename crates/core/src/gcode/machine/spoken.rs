//! Commands by name, with what they need as `NAME=VALUE`.

use super::Machine;
use crate::gcode::number;
use crate::gcode::sink::{Ask, Heater, Limit, Sink};

/// Names under which macros are handed temperatures.
const HEATERS: [(&str, Heater); 10] = [
    ("NOZZLE", Heater::Nozzle),
    ("NOZZLE_TEMP", Heater::Nozzle),
    ("EXTRUDER", Heater::Nozzle),
    ("EXTRUDER_TEMP", Heater::Nozzle),
    ("HOTEND", Heater::Nozzle),
    ("TOOL_TEMP", Heater::Nozzle),
    ("BED", Heater::Bed),
    ("BED_TEMP", Heater::Bed),
    ("CHAMBER", Heater::Chamber),
    ("CHAMBER_TEMP", Heater::Chamber),
];

/// What stands behind a command's name.
struct Values<'a>(&'a str);

impl<'a> Values<'a> {
    fn each(&self) -> impl Iterator<Item = (String, &'a str)> + use<'a> {
        self.0
            .split_whitespace()
            .filter_map(|word| word.split_once('='))
            .map(|(name, value)| (name.to_ascii_uppercase(), value.trim_matches('"')))
    }

    fn text(&self, name: &str) -> Option<&'a str> {
        self.each()
            .find(|(known, _)| known == name)
            .map(|(_, value)| value)
    }

    fn number(&self, name: &str) -> Option<f64> {
        let text = self.text(name)?;
        let (value, taken) = number::read(text.as_bytes())?;
        (taken == text.len() && value.abs() <= 1e6).then_some(value)
    }
}

impl Machine {
    /// Reads a command by name. One that is not known is a macro: what it does stands in the
    /// machine and not in the file.
    #[cold]
    pub(super) fn spoken(&mut self, name: &str, rest: &str, sink: &mut impl Sink) {
        let values = Values(rest);
        match name.to_ascii_uppercase().as_str() {
            "SET_HEATER_TEMPERATURE" => self.heater(&values, "TARGET", false, sink),
            "TEMPERATURE_WAIT" => self.heater(&values, "MINIMUM", true, sink),
            "SET_VELOCITY_LIMIT" => self.velocity(&values, sink),
            "SET_PRESSURE_ADVANCE" => self.pressure(values.number("ADVANCE"), sink),
            "SET_FAN_SPEED" => {
                let other = values.text("FAN").is_some_and(|name| !part_fan(name));
                if let Some(speed) = values.number("SPEED") {
                    sink.asked(
                        Ask::Fan(usize::from(other) * 2, speed.clamp(0.0, 1.0)),
                        self,
                    );
                }
            }
            "SET_RETRACTION" => {
                let [length, speed] = self.firmware;
                let length = values.number("RETRACT_LENGTH").unwrap_or(length).abs();
                let speed = values.number("RETRACT_SPEED").unwrap_or(speed).max(0.1);
                self.firmware = [length, speed];
                sink.asked(Ask::RetractLength(length), self);
            }
            "BED_MESH_CALIBRATE" => sink.asked(Ask::MeasureMesh, self),
            "BED_MESH_PROFILE" if values.text("LOAD").is_some() => sink.asked(Ask::LoadMesh, self),
            "BED_MESH_CLEAR" => sink.asked(Ask::DropMesh, self),
            "BED_MESH_PROFILE" => {}
            "PAUSE" => sink.asked(Ask::Pause, self),
            _ => self.unknown(&values, sink),
        }
    }

    fn heater(&mut self, values: &Values<'_>, number: &str, waits: bool, sink: &mut impl Sink) {
        let name = values
            .text("HEATER")
            .or(values.text("SENSOR"))
            .unwrap_or("")
            .to_lowercase();
        let heater = match () {
            () if name.contains("bed") => Heater::Bed,
            () if name.contains("chamber") => Heater::Chamber,
            () if name.contains("extruder") => Heater::Nozzle,
            () => return,
        };
        if let Some(value) = values.number(number) {
            sink.asked(Ask::Heat(heater, self.tool, value, waits), self);
        }
    }

    fn velocity(&mut self, values: &Values<'_>, sink: &mut impl Sink) {
        if let Some(value) = values.number("ACCEL") {
            sink.asked(Ask::Limit(Limit::Laying(value)), self);
            sink.asked(Ask::Limit(Limit::Travel(value)), self);
        }
        if let Some(value) = values.number("VELOCITY") {
            sink.asked(Ask::Limit(Limit::AxisSpeed(0, value)), self);
            sink.asked(Ask::Limit(Limit::AxisSpeed(1, value)), self);
        }
        if let Some(value) = values.number("SQUARE_CORNER_VELOCITY") {
            sink.asked(Ask::Limit(Limit::Corner(value)), self);
        }
    }

    fn unknown(&mut self, values: &Values<'_>, sink: &mut impl Sink) {
        for (name, text) in values.each() {
            let known = HEATERS.iter().find(|(known, _)| *known == name);
            let number = number::read(text.as_bytes()).filter(|(_, taken)| *taken == text.len());
            if let (Some((_, heater)), Some((value, _))) = (known, number)
                && (20.0..=500.0).contains(&value)
            {
                sink.asked(Ask::Heat(*heater, 0, value, true), self);
            }
        }
        sink.asked(Ask::Macro, self);
    }
}

/// Whether a fan by this name blows on the print.
fn part_fan(name: &str) -> bool {
    let name = name.to_lowercase();
    ["part", "cooling", "print", "layer"]
        .iter()
        .any(|word| name.contains(word))
        || name == "fan"
        || name == "fan0"
}
