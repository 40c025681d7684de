//! Words of the trade found in a text, so that a page can explain each where it stands.

use crate::knowledge::Term;
use std::ops::Range;

/// A word of the glossary in a text.
#[derive(Debug, Clone)]
pub struct Found<'a> {
    /// Where it stands, in bytes.
    pub at: Range<usize>,
    /// The word.
    pub term: &'a Term,
}

/// The words of the glossary in a text, in their order: each once, where it stands first, whole
/// words only, and the longer where two begin at the same place ("lined hot end", not "lined").
pub fn find<'a>(terms: &'a [Term], text: &str) -> Vec<Found<'a>> {
    // Only ASCII letters change, so places in both texts are the same.
    let small = text.to_ascii_lowercase();
    let first = |term: &'a Term| {
        let forms = term.forms.iter().chain([&term.term]);
        let places = forms.filter_map(|form| whole_word(&small, &form.to_ascii_lowercase()));
        let at = places.min_by_key(|at| (at.start, usize::MAX - at.end))?;
        Some(Found { at, term })
    };
    let mut found: Vec<Found> = terms.iter().filter_map(first).collect();
    found.sort_by_key(|f| (f.at.start, usize::MAX - f.at.end));
    let mut end = 0;
    found.retain(|f| {
        let free = f.at.start >= end;
        end = if free { f.at.end } else { end };
        free
    });
    found
}

/// Where a word stands first, as a word of its own.
fn whole_word(text: &str, word: &str) -> Option<Range<usize>> {
    let joined = |c: char| c.is_alphanumeric() || c == '-';
    let free = |at: &usize| {
        let before = text[..*at].chars().next_back();
        let after = text[at + word.len()..].chars().next();
        !before.is_some_and(joined) && !after.is_some_and(joined)
    };
    let places = text.match_indices(word).map(|(at, _)| at);
    let at = places.filter(|_| !word.is_empty()).find(free)?;
    Some(at..at + word.len())
}

#[cfg(test)]
mod tests {
    use super::*;

    fn term(id: &str, term: &str, forms: &[&str]) -> Term {
        Term {
            id: id.into(),
            term: term.into(),
            plain: String::new(),
            text: String::new(),
            forms: forms.iter().map(|f| (*f).to_string()).collect(),
            see: Vec::new(),
        }
    }

    fn ids(text: &str) -> Vec<(String, String)> {
        let terms = [
            term("lined", "lined hot end", &["lined"]),
            term("hot-end", "hot end", &[]),
            term("deciban", "deciban", &["decibans"]),
            term("mesh", "mesh", &[]),
        ];
        let said = |f: Found| (f.term.id.clone(), text[f.at].to_string());
        find(&terms, text).into_iter().map(said).collect()
    }

    #[test]
    fn the_longer_word_is_taken_and_each_once() {
        assert_eq!(
            ids("A Lined hot end, a mesh, another mesh: 3 decibans"),
            [
                ("lined".into(), "Lined hot end".into()),
                ("mesh".into(), "mesh".into()),
                ("deciban".into(), "decibans".into())
            ]
        );
    }

    #[test]
    fn a_part_of_a_word_is_no_word() {
        assert_eq!(ids("remeshed, streamlined, mesh-like"), []);
        assert_eq!(ids(""), []);
        assert_eq!(ids("für „mesh“"), [("mesh".into(), "mesh".into())]);
    }
}
