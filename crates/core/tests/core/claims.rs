//! What a case may claim: proofs that proved, touches that count, room for so much, one answer to
//! "what now".

use proptest::prelude::*;
use std::collections::BTreeMap;
use std::sync::LazyLock;
use suspect_core::case::{
    Event, Holder, Holding, Lock, MOST_SUGGESTIONS, MOST_TELLINGS, MOST_TRIED, Next, Outcome,
    Problem, Refusal, Status, What, accept, advance, analyse, keeps_stops, replay,
};
use suspect_core::evidence::Confidence;
use suspect_core::knowledge::{Knowledge, TryResult};
use suspect_core::planning::Workshop;
use suspect_core::profile::FieldId;
use suspect_core::ranking::rank;
use suspect_core::testing::{
    checked, entry, fixed, lifted, log, measured, observed, opened_with, printed, resolved,
    strikes_always,
};

static K: LazyLock<Knowledge> = LazyLock::new(Knowledge::shipped);

#[test]
fn fixed_and_verified_takes_its_proof() {
    let mut events = vec![
        opened_with(&[]),
        observed("layer-step", "present"),
        checked("pulley-mark", "slips", Confidence::Sure),
    ];
    let closing = |events: &[Event], outcome, cause| {
        accept(
            &K,
            &replay(&K, &log(events)),
            &resolved(outcome, cause, "It was so"),
        )
    };
    let pulley = Some("pulley-slips");
    let unproved = closing(&events, Outcome::FixedAndVerified, pulley).unwrap_err();
    assert!(unproved.to_string().contains("believed fixed, not proved"));
    assert_eq!(closing(&events, Outcome::BelievedFixed, pulley), Ok(()));
    assert!(closing(&events, Outcome::BelievedFixed, None).is_err());
    events.push(fixed("tighten-pulley"));
    assert!(
        closing(&events, Outcome::FixedAndVerified, pulley).is_err(),
        "its proof is due"
    );
    events.push(Event::Printed {
        result: TryResult::Cured,
        minutes: 4.0,
        grams: 5.0,
        hours: None,
    });
    // Nobody said how often it struck: one clean print proves little.
    assert!(closing(&events, Outcome::FixedAndVerified, pulley).is_err());
    events.push(strikes_always());
    assert_eq!(closing(&events, Outcome::FixedAndVerified, pulley), Ok(()));
    // A case that never was takes a reason and nothing else.
    let never = |note: &str| {
        accept(
            &K,
            &replay(&K, &log(&events)),
            &resolved(Outcome::OpenedByError, None, note),
        )
    };
    assert!(never("").is_err());
    assert_eq!(never("Wrong button"), Ok(()));
}

#[test]
fn what_was_taken_back_is_not_taken_back_again() {
    let mut events = vec![opened_with(&[]), observed("layer-step", "present")];
    events.push(Event::Retracted { seq: 2 });
    let again =
        |events: &[Event], seq| accept(&K, &replay(&K, &log(events)), &Event::Retracted { seq });
    assert!(matches!(again(&events, 2), Err(Refusal::NotNow(_))));
    assert_eq!(
        again(&events, 3),
        Ok(()),
        "the taking back itself may be taken back"
    );
    events.push(Event::Retracted { seq: 3 });
    assert_eq!(again(&events, 2), Ok(()));
}

#[test]
fn a_moved_case_takes_the_build_of_its_machine_and_its_stops_along() {
    let moved = |by: &str, reason: &str| Event::Moved {
        machine: "x".into(),
        machine_name: "Dipper".into(),
        profile: BTreeMap::from([("feed".into(), "bowden".into())]),
        by: by.into(),
        reason: reason.into(),
    };
    let events = [
        opened_with(&[("hotend", "lined")]),
        observed("burnt-smell", "present"),
    ];
    let state = replay(&K, &log(&events));
    assert!(
        accept(&K, &state, &moved("", "Wrong machine")).is_err(),
        "a stop is moved by name"
    );
    assert!(accept(&K, &state, &moved("M. Reed", "")).is_err());
    assert_eq!(
        accept(&K, &state, &moved("M. Reed", "Wrong machine")),
        Ok(())
    );
    let after = replay(
        &K,
        &log(&[&events[..], &[moved("M. Reed", "Wrong machine")]].concat()),
    );
    assert_eq!(
        keeps_stops(&K, &state, &after, &moved("M. Reed", "Wrong machine")),
        Ok(())
    );
    assert_eq!(
        (after.machine_name.as_str(), after.stops.len()),
        ("Dipper", 1)
    );
    assert_eq!(after.facts.context.id(FieldId::HotEnd), None);
    assert_eq!(after.facts.context.id(FieldId::Feed), Some("bowden"));
    assert_eq!(
        after.facts.context.id(FieldId::Material),
        Some("petg"),
        "the job stays what it was"
    );
}

