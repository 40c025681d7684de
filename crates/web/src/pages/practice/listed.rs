//! Signs to look for at a place, checks and fixes to choose from.

use crate::drawing::finding;
use crate::drawing::print_map::{PlaceLink, places};
use crate::drawing::spot::Tally;
use crate::show;
use suspect_core::intake::{PLACES, marked_at};
use suspect_core::knowledge::{FindingId, Knowledge, Section};
use suspect_rehearsal::practice::Play;

/// Places beside those of the print: of the machine, of how it came.
const BESIDE: [(&str, &str, Section); 2] = [
    ("machine", "What the machine does", Section::Machine),
    ("history", "When and how it came", Section::History),
];

/// A sign to look for.
pub struct SignLine {
    pub id: String,
    pub question: String,
    pub picture: String,
    /// What is known of it.
    pub known: Option<String>,
}

/// A place chosen, with its signs.
pub struct PlaceView {
    pub name: &'static str,
    pub signs: Vec<SignLine>,
}

/// A check or fix to choose.
pub struct WorkLine {
    pub href: String,
    pub name: String,
    pub takes: String,
}

/// Where to look beside the print: address and name.
pub fn beside(here: &str) -> Vec<(String, &'static str)> {
    BESIDE
        .iter()
        .map(|(id, name, _)| (at(here, id), *name))
        .collect()
}

fn at(here: &str, place: &str) -> String {
    format!("{here}?at={place}#look")
}

/// The drawing of the print, with what was seen where.
pub fn map(k: &Knowledge, play: &Play<'_>, here: &str, chosen: &str) -> String {
    let links: Vec<PlaceLink> = PLACES
        .iter()
        .map(|p| {
            let mut tally = Tally::default();
            for (f, s) in &play.facts().findings {
                if marked_at(k, *f).is_some_and(|m| m.id == p.id) {
                    match s.answer.is_denial(k, *f) {
                        true => tally.not_seen += 1,
                        false => tally.seen += 1,
                    }
                }
            }
            PlaceLink {
                id: p.id,
                name: p.name,
                href: at(here, p.id),
                chosen: p.id == chosen,
                tally,
            }
        })
        .collect();
    places(&links)
}

/// The signs of a place.
pub fn place(k: &Knowledge, play: &Play<'_>, chosen: &str) -> Option<PlaceView> {
    let print = PLACES.iter().find(|p| p.id == chosen);
    let beside = BESIDE.iter().find(|(id, ..)| *id == chosen);
    let of = |f: &FindingId| match (print, beside) {
        (Some(p), _) => marked_at(k, *f).is_some_and(|m| m.id == p.id),
        (None, Some((_, _, section))) => k.finding(*f).section == *section,
        (None, None) => false,
    };
    let name = print.map(|p| p.name).or(beside.map(|(_, name, _)| *name))?;
    let line = |f: FindingId| {
        let finding = k.finding(f);
        let state = play.facts().findings.get(&f).and_then(|s| s.answer.state());
        SignLine {
            id: finding.id.clone(),
            question: finding.question.clone(),
            picture: finding::svg(k, f),
            known: state.map(|s| finding.states[s].phrase.clone()),
        }
    };
    let context = &play.facts().context;
    let asked = k
        .finding_ids()
        .filter(|f| of(f) && k.finding(*f).fits(context));
    Some(PlaceView {
        name,
        signs: asked.map(line).collect(),
    })
}

/// Checks and fixes whose names hold a word, the shortest first.
pub fn works(k: &Knowledge, here: &str, play: &Play<'_>, word: &str) -> [Vec<WorkLine>; 2] {
    let word = word.to_lowercase();
    let fits = |name: &str| name.to_lowercase().contains(&word);
    let context = &play.facts().context;
    let mut checks: Vec<_> = k
        .checks
        .iter()
        .filter(|c| k.finding(c.finding).fits(context) && fits(&c.work.name))
        .map(|c| (format!("check/{}", k.finding(c.finding).id), &c.work))
        .collect();
    let fixes = k.fixes.iter().filter(|x| fits(&x.work.name));
    let mut fixes: Vec<_> = fixes.map(|x| (format!("fix/{}", x.id), &x.work)).collect();
    [&mut checks, &mut fixes].map(|all| {
        let takes = |w: &suspect_core::knowledge::Work| w.minutes + w.waiting;
        all.sort_by(|a, b| takes(a.1).total_cmp(&takes(b.1)));
        all.iter()
            .map(|(path, work)| WorkLine {
                href: format!("{here}/{path}"),
                name: work.name.clone(),
                takes: show::minutes(takes(work)),
            })
            .collect()
    })
}
