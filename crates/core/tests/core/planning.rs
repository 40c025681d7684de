//! The planner under any settings, and where its advice leads.

use proptest::prelude::*;
use std::sync::LazyLock;
use suspect_core::case::file;
use suspect_core::evidence::{Evidence, Facts, Tried};
use suspect_core::knowledge::{FixId, Knowledge, TryResult};
use suspect_core::planning::{Action, Node, Plan, Present, RATES, Turn, Workshop, course, outline};
use suspect_core::ranking::{Posterior, posterior};

static K: LazyLock<Knowledge> = LazyLock::new(Knowledge::shipped);

fn case(findings: &str) -> (Facts, Posterior) {
    let findings: Vec<String> = findings
        .split_whitespace()
        .map(|f| f.split_once('=').unwrap())
        .map(|(id, state)| format!(r#"{{ "id": "{id}", "state": "{state}" }}"#))
        .collect();
    let text = format!(
        r#"{{ "format": "usual-suspect-case/1", "machine": {{ "feed": "bowden",
            "hotend": "all-metal" }}, "material": "petg", "findings": [ {} ] }}"#,
        findings.join(", ")
    );
    let facts = file::read(&K, &text).unwrap();
    let ranked = posterior(&K, &Evidence::of(&K, &facts), true);
    (facts, ranked)
}

fn planned(facts: &Facts, ranked: &Posterior, workshop: &Workshop) -> Plan {
    outline(&K, facts, ranked, workshop, Present::default(), &[])
}

fn all_tools() -> Vec<String> {
    let works = K
        .checks
        .iter()
        .map(|c| &c.work)
        .chain(K.fixes.iter().map(|f| &f.work));
    works.flat_map(|w| w.tools.iter().cloned()).collect()
}

/// Any number a form, a file or a slip may bring.
fn any_rate() -> impl Strategy<Value = f64> {
    prop_oneof![
        Just(0.0),
        Just(-1.0),
        Just(-1e9),
        Just(f64::NAN),
        Just(f64::INFINITY),
        Just(1e12),
        0.0..500.0f64
    ]
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 48, failure_persistence: None,
        ..ProptestConfig::default() })]

    #[test]
    fn any_settings_give_a_plan_that_ends(rates in proptest::collection::vec(any_rate(), 9),
        no_tools in any::<bool>()) {
        let (facts, ranked) = case("strings=strong blobs-at-seam=present");
        let workshop = Workshop {
            waiting: rates[0], money_per_hour: rates[1], money_per_kg: rates[2], give_up: rates[3],
                heat: rates[4], cool: rates[5], unload: rates[6],
            dismantling: [0.0, rates[7], rates[8]],
            missing_tools: if no_tools { all_tools() } else { Vec::new() },
            ..Workshop::default()
        };
        let plan = planned(&facts, &ranked, &workshop);
        prop_assert!(!plan.steps.is_empty());
        prop_assert!(plan.expected_minutes.is_finite() && plan.expected_minutes >= 0.0);
        prop_assert!(plan.expected_minutes <= plan.fixes_alone + 1e-6);
        let course = course(&K, &facts, &ranked, &workshop, Present::default(), &plan, 4);
        prop_assert!(course.within(30.0).is_finite());
    }

    #[test]
    fn a_step_lacking_its_tool_or_put_off_is_never_advised(first in 0usize..40,
        many in 1usize..20) {
        let (facts, ranked) = case("gaps-top-skin=present spongy-walls=present");
        let tools = all_tools();
        let missing_tools: Vec<String> =
            tools.iter().cycle().skip(first).take(many).cloned().collect();
        let not_now = vec!["swap-spool".to_string(), "raise-flow".to_string()];
        let workshop = Workshop { missing_tools: missing_tools.clone(), not_now: not_now.clone(),
            ..Workshop::default() };
        let plan = planned(&facts, &ranked, &workshop);
        for step in &plan.steps {
            let Some(work) = step.action.work(&K) else { continue };
            prop_assert!(work.tools.iter().all(|t| !missing_tools.contains(t)), "{}", work.name);
            let id = match step.action { Action::Check(c) => K.check_name(c),
                Action::Fix(x) => &K.fix(x).id, _ => "" };
            prop_assert!(!not_now.iter().any(|n| n == id));
        }
    }
}

#[test]
fn with_everything_refused_or_tried_the_plan_says_to_ask_the_maker() {
    let (mut facts, ranked) = case("strings=strong");
    let everything = K
        .checks
        .iter()
        .map(|c| K.finding(c.finding).id.clone())
        .chain(K.fixes.iter().map(|f| f.id.clone()));
    let refused = Workshop {
        not_now: everything.collect(),
        ..Workshop::default()
    };
    let only_giving_up =
        |plan: &Plan| plan.steps.len() == 1 && plan.steps[0].action == Action::GiveUp;
    assert!(only_giving_up(&planned(&facts, &ranked, &refused)));
    assert!((planned(&facts, &ranked, &refused).expected_minutes - 240.0).abs() < 1e-9);

    facts.tried = (0..K.fixes.len() as u16)
        .map(|x| Tried::of(FixId(x), TryResult::Same))
        .collect();
    let ranked = posterior(&K, &Evidence::of(&K, &facts), true);
    let plan = planned(&facts, &ranked, &Workshop::default());
    assert!(
        plan.steps
            .iter()
            .all(|s| !matches!(s.action, Action::Fix(_))),
        "a fix tried in vain is not advised again"
    );
    assert_eq!(plan.steps.last().unwrap().action, Action::GiveUp);
}

