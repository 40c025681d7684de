//! Every route.

use crate::pages::handbook::{checks, fixes, search, signs, words};
use crate::pages::{case, check, close, facts, fix, floor, intake, machine, records, stop, suspect};
use crate::state::AppState;
use crate::{assets, page_error, protection};
use axum::Router;
use axum::routing::{get, post};

/// All pages behind their protection.
pub fn router(state: AppState) -> Router {
    let pages = Router::new()
        .route("/", get(floor::show))
        .route("/machines/new", get(machine::form))
        .route("/machines", post(machine::add))
        .route("/cases/new", get(intake::form).post(intake::show_again))
        .route("/cases/preview", post(intake::preview))
        .route("/cases", post(intake::open))
        .route("/cases/{id}", get(case::show))
        .route("/cases/{id}/facts", get(facts::form).post(facts::record))
        .route("/cases/{id}/note", post(facts::note))
        .route("/cases/{id}/retract", post(facts::retract))
        .route("/cases/{id}/clear", post(facts::clear_part))
        .route("/cases/{id}/check/{check}", get(check::show).post(check::record))
        .route("/cases/{id}/fix/{fix}", get(fix::show).post(fix::record))
        .route("/cases/{id}/verify", get(fix::verify).post(fix::printed))
        .route("/cases/{id}/stop/{stop}", get(stop::show).post(stop::clear))
        .route("/cases/{id}/close", get(close::form).post(close::close))
        .route("/cases/{id}/reopen", post(close::reopen))
        .route("/records", get(records::show))
        .route("/suspects", get(suspect::list))
        .route("/suspects/{cause}", get(suspect::show))
        .route("/handbook", get(search::show))
        .route("/handbook/signs", get(signs::list))
        .route("/handbook/signs/{sign}", get(signs::show))
        .route("/handbook/checks", get(checks::list))
        .route("/handbook/checks/{check}", get(checks::show))
        .route("/handbook/fixes", get(fixes::list))
        .route("/handbook/fixes/{fix}", get(fixes::show))
        .route("/handbook/cautions", get(words::cautions))
        .route("/handbook/materials", get(words::materials))
        .route("/handbook/words", get(words::glossary))
        .fallback(page_error::no_such_page)
        .method_not_allowed_fallback(page_error::wrong_method)
        .with_state(state);
    protection::guard(pages).merge(assets::routes())
}
