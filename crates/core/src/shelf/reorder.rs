//! What to order: machines of one kind that worked alike wear out together.

use super::Stock;
use crate::book::{Beside, Lives};
use crate::knowledge::MachineKind;
use crate::knowledge::parts::{Part, part};
use crate::text::look;

/// Weeks from ordering to the next chance to order: delivery and one more.
pub const WEEKS: f64 = 3.0;

/// A thing in stock against what the machines will need.
#[derive(Debug, Clone, PartialEq)]
pub struct Shopping {
    /// Order once so few are left.
    pub at: u32,
    /// It follows from the wear of the machines, and nobody said it.
    pub by_wear: bool,
    /// Machines that need it sooner or later.
    pub machines: usize,
    /// Order so many now; 0 while there are enough.
    pub order: u32,
}

/// What to order of a thing: the mark somebody set, else the least stock that lasts three weeks
/// with 97.5 %, from the hours on the parts of all machines it fits.
pub fn shopping(stock: &Stock, machines: &[Beside<'_>], kinds: &[MachineKind]) -> Shopping {
    let of = part(&stock.part);
    let fitting = machines.iter().filter(|m| {
        let there = of.is_some_and(|part| m.part(part.id).is_some());
        there && stock.suits(m.kind)
    });
    let fitting: Vec<&Beside<'_>> = fitting.collect();
    let worn = of.and_then(|part| by_wear(part, stock, machines, &fitting, kinds));
    let (at, by_wear) = match (stock.reorder_at, worn) {
        (Some(said), _) => (said, false),
        (None, Some(worn)) => (worn, true),
        (None, None) => (0, false),
    };
    Shopping {
        at,
        by_wear,
        machines: fitting.len(),
        // One more than the mark, so that it does not ring again at the next use.
        order: if stock.pieces <= at && at > 0 {
            at + 1 - stock.pieces.min(at)
        } else {
            0
        },
    }
}

fn by_wear(
    part: &Part,
    stock: &Stock,
    machines: &[Beside<'_>],
    fitting: &[&Beside<'_>],
    kinds: &[MachineKind],
) -> Option<u32> {
    let makers = kinds.iter().find(|k| look(&k.name) == look(&stock.fits));
    let makers = makers.and_then(|k| k.lives.get(part.id).copied());
    let usual = makers.or(part.usual.map(|(hours, _)| hours))?;
    let mut lives = Lives::default();
    for machine in machines {
        lives.add(machine.book, part.id, stock.suits(machine.kind), None);
    }
    let run = |m: &&Beside<'_>| {
        let hours = m.part(part.id)?.hours?;
        Some((hours, m.book.hours_a_week()?.max(0.0)))
    };
    let run: Vec<(f64, f64)> = fitting.iter().filter_map(run).collect();
    if run.is_empty() {
        return None;
    }
    Some(lives.life(usual).reorder_at(&run, WEEKS))
}
