//! Help from elsewhere: the brief, links to it, what helpers suggest.

mod brief;
pub mod brief_page;
pub mod by_link;
pub mod links;
pub mod markdown;
pub mod suggestions;
