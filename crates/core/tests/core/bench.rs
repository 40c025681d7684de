//! The measuring bench: worked cases whole, and what must hold for every measure.

use proptest::prelude::*;
use serde_json::{Value, json};
use std::collections::BTreeMap;
use suspect_core::measures::{Input, Inputs, Kind, Measure, Out, Output, Raw, Unit};
use suspect_core::measures::{answer, measure, measures};

/// Cases worked by hand or by an independent program.
const CASES: &str = include_str!("measures-cases.json");

fn cases() -> Vec<Value> {
    serde_json::from_str(CASES).unwrap()
}

fn near(want: &Value, got: &Value, tolerance: f64) -> bool {
    match (want, got) {
        (Value::Array(a), Value::Array(b)) => {
            a.len() == b.len() && a.iter().zip(b).all(|(a, b)| near(a, b, tolerance))
        }
        (Value::Number(a), Value::Number(b)) => {
            (a.as_f64().unwrap() - b.as_f64().unwrap()).abs() <= tolerance + 1e-9
        }
        (a, b) => a == b,
    }
}

fn map(value: &Value) -> impl Iterator<Item = (&String, &Value)> {
    value.as_object().into_iter().flatten()
}

/// What is wrong with the answer to a case.
fn wrong(case: &Value) -> Vec<String> {
    let of = measure(case["measure"].as_str().unwrap()).unwrap();
    let answered = answer(of, &json!({ "inputs": case["inputs"] }));
    let mut bad = Vec::new();
    if let Some(word) = case["refused"].as_str() {
        match answered {
            Err(why)
                if why
                    .to_string()
                    .to_lowercase()
                    .contains(&word.to_lowercase()) => {}
            other => bad.push(format!("wanted a refusal with {word}, got {other:?}")),
        }
        return bad;
    }
    let out = match answered {
        Ok(out) => out,
        Err(why) => return vec![why.to_string()],
    };
    for (name, want) in map(&case["expect"]) {
        let got = &out["outputs"][name];
        if !near(&want["value"], got, want["tolerance"].as_f64().unwrap()) {
            bad.push(format!("{name}: wanted {want}, got {got}"));
        }
    }
    for name in case["absent"].as_array().into_iter().flatten() {
        if !out["outputs"][name.as_str().unwrap()].is_null() {
            bad.push(format!("{name} should be absent"));
        }
    }
    let warned = out["warnings"].to_string().to_lowercase();
    for word in case["warns"].as_array().into_iter().flatten() {
        if !warned.contains(&word.as_str().unwrap().to_lowercase()) {
            bad.push(format!("no warning with {word}"));
        }
    }
    if case["findings"] == json!({}) && out["findings"] != json!({}) {
        bad.push("findings should be empty".into());
    }
    for (finding, states) in map(&case["findings"]) {
        for (state, want) in map(states) {
            let got = &out["findings"][finding][state];
            if !near(&want["value"], got, want["tolerance"].as_f64().unwrap()) {
                bad.push(format!("{finding}={state}: wanted {want}, got {got}"));
            }
        }
    }
    bad
}

#[test]
fn every_worked_case_comes_out_as_worked() {
    let all = cases();
    assert!(all.len() > 150);
    let bad: Vec<String> = all
        .iter()
        .enumerate()
        .flat_map(|(n, case)| {
            let told = wrong(case).into_iter();
            told.map(move |b| format!("{n} {}: {b}", case["measure"]))
        })
        .collect();
    assert!(bad.is_empty(), "{}", bad.join("\n"));
}

#[test]
fn every_measure_is_worked_and_says_what_it_does_not_show() {
    let cases = cases();
    let mut seen = BTreeMap::new();
    for measure in measures() {
        assert!(
            !measure.not.is_empty() && !measure.plain.is_empty(),
            "{}",
            measure.id
        );
        assert!(
            cases.iter().any(|c| c["measure"] == measure.id),
            "{}",
            measure.id
        );
        assert_eq!(seen.insert(measure.id, ()), None, "{} twice", measure.id);
        for input in measure.inputs {
            let (low, high) = input.range;
            assert!(low <= high, "{} {}", measure.id, input.id);
            assert!(
                input.usual.is_none_or(|u| (low..=high).contains(&u)),
                "{}",
                input.id
            );
        }
    }
    assert_eq!(seen.len(), 52);
}

/// A case that is answered, of every measure.
fn answered() -> impl Strategy<Value = (&'static Measure, Value)> {
    let all: Vec<Value> = cases()
        .into_iter()
        .filter(|c| c["refused"].is_null())
        .collect();
    prop::sample::select(all).prop_map(|case| {
        let of = measure(case["measure"].as_str().unwrap()).unwrap();
        (of, case["inputs"].clone())
    })
}

