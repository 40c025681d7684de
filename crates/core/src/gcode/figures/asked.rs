//! What a file asks besides moves, and the settings in its comments.

use super::super::machine::Machine;
use super::super::reading::{Change, Pause, Problem};
use super::super::sink::{Ask, Heater};
use super::super::words::Odd;
use super::Figures;

/// Entries kept of a list; a file with more of them repeats itself.
const MOST: usize = 1000;

/// Settings kept, and the longest value of one, in bytes.
const MOST_SETTINGS: usize = 2000;
const LONGEST_SETTING: usize = 512;

impl Figures {
    pub(super) fn ask(&mut self, ask: Ask, machine: &Machine) {
        match ask {
            Ask::Heat(heater, tool, value, waits) => self.heat(heater, tool, value, waits, machine),
            Ask::Fan(number, value) => self.fan(number, value, machine),
            Ask::Home => {
                self.stand();
                self.seen.mesh.home(machine.line);
            }
            Ask::MeasureMesh => {
                self.stand();
                self.seen.mesh.measure(machine.line);
            }
            Ask::LoadMesh => self.seen.mesh.load(machine.line),
            Ask::DropMesh => self.seen.mesh.drop_it(),
            Ask::Limit(limit) => {
                self.seen.limits = true;
                self.pace.set(limit);
            }
            Ask::Pressure(value) => {
                if (f64::from(self.now.pressure) - value).abs() > 1e-6 {
                    self.change("pressure", value, false, machine);
                }
                self.now.pressure = value as f32;
            }
            Ask::FirmwareRetract(e, speed) => self.firmware_retract(e, speed, machine),
            Ask::RetractLength(mm) => self.change("retract", mm, false, machine),
            Ask::Dwell(seconds) => self.spend_seconds(seconds),
            Ask::Finish => self.stand(),
            Ask::Pause => self.pause("pause", machine),
            Ask::ChangeFilament => self.pause("filament-change", machine),
            Ask::Tool(tool) => {
                self.end_stroke();
                self.now.tool = tool;
                self.change("tool", f64::from(tool), false, machine);
            }
            Ask::SpeedFactor(factor) => {
                self.now.speed_factor = factor as f32;
                self.change("speed-factor", factor * 100.0, false, machine);
            }
            Ask::FlowFactor(factor) => {
                self.now.flow_factor = factor as f32;
                self.change("flow-factor", factor * 100.0, false, machine);
            }
            Ask::Macro => self.seen.macros = true,
            Ask::Mode => {}
        }
    }

    fn heat(&mut self, heater: Heater, tool: u8, value: f64, waits: bool, machine: &Machine) {
        let (what, place) = match heater {
            Heater::Nozzle => ("nozzle", &mut self.now.nozzles[usize::from(tool) % 64]),
            Heater::Bed => ("bed", &mut self.now.bed),
            Heater::Chamber => ("chamber", &mut self.now.chamber),
        };
        *place = value as f32;
        if waits {
            self.stand();
        }
        self.change(what, value, waits, machine);
    }

    fn fan(&mut self, number: usize, value: f64, machine: &Machine) {
        self.now.fans[number] = value as f32;
        // The print's own fan is the first; some machines count it as the second.
        self.seen.first_fan |= number == 0;
        let fan = self.now.fans[usize::from(!self.seen.first_fan)];
        if (fan - self.now.fan).abs() > 1e-6 {
            self.now.fan = fan;
            self.change("fan", f64::from(fan) * 100.0, false, machine);
        }
    }

    fn firmware_retract(&mut self, e: f64, speed: f64, machine: &Machine) {
        self.seen.firmware_retraction = true;
        self.end_stroke();
        self.stand();
        if e < 0.0 {
            if self.withdraw.draw(-e, speed, true, machine.line) {
                self.layer().retractions += 1;
            }
        } else {
            self.withdraw.push(e);
        }
        self.spend_seconds(e.abs() / speed);
    }

    fn pause(&mut self, what: &str, machine: &Machine) {
        self.stand();
        self.end_stroke();
        self.layer().pauses += 1;
        if self.pauses.len() < MOST {
            let layer = self.layers.len() as u32;
            let (line, z_mm) = (machine.line, machine.at[2]);
            self.pauses.push(Pause {
                line,
                layer,
                z_mm,
                what: what.to_owned(),
            });
        }
    }

    fn change(&mut self, what: &'static str, value: f64, waits: bool, machine: &Machine) {
        // What changes all the time, such as a fan at each bridge, leaves room for the heaters.
        let kept = self.changes_of.entry(what).or_default();
        if *kept == MOST {
            return;
        }
        *kept += 1;
        let layer = self.layers.len() as u32;
        let (line, z_mm) = (machine.line, machine.at[2]);
        let what = what.to_owned();
        self.changes.push(Change {
            line,
            layer,
            z_mm,
            what,
            value,
            waits,
        });
    }

    pub(super) fn setting(&mut self, name: &[u8], value: &[u8], line: u64) {
        let name = String::from_utf8_lossy(name).into_owned();
        if self.settings.len() >= MOST_SETTINGS && !self.settings.contains_key(&name) {
            return;
        }
        let value = String::from_utf8_lossy(&value[..value.len().min(LONGEST_SETTING)]);
        self.settings_lines.insert(name.clone(), line);
        self.settings.insert(name, value.into_owned());
    }

    pub(super) fn problem(&mut self, line: u64, odd: Odd) {
        self.problem_count += 1;
        if self.problems.len() < 200 {
            let what = match odd {
                Odd::NoCommand => "no command begins so; passed over".to_owned(),
                Odd::NoNumber(letter) => {
                    format!("{} has no number; passed over", char::from(letter))
                }
                Odd::TooLarge(letter) => {
                    format!(
                        "the number behind {} is beyond any machine",
                        char::from(letter)
                    )
                }
                Odd::Checksum => {
                    "the sum at the end does not fit the line; read all the same".to_owned()
                }
                Odd::Long => "longer than 64 KiB; read up to there".to_owned(),
                Odd::Arc => "an arc whose centre cannot be; read as a straight line".to_owned(),
            };
            self.problems.push(Problem { line, what });
        }
    }
}
