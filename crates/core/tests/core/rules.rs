//! Rules of the trade above the arithmetic: what a try excuses, what was seen, what comes first.

use std::sync::LazyLock;
use suspect_core::case::file;
use suspect_core::evidence::{Answer, Evidence, Facts};
use suspect_core::knowledge::{Knowledge, half_mended};
use suspect_core::planning::{Action, Plan, Present, Workshop, outline, preview};
use suspect_core::ranking::{Hypothesis, posterior, rank};

static K: LazyLock<Knowledge> = LazyLock::new(Knowledge::shipped);

/// A case of findings, `id=state` each.
fn case(findings: &str) -> Facts {
    let one = |word: &str| {
        let (id, state) = word.split_once('=').unwrap_or((word, "present"));
        format!(r#"{{ "id": "{id}", "state": "{state}" }}"#)
    };
    let all: Vec<String> = findings.split_whitespace().map(one).collect();
    let all = all.join(", ");
    let text = format!(r#"{{ "format": "usual-suspect-case/1", "findings": [ {all} ] }}"#);
    file::read(&K, &text).unwrap()
}

fn planned(facts: &Facts, workshop: &Workshop) -> Plan {
    let p = posterior(&K, &Evidence::of(&K, facts), true);
    outline(&K, facts, &p, workshop, Present::default(), &[])
}

fn name(action: Action) -> String {
    match action {
        Action::Check(c) => K.check_name(c).to_string(),
        Action::Fix(x) => K.fix(x).id.clone(),
        other => format!("{other:?}"),
    }
}

/// Mass of the pair of two causes.
fn pair(facts: &Facts, one: &str, other: &str) -> f64 {
    let p = posterior(&K, &Evidence::of(&K, facts), true);
    let ids = [one, other].map(|c| K.cause_id(c).unwrap());
    let both =
        |h: &Hypothesis| matches!(h, Hypothesis::Two(i, j) if ids.contains(i) && ids.contains(j));
    p.hypotheses
        .iter()
        .zip(&p.probability)
        .find(|(h, _)| both(h))
        .unwrap()
        .1
        / p.probability[0]
}

#[test]
fn a_pair_excuses_a_try_only_as_far_as_the_other_explains_the_signs() {
    let (seen, tried) = (
        "strings=hairs pops-heard",
        "strings=hairs pops-heard swap-spool=same",
    );
    let drop = |other: &str| {
        pair(&case(tried), "filament-wet", other) / pair(&case(seen), "filament-wet", other)
    };
    // First layer too far shows neither hairs nor hiss; small retraction shows the hairs.
    assert!(drop("nozzle-too-high") < 0.2, "{}", drop("nozzle-too-high"));
    assert!(drop("nozzle-too-high") < drop("retraction-too-small"));
    let wet = K.cause_id("filament-wet").unwrap();
    assert_ne!(rank(&K, &case(tried)).leader().unwrap().cause, wet);
}

#[test]
fn a_half_mended_pair_looks_as_the_other_alone_would() {
    let [cured, better, same, worse] = half_mended(0.9, 0.0);
    assert!(cured > 0.8 && same < 0.1 && better < 0.1 && worse == 0.005);
    let [cured, _, same, _] = half_mended(0.9, 1.0);
    assert!(cured <= 0.006 && same > 0.9);
}

#[test]
fn an_outcome_that_what_was_seen_rules_out_is_neither_forecast_nor_offered_first() {
    let check = K.check_id("strand-look").unwrap();
    let outcomes = |facts: &Facts| preview(&K, facts, &rank(&K, facts), check);
    let finding = K.check(check).finding;
    let id = |s: usize| K.finding(finding).states[s].id.as_str();
    let free = outcomes(&case("gaps-top-skin"));
    assert_eq!(id(free[0].state), "straight");
    let nothing = outcomes(&case("nothing-extruded"));
    assert_eq!(id(nothing[0].state), "nothing");
    for o in nothing
        .iter()
        .filter(|o| ["straight", "curls", "bubbly"].contains(&id(o.state)))
    {
        assert_eq!(o.probability, 0.0, "{}", id(o.state));
    }
    assert!((nothing.iter().map(|o| o.probability).sum::<f64>() - 1.0).abs() < 1e-9);
}

#[test]
fn a_check_that_repeats_a_sign_is_one_piece_of_evidence_with_it() {
    let clog = K.cause_id("full-clog").unwrap();
    let evidence = |facts: &Facts| rank(&K, facts).line(clog).unwrap().evidence_total();
    let sign = evidence(&case("nothing-extruded"));
    let check = evidence(&case("strand-look=nothing"));
    let both = evidence(&case("nothing-extruded strand-look=nothing"));
    assert!(both < sign + check - 1.0, "{sign} {check} {both}");
    assert!(both > sign.max(check));
}

#[test]
fn several_things_seen_at_one_look_speak_for_a_pair() {
    let one = case("spongy-walls inspect-feeder=cracked-arm");
    let two = case("spongy-walls inspect-feeder=cracked-arm+worn-or-packed-gear");
    let finding = K.finding_id("inspect-feeder").unwrap();
    assert_eq!(two.findings[&finding].answer.states().len(), 2);
    assert_eq!(
        two.findings[&finding].answer.id(&K, finding),
        "cracked-arm+worn-or-packed-gear"
    );
    let both = |facts: &Facts| pair(facts, "feeder-arm-cracked", "drive-gear-worn");
    assert!(both(&two) > 5.0 * both(&one));
    // What is sound stands beside nothing else, and a check of one outcome takes no second.
    for wrong in [
        "inspect-feeder=sound+cracked-arm",
        "watch-gear=gear-slips+motor-stalls",
    ] {
        let (id, state) = wrong.split_once('=').unwrap();
        let case = serde_json::json!({
            "format": "usual-suspect-case/1",
            "findings": [{ "id": id, "state": state }],
        });
        assert!(file::read(&K, &case.to_string()).is_err(), "{wrong}");
    }
    assert!(matches!(one.findings[&finding].answer, Answer::State(_)));
}

#[test]
fn after_a_heating_error_nothing_is_heated_before_the_cold_look() {
    let plan = planned(&case("heat-error-stop dull-brittle"), &Workshop::default());
    assert!(plan.before_heat);
    assert_eq!(name(plan.steps[0].action), "hotend-wiggle");
    for step in &plan.steps[1..] {
        let heats = match step.action {
            Action::Check(c) => K.check(c).work.heats,
            Action::Fix(_) => true,
            Action::GiveUp | Action::ClearStop(_) => false,
        };
        assert!(!heats, "{}", name(step.action));
    }
    let looked = planned(
        &case("heat-error-stop dull-brittle hotend-wiggle=tight"),
        &Workshop::default(),
    );
    assert!(!looked.before_heat);
}

#[test]
fn a_workshop_that_chose_its_side_is_offered_its_ways() {
    let facts =
        case("first-layer-uneven plate-zone=centre-good-outside-bad start-code-mesh=ignores-mesh");
    let offered = |side: &str| {
        let mut workshop = Workshop::default();
        workshop.sides.insert("mesh".into(), side.into());
        let plan = planned(&facts, &workshop);
        let names: Vec<String> = plan.steps.iter().map(|s| name(s.action)).collect();
        names
    };
    assert_eq!(offered("stored")[0], "load-mesh-in-start-code");
    assert!(!offered("stored").contains(&"measure-mesh-each-time".to_string()));
    assert_eq!(offered("each-time")[0], "measure-mesh-each-time");
    assert!(!offered("each-time").contains(&"load-mesh-in-start-code".to_string()));
    // A side that is none is none.
    assert_eq!(offered("nonsense"), offered("both"));
}

#[test]
fn every_fix_says_how_it_is_proved_and_slow_faults_take_as_long_as_they_take() {
    for (fix, least) in [
        ("cool-heat-break", 60.0),
        ("restore-fin-fan", 45.0),
        ("open-enclosure", 45.0),
        ("cool-feeder-motor", 60.0),
        ("cool-axis-motor", 60.0),
        ("cool-driver", 60.0),
    ] {
        let fix = K.fix(K.fix_id(fix).unwrap());
        assert!(fix.verify_waiting >= least, "{}", fix.id);
    }
    let mounts = K.fix(K.fix_id("stiffen-bed-mounts").unwrap());
    assert!(mounts.verify_prints >= 3);
    assert_eq!(mounts.proof().1, 3.0 * mounts.verify_waiting);
}

#[test]
fn facts_that_hardly_go_together_are_named() {
    let both = |line: &str| suspect_core::evidence::clashes(&K, &case(line));
    let found = both("nothing-extruded fades-out onset=sudden");
    let ids: Vec<&str> = found
        .iter()
        .map(|(a, _)| K.finding(*a).id.as_str())
        .collect();
    assert_eq!(ids, ["nothing-extruded"]);
    assert!(both("nothing-extruded=absent fades-out").is_empty());
    assert!(both("fades-out missing-layers").is_empty());
}
