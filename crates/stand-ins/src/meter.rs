//! A power meter at the plug of a heated chamber: the heater goes on and off.

use crate::{Device, Fault, Said, broken};
use rand::SeedableRng;
use rand_distr::{Distribution, Normal};
use rand_pcg::Pcg64Mcg;

/// Watts without the heater, watts of a sound heater, and of one that takes too much.
const IDLE: f64 = 118.0;
const SOUND: f64 = 290.0;
const OVERLOAD: f64 = 395.0;
/// The heater is on for so long, then off for as long, in seconds.
const HALF_CYCLE: f64 = 20.0;

/// A simulated power meter.
pub struct Meter {
    fault: Fault,
    chance: Pcg64Mcg,
    time: f64,
}

impl Meter {
    /// With a fault, and a seed for what comes by chance.
    pub fn new(fault: Fault, seed: u64) -> Self {
        Self {
            fault,
            chance: Pcg64Mcg::seed_from_u64(seed),
            time: 0.0,
        }
    }
}

impl Device for Meter {
    fn pass(&mut self, seconds: f64) {
        self.time += seconds;
    }

    fn answer(&mut self, line: &str) -> Said {
        if let Some(said) = broken(self.fault) {
            return said;
        }
        if line.trim() != "READ?" {
            return Said::Lines(vec!["ERR".into()]);
        }
        let on = (self.time / HALF_CYCLE).floor() % 2.0 == 0.0;
        let heater = match (on, self.fault) {
            (false, _) => 0.0,
            (true, Fault::Overload) => OVERLOAD,
            (true, _) => SOUND,
        };
        let noise = Normal::new(0.0, 1.5).map_or(0.0, |n| n.sample(&mut self.chance));
        Said::Lines(vec![format!("{:.1} W", IDLE + heater + noise)])
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_heater_goes_on_and_off() {
        let mut meter = Meter::new(Fault::Overload, 3);
        let mut watts = || {
            let Said::Lines(said) = meter.answer("READ?") else {
                panic!("it answers")
            };
            meter.pass(HALF_CYCLE);
            said[0].trim_end_matches(" W").parse::<f64>().unwrap()
        };
        let (on, off) = (watts(), watts());
        assert!((on - off - OVERLOAD).abs() < 10.0, "{on} {off}");
    }
}
