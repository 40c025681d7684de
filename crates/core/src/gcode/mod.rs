//! Print files: what they ask of the machine, in figures.
//!
//! [`Reader`] goes through a file once, whatever its size, and hands out a [`Reading`]: layers with
//! their times, flows, speeds and temperatures, the mesh, retractions, settings. From a reading
//! come the [`report`], what the file says of a case ([`evidence`]), what jumps at a height
//! ([`jumps`]), what differs from another file ([`differences`]), and the paths of one layer
//! ([`trace`]). [`ladder`] turns an ordinary file into a test piece of bands.
//!
//! A file is a stream of lines. `lines` cuts it, `words` takes a line apart (`plain_move` most of
//! them, before they are cut), `machine` keeps the machine's state and tells a `sink` what happens.
//! `figures` is the sink that sums it up; a `block` is one that writes it down for `figures`.

mod block;
mod comments;
pub mod differences;
pub mod evidence;
mod figures;
pub mod jumps;
mod kept;
pub mod ladder;
mod layer;
mod line_type;
mod lines;
mod machine;
mod number;
mod numbers;
mod plain_move;
mod reader;
mod reading;
pub mod report;
mod report_words;
pub mod seam;
mod series;
mod sink;
mod spent;
pub mod trace;
mod words;

pub use figures::Limits;
pub use kept::VERSION;
pub use layer::{Extent, Held, Layer};
pub use line_type::{LINE_TYPES, LineType};
pub use lines::LONGEST_LINE;
pub use numbers::of as numbers;
pub use reader::{Reader, read};
pub use reading::{Change, Mesh, Pause, Problem, Reading, Retraction, SHORT_LAYER, USUAL_DIAMETER};
pub use series::Figure;
pub use spent::{Spent, spent};
