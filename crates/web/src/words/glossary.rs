//! Words of the trade explained where they stand: a link to the word's entry, which carries its
//! line for the script to show at a touch.

use crate::{screen, urls};
use askama::filters::{Html, escape};
use suspect_core::glossary::find;
use suspect_core::knowledge::Term;

/// A text with its words of the trade marked, as HTML.
pub fn marked(text: &str) -> String {
    let Some(knowledge) = screen::knowledge() else {
        return plain(text);
    };
    let (mut out, mut end) = (String::new(), 0);
    for found in find(&knowledge.glossary, text) {
        out.push_str(&plain(&text[end..found.at.start]));
        out.push_str(&link(found.term, &text[found.at.clone()]));
        end = found.at.end;
    }
    out.push_str(&plain(&text[end..]));
    out
}

/// One word of the glossary under whatever form, as HTML; the form alone where there is no such
/// entry.
pub fn word(id: &str, shown: &str) -> String {
    let knowledge = screen::knowledge();
    let term = knowledge.as_ref();
    let term = term.and_then(|k| k.glossary.iter().find(|t| t.id == id));
    term.map_or_else(|| plain(shown), |t| link(t, shown))
}

fn link(term: &Term, shown: &str) -> String {
    format!(
        r#"<a class="word" href="{}#{}" data-word="{}: {}">{}</a>"#,
        urls::WORDS,
        term.id,
        plain(&term.plain),
        plain(&term.text),
        plain(shown)
    )
}

fn plain(text: &str) -> String {
    escape(text, Html).map_or_else(|_| String::new(), |t| t.to_string())
}
