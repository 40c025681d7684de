//! What comes before the first step: say what you see, does anything else look wrong?

use std::sync::LazyLock;
use suspect_core::case::{CaseState, What, analyse, replay};
use suspect_core::knowledge::{Knowledge, Section};
use suspect_core::planning::Workshop;
use suspect_core::testing::{events, log, opened};

static K: LazyLock<Knowledge> = LazyLock::new(Knowledge::shipped);

fn told(line: &str) -> CaseState {
    let mut all = vec![opened()];
    all.extend(events(line));
    replay(&K, &log(&all))
}

#[test]
fn a_case_without_a_fact_is_asked_what_is_seen_and_given_no_step() {
    let analysis = analyse(&K, &told(""), &Workshop::default());
    assert_eq!(analysis.next.what, What::Tell);
    assert!(!analysis.next.what.runs_the_machine() && analysis.look_over.is_none());
    let written = What::Tell.written(&K).to_string();
    assert_eq!(What::parse(&K, &written), Some(What::Tell));
    assert_ne!(
        analyse(&K, &told("strings=hairs"), &Workshop::default())
            .next
            .what,
        What::Tell
    );
}

#[test]
fn with_one_fact_a_glance_comes_first_and_spares_minutes() {
    for sign in [
        "corners-lift=present",
        "gaps-top-skin=present",
        "layer-step=present",
    ] {
        let analysis = analyse(&K, &told(sign), &Workshop::default());
        let look = analysis
            .look_over
            .unwrap_or_else(|| panic!("{sign}: no glance"));
        assert!(look.saves > 1.0 && look.minutes > 0.0, "{sign} {look:?}");
        for f in &look.signs {
            let finding = K.finding(*f);
            assert!(matches!(finding.section, Section::Print | Section::Machine));
            assert!(!sign.starts_with(&finding.id));
        }
    }
}

#[test]
fn what_was_looked_over_is_not_asked_again() {
    let nothing_else: Vec<String> = K
        .findings
        .iter()
        .filter(|f| f.presence() && matches!(f.section, Section::Print | Section::Machine))
        .filter(|f| f.id != "layer-step" && f.id != "heater-stays-on")
        .map(|f| format!("{}=absent??", f.id))
        .collect();
    let line = format!("layer-step=present {}", nothing_else.join(" "));
    assert_eq!(
        analyse(&K, &told(&line), &Workshop::default()).look_over,
        None
    );
}

#[test]
fn the_glance_never_stands_before_a_stop() {
    let analysis = analyse(&K, &told("burnt-smell=present"), &Workshop::default());
    assert!(matches!(analysis.next.what, What::ClearStop(_)) && analysis.look_over.is_none());
    let error = analyse(&K, &told("heat-error-stop=present"), &Workshop::default());
    assert!(error.look_over.is_none(), "the cold look comes first");
}
