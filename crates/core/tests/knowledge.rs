//! The shipped knowledge, and what the validator says of a bad one.

use std::collections::BTreeMap;
use suspect_core::knowledge::{Knowledge, Problem, Section};

fn problems(files: &BTreeMap<String, String>) -> Vec<String> {
    match Knowledge::load(files) {
        Ok(_) => Vec::new(),
        Err(problems) => problems.iter().map(Problem::to_string).collect(),
    }
}

/// The shipped files with one text replaced in one file.
fn with(file: &str, from: &str, to: &str) -> Vec<String> {
    let mut files = Knowledge::shipped_files();
    let text = files.get_mut(file).expect("the file ships");
    assert!(text.contains(from), "{file} holds {from}");
    *text = text.replacen(from, to, 1);
    problems(&files)
}

#[test]
fn the_shipped_knowledge_validates_and_is_no_toy() {
    let found = problems(&Knowledge::shipped_files());
    assert!(found.is_empty(), "{}", found.join("\n"));
    let k = Knowledge::shipped();
    assert!(k.causes.len() >= 35 && k.findings.len() >= 45 && k.fixes.len() >= 35);
    for family in ["feeder", "hotend", "heat", "flow", "bed", "mechanics", "electric", "normal"] {
        assert!(k.causes.iter().any(|c| c.family == family), "{family}");
    }
    assert!(k.findings.iter().filter(|f| f.section == Section::Number).count() == 8);
}

#[test]
fn every_problem_is_reported_at_once_with_file_line_and_key() {
    let mut files = Knowledge::shipped_files();
    files.remove("stops.toml");
    let mechanics = files.get_mut("causes/mechanics.toml").unwrap();
    *mechanics =
        mechanics.replacen("layer-step = 0.75", "layer-stepp = 0.75", 1).replacen("weight = \"common\"", "weight = \"frequent\"", 1);
    files
        .get_mut("fixes/bed.toml")
        .unwrap()
        .push_str("\n[wash-plate-twice]\nname = \"x\"\nkind = \"easy\"\nsteps = [\"x\"]\ncautions = [\"hot-bedd\"]\nminutess = 3\n");
    let found = problems(&files).join("\n");
    for part in [
        "stops.toml: the file is missing",
        "causes/mechanics.toml:",
        "links.layer-stepp: `layer-stepp` is no finding; did you mean `layer-step`?",
        "weight: `frequent` is not one of very common, common, occasional, uncommon, rare",
        "wash-plate-twice.minutess: unknown key; did you mean `minutes`?",
        "wash-plate-twice.cautions: `hot-bedd` is no caution; did you mean `hot-bed`?",
        "wash-plate-twice: no cause names this fix",
    ] {
        assert!(found.contains(part), "missing: {part}\nin:\n{found}");
    }
}

#[test]
fn bad_chances_states_words_and_circles_are_refused() {
    let file = "causes/mechanics.toml";
    let says = |found: Vec<String>, part: &str| assert!(found.iter().any(|f| f.contains(part)), "{part} not in {found:?}");
    says(with(file, "layer-step = 0.75", "layer-step = 1.4"), "1.4 is not a probability");
    says(with(file, "layer-step = 0.75", "layer-step = \"mostly\""), "`mostly` is no strength word");
    says(with(file, "layer-step = 0.75", "layer-step = \"never\""), "would speak for the cause");
    says(with(file, "shift-size = { any-size = \"usually\" }", "shift-size = { anysize = \"usually\" }"), "did you mean `any-size`?");
    says(with(file, "shift-size = { any-size = \"usually\" }", "shift-size = { any-size = 0.9, whole-cycles = 0.2 }"), "sum to");
    says(with("causes/path.toml", "exclusive = [\"spool\"]", "consequence_of = { ground-out = \"often\" }"), "in a circle");
    says(with("findings/print.toml", "background = 0.01", "background = 0.001"), "must lie between 0.01 and 1");
    says(with("findings/print.toml", "[layer-step]", "[layer-step]\nplain = \"twice\""), "findings/print.toml:");
    let mut files = Knowledge::shipped_files();
    files.insert("causes/bed.toml".into(), "x".repeat(5_000_000));
    says(problems(&files), "bytes are too many");
}

#[test]
fn a_consequence_lends_its_signs_to_its_roots() {
    let k = Knowledge::shipped();
    let notched = k.finding_id("filament-notched").unwrap();
    let clog = k.cause_id("partial-clog").unwrap();
    // Own link none, chance 0.3 that it grinds: absent = 0.97 · (1 − 0.3 + 0.3 · 0.02 / 0.97).
    let expected = 0.97 * (1.0 - 0.3 + 0.3 * 0.02 / 0.97);
    assert!((k.table.states(clog, notched)[0] - expected).abs() < 1e-12);
    let belt = k.cause_id("belt-loose").unwrap();
    assert!(!k.table.linked(belt, notched) && (k.table.states(belt, notched)[1] - 0.03).abs() < 1e-12);
}

#[test]
fn opposites_normal_causes_and_consequences_are_never_paired() {
    let k = Knowledge::shipped();
    let paired = |a: &str, b: &str| {
        let (a, b) = (k.cause_id(a).unwrap(), k.cause_id(b).unwrap());
        k.pairs.contains(&(a.min(b), a.max(b)))
    };
    assert!(!paired("nozzle-too-high", "nozzle-too-low"));
    assert!(!paired("normal-seam", "belt-loose"));
    assert!(!paired("ground-out", "spool-tangle"));
    assert!(paired("draught", "bed-too-cold"));
}
