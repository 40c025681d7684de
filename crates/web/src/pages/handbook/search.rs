//! The door to the handbook: a search over plain phrases and terms.

use super::{Link, link, picture};
use crate::pages::Page;
use crate::show;
use crate::state::AppState;
use askama::Template;
use axum::extract::{Query, State};
use axum::response::Html;
use std::collections::BTreeMap;
use suspect_core::search::Topic;

/// A longer query is cut: nobody types it, and it would only cost time.
const LONGEST_QUERY: usize = 120;

struct Found {
    href: String,
    name: String,
    about: String,
    picture: String,
}

struct Group {
    title: &'static str,
    found: Vec<Found>,
}

struct Chapter {
    href: &'static str,
    name: &'static str,
    about: String,
}

#[derive(Template)]
#[template(path = "handbook/search.html")]
struct SearchPage {
    place: &'static str,
    chapter: &'static str,
    query: String,
    groups: Vec<Group>,
    chapters: Vec<Chapter>,
}

/// Whether a find is of one kind.
type Kind = fn(&Topic) -> bool;

/// Kinds of finds in the order they are shown.
const KINDS: [(&str, Kind); 5] = [
    ("Signs", |t| matches!(t, Topic::Finding(_))),
    ("Suspects", |t| matches!(t, Topic::Cause(_))),
    ("Checks", |t| matches!(t, Topic::Check(_))),
    ("Fixes", |t| matches!(t, Topic::Fix(_))),
    ("Words and materials", |t| {
        matches!(t, Topic::Term(_) | Topic::Material(_))
    }),
];

/// Finds shown of one kind.
const MOST_OF_A_KIND: usize = 9;

/// `GET /handbook?q=…`
pub async fn show(
    State(state): State<AppState>,
    Query(query): Query<BTreeMap<String, String>>,
) -> Page {
    let k = &state.knowledge;
    let query: String = query
        .get("q")
        .map(String::as_str)
        .unwrap_or("")
        .trim()
        .chars()
        .take(LONGEST_QUERY)
        .collect();
    let hits = state.index.find(&query);
    let found = |topic: Topic| {
        let Link { href, name } = link(k, topic);
        let (about, picture) = match topic {
            Topic::Finding(f) => (k.finding(f).term.clone(), picture(k, f)),
            Topic::Cause(c) => (
                k.cause(c).plain.clone(),
                crate::drawing::pictogram::svg(&k.cause(c).pictogram),
            ),
            Topic::Check(q) => (
                show::minutes(k.check(q).work.minutes + k.check(q).work.waiting),
                String::new(),
            ),
            Topic::Fix(x) => (
                show::minutes(k.fix(x).work.minutes + k.fix(x).work.waiting),
                String::new(),
            ),
            Topic::Term(t) => (k.glossary[t].plain.clone(), String::new()),
            Topic::Material(_) => ("temperatures, fan, drying".into(), String::new()),
        };
        Found {
            href,
            name,
            about,
            picture,
        }
    };
    let groups = KINDS
        .iter()
        .map(|(title, of)| Group {
            title,
            found: hits
                .iter()
                .filter(|h| of(&h.topic))
                .take(MOST_OF_A_KIND)
                .map(|h| found(h.topic))
                .collect(),
        })
        .filter(|g| !g.found.is_empty())
        .collect();
    let signs = k.findings.iter().filter(|f| !f.region.is_empty()).count();
    let chapters = vec![
        Chapter {
            href: crate::urls::SIGNS,
            name: "Signs",
            about: format!("{signs} signs as pictures, good beside faulty"),
        },
        Chapter {
            href: crate::urls::SUSPECTS,
            name: "Suspects",
            about: format!("{} causes with their dossiers", k.causes.len()),
        },
        Chapter {
            href: crate::urls::CHECKS,
            name: "Checks",
            about: format!("{} checks, the quick looks first", k.checks.len()),
        },
        Chapter {
            href: crate::urls::FIXES,
            name: "Fixes",
            about: format!("{} fixes with steps, tools and minutes", k.fixes.len()),
        },
        Chapter {
            href: crate::urls::CAUTIONS,
            name: "Cautions",
            about: "what stops a machine, what to mind".into(),
        },
        Chapter {
            href: crate::urls::MATERIALS,
            name: "Materials",
            about: "temperatures, fan and drying by family".into(),
        },
        Chapter {
            href: crate::urls::WORDS,
            name: "Words",
            about: "terms of the field in plain words".into(),
        },
    ];
    Ok(Html(
        SearchPage {
            place: "handbook",
            chapter: "search",
            query,
            groups,
            chapters,
        }
        .render()?,
    ))
}
