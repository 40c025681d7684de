//! `M` commands: temperatures, fans, limits, pauses.

use super::Machine;
use crate::gcode::sink::{Ask, Heater, Limit, Sink};
use crate::gcode::words::Words;
use std::f64::consts::PI;

/// A fastest speed above this is written in mm/min, as some firmwares do.
const FASTEST_MM_S: f64 = 2000.0;

impl Machine {
    pub(super) fn miscellany(&mut self, words: &Words, sink: &mut impl Sink) {
        match words.code {
            82 | 83 => {
                self.e_absolute = words.code == 82;
                self.e_said_absolute = self.e_absolute;
                self.tell_mode(sink);
            }
            104 | 109 => self.heat(Heater::Nozzle, words, words.code == 109, sink),
            140 | 190 => self.heat(Heater::Bed, words, words.code == 190, sink),
            141 | 191 => self.heat(Heater::Chamber, words, words.code == 191, sink),
            106 | 107 => self.fan(words, sink),
            200 => {
                self.volumetric(words);
                self.tell_mode(sink);
            }
            201..=205 => self.limits(words, sink),
            207 => {
                self.firmware = self.firmware_numbers(words);
                sink.asked(Ask::RetractLength(self.firmware[0]), self);
            }
            220 => {
                self.speed_factor = factor(words).unwrap_or(self.speed_factor);
                sink.asked(Ask::SpeedFactor(self.speed_factor), self);
            }
            221 => {
                self.flow_factor = factor(words).unwrap_or(self.flow_factor);
                sink.asked(Ask::FlowFactor(self.flow_factor), self);
            }
            375 => sink.asked(Ask::LoadMesh, self),
            420 => {
                let off = words.get(b'S') == Some(0.0);
                sink.asked(if off { Ask::DropMesh } else { Ask::LoadMesh }, self);
            }
            _ => self.stand_still(words, sink),
        }
    }

    fn stand_still(&mut self, words: &Words, sink: &mut impl Sink) {
        match words.code {
            0 | 1 | 25 | 226 | 601 => sink.asked(Ask::Pause, self),
            600 => sink.asked(Ask::ChangeFilament, self),
            400 if words.has(b'U') => sink.asked(Ask::Pause, self),
            400 => {
                let seconds = words.get(b'S').unwrap_or(0.0) + words.get(b'P').unwrap_or(0.0) / 1e3;
                let waits = seconds > 0.0;
                sink.asked(
                    if waits {
                        Ask::Dwell(seconds)
                    } else {
                        Ask::Finish
                    },
                    self,
                );
            }
            572 => self.pressure(words.get(b'S'), sink),
            900 => self.pressure(words.get(b'K'), sink),
            _ => {}
        }
    }

    pub(super) fn pressure(&mut self, value: Option<f64>, sink: &mut impl Sink) {
        if let Some(value) = value {
            sink.asked(Ask::Pressure(value), self);
        }
    }

    fn heat(&mut self, heater: Heater, words: &Words, waits: bool, sink: &mut impl Sink) {
        let asked = words.get(b'S').or(words.get(b'R'));
        let tool = match heater {
            Heater::Nozzle => words
                .get(b'T')
                .map_or(self.tool, |tool| tool.clamp(0.0, 63.0) as u8),
            Heater::Bed | Heater::Chamber => 0,
        };
        if let Some(value) = asked {
            sink.asked(Ask::Heat(heater, tool, value, waits), self);
        }
    }

    fn fan(&mut self, words: &Words, sink: &mut impl Sink) {
        let number = words.get(b'P').unwrap_or(0.0).clamp(0.0, 15.0) as usize;
        let value = match words.get(b'S') {
            _ if words.code == 107 => 0.0,
            None => 1.0,
            // A fraction, as some firmwares write it; the smallest step of 255 blows nothing.
            Some(share) if share <= 1.0 => share.max(0.0),
            Some(of_255) => (of_255 / 255.0).min(1.0),
        };
        sink.asked(Ask::Fan(number, value), self);
    }

    fn firmware_numbers(&self, words: &Words) -> [f64; 2] {
        let length = words
            .get(b'S')
            .map_or(self.firmware[0], |mm| mm.abs() * self.unit);
        let speed = words
            .get(b'F')
            .map_or(self.firmware[1], |f| f.abs() * self.unit / 60.0);
        [length, speed.max(0.1)]
    }

    fn limits(&mut self, words: &Words, sink: &mut impl Sink) {
        let unit = self.unit;
        let mut say = |limit: Limit| sink.asked(Ask::Limit(limit), self);
        match words.code {
            201 | 203 | 205 => {
                for (axis, letter) in [b'X', b'Y', b'Z', b'E'].into_iter().enumerate() {
                    let Some(value) = words.get(letter).map(|v| v * unit) else {
                        continue;
                    };
                    say(match words.code {
                        201 => Limit::AxisAcceleration(axis, value),
                        203 => Limit::AxisSpeed(axis, per_second(value)),
                        _ => Limit::Jerk(axis, value),
                    });
                }
                if words.code == 205
                    && let Some(mm) = words.get(b'J')
                {
                    say(Limit::Deviation(mm * unit));
                }
            }
            204 => {
                let both = words.get(b'S');
                let of = |letter| words.get(letter).or(both).map(|v| v * unit);
                of(b'P').into_iter().for_each(|v| say(Limit::Laying(v)));
                of(b'T').into_iter().for_each(|v| say(Limit::Travel(v)));
                words
                    .get(b'R')
                    .into_iter()
                    .for_each(|v| say(Limit::Filament(v * unit)));
            }
            _ => {}
        }
    }

    /// `M200`: E counts mm³ of a filament of this diameter, or mm again with 0.
    fn volumetric(&mut self, words: &Words) {
        let diameter = words.get(b'D').unwrap_or(0.0) * self.unit;
        let off = diameter <= 0.0 || words.get(b'S') == Some(0.0);
        self.e_scale = if off {
            1.0
        } else {
            4.0 / (PI * diameter * diameter)
        };
    }
}

/// A percentage as a factor; nothing that stands still or runs away.
fn factor(words: &Words) -> Option<f64> {
    words
        .get(b'S')
        .map(|percent| (percent / 100.0).clamp(0.01, 10.0))
}

/// A speed limit in mm/s, whichever unit it was written in.
fn per_second(value: f64) -> f64 {
    if value > FASTEST_MM_S {
        value / 60.0
    } else {
        value
    }
}
