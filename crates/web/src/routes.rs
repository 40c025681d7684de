//! Every route.

mod people;
mod practice;

use crate::Hosts;
use crate::pages::bench::{
    hear, keep, live as trace_live, measure, photo, sheet, shelf, take, trace,
};
use crate::pages::case::{
    build, clear, join, move_case, note, picture, plan, retract, same_spool, shortly, show, why,
};
use crate::pages::doing::{check, fix, other, progress, proof, stop, struck, stuck, tag};
use crate::pages::figures::show as figures;
use crate::pages::files::{
    add as print_files, against, from_spool, ladder, layer, lost, remove, show as print_file,
    take_over,
};
use crate::pages::floor::{
    before, devices, learning as machine_learning, machine_edit, machine_stop, me, overview,
    workshop,
};
use crate::pages::handbook::{
    cautions, checks, fixes, glossary, materials, measures, schools, search, signs, suspects,
};
use crate::pages::help::{account, brief_page, by_link, links, sheet as case_sheet, suggestions};
use crate::pages::intake::{
    self, answer, carry, found, height, hours, list, new_case, opening, record_numbers, tell,
    tried, upload,
};
use crate::pages::people::own as own_page;
use crate::pages::records::{self, again, close, held, learning, own, reopen};
use crate::pages::shelf::{spool, spools, stock, stock_thing};
use crate::pages::trials::{
    begin, differences, finish, ladder as reading_a_ladder, list as series_list, make, piece,
    show as series, tray,
};
use crate::pages::{book, live, patterns, pieces};
use crate::state::AppState;
use crate::{assets, error_page, protection};
use axum::Router;
use axum::extract::DefaultBodyLimit;
use axum::routing::{get, post};

/// All pages behind their protection.
pub fn router(state: AppState, hosts: Hosts) -> Router {
    let pages = Router::new()
        .merge(floor())
        .merge(a_case())
        .merge(taking_in())
        .merge(doing())
        .merge(help())
        .merge(bench())
        .merge(files())
        .merge(trials())
        .merge(pieces())
        .merge(people::people())
        .merge(people::shift())
        .merge(practice::practice())
        .merge(the_records())
        .merge(handbook())
        .merge(for_whoever_changes_the_look(state.patterns))
        .fallback(error_page::no_such_page)
        .method_not_allowed_fallback(error_page::wrong_method)
        .with_state(state.clone());
    let uploads = Router::new()
        .route("/bench/tone", get(hear::show).post(hear::heard))
        .route(
            "/bench/temperature-trace",
            get(trace::show).post(trace::judged),
        )
        .route("/cases", post(opening::open))
        .route("/cases/{id}/pictures", post(upload::add))
        .layer(DefaultBodyLimit::max(upload::LARGEST_UPLOAD))
        .merge(file_uploads())
        .merge(records_uploads())
        .merge(photos_of_pieces())
        .method_not_allowed_fallback(error_page::wrong_method)
        .with_state(state.clone());
    let endless = Router::new()
        .route("/records/cases.csv", get(records::exchange::table))
        .route("/records/log.jsonl", get(records::exchange::log))
        .route("/records/backup.zip", get(records::exchange::backup))
        .route("/records/exchange/take", post(records::exchange::take))
        .route("/live", get(live::stream))
        .route("/machines/{id}/trace", get(trace_live::stream))
        .method_not_allowed_fallback(error_page::wrong_method)
        .with_state(state.clone());
    protection::guard(&state, hosts, pages, uploads, endless, assets::routes())
}

/// Every component on one page, when asked for.
fn for_whoever_changes_the_look(asked: bool) -> Router<AppState> {
    match asked {
        false => Router::new(),
        true => Router::new()
            .route("/patterns", get(patterns::show))
            .route("/patterns/themes.css", get(patterns::themes)),
    }
}

