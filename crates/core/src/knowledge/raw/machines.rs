//! Upkeep, bringing into service and kinds of machines, as the files have them.

use serde::Deserialize;
use std::collections::BTreeMap;

#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct UpkeepTask {
    pub name: String,
    pub text: String,
    pub minutes: f64,
    pub region: String,
    #[serde(default)]
    pub every: Interval,
    pub part: Option<String>,
    #[serde(default)]
    pub marks: Vec<String>,
    #[serde(default)]
    pub needs: Vec<String>,
    #[serde(default)]
    pub cautions: Vec<String>,
    #[serde(default)]
    pub wrong: Vec<Wrong>,
}

#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct CommissionStep {
    pub name: String,
    pub text: String,
    pub minutes: f64,
    #[serde(default)]
    pub heats: bool,
    #[serde(default)]
    pub history: Vec<String>,
    #[serde(default)]
    pub needs: Vec<String>,
    #[serde(default)]
    pub cautions: Vec<String>,
    pub unless: Option<String>,
    #[serde(default)]
    pub wrong: Vec<Wrong>,
    pub measure: Option<String>,
    pub piece: Option<String>,
    #[serde(default)]
    pub good: bool,
}

#[derive(Debug, Deserialize, Default)]
#[serde(deny_unknown_fields)]
pub struct Interval {
    pub hours: Option<f64>,
    pub days: Option<f64>,
    pub kilograms: Option<f64>,
    pub prints: Option<f64>,
}

#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Wrong {
    pub say: String,
    /// A finding with its state: `belts-slack=present`.
    pub sign: String,
}

#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct MachineKind {
    pub name: String,
    pub text: String,
    pub profile: BTreeMap<String, String>,
    #[serde(default)]
    pub facts: Vec<(String, String)>,
    pub melt_limit_mm3_s: Option<f64>,
    #[serde(default)]
    pub price: f64,
    #[serde(default)]
    pub lives: BTreeMap<String, f64>,
    #[serde(default)]
    pub every: BTreeMap<String, Interval>,
    #[serde(default)]
    pub quirks: BTreeMap<String, Quirk>,
}

#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Quirk {
    pub name: String,
    pub when: String,
    pub effect: String,
    pub mend: String,
    #[serde(default)]
    pub money: f64,
    pub minutes: f64,
    #[serde(default)]
    pub risk: String,
    #[serde(default)]
    pub warranty: String,
    pub fix: Option<String>,
    #[serde(default)]
    pub part: String,
    #[serde(default)]
    pub raises: BTreeMap<String, f64>,
}
