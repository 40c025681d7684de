//! Learning on the command line: rules, rates, a ranking with what was learned, the rehearsal.

use super::{CASE, json, run};
use serde_json::{Value, json as value};
use std::io::Write;

fn outcome(machine: &str, cause: &str) -> String {
    let line = value!({ "machine": machine, "kind": "Marshbird 200", "recorded": cause,
        "outcome": "fixed-and-verified", "days": 20, "context": { "motion": "crossed-belt" } });
    format!("{line}\n")
}

#[test]
fn a_rule_answers_what_it_is_given_and_refuses_in_one_line() {
    let given = r#"{"strikes": {"k": 2, "n": 5}}"#;
    let out = json(&run(&["learn", "rule", "proof", "--json", "-"], given));
    assert_eq!(out["prints"], 16);
    for (rule, given, told) in [
        ("proof", r#"{"strikes": {"k": -1, "n": 5}}"#, "strikes.k"),
        ("prof", "{}", "proof"),
        ("proof", "[", "not understood"),
        ("cures", r#"{"k": 2, "uses": []}"#, "`k`"),
    ] {
        let out = run(&["learn", "rule", rule, "--json", "-"], given);
        let why = String::from_utf8(out.stderr).unwrap();
        assert_eq!(out.status.code(), Some(2), "{given}");
        assert!(why.contains(told) && why.lines().count() == 1, "{why}");
    }
}

#[test]
fn outcomes_teach_rates_and_a_ranking_reads_them() {
    let belts: String = (0..6).map(|_| outcome("Grebe", "belt-loose")).collect();
    let lines = belts + &outcome("Dipper", "pulley-slips");
    let sheet = json(&run(&["learn", "rates", "-"], &lines));
    assert_eq!(sheet["format"], "usual-suspect-learned/1");
    assert_eq!(sheet["cases"], 7);
    let here = &sheet["machines"]["Grebe"]["causes"];
    assert!(here["belt-loose"]["factor"].as_f64().unwrap() > 1.5);
    assert!(
        here["pulley-slips"]["factor"].as_f64().unwrap() > 0.9,
        "a mile from never"
    );

    let mut file = tempfile::NamedTempFile::new().unwrap();
    file.write_all(sheet.to_string().as_bytes()).unwrap();
    let path = file.path().to_str().unwrap();
    let rank = |more: &[&str]| json(&run(&[&["rank", "-"], more].concat(), CASE));
    let prior = |report: &Value, cause: &str| {
        let all = report["line_up"].as_array().unwrap();
        let line = all.iter().find(|l| l["cause"] == cause).unwrap();
        line["prior_alone"].as_f64().unwrap()
    };
    let book = rank(&[]);
    let grebe = rank(&["--learned", path, "--machine", "Grebe"]);
    let kind = rank(&["--learned", path, "--machine-kind", "Marshbird 200"]);
    assert!(prior(&grebe, "belt-loose") > prior(&kind, "belt-loose"));
    assert!(prior(&kind, "belt-loose") > prior(&book, "belt-loose"));
    let line = grebe["line_up"].as_array().unwrap().iter();
    let line = line.clone().find(|l| l["cause"] == "belt-loose").unwrap();
    let moved = 10.0 * (prior(&grebe, "belt-loose") / prior(&book, "belt-loose")).log10();
    assert!((line["learned"]["decibans"].as_f64().unwrap() - moved).abs() < 1e-9);
    assert!(line["learned"]["machine"]["n"].as_f64().unwrap() > 5.0);

    // Plain is the book, bit for bit.
    let plain = run(&["rank", "-", "--plain"], CASE);
    let learned = run(&["rank", "-", "--plain", "--learned", path], CASE);
    assert_eq!(plain.stdout, learned.stdout);
}

#[test]
fn outcomes_that_make_no_sense_are_named_by_line() {
    let lines = outcome("Grebe", "belt-loose") + "\n" + &outcome("Grebe", "belt-lose");
    let out = run(&["learn", "rates", "-"], &lines);
    let why = String::from_utf8(out.stderr).unwrap();
    assert_eq!(out.status.code(), Some(2));
    assert!(
        why.contains("line 3") && why.contains("`belt-loose`"),
        "{why}"
    );
    let unproven = outcome("Grebe", "belt-loose").replace("fixed-and-verified", "unsolved");
    assert_eq!(json(&run(&["learn", "rates", "-"], &unproven))["cases"], 0);
    let out = run(&["rank", "-", "--learned", "/no/such/sheet"], CASE);
    assert_eq!(out.status.code(), Some(2));
}

#[test]
fn learning_meets_its_targets_on_made_up_floors() {
    let out = json(&run(&["learn", "rehearse", "--json", "--worlds", "6"], ""));
    assert_eq!(out["floors"].as_array().unwrap().len(), 5);
    let again = json(&run(&["learn", "rehearse", "--json", "--worlds", "6"], ""));
    assert_eq!(out, again, "the same seed draws the same floors");
    let gain = &out["floors"][0]["rows"][3]["gain"];
    assert!(gain.as_f64().unwrap() > 0.05, "{gain}");
    assert!(
        out["targets"]
            .as_array()
            .unwrap()
            .iter()
            .all(|t| t["least"].is_number())
    );
}
