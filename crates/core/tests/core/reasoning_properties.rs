//! The guarantees of the reasoning, on random cases over the shipped knowledge.

use proptest::prelude::*;
use std::sync::LazyLock;
use suspect_core::evidence::{Answer, Confidence, Evidence, Facts, Sighting, Tried};
use suspect_core::knowledge::{
    CauseId, FindingId, FixId, Knowledge, Section, TryResult, UNTOUCHED, half_mended,
    tried_likelihoods,
};
use suspect_core::planning::{Present, Workshop, outline};
use suspect_core::profile::FIELDS;
use suspect_core::ranking::{decibans, posterior, rank, rank_plain};

static K: LazyLock<Knowledge> = LazyLock::new(Knowledge::shipped);

fn confidence() -> impl Strategy<Value = Confidence> {
    prop_oneof![
        Just(Confidence::Sure),
        Just(Confidence::Likely),
        Just(Confidence::Hunch)
    ]
}

/// Facts made from numbers: which findings with which state, which tries, which parts cleared,
/// which context.
fn facts() -> impl Strategy<Value = Facts> {
    let asked: Vec<u16> = (0..K.findings.len() as u16)
        .filter(|f| K.findings[*f as usize].section != Section::Number)
        .collect();
    let sighting = (proptest::sample::select(asked), 0usize..12, confidence());
    (
        proptest::collection::vec(sighting, 0..14),
        proptest::collection::vec((0..K.fixes.len() as u16, 0usize..4), 0..4),
        proptest::collection::vec((0..K.causes.len() as u16, confidence()), 0..3),
        proptest::collection::vec((0..FIELDS.len(), 0usize..8), 0..8),
    )
        .prop_map(|(sightings, tried, cleared, context)| {
            let mut facts = Facts::default();
            for (f, state, confidence) in sightings {
                let finding = FindingId(f);
                let state = state % K.finding(finding).states.len();
                facts.findings.insert(
                    finding,
                    Sighting {
                        answer: Answer::State(state),
                        confidence,
                    },
                );
            }
            facts.tried = tried
                .into_iter()
                .map(|(x, r)| Tried::of(FixId(x), TryResult::ALL[r]))
                .collect();
            for (c, confidence) in cleared {
                if facts.cleared.iter().all(|(x, _)| x.0 != c) {
                    facts.cleared.push((CauseId(c), confidence));
                }
            }
            for (field, value) in context {
                let values = FIELDS[field].values;
                facts
                    .context
                    .set(FIELDS[field].id, values[value % values.len()].id)
                    .unwrap();
            }
            facts
        })
}

