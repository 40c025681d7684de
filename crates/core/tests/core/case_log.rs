//! Logs of cases: replayed, taken back, accepted or refused.

use std::sync::LazyLock;
use suspect_core::case::{Event, Outcome, Refusal, Status, accept, replay};
use suspect_core::evidence::Confidence;
use suspect_core::knowledge::{Knowledge, TryResult};
use suspect_core::planning::Action;
use suspect_core::testing::{log, observed, opened, printed, strikes_always};

static K: LazyLock<Knowledge> = LazyLock::new(Knowledge::shipped);

#[test]
fn retracting_restores_exactly_and_retracting_the_retraction_too() {
    let first = vec![
        opened(),
        observed("layer-step", "present"),
        observed("onset", "sudden"),
    ];
    let before = replay(&K, &log(&first));
    let mut events = first;
    events.push(observed("layer-step", "absent"));
    let changed = replay(&K, &log(&events));
    assert_eq!(changed.replaced.len(), 1);
    events.push(Event::Retracted { seq: 4 });
    let after = replay(&K, &log(&events));
    assert_eq!((&before.facts, before.source), (&after.facts, after.source));
    events.push(Event::Retracted { seq: 5 });
    assert_eq!(replay(&K, &log(&events)).facts, changed.facts);
}

#[test]
fn a_case_walks_from_sign_to_record() {
    let mut events = vec![
        opened(),
        observed("layer-step", "present"),
        strikes_always(),
    ];
    let mut step = |event: Event| {
        let state = replay(&K, &log(&events));
        accept(&K, &state, &event)?;
        events.push(event);
        Ok::<_, Refusal>(replay(&K, &log(&events)))
    };
    step(Event::Checked {
        check: "pulley-mark".into(),
        outcome: "slips".into(),
        confidence: Confidence::Sure,
        minutes: 6.0,
    })
    .unwrap();
    let mended = step(fixed("tighten-pulley")).unwrap();
    assert!(matches!(mended.status, Status::Verifying(_)));
    // One change at a time.
    let second = step(fixed("tension-belt")).unwrap_err();
    assert!(second.to_string().contains("one change at a time"));
    let proven = step(printed(TryResult::Cured)).unwrap();
    assert!(matches!(proven.status, Status::Cured(Some(_))));
    let nameless = step(Event::Resolved {
        outcome: Outcome::FixedAndVerified,
        cause: None,
        fix: None,
        note: String::new(),
    })
    .unwrap_err();
    assert!(nameless.to_string().contains("which cause"));
    let closed = step(Event::Resolved {
        outcome: Outcome::FixedAndVerified,
        cause: Some("pulley-slips".into()),
        fix: Some("tighten-pulley".into()),
        note: String::new(),
    })
    .unwrap();
    assert!(closed.resolved() && closed.minutes == 17.0 && closed.grams == 5.0);
    assert!(
        step(observed("onset", "sudden"))
            .unwrap_err()
            .to_string()
            .contains("reopen")
    );
    assert!(
        !step(Event::Reopened {
            reason: "It came back.".into(),
            after_days: None,
        })
        .unwrap()
        .resolved()
    );
}

fn fixed(fix: &str) -> Event {
    Event::Fixed {
        fix: fix.into(),
        minutes: 8.0,
        money: 0.0,
        before: None,
        after: None,
        together: false,
    }
}

#[test]
fn under_a_stop_only_its_step_is_taken_and_a_person_clears_it() {
    let events = vec![
        opened(),
        observed("heat-error-stop", "present"),
        observed("temperature-wanders", "jumps"),
    ];
    let state = replay(&K, &log(&events));
    let analysis = suspect_core::case::analyse(&K, &state, &Default::default());
    assert!(matches!(analysis.plan.steps[..], [ref s] if matches!(s.action, Action::ClearStop(_))));
    let check = |id: &str, outcome: &str| Event::Checked {
        check: id.into(),
        outcome: outcome.into(),
        confidence: Confidence::Sure,
        minutes: 1.0,
    };
    assert!(matches!(
        accept(
            &K,
            &state,
            &Event::Fixed {
                fix: "wash-plate".into(),
                minutes: 1.0,
                money: 0.0,
                before: None,
                after: None,
                together: false,
            }
        ),
        Err(Refusal::Stopped { .. })
    ));
    assert!(matches!(
        accept(&K, &state, &check("push-by-hand", "free")),
        Err(Refusal::Stopped { .. })
    ));
    assert_eq!(accept(&K, &state, &check("hotend-wiggle", "tight")), Ok(()));
    let cleared = Event::StopCleared {
        stop: "heating-error-jumps".into(),
        by: "Ida".into(),
        reason: "Plug reseated".into(),
        seen: vec![1, 2, 3, 4],
    };
    assert_eq!(accept(&K, &state, &cleared), Ok(()));
    let mut more = events;
    more.push(cleared);
    assert!(replay(&K, &log(&more)).stops.is_empty());
    // The same sign seen again after the clearing locks it again.
    more.push(observed("temperature-wanders", "jumps"));
    assert_eq!(replay(&K, &log(&more)).stops.len(), 1);
}

#[test]
fn an_old_log_with_unknown_identifiers_still_reads() {
    let state = replay(
        &K,
        &log(&[
            opened(),
            observed("long-forgotten", "present"),
            observed("layer-step", "present"),
        ]),
    );
    assert_eq!(state.unknown, ["long-forgotten"]);
    assert_eq!(state.facts.findings.len(), 1);
}
