//! Whatever is typed at the bench, a measure answers: what is missing, what is wrong, or numbers
//! that are numbers.

use proptest::prelude::*;
use suspect_core::measures::{
    Bench, Given, Inputs, Kind, Measure, Out, Output, Raw, Reading, against, by_name, formulas,
    measures,
};

/// Numbers as people type them, and as they should not.
fn typed() -> impl Strategy<Value = String> {
    prop_oneof![
        3 => (-500.0..2000.0f64).prop_map(|v| format!("{v:.3}")),
        2 => (1..400i32).prop_map(|v| v.to_string()),
        2 => prop::collection::vec(0.01..300.0f64, 1..24)
            .prop_map(|all| all.iter().map(|v| format!("{v:.2}")).collect::<Vec<_>>().join(" ")),
        1 => Just("0,45".to_string()),
        1 => Just("0.018 in".to_string()),
        1 => Just("98 %".to_string()),
        1 => Just("1e300".to_string()),
        1 => Just("NaN; inf; -0".to_string()),
        1 => "\\PC{0,12}",
    ]
}

/// Some inputs of a measure, filled in turn from what was typed.
fn filled(of: &Measure, texts: &[Option<String>]) -> Inputs {
    let mut raw = Inputs::new();
    for (input, text) in of.inputs.iter().zip(texts.iter().cycle()) {
        let Some(text) = text else { continue };
        let text = match input.kind {
            Kind::Choice(words) => words[text.len() % words.len()].to_string(),
            _ => text.clone(),
        };
        raw.insert(input.id.to_string(), Raw::Text(text));
    }
    raw
}

/// What must hold of anything that follows.
fn sound(of: &Measure, given: &Given, out: &Out) {
    for (name, value) in &out.outputs {
        let finite = match value {
            Output::Number(v) => v.is_finite(),
            Output::Numbers(all) => all.iter().all(|v| v.is_finite()),
            Output::Word(_) | Output::Words(_) => true,
        };
        assert!(finite, "{}: {name} is {value:?}", of.id);
    }
    for (finding, states) in &out.findings {
        let sum: f64 = states.iter().map(|(_, l)| l).sum();
        assert!((sum - 1.0).abs() < 1e-3, "{} {finding}: {sum}", of.id);
        assert!(states.iter().all(|(_, l)| (0.0..=1.0).contains(l)));
    }
    assert!(
        !out.slipped || out.findings.is_empty(),
        "{}: a slip speaks of nobody",
        of.id
    );
    assert!(!out.result.is_empty(), "{}: a sentence says it", of.id);
    assert!(
        !out.result.contains("NaN") && !out.result.contains("inf "),
        "{}",
        out.result
    );
    assert!(formulas(of, given, out).len() <= by_name(of).len());
    assert!(against(of, given, out).is_none_or(f64::is_finite));
}

proptest! {
    #![proptest_config(ProptestConfig {
        cases: 3000,
        failure_persistence: None,
        ..ProptestConfig::default()
    })]

    #[test]
    fn any_numbers_and_any_words_are_answered(
        at in 0usize..52,
        texts in prop::collection::vec(prop::option::weighted(0.8, typed()), 1..14),
    ) {
        let of = measures().nth(at).unwrap();
        let raw = filled(of, &texts);
        match of.bench(&raw, false) {
            Bench::Missing(inputs) => prop_assert!(inputs.iter().all(|i| i.needed)),
            Bench::Wrong(by_input, together) => {
                prop_assert!(!by_input.is_empty() || together.is_some());
                for (id, why) in &by_input {
                    prop_assert!(why.to_string().contains(id), "{id}: {why}");
                    prop_assert_eq!(why.to_string().lines().count(), 1);
                }
            }
            Bench::Says(given, out) => {
                sound(of, &given, &out);
                // What is kept of it says the same when it is read again.
                let kept = Reading::of(of, &raw, false).unwrap();
                let (_, again) = kept.reckon().unwrap();
                prop_assert_eq!(again.outputs, out.outputs);
                prop_assert_eq!(again.findings, out.findings);
            }
        }
    }
}
