//! Several fixes before one print, "improved" by its proof, looks that teach links, and learning
//! that rests.

use std::sync::{Arc, LazyLock};
use suspect_core::case::{CaseState, Event, Outcome, Status, Struck, accept, replay};
use suspect_core::evidence::{Evidence, Facts};
use suspect_core::knowledge::{CauseId, FindingId, FixId, Knowledge, TryResult};
use suspect_core::learning::learned::{Counted, LearnedCause};
use suspect_core::learning::{Learned, Links};
use suspect_core::lessons::lesson::{Lesson, lesson};
use suspect_core::lessons::sheet::{OutcomeLine, Sheet, learn};
use suspect_core::planning::{Action, Present, Workshop, plan};
use suspect_core::ranking::{posterior, rank};
use suspect_core::testing::{events, log, opened, printed, resolved};

static K: LazyLock<Knowledge> = LazyLock::new(Knowledge::shipped);

fn told(line: &str, more: Vec<Event>) -> Vec<Event> {
    [vec![opened()], events(line), more].concat()
}

fn state(line: &str, more: Vec<Event>) -> CaseState {
    replay(&K, &log(&told(line, more)))
}

fn fix(id: &str) -> FixId {
    K.fix_id(id).unwrap()
}

fn suspected(facts: &Facts, cause: &str) -> f64 {
    posterior(&K, &Evidence::of(&K, facts), true).involved()[K.cause_id(cause).unwrap().at()]
}

const TWO: &str = "layer-step=present +tighten-pulley +tension-belt";

#[test]
fn two_fixes_before_one_print_are_tried_together() {
    let both = state(TWO, vec![printed(TryResult::Same)]);
    let tried = both.facts.tried.last().unwrap();
    assert!(tried.tries(fix("tighten-pulley")) && tried.tries(fix("tension-belt")));
    // k = 1 − (1 − k₁)(1 − k₂): neither cause is left as likely as when only the last one counted.
    let one = state(
        "layer-step=present +tension-belt",
        vec![printed(TryResult::Same)],
    );
    let alone = suspected(&one.facts, "pulley-slips");
    assert!(suspected(&both.facts, "pulley-slips") < alone);
    let cause = K.cause_id("pulley-slips").unwrap();
    assert!((tried.cure(&K, cause) - K.cure(fix("tighten-pulley"), cause)).abs() < 0.2);
    // Neither of them is advised again.
    let line_up = rank(&K, &both.facts);
    let planned = plan(
        &K,
        &both.facts,
        &line_up,
        &Workshop::default(),
        Present::PRINTED,
        &[],
    );
    let again = |a: &Action| matches!(a, Action::Fix(x) if tried.tries(*x));
    assert!(!planned.steps.iter().any(|s| again(&s.action)));
}

#[test]
fn a_print_between_tells_two_fixes_apart_and_what_was_put_back_does_not_count() {
    let apart = "layer-step=present +tighten-pulley print>same +tension-belt print>same";
    let apart = state(apart, vec![]);
    assert!(apart.facts.tried.iter().all(|t| t.together.is_empty()));
    assert_eq!(apart.facts.tried.len(), 2);
    let chosen = Event::Fixed {
        fix: "tension-belt".into(),
        minutes: 5.0,
        money: 0.0,
        before: Some("slack".into()),
        after: Some("taut".into()),
        together: false,
    };
    let back = state(
        "layer-step=present",
        vec![
            chosen,
            Event::PutBack { fixed: 3 },
            events("+tighten-pulley").remove(0),
            printed(TryResult::Same),
        ],
    );
    let tried = back.facts.tried.last().unwrap();
    assert!(tried.tries(fix("tighten-pulley")) && !tried.tries(fix("tension-belt")));
}

