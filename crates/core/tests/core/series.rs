//! A trial series: labels, what may happen, what is read of a paste, what a case hears.

use proptest::prelude::*;
use std::collections::BTreeMap;
use std::sync::LazyLock;
use suspect_core::evidence::{Confidence as Sure, Facts, Sighting, TrialWord};
use suspect_core::knowledge::Knowledge;
use suspect_core::planning::Workshop;
use suspect_core::ranking::{CauseLine, rank};
use suspect_core::series::{
    Entry, Event, How, Label, Listed, Refused, Series, accept, pasted, replay, report, suspects_of,
};
use suspect_core::testing::trials::{begun, graded, made};
use suspect_core::trials::{Difference, Goal, State};
use time::OffsetDateTime;

static KNOWLEDGE: LazyLock<Knowledge> = LazyLock::new(Knowledge::shipped);

fn listed(names: &[&str]) -> Event {
    let one = |name: &&str| Listed {
        difference: Difference {
            name: (*name).into(),
            old: Some("off".into()),
            new: Some("on".into()),
            ..Difference::default()
        },
        causes: suspects_of(&KNOWLEDGE, name),
    };
    Event::Listed {
        list: names.iter().map(one).collect(),
        fights: Vec::new(),
        group_minutes: BTreeMap::new(),
    }
}

/// A log of accepted events.
fn log(events: impl IntoIterator<Item = Event>) -> Vec<Entry> {
    let mut log: Vec<Entry> = Vec::new();
    for event in events {
        accept(&replay(&log), &event).unwrap_or_else(|e| panic!("{event:?}: {e}"));
        log.push(Entry {
            seq: log.len() as u32 + 1,
            at: OffsetDateTime::UNIX_EPOCH,
            by: None,
            event,
        });
    }
    log
}

fn series(events: impl IntoIterator<Item = Event>) -> Series {
    replay(&log(events))
}

fn refused(series: &Series, event: &Event) -> String {
    accept(series, event).unwrap_err().to_string()
}

#[test]
fn labels_are_numbers_of_sets_and_letters_of_copies_and_never_used_twice() {
    let names = ["smoothing", "fan", "speed"];
    let mut events = vec![begun(), listed(&names)];
    let next = |events: &[Event], old: &[&str]| {
        let old: Vec<String> = old.iter().map(|o| (*o).into()).collect();
        series(events.to_vec()).next_label(&old).to_string()
    };
    assert_eq!(next(&events, &[]), "T1-A");
    assert_eq!(next(&events, &names), "T0-A");
    assert_eq!(next(&events, &["fan"]), "T2-A");
    events.extend([made("T2-A", &["fan"]), made("T3-A", &["fan", "speed"])]);
    assert_eq!(
        next(&events, &["speed", "fan"]),
        "T3-B",
        "order says nothing"
    );
    assert_eq!(next(&events, &["smoothing"]), "T4-A");
    // A piece taken back keeps its label.
    events.push(Event::Retracted { entry: 4 });
    assert_eq!(next(&events, &["fan", "speed"]), "T3-B");
    let now = series(events);
    let again = refused(&now, &made("T3-A", &["fan", "speed"]));
    assert!(
        again.contains("never used twice") && again.contains("T3-B"),
        "{again}"
    );
    let letters: Vec<String> = [7, 8, 13, 23, 24]
        .map(|c| Label::new(7, c).to_string())
        .into();
    assert_eq!(letters, ["T7-H", "T7-J", "T7-P", "T7-Z", "T7-AA"]);
}

/// One number stays with one set, also when the list grows after everything was put back once.
#[test]
fn a_grown_list_has_another_all_old() {
    let mut events = vec![
        begun(),
        listed(&["fan", "flow"]),
        made("T0-A", &["fan", "flow"]),
    ];
    events.push(listed(&["fan", "flow", "speed"]));
    let next = |old: &[&str]| {
        let old: Vec<String> = old.iter().map(|o| (*o).into()).collect();
        series(events.clone()).next_label(&old).to_string()
    };
    assert_eq!(next(&["flow", "fan"]), "T0-B");
    assert_eq!(next(&["fan", "flow", "speed"]), "T2-A");
}

/// What pieces hang on stays: a list or a beginning is not taken back, and nothing twice.
#[test]
fn only_what_stands_by_itself_is_taken_back() {
    let mut events = vec![
        begun(),
        listed(&["fan"]),
        made("T1-A", &[]),
        graded("T1-A", 1),
    ];
    let now = series(events.clone());
    let back = |entry| Event::Retracted { entry };
    for entry in [0, 1, 2, 9] {
        assert_eq!(accept(&now, &back(entry)), Err(Refused::NoEntry(entry)));
    }
    events.push(back(4));
    let now = series(events);
    assert_eq!(accept(&now, &back(4)), Err(Refused::NoEntry(4)));
    assert_eq!(accept(&now, &begun()), Err(Refused::BegunBefore));
    accept(&now, &back(3)).unwrap();
}

