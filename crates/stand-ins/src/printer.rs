//! A printer's console: heats towards what is set, wanders, jumps, probes a tilted or bowed bed.

use crate::{Device, Fault, Said, broken};
use rand::SeedableRng;
use rand_distr::{Distribution, Normal};
use rand_pcg::Pcg64Mcg;
use std::f64::consts::TAU;

/// Room temperature in °C, and what the stand-in is set to from the beginning.
const ROOM: f64 = 22.0;
const SET: (f64, f64) = (210.0, 60.0);
/// Time constants of hot end, bed and probe, in seconds.
const SLOW: (f64, f64, f64) = (25.0, 120.0, 600.0);
/// Height of the bed over the switch's point, in millimetres.
const HEIGHT: f64 = 1.2;
/// Settings it keeps.
const SETTINGS: [&str; 5] = [
    "echo:; Steps per unit:",
    "echo: M92 X80.00 Y80.00 Z400.00 E93.00",
    "echo: M203 X200.00 Y200.00 Z12.00 E60.00",
    "echo: M201 X1500.00 Y1500.00 Z100.00 E5000.00",
    "echo: M301 P22.20 I1.08 D114.00",
];

/// A simulated printer. It is warm from the beginning, as if it had been printing.
pub struct Printer {
    fault: Fault,
    chance: Pcg64Mcg,
    time: f64,
    hot_end: f64,
    bed: f64,
    /// How far the probe has warmed, 0 to 1.
    warm: f64,
    /// A slow walk, in °C.
    walk: f64,
    /// Until when a jump lasts.
    jump: f64,
}

impl Printer {
    /// With a fault, and a seed for what comes by chance.
    pub fn new(fault: Fault, seed: u64) -> Self {
        let (hot_end, bed) = match fault {
            Fault::Heats => (ROOM, ROOM),
            _ => SET,
        };
        Self {
            fault,
            chance: Pcg64Mcg::seed_from_u64(seed),
            time: 0.0,
            hot_end,
            bed,
            warm: 0.0,
            walk: 0.0,
            jump: -1.0,
        }
    }

    /// What hot end and bed are set to.
    fn set(&self) -> (f64, f64) {
        match self.fault {
            Fault::Cools => (0.0, 0.0),
            _ => SET,
        }
    }

    fn noise(&mut self, sd: f64) -> f64 {
        Normal::new(0.0, sd).map_or(0.0, |n| n.sample(&mut self.chance))
    }

    fn temperatures(&mut self) -> String {
        let swing = match self.fault {
            Fault::Hunts => 4.5 * (TAU * self.time / 40.0).sin(),
            _ => 0.0,
        };
        let jump = match self.fault {
            Fault::Jumps if self.time < self.jump => -38.0,
            _ => 0.0,
        };
        let hot = self.hot_end + swing + self.walk + jump + self.noise(0.15);
        let bed = self.bed + self.noise(0.05);
        {
            let (hot_set, bed_set) = self.set();
            format!("ok T:{hot:.2} /{hot_set:.2} B:{bed:.2} /{bed_set:.2} @:64 B@:22")
        }
    }

    /// Height of the bed at a place, in millimetres.
    fn height(&mut self, x: f64, y: f64) -> f64 {
        let shape = match self.fault {
            Fault::Tilted => 0.3 * (x - 110.0) / 220.0 - 0.2 * (y - 110.0) / 220.0,
            Fault::Bowed => -0.25 * (((x - 110.0) / 110.0).powi(2) - 0.5),
            _ => 0.0,
        };
        let drift = match self.fault {
            Fault::DriftsWarm => 0.12 * self.warm,
            _ => 0.0,
        };
        let scatter = match self.fault {
            Fault::Scatters => 0.04,
            _ => 0.002,
        };
        HEIGHT + shape + drift + self.noise(scatter)
    }

    /// The mesh it keeps: nine places with their heights over the middle one.
    fn mesh(&mut self) -> Vec<String> {
        let middle = self.height(110.0, 110.0);
        let mut lines = Vec::new();
        for y in [10.0, 110.0, 210.0] {
            for x in [10.0, 110.0, 210.0] {
                let z = self.height(x, y) - middle;
                lines.push(format!("mesh X:{x:.1} Y:{y:.1} Z:{z:.3}"));
            }
        }
        lines.push("ok".into());
        lines
    }