#[test]
fn each_of_two_fixes_counts_half_a_use() {
    let of = |line: &str| -> Lesson {
        let end = vec![
            Event::Struck(Struck::always()),
            printed(TryResult::Cured),
            Event::Resolved {
                outcome: Outcome::FixedAndVerified,
                cause: Some("pulley-slips".into()),
                fix: Some("tighten-pulley".into()),
                note: String::new(),
            },
        ];
        let entries = log(&told(line, end));
        lesson(&K, &entries, &replay(&K, &entries)).unwrap()
    };
    let weight = |lesson: &Lesson| {
        let own = |u: &&suspect_core::lessons::sheet::UseLine| {
            u.fix == "tighten-pulley" && u.cause == "pulley-slips"
        };
        lesson.uses.iter().find(own).map(|u| u.weight)
    };
    let alone = of("layer-step=present pulley-mark/slips +tighten-pulley");
    let both = of("layer-step=present pulley-mark/slips +tension-belt +tighten-pulley");
    let (alone, both) = (weight(&alone).unwrap(), weight(&both).unwrap());
    assert!((both / alone - 0.5).abs() < 0.05, "{both} {alone}");
}

#[test]
fn improved_takes_two_better_prints_or_a_fault_that_strikes_less_often() {
    let improved = resolved(Outcome::Improved, Some("pulley-slips"), "");
    let of = |more: Vec<Event>| state("layer-step=present +tighten-pulley", more);
    let better = printed(TryResult::Better);
    let once = of(vec![better.clone()]);
    assert_eq!(once.status, Status::Open);
    assert!(
        accept(&K, &once, &improved).is_err(),
        "one print is no proof"
    );
    assert_eq!(accept(&K, &once, &better), Ok(()), "another may be told");
    let twice = of(vec![better.clone(), better]);
    assert_eq!(accept(&K, &twice, &improved), Ok(()));
    // 4 of 5 before, then 1 of 6: 0.9545.
    let struck = Event::Struck(Struck {
        prints: 4,
        of: 5,
        ..Struck::default()
    });
    let mut prints = vec![struck, printed(TryResult::Same)];
    prints.extend(std::iter::repeat_n(printed(TryResult::Cured), 5));
    let rarer = of(prints.clone());
    assert!(
        (rarer.rarer().unwrap() - 0.9545).abs() < 5e-4,
        "{:?}",
        rarer.rarer()
    );
    assert_eq!(accept(&K, &rarer, &improved), Ok(()));
    // The next fix begins to count anew.
    prints.push(events("+tension-belt").remove(0));
    assert!(!of(prints).improved());
}

#[test]
fn a_fix_in_own_words_improves_by_its_own_prints() {
    let own = |name: &str| Event::OwnFixed {
        name: name.into(),
        aimed_at: None,
        result: TryResult::Better,
        minutes: 5.0,
        money: 0.0,
        grams: 10.0,
    };
    let of = |more: Vec<Event>| state("layer-step=present", more).improved();
    assert!(!of(vec![own("felt under it"), own("a brick on it")]));
    assert!(of(vec![own("felt under it"), own("felt under it")]));
}

/// A sign that a slack belt brings.
fn sign() -> FindingId {
    let belt = K.cause_id("belt-loose").unwrap();
    let all = (0..K.findings.len() as u16).map(FindingId);
    let mut brought = all.filter(|f| K.table.linked(belt, *f) && K.finding(*f).presence());
    brought.find(|f| K.finding(*f).check.is_none()).unwrap()
}

fn looks(asked: bool) -> Lesson {
    let seen = Event::Observed {
        finding: K.finding(sign()).id.clone(),
        state: "present".into(),
        confidence: Default::default(),
        asked,
    };
    let mut all = told("", vec![seen]);
    all.extend(events("belt-pluck/slack +tension-belt"));
    all.extend([
        Event::Struck(Struck::always()),
        printed(TryResult::Cured),
        resolved(Outcome::FixedAndVerified, Some("belt-loose"), ""),
    ]);
    let entries = log(&all);
    lesson(&K, &entries, &replay(&K, &entries)).unwrap()
}

