//! Checks, fixes and suspects in the workshop's own words; two cases joined; a suggestion taken up.

use crate::doing::{K, log};
use suspect_core::case::{
    Event, Outcome, Speaks, SpeaksHow, Status, What, accept, analyse, replay, taken_over,
};
use suspect_core::knowledge::TryResult;
use suspect_core::own::own_id;
use suspect_core::planning::Workshop;
use suspect_core::ranking::rank;
use suspect_core::testing::{events, resolved};

fn checked(speaks: Option<(&str, SpeaksHow)>) -> Event {
    Event::OwnChecked {
        name: "Swapped the two spools".into(),
        outcomes: vec!["same fault".into(), "fault went along".into()],
        outcome: "fault went along".into(),
        speaks: speaks.map(|(cause, how)| Speaks {
            cause: cause.into(),
            how,
        }),
        minutes: 12.0,
    }
}

fn probability(events: Vec<Event>, cause: &str) -> (f64, f64) {
    let case = replay(&K, &log(events));
    let line_up = rank(&K, &case.facts);
    let line = line_up.line(K.cause_id(cause).unwrap()).unwrap();
    (line.probability, line_up.unlisted)
}

#[test]
fn a_check_in_own_words_weighs_what_was_said_of_it_and_nothing_by_itself() {
    let seen = || events("strings=strong pops-heard=present");
    let with = |speaks| {
        let mut all = seen();
        all.push(checked(speaks));
        all
    };
    let plain = probability(seen(), "filament-wet");
    let silent = probability(with(None), "filament-wet");
    assert!((plain.0 - silent.0).abs() < 1e-9, "{plain:?} {silent:?}");
    let odds = |p: f64| p / (1.0 - p);
    let of = |how| probability(with(Some(("filament-wet", how))), "filament-wet").0;
    assert!(of(SpeaksHow::ClearlyFor) > of(SpeaksHow::RatherFor));
    assert!(of(SpeaksHow::RatherFor) > plain.0);
    assert!(of(SpeaksHow::RatherAgainst) < plain.0);
    assert!(of(SpeaksHow::ClearlyAgainst) < of(SpeaksHow::RatherAgainst));
    // Ten decibans are a factor of ten on the odds, for and against alike.
    let (up, down) = (of(SpeaksHow::ClearlyFor), of(SpeaksHow::ClearlyAgainst));
    assert!((odds(up) / odds(plain.0) - 10.0).abs() < 1e-6);
    assert!((odds(plain.0) / odds(down) - 10.0).abs() < 1e-6);
    // For whoever is not listed it is every listed one that falls.
    let someone = with(Some((Speaks::SOMEONE_ELSE, SpeaksHow::ClearlyFor)));
    let (_, unlisted) = probability(someone, "filament-wet");
    assert!((odds(unlisted) / odds(plain.1) - 10.0).abs() < 1e-6);
}

#[test]
fn a_fix_in_own_words_that_cured_closes_with_its_proof_and_is_named() {
    let cured = Event::OwnFixed {
        name: "Wrapped the spool".into(),
        aimed_at: Some("filament-wet".into()),
        result: TryResult::Cured,
        minutes: 40.0,
        money: 1.5,
        grams: 8.0,
    };
    let mut all = events("every-print strings=strong");
    all.push(cured.clone());
    let entries = log(all);
    let case = replay(&K, &entries);
    assert_eq!(case.status, Status::Cured(None));
    assert_eq!(case.own_fix.as_deref(), Some("Wrapped the spool"));
    assert_eq!((case.money, case.grams), (1.5, 8.0));
    let end = |cause: &str| Event::Resolved {
        outcome: Outcome::FixedAndVerified,
        cause: Some(cause.into()),
        fix: Some(own_id("Wrapped the spool")),
        note: String::new(),
    };
    assert!(accept(&K, &case, &end(&own_id("damp cellar"))).is_ok());
    assert!(
        accept(&K, &case, &end("damp cellar")).is_err(),
        "not marked as own"
    );
    assert!(
        accept(&K, &case, &end("own/ ")).is_err(),
        "a name of blanks"
    );
    // Under a stop nothing is printed, in whatever words it is told.
    let held = replay(&K, &log(events("burnt-smell=present")));
    assert!(accept(&K, &held, &cured).is_err());
    assert!(
        accept(&K, &held, &checked(None)).is_ok(),
        "looking is no harm"
    );
}

