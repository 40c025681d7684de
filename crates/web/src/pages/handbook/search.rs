//! The door to the handbook: a search over plain phrases and terms.

use crate::drawing::bench::picture;
use crate::drawing::{finding, pictogram};
use crate::page_error::PageError;
use crate::pages::Page;
use crate::pages::handbook::parts::link;
use crate::pages::parts::link::Link;
use crate::state::AppState;
use crate::words::machine_entry;
use crate::{show, urls};
use askama::Template;
use axum::extract::{Query, State};
use axum::response::Html;
use std::collections::BTreeMap;
use std::sync::Arc;
use suspect_core::knowledge::Knowledge;
use suspect_core::machine::MachineEntry;
use suspect_core::measures::measures;
use suspect_core::search::{Index, Topic};
use suspect_core::shelf::{OwnKind, Shelved, Spool, Stock};
use suspect_store::Uuid;
use suspect_store::lists::CaseRow;

/// A longer query is cut: nobody types it, and it would only cost time.
const LONGEST_QUERY: usize = 120;

struct Found {
    href: String,
    name: String,
    about: String,
    picture: String,
}

/// Something the workshop wrote.
struct Hit {
    href: String,
    name: String,
    about: String,
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
    /// The records with these words, to be narrowed.
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
    Query(query): Query<BTreeMap<String, String>>,
) -> Page {
    let query = query.get("q").map_or("", |q| q.trim());
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
    let (written, instead) = match query.is_empty() {
        true => (Vec::new(), None),
        false => written(&state, &query).await?,
    };
    let page = SearchPage {
        chapter: "search",
        records: urls::with(urls::RECORDS, &[("q", query.clone())]),
        written,
        instead,
        groups: groups.filter(|g| !g.found.is_empty()).collect(),
        chapters: chapters(&knowledge),
        query,
    };
    Ok(Html(page.render()?))
}

/// What the workshop wrote that has these words: cases, journals, spools and spare parts.
async fn written(state: &AppState, query: &str) -> Result<(Vec<Hit>, Option<String>), PageError> {
    let k = &state.knowledge;
    let found = state.store.find_written(query).await?;
    let machines = state.store.machines().await?;
    let name = |id: Uuid| {
        let machine = machines.iter().find(|m| m.id == id);
        machine.map_or(String::new(), |m| m.name.clone())
    };
    let case = |c: &CaseRow| Hit {
        href: urls::case(c.id),
        name: format!("{} {}", show::case_label(c.number), c.title),
        about: format!("{}, {}", name(c.machine_id), show::date(c.opened_at)),
    };
    let told = |(machine, entry): &(Uuid, MachineEntry)| Hit {
        href: format!("{}#journal", urls::machine(*machine)),
        name: machine_entry::line(k, &entry.event, None),
        about: format!("journal of {}, {}", name(*machine), show::date(entry.at)),
    };
    let mut hits: Vec<Hit> = found.cases.iter().map(case).collect();
    hits.extend(found.journal.iter().map(told));
    for (kind, id) in &found.things {
        hits.extend(thing(state, kind, *id).await?);
    }
    Ok((hits, found.instead))
}

async fn thing(state: &AppState, kind: &str, id: Uuid) -> Result<Option<Hit>, PageError> {
    let hit = match kind {
        Spool::KIND => {
            let (spool, _) = state.store.thing::<Spool>(id).await?;
            Hit {
                href: urls::spool(id),
                name: format!("{} {}", show::spool_label(spool.number), spool.is.name()),
                about: format!("spool, {} left", show::grams(spool.is.left_g)),
            }
        }
        Stock::KIND => {
            let (stock, _) = state.store.thing::<Stock>(id).await?;
            Hit {
                href: urls::STOCK.into(),
                about: format!("spare part, {} there", stock.is.pieces),
                name: stock.is.name,
            }
        }
        OwnKind::KIND => {
            let (own, _) = state.store.thing::<OwnKind>(id).await?;
            Hit {
                href: urls::kind(&id.to_string()),
                name: own.is.name,
                about: "kind of machine".into(),
            }
        }
        _ => return Ok(None),
    };
    Ok(Some(hit))
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
