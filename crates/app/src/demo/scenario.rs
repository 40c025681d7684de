//! The made-up workshop as its file tells it.

use serde::Deserialize;
use std::collections::BTreeMap;

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Scenario {
    pub machine: Vec<DemoMachine>,
    pub case: Vec<DemoCase>,
    #[serde(default)]
    pub spool: Vec<DemoSpool>,
    #[serde(default)]
    pub stock: Vec<DemoStock>,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
pub struct DemoMachine {
    pub name: String,
    pub model: String,
    pub profile: BTreeMap<String, String>,
    #[serde(default)]
    pub place: String,
    pub hours: DemoHours,
    /// Stand-ins by device, each with its fault.
    #[serde(default)]
    pub stand_ins: BTreeMap<String, String>,
    /// "NAME RECIPE": a file whose print came out well.
    #[serde(default)]
    pub good_file: String,
    /// "WHEN MEASURE INPUT=VALUE; INPUT=VALUE": what was measured on it.
    #[serde(default)]
    pub readings: Vec<String>,
    /// What was written into its journal, as `journal.rs` reads it.
    #[serde(default)]
    pub journal: Vec<String>,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
pub struct DemoSpool {
    pub family: String,
    pub maker: String,
    pub colour: String,
    pub net_g: f64,
    pub tare_g: Option<f64>,
    pub log: Vec<String>,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
pub struct DemoStock {
    pub name: String,
    #[serde(default)]
    pub part: String,
    #[serde(default)]
    pub fits: String,
    pub pieces: u32,
    pub reorder_at: Option<u32>,
    pub money: Option<f64>,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
pub struct DemoHours {
    /// When the year begins, and now.
    pub begun: f64,
    pub counter: f64,
    pub fitted: BTreeMap<String, f64>,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
pub struct DemoCase {
    pub machine: String,
    pub title: String,
    pub opened: String,
    pub material: String,
    pub spool: String,
    #[serde(default)]
    pub numbers: BTreeMap<String, f64>,
    #[serde(default)]
    pub told: String,
    #[serde(default)]
    pub pictures: Vec<String>,
    /// "NAME RECIPE": files that the demo makes itself.
    #[serde(default)]
    pub files: Vec<String>,
    pub facts: Vec<String>,
    #[serde(default)]
    pub tried: Vec<String>,
    pub steps: Vec<String>,
}
