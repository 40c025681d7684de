//! Readings of the counter of hours, and what follows from them.

use super::Book;
use serde::{Deserialize, Serialize};
use time::{Duration, OffsetDateTime};

/// Readings kept to tell how many hours a week a machine prints.
const READINGS_KEPT: Duration = Duration::weeks(12);
/// Hours a week are reckoned over so long.
const RATE_OVER: Duration = Duration::weeks(8);
/// A reading of the counter.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct CounterRead {
    /// When.
    #[serde(with = "time::serde::rfc3339")]
    pub at: OffsetDateTime,
    /// Hours it showed.
    pub shown: f64,
    /// Hours since the machine was new: readings before a new counter are carried on.
    pub total: f64,
}

impl Book {
    /// Hours since the machine was new, as read last.
    pub fn total(&self) -> Option<f64> {
        self.readings.last().map(|r| r.total)
    }

    /// Hours in all on an earlier day, between the readings around it; those of the first reading
    /// for days before.
    pub fn total_on(&self, at: OffsetDateTime) -> Option<f64> {
        let after = self.readings.iter().position(|r| r.at >= at);
        match after {
            Some(0) => self.readings.first().map(|r| r.total),
            Some(there) if self.readings[there].at == at => Some(self.readings[there].total),
            Some(next) => {
                let (from, to) = (&self.readings[next - 1], &self.readings[next]);
                let share = (at - from.at) / (to.at - from.at);
                let total = from.total + share * (to.total - from.total);
                // No counter is read finer.
                Some((total * 10.0).round() / 10.0)
            }
            None => self.total(),
        }
    }

    /// Hours a week, of the last eight weeks that were read; none while it was read only once.
    pub fn hours_a_week(&self) -> Option<f64> {
        let last = self.readings.last()?;
        let from = last.at - RATE_OVER;
        let early = |r: &&CounterRead| r.at <= from;
        let first = self.readings.iter().rev().find(early);
        let first = first.or_else(|| self.readings.first())?;
        let weeks = (last.at - first.at) / Duration::WEEK;
        (weeks >= 0.5).then(|| (last.total - first.total) / weeks)
    }

    pub(super) fn read(&mut self, at: OffsetDateTime, shown: f64, restarted: bool) {
        if restarted {
            self.carried = self.total().unwrap_or(0.0);
        }
        let total = self.carried + shown;
        self.first_read = self.first_read.or(Some(total));
        self.readings.push(CounterRead { at, shown, total });
        // One reading from before the span is kept: the rate is reckoned from it.
        let old = |r: &CounterRead| r.at < at - READINGS_KEPT;
        let olds = self.readings.iter().take_while(|r| old(r)).count();
        self.readings.drain(..olds.saturating_sub(1));
    }
}
