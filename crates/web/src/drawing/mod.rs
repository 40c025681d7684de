//! Drawings made in Rust: coloured by classes and attributes, so that dark theme and print work
//! under a strict policy.

pub mod band;
pub mod behaviour;
pub mod bench;
pub mod chart;
pub mod figures;
pub mod finding;
pub mod hand;
pub mod instrument;
pub mod ladder;
pub mod line_up;
pub mod machine_map;
pub mod marks;
pub mod pictogram;
pub mod piece;
pub mod print_file;
pub mod print_map;
pub mod series;
pub mod share_bar;
pub mod sign;
pub mod spot;
pub mod timetable;

/// A label made safe for an attribute.
fn escape(label: &str) -> String {
    askama::filters::escape(label, askama::filters::Html)
        .map(|l| l.to_string())
        .unwrap_or_default()
}
