//! The core on its own: its knowledge, its reckoning, its rules, its reports.

mod authoring;
mod bench;
mod bench_signals;
mod case_log;
mod cases;
mod claims;
mod dependencies;
mod doing;
mod export;
mod first_steps;
mod formulas;
mod gauges;
mod in_vain;
mod intake_properties;
mod knowledge;
mod own_words;
mod phrases;
mod planning;
mod procedures;
mod reasoning_properties;
mod reopening;
mod rules;
mod safety;
mod stops;
mod trade;
mod vignettes;
