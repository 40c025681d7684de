//! The workshop's own figures: what strikes, what holds, what it costs, and how far the advice was
//! right.

mod advice;
mod asked;
mod care;
mod cost;
mod fixes;
mod lives;
mod machines;
mod minutes;
mod section;
pub mod show;
mod strikes;
