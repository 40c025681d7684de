//! The shipped knowledge, and what the validator says of a bad one.

use std::collections::BTreeMap;
use suspect_core::knowledge::{Family, Knowledge, Problem, Section};

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
    assert!(
        k.causes.len() >= 130
            && k.findings.len() >= 205
            && k.checks.len() >= 78
            && k.fixes.len() >= 150
    );
    for family in Family::ALL {
        assert!(k.causes.iter().any(|c| c.family == family), "{family}");
    }
    assert!(
        k.findings
            .iter()
            .filter(|f| f.section == Section::Number)
            .count()
            == 17
    );
}

#[test]
fn every_problem_is_reported_at_once_with_file_line_and_key() {
    let mut files = Knowledge::shipped_files();
    files.remove("stops.toml");
    let mechanics = files.get_mut("causes/mechanics.toml").unwrap();
    *mechanics = mechanics
        .replacen("layer-step = 0.75", "layer-stepp = 0.75", 1)
        .replacen("weight = \"common\"", "weight = \"frequent\"", 1);
    files.get_mut("fixes/bed.toml").unwrap().push_str(
        "\n[wash-plate-twice]\nname = \"x\"\nkind = \"easy\"\nsteps = [\"x\"]\ncautions \
            = [\"hot-bedd\"]\nminutess = 3\n",
    );
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
    says(
        with(file, "layer-step = 0.75", "layer-step = 1.4"),
        "1.4 is not a probability",
    );
    says(
        with(file, "layer-step = 0.75", "layer-step = \"mostly\""),
        "`mostly` is no strength word",
    );
    says(
        with(file, "layer-step = 0.75", "layer-step = \"never\""),
        "would speak for the cause",
    );
    says(
        with(
            file,
            "shift-size = { any-size = \"usually\" }",
            "shift-size = { anysize = \"usually\" }",
        ),
        "did you mean `any-size`?",
    );
    says(
        with(
            file,
            "shift-size = { any-size = \"usually\" }",
            "shift-size = { any-size = 0.9, whole-cycles = 0.2 }",
        ),
        "sum to",
    );
    says(
        with(
            "causes/path.toml",
            "exclusive = [\"spool\"]",
            "consequence_of = { ground-out = \"often\" }",
        ),
        "in a circle",
    );
    says(
        with(
            "findings/print.toml",
            "background = 0.01",
            "background = 0.001",
        ),
        "must lie between 0.01 and 1",
    );
    says(
        with(
            "findings/print.toml",
            "[layer-step]",
            "[layer-step]\nplain = \"twice\"",
        ),
        "findings/print.toml:",
    );
    let mut files = Knowledge::shipped_files();
    files.insert("causes/bed.toml".into(), "x".repeat(5_000_000));
    says(problems(&files), "bytes are too many");
}

/// Asserts that one of the problems found has this in it.
fn says(found: Vec<String>, part: &str) {
    assert!(
        found.iter().any(|f| f.contains(part)),
        "{part} not in {found:?}"
    );
}

#[test]
fn a_knowledge_that_says_nothing_twice_or_in_vain_is_refused() {
    // Two suspects with the same signs.
    let mut files = Knowledge::shipped_files();
    let twin = "\n[spool-twin]\nname = \"Twin\"\nplain = \"twin\"\nweight = \"rare\"\nmechanism = \
        \"One. Two. Three.\"\nclears = \"x\"\nfixes = [[\"compare-and-accept\", \
        0.5]]\n[spool-twin.links]\nplain-seam-line = \"always\"\n";
    files
        .get_mut("causes/path.toml")
        .unwrap()
        .push_str(&twin.replace("spool-twin", "spool-twin-a"));
    files
        .get_mut("causes/path.toml")
        .unwrap()
        .push_str(&twin.replace("spool-twin", "spool-twin-b"));
    says(
        problems(&files),
        "no finding tells `spool-twin-a` from `spool-twin-b`",
    );
    // Told too briefly, and a caution nobody names.
    says(
        with(
            "causes/path.toml",
            "mechanism = \"A winding has slipped",
            "mechanism = \"Short.\"\n#",
        ),
        "1 sentences",
    );
    let mut files = Knowledge::shipped_files();
    files
        .get_mut("cautions.toml")
        .unwrap()
        .push_str("\n[bees]\nlevel = \"caution\"\ntext = \"Bees.\"\n");
    says(problems(&files), "bees: no step names this caution");
}

