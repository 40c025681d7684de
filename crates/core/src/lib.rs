//! The rules of the job, with no input or output of their own.
//!
//! Everything here takes data and returns data: no clock, no chance, no database, no interface
//! words.
//!
//! - [`knowledge`]: causes, findings, checks, fixes, cautions, materials and stops, loaded and
//!   validated
//! - [`evidence`]: what is known of one case, numbers turned into findings
//! - [`ranking`]: how likely each suspect is, and why
//! - [`planning`]: which check or fix costs least and tells most
//! - [`safety`]: stop conditions and cautions
//! - [`doing`]: a check or fix led through step by step
//! - [`dossier`]: what the links say of a suspect or a sign, for people to read
//! - [`export`]: the knowledge in open formats
//! - [`glossary`]: words of the trade found in a text
//! - [`search`]: the knowledge found by a person's own words
//! - [`trials`]: which of many differences is guilty, with the fewest prints
//! - [`series`]: a trial series as a log: its list, pieces, grades, end
//! - [`vignettes`]: the knowledge examined on vignettes
//! - [`intake`]: taking a case in: places to touch, words understood, questions worth asking, what
//!   is missing
//! - [`stuck`]: what to do when nothing helps
//! - [`preventive`]: what to look at before a print
//! - [`learning`]: what outcomes teach: proof, holding, rates, cures, lives of parts, calibration
//! - [`lessons`]: what each closed case teaches, and the open formats of learning
//! - [`similar`]: past cases that looked the same
//! - [`measures`]: the measuring bench: from readings to results with their uncertainty, and checks
//!   whose outcome is such a reading
//! - [`picture`]: how good a photo is, marks on it
//! - [`machine`]: what a machine is, as a log of its own
//! - [`kinds`]: common kinds of machines
//! - [`lock`], [`lifting`]: what locks a machine, and who may lift it
//! - [`refusal`]: why something cannot be recorded, as data
//! - [`work_id`]: a piece of work by name
//! - [`book`]: a machine's book: parts and their hours, upkeep, quirks, values found, what is due
//! - [`shelf`]: spools and spare parts, each a log of its own
//! - [`own`]: causes and fixes in the workshop's own words
//! - [`people`]: what each role may do, names, passphrases, how often somebody may guess
//! - [`text`]: texts people type
//! - [`identified`]: small closed sets and their identifiers
//! - [`case`]: a case as a log of events, its replay, the open case file and the line-up report
//!
//! A tour of one case:
//!
//! ```
//! use suspect_core::{case, knowledge::Knowledge};
//!
//! let knowledge = Knowledge::shipped();
//! let text = r#"{ "format": "usual-suspect-case/1", "machine": { "motion": "crossed-belt" },
//!     "findings": [ { "id": "layer-step", "state": "present" },
//!                   { "id": "shift-size", "state": "any-size" } ] }"#;
//! let facts = case::file::read(&knowledge, text).unwrap();
//! let report = case::report::line_up(&knowledge, &facts, case::report::Mode::Full);
//! assert_eq!(report.line_up[0].cause, "pulley-slips");
//! assert!(!report.stop);
//! ```

#![warn(missing_docs)]

pub mod book;
pub mod case;
pub mod doing;
pub mod dossier;
pub mod evidence;
pub mod exchange;
pub mod export;
pub mod gcode;
pub mod glossary;
pub mod identified;
pub mod intake;
pub mod kinds;
pub mod knowledge;
pub mod learning;
pub mod lessons;
pub mod lifting;
pub mod lock;
pub mod machine;
pub mod measures;
pub mod nearest;
pub mod own;
pub mod people;
pub mod picture;
pub mod planning;
pub mod preventive;
pub mod profile;
pub mod ranking;
pub mod refusal;
pub mod safety;
pub mod search;
pub mod series;
pub mod settings;
pub mod shelf;
pub mod shift;
pub mod similar;
pub mod statistics;
pub mod stuck;
#[cfg(feature = "testing")]
pub mod testing;
pub mod text;
pub mod trials;
pub mod vignettes;
pub mod work_id;
