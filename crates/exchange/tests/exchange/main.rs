//! Records out and in on a real PostgreSQL.

mod archive;
mod kit;
mod lines;
mod rows;
