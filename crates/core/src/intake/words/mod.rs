//! Findings proposed from a person's own words: phrases, synonyms, misspellings, negation. Nothing
//! counts until it is confirmed.

#[cfg(test)]
mod tests;
mod title;
mod tokens;

pub use title::title;

use crate::evidence::Confidence;
use crate::knowledge::{FindingId, Knowledge};
use crate::search::stem;
use std::collections::{BTreeMap, HashMap};
use std::rc::Rc;
use tokens::{NOT, Token, denied_by, tokens};

/// A finding the words seem to tell of.
#[derive(Debug, Clone, PartialEq)]
pub struct Proposal {
    /// The finding.
    pub finding: FindingId,
    /// Identifier of the state the words tell.
    pub state: String,
    /// Likely where the words hedge ("maybe", "a bit like"), else sure.
    pub confidence: Confidence,
    /// The words it was taken from, as they were written.
    pub words: String,
}

/// What was read from a text.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Read {
    /// What it seems to tell.
    pub proposals: Vec<Proposal>,
    /// Parts of sentences that told nothing, as they were written.
    pub unread: Vec<String>,
}

/// A part of a sentence with fewer words that carry something is not worth a question.
const LEAST_UNREAD: usize = 2;

/// Content words that may stand between those of a phrase.
const BETWEEN: usize = 3;
/// Content words that may stand between a denial and its word inside a phrase: "does not really
/// stick".
const AFTER_DENIAL: usize = 1;
/// How close a synonym and a misspelling are to the word itself.
const SYNONYM: f64 = 0.85;
const MISSPELT: f64 = 0.8;

/// A phrase, its words as places in [`Matcher::stems`].
#[derive(Debug)]
struct Known {
    finding: FindingId,
    state: String,
    stems: Vec<usize>,
}

/// The phrases of a knowledge, ready to be looked for: an index from each word to the phrases that
/// hold it, so that a text is compared with those it shares a word with and with no other.
#[derive(Debug)]
pub struct Matcher {
    known: Vec<Known>,
    /// Every word of phrases and synonyms, stemmed. What is among them is not misspelt.
    stems: Vec<String>,
    /// Place of each stem.
    places: HashMap<String, usize>,
    /// Phrases that hold a stem, by its place.
    holders: Vec<Vec<usize>>,
    /// Stems that mean the same as a stem, by its place.
    synonyms: Vec<Vec<usize>>,
    /// Stems of phrases by first letter, for what is misspelt.
    by_letter: HashMap<char, Vec<usize>>,
    /// Place of [`NOT`], when a phrase denies something.
    not: Option<usize>,
}

/// How a word of the text stands to one of a phrase.
#[derive(Debug, Clone, Copy, PartialEq)]
enum Near {
    Same,
    Synonym,
    Misspelt,
}

/// A phrase found: which tokens it took.
struct Found<'a> {
    known: &'a Known,
    at: Vec<usize>,
    score: f64,
}

/// The words of a text, each with those of phrases it is near to.
struct Reading<'a> {
    tokens: &'a [Token],
    near: Vec<Rc<Vec<(usize, Near)>>>,
}

impl Matcher {
    /// Prepares the phrases of a knowledge.
    pub fn new(knowledge: &Knowledge) -> Self {
        let mut matcher = Self {
            known: Vec::new(),
            stems: Vec::new(),
            places: HashMap::new(),
            holders: Vec::new(),
            synonyms: Vec::new(),
            by_letter: HashMap::new(),
            not: None,
        };
        for phrase in &knowledge.phrases {
            let words = tokens(&phrase.text);
            let stems: Vec<usize> = words
                .into_iter()
                .map(|t| matcher.place_of(t.stem))
                .collect();
            if stems.is_empty() {
                continue;
            }
            for stem in &stems {
                if matcher.holders[*stem].last() != Some(&matcher.known.len()) {
                    matcher.holders[*stem].push(matcher.known.len());
                }
            }
            matcher.known.push(Known {
                finding: phrase.finding,
                state: phrase.state.clone(),
                stems,
            });
        }
        for words in &knowledge.synonyms {
            let group: Vec<usize> = words.iter().map(|w| matcher.place_of(stem(w))).collect();
            for one in &group {
                let others = group.iter().copied().filter(|other| other != one);
                matcher.synonyms[*one].extend(others);
            }
        }
        for (place, stem) in matcher.stems.iter().enumerate() {
            let letter = stem
                .chars()
                .next()
                .filter(|_| !matcher.holders[place].is_empty());
            if let (Some(letter), true) = (letter, stem != NOT) {
                matcher.by_letter.entry(letter).or_default().push(place);
            }
        }
        matcher.not = matcher.places.get(NOT).copied();
        matcher
    }