#[test]
fn what_makes_no_sense_is_refused_by_name() {
    let now = series([
        begun(),
        listed(&["smoothing", "fan"]),
        made("T2-A", &["fan"]),
    ]);
    let ungraded = refused(&now, &graded("T9-A", 3));
    assert!(
        ungraded.contains("no piece T9-A") && ungraded.contains("make its label"),
        "{ungraded}"
    );
    assert!(refused(&now, &graded("seven", 3)).contains("a label is T, a number"));
    assert_eq!(accept(&now, &graded("T2-A", 6)), Err(Refused::Grade(6)));
    assert!(refused(&now, &made("T3-A", &["fun"])).contains("\"fun\" is not on the list"));
    let gone = refused(&now, &listed(&["smoothing"]));
    assert!(gone.contains("piece T2-A was made with \"fan\""), "{gone}");
    accept(&now, &listed(&["smoothing", "fan", "speed"])).unwrap();
    assert!(refused(&now, &listed(&["fan", "fan", "smoothing"])).contains("two differences"));
    let ended = Event::Ended {
        how: How::LeftOff,
        keep: Vec::new(),
        note: String::new(),
    };
    let now = series([begun(), listed(&["fan"]), ended]);
    assert!(refused(&now, &made("T1-A", &[])).contains("take its end back"));
    accept(&now, &Event::Retracted { entry: 3 }).unwrap();
    assert_eq!(
        accept(&now, &Event::Retracted { entry: 1 }),
        Err(Refused::NoEntry(1))
    );
    let mut bad = begun();
    if let Event::Begun { printed, .. } = &mut bad {
        printed.grams = f64::NAN;
    }
    assert!(refused(&Series::default(), &bad).contains("grams is NaN"));
}

/// The same piece graded by two: both are kept, the second counts half.
#[test]
fn two_people_may_grade_one_piece() {
    let base = || {
        vec![
            begun(),
            listed(&["smoothing", "fan"]),
            made("T2-A", &["fan"]),
        ]
    };
    let looks = |grades: &[u8]| {
        let grades = grades.iter().map(|g| graded("T2-A", *g));
        series(base().into_iter().chain(grades))
    };
    let fan = |s: &Series| {
        let planned = s.planned(&Workshop::default()).unwrap();
        s.course(&planned).belief.cures()[1]
    };
    let (one, two, torn) = (looks(&[5]), looks(&[5, 5]), looks(&[5, 1]));
    assert_eq!(two.pieces[0].looks.len(), 2);
    assert!(fan(&one) < fan(&two) && fan(&torn) < fan(&one));
}

#[test]
fn a_whole_series_ends_with_its_proof() {
    let names: Vec<String> = (0..8).map(|k| format!("setting {k}")).collect();
    let names: Vec<&str> = names.iter().map(String::as_str).collect();
    let mut events = vec![begun(), listed(&names)];
    let workshop = Workshop::default();
    for _ in 0..20 {
        let now = series(events.clone());
        let planned = now.planned(&workshop).unwrap();
        let course = now.course(&planned);
        let Some(piece) = course.next(Goal::Repair) else {
            assert_eq!(course.verdict(Goal::Repair).state, State::Proven);
            let text = report(&now, "a bed that moves", &workshop);
            assert!(text.contains("Putting back setting 5 cures it"), "{text}");
            assert!(
                text.contains("| setting 5 | off | on |") && text.contains("T2-A"),
                "{text}"
            );
            return;
        };
        let old = now.names(&planned, piece.old);
        let label = now.next_label(&old).to_string();
        let old: Vec<&str> = old.iter().map(String::as_str).collect();
        let grade = if old.contains(&"setting 5") { 5 } else { 1 };
        events.extend([made(&label, &old), graded(&label, grade)]);
    }
    panic!("never proven");
}

#[test]
fn a_list_is_read_in_the_shapes_people_paste() {
    let text = "fan: 60 % -> 100 %\n\n# a comment\n- corner smoothing = off → on\nflow\t1.0\t0.95\n\
        new belt";
    let list = pasted(text);
    let row = |k: usize| {
        let d = &list[k].difference;
        (d.name.as_str(), d.old.as_deref(), d.new.as_deref())
    };
    assert_eq!(list.len(), 4);
    assert_eq!(row(0), ("fan", Some("60 %"), Some("100 %")));
    assert_eq!(row(1), ("corner smoothing", Some("off"), Some("on")));
    assert_eq!(row(2), ("flow", Some("1.0"), Some("0.95")));
    assert_eq!(row(3), ("new belt", None, None));
    let file = r#"{"format": "usual-suspect-differences/1", "differences": [
        {"name": "fan", "group": "cooling", "before": "60 %", "after": null},
        {"name": "peak flow", "group": "figure", "before": "1", "after": "2"}], "by_height": []}"#;
    let list = pasted(file);
    assert_eq!(list.len(), 1, "a figure follows from settings");
    assert_eq!(list[0].difference.new.as_deref(), Some("not said"));
}

