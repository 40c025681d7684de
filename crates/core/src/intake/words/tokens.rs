//! A text cut into the words that carry something, and what denies them.

use crate::search::stem;

/// Words that carry nothing in a phrase.
const SMALL: [&str; 48] = [
    "a", "an", "the", "is", "are", "was", "were", "be", "been", "being", "it", "its", "of", "on",
    "in", "to", "my", "i", "at", "with", "that", "this", "for", "by", "as", "there", "has", "have",
    "had", "does", "do", "did", "from", "will", "very", "really", "just", "some", "then", "you",
    "we", "they", "their", "also", "gets", "got", "while", "when",
];
/// Words that deny what follows.
const DENY: [&str; 24] = [
    "no", "not", "never", "without", "none", "nor", "neither", "cannot", "cant", "wont", "dont",
    "doesnt", "didnt", "isnt", "arent", "wasnt", "werent", "hasnt", "havent", "hadnt", "couldnt",
    "wouldnt", "aint", "zero",
];
/// Words that end what a denial reaches, and with it the clause.
const TURN: [&str; 8] = [
    "but",
    "however",
    "although",
    "though",
    "except",
    "yet",
    "instead",
    "otherwise",
];
/// Words after which the sentence turns to when or why: what stands before and behind them is told
/// apart. Only where somebody does something follows: "after I changed the spool", not "ripples
/// after corners".
const SINCE: [&str; 3] = ["after", "since", "because"];
const SOMEBODY: [&str; 14] = [
    "i",
    "we",
    "they",
    "he",
    "she",
    "it",
    "my",
    "changing",
    "replacing",
    "swapping",
    "moving",
    "updating",
    "fitting",
    "cleaning",
];
/// Words by which people say that they are not sure.
const HEDGE: [&str; 10] = [
    "maybe", "perhaps", "might", "possibly", "probably", "guess", "seems", "seem", "unsure",
    "somewhat",
];
/// Content words a denial reaches at most.
const REACH: usize = 5;

/// Stands for any word of denial.
pub const NOT: &str = "not";

/// One word of the text that carries something.
pub struct Token {
    pub stem: String,
    /// Bytes in the text.
    pub span: (usize, usize),
    /// Hard clause it stands in.
    pub clause: usize,
    /// Part of the clause, between commas.
    pub part: usize,
    /// Follows an "and": a denial does not reach across it.
    pub anew: bool,
    /// Joined to the part before by "or" or "nor".
    pub joined: bool,
    pub hedged: bool,
}

/// Where one stands in a text while it is cut into words.
#[derive(Default)]
struct Place {
    clause: usize,
    part: usize,
    anew: bool,
    joined: bool,
    hedged: bool,
}

impl Place {
    /// A new clause: what was denied or hedged reaches no further.
    fn turn(&mut self) {
        self.clause += 1;
        self.part += 1;
        self.hedged = false;
    }

    /// What stands between two words.
    fn pass(&mut self, between: &str) {
        for c in between.chars() {
            match c {
                '.' | ';' | '!' | '?' | ':' | '\n' | '(' | ')' | '–' => self.turn(),
                ',' => self.part += 1,
                _ => {}
            }
        }
    }

    /// A word that carries something.
    fn token(&mut self, stem: String, span: (usize, usize)) -> Token {
        let token = Token {
            stem,
            span,
            clause: self.clause,
            part: self.part,
            anew: self.anew,
            joined: self.joined,
            hedged: self.hedged,
        };
        (self.anew, self.joined) = (false, false);
        token
    }
}

/// Words that carry something, in order, with the clause and part of the sentence each stands in.
pub fn tokens(text: &str) -> Vec<Token> {
    let mut out: Vec<Token> = Vec::new();
    let mut place = Place::default();
    let mut rest = 0;
    while let Some((start, end)) = next_word(text, rest) {
        place.pass(&text[rest..start]);
        rest = end;
        let word = text[start..end].to_lowercase();
        let word: String = word.chars().filter(|c| c.is_alphanumeric()).collect();
        if SINCE.contains(&word.as_str()) && followed_by_somebody(text, end) {
            place.part += 1;
        }
        let before = out.last().filter(|t| t.clause == place.clause);
        let before = before.map(|t| t.stem.as_str());
        match word.as_str() {
            w if TURN.contains(&w) => place.turn(),
            "and" => (place.anew, place.joined) = (true, false),
            "or" | "nor" if before.is_some() => (place.part, place.joined) = (place.part + 1, true),
            w if HEDGE.contains(&w) => place.hedged = true,
            // "Not sure" and "no idea" hedge what stands beside them instead of denying it.
            "sure" | "certain" | "idea" if before == Some(NOT) => {
                out.pop();
                place.hedged = true;
            }
            "only" if before == Some(NOT) => {
                out.pop();
            }
            w if SMALL.contains(&w) || w.is_empty() => {}
            w => {
                let stem = match DENY.contains(&w) {
                    true => NOT.to_string(),
                    false => stem(w),
                };
                if !stem.is_empty() {
                    out.push(place.token(stem, (start, end)));
                }
            }
        }
    }
    out
}

/// Whether the next word is somebody, or something being done.
fn followed_by_somebody(text: &str, from: usize) -> bool {
    next_word(text, from).is_some_and(|(start, end)| {
        let next = text[start..end].to_lowercase();
        SOMEBODY.contains(&next.as_str())
    })
}

/// The denial that reaches a token, if any: it stands before it, in the same part, or in one joined
/// by "or".
pub fn denied_by(tokens: &[Token], at: usize) -> Option<usize> {
    for (reach, t) in (0..at).rev().enumerate() {
        let (here, after) = (&tokens[t], &tokens[t + 1]);
        let broken = here.clause != after.clause
            || after.anew
            || (here.part != after.part && !joined_later(tokens, t + 1));
        if broken || reach > REACH {
            return None;
        }
        if here.stem == NOT {
            return Some(t);
        }
    }
    None
}

/// Whether the part that begins at a token belongs to a list that ends in "or": "no strings, blobs
/// or gaps".
fn joined_later(tokens: &[Token], from: usize) -> bool {
    let clause = tokens[from].clause;
    tokens[from..]
        .iter()
        .take_while(|t| t.clause == clause && t.stem != NOT)
        .take(REACH)
        .any(|t| t.joined)
}

/// Bytes of the next word from a place on; an apostrophe belongs to its word.
fn next_word(text: &str, from: usize) -> Option<(usize, usize)> {
    let of_word = |c: char| c.is_alphanumeric() || c == '\'' || c == '’';
    let start = from + text[from..].find(|c: char| c.is_alphanumeric())?;
    let end = text[start..]
        .find(|c| !of_word(c))
        .map_or(text.len(), |n| start + n);
    Some((start, end))
}
