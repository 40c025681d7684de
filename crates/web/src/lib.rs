//! The pages of Usual Suspect: routes, view models, templates and drawings. No rule of the job is
//! decided here.
#![warn(missing_docs)]

mod assets;
mod drawing;
mod error_page;
mod form;
mod hosts;
mod live;
mod page_error;
mod pages;
mod protection;
mod routes;
mod screen;
mod serve;
mod show;
mod state;
mod told;
mod urls;
mod words;

pub use hosts::Hosts;
pub use routes::router;
pub use serve::serve;
pub use state::AppState;
