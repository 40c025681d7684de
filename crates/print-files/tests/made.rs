//! Files of known truth: what the reader finds in them is what was put in.

use suspect_core::case::file as case_file;
use suspect_core::evidence::{Confidence, Facts};
use suspect_core::gcode::evidence::{Beside, Found, Says, says};
use suspect_core::gcode::ladder::{Plan, Quantity, Refusal, make};
use suspect_core::gcode::{Reader, Reading, differences, jumps, read, seam};
use suspect_core::knowledge::Knowledge;
use suspect_print_files::made::{Recipe, Start, Truth, file};

fn made(recipe: &Recipe) -> (String, Reading, Truth) {
    let (text, truth) = file(recipe);
    let reading = read(text.as_bytes());
    (text, reading, truth)
}

fn small() -> Recipe {
    Recipe {
        layers: 80,
        ..Recipe::default()
    }
}

fn facts(machine: &str, settings: &str) -> Facts {
    let text = format!(
        r#"{{ "format": "usual-suspect-case/1", "machine": {{ {machine} }}, "material": "pla",
            "settings": {{ {settings} }} }}"#
    );
    case_file::read(&Knowledge::shipped(), &text).unwrap()
}

fn asked(reading: &Reading, facts: &Facts, fault_mm: Option<f64>, good: Option<&Reading>) -> Says {
    says(
        &Knowledge::shipped(),
        reading,
        Beside {
            facts,
            fault_mm,
            good,
        },
    )
}

fn found<'a>(says: &'a Says, id: &str) -> Option<&'a Found> {
    says.findings.iter().find(|f| f.id == id)
}

/// Every kind of file that is made.
fn recipes() -> Vec<Recipe> {
    let plain = small();
    vec![
        plain.clone(),
        Recipe {
            relative: false,
            ..plain.clone()
        },
        Recipe {
            marked: false,
            ..plain.clone()
        },
        Recipe {
            marked: false,
            relative: false,
            settings: false,
            ..plain.clone()
        },
        Recipe {
            hollow: Some(true),
            ..plain.clone()
        },
        Recipe {
            layer: 0.28,
            width: 0.5,
            diameter: 2.85,
            speeds: [60.0, 90.0, 150.0, 100.0],
            ..plain
        },
    ]
}

#[test]
fn filament_time_retractions_flow_and_lines_are_as_they_were_written() {
    for recipe in recipes() {
        let (_, mut reading, truth) = made(&recipe);
        assert_eq!(reading.lines, truth.lines);
        assert_eq!(reading.retraction.count, truth.retractions);
        assert!(
            (reading.sum(|l| l.filament) - truth.filament).abs() < 1e-6,
            "{recipe:?}"
        );
        let plain = reading.sum(|l| l.plain_time);
        assert!(
            (plain - truth.plain_time).abs() < 1e-6 * plain,
            "{plain} {truth:?}"
        );
        if !recipe.settings {
            // Nothing in the file tells the diameter then.
            reading.diameter = (recipe.diameter, 0);
        }
        let peak = reading
            .peak()
            .map(|(_, l)| reading.flow(l.peak_rate))
            .unwrap();
        assert!(
            (peak - truth.peak_flow).abs() < 1e-6 * peak,
            "{peak} {truth:?}"
        );
        assert_eq!(reading.layers.len(), recipe.layers as usize);
        assert_eq!(reading.typical_height(), Some(recipe.layer));
        assert_eq!(reading.problem_count, 0);
        let width = reading.layers[20].width(reading.area());
        assert!((width - recipe.width).abs() < 0.002, "{width}");
    }
}

#[test]
fn odd_pieces_give_what_the_whole_gives() {
    for recipe in recipes() {
        let (text, whole, _) = made(&Recipe {
            layers: 12,
            ..recipe
        });
        for length in [1, 7, 4096, 65_537] {
            let mut reader = Reader::new();
            text.as_bytes()
                .chunks(length)
                .for_each(|piece| reader.feed(piece));
            assert_eq!(reader.finish(), whole, "pieces of {length}");
        }
    }
}

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
fn the_time_is_near_that_of_a_careful_simulation() {
    // A second way of reckoning: all moves at once, not a window of them.
    let (text, reading, _) = made(&Recipe {
        layers: 20,
        ..small()
    });
    let careful = careful_time(&text, 1500.0, 8.0);
    let time = reading.sum(|l| l.time);
    assert!(
        (time - careful).abs() < 0.03 * careful,
        "{time} is not {careful}"
    );
}

