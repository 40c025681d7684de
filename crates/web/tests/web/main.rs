//! Pages as people and browsers get them, over a real PostgreSQL.

mod beginning;
mod bench;
mod bench_browser;
mod bench_files;
mod bounds;
mod brief;
mod browser;
mod devices;
mod doing;
mod doing_browser;
mod handbook;
mod intake;
mod intake_browser;
mod kit;
mod locked;
mod pages;
mod pictures;
mod print_files;
mod print_files_browser;
mod refusals;
mod something_else;
mod story;
mod stream_browser;
mod touches;
mod touches_browser;
mod workshop;