#[test]
fn a_fix_that_came_undone_may_be_advised_again() {
    let advised = |findings: &str| {
        let (mut facts, _) = case(findings);
        let fix = K.fix_id("tighten-pulley").unwrap();
        facts.tried.push(Tried::of(fix, TryResult::Cured));
        let ranked = posterior(&K, &Evidence::of(&K, &facts), true);
        planned(&facts, &ranked, &Workshop::default())
            .steps
            .iter()
            .any(|s| s.action == Action::Fix(fix))
    };
    assert!(!advised("layer-step=present pulley-mark=slips"));
    assert!(advised(
        "layer-step=present pulley-mark=slips held-before=held-then-returned"
    ));
}

#[test]
fn checks_that_share_a_state_are_offered_together_and_pay_for_it_once() {
    let (facts, ranked) = case(
        "missing-layers=present over-time=comes-and-goes spool-drags=absent onset=sudden \
            filament-notched=absent",
    );
    let push = K.check_id("push-by-hand").unwrap();
    let workshop = Workshop {
        not_now: vec!["look-at-spool".into()],
        ..Workshop::default()
    };
    let plan = planned(&facts, &ranked, &workshop);
    let Action::Check(first) = plan.steps[0].action else {
        panic!("a check first: {:?}", plan.steps[0])
    };
    let hot =
        suspect_core::planning::check_cost(K.check(push), Present::PRINTED, &workshop).counted;
    let cold =
        suspect_core::planning::check_cost(K.check(push), Present::default(), &workshop).counted;
    assert!(
        (cold - hot - workshop.heat).abs() < 1e-9,
        "heating is paid once: {cold} {hot}"
    );
    assert!(!plan.together.is_empty(), "nothing is offered beside it");
    for other in &plan.together {
        assert_ne!(*other, first);
        assert_eq!(
            K.check(*other).work.state.hot,
            K.check(first).work.state.hot,
            "{}",
            K.check_name(*other)
        );
    }
}

fn walk(node: &Node, path: &mut Vec<Action>, seen: &mut usize) {
    *seen += 1;
    assert!(
        !path.contains(&node.action) || node.action == Action::GiveUp,
        "{:?} twice on one way",
        node.action
    );
    path.push(node.action);
    if !node.branches.is_empty() {
        let sum: f64 = node.branches.iter().map(|b| b.probability).sum();
        assert!((sum - 1.0).abs() < 1e-9, "{sum}");
    }
    for branch in &node.branches {
        if branch.turn == Turn::Cured {
            assert!(branch.next.is_none(), "nothing follows on a cure");
        }
        if let Some(next) = &branch.next {
            walk(next, path, seen);
        }
    }
    path.pop();
}

#[test]
fn the_course_is_a_tree_whose_branches_sum_to_one_and_whose_chances_grow_with_time() {
    let (facts, ranked) = case("layer-step=present onset=sudden");
    let workshop = Workshop::default();
    let plan = planned(&facts, &ranked, &workshop);
    let follow = |depth| {
        course(
            &K,
            &facts,
            &ranked,
            &workshop,
            Present::default(),
            &plan,
            depth,
        )
    };
    let deep = follow(4);
    assert_eq!(deep.first.as_ref().unwrap().action, plan.steps[0].action);
    let (mut shallow_nodes, mut deep_nodes) = (0, 0);
    walk(
        deep.first.as_ref().unwrap(),
        &mut Vec::new(),
        &mut deep_nodes,
    );
    walk(
        follow(2).first.as_ref().unwrap(),
        &mut Vec::new(),
        &mut shallow_nodes,
    );
    assert!(deep_nodes > shallow_nodes && shallow_nodes > 1);
    let chances: Vec<f64> = (0..20).map(|n| deep.within(f64::from(n) * 10.0)).collect();
    assert!(
        chances.windows(2).all(|w| w[0] <= w[1])
            && chances[0] == 0.0
            && chances[19] > 0.4
            && chances[19] <= 1.0,
        "{chances:?}"
    );
    // Looking at fewer steps of the tree changes nothing about the chances.
    assert_eq!(follow(1).within(90.0), deep.within(90.0));
}

#[test]
fn rates_name_what_is_wrong_and_what_would_do() {
    let mut workshop = Workshop::default();
    let rate = |id: &str| RATES.iter().find(|r| r.id == id).unwrap();
    assert_eq!(
        rate("money_per_hour")
            .put(&mut workshop, 0.0)
            .unwrap_err()
            .to_string(),
        "\"an hour of your time\" must lie between 0.1 and 10000 money/h, but 0 was given"
    );
    assert!(rate("give_up").put(&mut workshop, f64::NAN).is_err());
    assert_eq!(workshop, Workshop::default());
    assert!(workshop.problems().is_empty());
    assert_eq!(
        Workshop {
            waiting: -1.0,
            ..Workshop::default()
        }
        .problems()[0]
            .0,
        "waiting"
    );
}
