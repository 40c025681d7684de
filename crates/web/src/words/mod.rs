//! What the core says in data, in words: entries, outcomes, reasons, refusals. The same everywhere.

pub mod entry;
pub mod error;
pub mod evidence;
pub mod formula;
pub mod glossary;
pub mod journal;
pub mod learned;
pub mod machine;
pub mod machine_entry;
pub mod measure;
pub mod next;
pub mod outcome;
pub mod practice;
pub mod print_file;
pub mod proving;
pub mod reading;
pub mod refusal;
pub mod region;
pub mod trial;
pub mod work;

/// The title of a case; one without words of its own goes by its machine.
pub fn title(title: &str, machine: &str) -> String {
    match title {
        "" => format!("Trouble on {machine}"),
        title => title.to_string(),
    }
}
