//! Outcomes read as numbers: likelihoods with the reading's uncertainty, slips caught.

use crate::trade::OF_THE_TRADE;
use std::sync::LazyLock;
use suspect_core::case::{CaseState, Entry, Event, Refusal, accept, replay};
use suspect_core::evidence::{Answer, Facts};
use suspect_core::knowledge::Knowledge;
use suspect_core::measures::{Out, Output, Readings, Told, gauge, gauges};
use time::OffsetDateTime;

static K: LazyLock<Knowledge> = LazyLock::new(Knowledge::shipped);

/// "step_mm=4 step_uncertainty_mm=0.1".
fn readings(said: &str) -> Readings {
    let pairs = said.split_whitespace().map(|w| w.split_once('=').unwrap());
    let read = |values: &str| values.split(',').map(|v| v.parse().unwrap()).collect();
    pairs
        .map(|(id, values)| (id.to_string(), read(values)))
        .collect()
}

fn told(said: &str) -> Told {
    Told {
        readings: readings(said),
        confirmed: false,
    }
}

fn reckon(check: &str, said: &str) -> Out {
    gauge(check)
        .unwrap()
        .reckon(&K, &Facts::default(), &told(said))
        .unwrap()
}

/// Shares of the outcomes by identifier, likeliest first.
fn shares(check: &str, facts: &Facts, said: &str) -> Vec<(String, f64)> {
    let finding = K.finding_id(check).unwrap();
    let answer = gauge(check)
        .unwrap()
        .answer(&K, facts, finding, &told(said))
        .expect("the readings make sense");
    let Answer::Read(weights) = answer else {
        panic!("a reading")
    };
    let states = &K.finding(finding).states;
    let mut out: Vec<(String, f64)> = states
        .iter()
        .zip(weights)
        .map(|(s, w)| (s.id.clone(), w))
        .collect();
    assert!((out.iter().map(|o| o.1).sum::<f64>() - 1.0).abs() < 1e-5);
    assert!(
        out.iter().all(|o| o.1 > 0.0),
        "no reading is a verdict: {out:?}"
    );
    out.sort_by(|a, b| b.1.total_cmp(&a.1));
    out
}

fn best(check: &str, said: &str) -> String {
    shares(check, &Facts::default(), said)[0].0.clone()
}

#[test]
fn a_step_of_four_millimetres_fits_teeth_and_cycles_alike() {
    let of = |said: &str, state: &str| {
        shares("shift-size", &Facts::default(), said)
            .into_iter()
            .find(|(s, _)| s == state)
            .unwrap()
            .1
    };
    // Five cycles of 0.8 mm and two teeth of 2 mm are the same 4.0 mm.
    assert!(of("step_mm=4.0", "tooth-multiples") > 0.4 && of("step_mm=4.0", "whole-cycles") > 0.2);
    // 2.4 mm is three cycles and no tooth; 3.0 mm is neither.
    assert!(of("step_mm=2.4", "whole-cycles") > 0.6 && of("step_mm=2.4", "tooth-multiples") < 0.05);
    assert!(of("step_mm=3.55 step_uncertainty_mm=0.05", "any-size") > 0.6);
    // Read badly, it says next to nothing.
    let vague: Vec<f64> = ["whole-cycles", "any-size"]
        .map(|s| of("step_mm=3.6 step_uncertainty_mm=0.8", s))
        .to_vec();
    assert!((vague[0] - vague[1]).abs() < 0.1, "{vague:?}");
}

#[test]
fn on_crossed_belts_a_diagonal_step_counts_half_cycles() {
    let mut facts = Facts::default();
    facts.context.set("motion", "crossed-belt").unwrap();
    let axis = K.finding_id("axis").unwrap();
    let diagonal = K.finding(axis).state("diagonal").unwrap();
    let straight = shares("shift-size", &facts, "step_mm=1.2 step_uncertainty_mm=0.05");
    facts.findings.insert(
        axis,
        suspect_core::evidence::Sighting {
            answer: Answer::State(diagonal),
            confidence: Default::default(),
        },
    );
    let slanted = shares("shift-size", &facts, "step_mm=1.2 step_uncertainty_mm=0.05");
    assert_eq!(straight[0].0, "any-size");
    assert_eq!(slanted[0].0, "whole-cycles");
}

