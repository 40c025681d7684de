//! Practice in a terminal.

use crate::{json, run};

fn said(arguments: &[&str], input: &str) -> String {
    let out = run(&[&["practice"], arguments].concat(), input);
    assert!(out.status.success(), "{arguments:?}");
    String::from_utf8(out.stdout).unwrap()
}

#[test]
fn a_case_is_played_in_a_terminal_and_looked_back_on() {
    let asked = ["--seed", "7", "--level", "messy"];
    let lines = "told\nask strings\nask strings\nask no-such-sign\ncheck look-at-spool\nwho\nend\n";
    let text = said(&asked, lines);
    for word in [
        "A member says:",
        "Nothing here enters any record",
        "It was: Nozzle too cold",
        "The advice, with the same luck",
        "No: there is no such sign",
    ] {
        assert!(text.contains(word), "{word}: {text}");
    }
    let steps = text.split("Score").last().unwrap();
    assert_eq!(
        steps.matches("asked ").count(),
        1,
        "what changes nothing is no step: {steps}"
    );
    assert_eq!(said(&asked, lines), text, "the same seed is the same case");
    assert!(said(&["--seed", &"9".repeat(60)], "end\n").contains("It was"));
    assert!(said(&["--level", "dangerous"], "stop\n").contains("seen in time"));
}

#[test]
fn ways_are_rehearsed_on_every_level_and_what_makes_no_sense_is_one_clear_line() {
    let report = json(&run(
        &["practice", "rehearse", "--cases", "6", "--json"],
        "",
    ));
    let levels = report.as_array().unwrap();
    assert_eq!(levels.len(), 6);
    assert!(
        levels
            .iter()
            .all(|l| l["cases"] == 6 && l["ways"][0]["score"] == 0.0)
    );
    for (odd, word) in [
        (&["--seed", "seven"][..], "no whole number"),
        (&["--level", "easy"], "clear, messy"),
        (&["--family", "cables"], "path"),
        (&["rehearse", "--cases", "0"], "between 1 and"),
    ] {
        let out = run(&[&["practice"], odd].concat(), "");
        let error = String::from_utf8(out.stderr).unwrap();
        assert!(
            !out.status.success() && error.contains(word),
            "{odd:?}: {error}"
        );
    }
}
