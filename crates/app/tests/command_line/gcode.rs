//! `gcode` as scripts use it: figures as JSON, a height, a case, two files, a ladder.

use super::{json, run};
use serde_json::Value;
use std::path::PathBuf;
use suspect_print_files::made::{Recipe, Start, file};

/// A folder of made files that goes when it is dropped.
struct Folder(PathBuf);

impl Folder {
    fn new(name: &str) -> Self {
        let path =
            std::env::temp_dir().join(format!("suspect-gcode-{name}-{}", std::process::id()));
        std::fs::create_dir_all(&path).unwrap();
        Folder(path)
    }

    fn put(&self, name: &str, bytes: &[u8]) -> String {
        let path = self.0.join(name);
        std::fs::write(&path, bytes).unwrap();
        path.to_string_lossy().into_owned()
    }

    fn made(&self, name: &str, recipe: Recipe) -> String {
        let (text, _) = file(&Recipe {
            layers: 40,
            ..recipe
        });
        self.put(name, text.as_bytes())
    }
}

impl Drop for Folder {
    fn drop(&mut self) {
        let _ = std::fs::remove_dir_all(&self.0);
    }
}

const CASE: &str = r#"{ "format": "usual-suspect-case/1", "machine": { "levelling": "probe",
  "hotend": "lined" }, "material": "pla", "settings": { "fault_height_mm": 4.1 } }"#;

#[test]
fn a_file_is_read_from_a_path_and_from_standard_input_alike() {
    let folder = Folder::new("read");
    let (text, truth) = file(&Recipe {
        layers: 40,
        ..Recipe::default()
    });
    let path = folder.put("a.gcode", text.as_bytes());
    let a = json(&run(&["gcode", &path, "--json", "--layers"], ""));
    let b = json(&run(&["gcode", "-", "--json", "--layers"], &text));
    assert_eq!(a, b);
    assert_eq!(a["format"], "usual-suspect-gcode/1");
    assert_eq!(a["layers"]["count"], 40);
    assert_eq!(a["file"]["lines"], truth.lines);
    assert_eq!(a["retraction"]["count"], truth.retractions);
    let filament = a["filament_mm"].as_f64().unwrap();
    assert!((filament - truth.filament).abs() < 1e-3);
    let sum: f64 = a["layer_list"]
        .as_array()
        .unwrap()
        .iter()
        .map(|l| l["time_s"].as_f64().unwrap())
        .sum();
    let time = a["time_s"].as_f64().unwrap();
    assert!(sum <= time && sum > 0.95 * time, "{sum} of {time}");
    let words = run(&["gcode", &path], "");
    let words = String::from_utf8(words.stdout).unwrap();
    assert!(
        words.contains("mesh: measured-and-loaded") && words.contains("40 layers"),
        "{words}"
    );
}

#[test]
fn a_height_and_a_case_are_answered() {
    let folder = Folder::new("case");
    let recipe = Recipe {
        start: Start::HomesOnly,
        fan_change: Some((4.0, 40.0)),
        ..Recipe::default()
    };
    let path = folder.made("a.gcode", recipe);
    let case = folder.put("case.json", CASE.as_bytes());
    let out = json(&run(
        &["gcode", &path, "--json", "--at", "4.1", "--case", &case],
        "",
    ));
    let jumps = out["at"]["jumps"].as_array().unwrap();
    let fan = jumps.iter().find(|j| j["what"] == "fan_percent").unwrap();
    assert_eq!(
        (fan["from"].as_f64(), fan["to"].as_f64()),
        (Some(100.0), Some(40.0))
    );
    let findings = out["findings"].as_array().unwrap();
    let mesh = findings
        .iter()
        .find(|f| f["id"] == "start-code-mesh")
        .unwrap();
    assert_eq!(
        (mesh["state"].as_str(), mesh["confidence"].as_str()),
        (Some("ignores-mesh"), Some("sure"))
    );
    assert!(
        findings
            .iter()
            .all(|f| f["why"].is_string() && f["lines"].is_array())
    );
    let bad = run(&["gcode", &path, "--case", &path], "");
    assert_eq!(bad.status.code(), Some(2));
}

#[test]
fn two_files_are_compared() {
    let folder = Folder::new("two");
    let a = folder.made("a.gcode", Recipe::default());
    let b = folder.made(
        "b.gcode",
        Recipe {
            bed_c: 70.0,
            ..Recipe::default()
        },
    );
    let out = json(&run(&["gcode", "compare", &a, &b, "--json"], ""));
    assert_eq!(out["format"], "usual-suspect-differences/1");
    let bed = &out["differences"][0];
    assert_eq!(
        (
            bed["name"].as_str(),
            bed["before"].as_str(),
            bed["after"].as_str()
        ),
        (Some("bed temperature"), Some("60 °C"), Some("70 °C"))
    );
    let same = run(&["gcode", "compare", &a, &a], "");
    assert_eq!(String::from_utf8(same.stdout).unwrap(), "nothing differs\n");
}

