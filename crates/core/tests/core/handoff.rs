//! What a reading of the bench says to a case, and what a log keeps of it.

use std::sync::LazyLock;
use suspect_core::case::{CaseState, Entry, Event, accept, replay};
use suspect_core::evidence::{Answer, Facts};
use suspect_core::knowledge::Knowledge;
use suspect_core::machine::{MachineEntry, MachineEvent, accept as accept_on_machine, devices};
use suspect_core::measures::{Inputs, Raw, Reading, answers, measure, measures, with_reading};
use suspect_core::ranking::rank;
use time::OffsetDateTime;

static K: LazyLock<Knowledge> = LazyLock::new(Knowledge::shipped);

fn typed(pairs: &[(&str, &str)]) -> Inputs {
    let raw = |(id, text): &(&str, &str)| ((*id).to_string(), Raw::Text((*text).to_string()));
    pairs.iter().map(raw).collect()
}

fn log(events: Vec<Event>) -> Vec<Entry> {
    let opened = Event::Opened {
        title: "Box".into(),
        machine_name: "Teal".into(),
        machine: Default::default(),
        material: None,
        spool: String::new(),
    };
    let all = std::iter::once(opened).chain(events).zip(1..);
    all.map(|(event, seq)| Entry {
        seq,
        at: OffsetDateTime::UNIX_EPOCH,
        by: None,
        event,
    })
    .collect()
}

fn benched(id: &str, pairs: &[(&str, &str)], confirmed: bool) -> Event {
    Event::Benched {
        reading: Reading::of(measure(id).unwrap(), &typed(pairs), confirmed).unwrap(),
        minutes: 3.0,
    }
}

#[test]
fn what_a_log_keeps_of_a_reading_says_the_same_when_it_is_read_again() {
    for of in measures().filter(|m| !m.card.example.is_empty()) {
        let reading = Reading::of(of, &of.example(), false).unwrap();
        let text = serde_json::to_string(&reading).unwrap();
        let again: Reading = serde_json::from_str(&text).unwrap();
        assert_eq!(again, reading, "{}", of.id);
        let (_, out) = again.reckon().unwrap();
        assert_eq!(
            out.outputs,
            of.reckon(&of.example()).unwrap().outputs,
            "{}",
            of.id
        );
        for (finding, answer) in answers(&K, of, &out) {
            let Answer::Read(weights) = answer else {
                panic!("{}: a reading is a likelihood", of.id);
            };
            let sum: f64 = weights.iter().sum();
            let id = &K.finding(finding).id;
            assert!((sum - 1.0).abs() < 1e-3, "{} {id}: {sum}", of.id);
        }
    }
}

#[test]
fn every_finding_a_measure_names_is_in_the_knowledge_with_its_states() {
    for of in measures().filter(|m| !m.card.example.is_empty()) {
        let out = of.reckon(&of.example()).unwrap();
        for (finding, states) in &out.findings {
            let known = K
                .finding_id(finding)
                .unwrap_or_else(|| panic!("{}: {finding}", of.id));
            for (state, _) in states {
                let known = K.finding(known).state(state);
                assert!(known.is_some(), "{}: {finding}={state}", of.id);
            }
        }
    }
}

#[test]
fn a_reading_of_the_bench_is_evidence_until_it_is_taken_back() {
    let thin = benched(
        "wall-thickness",
        &[("wall_mm", "0.37 0.38 0.37 0.37")],
        false,
    );
    let mut entries = log(vec![thin]);
    let case = replay(&K, &entries);
    let finding = K.finding_id("wall-thickness").unwrap();
    assert!(matches!(
        case.facts.findings[&finding].answer,
        Answer::Read(_)
    ));
    assert_eq!(case.minutes, 3.0);
    assert!(case.unknown.is_empty());
    let moved = rank(&K, &case.facts);
    assert_ne!(
        moved.causes[0].cause,
        rank(&K, &Facts::default()).causes[0].cause
    );
    entries.push(Entry {
        seq: 3,
        event: Event::Retracted { seq: 2 },
        ..entries[1].clone()
    });
    assert_eq!(replay(&K, &entries).facts, Facts::default());
}

