//! The single-cause network in the Bayesian Interchange Format (BIF 0.3): what `rank --plain`
//! reckons with.
//!
//! One variable `cause` with all causes and `unlisted`; one variable per finding below it. Of a
//! case there are its tried fixes (`tried-0`), its cleared parts (`cleared-belt-loose`) and, where
//! an answer was not sure, what was said (`said-layer-step`): a variable below the finding whose
//! state `said` weighs the finding's states as the answer does. Several outcomes of one look have a
//! variable each (`also-inspect-feeder-cracked-arm`). The answers themselves stand as comments at
//! the head, `// evidence <variable> <state>`: the plainest form of the format, which every reader
//! takes.

use crate::evidence::{Confidence, Evidence, Facts, Item, Source};
use crate::knowledge::{CauseId, FindingId, Knowledge, TryResult, tried_likelihoods};
use crate::ranking::{Hypothesis, SOUND_THOUGH_GUILTY, priors};
use std::fmt::Write;

/// Name of the state that stands for someone not listed.
const UNLISTED: &str = "unlisted";

/// The network for a case; with empty facts, for no machine in particular.
///
/// Writing to a `String` cannot fail, so the results of `write!` are dropped.
pub fn bif(knowledge: &Knowledge, facts: &Facts) -> String {
    let evidence = Evidence::plain(knowledge, facts);
    let mut out = format!("// knowledge {} {}\n", knowledge.version, knowledge.sha256);
    for item in &evidence.items {
        let (variable, state) = observed(knowledge, item);
        let _ = writeln!(out, "// evidence {variable} {state}");
    }
    out.push_str("network usual-suspect {\n}\n");

    let causes: Vec<&str> = std::iter::once(UNLISTED)
        .chain(knowledge.causes.iter().map(|c| c.id.as_str()))
        .collect();
    variable(&mut out, "cause", &causes);
    let _ = writeln!(
        out,
        "probability ( cause ) {{\n  table {} ;\n}}",
        numbers(&cause_prior(knowledge, facts))
    );

    for (f, finding) in knowledge.findings.iter().enumerate() {
        let id = FindingId(f as u16);
        let states: Vec<&str> = finding.states.iter().map(|s| s.id.as_str()).collect();
        variable(&mut out, &finding.id, &states);
        let rows = std::iter::once(knowledge.table.unlisted(id))
            .chain(knowledge.cause_ids().map(|c| knowledge.table.states(c, id)));
        conditional(
            &mut out,
            &finding.id,
            "cause",
            causes.iter().copied().zip(rows.map(<[f64]>::to_vec)),
        );
    }
    for item in &evidence.items {
        of_case(knowledge, item, &causes, &mut out);
    }
    out
}

/// Prior of `unlisted` and of every cause alone; 0 where the context makes it impossible.
fn cause_prior(knowledge: &Knowledge, facts: &Facts) -> Vec<f64> {
    let mut prior = vec![0.0; 1 + knowledge.causes.len()];
    let (hypotheses, values) = priors(knowledge, &facts.context, None, false);
    for (h, p) in hypotheses.iter().zip(values) {
        match h {
            Hypothesis::Unlisted => prior[0] = p,
            Hypothesis::One(c) => prior[1 + c.at()] = p,
            Hypothesis::Two(..) => {}
        }
    }
    prior
}

/// The state that is certain, when the answer leaves no doubt.
fn certain(item: &Item) -> Option<usize> {
    let mut seen = item.weights.iter().enumerate().filter(|(_, w)| **w > 0.0);
    match (seen.next(), seen.next()) {
        (Some((state, _)), None) => Some(state),
        _ => None,
    }
}

/// Which variable shows which state because of this item.
fn observed(knowledge: &Knowledge, item: &Item) -> (String, String) {
    match item.source {
        Source::Finding(f, _) => {
            let finding = knowledge.finding(f);
            match certain(item) {
                Some(state) if item.one_of_several => (
                    format!("also-{}-{}", finding.id, finding.states[state].id),
                    "said".into(),
                ),
                Some(state) => (finding.id.clone(), finding.states[state].id.clone()),
                None => (format!("said-{}", finding.id), "said".into()),
            }
        }
        Source::Tried(n, tried) => (format!("tried-{n}"), tried.result.id().into()),
        Source::Cleared(cause, _) => (
            format!("cleared-{}", knowledge.cause(cause).id),
            "sound".into(),
        ),
        Source::Own(n, ..) => (format!("own-{n}"), "said".into()),
        Source::Trials(n) => (format!("trials-{n}"), "said".into()),
    }
}

/// One of several outcomes of a look, for `unlisted` and every cause: seen, or not.
fn seen_beside_others(
    knowledge: &Knowledge,
    item: &Item,
    f: FindingId,
) -> impl Iterator<Item = Vec<f64>> {
    let table = &knowledge.table;
    let weight =
        move |states: &[f64]| -> f64 { states.iter().zip(&item.weights).map(|(p, w)| p * w).sum() };
    let all = knowledge
        .cause_ids()
        .map(move |c| weight(table.states(c, f)));
    std::iter::once(weight(table.unlisted(f)))
        .chain(all)
        .map(|p| vec![p, 1.0 - p])
}

