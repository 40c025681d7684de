//! The project's vignettes: cases whose answer is known from the rules of the trade.

use std::path::Path;
use suspect_core::case::file::FileError;
use suspect_core::knowledge::Knowledge;
use suspect_core::vignettes::{self, Vignette};

fn vignettes(knowledge: &Knowledge) -> Vec<Vignette> {
    let root = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../vignettes");
    let mut out = Vec::new();
    for folder in std::fs::read_dir(&root).unwrap() {
        let folder = folder.unwrap().path();
        for file in std::fs::read_dir(&folder).unwrap() {
            let file = file.unwrap().path();
            let name = format!(
                "{}/{}",
                folder.file_name().unwrap().display(),
                file.file_stem().unwrap().display()
            );
            let text = std::fs::read_to_string(&file).unwrap();
            out.push(
                vignettes::read(knowledge, &name, &text).unwrap_or_else(|e| panic!("{name}: {e}")),
            );
        }
    }
    out.sort_by(|a, b| a.name.cmp(&b.name));
    out
}

#[test]
fn the_knowledge_stands_its_trial() {
    let knowledge = Knowledge::shipped();
    let vignettes = vignettes(&knowledge);
    assert!(vignettes.len() >= 90, "{} vignettes", vignettes.len());
    let families = [
        "path",
        "feeder",
        "hotend",
        "heat",
        "flow",
        "motion-set",
        "bed",
        "mechanics",
        "electric",
        "material",
        "model",
        "normal",
    ];
    for folder in families.iter().chain(&["pairs", "contradiction", "early"]) {
        assert!(
            vignettes
                .iter()
                .any(|v| v.name.starts_with(&format!("{folder}/"))),
            "no vignette in {folder}"
        );
    }
    let result = vignettes::run(&knowledge, &vignettes);
    let failures: Vec<String> = result
        .failures
        .iter()
        .map(|f| format!("{}: {}", f.name, f.wrong.join("; ")))
        .collect();
    let report = failures.join("\n");
    // Suspects that must not lead and early cases that must stay open are rules; the rest may miss
    // now and then.
    assert_eq!(result.kept_back.rate(), 1.0, "{report}");
    assert_eq!(result.spread.rate(), 1.0, "{report}");
    assert!(result.leader_right.rate() >= 0.97, "{report}");
    assert!(result.in_top_three.rate() >= 0.98, "{report}");
    assert!(result.next_right.rate() >= 0.75, "{report}");
    assert!(result.brier < 0.3, "Brier score {}", result.brier);
}

#[test]
fn a_trial_counts_what_it_says_it_counts() {
    let knowledge = Knowledge::shipped();
    let right = vignettes::run(
        &knowledge,
        &[slipped(r#"{ "leader": "pulley-slips", "next": ["tighten-pulley"] }"#).unwrap()],
    );
    assert_eq!(
        (
            right.leader_right.right,
            right.in_top_three.right,
            right.next_right.right,
            right.mean_rank
        ),
        (1, 1, 1, 1.0)
    );
    assert!(right.failures.is_empty() && right.brier < 0.1);
    assert_eq!(
        right
            .calibration
            .iter()
            .map(|b| b.statements)
            .sum::<usize>(),
        knowledge.causes.len()
    );
    let wrong = vignettes::run(
        &knowledge,
        &[slipped(
            r#"{ "leader": "belt-loose", "not_leader": "pulley-slips", "leader_at_most": 0.5 }"#,
        )
        .unwrap()],
    );
    assert_eq!(
        (
            wrong.kept_back.right,
            wrong.spread.right,
            wrong.failures.len()
        ),
        (0, 0, 1)
    );
    assert!(wrong.brier > 1.0 && wrong.mean_rank > 1.0);
    assert!(wrong.failures[0].explanation[0].contains("1. pulley-slips"));
}

#[test]
fn what_is_expected_in_vain_is_refused_by_name() {
    let error = |expect: &str| slipped(expect).unwrap_err().to_string();
    assert_eq!(
        error(r#"{ "leader": "belt-lose" }"#),
        "expect.leader: `belt-lose` is no known cause; did you mean `belt-loose`?"
    );
    assert_eq!(
        error(r#"{ "next": "tighten-pully" }"#),
        "expect.next: `tighten-pully` is no known step; did you mean `tighten-pulley`?"
    );
    assert!(error(r#"{ "ledaer": "belt-loose" }"#).starts_with("expect.ledaer: unknown field"));
}

/// A slipped pulley of which so much is expected.
fn slipped(expect: &str) -> Result<Vignette, FileError> {
    let text = format!(
        r#"{{ "format": "usual-suspect-case/1", "findings": [ {{ "id": "layer-step",
                "state": "present" }},
                 {{ "id": "pulley-mark", "state": "slips" }}, {{ "id": "shift-size",
                     "state": "any-size" }} ], "expect": {expect} }}"#
    );
    vignettes::read(&Knowledge::shipped(), "a", &text)
}