/// A number that makes no sense somewhere, or just may.
fn odd() -> impl Strategy<Value = Value> {
    prop_oneof![
        any::<f64>().prop_map(|v| json!(v)),
        (-1e3..1e3).prop_map(|v: f64| json!(v)),
        prop::collection::vec(-1e3..1e3, 0..25).prop_map(|v: Vec<f64>| json!(v)),
        Just(json!("")),
        Just(json!("NaN")),
        Just(json!("1e400")),
        Just(json!("zwölf")),
        Just(json!("−3")),
        Just(json!({})),
        Just(json!(true)),
        "[0-9]{1,4}[.,]?[0-9]{0,3} ?(mm|in|%|°F|g|kg|x)?".prop_map(|t| json!(t)),
    ]
}

fn sums_to_one(out: &Value) {
    for (finding, states) in map(&out["findings"]) {
        let sum: f64 = map(states).map(|(_, l)| l.as_f64().unwrap()).sum();
        assert!((sum - 1.0).abs() < 1e-4, "{finding}: {sum}");
        assert!(
            map(states).all(|(_, l)| l.as_f64().unwrap() > 0.0),
            "{finding}: a verdict"
        );
    }
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(800))]

    /// Whatever is typed into one field: an answer that adds up, or one line that names the field
    /// or what it makes no sense with.
    #[test]
    fn odd_input_is_answered_or_refused_in_one_line(
        (of, inputs) in answered(), which in any::<prop::sample::Index>(), value in odd()
    ) {
        let mut inputs = inputs;
        let input = which.get(of.inputs);
        inputs[input.id] = value;
        match answer(of, &json!({ "inputs": inputs })) {
            Ok(out) => {
                sums_to_one(&out);
                prop_assert!(!out["result"].as_str().unwrap().is_empty());
                for (name, value) in map(&out["outputs"]) {
                    prop_assert!(!value.is_null(), "{} is no number", name);
                }
            }
            Err(why) => {
                let why = why.to_string();
                prop_assert!(!why.contains('\n') && why.len() < 400, "{}", why);
            }
        }
    }

    /// Inches written as inches are the same lengths; and it is told that they were read so.
    #[test]
    fn inches_are_the_same_lengths_told(
        readings in prop::collection::vec(0.35..0.55f64, 1..20), calipers in 0.01..0.05f64
    ) {
        let of = measure("wall-thickness").unwrap();
        let asked = |wall: Vec<Raw>| -> Inputs {
            Inputs::from([
                ("wall_mm".into(), Raw::List(wall)),
                ("calipers_mm".into(), Raw::Number(calipers)),
            ])
        };
        let plain = readings.iter().map(|v| Raw::Number(*v)).collect();
        let inches = readings.iter().map(|v| Raw::Text(format!("{:.12} in", v / 25.4))).collect();
        let plain = of.reckon(&asked(plain)).unwrap();
        let inches = of.reckon(&asked(inches)).unwrap();
        prop_assert!(inches.warnings.iter().filter(|w| w.contains("read as")).count() > 0);
        for ((name, a), (_, b)) in plain.outputs.iter().zip(&inches.outputs) {
            if let (Output::Number(a), Output::Number(b)) = (a, b) {
                prop_assert!((a - b).abs() <= 0.0051, "{}: {} {}", name, a, b);
            }
        }
    }

    /// The same readings once more never make a mean less sure.
    #[test]
    fn more_readings_are_never_more_uncertain(
        readings in prop::collection::vec(1.70..1.80f64, 2..10)
    ) {
        let of = measure("measure-filament").unwrap();
        let twice: Vec<f64> = readings.iter().chain(&readings).copied().collect();
        let u = |all: &[f64]| {
            let given = all.iter().map(|v| Raw::Number(*v)).collect();
            let out = of.reckon(&Inputs::from([("diameter_mm".into(), Raw::List(given))])).unwrap();
            number(&out, "mean_u")
        };
        prop_assert!(u(&twice) <= u(&readings));
    }

    /// Lengths read in inches, a slipped decimal, a lost point: asked about, and then nothing is
    /// said of any suspect.
    #[test]
    fn a_slip_is_asked_about_and_says_nothing(
        wall in 0.40..0.50f64,
        factor in prop::sample::select(vec![25.4, 10.0, 0.1, 0.01, 0.0254])
    ) {
        let of = measure("wall-thickness").unwrap();
        let wall = [wall, wall + 0.01, wall - 0.01].map(|v| Raw::Number(v / factor)).to_vec();
        let out = of.reckon(&Inputs::from([("wall_mm".into(), Raw::List(wall))])).unwrap();
        prop_assert!(out.slipped && out.findings.is_empty());
        prop_assert!(out.warnings.iter().any(|w| w.contains("looks like")));
    }

    /// A wall and its target scaled alike: the same flow.
    #[test]
    fn flow_knows_no_scale(wall in 0.40..0.50f64, scale in 1.0..3.0f64) {
        let of = measure("wall-thickness").unwrap();
        let flow = |wall: f64, width: f64| {
            let out = of.reckon(&Inputs::from([
                ("wall_mm".into(), Raw::List(vec![Raw::Number(wall)])),
                ("set_width_mm".into(), Raw::Number(width)),
            ]));
            number(&out.unwrap(), "flow_full")
        };
        prop_assert!((flow(wall, 0.45) - flow(wall * scale, 0.45 * scale)).abs() < 0.0011);
    }
}

