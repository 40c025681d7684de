//! How many clean prints prove that a fault is gone.
//!
//! A *strike* is a print that showed the fault; a *clean print* one in which it could have struck
//! and did not. An unmended fault strikes a share p of prints; p is a Beta of what was counted.
//! *Silence* S(m) is the chance that an unmended fault stays away for m prints.

use crate::knowledge::{UNTOUCHED, tried_touched};
use statrs::function::beta::ln_beta;

/// Silence that proves: an unmended fault stays away so long at most this often.
pub const SILENCE: f64 = 0.05;
/// And with the fix's own chance counted, it is still there at most this often.
const STILL_THERE: f64 = 0.10;
/// Chances of fixes are taken to lie within.
const CURES: (f64, f64) = (0.05, 0.95);
/// Above so many clean prints, prints alone cannot prove it in a workshop's life.
pub const MOST_PRINTS: u32 = 20;
/// "Every print", or so many in a row: the share is taken to be near one.
const ALWAYS: u32 = 5;
/// The Beta for "every print".
const EVERY: Share = Share { a: 19.0, b: 1.0 };
/// Prints are not counted beyond: a fault that struck once in a thousand.
const LAST: u32 = 100_000;

/// How often a fault struck, as people tell it.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Strikes {
    /// Prints that showed it.
    pub k: u32,
    /// Prints in which it could have, counted from the first that did.
    pub n: u32,
    /// Clean prints of the same kind before the first strike, where the log knows them.
    pub clean_before: Option<u32>,
    /// It shows in every print.
    pub every: bool,
}

impl Default for Strikes {
    /// Once so far, or not told.
    fn default() -> Self {
        Strikes {
            k: 1,
            n: 1,
            clean_before: None,
            every: false,
        }
    }
}

/// The share of prints an unmended fault strikes in, as a Beta distribution.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Share {
    /// First parameter.
    pub a: f64,
    /// Second parameter.
    pub b: f64,
}

impl Strikes {
    /// The share it strikes in. The first strike opened the case and is no sample of the share,
    /// unless clean prints before it are known.
    ///
    /// # Formula
    /// Beta(k, n − k + 1); with c clean prints before, Beta(1 + k, 1 + c + n − k); Beta(19, 1) for
    /// every print, or five of five and more
    pub fn share(&self) -> Share {
        if self.every || (self.k == self.n && self.n >= ALWAYS) {
            return EVERY;
        }
        let (k, missed) = (f64::from(self.k), f64::from(self.n - self.k.min(self.n)));
        match self.clean_before {
            None => Share {
                a: k,
                b: missed + 1.0,
            },
            Some(clean) => Share {
                a: 1.0 + k,
                b: 1.0 + f64::from(clean) + missed,
            },
        }
    }
}

impl Share {
    /// S(m): the fault, still there, stays silent for m prints.
    ///
    /// # Formula
    /// Π over i < m of (b + i)/(a + b + i)
    pub fn silent(&self, prints: u32) -> f64 {
        (0..prints.min(LAST))
            .map(f64::from)
            .fold(1.0, |s, i| s * (self.b + i) / (self.a + self.b + i))
    }

    /// Clean prints needed to prove a fix that was given the chance `cures`.
    pub fn prints_needed(&self, cures: f64) -> u32 {
        let enough = most_silence(cures) + 1e-12;
        let (mut prints, mut silent) = (0, 1.0);
        while silent > enough && prints < LAST {
            let i = f64::from(prints);
            silent *= (self.b + i) / (self.a + self.b + i);
            prints += 1;
        }
        prints
    }

    /// Silence over prints that count in part.
    ///
    /// # Formula
    /// Σ over m of P(M = m)·S(m), M the number that were whole proofs (Poisson-binomial)
    pub fn silent_over(&self, shares: &[f64]) -> f64 {
        let mut many = vec![1.0];
        for share in shares {
            let mut next = vec![0.0; many.len() + 1];
            for (m, p) in many.iter().enumerate() {
                next[m] += p * (1.0 - share);
                next[m + 1] += p * share;
            }
            many = next;
        }
        (0u32..).zip(many).map(|(m, p)| p * self.silent(m)).sum()
    }

