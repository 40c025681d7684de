//! The house itself under test: the direction of its rooms, the size of its parts, and whether its
//! documents say what is true.

mod documents;
mod licences;
mod rooms;
mod sizes;
mod source;
mod templates;