#[test]
fn a_ladder_is_written_or_refused() {
    let folder = Folder::new("ladder");
    let a = folder.made("a.gcode", Recipe::default());
    let out = folder.0.join("ladder.gcode").to_string_lossy().into_owned();
    let case = folder.put("case.json", CASE.as_bytes());
    let ladder = |from: &str| {
        run(
            &[
                "gcode",
                "ladder",
                &a,
                "--quantity",
                "nozzle_c",
                "--from",
                from,
                "--step",
                "-5",
                "--band-mm",
                "2",
                "--base-mm",
                "1",
                "--case",
                &case,
                "-o",
                &out,
            ],
            "",
        )
    };
    let hot = ladder("260");
    assert_eq!(hot.status.code(), Some(2));
    let why = String::from_utf8(hot.stderr).unwrap();
    assert!(
        why.contains("260 °C") && why.trim_end().lines().count() == 1,
        "{why}"
    );
    assert!(!std::path::Path::new(&out).exists(), "nothing is written");
    assert!(ladder("220").status.success());
    assert!(
        std::fs::read_to_string(&out)
            .unwrap()
            .contains("M104 S215 ; band of nozzle_c 215")
    );
}

#[test]
fn what_is_no_print_file_gives_one_line_and_status_2() {
    let folder = Folder::new("bad");
    let photo = folder.put("a.gcode", b"\xff\xd8\xff\xe0 and so on");
    let torn = folder.put("b.gcode.gz", b"\x1f\x8b\x08\x00\x00");
    for (arguments, why) in [
        (vec!["gcode", photo.as_str()], "a photo (JPEG)"),
        (vec!["gcode", torn.as_str()], "damaged"),
        (vec!["gcode", "/nowhere/at/all"], "cannot open"),
        (vec!["gcode", photo.as_str(), "--at", "-3"], ""),
    ] {
        let out = run(&arguments, "");
        assert_eq!(out.status.code(), Some(2), "{arguments:?}");
        let said = String::from_utf8(out.stderr).unwrap();
        assert!(said.contains(why), "{said}");
    }
}

#[test]
fn where_a_file_sets_no_limits_those_of_the_case_count() {
    let folder = Folder::new("limits");
    let (text, _) = file(&Recipe {
        layers: 6,
        speeds: [60.0, 90.0, 200.0, 150.0],
        ..Recipe::default()
    });
    let bare: Vec<&str> = text.lines().filter(|l| !l.starts_with("M20")).collect();
    let bare = bare.join("\n");
    let path = folder.put("bare.gcode", bare.as_bytes());
    let time = |path: &str, acceleration: u32| {
        let case = format!(
            r#"{{ "format": "usual-suspect-case/1",
                "settings": {{ "accel_mm_s2": {acceleration} }} }}"#
        );
        let case = folder.put("case.json", case.as_bytes());
        let out = json(&run(&["gcode", path, "--json", "--case", &case], ""));
        out["time_s"].as_f64().unwrap()
    };
    assert!(time(&path, 300) > 1.1 * time(&path, 3000));
    let own = folder.put("own.gcode", text.as_bytes());
    assert!(
        (time(&own, 300) - time(&own, 3000)).abs() < 1e-9,
        "its own come first"
    );
}

/// Every value a schema asks for is there, and nothing that it does not know stands at the top.
pub fn fits(schema: &Value, value: &Value, path: &str) {
    let empty = serde_json::Map::new();
    let properties = schema["properties"].as_object().unwrap_or(&empty);
    for required in schema["required"].as_array().into_iter().flatten() {
        let name = required.as_str().unwrap();
        assert!(value.get(name).is_some(), "{path}/{name} is missing");
    }
    for (name, of) in properties {
        if let Some(inner) = value.get(name) {
            fits(of, inner, &format!("{path}/{name}"));
        }
    }
    if let (Some(items), Some(list)) = (schema.get("items"), value.as_array()) {
        list.iter().for_each(|item| fits(items, item, path));
    }
    if path.is_empty() {
        let unknown = value
            .as_object()
            .unwrap()
            .keys()
            .find(|k| !properties.contains_key(*k));
        assert_eq!(unknown, None);
    }
}

#[test]
fn the_published_schemas_say_what_is_written() {
    let folder = Folder::new("schema");
    let fast = Recipe {
        speeds: [60.0, 90.0, 250.0, 200.0],
        ..Recipe::default()
    };
    let path = folder.made("a.gcode", fast);
    let other = folder.made("b.gcode", Recipe::default());
    let case = folder.put("case.json", CASE.as_bytes());
    let out = run(
        &[
            "gcode", &path, "--json", "--layers", "--at", "4", "--case", &case,
        ],
        "",
    );
    let schema = include_str!("../../../../docs/gcode.schema.json");
    fits(&serde_json::from_str(schema).unwrap(), &json(&out), "");
    let compared = json(&run(&["gcode", "compare", &path, &other, "--json"], ""));
    assert!(
        compared["by_height"]
            .as_array()
            .is_some_and(|all| !all.is_empty())
    );
    let schema = include_str!("../../../../docs/differences.schema.json");
    fits(&serde_json::from_str(schema).unwrap(), &compared, "");
}
