//! Under any combination of stop findings nothing is advised that heats or moves the machine.

use std::sync::LazyLock;
use suspect_core::case::{
    CaseState, Event, Holder, Lock, Refusal, What, accept, analyse, follow, replay,
};
use suspect_core::evidence::{Answer, Confidence, Evidence, Facts, Sighting};
use suspect_core::knowledge::{Knowledge, StopTerm};
use suspect_core::planning::{Action, Present, Workshop, outline};
use suspect_core::ranking::posterior;
use suspect_core::safety::{allowed_under, stops};
use suspect_core::testing::{fixed, log, observed, opened};

static K: LazyLock<Knowledge> = LazyLock::new(Knowledge::shipped);

/// One way in which a fact about a stop may stand: unsaid, or a finding's state, a field's value, a
/// number.
#[derive(Clone, Copy)]
enum Stand {
    Unsaid,
    State(&'static str, &'static str),
    Field(&'static str, &'static str),
    Number(&'static str, f64),
}

/// Everything the stops of the trade look at, each with all it may say.
const DIALS: [&[Stand]; 13] = [
    &[
        Stand::Unsaid,
        Stand::State("wires-loose-at-block", "present"),
    ],
    &[
        Stand::Unsaid,
        Stand::State("hotend-wiggle", "tight"),
        Stand::State("hotend-wiggle", "sensor-loose"),
        Stand::State("hotend-wiggle", "heater-loose"),
        Stand::State("hotend-wiggle", "wires-damaged"),
    ],
    &[Stand::Unsaid, Stand::Field("board_age", "unprotected")],
    &[
        Stand::Unsaid,
        Stand::State("firmware-protection", "missing"),
    ],
    &[Stand::Unsaid, Stand::State("burnt-smell", "present")],
    &[Stand::Unsaid, Stand::State("connector-look", "scorched")],
    &[Stand::Unsaid, Stand::State("heater-stays-on", "present")],
    &[Stand::Unsaid, Stand::State("mains-exposed", "present")],
    &[Stand::Unsaid, Stand::State("plate-missing", "present")],
    &[Stand::Unsaid, Stand::State("nozzle-cuts-bed", "present")],
    &[Stand::Unsaid, Stand::State("heat-error-stop", "present")],
    &[Stand::Unsaid, Stand::State("part-type-look", "differs")],
    &[Stand::Unsaid, Stand::Number("nozzle_c", 250.0)],
];

fn put(facts: &mut Facts, stand: Stand) {
    match stand {
        Stand::Unsaid => {}
        Stand::State(finding, state) => {
            let f = K.finding_id(finding).unwrap();
            let state = K.finding(f).state(state).unwrap();
            facts.findings.insert(
                f,
                Sighting {
                    answer: Answer::State(state),
                    confidence: Confidence::Hunch,
                },
            );
        }
        Stand::Field(field, value) => facts.context.set(field, value).unwrap(),
        Stand::Number(number, value) => facts.settings.set(number, value).unwrap(),
    }
}

#[test]
fn every_combination_of_stop_findings_yields_no_step_that_heats_or_moves() {
    let mut base = Facts::default();
    base.context.set("hotend", "lined").unwrap();
    put(&mut base, Stand::State("temperature-wanders", "jumps"));
    let ranked = posterior(&K, &Evidence::of(&K, &base), true);
    let workshop = Workshop::default();
    let combinations: usize = DIALS.iter().map(|d| d.len()).product();
    let mut locked = 0;
    for n in 0..combinations {
        let (mut facts, mut rest) = (base.clone(), n);
        for dial in DIALS {
            put(&mut facts, dial[rest % dial.len()]);
            rest /= dial.len();
        }
        let held = stops(&K, &facts);
        if held.is_empty() {
            // Only what clears a heating error may be said without a stop.
            assert!(n % 2 == 0, "wires loose at the block always stop");
            continue;
        }
        locked += 1;
        let plan = outline(&K, &facts, &ranked, &workshop, Present::PRINTED, &held);
        assert_eq!(plan.steps.len(), 1, "one step under a stop");
        let Action::ClearStop(first) = plan.steps[0].action else {
            panic!("under a stop only its clearing: {:?}", plan.steps[0].action)
        };
        assert!(held.contains(&first) && plan.together.is_empty());
        let all: Vec<_> = held.iter().map(|s| &K.stops[*s]).collect();
        for check in (0..K.checks.len() as u16)
            .map(suspect_core::knowledge::CheckId)
            .filter(|c| allowed_under(&all, *c))
        {
            let work = &K.check(check).work;
            assert!(
                !work.prints && work.state.hot != Some(true),
                "{} under a stop",
                work.name
            );
        }
    }
    assert!(locked > combinations / 2 && combinations == 2usize.pow(12) * 5);
}

#[test]
fn the_step_that_clears_a_stop_leaves_the_machine_cold_and_still() {
    for stop in &K.stops {
        let work = &stop.work;
        assert!(
            !work.prints && work.raises_nozzle_c == 0.0 && work.state.hot == Some(false),
            "{}: cold",
            stop.id
        );
        let texts: String = work
            .steps
            .iter()
            .map(|s| s.text.as_str())
            .collect::<Vec<_>>()
            .join(" ");
        for forbidden in [
            "Heat up",
            "heat up",
            "Home and",
            "Print a",
            "print a",
            "Switch on",
        ] {
            assert!(
                !texts.contains(forbidden),
                "{}: \"{forbidden}\" under a stop",
                stop.id
            );
        }
        if let Some(check) = stop.check {
            assert!(
                !K.check(check).work.prints && K.check(check).work.state.hot != Some(true),
                "{}",
                stop.id
            );
        }
    }
}

#[test]
fn every_fact_a_stop_looks_at_is_turned_in_the_test_of_combinations() {
    for term in K.stops.iter().flat_map(|s| s.holds.iter().flatten()) {
        let covered = |stand: &Stand| match (term, stand) {
            (StopTerm::Finding(f, state), Stand::State(id, s)) => {
                K.finding(*f).id == *id && K.finding(*f).states[*state].id == *s
            }
            (StopTerm::Context(condition), Stand::Field(field, _)) => {
                suspect_core::profile::FIELDS[condition.field()].id == *field
            }
            (StopTerm::AtLeast(number, ..), Stand::Number(n, _)) => number.id() == *n,
            _ => false,
        };
        let in_base = match term {
            StopTerm::Finding(f, _) => K.finding(*f).id == "temperature-wanders",
            StopTerm::Context(condition) => {
                suspect_core::profile::FIELDS[condition.field()].id == "hotend"
            }
            StopTerm::AtLeast(..) => false,
        };
        assert!(
            in_base || DIALS.iter().flat_map(|d| d.iter()).any(covered),
            "{term:?}"
        );
    }
}

#[test]
fn a_stop_of_another_case_locks_the_machine_for_every_step_but_not_for_facts() {
    let mut case = replay(&K, &log(&[opened(), observed("layer-step", "present")]));
    let burning = K.stops.iter().position(|s| s.id == "burning").unwrap();
    case.locked_by = Some(Lock {
        holder: Holder::Case {
            id: "other".into(),
            number: 7,
        },
        stop: burning,
    });
    let checked = |check: &str, outcome: &str| Event::Checked {
        check: check.into(),
        outcome: outcome.into(),
        confidence: Confidence::Sure,
        minutes: 1.0,
    };
    let steps = [
        checked("belt-pluck", "right"),
        // Not even the check that would clear this case's own stop.
        checked("hotend-wiggle", "tight"),
        fixed("tighten-pulley"),
        Event::TimerSet {
            work: "check/cold-pull".parse().unwrap(),
            step: 2,
            minutes: 5.0,
        },
    ];
    for step in &steps {
        assert!(
            matches!(accept(&K, &case, step), Err(Refusal::Locked { .. })),
            "{step:?}"
        );
    }
    assert!(
        accept(
            &K,
            &case,
            &Event::Observed {
                finding: "axis".into(),
                state: "y".into(),
                confidence: Confidence::Sure,
                asked: false,
            }
        )
        .is_ok()
    );
    nothing_else_is_planned(&case, burning);
}

fn nothing_else_is_planned(case: &CaseState, burning: usize) {
    let workshop = Workshop::default();
    let analysis = analyse(&K, case, &workshop);
    assert_eq!(analysis.plan.steps.len(), 1);
    assert_eq!(analysis.plan.steps[0].action, Action::ClearStop(burning));
    assert!(matches!(&analysis.next.what, What::Locked(lock) if lock.case() == Some(("other", 7))));
    assert!(
        follow(&K, case, &analysis, &workshop, 3).first.is_none(),
        "nothing is planned on a locked machine"
    );
}
