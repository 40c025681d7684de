//! Calipers that type their value as if their button were pressed every second.

use crate::{Device, Fault, Said, broken};
use rand::SeedableRng;
use rand_distr::{Distribution, Normal};
use rand_pcg::Pcg64Mcg;

/// What lies between the jaws, in millimetres, and how it scatters.
const THICK: f64 = 0.48;
const SCATTER: f64 = 0.008;
/// Every so many values one loses its decimal point.
const SLIPS_EVERY: u32 = 4;
const INCH: f64 = 25.4;

/// Simulated calipers.
pub struct Calipers {
    fault: Fault,
    chance: Pcg64Mcg,
    many: u32,
}

impl Calipers {
    /// With a fault, and a seed for what comes by chance.
    pub fn new(fault: Fault, seed: u64) -> Self {
        Self {
            fault,
            chance: Pcg64Mcg::seed_from_u64(seed),
            many: 0,
        }
    }

    fn value(&mut self) -> Said {
        self.many += 1;
        let noise = Normal::new(0.0, SCATTER).map_or(0.0, |n| n.sample(&mut self.chance));
        let mm = THICK + noise;
        Said::Lines(vec![match self.fault {
            Fault::Inches => format!("{:.4} in", mm / INCH),
            Fault::Slips if self.many.is_multiple_of(SLIPS_EVERY) => {
                format!("{:.0} mm", mm * 100.0)
            }
            _ => format!("{mm:.2} mm"),
        }])
    }
}

impl Device for Calipers {
    fn pass(&mut self, _seconds: f64) {}

    fn answer(&mut self, _line: &str) -> Said {
        Said::Nothing
    }

    fn by_itself(&mut self) -> Option<(f64, Said)> {
        let said = broken(self.fault).unwrap_or_else(|| self.value());
        Some((1.0, said))
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn values_come_in_millimetres_in_inches_or_with_a_slip() {
        let of = |fault| {
            let mut calipers = Calipers::new(fault, 5);
            let all = (0..8).map(move |_| match calipers.by_itself() {
                Some((_, Said::Lines(lines))) => lines[0].clone(),
                other => panic!("{other:?}"),
            });
            all.collect::<Vec<_>>()
        };
        assert!(
            of(Fault::None)
                .iter()
                .all(|v| v.starts_with("0.4") && v.ends_with("mm"))
        );
        assert!(
            of(Fault::Inches)
                .iter()
                .all(|v| v.starts_with("0.01") && v.ends_with("in"))
        );
        assert_eq!(
            of(Fault::Slips).iter().filter(|v| !v.contains('.')).count(),
            2
        );
    }
}