fn floor() -> Router<AppState> {
    Router::new()
        .route("/", get(overview::show))
        .route("/machines/new", get(machine_edit::form))
        // A page that came back with an error is reloaded by its address.
        .route(
            "/machines",
            get(machine_edit::again_by_address).post(machine_edit::add),
        )
        .merge(books())
        .route(
            "/machines/{id}/edit",
            get(machine_edit::edit).post(machine_edit::change),
        )
        .route("/machines/{id}/learning", post(machine_learning::set))
        .route("/machines/{id}/stop/{stop}", get(machine_stop::show))
        .route("/machines/{id}/stop/{stop}/tag", get(machine_stop::tag))
        .route(
            "/machines/{id}/devices",
            get(devices::show).post(devices::change),
        )
        .route(
            "/machines/{id}/before",
            get(before::show).post(before::keep),
        )
        .route("/workshop", get(workshop::show).post(workshop::set))
        .route("/me", get(own_page::show).post(me::set))
        .route("/me/nobody", post(me::nobody))
}

/// The books of the machines, spools and spare parts.
fn books() -> Router<AppState> {
    Router::new()
        .route("/machines/{id}", get(book::show::show))
        .route("/machines/{id}/service", post(book::service::service))
        .route("/machines/{id}/journal", post(book::write::write))
        .route("/machines/{id}/kept", post(book::write::kept))
        .route(
            "/machines/{id}/commission",
            get(book::commission::show).post(book::commission::answer),
        )
        .route("/machines/{id}/retire", get(book::retire::show))
        .route("/machines/{id}/label", get(book::label::show))
        .route("/machines/{id}/parts/{part}/label", get(book::label::part))
        .route("/round", get(book::round::show))
        .route("/round.ics", get(book::feed::feed))
        .route("/kinds", get(book::kinds::list).post(book::own_kind::add))
        .route("/kinds/{kind}/describe", get(book::describe::show))
        .route(
            "/kinds/{kind}",
            get(book::kinds::show).post(book::own_kind::change),
        )
        .route("/spools", get(spools::list).post(spools::add))
        .route("/spools/{spool}", get(spool::show).post(spool::write))
        .route("/spools/{spool}/label", get(spool::print))
        .route("/stock", get(stock::list).post(stock::add))
        .route("/stock.csv", get(stock::table))
        .route(
            "/stock/{thing}",
            get(stock_thing::show).post(stock_thing::write),
        )
        .route("/stock/{thing}/label", get(stock_thing::print))
}

fn a_case() -> Router<AppState> {
    Router::new()
        .route("/cases/{id}", get(show::show))
        .route("/cases/{id}/live", get(live::last_entry))
        .route("/cases/{id}/plan", get(plan::show))
        .route("/cases/{id}/why/{suspect}", get(why::show))
        .route("/cases/{id}/move", get(move_case::form).post(move_case::to))
        .route("/cases/{id}/join", get(join::form).post(join::join))
        .route("/cases/{id}/build", post(build::take_over))
        .route("/cases/{id}/shortly", post(shortly::take_over))
        .route("/cases/{id}/follows-spool", post(same_spool::follows))
        .route("/cases/{id}/note", post(note::keep))
        .route("/cases/{id}/retract", post(retract::retract))
        .route("/cases/{id}/clear", post(clear::clear))
        .route("/cases/{id}/pictures/{picture}", get(picture::show))
        .route("/cases/{id}/pictures/{picture}/marks", post(picture::mark))
        .route("/cases/{id}/pictures/{picture}/{size}", get(picture::bytes))
}

fn taking_in() -> Router<AppState> {
    Router::new()
        .route("/cases/new", get(new_case::form))
        .route("/cases/{id}/intake", get(intake::show::show))
        .route("/cases/{id}/facts", get(list::form).post(list::record))
        .route("/cases/{id}/observe", post(answer::observe))
        .route("/cases/{id}/pass", post(answer::pass))
        .route("/cases/{id}/rest", post(answer::rest))
        .route("/cases/{id}/tell", post(tell::tell))
        .route("/cases/{id}/height", post(height::height))
        .route("/cases/{id}/numbers", post(record_numbers::record))
        .route("/cases/{id}/carry", post(carry::carry))
        .route("/cases/{id}/values", post(found::take))
        .route("/cases/{id}/same", post(carry::same))
        .route("/cases/{id}/tried", post(tried::tried))
        .route("/cases/{id}/hours", post(hours::hours))
        .route("/cases/{id}/fitted", post(hours::fitted))
}

