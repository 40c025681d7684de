//! Outcomes read as numbers: likelihoods with the reading's uncertainty, slips caught.

use std::sync::LazyLock;
use suspect_core::case::{CaseState, Entry, Event, Refusal, accept, replay};
use suspect_core::evidence::{Answer, Facts};
use suspect_core::knowledge::Knowledge;
use suspect_core::measures::{GAUGES, Readings, gauge};
use time::OffsetDateTime;

static K: LazyLock<Knowledge> = LazyLock::new(Knowledge::shipped);

/// "step_mm=4 step_uncertainty_mm=0.1": the numbers not said are the usual ones.
fn readings(check: &str, said: &str) -> Readings {
    let usual = gauge(check)
        .unwrap()
        .inputs
        .iter()
        .filter_map(|i| Some((i.number.id.to_string(), vec![i.usual?])));
    let mut all: Readings = usual.collect();
    for (id, values) in said.split_whitespace().map(|w| w.split_once('=').unwrap()) {
        all.insert(
            id.into(),
            values.split(',').map(|v| v.parse().unwrap()).collect(),
        );
    }
    all
}

/// Shares of the outcomes by identifier, likeliest first.
fn shares(check: &str, facts: &Facts, said: &str) -> Vec<(String, f64)> {
    let finding = K.finding_id(check).unwrap();
    let answer = gauge(check)
        .unwrap()
        .answer(&K, facts, finding, &readings(check, said))
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
    assert!((out.iter().map(|o| o.1).sum::<f64>() - 1.0).abs() < 1e-9);
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

/// A check, what was read, and what the trade says of it.
const OF_THE_TRADE: [(&str, &str, &str); 22] = [
    (
        "wall-thickness",
        "wall_mm=0.45,0.46,0.44,0.45 set_width_mm=0.45",
        "on-target",
    ),
    (
        "wall-thickness",
        "wall_mm=0.52,0.53,0.52,0.51 set_width_mm=0.45",
        "thick",
    ),
    (
        "wall-thickness",
        "wall_mm=0.38,0.37,0.38,0.38 set_width_mm=0.45",
        "thin",
    ),
    (
        "wall-thickness",
        "wall_mm=0.38,0.52,0.41,0.55 set_width_mm=0.45",
        "scattered",
    ),
    ("extruder-steps-free", "remaining_mm=20", "right"),
    ("extruder-steps-free", "remaining_mm=27", "short"),
    ("extruder-steps-hot", "remaining_mm=14", "long"),
    (
        "probe-repeat",
        "cool_mm=0.101,0.104,0.099,0.102,0.100 warm_mm=0.110,0.112,0.108,0.111,0.109",
        "repeats",
    ),
    (
        "probe-repeat",
        "cool_mm=0.10,0.17,0.05,0.14,0.08 warm_mm=0.11,0.18,0.04,0.15,0.07",
        "scatters",
    ),
    (
        "probe-repeat",
        "cool_mm=0.101,0.104,0.099,0.102,0.100 warm_mm=0.250,0.253,0.249,0.252,0.251",
        "drifts-warm",
    ),
    (
        "measure-filament",
        "diameter_mm=1.75,1.74,1.76,1.75,1.75,1.74",
        "even-right",
    ),
    (
        "measure-filament",
        "diameter_mm=1.62,1.80,1.70,1.85,1.66,1.78",
        "uneven",
    ),
    (
        "measure-filament",
        "diameter_mm=2.85,2.84,2.85,2.86,2.85,2.85",
        "wrong-diameter",
    ),
    (
        "ripple-two-speeds",
        "slow_mm_s=40 slow_spacing_mm=1.0 fast_mm_s=80 fast_spacing_mm=2.05",
        "grows-with-speed",
    ),
    (
        "ripple-two-speeds",
        "slow_mm_s=40 slow_spacing_mm=2.0 fast_mm_s=80 fast_spacing_mm=2.05",
        "fixed-spacing",
    ),
    (
        "chamber-watts",
        "with_w=410 without_w=120 rating_w=300",
        "as-rated",
    ),
    (
        "chamber-watts",
        "with_w=300 without_w=120 rating_w=300",
        "low",
    ),
    ("z-travel", "travelled_mm=50.05", "right"),
    ("z-travel", "travelled_mm=48.6", "short"),
    ("axis-motor-heat", "case_c=58", "ordinary"),
    ("feeder-heat", "case_c=92", "too-hot"),
    ("driver-heat", "case_c=130", "too-hot"),
];

#[test]
fn readings_of_the_trade_speak_for_what_the_trade_says() {
    for (check, said, state) in OF_THE_TRADE {
        assert_eq!(best(check, said), state, "{check} {said}");
    }
}

#[test]
fn steps_of_now_are_asked_and_may_be_left_out() {
    let reckon = |said: &str| {
        let gauge = gauge("extruder-steps-hot").unwrap();
        let given = readings("extruder-steps-hot", said);
        gauge.accept(&given).unwrap();
        gauge.reckon(&K, &Facts::default(), &given).lines.join(" ")
    };
    // 95 of 100 mm fed: 93 · 100 / 95 = 97.9.
    assert!(reckon("remaining_mm=25 steps_now=93").contains("= 97.9 steps/mm"));
    assert!(reckon("remaining_mm=25").contains("old steps · 1.0526"));
}

#[test]
fn cool_heights_alone_say_nothing_of_a_drift() {
    let cool = "cool_mm=0.101,0.104,0.099,0.102,0.100";
    let shares = shares("probe-repeat", &Facts::default(), cool);
    let of = |state: &str| shares.iter().find(|s| s.0 == state).unwrap().1;
    assert_eq!(of("repeats"), of("drifts-warm"));
    assert!(of("scatters") < 0.1);
    let reckoned = gauge("probe-repeat").unwrap().reckon(
        &K,
        &Facts::default(),
        &readings("probe-repeat", "cool_mm=0.1,0.9,0.1"),
    );
    let warned = reckoned.warnings.join(" ");
    for part in ["3 of ten heights", "0.9 mm cool is a retry", "Cool only"] {
        assert!(warned.contains(part), "{warned}");
    }
}

#[test]
fn slips_are_asked_about_and_every_gauge_knows_its_outcomes() {
    let warns = |check: &str, said: &str| {
        gauge(check)
            .unwrap()
            .reckon(&K, &Facts::default(), &readings(check, said))
            .warnings
            .join(" ")
    };
    assert!(warns("wall-thickness", "wall_mm=0.0177,0.0178,0.0177,0.0179").contains("inches"));
    assert!(warns("wall-thickness", "wall_mm=4.5,4.5,4.6,4.4").contains("decimal"));
    assert!(warns("wall-thickness", "wall_mm=0.45").contains("1 of the four"));
    assert!(
        warns(
            "measure-filament",
            "diameter_mm=0.069,0.069,0.069,0.069,0.069,0.069"
        )
        .contains("inches")
    );
    assert!(warns("chamber-watts", "with_w=120 without_w=410 rating_w=300").contains("swapped"));
    assert!(
        warns(
            "ripple-two-speeds",
            "slow_mm_s=80 slow_spacing_mm=1 fast_mm_s=82 fast_spacing_mm=1"
        )
        .contains("too near")
    );
    assert_eq!(warns("z-travel", "travelled_mm=50"), "");
    for gauge in &GAUGES {
        let finding = K.finding(K.finding_id(gauge.check).expect("a check"));
        let said: Readings = gauge
            .inputs
            .iter()
            .map(|i| {
                (
                    i.number.id.into(),
                    vec![(i.number.min.max(0.5) + i.number.max.min(40.0)) / 2.0],
                )
            })
            .collect();
        let reckoned = gauge.reckon(&K, &Facts::default(), &said);
        for (state, _) in &reckoned.likelihood {
            assert!(finding.state(state).is_some(), "{}: {state}", gauge.check);
        }
        assert_eq!(
            reckoned.likelihood.len(),
            finding.states.len(),
            "{}",
            gauge.check
        );
        assert!(!reckoned.result.is_empty() && !reckoned.lines.is_empty());
    }
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
        readings: readings("shift-size", said),
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
            note: None,
            minutes: 1.0,
        },
    ) {
        Err(Refusal::Invalid { field, problem }) => (field, problem.to_string()),
        other => panic!("{other:?}"),
    };
    let mut far = readings("shift-size", "step_mm=4.0");
    far.insert("step_mm".into(), vec![4000.0]);
    assert_eq!(
        refused(far),
        (
            "step_mm".into(),
            "size of the step must be between 0.05 and 100 mm, but 4000 mm was given".into()
        )
    );
    assert_eq!(
        refused(readings("shift-size", "")),
        ("step_mm".into(), "size of the step is missing".into())
    );
}
