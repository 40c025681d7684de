//! What the intake promises, on random cases over the shipped knowledge.

use proptest::prelude::*;
use std::sync::LazyLock;
use suspect_core::case::{CaseState, Entry, Event, accept, may_join, replay};
use suspect_core::evidence::{Answer, Confidence, Sighting};
use suspect_core::intake::{AT_ONCE, Lack, completeness, questions};
use suspect_core::knowledge::{FindingId, Knowledge, Section};
use suspect_core::profile::FieldId;
use suspect_core::ranking::rank;
use suspect_core::similar::{Nearness, similar};
use suspect_core::testing::{log as entries, observed};

static K: LazyLock<Knowledge> = LazyLock::new(Knowledge::shipped);

fn asked() -> Vec<u16> {
    let asked = |f: &u16| {
        matches!(
            K.findings[*f as usize].section,
            Section::Print | Section::Machine | Section::History
        )
    };
    (0..K.findings.len() as u16).filter(asked).collect()
}

fn case() -> impl Strategy<Value = CaseState> {
    let answers = proptest::collection::vec((proptest::sample::select(asked()), 0usize..12), 0..8);
    let passed = proptest::collection::vec(proptest::sample::select(asked()), 0..6);
    (answers, passed, proptest::option::of(0usize..8)).prop_map(|(answers, passed, material)| {
        let mut case = CaseState::default();
        for (f, state) in answers {
            let state = Answer::State(state % K.findings[f as usize].states.len());
            case.facts.findings.insert(
                FindingId(f),
                Sighting {
                    answer: state,
                    confidence: Confidence::Sure,
                },
            );
        }
        case.passed.extend(passed.into_iter().map(FindingId));
        if let Some(material) = material {
            let family = ["pla", "petg", "abs", "asa", "tpu", "pa", "pc", "other"][material];
            case.facts.context.set("material", family).unwrap();
        }
        case
    })
}

#[test]
fn a_case_of_one_sign_has_questions_worth_asking() {
    let mut case = CaseState::default();
    let sign = K.finding_id("layer-step").unwrap();
    let seen = Sighting {
        answer: Answer::State(1),
        confidence: Confidence::Sure,
    };
    case.facts.findings.insert(sign, seen);
    let asked = questions(&K, &case, &rank(&K, &case.facts));
    assert_eq!(asked.len(), AT_ONCE);
    assert!(asked.iter().all(|q| q.answers.len() > 1 && q.bits > 0.0));
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 48, failure_persistence: None,
        ..ProptestConfig::default() })]

    #[test]
    fn questions_are_few_open_and_would_change_something(case in case()) {
        let line_up = rank(&K, &case.facts);
        let leader = line_up.leader().unwrap();
        let asked = questions(&K, &case, &line_up);
        prop_assert!(asked.len() <= AT_ONCE);
        for q in &asked {
            prop_assert!(!case.facts.findings.contains_key(&q.finding));
            prop_assert!(!case.passed.contains(&q.finding));
            prop_assert!(K.finding(q.finding).fits(&case.facts.context));
            prop_assert!(q.separates.0 != q.separates.1);
            let total: f64 = q.answers.iter().map(|a| a.probability).sum();
            prop_assert!((total - 1.0).abs() < 1e-6, "answers sum to {total}");
            let changes = |a: &suspect_core::intake::Answer| {
                a.leader.0 != leader.cause || (a.leader.1 - leader.probability).abs() >= 0.05
            };
            prop_assert!(q.answers.iter().any(changes));
        }
        let worth: Vec<f64> = asked.iter().map(|q| q.bits / q.seconds).collect();
        prop_assert!(worth.windows(2).all(|w| w[0] >= w[1]), "the most telling per second comes \
            first: {worth:?}");
        prop_assert_eq!(asked.iter().map(|q| q.finding).collect::<Vec<_>>(), questions(&K, &case,
            &line_up).iter().map(|q| q.finding).collect::<Vec<_>>());
    }

    #[test]
    fn what_the_page_says_an_answer_would_do_it_does(case in case()) {
        for q in questions(&K, &case, &rank(&K, &case.facts)) {
            for answer in &q.answers {
                let mut then = case.facts.clone();
                then.findings.insert(q.finding, Sighting { answer: Answer::State(answer.state),
                    confidence: Confidence::Sure });
                let line_up = rank(&K, &then);
                let told = line_up.line(answer.leader.0).unwrap().probability;
                prop_assert!((told - answer.leader.1).abs() < 1e-9, "{} said {} is \
                    {told}", K.finding(q.finding).id, answer.leader.1);
                // Of two that are alike to the last digit either may be named.
                let leads = line_up.leader().unwrap();
                prop_assert!((leads.probability - told).abs() < 1e-9, "{:?} leads, {:?} was \
                    said", leads.cause, answer.leader.0);
            }
        }
    }

    #[test]
    fn what_is_missing_never_widens_the_field_and_what_is_known_is_not_missing(case in case()) {
        let complete = completeness(&K, &case, &rank(&K, &case.facts));
        prop_assert!(complete.in_question >= 1.0 && complete.in_question <= 65.0);
        for m in &complete.missing {
            prop_assert!(m.bits >= 0.0 && m.narrows_to >= 1.0);
            prop_assert!(m.narrows_to <= complete.in_question + 1e-9);
            match &m.lack {
                Lack::Material => prop_assert!(case.facts.context.id(FieldId::Material).is_none()),
                Lack::Question(f) => {
                    prop_assert!(!case.facts.findings.contains_key(f) && !case.passed.contains(f));
                }
                _ => {}
            }
        }
        prop_assert!(complete.missing.windows(2).all(|w| w[0].bits >= w[1].bits));
    }

    #[test]
    fn likeness_lies_between_nothing_and_the_same(a in case(), b in case()) {
        let (a, b) = (suspect_core::case::answers(&K, &a), suspect_core::case::answers(&K, &b));
        for l in similar(&K, &a, &[(b, Nearness::Shop), (a.clone(), Nearness::Shop)], 2) {
            prop_assert!(l.likeness > 0.0 && l.likeness <= 1.0 + 1e-9);
            prop_assert!(l.place == 0 || (l.likeness - 1.0).abs() < 1e-9, "a case is like itself");
        }
    }
}

