//! Procedures one step at a time, what is noted while they run, and what is offered when they lead
//! nowhere.

use std::sync::LazyLock;
use suspect_core::case::{
    Entry, Event, NotNow, Outcome, PutOff, Refusal, WorkId, accept, analyse, replay,
};
use suspect_core::doing::{StepKind, guided_steps, ladder, look_for};
use suspect_core::evidence::Confidence;
use suspect_core::knowledge::{Knowledge, TryResult};
use suspect_core::planning::{Action, Present, Workshop};
use suspect_core::preventive::{Job, Past, before, rates};
use suspect_core::profile::Context;
use suspect_core::ranking::rank;
use suspect_core::safety;
use suspect_core::stuck::{Stuck, stuck, what_matters};
use time::{Duration, OffsetDateTime};

static K: LazyLock<Knowledge> = LazyLock::new(Knowledge::shipped);

/// A log from events, a minute apart.
fn log(events: Vec<Event>) -> Vec<Entry> {
    let opened = Event::Opened {
        title: "Posts".into(),
        machine_name: "Heron".into(),
        machine: [("hotend", "lined"), ("feed", "bowden")]
            .map(|(f, v)| (f.to_string(), v.to_string()))
            .into(),
        material: Some("pla".into()),
        spool: "grey".into(),
    };
    let at = |seq: u32| OffsetDateTime::UNIX_EPOCH + Duration::minutes(i64::from(seq));
    std::iter::once(opened)
        .chain(events)
        .zip(1..)
        .map(|(event, seq)| Entry {
            seq,
            at: at(seq),
            by: None,
            event,
        })
        .collect()
}

fn observed(finding: &str, state: &str) -> Event {
    Event::Observed {
        finding: finding.into(),
        state: state.into(),
        confidence: Confidence::Sure,
    }
}

fn fixed(fix: &str, before: Option<&str>) -> Event {
    Event::Fixed {
        fix: fix.into(),
        minutes: 3.0,
        money: 0.0,
        before: before.map(Into::into),
        after: None,
    }
}

fn printed(result: TryResult) -> Event {
    Event::Printed {
        result,
        minutes: 3.0,
        grams: 2.0,
    }
}

#[test]
fn every_caution_is_said_once_and_before_anything_of_its_kind_is_done() {
    let case = replay(&K, &log(vec![]));
    let works = K
        .checks
        .iter()
        .map(|c| &c.work)
        .chain(K.fixes.iter().map(|f| &f.work))
        .chain(K.stops.iter().map(|s| &s.work));
    for work in works {
        let steps = guided_steps(
            &K,
            &case.facts,
            work,
            Present::default(),
            &Workshop::default(),
        );
        let mut said: Vec<usize> = steps
            .iter()
            .flat_map(|s| s.cautions.iter().copied())
            .collect();
        said.sort_unstable();
        assert_eq!(
            said,
            safety::cautions(&K, &case.facts, work),
            "{}",
            work.name
        );
        assert_eq!(steps[0].kind, StepKind::Ready, "tools and state first");
        // Power off and pulling the plug come before any hand touches the machine.
        for id in ["unplug", "power-off", "competent"] {
            let caution = K.cautions.iter().position(|c| c.id == id).unwrap();
            let at = steps.iter().position(|s| s.cautions.contains(&caution));
            assert!(
                at.is_none_or(|at| at <= 1),
                "{}: {id} is said at step {at:?}",
                work.name
            );
        }
        // Where getting ready heats the nozzle, its heat is warned of before.
        let hot = K
            .cautions
            .iter()
            .position(|c| c.id == "hot-nozzle")
            .unwrap();
        if work.state.hot == Some(true) && said.contains(&hot) {
            assert!(
                steps[0].cautions.contains(&hot),
                "{}: heated before the caution",
                work.name
            );
        }
        let off: Vec<&String> = steps
            .iter()
            .filter(|s| s.kind == StepKind::Do)
            .flat_map(|s| &s.parts)
            .collect();
        let back: Vec<&String> = steps
            .iter()
            .filter(|s| s.kind == StepKind::Back)
            .flat_map(|s| &s.parts)
            .collect();
        assert_eq!(off, back, "{}: what comes off goes back", work.name);
        assert!(
            steps.iter().map(|s| s.wait).sum::<f64>()
                <= work.waiting + Workshop::default().cool + 1e-9,
            "{}",
            work.name
        );
    }
}

#[test]
fn getting_ready_names_the_temperature_of_the_case_and_never_one_a_lined_hot_end_must_not_see() {
    let ready = |events: Vec<Event>, present: Present| {
        let case = replay(&K, &log(events));
        let work = &K.check(K.check_id("push-by-hand").unwrap()).work;
        let first =
            guided_steps(&K, &case.facts, work, present, &Workshop::default()).swap_remove(0);
        (first.text, first.wait)
    };
    let set = |c: f64| {
        vec![Event::Measured {
            number: "nozzle_c".into(),
            value: c,
            note: None,
        }]
    };
    assert_eq!(
        ready(set(210.0), Present::default()),
        (
            "Heat the nozzle to 210 °C, the filament stays in.".into(),
            2.0
        )
    );
    assert_eq!(
        ready(set(210.0), Present::PRINTED),
        (
            "The nozzle is at 210 °C or near it, the filament stays in.".into(),
            0.0
        )
    );
    assert!(
        ready(set(248.0), Present::default()).0.contains("220 °C"),
        "never past the material's window"
    );
    let other = Event::Described {
        title: "Posts".into(),
        material: Some("asa".into()),
        spool: String::new(),
        machine: Default::default(),
    };
    assert!(
        ready([set(248.0), vec![other]].concat(), Present::default())
            .0
            .contains("240 °C"),
        "a lined hot end is cut at 240 °C"
    );
    assert!(
        ready(vec![], Present::default()).0.contains("205 °C"),
        "the middle of the material's window"
    );
}

