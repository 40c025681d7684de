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

/// At a shared station somebody is there until they rested so long: then it is nobody's again.
pub const REST: Duration = Duration::minutes(5);
/// Nobody stays longer at one.
const STATION_ABSOLUTE: Duration = Duration::hours(12);
/// It is noted so often that they are still there.
const STATION_NOTED: Duration = Duration::seconds(20);

/// The same at a shared station.
pub fn ended_at_station(began: OffsetDateTime, used: OffsetDateTime, now: OffsetDateTime) -> bool {
    ended(began, used, now) || now - used > REST || now - began > STATION_ABSOLUTE
}

/// The same at a shared station.
pub fn renewed_at_station(used: OffsetDateTime, now: OffsetDateTime) -> bool {
    now - used > STATION_NOTED
}
