//! The made-up workshop as its file tells it.

use serde::Deserialize;
use std::collections::BTreeMap;

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Scenario {
    pub machine: Vec<DemoMachine>,
    pub case: Vec<DemoCase>,
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
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
pub struct DemoHours {
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
