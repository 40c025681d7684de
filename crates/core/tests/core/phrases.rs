//! What people write: what must be proposed from it, what must not, and what the handbook's search
//! finds for it.

use serde::Deserialize;
use std::sync::LazyLock;
use suspect_core::intake::Matcher;
use suspect_core::knowledge::Knowledge;
use suspect_core::search::{Index, Topic};

static K: LazyLock<Knowledge> = LazyLock::new(Knowledge::shipped);

#[derive(Deserialize)]
struct Phrases {
    phrase: Vec<Phrase>,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct Phrase {
    text: String,
    means: Vec<String>,
    #[serde(default)]
    never: Vec<String>,
    #[serde(default)]
    finds: Vec<String>,
}

fn phrases() -> Vec<Phrase> {
    let read: Phrases = toml::from_str(include_str!("phrases.toml")).unwrap();
    assert!(read.phrase.len() >= 70, "twenty heard and fifty of our own");
    read.phrase
}

/// Whether an expectation fits a finding with a state: `strings`, or `strings=hairs`.
fn fits(expected: &str, finding: &str, state: &str) -> bool {
    match expected.split_once('=') {
        Some((f, s)) => f == finding && s == state,
        None => expected == finding,
    }
}

#[test]
fn what_people_write_is_read_as_they_mean_it() {
    let matcher = Matcher::new(&K);
    let mut wrong = Vec::new();
    for phrase in phrases() {
        for expected in phrase.means.iter().chain(&phrase.never) {
            let (finding, state) = expected.split_once('=').unwrap_or((expected, ""));
            let finding = K.finding_id(finding);
            let finding = finding.unwrap_or_else(|| panic!("{}: {expected}", phrase.text));
            let known = suspect_core::evidence::answer(&K, finding, state);
            assert!(
                state.is_empty() || known.is_ok(),
                "{}: {expected}",
                phrase.text
            );
        }
        let read = matcher.propose(&K, &phrase.text);
        let proposed = |expected: &String| {
            read.iter()
                .any(|p| fits(expected, &K.finding(p.finding).id, &p.state))
        };
        let missed: Vec<_> = phrase.means.iter().filter(|e| !proposed(e)).collect();
        let misread: Vec<_> = phrase.never.iter().filter(|e| proposed(e)).collect();
        if !missed.is_empty() || !misread.is_empty() {
            let said: Vec<String> = read
                .iter()
                .map(|p| format!("{}={}", K.finding(p.finding).id, p.state))
                .collect();
            wrong.push(format!(
                "{:?}: missed {missed:?}, misread {misread:?}, read {said:?}",
                phrase.text
            ));
        }
    }
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
}

#[test]
fn the_search_of_the_handbook_finds_the_same() {
    let index = Index::new(&K);
    let mut wrong = Vec::new();
    for phrase in phrases() {
        let hits = index.find(&phrase.text);
        let signs = hits.iter().filter_map(|hit| match hit.topic {
            Topic::Finding(f) => Some(K.finding(f).id.as_str()),
            _ => None,
        });
        let first: Vec<&str> = signs.take(3).collect();
        for expected in &phrase.finds {
            if !first.contains(&expected.as_str()) {
                wrong.push(format!("{:?}: {expected} not in {first:?}", phrase.text));
            }
        }
    }
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
}
