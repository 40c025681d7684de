//! What a file says of a case, in files made to say it.

use crate::kit::{asked, facts, found, made, small};
use suspect_core::evidence::{Confidence, Facts};
use suspect_core::gcode::{differences, jumps, seam};
use suspect_print_files::made::{Recipe, Start};

#[test]
fn the_start_tells_the_mesh_and_a_manual_machine_has_none() {
    let probe = facts(r#""levelling": "probe""#, "");
    for (start, word, state) in [
        (Start::HomesOnly, "homes-only", "ignores-mesh"),
        (Start::Measures, "measured", "loads-mesh"),
        (Start::Loads, "loaded", "loads-mesh"),
        (Start::MeasuresAndLoads, "measured-and-loaded", "loads-mesh"),
    ] {
        let (_, reading, _) = made(&Recipe {
            start,
            layers: 10,
            ..small()
        });
        assert_eq!(reading.mesh.word(), Some(word));
        let says = asked(&reading, &probe, None, None);
        let mesh = found(&says, "start-code-mesh").unwrap();
        assert_eq!(mesh.state, state);
        assert!(!mesh.lines.is_empty());
        let manual = facts(r#""levelling": "manual""#, "");
        assert!(found(&asked(&reading, &manual, None, None), "start-code-mesh").is_none());
    }
}

#[test]
fn a_ledge_in_a_hollow_begins_in_the_air_unless_it_is_supported() {
    let (_, air, _) = made(&Recipe {
        hollow: Some(false),
        ..small()
    });
    let (_, supported, _) = made(&Recipe {
        hollow: Some(true),
        ..small()
    });
    let none = Facts::default();
    let says = asked(&air, &none, Some(7.1), None);
    let look = found(&says, "support-look").unwrap();
    assert_eq!(
        (look.state.as_str(), look.confidence),
        ("unsupported", Confidence::Sure)
    );
    assert!(look.why.contains("7.2 mm"), "{}", look.why);
    assert_eq!(found(&says, "layer-view").unwrap().state, "path-shows-it");
    let says = asked(&supported, &none, Some(30.0), None);
    let look = found(&says, "support-look").unwrap();
    assert_eq!(
        (look.state.as_str(), look.confidence),
        ("supported", Confidence::Hunch)
    );
    assert!(
        found(&says, "layer-view").is_none(),
        "nothing is there at 30 mm"
    );
}

#[test]
fn a_fan_that_changes_at_a_height_is_named_and_does_not_accuse_the_path() {
    let (_, reading, _) = made(&Recipe {
        fan_change: Some((9.0, 40.0)),
        ..small()
    });
    let found_there = jumps::at(&reading, 9.3);
    let fan = found_there
        .iter()
        .find(|j| j.what.id() == "fan_percent")
        .unwrap();
    assert_eq!((fan.from, fan.to), (100.0, 40.0));
    assert!((fan.z - 9.0).abs() < 1e-6);
    assert!(fan.line > reading.layers[44].line);
    let says = asked(&reading, &Facts::default(), Some(9.3), None);
    assert_eq!(found(&says, "layer-view").unwrap().state, "path-normal");
}

#[test]
fn the_melt_limit_is_passed_where_it_is_passed() {
    let fast = Recipe {
        speeds: [60.0, 90.0, 250.0, 200.0],
        acceleration: 5000.0,
        ..small()
    };
    let (_, reading, _) = made(&fast);
    let known = facts(r#""hotend": "lined""#, r#""melt_limit_mm3_s": 12"#);
    let says = asked(&reading, &known, None, None);
    assert_eq!(found(&says, "flow-demand").unwrap().state, "over-limit");
    assert!(
        says.signs
            .iter()
            .any(|s| s.what == "over-melt-limit" && !s.lines.is_empty())
    );
    let (_, slow, _) = made(&small());
    assert_eq!(
        found(&asked(&slow, &known, None, None), "flow-demand")
            .unwrap()
            .state,
        "easy"
    );
    let nothing = asked(&slow, &Facts::default(), None, None);
    assert!(
        found(&nothing, "flow-demand").is_none(),
        "no hot end is known"
    );
}

#[test]
fn what_only_the_machine_or_the_spool_knows_is_not_claimed() {
    let (_, reading, _) = made(&small());
    let says = asked(&reading, &Facts::default(), None, None);
    for id in [
        "slicer-diameter",
        "nozzle-size-set",
        "layer-view",
        "settings-review",
        "seam-direction",
    ] {
        assert!(found(&says, id).is_none(), "{id}");
    }
    let known = facts("", r#""filament_mm": 2.85, "nozzle_mm": 0.4"#);
    let says = asked(&reading, &known, None, None);
    assert_eq!(found(&says, "slicer-diameter").unwrap().state, "differs");
    let nozzle = found(&says, "nozzle-size-set").unwrap();
    assert_eq!(
        (nozzle.state.as_str(), nozzle.confidence),
        ("matches", Confidence::Hunch)
    );
}

#[test]
fn numbers_top_layers_parking_and_seams_come_out_of_the_file() {
    let (_, reading, _) = made(&Recipe {
        top_layers: 3,
        ..small()
    });
    let says = asked(&reading, &Facts::default(), None, None);
    assert_eq!(found(&says, "top-layers-count").unwrap().state, "few");
    assert_eq!(found(&says, "layer-parking").unwrap().state, "off");
    assert!(seam::alignment(&reading).unwrap().aligned());
    let number = |id: &str| {
        says.numbers
            .iter()
            .find(|n| n.id.id() == id)
            .map(|n| n.value)
    };
    for (id, value) in [
        ("nozzle_c", 210.0),
        ("bed_c", 60.0),
        ("fan_percent", 100.0),
        ("accel_mm_s2", 1500.0),
        ("layer_mm", 0.2),
        ("line_width_mm", 0.45),
        ("retract_mm", 0.8),
        ("retract_mm_s", 35.0),
        ("top_layers", 3.0),
        ("infill_percent", 9.0),
        ("walls", 2.0),
        ("filament_set_mm", 1.75),
        ("flow_ratio", 1.0),
    ] {
        assert_eq!(number(id), Some(value), "{id}");
    }
    assert_eq!(
        number("nozzle_mm"),
        None,
        "which nozzle is fitted the file does not know"
    );
}

#[test]
fn two_files_differ_where_they_were_made_to_differ() {
    let (_, before, _) = made(&small());
    let recipe = Recipe {
        nozzle_c: [215.0, 195.0],
        start: Start::HomesOnly,
        retract: 1.6,
        ..small()
    };
    let (_, after, _) = made(&Recipe {
        fan_change: Some((9.0, 40.0)),
        ..recipe
    });
    let compared = differences::compare(&before, &after);
    let of = |name: &str| {
        let found = compared.differences.iter().find(|d| d.name == name);
        found.map(|d| {
            (
                d.before.clone().unwrap_or_default(),
                d.after.clone().unwrap_or_default(),
            )
        })
    };
    assert_eq!(
        of("nozzle temperature"),
        Some(("210 °C".into(), "195 °C".into()))
    );
    assert_eq!(
        of("mesh"),
        Some(("measured-and-loaded".into(), "homes-only".into()))
    );
    assert_eq!(of("retraction"), Some(("0.8 mm".into(), "1.6 mm".into())));
    assert_eq!(of("bed temperature"), None);
    let fan = compared
        .by_height
        .iter()
        .find(|s| s.figure.id() == "fan_percent")
        .unwrap();
    assert_eq!(
        (fan.from_mm, fan.to_mm, fan.before, fan.after),
        (9.0, 16.0, 100.0, 40.0)
    );
    let same = differences::compare(&before, &before);
    assert!(same.differences.is_empty() && same.by_height.is_empty());
    let says = asked(&after, &Facts::default(), None, Some(&before));
    assert_eq!(found(&says, "settings-review").unwrap().state, "changed");
    let says = asked(&before, &Facts::default(), None, Some(&before));
    assert_eq!(found(&says, "settings-review").unwrap().state, "unchanged");
}
