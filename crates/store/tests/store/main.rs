//! The store on a real PostgreSQL.

mod books;
mod earlier;
mod intake;
mod kit;
mod lessons;
mod machines;
mod people;
mod practice;
mod print_files;
mod records;
mod series;
mod starting;
mod stops;
mod story;
mod touches;