#[test]
fn a_case_has_room_for_so_much_and_says_what_to_do_then() {
    let full = |event: Event, many: usize| {
        let mut events = vec![opened_with(&[])];
        events.extend(std::iter::repeat_n(event.clone(), many));
        match accept(&K, &replay(&K, &log(&events)), &event) {
            Err(Refusal::Invalid {
                problem: Problem::Full { holding, most },
                ..
            }) => (holding, most),
            other => panic!("{other:?}"),
        }
    };
    let told = Event::Told {
        text: "gaps".into(),
    };
    assert_eq!(full(told, MOST_TELLINGS), (Holding::Tellings, 100));
    let tried = Event::Tried {
        fix: "tighten-pulley".into(),
        result: TryResult::Same,
    };
    assert_eq!(full(tried, MOST_TRIED), (Holding::Tries, MOST_TRIED));
    let suggested = Event::Suggested {
        by: "Ann".into(),
        cause: None,
        check: None,
        text: "look".into(),
    };
    let full = full(suggested, MOST_SUGGESTIONS);
    assert_eq!(full, (Holding::OpenSuggestions, MOST_SUGGESTIONS));
}

#[test]
fn work_that_is_noted_must_be_work_there_is() {
    let state = replay(&K, &log(&[opened_with(&[])]));
    let timer = |work: &str, step| Event::TimerSet {
        work: work.parse().unwrap(),
        step,
        minutes: 5.0,
    };
    let steps = K.check(K.check_id("cold-pull").unwrap()).work.steps.len() as u32;
    assert_eq!(accept(&K, &state, &timer("check/cold-pull", steps)), Ok(()));
    assert!(accept(&K, &state, &timer("check/cold-pull", steps + 3)).is_err());
    assert!(accept(&K, &state, &timer("check/cold-pull", 99)).is_err());
    let aside = |step: &str| Event::SetAside {
        step: step.parse().unwrap(),
        why: suspect_core::case::PutOff::NotNow,
        minutes: 0.0,
    };
    assert_eq!(accept(&K, &state, &aside("check/cold-pull")), Ok(()));
    assert!(accept(&K, &state, &aside("stop/burning")).is_err());
    assert!(accept(&K, &state, &aside("verify")).is_err());
    let kept = |part: &str| Event::PartKept {
        work: "fix/replace-nozzle".parse().unwrap(),
        part: part.into(),
        back: false,
    };
    assert_eq!(accept(&K, &state, &kept("insulating cover")), Ok(()));
    assert!(accept(&K, &state, &kept("any word")).is_err());
}

