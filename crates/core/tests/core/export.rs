//! The open formats, read back as outside software would.

use serde_json::Value;
use std::collections::HashMap;
use std::sync::LazyLock;
use suspect_core::case::file;
use suspect_core::evidence::Facts;
use suspect_core::export::{bif, json};
use suspect_core::knowledge::Knowledge;
use suspect_core::ranking::rank_plain;

static K: LazyLock<Knowledge> = LazyLock::new(Knowledge::shipped);

/// A network as read back: states by variable, and a table by (variable, parent's state); the empty
/// state stands for no parent.
#[derive(Default)]
struct Network {
    states: HashMap<String, Vec<String>>,
    parent: HashMap<String, String>,
    tables: HashMap<(String, String), Vec<f64>>,
    evidence: Vec<(String, String)>,
}

/// A reader of BIF that knows nothing of the program: blocks of `network`, `variable` and
/// `probability`.
fn read(text: &str) -> Network {
    let mut network = Network::default();
    let words = |s: &str| {
        s.replace([',', ';', '{', '}', '[', ']', '|', '(', ')'], " ")
            .split_whitespace()
            .map(str::to_string)
            .collect::<Vec<_>>()
    };
    let mut current = String::new();
    for line in text.lines() {
        let parts = words(line);
        let word = |n: usize| parts.get(n).map_or("", String::as_str);
        match word(0) {
            "variable" | "probability" => {
                current = word(1).to_string();
                if word(0) == "probability" && parts.len() > 2 {
                    network.parent.insert(current.clone(), word(2).to_string());
                }
            }
            "type" => {
                let count: usize = word(2).parse().unwrap();
                assert_eq!(parts.len() - 3, count, "{current}");
                network.states.insert(current.clone(), parts[3..].to_vec());
            }
            "table" => {
                network.tables.insert(
                    (current.clone(), String::new()),
                    parts[1..].iter().map(|n| n.parse().unwrap()).collect(),
                );
            }
            "property" => {
                let quoted: Vec<&str> = line.split('"').nth(1).unwrap().split(' ').collect();
                if let ["evidence", variable, state] = quoted[..] {
                    network
                        .evidence
                        .push((variable.to_string(), state.to_string()));
                }
            }
            _ if line.trim_start().starts_with('(') => {
                network.tables.insert(
                    (current.clone(), parts[0].clone()),
                    parts[1..].iter().map(|n| n.parse().unwrap()).collect(),
                );
            }
            _ => {}
        }
    }
    network
}

impl Network {
    fn chance(&self, variable: &str, parent_state: &str, state: &str) -> f64 {
        let at = self.states[variable]
            .iter()
            .position(|s| s == state)
            .unwrap_or_else(|| panic!("{variable} has no state {state}"));
        self.tables[&(variable.to_string(), parent_state.to_string())][at]
    }

    /// Likelihood of one observation when a cause acts, summing over the finding in between where
    /// there is one.
    fn likelihood(&self, cause: &str, variable: &str, state: &str) -> f64 {
        match self.parent[variable].as_str() {
            "cause" => self.chance(variable, cause, state),
            finding => self.states[finding]
                .iter()
                .map(|s| self.chance(finding, cause, s) * self.chance(variable, s, state))
                .sum(),
        }
    }

    /// Posterior by Bayes, written out.
    fn posterior(&self) -> HashMap<String, f64> {
        let joint: Vec<(String, f64)> = self.states["cause"]
            .iter()
            .map(|c| {
                let prior = self.chance("cause", "", c);
                (
                    c.clone(),
                    self.evidence
                        .iter()
                        .fold(prior, |p, (v, s)| p * self.likelihood(c, v, s)),
                )
            })
            .collect();
        let total: f64 = joint.iter().map(|(_, p)| p).sum();
        joint.into_iter().map(|(c, p)| (c, p / total)).collect()
    }
}

const CASES: [&str; 4] = [
    r#"{ "format": "usual-suspect-case/1", "findings": [ { "id": "layer-step",
        "state": "present" } ] }"#,
    r#"{ "format": "usual-suspect-case/1", "machine": { "feed": "direct", "enclosure": "open",
        "levelling": "manual" }, "material": "petg",
         "settings": { "nozzle_c": 252, "retract_mm": 0.2 },
         "findings": [ { "id": "strings", "state": "hairs", "confidence": "likely" },
             { "id": "pops-heard", "state": "absent", "confidence": "hunch" },
                       { "id": "strand-look", "state": "bubbly" }, { "id": "onset",
                           "state": "gradual" } ],
         "tried": [ { "fix": "raise-retraction", "result": "same" },
             { "aimed_at": "nozzle-too-hot", "result": "better" } ],
         "cleared": [ "tube-kinked", "retraction-too-small" ] }"#,
    r#"{ "format": "usual-suspect-case/1", "findings": [ { "id": "gap-at-seam",
        "state": "unsure-which" }, { "id": "seam-direction", "state": "gap-at-end" },
         { "id": "swap-nozzle", "state": "better" } ] }"#,
    r#"{ "format": "usual-suspect-case/1", "machine": { "enclosure": "heated" },
        "material": "pla" }"#,
];