fn doing() -> Router<AppState> {
    Router::new()
        .route(
            "/cases/{id}/check/{check}",
            get(check::show).post(check::record),
        )
        .route("/cases/{id}/fix/{fix}", get(fix::show).post(fix::record))
        .route("/cases/{id}/other", get(other::show).post(other::record))
        .route("/cases/{id}/verify", get(proof::show).post(proof::record))
        .route("/cases/{id}/struck", post(struck::record))
        .route("/cases/{id}/beside", post(proof::beside))
        .route("/cases/{id}/stop/{stop}", get(stop::show).post(stop::clear))
        .route("/cases/{id}/stop/{stop}/tag", get(tag::show))
        .route("/cases/{id}/stuck", get(stuck::show))
        .route("/cases/{id}/timer", post(progress::timer))
        .route("/cases/{id}/parts", post(progress::parts))
        .route("/cases/{id}/aside", post(progress::put_off))
        .route("/cases/{id}/take-up", post(progress::take_up))
        .route("/cases/{id}/put-back", post(progress::put_back))
        .route("/cases/{id}/leave", post(progress::leave))
}

fn help() -> Router<AppState> {
    Router::new()
        .route("/cases/{id}/brief", get(brief_page::show))
        .route("/cases/{id}/brief.md", get(brief_page::file))
        .route("/cases/{id}/sheet", get(case_sheet::show))
        .route("/cases/{id}/sheet.md", get(case_sheet::file))
        .route("/cases/{id}/account", get(account::show))
        .route("/cases/{id}/account.md", get(account::file))
        .route("/cases/{id}/links", post(links::make))
        .route("/cases/{id}/links/revoke", post(links::revoke))
        .route("/cases/{id}/weigh", post(suggestions::weigh))
        .route("/help/{token}", get(by_link::show))
        .route("/help/{token}/suggest", post(by_link::suggest))
        .route(
            "/help/{token}/pictures/{picture}/{size}",
            get(by_link::picture),
        )
}

fn bench() -> Router<AppState> {
    Router::new()
        .route("/bench", get(shelf::show))
        .route("/bench/{measure}", get(measure::show))
        .route("/bench/{measure}/sheet", get(sheet::show))
        .route("/bench/{measure}/take/{input}", get(take::take))
        .route("/cases/{id}/pictures/{picture}/measure", get(photo::show))
        .route("/cases/{id}/bench/{measure}", post(keep::in_case))
        .route("/machines/{id}/bench/{measure}", post(keep::with_machine))
}

/// Print files are larger than anything else that comes in.
fn file_uploads() -> Router<AppState> {
    Router::new()
        .route(
            "/cases/{id}/files",
            get(print_files::form).post(print_files::add),
        )
        .route(
            "/machines/{id}/files",
            get(print_files::form_for_machine).post(print_files::add_to_machine),
        )
        .layer(DefaultBodyLimit::max(print_files::LARGEST_UPLOAD))
}

/// Photos of the pieces of a series.
fn photos_of_pieces() -> Router<AppState> {
    Router::new()
        .route("/trials/{series}/photo", post(piece::photo))
        .route("/trials/{series}/pieces/{piece}/photo", post(piece::photo))
        .layer(DefaultBodyLimit::max(piece::LARGEST_UPLOAD))
}

fn pieces() -> Router<AppState> {
    Router::new()
        .route("/pieces", get(pieces::list::show))
        .route(
            "/pieces/{piece}",
            get(pieces::show::show).post(pieces::read::record),
        )
        .route("/pieces/{piece}/{file}", get(pieces::files::file))
}

