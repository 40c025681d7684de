//! Past cases that looked the same, and what fixed them.

use crate::knowledge::{FindingId, Knowledge, Section};
use std::collections::BTreeMap;

/// Answers of a case, finding identifier to state identifier: what is compared and what is kept
/// beside a case for it.
pub type Answers = BTreeMap<String, String>;

/// Least weight, in decibans, two cases must share to be called similar: about one rare sign.
const LEAST_SHARED: f64 = 10.0;
/// Least likeness, 0 to 1.
const LEAST_LIKENESS: f64 = 0.25;
/// A case of the same machine, or of the same model, counts for more than one of another: its
/// history is its own.
const SAME_MACHINE: f64 = 1.25;
const SAME_KIND: f64 = 1.1;

/// How near a past case's machine stands to this one's.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub enum Nearness {
    /// The same machine.
    Machine,
    /// Another machine of the same model.
    Kind,
    /// Another machine of the shop.
    Shop,
}

/// How far a past case looked the same.
#[derive(Debug, Clone, PartialEq)]
pub struct Likeness {
    /// Place of the case in the list that was compared.
    pub place: usize,
    /// 0 nothing in common, 1 all that is known of either.
    pub likeness: f64,
    /// Findings answered alike, the most telling first.
    pub shared: Vec<FindingId>,
    /// Findings answered otherwise.
    pub apart: Vec<FindingId>,
}

/// How telling an answer is: rare ones more than those any good print shows.
///
/// # Formula
/// −10 · log10 b(s), b(s) how often the state is seen where no cause is linked to it
fn telling(knowledge: &Knowledge, finding: FindingId, state: &str) -> f64 {
    let finding = knowledge.finding(finding);
    finding
        .state(state)
        .map_or(0.0, |s| -10.0 * finding.states[s].background.log10())
}

/// Answers that tell anything to speak of, by which a store can leave out cases that share none of
/// them.
///
/// Two cases that share only weaker answers would have to share six of them to be called similar.
pub fn telling_answers(knowledge: &Knowledge, now: &Answers) -> Answers {
    const LEAST: f64 = 2.0;
    let told = weighed(knowledge, now)
        .into_iter()
        .filter(|(_, (_, weight))| *weight >= LEAST);
    told.map(|(f, (state, _))| (knowledge.finding(f).id.clone(), state.to_string()))
        .collect()
}

/// The most similar of some past cases, best first, at most `many`.
///
/// # Formula
/// likeness = Σ shared / (Σ shared + Σ apart + ½ Σ known of one only), each answer by how telling
/// it is
pub fn similar(
    knowledge: &Knowledge,
    now: &Answers,
    past: &[(Answers, Nearness)],
    many: usize,
) -> Vec<Likeness> {
    let mine = weighed(knowledge, now);
    let mut found: Vec<(f64, Likeness)> = past
        .iter()
        .enumerate()
        .filter_map(|(place, (answers, nearness))| {
            let theirs = weighed(knowledge, answers);
            let (mut same, mut other, mut one_only) = (0.0, 0.0, 0.0);
            let (mut shared, mut apart) = (Vec::new(), Vec::new());
            for (finding, (state, weight)) in &mine {
                match theirs.get(finding) {
                    Some((there, _)) if there == state => {
                        same += weight;
                        shared.push((*weight, *finding));
                    }
                    Some((_, there)) => {
                        other += weight.max(*there);
                        apart.push(*finding);
                    }
                    None => one_only += weight,
                }
            }
            one_only += theirs
                .iter()
                .filter(|(f, _)| !mine.contains_key(f))
                .map(|(_, (_, w))| w)
                .sum::<f64>();
            let likeness = same / (same + other + 0.5 * one_only).max(f64::MIN_POSITIVE);
            if same < LEAST_SHARED || likeness < LEAST_LIKENESS {
                return None;
            }
            shared.sort_by(|a, b| b.0.total_cmp(&a.0).then(a.1.cmp(&b.1)));
            let near = match nearness {
                Nearness::Machine => SAME_MACHINE,
                Nearness::Kind => SAME_KIND,
                Nearness::Shop => 1.0,
            };
            let shared = shared.into_iter().map(|(_, f)| f).collect();
            Some((
                likeness * near,
                Likeness {
                    place,
                    likeness,
                    shared,
                    apart,
                },
            ))
        })
        .collect();
    found.sort_by(|a, b| b.0.total_cmp(&a.0).then(a.1.place.cmp(&b.1.place)));
    found.truncate(many);
    found.into_iter().map(|(_, likeness)| likeness).collect()
}

