//! Taking a case in: words, print map, machine map, questions worth asking, numbers, pictures.
//! Every touch is an entry of the case.
//!
//! Each part is drawn by a file of its own (`words`, `print`, `machine`, `questions`, `numbers`,
//! `pictures`), `aside` stands beside all of them and `show` puts the page together. The other
//! files are what can be recorded on it.

pub mod answer;
mod aside;
mod carried;
pub mod carry;
pub mod found;
pub mod height;
pub mod hours;
pub mod list;
mod machine;
pub mod new_case;
mod numbers;
pub mod opening;
mod picker;
mod picker_events;
mod pictures;
mod print;
mod proposals;
mod questions;
pub mod record_numbers;
mod scene;
pub mod show;
mod sign;
pub mod tell;
pub mod tried;
mod twins;
pub mod upload;
mod words;