fn number(out: &Out, name: &str) -> f64 {
    let found = out.outputs.iter().find(|(n, _)| n == name);
    match found {
        Some((_, Output::Number(value))) => *value,
        other => panic!("{name}: {other:?}"),
    }
}

/// A value by its unit as a person may type it, and as the measure takes it.
fn typed(unit: Unit) -> Option<(&'static str, &'static str)> {
    match unit {
        Unit::Mm => Some(("1 in", "25.4")),
        Unit::C => Some(("140 °F", "60")),
        Unit::G => Some(("1.2 kg", "1200")),
        Unit::Min => Some(("2 h", "120")),
        Unit::H => Some(("30 min", "0,5")),
        Unit::S => Some(("2 min", "120")),
        Unit::MmS => Some(("3000 mm/min", "50")),
        Unit::W => Some(("0,5 kW", "500")),
        Unit::Ratio => Some(("98 %", "0.98")),
        _ => None,
    }
}

#[test]
fn units_are_read_alike_by_every_input_that_has_one() {
    let mut tried = 0;
    for input in measures().flat_map(|m| m.inputs) {
        let Some((worded, plain)) = typed(input.unit) else {
            continue;
        };
        let read = |text: &str| Input::typed(input, text, &mut Vec::new());
        match (read(worded), read(plain)) {
            (Ok(a), Ok(b)) => {
                assert!(
                    (a - b).abs() < 1e-9,
                    "{}: {worded} is not {plain}",
                    input.id
                );
                tried += 1;
            }
            // Whole numbers and narrow ranges refuse both alike.
            (a, b) => assert_eq!(a.is_err(), b.is_err(), "{}: {worded}", input.id),
        }
    }
    assert!(tried > 100, "{tried}");
}

#[test]
fn a_case_fills_what_was_not_given() {
    let of = measure("wall-thickness").unwrap();
    let case = json!({ "settings": { "flow_ratio": 0.9, "line_width_mm": 0.5 },
                       "material": "petg" });
    let asked = json!({ "inputs": { "wall_mm": [0.5, 0.5, 0.5, 0.5] }, "case": case });
    let out = answer(of, &asked).unwrap();
    assert_eq!(out["outputs"]["flow_full"], 0.9);
    let asked = json!({ "inputs": { "wall_mm": [0.5], "flow_now": 1.0 }, "case": case });
    assert_eq!(answer(of, &asked).unwrap()["outputs"]["flow_full"], 1.0);
    // A material with no density here is told, not taken for another in silence.
    let asked = json!({ "inputs": { "grams": 10 }, "case": { "material": "other" } });
    let out = answer(measure("filament-amount").unwrap(), &asked).unwrap();
    assert!(out["warnings"].to_string().contains("`other`"), "{out}");
    let bad = json!({ "inputs": {}, "case": { "settings": { "flow_ratio": true } } });
    assert!(
        answer(of, &bad)
            .unwrap_err()
            .to_string()
            .contains("flow_now")
    );
}

#[test]
fn lists_that_do_not_fit_are_refused_with_their_number() {
    for measure in measures() {
        for input in measure.inputs {
            let Kind::Readings(_, least, most) = input.kind else {
                continue;
            };
            for many in [least - 1, most + 1] {
                let asked = json!({ "inputs": { input.id: vec![1; many] } });
                let why = answer(measure, &asked).unwrap_err().to_string();
                assert!(why.contains(&format!("{many} were given")) || why.contains("missing"));
            }
        }
    }
}
