//! One table per file. Entities never leave this crate.

pub mod case_entry;
pub mod case_summary;
pub mod help_link;
pub mod invitation;
pub mod lesson;
pub mod machine;
pub mod machine_book;
pub mod machine_entry;
pub mod member;
pub mod picture;
pub mod print_file;
pub mod print_file_piece;
pub mod series;
pub mod series_entry;
pub mod series_picture;
pub mod session;
pub mod setup;
pub mod shelf;
pub mod shelf_entry;
pub mod station;
pub mod touch;
pub mod workshop_entry;
