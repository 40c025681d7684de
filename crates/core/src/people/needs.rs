//! Who may do a procedure: the role it takes, and the trade of whoever does it.

use super::{Deed, Role};
use crate::knowledge::{CheckId, FixId, FixKind, Knowledge, Trade, Work};

/// What a procedure asks of whoever does it.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Needs {
    /// What it is, as far as rights go.
    pub deed: Deed,
    /// Work for somebody who knows this trade.
    pub trade: Option<Trade>,
}

impl Needs {
    /// Of something that takes no trade.
    pub const fn of(deed: Deed) -> Self {
        Self { deed, trade: None }
    }

    /// Of a check: a volunteer's, unless it takes a trade.
    pub fn check(knowledge: &Knowledge, check: CheckId) -> Self {
        let trade = knowledge.check(check).work.trade;
        let deed = match trade {
            Some(_) => Deed::Machine,
            None => Deed::Work,
        };
        Self { deed, trade }
    }

    /// Of a fix: an easy one is a volunteer's, unless it takes a trade.
    pub fn fix(knowledge: &Knowledge, fix: FixId) -> Self {
        let fix = knowledge.fix(fix);
        let deed = match (fix.kind, fix.work.trade) {
            (FixKind::Easy | FixKind::WorkAround, None) => Deed::Work,
            _ => Deed::Machine,
        };
        Self {
            deed,
            trade: fix.work.trade,
        }
    }

    /// Of what clears a stop, by its place in the knowledge.
    pub fn stop(knowledge: &Knowledge, stop: usize) -> Self {
        Self {
            deed: Deed::LiftStop,
            trade: knowledge.stops[stop].work.trade,
        }
    }

    /// Of a procedure of the knowledge.
    pub fn work(knowledge: &Knowledge, work: &Work) -> Self {
        let is = |of: &Work| std::ptr::eq(of, work);
        let check = knowledge.checks.iter().position(|c| is(&c.work));
        let fix = knowledge.fixes.iter().position(|x| is(&x.work));
        let stop = knowledge.stops.iter().position(|s| is(&s.work));
        match (check, fix, stop) {
            (Some(check), ..) => Self::check(knowledge, CheckId(check as u16)),
            (_, Some(fix), _) => Self::fix(knowledge, FixId(fix as u16)),
            (_, _, Some(stop)) => Self::stop(knowledge, stop),
            _ => Self {
                deed: Deed::Machine,
                trade: work.trade,
            },
        }
    }

    /// The first role that may.
    pub fn least(self) -> Role {
        self.deed.least()
    }

    /// Whether somebody of this role may do it. Whether they know the trade, they must say.
    pub fn met_by(self, role: Role) -> bool {
        role.may(self.deed)
    }

    /// "a volunteer", "a technician who is competent for mains wiring".
    pub fn words(self) -> String {
        let least = self.least().words();
        match self.trade {
            None => format!("a {least}"),
            Some(trade) => format!("a {least} who is competent for {}", trade.words()),
        }
    }
}
