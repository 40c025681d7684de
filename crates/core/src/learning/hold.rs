//! How long fixes hold: an exponential in two pieces, as bad repairs return early.

use super::beta_quantile;

/// Days of the early piece.
pub const EARLY_DAYS: f64 = 14.0;
/// Days a fix is watched; what returns later is a new trouble.
pub const WATCHED_DAYS: f64 = 90.0;
/// Days after the last clean print at which a closed case asks.
pub const ASKED_DAYS: [i64; 2] = [21, 90];
/// An ask is put off by so many days until the machine printed enough.
pub const PUT_OFF_DAYS: i64 = 14;
/// Hours of printing before an ask makes sense.
pub const ENOUGH_HOURS: f64 = 10.0;
/// Days after which nobody is asked any more.
pub const DROPPED_DAYS: i64 = 180;
/// What a fix's own cases are worth against the shop's, in returns.
const OWN: f64 = 0.8;

/// Returns and days watched in one piece, as the Gamma of its rate.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Piece {
    /// Returns.
    pub returns: f64,
    /// Days.
    pub days: f64,
}

/// What is known of holding: before and after day 14.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Holding(pub [Piece; 2]);

/// How one closed case held.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Watched {
    /// Day of the last yes, or of the return.
    pub day: f64,
    /// It came back.
    pub returned: bool,
}

/// A chance of holding with its interval of 90 %.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Holds {
    /// The chance, 0 to 1.
    pub chance: f64,
    /// Above this with 95 %.
    pub low: f64,
    /// Below this with 95 %.
    pub high: f64,
}

impl Default for Holding {
    /// The book: 85 % hold 90 days, worth about ten cases.
    fn default() -> Self {
        Holding([
            Piece {
                returns: 0.8,
                days: 134.0,
            },
            Piece {
                returns: 0.8,
                days: 730.0,
            },
        ])
    }
}

impl Holding {
    /// With closed cases added.
    #[must_use]
    pub fn and(mut self, cases: impl IntoIterator<Item = Watched>) -> Self {
        let Holding([early, late]) = &mut self;
        for Watched { day, returned } in cases {
            let day = day.max(0.0);
            early.days += day.min(EARLY_DAYS);
            late.days += (day.min(WATCHED_DAYS) - EARLY_DAYS).max(0.0);
            if returned && day <= WATCHED_DAYS {
                let piece = if day <= EARLY_DAYS {
                    &mut *early
                } else {
                    &mut *late
                };
                piece.returns += 1.0;
            }
        }
        self
    }

    /// With sums already made: returns and days watched, early and late.
    #[must_use]
    pub fn plus(mut self, sums: [(f64, f64); 2]) -> Self {
        for (piece, (returns, days)) in self.0.iter_mut().zip(sums) {
            piece.returns += returns;
            piece.days += days;
        }
        self
    }

    /// Where a fix for a cause begins: the shop's rates, worth 0.8 returns.
    #[must_use]
    pub fn of_a_fix(self) -> Self {
        Holding(self.0.map(|piece| Piece {
            returns: OWN,
            days: OWN * piece.days / piece.returns,
        }))
    }

    /// Returns a day at so many days after the last clean print.
    pub fn rate(&self, day: f64) -> f64 {
        let piece = self.0[usize::from(day > EARLY_DAYS)];
        piece.returns / piece.days
    }

    /// Chance that a fix holds so many days.
    ///
    /// # Formula
    /// (β₁/(β₁ + t₁))^α₁·(β₂/(β₂ + t₂))^α₂; interval of the Beta with that mean and second moment
    pub fn holds(&self, days: f64) -> Holds {
        let spans = [days.min(EARLY_DAYS), (days - EARLY_DAYS).max(0.0)];
        let moment = |times: f64| -> f64 {
            let pieces = self.0.iter().zip(spans);
            pieces
                .map(|(p, t)| (p.days / (p.days + times * t)).powf(p.returns))
                .product()
        };
        let (mean, second) = (moment(1.0), moment(2.0));
        let strength = mean * (1.0 - mean) / (second - mean * mean) - 1.0;
        if !strength.is_finite() || strength <= 0.0 {
            return Holds {
                chance: mean,
                low: mean,
                high: mean,
            };
        }
        let at = |q| beta_quantile(mean * strength, (1.0 - mean) * strength, q);
        Holds {
            chance: mean,
            low: at(0.05),
            high: at(0.95),
        }
    }
}
