//! How much filament is asked for at once, over time.

use super::{least, nearest};

/// Width of a bin, mm of filament a second.
const BIN: f64 = 0.02;

/// Bins: up to 60 mm/s of filament.
const BINS: usize = 3000;

/// Time by rate: each bin holds the seconds and what was fed in them.
#[derive(Debug)]
pub(super) struct Flow {
    bins: Box<[[f64; 2]; BINS]>,
}

impl Default for Flow {
    fn default() -> Self {
        Flow {
            bins: Box::new([[0.0; 2]; BINS]),
        }
    }
}

impl Flow {
    /// So much filament in so many seconds.
    #[inline]
    pub fn add(&mut self, filament: f64, seconds: f64, rate: f64) {
        let bin = nearest(least(rate * (1.0 / BIN), BINS as f64 - 1.0)) as usize % BINS;
        let bin = &mut self.bins[bin];
        bin[0] += seconds;
        bin[1] += filament;
    }

    /// The rate that `share` of the time stays under, mm of filament a second.
    pub fn quantile(&self, share: f64) -> f64 {
        let all: f64 = self.bins.iter().map(|[seconds, _]| seconds).sum();
        let mut sum = 0.0;
        for [seconds, filament] in self.bins.iter() {
            sum += seconds;
            if *seconds > 0.0 && sum >= share * all {
                return filament / seconds;
            }
        }
        0.0
    }
}

#[cfg(test)]
mod tests {
    #[test]
    fn a_quantile_is_by_time_and_exact_where_the_rate_is_one() {
        let mut flow = super::Flow::default();
        assert_eq!(flow.quantile(0.95), 0.0);
        flow.add(30.03, 10.0, 3.003);
        assert!((flow.quantile(0.95) - 3.003).abs() < 1e-12);
        flow.add(5.0, 1.0, 5.0);
        assert!((flow.quantile(0.95) - 5.0).abs() < 1e-12);
        assert!((flow.quantile(0.5) - 3.003).abs() < 1e-12);
    }
}
