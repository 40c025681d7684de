//! Drawings of what a print file does: figures by height, and one layer.

pub mod by_height;
pub mod layer;
