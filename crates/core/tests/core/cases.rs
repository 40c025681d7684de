//! Cases: the open file, the log and its replay, stops, and the explanation as a whole.

use std::sync::LazyLock;
use suspect_core::case::file;
use suspect_core::case::report::{EvidenceReport, Mode, line_up};
use suspect_core::knowledge::Knowledge;

static K: LazyLock<Knowledge> = LazyLock::new(Knowledge::shipped);

const PUPPET_JOINT: &str = r#"{
  "format": "usual-suspect-case/1", "title": "Puppet joint, one step to the left",
  "machine": { "feed": "direct", "hotend": "all-metal", "motion": "crossed-belt",
      "carriage": "rails", "levelling": "probe", "enclosure": "closed", "board_age": "protected" },
  "material": "petg",
  "settings": { "nozzle_c": 240, "bed_c": 80, "chamber_c": 38, "fan_percent": 40, "layer_mm": 0.2,
      "line_width_mm": 0.45, "speed_mm_s": 80, "melt_limit_mm3_s": 14 },
  "findings": [ { "id": "layer-step", "state": "present", "confidence": "sure" }, { "id": "onset",
      "state": "sudden" },
                { "id": "shift-size", "state": "any-size", "confidence": "likely" } ],
  "tried": [ { "aimed_at": "obstruction", "result": "same" } ], "cleared": [ "belt-loose" ] }"#;

/// A case of findings alone: "layer-step=present onset=sudden".
fn case(findings: &str, more: &str) -> String {
    let findings: Vec<String> = findings
        .split_whitespace()
        .map(|f| {
            f.split_once('=')
                .map(|(id, state)| format!(r#"{{ "id": "{id}", "state": "{state}" }}"#))
                .unwrap()
        })
        .collect();
    format!(
        r#"{{ "format": "usual-suspect-case/1" {more}, "findings": [ {} ] }}"#,
        findings.join(", ")
    )
}

fn leader(findings: &str, more: &str) -> (String, f64) {
    let report = line_up(
        &K,
        &file::read(&K, &case(findings, more)).unwrap(),
        Mode::Full,
    );
    (
        report.line_up[0].cause.clone(),
        report.line_up[0].probability,
    )
}

#[test]
fn the_explanation_of_a_case_is_as_accepted() {
    let report = line_up(&K, &file::read(&K, PUPPET_JOINT).unwrap(), Mode::Full);
    let mut text = String::new();
    for line in report.line_up.iter().take(4) {
        text += &format!(
            "{} {:.3} (prior {:.3})\n",
            line.cause, line.probability, line.prior
        );
        for row in &line.evidence {
            let (what, decibans) = match row {
                EvidenceReport::Finding {
                    finding,
                    state,
                    decibans,
                } => (format!("{finding}={state}"), decibans),
                EvidenceReport::Tried {
                    tried,
                    result,
                    decibans,
                } => (format!("tried {tried} {result}"), decibans),
                EvidenceReport::Cleared { cleared, decibans } => {
                    (format!("cleared {cleared}"), decibans)
                }
                EvidenceReport::Own { own, decibans } => (format!("own {own}"), decibans),
                EvidenceReport::Trials { trials, decibans } => {
                    (format!("trials {trials}"), decibans)
                }
            };
            text += &format!("    {what} {decibans:+.2}\n");
        }
    }
    text += &format!(
        "unlisted {:.3}, pairs {:.3}, next {} {}\n",
        report.unlisted, report.pairs_total, report.next[0].kind, report.next[0].id
    );
    insta::assert_snapshot!(text);
}

#[test]
fn a_stop_withholds_every_other_advice() {
    for (findings, more, stop) in [
        ("layer-step=present burnt-smell=present", "", "burning"),
        ("hotend-wiggle=sensor-loose", "", "heater-or-sensor-loose"),
        (
            "heat-error-stop=present temperature-wanders=jumps",
            "",
            "heating-error-jumps",
        ),
        ("plate-missing=present", "", "bed-or-plate"),
        ("mains-exposed=present", "", "mains-exposed"),
        ("heater-stays-on=present", "", "heater-stays-on"),
        (
            "layer-step=present",
            r#", "machine": { "board_age": "unprotected" }"#,
            "no-runaway-protection",
        ),
        (
            "layer-step=present",
            r#", "machine": { "hotend": "lined" }, "settings": { "nozzle_c": 250 }"#,
            "lined-too-hot",
        ),
        (
            "layer-step=present",
            r#", "machine": { "hotend": "lined" }, "settings": { "nozzle_c": 236,
                "lined_limit_c": 235 }"#,
            "lined-too-hot",
        ),
    ] {
        let report = line_up(
            &K,
            &file::read(&K, &case(findings, more)).unwrap(),
            Mode::Full,
        );
        assert!(
            report.stop && report.stops.contains(&stop.to_string()),
            "{stop}"
        );
        assert_eq!(report.next.len(), 1, "{stop}");
        assert_eq!(report.next[0].kind, "clear");
    }
}

#[test]
fn what_only_looks_like_a_stop_withholds_nothing() {
    for (findings, more) in [
        (
            "heat-error-stop=present temperature-wanders=jumps hotend-wiggle=tight",
            "",
        ),
        ("heat-error-stop=present temperature-wanders=hunts", ""),
        (
            "layer-step=present",
            r#", "machine": { "hotend": "lined" }, "settings": { "nozzle_c": 249 }"#,
        ),
        (
            "layer-step=present",
            r#", "machine": { "hotend": "lined" }, "settings": { "nozzle_c": 252,
                "lined_limit_c": 255 }"#,
        ),
    ] {
        assert!(
            !line_up(
                &K,
                &file::read(&K, &case(findings, more)).unwrap(),
                Mode::Full
            )
            .stop,
            "{findings}"
        );
    }
}