#[test]
fn waits_survive_and_end_with_the_work_they_belong_to() {
    let timer = Event::TimerSet {
        work: WorkId::Check("cold-pull".into()),
        step: 3,
        minutes: 5.0,
    };
    let mut events = vec![observed("missing-layers", "present"), timer.clone()];
    let case = replay(&K, &log(events.clone()));
    let until = OffsetDateTime::UNIX_EPOCH + Duration::minutes(3 + 5);
    assert_eq!((case.timers.len(), case.timers[0].until), (1, until));
    events.push(Event::Checked {
        check: "cold-pull".into(),
        outcome: "clean".into(),
        confidence: Confidence::Sure,
        minutes: 8.0,
    });
    assert!(replay(&K, &log(events)).timers.is_empty());
    for (minutes, step, work) in [
        (0.0, 3, "check/cold-pull"),
        (f64::NAN, 3, "check/cold-pull"),
        (5.0, 0, "check/cold-pull"),
        (5.0, 1, "check/nonsense"),
    ] {
        assert!(
            accept(
                &K,
                &case,
                &Event::TimerSet {
                    work: work.parse().unwrap(),
                    step,
                    minutes
                }
            )
            .is_err(),
            "{minutes} {step} {work}"
        );
    }
}

#[test]
fn nothing_prints_while_a_part_is_out() {
    let kept = |back| Event::PartKept {
        work: WorkId::Fix("reseat-tube".into()),
        part: "collar clip".into(),
        back,
    };
    let mut events = vec![
        observed("missing-layers", "present"),
        kept(false),
        fixed("reseat-tube", None),
    ];
    let case = replay(&K, &log(events.clone()));
    let off = Refusal::NotNow(NotNow::PartIsOff("collar clip".into()));
    assert_eq!(accept(&K, &case, &printed(TryResult::Cured)), Err(off));
    events.push(kept(true));
    let case = replay(&K, &log(events));
    assert!(accept(&K, &case, &printed(TryResult::Cured)).is_ok());
    assert!(
        accept(&K, &case, &kept(true)).is_err(),
        "it is back already"
    );
}

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
    // The facts on which most hangs: taken away, they move the line-up most.
    let matters = what_matters(&K, &case.facts, &line_up);
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

#[test]
fn the_easy_way_stands_before_the_involved_one_and_the_print_shows_what_was_wrong() {
    let case = replay(
        &K,
        &log(vec![
            observed("bed-screws-drift", "present"),
            observed("first-layer-uneven", "present"),
        ]),
    );
    let line_up = rank(&K, &case.facts);
    let fix = K.fix_id("stiffen-bed-mounts").unwrap();
    let (cause, rungs) = ladder(&K, &case.facts, &line_up, fix).unwrap();
    assert_eq!(K.cause(cause).id, "bed-springs-weak");
    let kinds: Vec<u8> = rungs.iter().map(|r| K.fix(r.fix).kind as u8).collect();
    assert!(kinds.is_sorted() && rungs.len() > 1);
    assert!(
        rungs[0].reason.starts_with("easy way")
            && rungs.iter().any(|r| r.reason.starts_with("involved way"))
    );
    let signs: Vec<&str> = look_for(&K, &case.facts, fix)
        .iter()
        .map(|f| K.finding(*f).id.as_str())
        .collect();
    assert_eq!(signs, ["first-layer-uneven", "bed-screws-drift"]);
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
    let struck = |cause: &str, same_machine| Past {
        cause: K.cause_id(cause).unwrap(),
        outcome: Outcome::FixedAndVerified,
        days: 20.0,
        same_machine,
        same_kind: same_machine,
    };
    let job = |hours| Job {
        hours,
        grams: hours * 20.0,
    };
    let list = |past: &[Past], hours| before(&K, &context, past, job(hours), &Workshop::default());
    let has = |b: &suspect_core::preventive::Before, id: &str| {
        b.looks.iter().any(|l| K.precautions[l.precaution].id == id)
    };
    let drags = vec![struck("spool-drag", true); 3];
    assert!(!has(&list(&[], 2.0), "spool-free"));
    assert!(has(&list(&drags, 2.0), "spool-free"));
    let look = list(&drags, 2.0);
    let spool = look
        .looks
        .iter()
        .find(|l| K.precautions[l.precaution].id == "spool-free")
        .unwrap();
    assert_eq!(spool.because[0], (K.cause_id("spool-drag").unwrap(), 3));
    // First layers are always watched, longer jobs are worth more, and looks only ever lower the
    // risk.
    let mut fewest = 0;
    for hours in [0.0, 1.0, 5.0, 20.0, 80.0] {
        let b = list(&drags, hours);
        assert!(
            has(&b, "first-layer-watched")
                && b.looks.len() >= fewest
                && b.risk.1 < b.risk.0
                && b.failure.is_finite()
        );
        fewest = b.looks.len();
    }
    for past in [&drags[..], &[]] {
        let rates = rates(&K, &context, past);
        assert!((rates.iter().sum::<f64>() - 1.0).abs() < 1e-9);
        assert_eq!(
            rates[K.cause_id("tube-gap").unwrap().at()] > 0.0,
            K.weight(K.cause_id("tube-gap").unwrap(), &context) > 0.0
        );
    }
}
