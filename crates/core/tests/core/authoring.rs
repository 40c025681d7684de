//! The authoring guide's example loads, and does what the guide says.

use suspect_core::case::report::{Mode, line_up};
use suspect_core::knowledge::Knowledge;
use suspect_core::vignettes;

const GUIDE: &str = include_str!("../../../../docs/knowledge-authoring.md");

/// Code blocks of a language with the file named in the line before each.
fn blocks(language: &str) -> Vec<(String, String)> {
    let mut out = Vec::new();
    let mut named = String::new();
    let mut lines = GUIDE.lines();
    while let Some(line) = lines.next() {
        if line.strip_prefix("```") == Some(language) {
            let text: Vec<&str> = lines.by_ref().take_while(|l| *l != "```").collect();
            out.push((named.clone(), text.join("\n") + "\n"));
        } else if let Some(name) = line.strip_prefix('`').and_then(|l| l.strip_suffix('`')) {
            named = name.to_string();
        }
    }
    out
}

#[test]
fn the_guides_example_loads_and_its_suspect_leads() {
    let mut files = Knowledge::shipped_files();
    let example = blocks("toml");
    assert_eq!(example.len(), 4);
    for (file, text) in example {
        files
            .get_mut(&file)
            .unwrap_or_else(|| panic!("{file} does not ship"))
            .push_str(&format!("\n{text}"));
    }
    let knowledge = Knowledge::load(&files).unwrap_or_else(|problems| {
        panic!(
            "{}",
            problems
                .iter()
                .map(|p| format!("{p}\n"))
                .collect::<String>()
        )
    });
    let [(_, vignette)] = &blocks("json")[..] else {
        panic!("one vignette")
    };
    let vignette = vignettes::read(&knowledge, "guide", vignette).unwrap();
    assert!(
        vignettes::run(&knowledge, std::slice::from_ref(&vignette))
            .failures
            .is_empty()
    );
    assert_eq!(
        line_up(&knowledge, &vignette.facts, Mode::Full).line_up[0].cause,
        "feed-guide-worn"
    );
}

#[test]
fn the_guides_scale_is_the_programs() {
    for (word, value) in suspect_core::knowledge::WORDS {
        assert!(
            GUIDE.contains(word) && GUIDE.contains(&value.to_string()),
            "{word} {value}"
        );
    }
    for (word, weight) in suspect_core::knowledge::WEIGHTS {
        assert!(
            GUIDE.contains(&format!("{word} {weight}")),
            "{word} {weight}"
        );
    }
}
