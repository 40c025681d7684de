//! Finds the entries of the knowledge by a person's own words: plain phrases, terms, synonyms,
//! misspellings.
//!
//! A small index in memory, made once: everything searched is compiled into the program, so a query
//! to the database would be a longer way to the same words.

use crate::knowledge::{CauseId, CheckId, FindingId, FixId, Knowledge, Region, Section, Work};
use crate::measures::measures;
use std::collections::HashMap;

/// What a search can find.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum Topic {
    /// A sign, behaviour or question of pattern.
    Finding(FindingId),
    /// A suspect.
    Cause(CauseId),
    /// A check.
    Check(CheckId),
    /// A fix.
    Fix(FixId),
    /// A word of the field, by its place.
    Term(usize),
    /// A material family, by its place.
    Material(usize),
    /// A measure of the bench, by its identifier.
    Measure(&'static str),
}

/// One find, best first.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Hit {
    /// What was found.
    pub topic: Topic,
    /// How well it fits; only the order means something.
    pub score: f64,
}

/// Words that carry nothing.
const STOP_WORDS: [&str; 42] = [
    "a", "an", "the", "is", "are", "it", "its", "of", "on", "in", "to", "and", "or", "my", "i",
    "at", "with", "does", "do", "not", "wont", "doesnt", "dont", "will", "there", "that", "this",
    "for", "by", "be", "as", "too", "very", "print", "prints", "printer", "printing", "have",
    "has", "from", "keeps", "only",
];
/// A name, term or plain phrase counts this much, a question or a state's phrase less, explaining
/// text least.
const IN_NAME: f64 = 3.0;
const IN_PHRASE: f64 = 1.6;
const IN_TEXT: f64 = 0.35;
/// How much a synonym, the start of a longer word, and a misspelling count beside the word itself.
const SYNONYM: f64 = 0.8;
const START_OF: f64 = 0.7;
const MISSPELT: f64 = 0.6;
/// Words shorter than this are not taken for misspelt: too much looks alike.
const LEAST_FOR_MISSPELT: usize = 4;
/// A find worth less than this share of the best is left out.
const LEAST_OF_BEST: f64 = 0.12;
/// Most hits returned.
const MOST: usize = 40;

/// The index.
#[derive(Debug)]
pub struct Index {
    topics: Vec<Topic>,
    /// For each word: documents with the weight of the best field it stands in.
    postings: HashMap<String, Vec<(usize, f64)>>,
    synonyms: HashMap<String, Vec<String>>,
}

/// The bare word: lower case, no marks, common endings off, so that "strings", "stringing" and
/// "stringy" are one.
pub(crate) fn stem(word: &str) -> String {
    let word: String = word
        .to_lowercase()
        .chars()
        .filter(|c| c.is_alphanumeric())
        .collect();
    for ending in ["ingly", "ing", "edly", "ed", "ies", "es", "s", "ly", "y"] {
        if let Some(short) = word.strip_suffix(ending)
            && short.chars().count() >= 3
            && short.contains(['a', 'e', 'i', 'o', 'u', 'y'])
        {
            let doubled = short.chars().rev().take(2).collect::<Vec<_>>();
            let cut = doubled.len() == 2 && doubled[0] == doubled[1] && !"lse".contains(doubled[0]);
            let short = if cut {
                &short[..short.len() - doubled[0].len_utf8()]
            } else {
                short
            };
            return short.trim_end_matches('e').to_string();
        }
    }
    word.trim_end_matches('e').to_string()
}

/// Words of a text without those that carry nothing.
fn words(text: &str) -> Vec<String> {
    text.replace(['\'', '’'], "")
        .split(|c: char| !c.is_alphanumeric())
        .filter(|w| !w.is_empty() && !STOP_WORDS.contains(&w.to_lowercase().as_str()))
        .map(stem)
        .filter(|w| !w.is_empty())
        .collect()
}

impl Index {
    /// Indexes a knowledge.
    pub fn new(knowledge: &Knowledge) -> Self {
        let mut index = Self {
            topics: Vec::new(),
            postings: HashMap::new(),
            synonyms: HashMap::new(),
        };
        index.add_findings(knowledge);
        index.add_faults(knowledge);
        index.add_words(knowledge);
        index.add_measures();
        index
    }