#[test]
fn a_slip_speaks_only_once_somebody_says_that_it_is_so() {
    let slipped = [("wall_mm", "4.5 4.5 4.6 4.5")];
    let finding = K.finding_id("wall-thickness").unwrap();
    let silent = replay(&K, &log(vec![benched("wall-thickness", &slipped, false)]));
    assert!(!silent.facts.findings.contains_key(&finding));
    let said = replay(&K, &log(vec![benched("wall-thickness", &slipped, true)]));
    assert!(said.facts.findings.contains_key(&finding));
    // Nobody confirms what is no slip.
    let plain = benched("wall-thickness", &[("wall_mm", "0.45")], true);
    assert!(matches!(plain, Event::Benched { reading, .. } if !reading.confirmed));
}

#[test]
fn one_reading_may_answer_what_bears_another_name() {
    let of = measure("melt-demand").unwrap();
    let fast = typed(&[
        ("layer_mm", "0.3"),
        ("line_width_mm", "0.6"),
        ("speed_mm_s", "120"),
    ]);
    let (_, out) = Reading::of(of, &fast, false).unwrap().reckon().unwrap();
    let facts = with_reading(&K, &Facts::default(), of, &out);
    let demand = K.finding_id("flow-demand").unwrap();
    let phrase = facts.findings[&demand].answer.phrase(&K, demand);
    assert!(!phrase.is_empty());
    let case = replay(&K, &log(Vec::new()));
    let event = Event::Benched {
        reading: Reading::of(of, &fast, false).unwrap(),
        minutes: 0.0,
    };
    assert_eq!(accept(&K, &case, &event), Ok(()));
}

#[test]
fn a_log_of_another_program_stays_readable() {
    let strange = |measure: &str, inputs: Inputs| Event::Benched {
        reading: Reading {
            measure: measure.into(),
            inputs,
            confirmed: false,
        },
        minutes: 1.0,
    };
    let unknown = strange("tea-leaves", Inputs::new());
    let nonsense = strange("wall-thickness", typed(&[("wall_mm", "thick")]));
    let case: CaseState = replay(&K, &log(vec![unknown.clone(), nonsense.clone()]));
    assert_eq!(case.unknown.len(), 2);
    let fresh = replay(&K, &log(Vec::new()));
    assert!(accept(&K, &fresh, &unknown).is_err() && accept(&K, &fresh, &nonsense).is_err());
}

#[test]
fn a_machine_keeps_readings_and_where_its_devices_are() {
    let reading = Reading::of(
        measure("extruder-steps-free").unwrap(),
        &typed(&[("remaining_mm", "24.5"), ("steps_now", "93")]),
        false,
    );
    let event = MachineEvent::benched(reading.unwrap()).unwrap();
    assert_eq!(accept_on_machine(&K, None, &[], &event), Ok(()));
    let MachineEvent::Benched { found, .. } = &event else {
        panic!("a reading")
    };
    assert_eq!(found["steps_new"], 97.4);
    let reached = |device: &str, address: &str| MachineEvent::Reached {
        device: device.into(),
        address: address.into(),
    };
    assert!(accept_on_machine(&K, None, &[], &reached("kettle", "x:1")).is_err());
    let entry = |event| MachineEntry {
        seq: 1,
        at: OffsetDateTime::UNIX_EPOCH,
        by: None,
        event,
    };
    let log = [
        entry(reached("console", "127.0.0.1:1")),
        entry(reached("calipers", "127.0.0.1:2")),
        entry(reached("console", "127.0.0.1:3")),
        entry(reached("calipers", "")),
    ];
    let now = devices(&log);
    assert_eq!((now.len(), now["console"].as_str()), (1, "127.0.0.1:3"));
}
