//! How often machines trouble, and which of them again and again.

use super::Told;
use statrs::function::beta::beta_reg;
use statrs::function::gamma::gamma_lr;

/// Cases from which the hours between cases are told.
const PACE_FROM: i64 = 2;
/// Cases from which a machine may be called an offender.
const OFFENDS_FROM: i64 = 3;
/// All machines together are accused wrongly once in twenty looks.
const ACCUSED: f64 = 0.05;
/// Halvings of the interval a quantile is looked for in.
const HALVINGS: usize = 80;

/// Cases of a machine, and how long it ran while they came.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct Exposure {
    /// Cases opened.
    pub cases: i64,
    /// Hours printed, or days in service: one unit for all that are compared.
    pub time: f64,
}

/// Time between cases with its interval of 90 %.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Pace {
    /// Time between cases.
    pub between: f64,
    /// Its interval.
    pub low: f64,
    /// And its upper end.
    pub high: f64,
}

/// Time between the cases of a machine.
///
/// # Formula
/// T/N; the rate is Gamma(N, T)
pub fn pace(of: Exposure) -> Told<Pace> {
    Told::from(of.cases, PACE_FROM, || {
        let n = of.cases as f64;
        (of.time > 0.0).then(|| Pace {
            between: of.time / n,
            low: of.time / gamma_quantile(n, 0.95),
            high: of.time / gamma_quantile(n, 0.05),
        })
    })
}

/// The value below which a Gamma(shape, 1) lies with chance `q`; `shape` at least 1.
fn gamma_quantile(shape: f64, q: f64) -> f64 {
    let (mut low, mut high) = (0.0, 4.0 * shape + 20.0);
    for _ in 0..HALVINGS {
        let middle = f64::midpoint(low, high);
        if gamma_lr(shape, middle) < q {
            low = middle;
        } else {
            high = middle;
        }
    }
    f64::midpoint(low, high)
}

/// A machine that troubles again and again.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Offender {
    /// Its place among those compared.
    pub at: usize,
    /// Chance that as many cases came by luck.
    pub chance: f64,
}

/// Machines with more cases than luck explains, against all the others.
///
/// # Formula
/// P(N or more) < 0.05/machines; negative binomial of size N' + ½, p = T'/(T' + T)
pub fn offenders(machines: &[Exposure]) -> Vec<Offender> {
    let all = machines
        .iter()
        .fold(Exposure::default(), |sum, m| Exposure {
            cases: sum.cases + m.cases,
            time: sum.time + m.time,
        });
    let worst = ACCUSED / machines.len().max(1) as f64;
    let judged = machines.iter().enumerate().filter_map(|(at, m)| {
        let others = Exposure {
            cases: all.cases - m.cases,
            time: all.time - m.time,
        };
        if m.cases < OFFENDS_FROM || others.time <= 0.0 || m.time <= 0.0 {
            return None;
        }
        let share = m.time / (m.time + others.time);
        let chance = beta_reg(m.cases as f64, others.cases as f64 + 0.5, share);
        (chance < worst).then_some(Offender { at, chance })
    });
    judged.collect()
}