#[test]
fn what_now_has_one_answer_with_the_lock_in_it() {
    let burning = K.stops.iter().position(|s| s.id == "burning").unwrap();
    let lock = Lock {
        holder: Holder::Case {
            id: "other".into(),
            number: 7,
        },
        stop: burning,
    };
    let answer = |events: &[Event], locked: bool| -> Next {
        let mut state = replay(&K, &log(events));
        state.locked_by = locked.then(|| lock.clone());
        analyse(&K, &state, &Workshop::default()).next
    };
    let open = vec![
        opened_with(&[]),
        observed("layer-step", "present"),
        checked("pulley-mark", "slips", Confidence::Sure),
        strikes_always(),
    ];
    let proving = [&open[..], &[fixed("tighten-pulley")]].concat();
    let cured = [&proving[..], &[printed(TryResult::Cured)]].concat();
    let closed = [&cured[..], &[resolved(Outcome::Improved, None, "")]].concat();
    let fix = K.fix_id("tighten-pulley").unwrap();
    assert!(matches!(
        answer(&open, false).what,
        What::Check(_) | What::Fix(_)
    ));
    assert_eq!(answer(&proving, false).what, What::Prove(fix));
    assert_eq!(answer(&cured, false).what, What::Close(Some(fix)));
    for events in [&open, &proving, &cured] {
        let next = answer(events, true);
        assert_eq!(next.what, What::Locked(lock.clone()));
        assert!(!next.what.runs_the_machine());
        assert_eq!((next.minutes, next.saves, next.cures), (0.0, 0.0, 0.0));
    }
    assert_eq!(answer(&closed, true).what, What::Closed);
    let own = [&proving[..], &[observed("burnt-smell", "present")]].concat();
    assert_eq!(
        answer(&own, true).what,
        What::ClearStop(burning),
        "its own stop comes first"
    );
    let resting = [
        &open[..],
        &[Event::LeftForLater {
            note: "Friday".into(),
        }],
    ]
    .concat();
    assert_eq!(answer(&resting, false).resting.as_deref(), Some("Friday"));
    // As it is kept beside a case and read again, the lock of the machine put in when it is read.
    for events in [&open, &proving, &cured, &closed, &own] {
        let what = answer(events, false).what;
        let read = What::parse(&K, &what.written(&K).to_string());
        assert_eq!(read, Some(what.clone()));
        let locked = what.under(Some(lock.clone()));
        assert_eq!(locked, answer(events, true).what);
    }
}

#[test]
fn a_hundred_tries_of_the_same_fix_are_ranked_like_any_other_evidence() {
    let state = |n: usize| {
        let tried = Event::Tried {
            fix: "tighten-pulley".into(),
            result: TryResult::Same,
        };
        let mut events = vec![opened_with(&[]), observed("layer-step", "present")];
        events.extend(std::iter::repeat_n(tried, n));
        replay(&K, &log(&events))
    };
    let line_up = rank(&K, &state(100).facts);
    let sum: f64 = line_up.posterior.probability.iter().sum();
    assert!((sum - 1.0).abs() < 1e-9);
    // Equal weights of a group count 1, 1/2, 1/4 ...: in all twice the first.
    let leader = line_up
        .causes
        .iter()
        .find(|l| K.cause(l.cause).id == "pulley-slips")
        .unwrap();
    let once = rank(&K, &state(1).facts);
    let alone = once
        .causes
        .iter()
        .find(|l| l.cause == leader.cause)
        .unwrap();
    let tries = |ledger: &[f64]| ledger[1..].iter().sum::<f64>();
    assert!((tries(&leader.ledger) - 2.0 * tries(&alone.ledger)).abs() < 1e-9);
    let odds = 10.0 * (leader.alone / line_up.unlisted).log10();
    let prior = 10.0 * (leader.prior_alone / line_up.unlisted_prior).log10();
    assert!((odds - prior - leader.evidence_total()).abs() < 1e-9);
}

/// Events of every kind that changes what holds, taken by their number.
fn any_event(n: u8) -> Event {
    match n % 12 {
        0 => observed("burnt-smell", "present"),
        1 => observed("layer-step", "present"),
        2 => observed("layer-step", "absent"),
        3 => measured("nozzle_c", 255.0),
        4 => measured("layer_mm", 0.2),
        5 => lifted(&K, "burning"),
        6 => Event::Retracted {
            seq: 2 + u32::from(n / 12),
        },
        7 => fixed("tighten-pulley"),
        8 => Event::Printed {
            result: TryResult::Cured,
            minutes: 1.0,
            grams: 1.0,
            hours: None,
        },
        9 => checked("belt-pluck", "right", Confidence::Sure),
        10 => observed("temperature-wanders", "jumps"),
        _ => observed("heat-error-stop", "present"),
    }
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 64, failure_persistence: None,
        ..Default::default() })]

    #[test]
    fn going_on_entry_by_entry_is_replaying_the_whole(numbers in prop::collection::vec(0u8..120,
        1..14)) {
        let mut whole = log(&[opened_with(&[("hotend", "lined")])]);
        let mut state = replay(&K, &whole);
        for n in numbers {
            whole.push(entry(state.last_seq + 1, any_event(n)));
            state = advance(&K, &state, &whole);
            let anew = replay(&K, &whole);
            prop_assert_eq!(format!("{state:?}"), format!("{anew:?}"));
        }
        prop_assert!(!matches!(state.status, Status::Resolved(_)));
    }
}
