//! Test pieces as solids: nine shapes of a waterfront, each made to show some faults and not
//! others.
//!
//! A piece is a stack of parts ([`Part`]): regions of the plate plane between two heights, added or
//! cut in order, and lofts from one outline to another. [`mesh`] makes a closed surface of it;
//! [`stl`] and [`three_mf`] write it. Everything is reckoned in whole micrometres, so that the same
//! settings give the same bytes.
//!
//! `region` holds outlines, `stack` parts and levels, `mesh` the surface, `strokes` raised and sunk
//! signs, `settings` what a piece is made for, `shapes` the nine, `sheets` how they are
//! read, `write` the formats, `views` what a drawing shows.

#![warn(missing_docs)]

mod mesh;
mod region;
mod settings;
mod shapes;
pub mod sheets;
mod stack;
mod strokes;
mod views;
mod write;

pub use mesh::{Mesh, mesh};
pub use region::{Point, Region};
pub use settings::{Settings, SettingsProblem};
pub use shapes::{NoPiece, PIECES, Piece, piece};
pub use stack::{Part, Refused, Solid};
pub use views::{Shape, Side, Spot, Views};
pub use write::{stl, three_mf};
