//! Routes of members, stations and the shift.

use crate::pages::people::{
    feeds, invited, kept, members, own as own_page, pin, sign_in, station, stations,
};
use crate::pages::{book, records, shift};
use crate::state::AppState;
use axum::Router;
use axum::routing::{get, post};

/// Members, and the way in.
pub(super) fn people() -> Router<AppState> {
    Router::new()
        .route("/sign-in", get(sign_in::form).post(sign_in::sign_in))
        .route("/sign-out", post(sign_in::sign_out))
        .route("/invited/{secret}", get(invited::form).post(invited::take))
        .route("/people", get(members::list).post(members::invite))
        .route("/people/{member}", post(members::change))
        .route("/me/sessions", post(own_page::everywhere))
        .route("/me/passphrase", post(own_page::passphrase))
        .route("/me/pin", post(pin::set))
        .route("/me/feeds", post(feeds::make))
        .route("/me/kept.json", get(kept::file))
        .route("/feeds/{secret}/mine.atom", get(shift::atom::mine))
        .route("/feeds/{secret}/floor.atom", get(shift::atom::floor))
        .route("/feeds/{secret}/waits.ics", get(shift::waits::feed))
        .route("/feeds/{secret}/due.ics", get(book::feed::feed))
        .route("/feeds/{secret}/again.ics", get(records::again::feed))
        .route("/station", get(station::form).post(station::sign_in))
        .route("/people/stations", post(stations::add))
        .route("/people/stations/{station}", post(stations::revoke))
}

/// What needs hands now.
pub(super) fn shift() -> Router<AppState> {
    Router::new()
        .route("/shift", get(shift::show::show).post(shift::begin::begin))
        .route("/shift/say", post(shift::say::say))
        .route("/shift/end", get(shift::end::form).post(shift::end::end))
        .route("/shift.atom", get(shift::atom::floor))
        .route("/waits.ics", get(shift::waits::feed))
        .route("/shift/pages", get(shift::pages::list))
        .route("/shift/pages/{shift}", get(shift::pages::show))
}
