//! Procedures one step at a time, what is noted while they run, and what is offered when they lead
//! nowhere.

use std::sync::LazyLock;
use suspect_core::case::{Entry, Event, NotNow, Refusal, WorkId, accept, replay};
use suspect_core::doing::{GuidedStep, StepKind, guided_steps, here, ladder, look_for, new_value};
use suspect_core::evidence::Confidence;
use suspect_core::knowledge::{Act, Knowledge, TryResult, Work};
use suspect_core::planning::{Present, Workshop};
use suspect_core::ranking::rank;
use suspect_core::safety;
use suspect_core::testing::{observed, printed};
use time::{Duration, OffsetDateTime};

pub static K: LazyLock<Knowledge> = LazyLock::new(Knowledge::shipped);

/// A log from events, a minute apart.
pub fn log(events: Vec<Event>) -> Vec<Entry> {
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

pub fn fixed(fix: &str, before: Option<&str>) -> Event {
    Event::Fixed {
        fix: fix.into(),
        minutes: 3.0,
        money: 0.0,
        before: before.map(Into::into),
        after: None,
        together: false,
    }
}

/// What is warned of, by what is done.
const OF_ACTS: [(Act, &str); 12] = [
    (Act::Heat, "hot-nozzle"),
    (Act::HeatBed, "hot-bed"),
    (Act::Wires, "unplug"),
    (Act::Board, "live-board"),
    (Act::ByHand, "power-off"),
    (Act::Move, "moving-parts"),
    (Act::BlockTool, "metal-tools"),
    (Act::Cut, "blade"),
    (Act::Thread, "soft-threads"),
    (Act::Solvent, "solvent"),
    (Act::Dry, "drying-heat"),
    (Act::Print, "watch-first-layer"),
];

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
        let ready = steps[0].kind == StepKind::Ready;
        assert!(ready || work.tools.is_empty(), "{}: tools first", work.name);
        let texts: Vec<&str> = steps.iter().map(|s| s.text.as_str()).collect();
        assert!(!texts.contains(&""), "{}: a step says nothing", work.name);
        said_before_its_act(work, &steps);
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
        what_comes_off_goes_back(work, &steps);
        assert!(
            steps.iter().map(|s| s.wait).sum::<f64>()
                <= work.waiting + Workshop::default().cool + 1e-9,
            "{}",
            work.name
        );
    }
}

fn what_comes_off_goes_back(work: &Work, steps: &[GuidedStep]) {
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
}

/// Whatever belongs to an act is said no later than the step that does it.
fn said_before_its_act(work: &Work, steps: &[GuidedStep]) {
    let before = usize::from(steps[0].kind == StepKind::Ready);
    for (act, id) in OF_ACTS {
        let caution = K.cautions.iter().position(|c| c.id == id).unwrap();
        let said_at = steps.iter().position(|s| s.cautions.contains(&caution));
        let done_at = work.steps.iter().position(|s| s.acts.contains(&act));
        if let Some(done_at) = done_at {
            assert!(
                said_at.is_some_and(|at| at <= done_at + before),
                "{}: {id} is said at {said_at:?}, {act} done in step {}",
                work.name,
                done_at + 1
            );
        }
    }
}

#[test]
fn getting_ready_names_the_temperature_of_the_case_and_never_one_a_lined_hot_end_must_not_see() {
    let ready = |events: Vec<Event>, present: Present| {
        let case = replay(&K, &log(events));
        let work = &K.check(K.check_id("strand-look").unwrap()).work;
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
    let mut events = vec![observed("missing-layers", "present"), timer];
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
fn a_hot_machine_is_cooled_with_its_fan_on_and_unplugged_at_once_only_under_a_stop() {
    let ready = |log: Vec<Event>| -> Vec<String> {
        let state = replay(&K, &self::log(log));
        let works = K
            .fixes
            .iter()
            .map(|x| &x.work)
            .chain(K.checks.iter().map(|c| &c.work));
        let cold = works.filter(|w| w.state.hot == Some(false));
        let first = |w: &Work| {
            let steps = guided_steps(&K, &state.facts, w, Present::PRINTED, &Workshop::default());
            steps[0].text.clone()
        };
        cold.map(first).collect()
    };
    let quiet = ready(Vec::new());
    assert!(!quiet.is_empty());
    for text in &quiet {
        let fan = text
            .find("fan on until the block is below 50 °C")
            .expect(text);
        let plug = text.find("pull the plug").unwrap_or(text.len());
        assert!(fan < plug, "{text}");
        let out = text.find("filament out").unwrap_or(0);
        assert!(out < fan, "unloaded while hot: {text}");
    }
    for text in ready(vec![observed("burnt-smell", "present")]) {
        assert!(text.contains("Pull the plug at once"), "{text}");
        assert!(!text.contains("fan on"), "{text}");
    }
}

fn printing(material: &str, nozzle_c: f64) -> suspect_core::evidence::Facts {
    let mut facts = suspect_core::evidence::Facts::default();
    facts.context.set("material", material).unwrap();
    facts.settings.set("nozzle_c", nozzle_c).unwrap();
    facts.settings.set("bed_c", 60.0).unwrap();
    facts
}

#[test]
fn a_step_says_the_temperatures_of_its_case_and_makes_none_up() {
    let pla = printing("pla", 205.0);
    let heat = "Heat bed and nozzle as for printing, hands away, and wipe the tip.";
    assert_eq!(here(&K, &pla, heat), ["bed 60 °C", "nozzle 205 °C"]);
    let wipe = "Let the nozzle home at 140 °C for PLA, 160 for PETG.";
    assert_eq!(here(&K, &pla, wipe), ["140 °C for PLA"]);
    assert!(here(&K, &pla, "Switch off.").is_empty());
    assert!(here(&K, &Default::default(), heat).is_empty());
    assert!(here(&K, &Default::default(), wipe).is_empty());
    // Every list of values by material in the knowledge is understood for the commonest one.
    let works = K.checks.iter().map(|c| &c.work);
    let works = works.chain(K.fixes.iter().map(|f| &f.work));
    let texts = works.flat_map(|w| &w.steps).map(|s| &s.text);
    let lists: Vec<&String> = texts.filter(|t| t.contains(" for PETG")).collect();
    assert!(lists.len() > 3);
    for text in lists {
        assert!(!here(&K, &pla, text).is_empty(), "{text}");
    }
}

#[test]
fn a_new_temperature_stays_inside_the_window() {
    let fix = |id: &str| K.fix(K.fix_id(id).unwrap());
    let (hotter, cooler) = (
        fix("raise-nozzle-temperature"),
        fix("lower-nozzle-temperature"),
    );
    let then = |fix, c: f64| new_value(&K, &printing("pla", c), fix).unwrap().then;
    assert_eq!(then(hotter, 200.0), Some(210.0));
    assert_eq!(then(cooler, 205.0), Some(195.0));
    let (low, high) = new_value(&K, &printing("pla", 205.0), hotter)
        .unwrap()
        .window
        .unwrap();
    assert_eq!(
        then(hotter, high),
        None,
        "at its end there is nowhere to go"
    );
    assert_eq!(then(cooler, low), None);
    assert!(then(hotter, high - 4.0).unwrap() <= high);
    assert_eq!(
        new_value(&K, &printing("pla", 205.0), fix("tighten-pulley")),
        None
    );
}
