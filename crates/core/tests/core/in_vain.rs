//! What is offered when steps lead nowhere, and what is looked at before a print.

use crate::doing::{K, fixed, log};
use suspect_core::case::{CaseState, Event, PutOff, WorkId, accept, analyse, replay};
use suspect_core::knowledge::TryResult;
use suspect_core::learning::Learned;
use suspect_core::learning::learned::LearnedCause;
use suspect_core::planning::{Action, Workshop};
use suspect_core::preventive::{Job, Known, before, rates};
use suspect_core::profile::Context;
use suspect_core::ranking::{LineUp, rank};
use suspect_core::stuck::{Stuck, stuck, what_matters};
use suspect_core::testing::{observed, printed};

#[test]
fn a_step_set_aside_is_not_advised_until_it_is_taken_up() {
    let workshop = Workshop::default();
    let mut events = vec![
        observed("layer-step", "present"),
        observed("onset", "sudden"),
    ];
    let first = |events: &[Event]| {
        analyse(&K, &replay(&K, &log(events.to_vec())), &workshop)
            .plan
            .steps[0]
            .action
    };
    let Action::Check(check) = first(&events) else {
        panic!("a check first")
    };
    let step = WorkId::Check(K.check_name(check).to_string());
    events.push(Event::SetAside {
        step: step.clone(),
        why: PutOff::Unclear,
        minutes: 6.0,
    });
    assert_ne!(first(&events), Action::Check(check));
    assert_eq!(
        replay(&K, &log(events.clone())).minutes,
        6.0,
        "the time is not lost"
    );
    events.push(Event::TakenUp { step: step.clone() });
    assert_eq!(first(&events), Action::Check(check));
    let case = replay(&K, &log(events));
    assert!(accept(&K, &case, &Event::TakenUp { step }).is_err());
}

#[test]
fn three_fixes_in_vain_offer_a_way_back_to_what_was_good() {
    let mut events = vec![
        observed("strings", "strong"),
        observed("blobs-at-seam", "present"),
        observed("pops-heard", "absent"),
    ];
    for (fix, value) in [
        ("raise-retraction", "4.5 mm"),
        ("lower-nozzle-temperature", "205 °C"),
        ("speed-up-travel", "120 mm/s"),
    ] {
        let case = replay(&K, &log(events.clone()));
        assert!(
            stuck(&case, &rank(&K, &case.facts))
                .is_none_or(|why| matches!(why, Stuck::Contradiction(_)))
        );
        events.extend([fixed(fix, Some(value)), printed(TryResult::Same)]);
    }
    let case = replay(&K, &log(events.clone()));
    let line_up = rank(&K, &case.facts);
    assert_eq!(stuck(&case, &line_up), Some(Stuck::InVain(3)));
    assert_eq!(
        case.changes
            .iter()
            .map(|c| c.before.as_str())
            .collect::<Vec<_>>(),
        ["4.5 mm", "205 °C", "120 mm/s"]
    );
    events.push(Event::PutBack {
        fixed: case.changes[1].seq,
    });
    let after = replay(&K, &log(events.clone()));
    assert!(after.changes[1].put_back && !after.changes[0].put_back);
    assert!(
        accept(
            &K,
            &after,
            &Event::PutBack {
                fixed: case.changes[1].seq
            }
        )
        .is_err()
    );
    what_most_hangs_on(&case, &line_up);
    // Left for another day; the next step takes it up again.
    events.push(Event::LeftForLater {
        note: "ask on Friday".into(),
    });
    assert_eq!(
        replay(&K, &log(events.clone())).resting.as_deref(),
        Some("ask on Friday")
    );
    events.push(fixed("dry-filament", None));
    assert_eq!(replay(&K, &log(events)).resting, None);
}

/// The facts on which most hangs: taken away, they move the line-up most.
fn what_most_hangs_on(case: &CaseState, line_up: &LineUp) {
    let matters = what_matters(&K, &case.facts, line_up);
    assert!(
        !matters.is_empty()
            && matters
                .iter()
                .all(|m| (0.0..=1.0).contains(&m.moves)
                    && case.facts.findings.contains_key(&m.finding))
    );
    let cut = matters
        .iter()
        .position(|m| !m.turns)
        .unwrap_or(matters.len());
    assert!(matters[cut..].windows(2).all(|w| w[0].moves >= w[1].moves));
}

#[test]
fn what_struck_a_machine_before_is_looked_at_before_it_prints_again() {
    let mut context = Context::default();
    for (field, value) in [
        ("levelling", "probe"),
        ("feed", "direct"),
        ("material", "pla"),
    ] {
        context.set(field, value).unwrap();
    }
    let job = |hours| Job {
        hours,
        grams: hours * 20.0,
    };
    let drag = K.cause_id("spool-drag").unwrap();
    let mut causes = vec![LearnedCause::default(); K.causes.len()];
    causes[drag.at()].factor = 4.0;
    let learned = Learned::new(&K, causes, 3);
    let drags = Known {
        own: None,
        learned: Some(&learned),
        struck: &[drag; 3],
    };
    let list = |known: Known, hours| before(&K, &context, known, job(hours), &Workshop::default());
    let has = |b: &suspect_core::preventive::Before, id: &str| {
        b.looks.iter().any(|l| K.precautions[l.precaution].id == id)
    };
    assert!(!has(&list(Known::default(), 2.0), "spool-free"));
    assert!(has(&list(drags, 2.0), "spool-free"));
    let look = list(drags, 2.0);
    let spool = look
        .looks
        .iter()
        .find(|l| K.precautions[l.precaution].id == "spool-free")
        .unwrap();
    assert_eq!(spool.because[0], (drag, 3));
    // First layers are always watched, longer jobs are worth more, and looks only ever lower the
    // risk.
    let mut fewest = 0;
    for hours in [0.0, 1.0, 5.0, 20.0, 80.0] {
        let b = list(drags, hours);
        assert!(
            has(&b, "first-layer-watched")
                && b.looks.len() >= fewest
                && b.risk.1 < b.risk.0
                && b.failure.is_finite()
        );
        fewest = b.looks.len();
    }
    for learned in [Some(&learned), None] {
        let rates = rates(&K, &context, learned);
        assert!((rates.iter().sum::<f64>() - 1.0).abs() < 1e-9);
        assert_eq!(
            rates[K.cause_id("tube-gap").unwrap().at()] > 0.0,
            K.weight(K.cause_id("tube-gap").unwrap(), &context) > 0.0
        );
    }
}
