//! Every route.

use crate::Hosts;
use crate::pages::handbook::{checks, fixes, search, signs, words};
use crate::pages::{
    before, brief, case, check, close, course, doing, facts, fix, floor, help, intake, machine,
    machine_edit, machine_stop, me, move_case, new_case, pictures, records, stop, stuck, suspect,
    tag, workshop,
};
use crate::state::AppState;
use crate::{assets, live, page_error, protection};
use axum::Router;
use axum::extract::DefaultBodyLimit;
use axum::routing::{get, post};

/// All pages behind their protection.
pub fn router(state: AppState, hosts: Hosts) -> Router {
    let uploads = Router::new()
        .route("/cases/{id}/pictures", post(pictures::add))
        .layer(DefaultBodyLimit::max(pictures::LARGEST_UPLOAD))
        .method_not_allowed_fallback(page_error::wrong_method)
        .with_state(state.clone());
    let pages = Router::new()
        .route("/", get(floor::show))
        .route("/machines/new", get(machine_edit::form))
        .route("/machines", post(machine_edit::add))
        .route("/machines/{id}", get(machine::show))
        .route(
            "/machines/{id}/edit",
            get(machine_edit::edit).post(machine_edit::change),
        )
        .route("/machines/{id}/service", post(machine::service))
        .route("/machines/{id}/stop/{stop}", get(machine_stop::show))
        .route("/machines/{id}/stop/{stop}/tag", get(machine_stop::tag))
        .route("/me", post(me::set))
        .route("/me/nobody", post(me::nobody))
        .route("/machines/{id}/before", get(before::show))
        .route("/workshop", get(workshop::show).post(workshop::set))
        .route("/cases/new", get(new_case::form))
        .route("/cases", post(new_case::open))
        .route("/cases/{id}", get(case::show))
        .route("/cases/{id}/live", get(live::last_entry))
        .route("/cases/{id}/move", get(move_case::form).post(move_case::to))
        .route("/cases/{id}/build", post(move_case::take_over_build))
        .route("/cases/{id}/intake", get(intake::show))
        .route("/cases/{id}/observe", post(intake::observe))
        .route("/cases/{id}/pass", post(intake::pass))
        .route("/cases/{id}/rest", post(intake::rest))
        .route("/cases/{id}/tell", post(intake::tell))
        .route("/cases/{id}/height", post(intake::height))
        .route("/cases/{id}/numbers", post(intake::record_numbers))
        .route("/cases/{id}/carry", post(intake::carry))
        .route("/cases/{id}/same", post(intake::same))
        .route("/cases/{id}/tried", post(intake::tried))
        .route("/cases/{id}/hours", post(intake::hours))
        .route("/cases/{id}/fitted", post(intake::fitted))
        .route("/cases/{id}/pictures/{picture}", get(pictures::show))
        .route("/cases/{id}/pictures/{picture}/marks", post(pictures::mark))
        .route(
            "/cases/{id}/pictures/{picture}/{size}",
            get(pictures::bytes),
        )
        .route("/cases/{id}/brief", get(brief::show))
        .route("/cases/{id}/brief.md", get(brief::file))
        .route("/cases/{id}/links", post(brief::make_link))
        .route("/cases/{id}/links/revoke", post(brief::revoke_link))
        .route("/cases/{id}/weigh", post(help::weigh))
        .route("/help/{token}", get(help::show))
        .route("/help/{token}/suggest", post(help::suggest))
        .route(
            "/help/{token}/pictures/{picture}/{size}",
            get(help::picture),
        )
        .route("/cases/{id}/facts", get(facts::form).post(facts::record))
        .route("/cases/{id}/note", post(facts::note))
        .route("/cases/{id}/retract", post(facts::retract))
        .route("/cases/{id}/clear", post(facts::clear_part))
        .route(
            "/cases/{id}/check/{check}",
            get(check::show).post(check::record),
        )
        .route("/cases/{id}/fix/{fix}", get(fix::show).post(fix::record))
        .route("/cases/{id}/plan", get(course::show))
        .route("/cases/{id}/stuck", get(stuck::show))
        .route("/cases/{id}/timer", post(doing::timer))
        .route("/cases/{id}/parts", post(doing::parts))
        .route("/cases/{id}/aside", post(doing::aside))
        .route("/cases/{id}/take-up", post(doing::take_up))
        .route("/cases/{id}/put-back", post(doing::put_back))
        .route("/cases/{id}/leave", post(doing::leave))
        .route("/cases/{id}/verify", get(fix::verify).post(fix::printed))
        .route("/cases/{id}/stop/{stop}", get(stop::show).post(stop::clear))
        .route("/cases/{id}/stop/{stop}/tag", get(tag::show))
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
        .with_state(state.clone());
    let endless = Router::new()
        .route("/live", get(live::stream))
        .method_not_allowed_fallback(page_error::wrong_method)
        .with_state(state.clone());
    protection::guard(&state, hosts, pages, uploads, endless, assets::routes())
}