#[test]
fn entries_join_only_when_they_add_about_different_things() {
    let check = Event::Checked {
        check: "pulley-mark".into(),
        outcome: "slips".into(),
        confidence: Confidence::Sure,
        minutes: 5.0,
    };
    let note = || Event::Noted { text: "x".into() };
    for (since, new, joins) in [
        (
            observed("strings", "none"),
            observed("layer-step", "present"),
            true,
        ),
        (
            observed("strings", "none"),
            observed("strings", "strong"),
            false,
        ),
        (
            observed("strings", "none"),
            Event::Passed {
                finding: "strings".into(),
            },
            false,
        ),
        (note(), note(), true),
        (note(), check.clone(), false),
        (check, observed("strings", "none"), false),
        (
            Event::Retracted { seq: 2 },
            observed("strings", "none"),
            false,
        ),
    ] {
        assert_eq!(
            may_join(
                &entries(std::slice::from_ref(&since)),
                std::slice::from_ref(&new)
            ),
            joins,
            "{since:?} {new:?}"
        );
    }
}

#[test]
fn telling_passing_describing_and_suggesting_are_no_evidence() {
    let opened = Event::Opened {
        title: "Joint".into(),
        machine_name: "Teal".into(),
        machine: Default::default(),
        material: None,
        spool: String::new(),
    };
    let suggested = Event::Suggested {
        by: "Crew".into(),
        cause: Some("belt-loose".into()),
        check: None,
        text: String::new(),
    };
    let weighed = |taken| Event::Weighed {
        suggestion: 4,
        taken,
    };
    let log = [
        opened.clone(),
        Event::Told {
            text: "strings".into(),
        },
        Event::Passed {
            finding: "layer-step".into(),
        },
        suggested,
        weighed(true),
    ];
    let case = replay(&K, &entries(&log));
    assert_eq!(
        rank(&K, &case.facts).causes[0].probability,
        rank(&K, &replay(&K, &entries(&[opened])).facts).causes[0].probability
    );
    assert_eq!(
        (
            case.told.len(),
            case.passed.len(),
            case.suggestions[0].taken
        ),
        (1, 1, Some(true))
    );
    assert!(accept(&K, &case, &weighed(false)).is_err(), "answered once");
    let answered = replay(
        &K,
        &entries(&[log.to_vec(), vec![observed("layer-step", "present")]].concat()),
    );
    assert!(
        answered.passed.is_empty(),
        "an answer ends the passing over"
    );
    for (event, part) in not_to_be_told() {
        let refusal = accept(&K, &case, &event).unwrap_err().to_string();
        assert!(refusal.contains(part), "{refusal}");
    }
}

/// Entries that say nothing or mean nothing there is, with what the refusal says of each.
fn not_to_be_told() -> Vec<(Event, &'static str)> {
    vec![
        (
            Event::Suggested {
                by: "x".into(),
                cause: None,
                check: None,
                text: " ".into(),
            },
            "says something",
        ),
        (
            Event::Suggested {
                by: "x".into(),
                cause: Some("belt-lose".into()),
                check: None,
                text: String::new(),
            },
            "did you mean `belt-loose`?",
        ),
        (
            Event::Told {
                text: String::new(),
            },
            "missing",
        ),
        (
            Event::Passed {
                finding: "nozzle-vs-window".into(),
            },
            "drawn from the numbers",
        ),
        (
            Event::Marked {
                picture: "none".into(),
                marks: Vec::new(),
            },
            "no such picture",
        ),
    ]
}

#[test]
fn a_log_written_before_there_were_notes_stays_readable() {
    let old = r#"{"seq":1,"at":"2026-01-01T00:00:00Z",
        "event":{"kind":"measured","number":"bed_c","value":60.0}}"#;
    assert!(matches!(
        serde_json::from_str::<Entry>(old).unwrap().event,
        Event::Measured { note: None, .. }
    ));
}