    /// Signs, behaviours and patterns.
    fn add_findings(&mut self, knowledge: &Knowledge) {
        let asked = knowledge.finding_ids();
        let asked = asked.filter(|f| {
            let section = knowledge.finding(*f).section;
            !matches!(section, Section::Number | Section::Check)
        });
        for f in asked {
            let finding = knowledge.finding(f);
            let mut fields = vec![
                (IN_NAME, finding.plain.as_str()),
                (IN_NAME, &finding.term),
                (IN_PHRASE, &finding.question),
                (IN_PHRASE, finding.region.map_or("", Region::id)),
            ];
            // The phrase of absence would find what is not there.
            let there = finding.states.iter().skip(usize::from(finding.presence()));
            fields.extend(there.map(|s| (IN_PHRASE, s.phrase.as_str())));
            // The words by which people tell of it, the same as in a case; what denies it would
            // find what is not there.
            let told = knowledge.phrases.iter().filter(|p| p.finding == f);
            let told = told.filter(|p| !["absent", "none"].contains(&p.state.as_str()));
            fields.extend(told.map(|p| (IN_PHRASE, p.text.as_str())));
            self.add(Topic::Finding(f), &fields);
        }
    }

    /// Causes, checks and fixes.
    fn add_faults(&mut self, knowledge: &Knowledge) {
        for c in knowledge.cause_ids() {
            let cause = knowledge.cause(c);
            let fields = [
                (IN_NAME, cause.name.as_str()),
                (IN_NAME, &cause.plain),
                (IN_TEXT, &cause.mechanism),
            ];
            self.add(Topic::Cause(c), &fields);
        }
        let steps =
            |work: &'_ Work| -> Vec<String> { work.steps.iter().map(|s| s.text.clone()).collect() };
        for (q, check) in (0..).zip(&knowledge.checks) {
            let finding = knowledge.finding(check.finding);
            let steps = steps(&check.work);
            let mut fields = vec![
                (IN_NAME, check.work.name.as_str()),
                (IN_PHRASE, &finding.plain),
            ];
            fields.extend(steps.iter().map(|s| (IN_TEXT, s.as_str())));
            self.add(Topic::Check(CheckId(q)), &fields);
        }
        for (x, fix) in (0..).zip(&knowledge.fixes) {
            let steps = steps(&fix.work);
            let mut fields = vec![(IN_NAME, fix.work.name.as_str())];
            fields.extend(steps.iter().map(|s| (IN_TEXT, s.as_str())));
            self.add(Topic::Fix(FixId(x)), &fields);
        }
    }

    /// The glossary, materials, and words that mean the same.
    fn add_words(&mut self, knowledge: &Knowledge) {
        for (t, term) in knowledge.glossary.iter().enumerate() {
            let fields = [
                (IN_NAME, term.term.as_str()),
                (IN_PHRASE, &term.plain),
                (IN_TEXT, &term.text),
            ];
            self.add(Topic::Term(t), &fields);
        }
        for (m, material) in knowledge.materials.iter().enumerate() {
            self.add(Topic::Material(m), &[(IN_NAME, material.id.as_str())]);
        }
        for group in &knowledge.synonyms {
            let stems: Vec<String> = group.iter().map(|w| stem(w)).collect();
            for word in &stems {
                let others = self.synonyms.entry(word.clone()).or_default();
                others.extend(stems.iter().filter(|o| *o != word).cloned());
                others.sort();
                others.dedup();
            }
        }
    }

    /// The measures of the bench.
    fn add_measures(&mut self) {
        for measure in measures() {
            let mut fields = vec![
                (IN_NAME, measure.plain),
                (IN_NAME, measure.id),
                (IN_PHRASE, measure.card.words),
                (IN_PHRASE, measure.card.hold.id()),
            ];
            fields.extend(measure.inputs.iter().map(|i| (IN_TEXT, i.plain)));
            self.add(Topic::Measure(measure.id), &fields);
        }
    }

    fn add(&mut self, topic: Topic, fields: &[(f64, &str)]) {
        let document = self.topics.len();
        self.topics.push(topic);
        for (weight, text) in fields {
            for word in words(text) {
                let list = self.postings.entry(word).or_default();
                match list.last_mut() {
                    Some((d, w)) if *d == document => *w = w.max(*weight),
                    _ => list.push((document, *weight)),
                }
            }
        }
    }