#[test]
fn readings_of_the_trade_speak_for_what_the_trade_says() {
    for (check, said, state) in OF_THE_TRADE {
        assert_eq!(best(check, said), state, "{check} {said}");
    }
}

fn number(out: &Out, name: &str) -> Option<f64> {
    let found = out.outputs.iter().find(|(n, _)| n == name);
    found.and_then(|(_, o)| match o {
        Output::Number(value) => Some(*value),
        _ => None,
    })
}

#[test]
fn steps_of_now_are_asked_and_may_be_left_out() {
    // 95 of 100 mm fed: 93 · 100 / 95 = 97.9.
    let known = reckon("extruder-steps-hot", "remaining_mm=25 steps_now=93");
    assert_eq!(number(&known, "steps_new"), Some(97.9));
    let unknown = reckon("extruder-steps-hot", "remaining_mm=25");
    assert_eq!(number(&unknown, "steps_new"), None);
    assert_eq!(number(&unknown, "ratio"), Some(0.95));
}

#[test]
fn cool_heights_alone_say_nothing_of_a_drift() {
    let cool = "cool_mm=0.101,0.104,0.099,0.102,0.100";
    let shares = shares("probe-repeat", &Facts::default(), cool);
    let of = |state: &str| shares.iter().find(|s| s.0 == state).unwrap().1;
    assert_eq!(of("repeats"), of("drifts-warm"));
    assert!(of("scatters") < 0.1);
    let warned = reckon("probe-repeat", "cool_mm=0.1,0.9,0.1")
        .warnings
        .join(" ");
    for part in ["3 of the 10", "cool: an outlier", "cool only"] {
        assert!(warned.contains(part), "{warned}");
    }
}

#[test]
fn every_gauge_speaks_of_the_outcomes_of_its_check_and_of_no_other() {
    for gauge in gauges() {
        let finding = K.finding(K.finding_id(gauge.check).expect("a check"));
        // Each a little more than the one before: two alike may tell nothing.
        let middle = |n: usize, i: &suspect_core::measures::Asked| {
            let (low, high) = (i.number.min.max(0.5), i.number.max.min(40.0));
            vec![f64::midpoint(low, high).floor() + n as f64; i.readings]
        };
        let needed = gauge.inputs.iter().filter(|i| !i.optional).enumerate();
        let mut readings: Readings = needed
            .map(|(n, i)| (i.number.id.to_string(), middle(n, i)))
            .collect();
        if gauge.check == "shift-size" {
            readings.insert("step_mm".into(), vec![4.0]);
        }
        let told = Told {
            readings,
            confirmed: true,
        };
        let out = gauge.reckon(&K, &Facts::default(), &told).unwrap();
        let coarse = out.findings.into_iter().find(|(f, _)| *f == gauge.check);
        let states = out.finer.or(coarse.map(|(_, s)| s)).expect(gauge.check);
        let mut said: Vec<&str> = states.iter().map(|(s, _)| *s).collect();
        let mut known: Vec<&str> = finding.states.iter().map(|s| s.id.as_str()).collect();
        said.sort_unstable();
        known.sort_unstable();
        assert_eq!(said, known, "{}", gauge.check);
    }
}

