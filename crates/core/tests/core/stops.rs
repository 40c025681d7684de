//! Stops that hold until their own fact is settled, by whoever answers for it.

use std::collections::BTreeMap;
use std::sync::LazyLock;
use suspect_core::case::{Event, Refusal, accept, replay};
use suspect_core::evidence::{Confidence, Facts};
use suspect_core::knowledge::Knowledge;
use suspect_core::planning::Workshop;
use suspect_core::safety;
use suspect_core::testing::{at, checked, lifted, log, measured, observed, opened_with};

static K: LazyLock<Knowledge> = LazyLock::new(Knowledge::shipped);

fn stop_ids(events: &[Event]) -> Vec<&'static str> {
    let state = replay(&K, &log(events));
    state
        .stops
        .iter()
        .map(|s| K.stops[*s].id.as_str())
        .collect()
}

#[test]
fn a_lifted_stop_comes_back_only_when_its_own_fact_is_stated_anew() {
    let hot = [
        opened_with(&[("hotend", "lined")]),
        measured("nozzle_c", 255.0),
        lifted(&K, "lined-too-hot"),
    ];
    assert!(stop_ids(&hot).is_empty());
    let with = |event: Event| [hot.as_slice(), &[event]].concat();
    let described = Event::Described {
        title: "Joint again".into(),
        material: Some("petg".into()),
        spool: "orange".into(),
        machine: BTreeMap::from([("hotend".into(), "lined".into())]),
    };
    for beside in [
        measured("layer_mm", 0.2),
        measured("bed_c", 60.0),
        described,
    ] {
        assert!(
            stop_ids(&with(beside.clone())).is_empty(),
            "{beside:?} says nothing about it"
        );
    }
    assert_eq!(
        stop_ids(&with(measured("nozzle_c", 256.0))),
        ["lined-too-hot"]
    );
    assert_eq!(
        stop_ids(&with(measured("lined_limit_c", 245.0))),
        ["lined-too-hot"]
    );
    let burnt = [
        opened_with(&[]),
        observed("burnt-smell", "present"),
        lifted(&K, "burning"),
    ];
    let other = [burnt.as_slice(), &[observed("strings", "strong")]].concat();
    assert!(stop_ids(&other).is_empty());
    let anew = [burnt.as_slice(), &[observed("burnt-smell", "present")]].concat();
    assert_eq!(stop_ids(&anew), ["burning"]);
}

#[test]
fn a_stop_of_the_build_belongs_to_the_machine_and_not_to_its_cases() {
    let events = [opened_with(&[("board_age", "unprotected")])];
    assert!(stop_ids(&events).is_empty());
    let state = replay(&K, &log(&events));
    let build = safety::stops_of_build(&K, &state.facts.context);
    assert_eq!(build.len(), 1);
    assert_eq!(
        safety::stops(&K, &state.facts),
        build,
        "a case file has no machine beside it"
    );
    // A number of the job makes it the job's: the machine alone is not too hot.
    let lined = replay(&K, &log(&[opened_with(&[("hotend", "lined")])]));
    assert!(safety::stops_of_build(&K, &lined.facts.context).is_empty());
}

#[test]
fn since_when_a_stop_holds_is_told_by_the_entry_that_raised_it() {
    let burning = K.stops.iter().position(|s| s.id == "burning").unwrap();
    let raised = [opened_with(&[]), observed("burnt-smell", "present")];
    let later = [
        &raised[..],
        &[observed("axis", "x"), observed("burnt-smell", "present")],
    ]
    .concat();
    assert_eq!(replay(&K, &log(&later)).stops_since[&burning], (2, at(2)));
    let again = [
        &raised[..],
        &[lifted(&K, "burning"), observed("burnt-smell", "present")],
    ]
    .concat();
    assert_eq!(replay(&K, &log(&again)).stops_since[&burning], (4, at(4)));
}

#[test]
fn only_the_check_itself_answers_what_a_check_finds_and_only_surely_does_it_lift() {
    let events = [
        opened_with(&[]),
        observed("heat-error-stop", "present"),
        observed("temperature-wanders", "jumps"),
    ];
    let state = replay(&K, &log(&events));
    let from_afar = accept(&K, &state, &observed("hotend-wiggle", "tight"));
    assert!(matches!(&from_afar, Err(Refusal::Invalid { field, .. }) if field == "hotend-wiggle"));
    assert!(
        accept(
            &K,
            &state,
            &Event::Passed {
                finding: "hotend-wiggle".into()
            }
        )
        .is_err()
    );
    let surely = |confidence| {
        stop_ids(
            &[
                &events[..],
                &[checked("hotend-wiggle", "tight", confidence)],
            ]
            .concat(),
        )
    };
    assert_eq!(surely(Confidence::Likely), ["heating-error-jumps"]);
    assert!(surely(Confidence::Sure).is_empty());
}

#[test]
fn whoever_lifts_a_stop_writes_words_and_has_seen_each_step() {
    let state = replay(
        &K,
        &log(&[opened_with(&[]), observed("burnt-smell", "present")]),
    );
    let Event::StopCleared {
        stop,
        by,
        reason,
        seen,
    } = lifted(&K, "burning")
    else {
        unreachable!()
    };
    let tried = |by: &str, reason: &str, seen: &[u32]| {
        let event = Event::StopCleared {
            stop: stop.clone(),
            by: by.into(),
            reason: reason.into(),
            seen: seen.to_vec(),
        };
        accept(&K, &state, &event)
    };
    assert_eq!(tried(&by, &reason, &seen), Ok(()));
    let refused_at = |by: &str, reason: &str, seen: &[u32]| match tried(by, reason, seen) {
        Err(Refusal::Invalid { field, .. }) => field,
        other => panic!("{other:?}"),
    };
    assert_eq!(refused_at("\u{200b}\u{2060}", &reason, &seen), "by");
    assert_eq!(refused_at("7", &reason, &seen), "by");
    assert_eq!(refused_at(&by, "\u{ad}", &seen), "reason");
    assert_eq!(refused_at(&by, "...", &seen), "reason");
    assert_eq!(refused_at(&by, &reason, &seen[..1]), "steps");
}

#[test]
fn warnings_speak_of_the_build_the_machine_has() {
    let lined = K
        .cautions
        .iter()
        .position(|c| c.id == "lined-heat")
        .unwrap();
    let said = |hotend: Option<&str>| {
        let mut facts = Facts::default();
        if let Some(hotend) = hotend {
            facts.context.set("hotend", hotend).unwrap();
        }
        let works = K
            .checks
            .iter()
            .map(|c| &c.work)
            .chain(K.fixes.iter().map(|f| &f.work));
        let mut spoken = 0;
        for work in works {
            spoken += usize::from(safety::cautions(&K, &facts, work).contains(&lined));
            let stages = suspect_core::doing::guided_steps(
                &K,
                &facts,
                work,
                Default::default(),
                &Workshop::default(),
            );
            spoken += stages
                .iter()
                .filter(|s| s.cautions.contains(&lined))
                .count();
        }
        spoken
    };
    assert_eq!(said(Some("all-metal")), 0);
    assert!(said(None) > 0, "what is not known is warned of");
    assert!(said(Some("lined")) >= said(None));
}
