//! When somebody who signed in has to do so again.

use time::{Duration, OffsetDateTime};

/// A session that rested so long is over.
pub const IDLE: Duration = Duration::days(14);
/// No session lasts longer.
pub const ABSOLUTE: Duration = Duration::days(90);
/// It is noted that a session is used once so often: not with every page.
const NOTED: Duration = Duration::hours(6);

/// Whether a session that began then and was last used then is over. One that begins in the future
/// is, too: the clock was turned back, and nobody knows for how long it would last.
pub fn ended(began: OffsetDateTime, used: OffsetDateTime, now: OffsetDateTime) -> bool {
    let ahead = began > now + Duration::days(1) || used > now + Duration::days(1);
    ahead || now - used > IDLE || now - began > ABSOLUTE
}

/// Whether its use is to be noted again.
pub fn renewed(used: OffsetDateTime, now: OffsetDateTime) -> bool {
    now - used > NOTED
}
