//! How often somebody may guess a passphrase: slow enough for whoever tries, and no way to lock
//! somebody else out.

use time::{Duration, OffsetDateTime};

/// Failed guesses are counted over so long.
pub const WINDOW: Duration = Duration::minutes(15);
/// Failed guesses without a wait: of one name from one address, of one address for all names, of
/// one name from all addresses from which it never signed in.
pub const GUESSES: [usize; 3] = [5, 30, 40];
/// The first wait; each failure after doubles it.
const FIRST: Duration = Duration::seconds(15);
/// The longest wait.
const LONGEST: Duration = WINDOW;

/// Failed guesses of the last minutes, the latest of each kind.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub struct Attempts {
    /// Of this name from this address: how many, and when last.
    pub pair: (usize, Option<OffsetDateTime>),
    /// From this address.
    pub address: (usize, Option<OffsetDateTime>),
    /// Of this name from addresses that it never signed in from; nothing where this address is
    /// one that it did: guessing from elsewhere locks nobody out.
    pub name: (usize, Option<OffsetDateTime>),
}

/// How long nobody may guess again; nothing where they may. A clock that was turned back lets
/// nobody guess oftener: what lies ahead of now counts as now.
pub fn wait(attempts: Attempts, now: OffsetDateTime) -> Option<Duration> {
    let all = [attempts.pair, attempts.address, attempts.name];
    let left = all
        .into_iter()
        .zip(GUESSES)
        .filter_map(|((n, last), free)| {
            let over = n.checked_sub(free)?;
            let wait = FIRST * 2f64.powi(over.min(10) as i32);
            let since = (now - last?).max(Duration::ZERO);
            Some(wait.min(LONGEST) - since).filter(|left| left.is_positive())
        });
    left.max()
}