/// Bayes by hand: every cause alone and `unlisted`, no groups, nothing superseded; written without
/// the ranking's code.
fn by_hand(facts: &Facts) -> (f64, Vec<f64>) {
    let k = &*K;
    let weights: Vec<f64> = k.cause_ids().map(|c| k.weight(c, &facts.context)).collect();
    let total: f64 = weights.iter().sum();
    let likelihood = |cause: Option<CauseId>| {
        let mut l = 1.0;
        // The enclosure against the material follows from the context alone.
        let drawn =
            suspect_core::evidence::findings_from_numbers(k, &facts.context, &facts.settings);
        for (f, s) in facts.findings.iter().map(|(f, s)| (*f, *s)).chain(drawn) {
            let states = k.finding(f).states.len() as f64;
            let Answer::State(seen) = s.answer else {
                unreachable!("only states are drawn")
            };
            let table = match cause {
                Some(c) => k.table.states(c, f),
                None => k.table.unlisted(f),
            };
            l *= table
                .iter()
                .enumerate()
                .map(|(n, p)| {
                    p * ((1.0 - s.confidence.gamma()) / states
                        + if n == seen { s.confidence.gamma() } else { 0.0 })
                })
                .sum::<f64>();
        }
        for t in &facts.tried {
            let chance = cause.map_or(0.0, |c| k.cure(t.fix, c));
            let table = if chance == 0.0 {
                let by_chance = k.fix(t.fix).by_chance;
                [by_chance, 0.015, 0.98 - by_chance, 0.005]
            } else {
                [
                    0.995 * chance,
                    0.995 * 0.15 * (1.0 - chance),
                    0.995 * 0.85 * (1.0 - chance),
                    0.005,
                ]
            };
            l *= table[t.result as usize];
        }
        for (cleared, confidence) in &facts.cleared {
            let sound = if cause == Some(*cleared) { 0.1 } else { 0.9 };
            l *= confidence.gamma() * sound + (1.0 - confidence.gamma()) / 2.0;
        }
        l
    };
    let mut masses: Vec<f64> = k
        .cause_ids()
        .map(|c| 0.98 * weights[c.at()] / total * likelihood(Some(c)))
        .collect();
    let mut unlisted = 0.02 * likelihood(None);
    let sum = unlisted + masses.iter().sum::<f64>();
    masses.iter_mut().for_each(|m| *m /= sum);
    unlisted /= sum;
    (unlisted, masses)
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 96, failure_persistence: None,
        ..ProptestConfig::default() })]

    #[test]
    fn hypotheses_sum_to_one_and_ledgers_add_up(facts in facts()) {
        let ranked = rank(&K, &facts);
        prop_assert!((ranked.posterior.probability.iter().sum::<f64>() - 1.0).abs() < 1e-12);
        prop_assert!((ranked.posterior.prior.iter().sum::<f64>() - 1.0).abs() < 1e-12);
        let involved: f64 = ranked.causes.iter().map(|l| l.probability).sum();
        prop_assert!((involved - (1.0 - ranked.unlisted + ranked.pairs_total)).abs() < 1e-9);
        for line in ranked.causes.iter().filter(|l| l.prior_alone > 0.0) {
            let left = decibans(line.alone / ranked.unlisted);
            let right = decibans(line.prior_alone / ranked.unlisted_prior) + line.evidence_total();
            prop_assert!((left - right).abs() < 1e-9, "{} {left} {right}", K.cause(line.cause).id);
        }
        for pair in &ranked.pairs {
            let right = decibans(pair.prior / ranked.unlisted_prior)
                + pair.ledger.iter().sum::<f64>();
            prop_assert!((decibans(pair.probability / ranked.unlisted) - right).abs() < 1e-9);
        }
    }

    #[test]
    fn plain_equals_bayes_by_hand(facts in facts()) {
        let ranked = rank_plain(&K, &facts);
        let (unlisted, masses) = by_hand(&facts);
        prop_assert!((ranked.unlisted - unlisted).abs() < 1e-9);
        for line in &ranked.causes {
            prop_assert!((line.alone - masses[line.cause.at()]).abs() < 1e-9, "{}",
                K.cause(line.cause).id);
            prop_assert!((line.probability - line.alone).abs() < 1e-12);
        }
    }

    #[test]
    fn a_cause_falls_to_zero_only_by_context(facts in facts()) {
        for line in rank(&K, &facts).causes {
            let possible = K.weight(line.cause, &facts.context) > 0.0;
            prop_assert_eq!(possible, line.probability > 0.0, "{}", &K.cause(line.cause).id);
        }
    }

    #[test]
    fn the_surprise_of_an_item_is_that_of_leaving_it_out(facts in facts()) {
        let ranked = rank(&K, &facts);
        for (n, item) in ranked.evidence.items.iter().enumerate() {
            let suspect_core::evidence::Source::Tried(t, _) = item.source else { continue };
            let mut without = facts.clone();
            without.tried.remove(t);
            let rest = rank(&K, &without);
            // Σ_h P(h | without) · L'(item | h) / u' = the ratio of the unnormalised sums =
            // P(unlisted | without) / P(unlisted | with).
            let r = decibans(rest.unlisted / ranked.unlisted);
            prop_assert!((ranked.posterior.agreement[n] - r).abs() < 1e-6, "{} {r}",
                ranked.posterior.agreement[n]);
        }
    }

    #[test]
    fn the_plan_never_costs_more_than_the_fixes_alone_and_is_deterministic(facts in facts()) {
        let evidence = Evidence::of(&K, &facts);
        let p = posterior(&K, &evidence, true);
        let workshop = Workshop::default();
        let a = outline(&K, &facts, &p, &workshop, Present::default(), &[]);
        let b = outline(&K, &facts, &posterior(&K, &evidence, true), &workshop, Present::default(),
            &[]);
        // Safety's sake comes before minutes.
        if !a.before_heat {
            prop_assert!(a.expected_minutes <= a.fixes_alone + 1e-9);
            prop_assert!(a.expected_minutes <= workshop.give_up + 1e-9);
        }
        prop_assert_eq!(a.expected_minutes.to_bits(), b.expected_minutes.to_bits());
        let actions: Vec<_> = a.steps.iter().map(|s| s.action).collect();
        prop_assert_eq!(actions, b.steps.iter().map(|s| s.action).collect::<Vec<_>>());
    }

    #[test]
    fn outcomes_of_a_check_are_weighed_by_chances_that_sum_to_one(facts in facts()) {
        let ranked = rank(&K, &facts);
        for check in 0..K.checks.len() as u16 {
            let previews = suspect_core::planning::preview(&K, &facts, &ranked,
                suspect_core::knowledge::CheckId(check));
            let sum: f64 = previews.iter().map(|p| p.probability).sum();
            prop_assert!((sum - 1.0).abs() < 1e-9, "{sum}");
        }
    }

    #[test]
    fn the_tried_table_sums_to_one(a in prop_oneof![Just(0.0), 0.05..0.95f64],
        k in 0.05..0.95f64, q in 0.0..=1.0f64, by_chance in 0.0..0.5f64) {
        let tables = [
            tried_likelihoods(&[a], by_chance),
            tried_likelihoods(&[k, k], by_chance),
            half_mended(k, q),
            UNTOUCHED,
        ];
        for table in tables {
            prop_assert!((table.iter().sum::<f64>() - 1.0).abs() < 1e-12);
            prop_assert!(table.iter().all(|p| *p >= 0.0));
        }
    }
}