/// One row in the ledger, exactly the decibans of the series; looser checks fall silent for the
/// suspects it names.
#[test]
fn a_series_speaks_in_the_ledger_and_supersedes_looser_checks() {
    let k = &*KNOWLEDGE;
    let now = series([
        begun(),
        listed(&["corner smoothing", "fan"]),
        made("T2-A", &["corner smoothing"]),
        graded("T2-A", 5),
    ]);
    let weight = now.weight(&Workshop::default());
    let db = weight.causes["corner-handling"];
    assert!(db > 3.0, "{weight:?}");
    let check = k.finding_id("toggle-motion-feature").unwrap();
    let no_change = k
        .finding(check)
        .states
        .iter()
        .position(|s| s.id == "same")
        .unwrap();
    let sighting = Sighting {
        answer: suspect_core::evidence::Answer::State(no_change),
        confidence: Sure::Sure,
    };
    let mut facts = Facts::default();
    facts.findings.insert(check, sighting);
    let before = rank(k, &facts);
    let spoken_against = |a: &&CauseLine, b: &&CauseLine| a.ledger[0].total_cmp(&b.ledger[0]);
    let line = before.causes.iter().min_by(spoken_against).unwrap();
    assert!(line.ledger[0] < -1.0, "{}", line.ledger[0]);
    let guilty = line.cause;
    facts.trials.push(TrialWord {
        series: "a".into(),
        name: "Rough curves".into(),
        looks: 1,
        causes: vec![(guilty, db)],
    });
    let line_up = rank(k, &facts);
    let ledger = &line_up.line(guilty).unwrap().ledger;
    assert!(ledger[0].abs() < 1e-9, "the check is silent: {ledger:?}");
    assert!((ledger[1] - db).abs() < 1e-9, "{ledger:?} {db}");
    let belt = k.cause_id("belt-loose").unwrap();
    let other = &line_up.line(belt).unwrap().ledger;
    assert!(
        other[1].abs() < 1e-9,
        "nothing is said of others: {other:?}"
    );
    assert!(line_up.causes.iter().all(|c| c.probability.is_finite()));
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(48))]

    /// Taking a look back leaves exactly what was known before it.
    #[test]
    fn taking_back_is_exact(grades in prop::collection::vec(0..6_u8, 1..6), extra in 0..6_u8) {
        let names = ["a", "b", "c", "d"];
        let mut events = vec![begun(), listed(&names), made("T2-A", &["a", "b"])];
        events.extend(grades.iter().map(|g| graded("T2-A", *g)));
        let before = series(events.clone());
        events.push(graded("T2-A", extra));
        let entry = events.len() as u32;
        events.push(Event::Retracted { entry });
        let after = series(events);
        let workshop = Workshop::default();
        let (p, q) = (before.planned(&workshop).unwrap(), after.planned(&workshop).unwrap());
        let (a, b) = (before.course(&p).belief, after.course(&q).belief);
        prop_assert_eq!(a.alone, b.alone);
        prop_assert_eq!(a.elsewhere.to_bits(), b.elsewhere.to_bits());
    }

    /// Any text is read without falling over, and a label is what it was.
    #[test]
    fn any_paste_and_any_label(text in "\\PC{0,200}", set in 0..999_u32, copy in 0..2000_u32) {
        let list = pasted(&text);
        prop_assert!(list.len() <= text.lines().count());
        let _ = Label::parse(&text);
        let label = Label::new(set, copy);
        prop_assert_eq!(Label::parse(&label.to_string()), Some(label));
    }
}

#[test]
fn a_solved_series_proposes_the_surest_fix_of_what_goes_back() {
    let names = ["outer wall speed", "fan"];
    let ended = |how, old: &[&str]| {
        let keep = names.iter().map(|name| suspect_core::series::Keep {
            name: (*name).into(),
            value: "off".into(),
            old: old.contains(name),
        });
        let keep = keep.collect();
        let note = String::new();
        let end = Event::Ended { how, keep, note };
        series([begun(), listed(&names), end]).fixes(&KNOWLEDGE)
    };
    let fixes = ended(How::Solved, &["outer wall speed"]);
    assert!(!fixes.is_empty() && fixes.len() <= 3);
    let causes = suspects_of(&KNOWLEDGE, "outer wall speed");
    for fix in fixes {
        let mends = causes.iter().filter_map(|c| KNOWLEDGE.cause_id(c));
        assert!(mends.clone().any(|c| KNOWLEDGE.cure(fix, c) > 0.0));
    }
    assert_eq!(ended(How::Solved, &[]), []);
    assert_eq!(ended(How::LeftOff, &["outer wall speed"]), []);
}

#[test]
fn what_is_enough_is_said_anew_and_taken_back() {
    let aimed = Event::Aimed { goal: Goal::Name };
    let told = [begun(), listed(&["fan", "speed"]), aimed];
    assert_eq!(series(told.clone()).goal, Goal::Name);
    let back = told.into_iter().chain([Event::Retracted { entry: 3 }]);
    assert_eq!(series(back).goal, Goal::Repair);
}