#[test]
fn what_makes_no_sense_in_own_words_is_refused() {
    let case = replay(&K, &log(events("strings=strong")));
    let refused = |event: Event| accept(&K, &case, &event).is_err();
    let own = |name: &str, outcomes: usize, outcome: &str, cause: Option<&str>| Event::OwnChecked {
        name: name.into(),
        outcomes: vec!["one".to_string(); outcomes],
        outcome: outcome.into(),
        speaks: cause.map(|cause| Speaks {
            cause: cause.into(),
            how: SpeaksHow::RatherFor,
        }),
        minutes: 1.0,
    };
    assert!(!refused(own("Looked", 2, "fine", Some("filament-wet"))));
    assert!(refused(own("...", 2, "fine", None)), "no words");
    assert!(refused(own("Looked", 2, " ", None)), "no outcome");
    assert!(refused(own("Looked", 9, "fine", None)), "too many");
    assert!(refused(own("Looked", 2, "fine", Some("gremlins"))));
    assert!(refused(Event::OwnSuspected {
        name: String::new()
    }));
}

#[test]
fn a_case_that_goes_on_takes_over_what_it_did_not_know_and_keeps_its_own() {
    let keeps = replay(&K, &log(events("strings=strong nozzle_c:205")));
    let other = log(events(
        "strings=hairs pops-heard=present nozzle_c:215 bed_c:60 +dry-filament print>same \
         onset=sudden #5",
    ));
    let taken = taken_over(&K, &keeps, &other);
    let kinds: Vec<String> = taken
        .iter()
        .map(|e| match e {
            Event::Observed { finding, state, .. } => format!("{finding}={state}"),
            Event::Measured { number, value, .. } => format!("{number}:{value}"),
            Event::Tried { fix, result } => format!("{fix} {}", result.id()),
            other => format!("{other:?}"),
        })
        .collect();
    // #5 took the bed's temperature back: it was never said.
    assert_eq!(
        kinds,
        ["pops-heard=present", "dry-filament same", "onset=sudden"]
    );
    // All of it is taken, and a second time nothing is new but what may be said twice.
    let mut all = events("strings=strong nozzle_c:205");
    all.extend(taken);
    let joined = replay(&K, &log(all));
    let again = taken_over(&K, &joined, &other);
    assert!(
        again.iter().all(|e| matches!(e, Event::Tried { .. })),
        "{again:?}"
    );
}

#[test]
fn a_suggested_check_that_is_taken_up_comes_next_and_no_stop_is_passed() {
    let suggested = || {
        let mut all = events("strings=strong pops-heard=present");
        all.push(Event::Suggested {
            by: "M. Reed".into(),
            cause: None,
            check: Some("cold-pull".into()),
            text: String::new(),
        });
        let seq = all.len() as u32 + 1;
        all.push(Event::Weighed {
            suggestion: seq,
            taken: true,
        });
        all
    };
    let next = |all: Vec<Event>| {
        let case = replay(&K, &log(all));
        analyse(&K, &case, &Workshop::default()).next
    };
    let check = K.check_id("cold-pull").unwrap();
    assert_eq!(next(suggested()).what, What::Check(check));
    let mut done = suggested();
    done.extend(events("cold-pull/clean"));
    assert_ne!(
        next(done).what,
        What::Check(check),
        "once it is done it is done"
    );
    let mut held = suggested();
    held.extend(events("burnt-smell=present"));
    assert!(matches!(next(held).what, What::ClearStop(_)));
    let mut closed = suggested();
    closed.push(resolved(Outcome::Unsolved, None, ""));
    assert_eq!(next(closed).what, What::Closed);
}