    /// The place of a stem, made when there is none.
    fn place_of(&mut self, stem: String) -> usize {
        if let Some(place) = self.places.get(&stem) {
            return *place;
        }
        self.places.insert(stem.clone(), self.stems.len());
        self.stems.push(stem);
        self.holders.push(Vec::new());
        self.synonyms.push(Vec::new());
        self.stems.len() - 1
    }

    /// What a text seems to tell, in the order of the text. One proposal a finding.
    pub fn propose(&self, knowledge: &Knowledge, text: &str) -> Vec<Proposal> {
        self.read(knowledge, text).proposals
    }

    /// What a text seems to tell, and the parts of it that told nothing.
    pub fn read(&self, knowledge: &Knowledge, text: &str) -> Read {
        let tokens = tokens(text);
        let kept = self.kept(&tokens);
        let proposals = kept.iter();
        let proposals = proposals.filter_map(|f| proposal(knowledge, text, &tokens, f));
        Read {
            proposals: proposals.collect(),
            unread: unread(text, &tokens, &kept),
        }
    }

    /// The phrases found, in the order of the text.
    fn kept(&self, tokens: &[Token]) -> Vec<Found<'_>> {
        let mut found = self.found(&Reading {
            near: self.near(tokens),
            tokens,
        });
        // Longer phrases know better what is meant than the short ones inside them.
        found.sort_by(|a, b| {
            b.at.len()
                .cmp(&a.at.len())
                .then(b.score.total_cmp(&a.score))
        });
        let mut kept: Vec<Found> = Vec::new();
        for f in found {
            let better = |k: &Found| k.at.len() > f.at.len() || k.score > f.score;
            let swallowed = kept
                .iter()
                .any(|k| better(k) && f.at.iter().all(|t| k.at.contains(t)));
            if !swallowed && !kept.iter().any(|k| k.known.finding == f.known.finding) {
                kept.push(f);
            }
        }
        kept.sort_by_key(|f| f.at.iter().copied().min());
        kept
    }

    /// For each token the words of phrases it is near to; each different word is looked up once.
    fn near(&self, tokens: &[Token]) -> Vec<Rc<Vec<(usize, Near)>>> {
        let mut seen: HashMap<&str, Rc<Vec<(usize, Near)>>> = HashMap::new();
        let mut near = Vec::with_capacity(tokens.len());
        for Token { stem, .. } in tokens {
            let found = seen
                .entry(stem)
                .or_insert_with(|| Rc::new(self.near_to(stem)));
            near.push(Rc::clone(found));
        }
        near
    }

    fn near_to(&self, word: &str) -> Vec<(usize, Near)> {
        if let Some(place) = self.places.get(word) {
            let mut near = vec![(*place, Near::Same)];
            if word != NOT {
                near.extend(
                    self.synonyms[*place]
                        .iter()
                        .map(|other| (*other, Near::Synonym)),
                );
            }
            return near;
        }
        let length = word.chars().count();
        let slips = if length >= 7 {
            2
        } else {
            usize::from(length >= 5)
        };
        let letter = word.chars().next().unwrap_or(' ');
        let alike = |place: &&usize| {
            let stem = &self.stems[**place];
            stem.len().abs_diff(word.len()) <= slips * 4
                && stem.chars().count().abs_diff(length) <= slips
                && strsim::osa_distance(stem, word) <= slips
        };
        let same_letter = self.by_letter.get(&letter).filter(|_| slips > 0);
        let misspelt = same_letter.into_iter().flatten().filter(alike);
        misspelt.map(|place| (*place, Near::Misspelt)).collect()
    }

    /// For each phrase the best place where all its words stand close together in one part of a
    /// clause.
    fn found(&self, reading: &Reading) -> Vec<Found<'_>> {
        let mut best: BTreeMap<usize, Found> = BTreeMap::new();
        for (start, near) in reading.near.iter().enumerate() {
            let phrases = near.iter().flat_map(|(stem, _)| &self.holders[*stem]);
            for phrase in phrases {
                let known = &self.known[*phrase];
                let Some((at, score)) = self.fit(known, reading, start) else {
                    continue;
                };
                if best.get(phrase).is_none_or(|b| score > b.score) {
                    best.insert(*phrase, Found { known, at, score });
                }
            }
        }
        best.into_values().collect()
    }

    /// The tokens of a phrase that begins at `start`, and how well they fit.
    fn fit(&self, known: &Known, reading: &Reading, start: usize) -> Option<(Vec<usize>, f64)> {
        let end = reading
            .tokens
            .len()
            .min(start + known.stems.len() + BETWEEN);
        let part = reading.tokens[start].part;
        let mut at: Vec<usize> = Vec::with_capacity(known.stems.len());
        let (mut sum, mut exact) = (0.0, false);
        for wanted in &known.stems {
            let mut best: Option<(usize, f64)> = None;
            for t in (start..end).filter(|t| reading.tokens[*t].part == part) {
                let closeness = closeness(&reading.near[t], *wanted, known.stems.len() > 1);
                let taken = closeness == 0.0 || at.contains(&t);
                if !taken && best.is_none_or(|(_, c)| closeness > c) {
                    best = Some((t, closeness));
                }
            }
            let (t, closeness) = best?;
            exact |= closeness == 1.0 && Some(*wanted) != self.not;
            at.push(t);
            sum += closeness;
        }
        // Two words that are only like those of the phrase say something else.
        let close = exact || known.stems.len() == 1;
        (close && at.contains(&start) && self.denials_in_place(known, &at))
            .then(|| (at, sum / known.stems.len() as f64))
    }

    /// A denial that belongs to a phrase must stand just before the word it denies.
    fn denials_in_place(&self, known: &Known, at: &[usize]) -> bool {
        known
            .stems
            .iter()
            .zip(at)
            .enumerate()
            .filter(|(_, (stem, _))| Some(**stem) == self.not)
            .all(|(n, (_, denial))| match at.get(n + 1) {
                Some(next) => *next > *denial && next - denial <= 1 + AFTER_DENIAL,
                None => true,
            })
    }
}