#[test]
fn heating_past_the_window_is_never_advised() {
    let advised = |hotend: &str, nozzle: u32| {
        let more = format!(
            r#", "machine": {{ "hotend": "{hotend}" }}, "material": "petg",
                "settings": {{ "nozzle_c": {nozzle} }}"#
        );
        let text = case(
            "dull-brittle=present layers-split=present extruder-clicks=present \
                speed-effect=worse-fast",
            &more,
        );
        let report = line_up(&K, &file::read(&K, &text).unwrap(), Mode::Full);
        report
            .next
            .iter()
            .any(|s| ["hotter-ten", "raise-nozzle-temperature"].contains(&s.id.as_str()))
    };
    assert!(advised("lined", 230) && advised("all-metal", 240));
    // PETG may go to 250 °C, but a lined hot end stops at 240 and is locked at 250.
    assert!(!advised("lined", 235) && !advised("lined", 240) && !advised("all-metal", 245));
}

#[test]
fn errors_of_a_case_file_name_path_value_and_nearest() {
    let err = |text: &str| file::read(&K, text).unwrap_err().to_string();
    assert_eq!(
        err(&case("layer-stp=present", "")),
        "findings[0].id: `layer-stp` is no known finding; did you mean `layer-step`?"
    );
    assert_eq!(
        err(&case("layer-step=presnt", "")),
        "findings[0].state: `presnt` is no state of `layer-step`: allowed are absent, present, \
            unknown; did you mean `present`?"
    );
    assert_eq!(
        err(&case(
            "layer-step=present onset=sudden layer-step=absent",
            ""
        )),
        "findings[2]: `layer-step` stands already at findings[0]: one value per finding"
    );
    assert_eq!(
        err(&case("", r#", "settings": { "nozzle_c": 2000 }"#)),
        "settings.nozzle_c: nozzle temperature must be between 0 and 500 °C, but 2000 °C was given"
    );
    assert_eq!(
        err(&case("flow-demand=easy", "")),
        "findings[0].id: `flow-demand` is drawn from the numbers in `settings` and cannot be given"
    );
    assert_eq!(
        err(&case("", r#", "cleared": [ "belt-lose" ]"#)),
        "cleared[0]: `belt-lose` is no known cause; did you mean `belt-loose`?"
    );
    assert_eq!(
        err(&case("", r#", "tried": [ { "result": "same" } ]"#)),
        "tried[0]: name either the `fix` or the cause it was `aimed_at`"
    );
    assert!(err(&case("", r#", "tryed": []"#)).starts_with("tryed: unknown field `tryed`"));
    assert!(err("{").starts_with("case: "));
    assert!(
        err(r#"{ "format": "usual-suspect-case/2" }"#)
            .starts_with("format: `usual-suspect-case/2` is not a format known here")
    );
    assert!(
        err(&case("", r#", "settings": { "nozzle_c": NaN }"#))
            .starts_with("settings.nozzle_c: expected value")
    );
    assert!(!err(&format!("{PUPPET_JOINT}\n{{")).contains('\n'));
}

#[test]
fn unknown_says_nothing_and_the_order_of_findings_does_not_matter() {
    let bits = |text: &str| {
        line_up(&K, &file::read(&K, text).unwrap(), Mode::Full)
            .line_up
            .iter()
            .map(|l| (l.cause.clone(), l.probability.to_bits()))
            .collect::<Vec<_>>()
    };
    assert_eq!(
        bits(&case(
            "layer-step=present onset=unknown firmware-protection=unknown",
            ""
        )),
        bits(&case("layer-step=present", ""))
    );
    assert_eq!(
        bits(&case(
            "layer-step=present onset=sudden axis=x push-by-hand=free",
            ""
        )),
        bits(&case(
            "push-by-hand=free axis=x layer-step=present onset=sudden",
            ""
        ))
    );
}

#[test]
fn a_check_supersedes_the_impression_it_settles() {
    let with_look = leader(
        "fades-out=present heatsink-fan=stopped heatsink-look=good",
        "",
    );
    let without = leader("fades-out=present heatsink-look=good", "");
    assert_eq!(with_look, without);
}

#[test]
fn the_published_schema_of_a_case_says_what_the_reader_accepts() {
    let text = include_str!("../../../../docs/case.schema.json");
    let schema: serde_json::Value = serde_json::from_str(text).unwrap();
    let settings = schema["properties"]["settings"]["properties"]
        .as_object()
        .unwrap();
    assert_eq!(settings.len(), suspect_core::settings::NUMBERS.len());
    for number in &suspect_core::settings::NUMBERS {
        let range = &settings[number.id];
        assert_eq!(
            (range["minimum"].as_f64(), range["maximum"].as_f64()),
            (Some(number.min), Some(number.max)),
            "{}",
            number.id
        );
    }
    for field in suspect_core::profile::FIELDS {
        let place = if field.id == "material" {
            &schema["properties"]["material"]
        } else {
            &schema["properties"]["machine"]["properties"][field.id]
        };
        let values: Vec<&str> = place["enum"]
            .as_array()
            .unwrap()
            .iter()
            .map(|v| v.as_str().unwrap())
            .collect();
        assert_eq!(
            values,
            field.values.iter().map(|v| v.id).collect::<Vec<_>>(),
            "{}",
            field.id
        );
    }
}
