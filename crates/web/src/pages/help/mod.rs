//! Help from elsewhere: the brief, links to it, what helpers suggest.

pub mod brief;
pub mod by_link;
pub mod links;
pub mod markdown;
pub mod suggestions;
