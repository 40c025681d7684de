//! The pages of Usual Suspect: routes, view models, templates and drawings. No rule of the job is
//! decided here.
//!
//! What lives where:
//!
//! - `routes`: every address and its handler
//! - `protection`, `hosts`: who may ask, how much, how long
//! - `pages`: a file per thing a person can do, in folders by what they do; `open_case` and
//!   `record` are what its handlers share, `parts` what its pages share
//! - `words`: sentences for what the core says as data; `show`: numbers and moments as text
//! - `drawing`: line-up, maps, signs, pictograms
//! - `form`: fields as sent, the identity of a touch; `screen`: who is at it, in which zone
//! - `live`, `told`: what changed elsewhere, what was read from people's words
//! - `state`: what all requests share; `serve`: taking connections and ending
//! - `people`: who signed in, what each address takes, the guard before every page
//! - `page_error`, `error_page`: what may go wrong, and the page that says so
//! - `assets`: styles, scripts and fonts; `urls`: addresses
#![warn(missing_docs)]

mod assets;
mod drawing;
mod error_page;
mod expecting;
mod form;
mod hosts;
mod live;
mod page_error;
mod pages;
mod people;
mod protection;
mod routes;
mod screen;
mod serve;
mod show;
mod state;
mod told;
mod urls;
mod waiting;
mod wire;
mod words;

pub use hosts::Hosts;
pub use people::secret::{fresh as fresh_secret, hashed_now as hashed};
pub use routes::router;
pub use serve::serve;
pub use state::AppState;
pub use wire::{Wire, WireError};
