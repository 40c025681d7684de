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

/// Words and marks of the format, comments taken out; what the head's comments say of the evidence.
fn lexed(text: &str) -> (Vec<String>, Vec<(String, String)>) {
    let (mut tokens, mut evidence) = (Vec::new(), Vec::new());
    for line in text.lines() {
        let (code, comment) = line.split_once("//").unwrap_or((line, ""));
        if let ["evidence", variable, state] = comment.split_whitespace().collect::<Vec<_>>()[..] {
            evidence.push((variable.to_string(), state.to_string()));
        }
        let mut word = String::new();
        for c in code.chars().chain([' ']) {
            let of_word = c.is_ascii_alphanumeric() || "-_.".contains(c);
            if of_word {
                word.push(c);
                continue;
            }
            if !word.is_empty() {
                tokens.push(std::mem::take(&mut word));
            }
            assert!(
                " {}()[],;|".contains(c),
                "`{c}` is no mark of the format: {line}"
            );
            if c != ' ' {
                tokens.push(c.to_string());
            }
        }
    }
    (tokens, evidence)
}

/// A strict reader of BIF that knows nothing of the program: one network without properties, then
/// variables and probabilities, every mark in its place.
struct Reader(std::collections::VecDeque<String>);

impl Reader {
    fn next(&mut self) -> String {
        self.0.pop_front().expect("the file ends too early")
    }

    fn mark(&mut self, mark: &str) {
        assert_eq!(self.next(), mark);
    }

    fn at(&self, mark: &str) -> bool {
        self.0.front().is_some_and(|t| t == mark)
    }

    fn marks(&mut self, marks: &[&str]) {
        marks.iter().for_each(|mark| self.mark(mark));
    }

    /// A name begins with a letter.
    fn name(&mut self) -> String {
        let name = self.next();
        assert!(
            name.starts_with(|c: char| c.is_ascii_alphabetic()),
            "{name}"
        );
        name
    }

    fn numbers(&mut self) -> Vec<f64> {
        let mut out = vec![self.next().parse().unwrap()];
        while self.at(",") {
            self.mark(",");
            out.push(self.next().parse().unwrap());
        }
        self.mark(";");
        out
    }

    fn variable(&mut self, network: &mut Network) {
        let name = self.name();
        self.marks(&["{", "type", "discrete", "["]);
        let count: usize = self.next().parse().unwrap();
        self.marks(&["]", "{"]);
        let mut states = vec![self.name()];
        while self.at(",") {
            self.mark(",");
            states.push(self.name());
        }
        self.marks(&["}", ";", "}"]);
        assert_eq!(states.len(), count, "{name}");
        assert!(
            network.states.insert(name, states).is_none(),
            "a variable stands twice"
        );
    }

    fn probability(&mut self, network: &mut Network) {
        self.mark("(");
        let name = self.name();
        assert!(
            network.states.contains_key(&name),
            "{name} comes before its variable"
        );
        if self.at("|") {
            self.mark("|");
            let parent = self.name();
            network.parent.insert(name.clone(), parent);
        }
        self.marks(&[")", "{"]);
        while !self.at("}") {
            let state = match self.at("table") {
                true => {
                    self.mark("table");
                    String::new()
                }
                false => {
                    self.mark("(");
                    let state = self.name();
                    self.mark(")");
                    state
                }
            };
            let numbers = self.numbers();
            assert_eq!(numbers.len(), network.states[&name].len(), "{name}");
            let before = network.tables.insert((name.clone(), state), numbers);
            assert!(before.is_none(), "{name}: a row stands twice");
        }
        self.mark("}");
    }
}

fn read(text: &str) -> Network {
    let (tokens, evidence) = lexed(text);
    let mut network = Network {
        evidence,
        ..Network::default()
    };
    let mut reader = Reader(tokens.into());
    reader.mark("network");
    reader.name();
    reader.marks(&["{", "}"]);
    while !reader.0.is_empty() {
        match reader.next().as_str() {
            "variable" => reader.variable(&mut network),
            "probability" => reader.probability(&mut network),
            other => panic!("`{other}` begins no block of the format"),
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

const CASES: [&str; 5] = [
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
    r#"{ "format": "usual-suspect-case/1", "findings": [ { "id": "spongy-walls",
        "state": "present" }, { "id": "inspect-feeder",
        "state": "cracked-arm+worn-or-packed-gear" }, { "id": "swap-spool", "state": "cured" } ],
        "tried": [ { "fix": "replace-spool", "result": "same" } ] }"#,
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
        Value::Object(members) => members_conform(root, schema, members, path),
        _ => {}
    }
}

/// Each member an object must have is there, and each there is of its kind.
fn members_conform(
    root: &Value,
    schema: &Value,
    members: &serde_json::Map<String, Value>,
    path: &str,
) {
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
