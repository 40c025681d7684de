//! A workshop's history in open formats: a log in lines of JSON, a table with a row a case.
//!
//! The log carries everything that was recorded, word for word; the table what most programs that
//! reckon with tables can use.

mod check;
mod line;
mod table;
mod told;

pub use check::{Fault, LATEST_DAYS, MOST_ENTRIES, check};
pub use line::{CaseLine, HeadLine, LOG_FORMAT, Line, LineError, MachineLine, WorkshopLine, read};
pub use table::{COLUMNS, Row, RowFault, row};
pub use told::entries;