#[test]
fn outside_software_gets_the_posterior_of_rank_plain_from_the_network() {
    for text in CASES {
        let facts = file::read(&K, text).unwrap();
        let network = read(&bif(&K, &facts));
        for table in network.tables.values() {
            assert!((table.iter().sum::<f64>() - 1.0).abs() < 1e-9);
        }
        let posterior = network.posterior();
        let ranked = rank_plain(&K, &facts);
        assert!(
            (posterior["unlisted"] - ranked.unlisted).abs() < 1e-9,
            "{text}"
        );
        for line in &ranked.causes {
            let id = &K.cause(line.cause).id;
            assert!(
                (posterior[id] - line.probability).abs() < 1e-9,
                "{id}: {} and {} in {text}",
                posterior[id],
                line.probability
            );
        }
    }
}

#[test]
fn every_identifier_of_the_knowledge_is_in_the_network_unchanged() {
    let network = read(&bif(&K, &Facts::default()));
    assert_eq!(network.states["cause"].len(), K.causes.len() + 1);
    for finding in &K.findings {
        let states: Vec<&str> = finding.states.iter().map(|s| s.id.as_str()).collect();
        assert_eq!(network.states[&finding.id], states);
    }
}

/// Checks a value against the parts of JSON Schema that `docs/knowledge.schema.json` uses.
fn conforms(root: &Value, schema: &Value, value: &Value, path: &str) {
    if let Some(reference) = schema["$ref"].as_str() {
        return conforms(root, root.pointer(&reference[1..]).unwrap(), value, path);
    }
    if let Some(allowed) = schema["enum"].as_array() {
        assert!(
            allowed
                .iter()
                .any(|a| a == value || a.as_f64().is_some_and(|a| Some(a) == value.as_f64())),
            "{path}: {value}"
        );
    }
    if !schema["const"].is_null() {
        assert_eq!(&schema["const"], value, "{path}");
    }
    let kind = match value {
        Value::Null => "null",
        Value::Bool(_) => "boolean",
        Value::Number(_) => "number",
        Value::String(_) => "string",
        Value::Array(_) => "array",
        Value::Object(_) => "object",
    };
    match &schema["type"] {
        Value::String(only) => assert_eq!(only, kind, "{path}"),
        Value::Array(several) => assert!(several.iter().any(|k| k == kind), "{path}: {kind}"),
        _ => {}
    }
    match value {
        Value::Number(n) => {
            let n = n.as_f64().unwrap();
            assert!(
                schema["minimum"].as_f64().is_none_or(|m| n >= m)
                    && schema["maximum"].as_f64().is_none_or(|m| n <= m),
                "{path}: {n}"
            );
        }
        Value::Array(items) => {
            assert!(
                schema["minItems"]
                    .as_u64()
                    .is_none_or(|m| items.len() as u64 >= m),
                "{path}"
            );
            assert!(
                schema["maxItems"]
                    .as_u64()
                    .is_none_or(|m| items.len() as u64 <= m),
                "{path}"
            );
            items.iter().enumerate().for_each(|(n, item)| {
                conforms(root, &schema["items"], item, &format!("{path}[{n}]"));
            });
        }
        Value::Object(members) => {
            for key in schema["required"].as_array().into_iter().flatten() {
                assert!(
                    members.contains_key(key.as_str().unwrap()),
                    "{path} lacks {key}"
                );
            }
            for (key, member) in members {
                let own = &schema["properties"][key];
                let other = &schema["additionalProperties"];
                assert!(
                    !own.is_null() || other != &Value::Bool(false),
                    "{path}.{key} is not in the schema"
                );
                conforms(
                    root,
                    if own.is_null() { other } else { own },
                    member,
                    &format!("{path}.{key}"),
                );
            }
        }
        _ => {}
    }
}

#[test]
fn the_json_export_is_as_its_published_schema_says() {
    let schema: Value =
        serde_json::from_str(include_str!("../../../../docs/knowledge.schema.json")).unwrap();
    let exported = json(&K);
    conforms(&schema, &schema, &exported, "knowledge");
    assert_eq!(exported["causes"].as_array().unwrap().len(), K.causes.len());
    // Every reference leads to something that is exported.
    let ids = |list: &str| {
        exported[list]
            .as_array()
            .unwrap()
            .iter()
            .map(|e| e["id"].as_str().unwrap().to_string())
            .collect::<Vec<_>>()
    };
    let (findings, fixes) = (ids("findings"), ids("fixes"));
    for cause in exported["causes"].as_array().unwrap() {
        assert!(
            cause["links"]
                .as_object()
                .unwrap()
                .keys()
                .all(|f| findings.contains(f))
        );
        assert!(
            cause["fixes"]
                .as_array()
                .unwrap()
                .iter()
                .all(|x| fixes.iter().any(|f| x["fix"] == f.as_str()))
        );
    }
}