/// The variable an item of the case needs beside the findings.
fn of_case(knowledge: &Knowledge, item: &Item, causes: &[&str], out: &mut String) {
    let (name, _) = observed(knowledge, item);
    match item.source {
        Source::Finding(f, _) if item.one_of_several => {
            variable(out, &name, &["said", "otherwise"]);
            let rows = seen_beside_others(knowledge, item, f);
            conditional(out, &name, "cause", causes.iter().copied().zip(rows));
        }
        Source::Finding(f, _) if certain(item).is_none() => {
            let finding = knowledge.finding(f);
            variable(out, &name, &["said", "otherwise"]);
            let rows = finding
                .states
                .iter()
                .zip(&item.weights)
                .map(|(s, w)| (s.id.as_str(), vec![*w, 1.0 - w]));
            conditional(out, &name, &finding.id, rows);
        }
        Source::Finding(..) => {}
        Source::Tried(_, tried) => {
            variable(out, &name, &TryResult::ALL.map(TryResult::id));
            let by_chance = knowledge.fix(tried.fix).by_chance;
            let chance = |c| {
                if tried.aimed_at.is_none_or(|only| only == c) {
                    knowledge.cure(tried.fix, c)
                } else {
                    0.0
                }
            };
            let rows = std::iter::once(0.0)
                .chain(knowledge.cause_ids().map(chance))
                .map(|k| tried_likelihoods(&[k], by_chance).to_vec());
            conditional(out, &name, "cause", causes.iter().copied().zip(rows));
        }
        Source::Cleared(cause, sure) => cleared(knowledge, &name, (cause, sure), causes, out),
        Source::Own(_, cause, decibans) => own(knowledge, &name, (cause, decibans), causes, out),
        Source::Trials(_) => trials(&name, &item.weights, causes, out),
    }
}

/// A part found sound, under whom it is of, and under all others.
fn cleared(
    knowledge: &Knowledge,
    name: &str,
    (cause, confidence): (CauseId, Confidence),
    causes: &[&str],
    out: &mut String,
) {
    variable(out, name, &["sound", "guilty"]);
    let gamma = confidence.gamma();
    let sound = |acts: bool| {
        let p = if acts {
            SOUND_THOUGH_GUILTY
        } else {
            1.0 - SOUND_THOUGH_GUILTY
        };
        gamma * p + (1.0 - gamma) / 2.0
    };
    let acts = std::iter::once(false).chain(knowledge.cause_ids().map(|c| c == cause));
    let rows = acts.map(|a| vec![sound(a), 1.0 - sound(a)]);
    conditional(out, name, "cause", causes.iter().copied().zip(rows));
}

/// What a word of the workshop's own is worth under whom it speaks of, and under all others.
fn own(
    knowledge: &Knowledge,
    name: &str,
    (cause, decibans): (Option<CauseId>, f64),
    causes: &[&str],
    out: &mut String,
) {
    variable(out, name, &["said", "otherwise"]);
    let weak = 10f64.powf(-decibans.abs() / 10.0);
    let said = |spoken_of: bool| match spoken_of == (decibans >= 0.0) {
        true => 1.0,
        false => weak,
    };
    let acts = std::iter::once(cause.is_none());
    let acts = acts.chain(knowledge.cause_ids().map(|c| cause == Some(c)));
    let rows = acts.map(|a| vec![said(a), 1.0 - said(a)]);
    conditional(out, name, "cause", causes.iter().copied().zip(rows));
}

/// What a trial series says of every cause, scaled so that the likeliest is certain to bring it.
fn trials(name: &str, ratios: &[f64], causes: &[&str], out: &mut String) {
    variable(out, name, &["said", "otherwise"]);
    let most = ratios.iter().copied().fold(1.0, f64::max);
    let ratios = std::iter::once(&1.0).chain(ratios);
    let rows = ratios.map(|ratio| vec![ratio / most, 1.0 - ratio / most]);
    conditional(out, name, "cause", causes.iter().copied().zip(rows));
}

fn variable(out: &mut String, name: &str, states: &[&str]) {
    let _ = writeln!(
        out,
        "variable {name} {{\n  type discrete [ {} ] {{ {} }};\n}}",
        states.len(),
        states.join(", ")
    );
}

fn conditional<'a>(
    out: &mut String,
    name: &str,
    parent: &str,
    rows: impl Iterator<Item = (&'a str, Vec<f64>)>,
) {
    let _ = writeln!(out, "probability ( {name} | {parent} ) {{");
    for (state, values) in rows {
        let _ = writeln!(out, "  ({state}) {} ;", numbers(&values));
    }
    out.push_str("}\n");
}

/// Numbers in full precision: read back they are the same.
fn numbers(values: &[f64]) -> String {
    values
        .iter()
        .map(f64::to_string)
        .collect::<Vec<_>>()
        .join(", ")
}