fn trials() -> Router<AppState> {
    Router::new()
        .route("/trials", get(series_list::show).post(begin::begin))
        .route("/trials/new", get(begin::form))
        .route("/trials/ladder", get(reading_a_ladder::show))
        .route("/trials/{series}", get(series::show))
        .route(
            "/trials/{series}/differences",
            get(differences::form).post(differences::set),
        )
        .route("/trials/{series}/choose", get(make::choose))
        .route("/trials/{series}/pieces", post(make::make))
        .route(
            "/trials/{series}/pieces/{piece}",
            get(piece::show).post(piece::look),
        )
        .route("/trials/{series}/pieces/{piece}/label", get(piece::label))
        .route("/trials/{series}/pictures/{picture}", get(piece::picture))
        .route(
            "/trials/{series}/pictures/{picture}/small",
            get(piece::small),
        )
        .route("/trials/{series}/tray", get(tray::show))
        .route("/trials/{series}/aim", post(series::aim_at))
        .route("/trials/{series}/retract", post(tray::retract))
        .route(
            "/trials/{series}/finish",
            get(finish::form).post(finish::end),
        )
        .route("/trials/{series}/report.md", get(finish::markdown))
}

/// A whole history may come in.
fn records_uploads() -> Router<AppState> {
    Router::new()
        .route(
            "/records/exchange",
            get(records::exchange::form).post(records::exchange::look),
        )
        .layer(DefaultBodyLimit::max(records::exchange::LARGEST_UPLOAD))
}

fn files() -> Router<AppState> {
    Router::new()
        .route("/files/{file}", get(print_file::show))
        .route("/files/{file}/series", get(layer::series))
        .route("/files/{file}/layers/{layer}", get(layer::data))
        .route("/files/{file}/layers/{layer}/drawing", get(layer::drawing))
        .route("/files/{file}/against/{other}", get(against::show))
        .route("/files/{file}/against/{other}/data", get(against::data))
        .route("/files/{file}/ladder", get(ladder::show))
        .route("/files/{file}/ladder/file", get(ladder::file))
        .route("/files/{file}/ladder/label", get(ladder::label))
        .route("/files/{file}/remove", post(remove::remove))
        .route("/files/{file}/from/{spool}", post(from_spool::printed))
        .route("/cases/{id}/files/{file}/take", post(take_over::take))
        .route("/cases/{id}/lost", get(lost::form).post(lost::record))
}

fn the_records() -> Router<AppState> {
    Router::new()
        .route("/records", get(records::list::show))
        .route("/statistics", get(figures::show))
        .route("/again", get(again::show))
        .route("/again.ics", get(again::feed))
        .route("/cases/{id}/held", post(held::record))
        .route("/cases/{id}/learning", post(learning::record))
        .route("/records/own", get(own::show).post(own::link))
        .route("/cases/{id}/close", get(close::form).post(close::close))
        .route("/cases/{id}/reopen", post(reopen::reopen))
}

fn handbook() -> Router<AppState> {
    Router::new()
        .route("/suspects", get(suspects::list))
        .route("/suspects/{suspect}", get(suspects::show))
        .route("/handbook", get(search::show))
        .route("/handbook/signs", get(signs::list))
        .route("/handbook/signs/{sign}", get(signs::show))
        .route("/handbook/checks", get(checks::list))
        .route("/handbook/checks/{check}", get(checks::show))
        .route("/handbook/fixes", get(fixes::list))
        .route("/handbook/fixes/{fix}", get(fixes::show))
        .route("/handbook/cautions", get(cautions::show))
        .route("/handbook/materials", get(materials::show))
        .route("/handbook/schools", get(schools::show))
        .route("/handbook/measures", get(measures::list))
        .route("/handbook/measures/{measure}", get(measures::show))
        .route("/handbook/words", get(glossary::show))
}
