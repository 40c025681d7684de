//! Trials and test pieces on the command line.

use super::{json, run};
use serde_json::json;

#[test]
fn the_next_piece_is_told_with_all_its_keys() {
    let asked = json!({
        "plan": { "differences": [
            { "name": "smoothing", "suspicion": "likely", "group": "motion",
              "needs": ["firmware"] },
            { "name": "firmware" }, { "name": "fan", "suspicion": "unlikely" } ] },
        "trials": [
            { "label": "T2-A", "old": ["firmware"], "grade": 1 },
            { "label": "T3-A", "old": ["firmware", "smoothing"], "grade": "cured",
              "confidence": "likely" } ],
        "causes": { "corner-handling": ["smoothing"] },
    });
    let told = json(&run(&["trials", "next", "-"], &asked.to_string()));
    for key in [
        "elsewhere",
        "comes_and_goes",
        "top",
        "sums",
        "cures_alone",
        "verdict",
        "contradiction_db",
        "case_decibans",
        "work_around",
        "next",
    ] {
        assert!(!told[key].is_null(), "{key}: {told}");
    }
    assert_eq!(told["top"][0]["alone"], "smoothing");
    assert!(told["case_decibans"]["corner-handling"].as_f64().unwrap() > 5.0);
    assert!(told["next"]["information_bits"].as_f64().unwrap() > 0.0);
    let ladder = r#"{"ladder": {"values": [1, 2, 3, 4], "grades": [2, 5, null, 1]}}"#;
    let told = json(&run(&["trials", "next", "-"], ladder));
    let best = told["best"].as_f64().unwrap();
    assert!(told["low"].as_f64().unwrap() <= best && best <= told["high"].as_f64().unwrap());
}

#[test]
fn what_cannot_be_read_is_one_line_with_status_2() {
    for (text, told) in [
        ("{", "no JSON"),
        ("{}", "neither `plan` nor `ladder`"),
        (r#"{"plan": {"differences": []}}"#, "the list is empty"),
        (
            r#"{"plan": {"differences": [{"nam": "a"}]}}"#,
            "plan.differences[0]",
        ),
        (
            r#"{"plan": {"differences": [{"name": "a"}]}, "trials": [
            {"label": "T1-A", "old": ["b"], "grade": 1}]}"#,
            "\"b\" is not on the list",
        ),
        (
            r#"{"plan": {"differences": [{"name": "a"}]}, "trials": [
            {"label": "T1-A", "old": [], "grade": 7}]}"#,
            "a grade is 0 to 5",
        ),
        (
            r#"{"ladder": {"values": [1, 2, 9], "grades": [1, 2, 3]}}"#,
            "even steps",
        ),
        (
            r#"{"ladder": {"values": [1, 2], "grades": [1]}}"#,
            "one grade a band",
        ),
    ] {
        let out = run(&["trials", "next", "-"], text);
        let why = String::from_utf8(out.stderr).unwrap();
        assert_eq!(out.status.code(), Some(2), "{text}: {why}");
        assert!(
            why.contains(told) && why.lines().count() == 1,
            "{text}: {why}"
        );
    }
}

/// The plan beats halving where the eye slips, and the figures are always the same.
#[test]
fn the_plan_is_rehearsed_against_halving_and_one_at_a_time() {
    let arguments = [
        "trials",
        "rehearse",
        "--differences",
        "12",
        "--noise",
        "0.1",
        "--runs",
        "40",
        "--json",
    ];
    let told = json(&run(&arguments, ""));
    assert_eq!(told, json(&run(&arguments, "")));
    let of = |kind: &str, way: &str| {
        let all = told["results"].as_array().unwrap();
        let line = all
            .iter()
            .find(|r| r["kind"] == kind && r["way"] == way)
            .unwrap();
        (
            line["mean_trials"].as_f64().unwrap(),
            line["right"].as_f64().unwrap(),
        )
    };
    for kind in [
        "alone",
        "misled",
        "together",
        "separate_seen",
        "none_of_them",
    ] {
        let (mean, right) = of(kind, "plan");
        assert!(
            right >= of(kind, "halving").1 && right > 0.85,
            "{kind}: {right}"
        );
        assert!(mean < 20.0, "{kind}: {mean}");
    }
    let out = run(&["trials", "rehearse", "--differences", "99"], "");
    assert!(
        String::from_utf8(out.stderr)
            .unwrap()
            .contains("between 2 and 60")
    );
}

#[test]
fn a_piece_is_listed_and_made() {
    let listed = String::from_utf8(run(&["piece", "list"], "").stdout).unwrap();
    assert_eq!(listed.lines().count(), 9);
    let folder = std::env::temp_dir().join(format!("us-pieces-{}", std::process::id()));
    std::fs::create_dir_all(&folder).unwrap();
    let make = |name: &str, more: &[&str]| {
        let path = folder.join(name);
        let mut arguments = vec!["piece", "make", "pins", "-o", path.to_str().unwrap()];
        arguments.extend(more);
        (
            run(&arguments, ""),
            std::fs::read(&path).unwrap_or_default(),
        )
    };
    let (out, stl) = make("pins.stl", &["--nozzle", "0.6", "--gaps", "0.2,0.3"]);
    assert!(out.status.success() && stl.len() > 84, "{out:?}");
    let (_, again) = make("again.stl", &["--nozzle", "0.6", "--gaps", "0.2,0.3"]);
    assert!(stl == again, "the same settings, the same bytes");
    assert_eq!(make("pins.3mf", &[]).1[..2], *b"PK");
    for (name, more, told) in [
        ("a.stl", ["--nozzle", "0"], "the nozzle is 0 mm"),
        ("b.stl", ["--gaps", "0.01"], "a gap is 0.01 mm"),
        ("c.obj", ["--nozzle", "0.4"], ".stl or .3mf"),
    ] {
        let (out, bytes) = make(name, &more);
        let why = String::from_utf8(out.stderr).unwrap();
        assert_eq!((out.status.code(), bytes.len()), (Some(2), 0), "{why}");
        assert!(why.contains(told), "{why}");
    }
    std::fs::remove_dir_all(&folder).unwrap();
}