#[test]
fn a_reading_that_looks_like_a_slip_weighs_nothing_until_somebody_says_it_is_so() {
    let slips = [
        (
            "wall-thickness",
            "wall_mm=0.0177,0.0178,0.0177,0.0179",
            "inches",
        ),
        ("wall-thickness", "wall_mm=4.5,4.5,4.6,4.4", "decimal"),
        (
            "measure-filament",
            "diameter_mm=0.069,0.069,0.069",
            "inches",
        ),
        (
            "chamber-watts",
            "with_w=120 without_w=410 rating_w=300",
            "swapped",
        ),
        ("axis-motor-heat", "case_c=140", "Fahrenheit"),
    ];
    for (check, said, asked) in slips {
        let out = reckon(check, said);
        assert!(out.warnings.join(" ").contains(asked), "{check}: {out:?}");
        let finding = K.finding_id(check).unwrap();
        let answer = |confirmed: bool| {
            let told = Told {
                confirmed,
                ..told(said)
            };
            let answer = gauge(check)
                .unwrap()
                .answer(&K, &Facts::default(), finding, &told);
            let Some(Answer::Read(weights)) = answer else {
                panic!("{check}: {answer:?}");
            };
            weights[..K.finding(finding).states.len()].to_vec()
        };
        let alike = 1.0 / K.finding(finding).states.len() as f64;
        assert!(
            answer(false).iter().all(|w| (w - alike).abs() < 1e-12),
            "{check}"
        );
        assert!(
            answer(true).iter().any(|w| (w - alike).abs() > 0.1),
            "{check}"
        );
    }
    assert!(
        reckon("z-travel", "travelled_mm=50,50,50")
            .warnings
            .is_empty()
    );
    let over = reckon("chamber-watts", "with_w=520 without_w=120 rating_w=300");
    assert!(over.warnings.join(" ").contains("over its rating"));
}

fn entry(seq: u32, event: Event) -> Entry {
    Entry {
        seq,
        at: OffsetDateTime::UNIX_EPOCH,
        by: None,
        event,
    }
}

#[test]
fn a_reading_in_the_log_weighs_by_what_else_is_known_and_can_be_replaced() {
    let opened = Event::Opened {
        title: "Box".into(),
        machine_name: "Teal".into(),
        machine: Default::default(),
        material: None,
        spool: String::new(),
    };
    let read = |said: &str| Event::Gauged {
        check: "shift-size".into(),
        readings: readings(said),
        confirmed: false,
        note: None,
        minutes: 4.0,
    };
    let mut log = vec![entry(1, opened), entry(2, read("step_mm=4.0"))];
    let case = replay(&K, &log);
    let finding = K.finding_id("shift-size").unwrap();
    assert!(matches!(
        case.facts.findings[&finding].answer,
        Answer::Read(_)
    ));
    assert_eq!(case.minutes, 4.0);
    let said = case.facts.findings[&finding].answer.phrase(&K, finding);
    assert!(
        said.contains("belt pitch") && said.contains("motor steps") && said.contains('%'),
        "{said}"
    );
    assert!(accept(&K, &case, &read("step_mm=2.4")).is_ok());
    // An answer by eye replaces it; taking that back restores it.
    log.push(entry(
        3,
        Event::Checked {
            check: "shift-size".into(),
            outcome: "any-size".into(),
            confidence: Default::default(),
            minutes: 0.0,
        },
    ));
    assert!(matches!(
        replay(&K, &log).facts.findings[&finding].answer,
        Answer::State(_)
    ));
    log.push(entry(4, Event::Retracted { seq: 3 }));
    assert_eq!(replay(&K, &log).facts, case.facts);
    refused_with_their_field(&case);
}

/// Readings out of range or missing name the field and what it takes.
fn refused_with_their_field(case: &CaseState) {
    let refused = |readings: Readings| match accept(
        &K,
        case,
        &Event::Gauged {
            check: "shift-size".into(),
            readings,
            confirmed: false,
            note: None,
            minutes: 1.0,
        },
    ) {
        Err(Refusal::Invalid { field, problem }) => (field, problem.to_string()),
        other => panic!("{other:?}"),
    };
    let said = |said: &str| refused(readings(said));
    assert_eq!(
        said("step_mm=4000"),
        (
            "step_mm".into(),
            "the step must be between 0.001 and 2000 mm, but 4000 mm was given".into()
        )
    );
    let (field, why) = said("step_uncertainty_mm=0.2");
    assert!(
        field == "step_mm" && why.contains("the step"),
        "{field}: {why}"
    );
    assert_eq!(said("stride_mm=4").0, "stride_mm");
}
