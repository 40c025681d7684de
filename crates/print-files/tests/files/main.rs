//! Print files from outside and from the small slicer.

mod findings;
mod intake;
mod kit;
mod ladder;
mod made;
