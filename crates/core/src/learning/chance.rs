//! Beta distributions: quantiles, and shares with their interval.

use statrs::function::beta::beta_reg;

/// Halvings of the interval a quantile is looked for in: beyond what a double tells apart.
const HALVINGS: usize = 60;

/// The value below which a Beta(a, b) lies with chance `q`; `a` and `b` above 0.
pub fn beta_quantile(a: f64, b: f64, q: f64) -> f64 {
    let (mut low, mut high) = (0.0, 1.0);
    for _ in 0..HALVINGS {
        let middle = f64::midpoint(low, high);
        if beta_reg(a, b, middle) < q {
            low = middle;
        } else {
            high = middle;
        }
    }
    f64::midpoint(low, high)
}

/// A share with its interval of 90 %.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Share {
    /// The share itself, 0 to 1.
    pub share: f64,
    /// It lies above this with 95 %.
    pub low: f64,
    /// It lies below this with 95 %.
    pub high: f64,
}

/// `right` of `n` as a share, with the interval of Jeffreys. None of nothing.
pub fn share(right: f64, n: f64) -> Option<Share> {
    if n <= 0.0 || right < 0.0 || right > n {
        return None;
    }
    let at = |q| beta_quantile(right + 0.5, n - right + 0.5, q);
    Some(Share {
        share: right / n,
        low: if right > 0.0 { at(0.05) } else { 0.0 },
        high: if right < n { at(0.95) } else { 1.0 },
    })
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn quantiles_of_simple_distributions_are_exact() {
        // Beta(1, 1) is even; Beta(2, 1) has the distribution x².
        assert!((beta_quantile(1.0, 1.0, 0.3) - 0.3).abs() < 1e-12);
        assert!((beta_quantile(2.0, 1.0, 0.25) - 0.5).abs() < 1e-12);
    }

    #[test]
    fn nothing_has_no_share_and_none_of_ten_begins_at_nought() {
        assert_eq!(share(0.0, 0.0), None);
        let none = share(0.0, 10.0).unwrap();
        assert_eq!((none.share, none.low), (0.0, 0.0));
        assert!((0.1..0.3).contains(&none.high));
    }
}