    /// Chance that the fault strikes less often than before, after `k` strikes in `n` prints since.
    pub fn struck_less(&self, k: u32, n: u32) -> f64 {
        let (c, d) = (1.0 + f64::from(k), 1.0 + f64::from(n - k.min(n)));
        let before = self.a as u32;
        let term = |i: u32| {
            let i = f64::from(i);
            let log = ln_beta(c + i, self.b + d) - ln_beta(1.0 + i, self.b) - ln_beta(c, d);
            log.exp() / (self.b + i)
        };
        (0..before).map(term).sum::<f64>().clamp(0.0, 1.0)
    }
}

/// Silence that will do for a fix given the chance `cures`: 5 %, and the fault still there with at
/// most 10 %.
///
/// # Formula
/// min(0.05, χ/(9(1 − χ)))
pub fn most_silence(cures: f64) -> f64 {
    let cures = cures.clamp(CURES.0, CURES.1);
    let odds = STILL_THERE / (1.0 - STILL_THERE);
    SILENCE.min(odds * cures / (1.0 - cures))
}

/// Chance that the fault is still there after a silence.
///
/// # Formula
/// (1 − χ)S/(χ + (1 − χ)S)
pub fn still_there(silent: f64, cures: f64) -> f64 {
    let cures = cures.clamp(CURES.0, CURES.1);
    (1.0 - cures) * silent / (cures + (1.0 - cures) * silent)
}

/// How much of a whole proof a print is that ran `hours`, for a fault that showed `seen` times, the
/// latest after `latest` hours of a print.
///
/// # Formula
/// clamp((t/h − ½)/(r − ½), 0, 1), r = 2 if seen once, 1½ if oftener
pub fn exposure(hours: f64, latest: f64, seen: u32) -> f64 {
    if latest <= 0.0 {
        return 1.0;
    }
    ((hours / latest - 0.5) / (whole(seen) - 0.5)).clamp(0.0, 1.0)
}

/// Times the latest strike's hours that a whole proof print runs.
pub fn whole(seen: u32) -> f64 {
    if seen < 2 { 2.0 } else { 1.5 }
}

/// Silence by hours, for a fault that strikes at any moment: `strikes` in `hours` of printing, then
/// silent for `since` more.
///
/// # Formula
/// (E/(E + t))^k
pub fn silent_hours(strikes: u32, hours: f64, since: f64) -> f64 {
    (hours / (hours + since)).powf(f64::from(strikes))
}

/// Hours of clean printing needed until silence is no likelier than `silent`, for a fault that
/// strikes at any moment.
///
/// # Formula
/// E·(S^(−1/k) − 1)
pub fn hours_needed(strikes: u32, hours: f64, silent: f64) -> f64 {
    hours * (silent.min(1.0).powf(-1.0 / f64::from(strikes.max(1))) - 1.0)
}

/// Evidence of clean prints after a fix: how well it agrees with cured, better, same, worse.
pub type Weights = [f64; 4];

/// Of `prints` clean prints.
///
/// # Formula
/// (1, S, S, S)
pub fn clean_prints(share: Share, prints: u32) -> Weights {
    let silent = share.silent(prints);
    [1.0, silent, silent, silent]
}

/// Of `prints` clean prints and then the fault again: `day` days from the fix to the last clean
/// print, `since` more to the return, and the rate at which cures come undone, a day.
///
/// # Formula
/// (e^(−θD)(1 − e^(−θd)), S(m) − S(m + 1), …)
pub fn came_back(share: Share, prints: u32, (day, since): (f64, f64), rate: f64) -> Weights {
    let struck = share.silent(prints) - share.silent(prints + 1);
    let undone = (-rate * day).exp() * -(-rate * since).exp_m1();
    [undone, struck, struck, struck]
}

/// Decibans of what came of a fix with chance `k` for a hypothesis, against one it does not touch.
pub fn decibans(weights: Weights, k: f64) -> f64 {
    let weigh = |table: &[f64]| -> f64 { weights.iter().zip(table).map(|(w, p)| w * p).sum() };
    10.0 * (weigh(&tried_touched(k)) / weigh(&UNTOUCHED)).log10()
}