    /// What fits a query, best first. Entries that fit more of the words come before those that fit
    /// one word well.
    pub fn find(&self, query: &str) -> Vec<Hit> {
        let wanted = words(query);
        let mut scores: HashMap<usize, (f64, usize)> = HashMap::new();
        for word in &wanted {
            let mut best: HashMap<usize, f64> = HashMap::new();
            for (known, closeness) in self.like(word) {
                let list = &self.postings[known];
                // A word that stands everywhere tells little.
                let rarity = (1.0 + self.topics.len() as f64 / list.len() as f64).ln();
                for (document, weight) in list {
                    let score = best.entry(*document).or_default();
                    *score = score.max(weight * closeness * rarity);
                }
            }
            for (document, score) in best {
                let entry = scores.entry(document).or_default();
                entry.0 += score;
                entry.1 += 1;
            }
        }
        let mut hits: Vec<(usize, f64)> = scores
            .into_iter()
            .map(|(document, (score, matched))| {
                (
                    document,
                    score * (matched as f64 / wanted.len() as f64).powi(2),
                )
            })
            .collect();
        // Ties go by the order of the knowledge: signs first, then suspects, checks, fixes, words.
        hits.sort_by(|a, b| b.1.total_cmp(&a.1).then(a.0.cmp(&b.0)));
        let least = hits.first().map_or(0.0, |h| h.1 * LEAST_OF_BEST);
        hits.retain(|h| h.1 >= least);
        hits.truncate(MOST);
        hits.into_iter()
            .map(|(document, score)| Hit {
                topic: self.topics[document],
                score,
            })
            .collect()
    }

    /// Known words like the wanted one, with how close they are. Misspelling is only thought of
    /// when the word itself is not known.
    fn like<'a>(&'a self, wanted: &'a str) -> Vec<(&'a str, f64)> {
        let mut out: Vec<(&str, f64)> = Vec::new();
        let known = |word: &str| self.postings.get_key_value(word).map(|(k, _)| k.as_str());
        out.extend(known(wanted).map(|k| (k, 1.0)));
        let synonyms = |of: &str, closeness: f64| {
            let list = self.synonyms.get(of).into_iter().flatten();
            list.filter_map(|s| known(s))
                .map(move |k| (k, closeness))
                .collect::<Vec<_>>()
        };
        out.extend(synonyms(wanted, SYNONYM));
        if wanted.len() >= LEAST_FOR_MISSPELT {
            out.extend(
                self.postings
                    .keys()
                    .filter(|k| k.starts_with(wanted) && *k != wanted)
                    .map(|k| (k.as_str(), START_OF)),
            );
        }
        if out.is_empty() && wanted.chars().count() >= LEAST_FOR_MISSPELT {
            let slips = if wanted.chars().count() >= 7 { 2 } else { 1 };
            let near = |k: &&String| strsim::osa_distance(k, wanted) <= slips;
            for word in self
                .postings
                .keys()
                .chain(self.synonyms.keys())
                .filter(near)
            {
                out.extend(known(word).map(|k| (k, MISSPELT)));
                out.extend(synonyms(word, MISSPELT * SYNONYM));
            }
        }
        out
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn first(query: &str, many: usize) -> Vec<String> {
        let k = Knowledge::shipped();
        let name = |hit: Hit| match hit.topic {
            Topic::Finding(f) => k.finding(f).id.clone(),
            Topic::Cause(c) => k.cause(c).id.clone(),
            Topic::Check(q) => k.check_name(q).to_string(),
            Topic::Fix(x) => k.fix(x).id.clone(),
            Topic::Term(t) => k.glossary[t].id.clone(),
            Topic::Material(m) => k.materials[m].id.clone(),
            Topic::Measure(id) => id.to_string(),
        };
        Index::new(&k)
            .find(query)
            .into_iter()
            .take(many)
            .map(name)
            .collect()
    }

    #[test]
    fn a_persons_own_words_find_the_right_signs() {
        for (query, expected) in [
            ("stringy", "strings"),
            ("blobby top", "ploughed-top"),
            ("wobbly walls", "walls-irregular"),
            ("won't stick", "will-not-stick"),
            ("strnigs", "strings"),
            ("clicking extruder", "extruder-clicks"),
            ("layer shift", "layer-step"),
            ("elephants foot", "flare-at-foot"),
            ("warpping", "corners-lift"),
            ("spagetti", "spaghetti"),
            ("cold pull", "cold-pull"),
            ("petg", "petg"),
        ] {
            let found = first(query, 5);
            assert!(found.iter().any(|f| f == expected), "{query}: {found:?}");
        }
        assert!(
            first("qqqqzzzz", 5).is_empty()
                && first("", 5).is_empty()
                && first("the of and", 5).is_empty()
        );
    }

    #[test]
    fn endings_and_doubled_letters_do_not_matter() {
        assert_eq!(
            ["string", "strings", "stringy", "stringing"].map(stem),
            ["string"; 4].map(String::from)
        );
        assert_eq!(stem("clogged"), stem("clog"));
        assert_eq!(stem("ridges"), stem("ridge"));
    }
}