/// Time by passes over the whole list of moves, in the plane: filament alone stands still.
fn careful_time(text: &str, acceleration: f64, jerk: f64) -> f64 {
    let mut moves: Vec<([f64; 2], f64, f64)> = Vec::new();
    let (mut at, mut feed, mut still) = ([0.0, 0.0], 25.0, 0.0);
    let word = |line: &str, letter: char| -> Option<f64> {
        line.split_whitespace()
            .find_map(|w| w.strip_prefix(letter)?.parse().ok())
    };
    for line in text.lines().filter(|l| l.starts_with("G1 ")) {
        feed = word(line, 'F').map_or(feed, |f| f / 60.0);
        let to = [
            word(line, 'X').unwrap_or(at[0]),
            word(line, 'Y').unwrap_or(at[1]),
        ];
        let way = [to[0] - at[0], to[1] - at[1]];
        let length = way[0].hypot(way[1]);
        if length > 0.0 {
            moves.push((way.map(|w| w / length), length, feed));
        } else if let Some(e) = word(line, 'E') {
            moves.push(([9.0, 9.0], e.abs(), feed));
        } else {
            still += 0.2 / 10.0;
        }
        at = to;
    }
    let corner = |n: usize| -> f64 {
        let (before, after) = (&moves[n - 1], &moves[n]);
        if before.0[0] > 1.0 || after.0[0] > 1.0 {
            return 0.0;
        }
        let speed = before.2.min(after.2);
        let turn = (0..2)
            .map(|i| (after.0[i] - before.0[i]).abs())
            .fold(0.0, f64::max);
        if turn * speed > jerk {
            jerk / turn
        } else {
            speed
        }
    };
    let mut ends = vec![0.0; moves.len() + 1];
    (1..moves.len()).for_each(|n| ends[n] = corner(n));
    for n in (0..moves.len()).rev() {
        ends[n] = f64::min(
            ends[n],
            (ends[n + 1] * ends[n + 1] + 2.0 * acceleration * moves[n].1).sqrt(),
        );
    }
    for n in 0..moves.len() {
        ends[n + 1] = f64::min(
            ends[n + 1],
            (ends[n] * ends[n] + 2.0 * acceleration * moves[n].1).sqrt(),
        );
    }
    let each = moves.iter().enumerate().map(|(n, (_, length, speed))| {
        let (a, b) = (ends[n], ends[n + 1]);
        let peak = ((2.0 * acceleration * length + a * a + b * b) / 2.0)
            .sqrt()
            .min(*speed);
        let ramps = (2.0 * peak * peak - a * a - b * b) / (2.0 * acceleration);
        (2.0 * peak - a - b) / acceleration + (length - ramps).max(0.0) / peak
    });
    still + each.sum::<f64>()
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

fn plan(quantity: Quantity, from: f64, step: f64) -> Plan {
    Plan {
        quantity,
        from,
        step,
        band_mm: 4.0,
        base_mm: 1.0,
    }
}

#[test]
fn a_ladder_read_back_is_the_ladder() {
    let knowledge = Knowledge::shipped();
    let (text, plain, _) = made(&Recipe {
        fan: 0.0,
        ..small()
    });
    let pla = facts("", "");
    for (quantity, from, step) in [
        (Quantity::NozzleC, 220.0, -5.0),
        (Quantity::FanPercent, 20.0, 20.0),
        (Quantity::FlowRatio, 0.9, 0.05),
        (Quantity::SpeedPercent, 60.0, 20.0),
    ] {
        let ladder = make(
            &knowledge,
            &pla,
            text.as_bytes(),
            &plan(quantity, from, step),
        )
        .unwrap();
        let back = read(&ladder.text);
        assert_eq!(ladder.bands.len(), 4);
        assert_eq!(back.layers.len(), plain.layers.len());
        for band in &ladder.bands {
            let inside = back
                .layers
                .iter()
                .find(|l| l.z - 0.1 > band.from_mm)
                .unwrap();
            assert_eq!(
                inside.line,
                band.line + 1,
                "{quantity}: the command stands before its layer"
            );
            let value = match quantity {
                Quantity::NozzleC => f64::from(inside.nozzle.value),
                Quantity::FanPercent => f64::from(inside.fan.value) * 100.0,
                Quantity::FlowRatio => f64::from(inside.flow_factor.value),
                _ => f64::from(inside.speed_factor.value) * 100.0,
            };
            assert!(
                (value - band.value).abs() < 0.3,
                "{quantity} {value} {band:?}"
            );
        }
        // Nothing else changes: without the commands put in it is the file it was.
        let without: Vec<&str> = std::str::from_utf8(&ladder.text)
            .unwrap()
            .lines()
            .filter(|l| !l.contains("; band of"))
            .collect();
        assert!(without.into_iter().eq(text.lines()));
    }
}

#[test]
fn a_ladder_is_refused_where_it_would_harm_or_teach_nothing() {
    let knowledge = Knowledge::shipped();
    let (text, ..) = made(&Recipe {
        fan_change: Some((9.0, 40.0)),
        ..small()
    });
    let make = |facts: &Facts, plan: &Plan| make(&knowledge, facts, text.as_bytes(), plan);
    let pla = facts("", "");
    let hot = make(&pla, &plan(Quantity::NozzleC, 215.0, 20.0)).unwrap_err();
    assert!(matches!(hot, Refusal::Window { .. }), "{hot}");
    let lined = facts(r#""hotend": "lined""#, "");
    let mut unknown = lined.clone();
    unknown.context.set("material", "petg").unwrap();
    let hot = make(&unknown, &plan(Quantity::NozzleC, 230.0, 5.0)).unwrap_err();
    assert!(hot.to_string().contains("lined"), "{hot}");
    let retract = make(&pla, &plan(Quantity::RetractMm, 0.5, 0.2)).unwrap_err();
    assert_eq!(retract, Refusal::NoFirmwareRetraction);
    let own = make(&pla, &plan(Quantity::FanPercent, 0.0, 20.0)).unwrap_err();
    assert!(
        matches!(own, Refusal::Set { .. }),
        "the file changes its fan itself: {own}"
    );
    let low = Plan {
        band_mm: 12.0,
        ..plan(Quantity::NozzleC, 215.0, -5.0)
    };
    assert!(matches!(make(&pla, &low).unwrap_err(), Refusal::Low { .. }));
    for (band_mm, step) in [(0.3, -5.0), (4.0, 0.0), (f64::NAN, -5.0)] {
        let odd = Plan {
            band_mm,
            step,
            ..plan(Quantity::NozzleC, 215.0, -5.0)
        };
        assert!(matches!(make(&pla, &odd).unwrap_err(), Refusal::Number(_)));
    }
}