#[test]
fn a_free_check_never_hurts() {
    let mut k = K.clone();
    let facts = suspect_core::case::file::read(
        &k,
        r#"{ "format": "usual-suspect-case/1", "findings": [ { "id": "gaps-top-skin",
            "state": "present" } ] }"#,
    )
    .unwrap();
    let p = posterior(&k, &Evidence::of(&k, &facts), true);
    let before = outline(
        &k,
        &facts,
        &p,
        &Workshop::default(),
        Present::default(),
        &[],
    )
    .expected_minutes;
    for check in &mut k.checks {
        (
            check.work.minutes,
            check.work.waiting,
            check.work.money,
            check.work.dismantling,
            check.work.risk,
        ) = (0.0, 0.0, 0.0, 0, 0);
    }
    let after = outline(
        &k,
        &facts,
        &p,
        &Workshop::default(),
        Present::default(),
        &[],
    )
    .expected_minutes;
    assert!(after <= before, "{after} {before}");
}

#[test]
fn a_finding_equally_likely_under_every_cause_changes_nothing() {
    let mut files = Knowledge::shipped_files();
    let findings = files.get_mut("findings/print.toml").unwrap();
    findings.push_str(
        "\n[full-moon]\nregion = \"whole\"\nquestion = \"How is the moon?\"\nplain = \
        \"the moon\"\nstates = [[\"full\", 0.2, \"full moon\"], [\"half\", 0.4, \"half moon\"], \
        [\"new\", 0.4, \"new moon\"]]\n",
    );
    // A suspect tells half moon from new moon, so that the validator sees a use; a full moon is as
    // likely under every cause.
    let path = files.get_mut("causes/path.toml").unwrap();
    *path = path.replacen(
        "spool-drags = \"usually\"",
        "full-moon = { full = 0.2, half = 0.7, new = 0.1 }\nspool-drags = \"usually\"",
        1,
    );
    let k = Knowledge::load(&files).unwrap();
    let case = |more: &str| {
        format!(
            r#"{{ "format": "usual-suspect-case/1", "findings": [ {{ "id": "layer-step",
                "state": "present" }} {more} ] }}"#
        )
    };
    let read = |text: &str| rank(&k, &suspect_core::case::file::read(&k, text).unwrap());
    let (without, with) = (
        read(&case("")),
        read(&case(r#", { "id": "full-moon", "state": "full" }"#)),
    );
    for (a, b) in without
        .posterior
        .probability
        .iter()
        .zip(&with.posterior.probability)
    {
        assert!((a - b).abs() < 1e-12);
    }
}

#[test]
fn groups_count_the_same_thing_once_and_a_bit() {
    let k = &*K;
    let read = |text: &str| {
        rank(
            k,
            &suspect_core::case::file::read(
                k,
                &format!(r#"{{ "format": "usual-suspect-case/1", "findings": [ {text} ] }}"#),
            )
            .unwrap(),
        )
    };
    let line = |ranked: &suspect_core::ranking::LineUp| {
        ranked
            .line(k.cause_id("flow-too-low").unwrap())
            .unwrap()
            .ledger
            .clone()
    };
    let alone = line(&read(r#"{ "id": "spongy-walls", "state": "present" }"#))[0];
    let both = line(&read(
        r#"{ "id": "gaps-top-skin", "state": "present" }, { "id": "spongy-walls",
            "state": "present" }"#,
    ));
    let first = line(&read(r#"{ "id": "gaps-top-skin", "state": "present" }"#))[0];
    // The stronger whole, the weaker half.
    assert!((both.iter().sum::<f64>() - (first.max(alone) + first.min(alone) / 2.0)).abs() < 1e-9);
}
