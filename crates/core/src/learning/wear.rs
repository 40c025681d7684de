//! How long parts live: a Weibull of shape 2 with a Gamma on its rate.

use super::MOST_FACTOR;
use libm::tgamma;
use statrs::function::gamma::ln_gamma;
use std::f64::consts::SQRT_2;

/// Lives that the usual life is worth.
const USUAL_LIVES: f64 = 2.0;
/// A part of another kind of machine counts so much.
const ELSEWHERE: f64 = 0.5;
/// Chance that the stock lasts.
const LASTS: f64 = 0.975;
/// No stock is larger.
const MOST_STOCK: u32 = 10_000;

/// What is known of how long a part lives.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Life {
    /// Lives, the usual one counted for two.
    pub a: f64,
    /// Sum of squared hours.
    pub b: f64,
}

impl Life {
    /// From the usual (median) life in hours, lives that ended worn, and parts that run or were
    /// replaced early: on this kind of machine, and elsewhere in the shop, which counts half.
    pub fn of(usual: f64, here: (&[f64], &[f64]), elsewhere: (&[f64], &[f64])) -> Self {
        let squares = |(ended, running): (&[f64], &[f64])| -> f64 {
            ended.iter().chain(running).map(|t| t * t).sum()
        };
        let lives = here.0.len() as f64 + ELSEWHERE * elsewhere.0.len() as f64;
        Life {
            a: USUAL_LIVES + lives,
            b: usual * usual / (SQRT_2 - 1.0) + squares(here) + ELSEWHERE * squares(elsewhere),
        }
    }

    /// Chance that it is worn after so many hours.
    ///
    /// # Formula
    /// 1 − (B/(B + t²))^α
    pub fn worn(&self, hours: f64) -> f64 {
        1.0 - (self.b / (self.b + hours * hours)).powf(self.a)
    }

    /// What its hours multiply the weight of the cause it brings by; 1 where they are not known.
    ///
    /// # Formula
    /// 2αt/(B + t²)·√B·Γ(1.5)Γ(α − ½)/Γ(α), held from t = √B on, within ¼..4
    pub fn factor(&self, hours: Option<f64>) -> f64 {
        let Some(hours) = hours else { return 1.0 };
        let (a, b) = (self.a, self.b);
        let hours = hours.min(b.sqrt());
        let mean = b.sqrt() * tgamma(1.5) * (ln_gamma(a - 0.5) - ln_gamma(a)).exp();
        (2.0 * a * hours / (b + hours * hours) * mean).clamp(1.0 / MOST_FACTOR, MOST_FACTOR)
    }

    /// Hours on the part at which it is worn with chance `q`, given that it is sound at `hours`.
    ///
    /// # Formula
    /// √((B + t²)(1 − q)^(−1/α) − B)
    pub fn due(&self, hours: f64, q: f64) -> f64 {
        ((self.b + hours * hours) * (1.0 - q).powf(-1.0 / self.a) - self.b).sqrt()
    }

    /// The least stock that lasts so many weeks with 97.5 %: machines with the hours on the part
    /// and the hours they print a week. One rate for all, so they wear together.
    pub fn reorder_at(&self, machines: &[(f64, f64)], weeks: f64) -> u32 {
        let more = |(hours, rate): &(f64, f64)| (hours + rate * weeks).powi(2) - hours * hours;
        let x: f64 = machines.iter().map(more).sum();
        let mut p = (self.b / (self.b + x)).powf(self.a);
        let (mut total, mut stock) = (p, 0);
        while total < LASTS && stock < MOST_STOCK {
            let d = f64::from(stock);
            p *= (self.a + d) / (d + 1.0) * x / (self.b + x);
            stock += 1;
            total += p;
        }
        stock
    }
}
