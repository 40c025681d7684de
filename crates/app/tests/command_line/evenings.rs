//! Evenings rehearsed from the command line.

use crate::{json, run};
use serde_json::Value;

#[test]
fn evenings_are_rehearsed_and_planning_loses_nothing() {
    let asked = [
        "rehearse",
        "--shift",
        "--evenings",
        "6",
        "--open",
        "6",
        "--people",
        "1",
        "0",
    ];
    let report = json(&run(&[&asked[..], &["--json"]].concat(), ""));
    let hours = |at: usize| report["ways"][at]["hours_back"].as_f64().unwrap();
    assert_eq!(
        (&report["ways"][0]["name"], &report["ways"][1]["name"]),
        (&Value::from("plan"), &Value::from("first-come"),)
    );
    assert!(hours(0) > hours(1), "{report}");
    assert!(report["gain"].as_f64().unwrap() > 0.0);
    let text = String::from_utf8(run(&asked, "").stdout).unwrap();
    assert!(text.contains("planning gains"), "{text}");
    for odd in [["--open", "0"], ["--minutes", "99999"], ["--evenings", "0"]] {
        let out = run(&[&["rehearse", "--shift"], &odd[..]].concat(), "");
        assert!(!out.status.success() && !out.stderr.is_empty(), "{odd:?}");
    }
}