    fn repeat(&mut self, line: &str) -> Vec<String> {
        let many = line
            .split_whitespace()
            .find_map(|w| w.strip_prefix('P')?.parse::<u32>().ok());
        let many = many.unwrap_or(10).clamp(1, 50);
        let heights: Vec<f64> = (0..many)
            .map(|_| {
                self.pass(2.0);
                self.height(110.0, 110.0)
            })
            .collect();
        let mut lines: Vec<String> = (1..)
            .zip(&heights)
            .map(|(n, z)| format!("{n} of {many}: z: {z:.3}"))
            .collect();
        lines.push("ok".into());
        lines
    }
}

impl Device for Printer {
    fn pass(&mut self, seconds: f64) {
        self.time += seconds;
        let towards = |is: f64, to: f64, slow: f64| to + (is - to) * (-seconds / slow).exp();
        let (hot_end, bed) = self.set();
        self.hot_end = towards(self.hot_end, hot_end.max(ROOM), SLOW.0);
        self.bed = towards(self.bed, bed.max(ROOM), SLOW.1);
        self.warm = towards(self.warm, 1.0, SLOW.2);
        if self.fault == Fault::Wanders {
            let step = self.noise(0.25 * seconds.sqrt());
            self.walk = (self.walk + step) * (-seconds / 90.0).exp();
        }
        // About once in forty seconds a wire loses touch for one.
        let loose = self.fault == Fault::Jumps && self.noise(1.0).abs() > 2.24;
        if loose && self.time > self.jump {
            self.jump = self.time + 1.0;
        }
    }

    fn answer(&mut self, line: &str) -> Said {
        if let Some(said) = broken(self.fault) {
            return said;
        }
        let lines = |all: &[&str]| Said::Lines(all.iter().map(|l| (*l).to_string()).collect());
        match line.split_whitespace().next().unwrap_or("") {
            "M105" => Said::Lines(vec![self.temperatures()]),
            "M119" => lines(&[
                "Reporting end switches",
                "x_min: open",
                "y_min: open",
                "z_min: TRIGGERED",
                "ok",
            ]),
            "M114" => lines(&[
                "X:110.00 Y:110.00 Z:5.00 E:0.00 Count X:8800 Y:8800 Z:2000",
                "ok",
            ]),
            "M503" => {
                let all = SETTINGS.iter().copied().chain(["ok"]);
                Said::Lines(all.map(str::to_string).collect())
            }
            "M420" => Said::Lines(self.mesh()),
            "M48" => Said::Lines(self.repeat(line)),
            // It stands in for asking alone: what would heat, move or set does nothing here.
            _ => lines(&["echo:Unknown command", "ok"]),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn trace(fault: Fault) -> Vec<f64> {
        let mut printer = Printer::new(fault, 7);
        let mut read = || {
            printer.pass(1.0);
            let Said::Lines(lines) = printer.answer("M105") else {
                panic!("it answers")
            };
            let hot = lines[0].split(':').nth(1).unwrap();
            hot.split(' ').next().unwrap().parse::<f64>().unwrap()
        };
        (0..600).map(|_| read()).collect()
    }

    fn span(all: &[f64]) -> f64 {
        let high = all.iter().copied().fold(f64::MIN, f64::max);
        high - all.iter().copied().fold(f64::MAX, f64::min)
    }

    #[test]
    fn each_fault_shows_and_a_sound_one_is_steady() {
        assert!(span(&trace(Fault::None)) < 2.0);
        assert!((8.0..14.0).contains(&span(&trace(Fault::Hunts))));
        assert!(span(&trace(Fault::Jumps)) > 30.0);
        assert!(span(&trace(Fault::Wanders)) > 3.0);
    }

    #[test]
    fn the_same_seed_does_the_same() {
        assert_eq!(trace(Fault::Jumps), trace(Fault::Jumps));
    }

    #[test]
    fn it_heats_from_cold_and_never_by_being_told() {
        let mut printer = Printer::new(Fault::Heats, 1);
        let Said::Lines(cold) = printer.answer("M105") else {
            panic!("it answers")
        };
        assert!(cold[0].starts_with("ok T:2"), "{cold:?}");
        let Said::Lines(told) = printer.answer("M104 S250") else {
            panic!("it answers")
        };
        assert!(told[0].contains("Unknown"));
        printer.pass(200.0);
        let Said::Lines(hot) = printer.answer("M105") else {
            panic!("it answers")
        };
        assert!(
            hot[0].contains("T:209") || hot[0].contains("T:210"),
            "{hot:?}"
        );
    }
}