#[test]
fn only_what_was_asked_for_teaches_how_a_cause_shows() {
    let named = |l: &Lesson| -> Vec<String> { l.looks.iter().map(|x| x.finding.clone()).collect() };
    let lesson = looks(false);
    assert_eq!(
        named(&lesson),
        ["belt-pluck"],
        "a check is a look; a sign told unasked is none"
    );
    assert!(lesson.looks[0].weight > 0.3 && lesson.looks[0].weight <= 1.0);
    assert_eq!(lesson.looks[0].state, "slack");
    assert!(named(&looks(true)).contains(&K.finding(sign()).id));
}

fn link(cases: usize) -> (Learned, CauseId, FindingId) {
    let (cause, finding) = (
        K.cause_id("belt-loose").unwrap(),
        K.finding_id("belt-pluck").unwrap(),
    );
    let state = K.finding(finding).state("slack").unwrap();
    let seen = std::iter::repeat_n((cause, finding, state, 1.0), 60);
    let learned = Learned::new(&K, Vec::new(), cases);
    let learned = learned.with_links(Arc::new(Links::of(&K, seen)));
    (learned, cause, finding)
}

#[test]
fn links_are_learned_from_a_hundred_cases_on_and_move_the_ranking() {
    assert!(link(99).0.links().is_none());
    let (learned, cause, finding) = link(100);
    let state = K.finding(finding).state("slack").unwrap();
    let book = K.table.states(cause, finding)[state];
    let moved = learned.links().unwrap().get(cause, finding).unwrap();
    // States the looks leave without a chance keep their floor of 0.005 each.
    assert!((moved.states[state] - (30.0 * book + 60.0) / 90.0).abs() < 0.02);
    assert!((moved.states.iter().sum::<f64>() - 1.0).abs() < 1e-9);
    let mut facts = state_facts();
    let plain = suspected(&facts, "belt-loose");
    facts.learned = Some(Arc::new(learned));
    assert!(suspected(&facts, "belt-loose") > plain);
}

fn state_facts() -> Facts {
    state("layer-step=present belt-pluck/slack", vec![]).facts
}

#[test]
fn numbers_at_rest_are_shown_and_not_used() {
    let cause = K.cause_id("belt-loose").unwrap();
    let mut causes = vec![LearnedCause::default(); K.causes.len()];
    causes[cause.at()].factor = 3.0;
    causes[cause.at()].shop = Counted {
        n: 9.0,
        expected: 1.0,
    };
    let awake = Arc::new(Learned::new(&K, causes, 200));
    let resting = Arc::new((*awake).clone().at_rest(&K));
    assert!(resting.rests() && !awake.rests());
    assert_eq!(resting.cause(cause).shop.n, 9.0, "the count is told");
    assert_eq!(*resting.awake(), *awake);
    let of = |learned: Option<Arc<Learned>>| {
        let mut facts = state_facts();
        facts.learned = learned;
        suspected(&facts, "belt-loose")
    };
    assert_eq!(of(Some(resting)), of(None), "bit for bit the book");
    assert!(of(Some(awake)) > of(None));
}

#[test]
fn a_sheet_of_a_hundred_outcomes_carries_its_looks() {
    let one = r#"{"machine":"Teal","cause":"belt-loose","outcome":"fixed-and-verified",
        "looks":[{"finding":"belt-pluck","state":"slack","weight":0.9}]}"#;
    let line: OutcomeLine = serde_json::from_str(one).unwrap();
    let lines = vec![line; 100];
    let sheet = learn(&K, &lines).unwrap();
    let again = Sheet::read(&serde_json::to_string(&sheet).unwrap()).unwrap();
    let learned = again.for_machine(&K, "Teal", "");
    let (cause, finding) = (K.cause_id("belt-loose"), K.finding_id("belt-pluck"));
    let link = learned
        .links()
        .unwrap()
        .get(cause.unwrap(), finding.unwrap());
    let seen: f64 = link.unwrap().seen.iter().sum();
    assert!((seen - 90.0).abs() < 1e-9);
    let few = learn(&K, &lines[..99]).unwrap().for_machine(&K, "Teal", "");
    assert!(few.links().is_none());
}