/// Answers of signs, behaviours and pattern with how telling each is. Checks are left out: they say
/// what was found, not how it looked.
fn weighed<'a>(knowledge: &Knowledge, answers: &'a Answers) -> BTreeMap<FindingId, (&'a str, f64)> {
    let looked = |f: &FindingId| {
        !matches!(
            knowledge.finding(*f).section,
            Section::Check | Section::Number
        )
    };
    answers
        .iter()
        .filter_map(|(finding, state)| Some((knowledge.finding_id(finding)?, state.as_str())))
        .filter(|(f, _)| looked(f))
        .map(|(f, state)| (f, (state, telling(knowledge, f, state))))
        .collect()
}

/// What "same as that case" takes over: its signs, behaviours and pattern that are not answered
/// here.
pub fn copied(knowledge: &Knowledge, now: &Answers, then: &Answers) -> Vec<(FindingId, String)> {
    let theirs = weighed(knowledge, then);
    let open = theirs
        .into_iter()
        .filter(|(f, _)| !now.contains_key(&knowledge.finding(*f).id));
    open.map(|(f, (state, _))| (f, state.to_string())).collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    fn answers(list: &[(&str, &str)]) -> Answers {
        list.iter()
            .map(|(f, s)| (f.to_string(), s.to_string()))
            .collect()
    }

    #[test]
    fn rare_signs_make_cases_alike_and_contradictions_part_them() {
        let k = Knowledge::shipped();
        let now = answers(&[
            ("layer-step", "present"),
            ("onset", "sudden"),
            ("strings", "none"),
        ]);
        let past = [
            (
                answers(&[
                    ("layer-step", "present"),
                    ("onset", "sudden"),
                    ("pulley-mark", "slips"),
                ]),
                Nearness::Shop,
            ),
            (
                answers(&[
                    ("layer-step", "present"),
                    ("onset", "gradual"),
                    ("axis", "x"),
                    ("loud-knock", "present"),
                ]),
                Nearness::Shop,
            ),
            (
                answers(&[("strings", "none"), ("onset", "sudden")]),
                Nearness::Machine,
            ),
            (
                answers(&[("strings", "strong"), ("pops-heard", "present")]),
                Nearness::Machine,
            ),
        ];
        let found = similar(&k, &now, &past, 5);
        assert_eq!(
            found.iter().map(|l| l.place).collect::<Vec<_>>(),
            [0, 1],
            "common answers alone make no likeness: {found:?}"
        );
        assert_eq!(k.finding(found[0].shared[0]).id, "layer-step");
        assert_eq!(k.finding(found[1].apart[0]).id, "onset");
        assert!(similar(&k, &Answers::new(), &past, 5).is_empty());
    }

    #[test]
    fn copying_leaves_checks_and_known_answers_alone() {
        let k = Knowledge::shipped();
        let now = answers(&[("onset", "gradual")]);
        let then = answers(&[
            ("onset", "sudden"),
            ("layer-step", "present"),
            ("pulley-mark", "slips"),
        ]);
        let copied = copied(&k, &now, &then);
        assert_eq!(
            copied,
            [(k.finding_id("layer-step").unwrap(), "present".to_string())]
        );
    }
}