/// How close a token is to a word of a phrase: 1 the same, 0 not at all.
fn closeness(near: &[(usize, Near)], wanted: usize, may_be_synonym: bool) -> f64 {
    match near.iter().find(|(stem, _)| *stem == wanted) {
        Some((_, Near::Same)) => 1.0,
        Some((_, Near::Synonym)) if may_be_synonym => SYNONYM,
        Some((_, Near::Misspelt)) => MISSPELT,
        _ => 0.0,
    }
}

/// Parts of sentences in which no phrase was found.
fn unread(text: &str, tokens: &[Token], kept: &[Found]) -> Vec<String> {
    let mut out = Vec::new();
    let mut from = 0;
    while from < tokens.len() {
        let part = tokens[from].part;
        let many = tokens[from..].iter().take_while(|t| t.part == part).count();
        let here = from..from + many;
        let read = kept.iter().any(|f| f.at.iter().any(|t| here.contains(t)));
        if !read && many >= LEAST_UNREAD {
            let span = tokens[from].span.0..tokens[from + many - 1].span.1;
            out.push(text[span].to_string());
        }
        from += many;
    }
    out
}

fn proposal(
    knowledge: &Knowledge,
    text: &str,
    tokens: &[Token],
    found: &Found,
) -> Option<Proposal> {
    let finding = knowledge.finding(found.known.finding);
    let first = found.at.iter().copied().min()?;
    let last = found.at.iter().copied().max()?;
    let denial = found
        .at
        .iter()
        .filter_map(|t| denied_by(tokens, *t))
        .find(|d| !found.at.contains(d));
    let state = match denial {
        None => found.known.state.clone(),
        Some(_) if finding.presence() => if found.known.state == "absent" {
            "present"
        } else {
            "absent"
        }
        .to_string(),
        // What is denied of several states is said only where one state means that there is
        // nothing.
        Some(_) if finding.states[0].id == "none" => "none".to_string(),
        Some(_) => return None,
    };
    let from = denial.map_or(first, |d| d.min(first));
    let hedged = tokens[from..=last].iter().any(|t| t.hedged);
    Some(Proposal {
        finding: found.known.finding,
        state,
        confidence: if hedged {
            Confidence::Likely
        } else {
            Confidence::Sure
        },
        words: text[tokens[from].span.0..tokens[last].span.1].to_string(),
    })
}
