//! The door to the handbook: a search over plain phrases and terms.

use super::written::{Hit, Narrowing, written};
use crate::drawing::bench::picture;
use crate::drawing::{finding, pictogram};
use crate::pages::Page;
use crate::pages::handbook::parts::link;
use crate::pages::parts::link::Link;
use crate::state::AppState;
use crate::{show, urls};
use askama::Template;
use axum::extract::{Query, State};
use axum::response::Html;
use std::collections::BTreeMap;
use std::sync::Arc;
use suspect_core::knowledge::Knowledge;
use suspect_core::measures::measures;
use suspect_core::search::{Index, Topic};

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
    chapter: &'static str,
    query: String,
    groups: Vec<Group>,
    /// What the workshop wrote itself.
    written: Vec<Hit>,
    /// The words it was found by, where those given were never written.
    instead: Option<String>,
    /// What narrows it to some of that.
    narrowing: Narrowing,
    /// The records with these words, to be narrowed further.
    records: String,
    chapters: Vec<Chapter>,
}

/// Whether a find is of one kind.
type Kind = fn(&Topic) -> bool;

/// Kinds of finds in the order they are shown.
const KINDS: [(&str, Kind); 6] = [
    ("Signs", |t| matches!(t, Topic::Finding(_))),
    ("Suspects", |t| matches!(t, Topic::Cause(_))),
    ("Checks", |t| matches!(t, Topic::Check(_))),
    ("Fixes", |t| matches!(t, Topic::Fix(_))),
    ("Measures", |t| matches!(t, Topic::Measure(_))),
    ("Words and materials", |t| {
        matches!(t, Topic::Term(_) | Topic::Material(_))
    }),
];

/// Finds shown of one kind.
const MOST_OF_A_KIND: usize = 9;

/// `GET /handbook?q=…`
pub async fn show(
    State(state): State<AppState>,
    State(knowledge): State<Arc<Knowledge>>,
    State(index): State<Arc<Index>>,
    Query(sent): Query<BTreeMap<String, String>>,
) -> Page {
    let query = sent.get("q").map_or("", |q| q.trim());
    let query: String = query.chars().take(LONGEST_QUERY).collect();
    let hits = index.find(&query);
    let group = |(title, of): &(&'static str, Kind)| {
        let hits = hits.iter().filter(|h| of(&h.topic)).take(MOST_OF_A_KIND);
        Group {
            title,
            found: hits.map(|h| found(&knowledge, h.topic)).collect(),
        }
    };
    let groups = KINDS.iter().map(group);
    let narrowing = Narrowing::of(&state, &sent).await?;
    let (written, instead) = match query.is_empty() {
        true => (Vec::new(), None),
        false => written(&state, &query, &narrowing.narrow).await?,
    };
    let page = SearchPage {
        chapter: "search",
        records: urls::with(urls::RECORDS, &[("q", query.clone())]),
        written,
        instead,
        narrowing,
        groups: groups.filter(|g| !g.found.is_empty()).collect(),
        chapters: chapters(&knowledge),
        query,
    };
    Ok(Html(page.render()?))
}

fn found(k: &Knowledge, topic: Topic) -> Found {
    let Link { href, name } = link(k, topic);
    let (about, picture) = match topic {
        Topic::Finding(f) => (k.finding(f).term.clone(), finding::svg(k, f)),
        Topic::Cause(c) => {
            let cause = k.cause(c);
            (cause.plain.clone(), pictogram::svg(&cause.pictogram))
        }
        Topic::Check(q) => {
            let work = &k.check(q).work;
            (show::minutes(work.minutes + work.waiting), String::new())
        }
        Topic::Fix(x) => {
            let work = &k.fix(x).work;
            (show::minutes(work.minutes + work.waiting), String::new())
        }
        Topic::Term(t) => (k.glossary[t].plain.clone(), String::new()),
        Topic::Measure(id) => ("at the bench".into(), picture(id)),
        Topic::Material(_) => ("temperatures, fan, drying".into(), String::new()),
    };
    Found {
        href,
        name,
        about,
        picture,
    }
}

/// The chapters with what is in them.
fn chapters(k: &Knowledge) -> Vec<Chapter> {
    let signs = k.findings.iter().filter(|f| f.region.is_some()).count();
    let chapter = |href, name, about: &str| Chapter {
        href,
        name,
        about: about.to_string(),
    };
    vec![
        chapter(
            urls::SIGNS,
            "Signs",
            &format!("{signs} signs as pictures, good beside faulty"),
        ),
        chapter(
            urls::SUSPECTS,
            "Suspects",
            &format!("{} causes with their dossiers", k.causes.len()),
        ),
        chapter(
            urls::CHECKS,
            "Checks",
            &format!("{} checks, the quick looks first", k.checks.len()),
        ),
        chapter(
            urls::FIXES,
            "Fixes",
            &format!("{} fixes with steps, tools and minutes", k.fixes.len()),
        ),
        chapter(
            urls::MEASURES,
            "Measures",
            &format!(
                "{} measures: formulas, limits, examples",
                measures().count()
            ),
        ),
        chapter(
            urls::CAUTIONS,
            "Cautions",
            "what stops a machine, what to mind",
        ),
        chapter(
            urls::MATERIALS,
            "Materials",
            "temperatures, fan and drying by family",
        ),
        chapter(urls::WORDS, "Words", "terms of the field in plain words"),
    ]
}
