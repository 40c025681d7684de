//! Parts of pages that several of them show.

pub mod asking;
pub mod begin;
pub mod calendar;
pub mod case_line;
pub mod files;
pub mod history;
pub mod label;
pub mod line_up;
pub mod link;
pub mod loss;
pub mod pictures;
pub mod print_map;
pub mod proving;
pub mod reading;
pub mod schools;
pub mod series;
pub mod struck_form;
pub mod tag;
pub mod taking;
pub mod timers;
pub mod whom;
pub mod work;