#[test]
fn a_finding_that_changes_nothing_is_refused() {
    // A finding nobody is linked to, one whose links say what is the case anyway, a check without a
    // telling outcome.
    let stray = "\n[stray]\nregion = \"wall\"\nquestion = \"Is it?\"\nplain = \"stray\"\nabsent = \
        \"none\"\nbackground = 0.1\n";
    let mut files = Knowledge::shipped_files();
    files
        .get_mut("findings/print.toml")
        .unwrap()
        .push_str(stray);
    says(problems(&files), "stray: no cause is linked to it");
    let path = files.get_mut("causes/path.toml").unwrap();
    *path = path.replacen(
        "[spool-tangle.links]",
        "[spool-tangle.links]\nstray = 0.1",
        1,
    );
    says(
        problems(&files),
        "stray: no state of this finding changes a ranking",
    );
    says(
        with(
            "findings/print.toml",
            "region = \"seam\"",
            "region = \"seams\"",
        ),
        "`seams` is not one of first layer, wall, seam",
    );
    says(
        with(
            "findings/print.toml",
            "group = \"soft\"",
            "group = \"soft-as-butter\"",
        ),
        "nothing else is in the group `soft-as-butter`",
    );
}

#[test]
fn links_and_fixes_against_the_context_are_refused() {
    says(
        with(
            "causes/heat.toml",
            "context = { \"enclosure=open\" = 0 }",
            "context = { \"enclosure=closed|heated\" = 0 }",
        ),
        "where this cause is impossible",
    );
    says(
        with(
            "causes/bed.toml",
            "\"levelling=manual\" = 0 }",
            "\"levelling=manual\" = 0.1 }",
        ),
        "no fix applies with levelling=manual",
    );
    // One fact counted twice.
    says(
        with(
            "causes/heat.toml",
            "context = { \"enclosure=open\" = 0 }",
            "context = { \"enclosure=closed\" = 2 }",
        ),
        "again by `enclosure-vs-material`",
    );
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
    assert!(
        !k.table.linked(belt, notched) && (k.table.states(belt, notched)[1] - 0.03).abs() < 1e-12
    );
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

#[test]
fn contradictions_luck_and_one_sided_schools_are_refused() {
    says(
        with(
            "checks/bed.toml",
            "excludes = { seated = [\"plate-missing\"] }\n",
            "",
        ),
        "whoever brings `plate-missing=present` hardly ever shows `seated`",
    );
    says(
        with(
            "checks/feed.toml",
            "excludes = { straight = ",
            "excludes = { strait = ",
        ),
        "`strait` is not among the outcomes",
    );
    says(
        with("checks/feed.toml", "proves_nothing = true\n", ""),
        "may seem to cure by chance",
    );
    says(
        with("fixes/feed.toml", "by_chance = 0.12", "by_chance = 0.9"),
        "0.9 must lie between 0 and 0.5",
    );
    says(
        with(
            "schools.toml",
            "fixes = [\"densen-infill\"]",
            "fixes = [\"densen-infil\"]",
        ),
        "`densen-infil` is no fix; did you mean `densen-infill`?",
    );
    says(
        with(
            "schools.toml",
            "id = \"more-layers\"",
            "id = \"dense-infill\"",
        ),
        "`dense-infill` stands twice",
    );
    says(
        with(
            "cautions.toml",
            "belongs = [\"cut\"]",
            "belongs = [\"cutt\"]",
        ),
        "`cutt` is not one of",
    );
    says(
        with(
            "checks/heat.toml",
            "first_when = [\"heat-error-stop\"]",
            "first_when = [\"heat-error\"]",
        ),
        "`heat-error` is no finding",
    );
}
