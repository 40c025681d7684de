//! What the pages of the handbook share: links, whom an answer speaks for, what a step takes.

use crate::pages::parts::link::Link;
use crate::pages::parts::work::{CautionView, cautions};
use crate::state::AppState;
use crate::{show, urls, words};
use suspect_core::case::{Standing, WorkId};
use suspect_core::dossier::speaks_for;
use suspect_core::knowledge::{CauseId, FindingId, FixId, Knowledge, Section, Work};
use suspect_core::measures;
use suspect_core::people::Needs;
use suspect_core::search::Topic;
use suspect_store::lists::CaseRow;

/// Suspects named beside one answer.
const SUSPECTS_BESIDE: usize = 8;

/// Cases last worked on among which open ones are looked for.
const LATEST: u64 = 12;

/// Open cases in which a piece of work may be done, the one last worked on first. The handbook is
/// there without the database: then it offers none.
pub async fn doable_in(state: &AppState, work: &WorkId) -> Vec<Link> {
    let rows = state.store.latest_cases(LATEST).await.unwrap_or_default();
    let open = rows
        .iter()
        .filter(|r| r.status == Standing::Open && r.stops.is_empty());
    let link = |r: &CaseRow| Link {
        href: urls::in_case(r.id, &work.to_string()),
        name: format!("{} {}", show::case_label(r.number), r.title),
    };
    open.map(link).collect()
}

/// Address and words of whatever a search or a glossary entry leads to.
pub fn link(k: &Knowledge, topic: Topic) -> Link {
    match topic {
        Topic::Finding(f) => finding_link(k, f),
        Topic::Cause(c) => cause_link(k, c),
        Topic::Check(q) => finding_link(k, k.check(q).finding),
        Topic::Fix(x) => fix_link(k, x),
        Topic::Term(t) => Link {
            href: format!("{}#{}", urls::WORDS, k.glossary[t].id),
            name: k.glossary[t].term.clone(),
        },
        Topic::Measure(id) => Link {
            href: urls::measure(id),
            name: show::capital(measures::measure(id).map_or(id, |m| m.plain)),
        },
        Topic::Material(m) => Link {
            href: format!("{}#{}", urls::MATERIALS, k.materials[m].id),
            name: k.materials[m].id.to_uppercase(),
        },
    }
}

pub fn cause_link(k: &Knowledge, c: CauseId) -> Link {
    Link {
        href: urls::suspect(&k.cause(c).id),
        name: k.cause(c).name.clone(),
    }
}

pub fn fix_link(k: &Knowledge, x: FixId) -> Link {
    Link {
        href: urls::handbook_fix(&k.fix(x).id),
        name: k.fix(x).work.name.clone(),
    }
}

/// A sign's page, or the page of the check whose outcome the finding is.
pub fn finding_link(k: &Knowledge, f: FindingId) -> Link {
    let finding = k.finding(f);
    match finding.section {
        Section::Check => Link {
            href: urls::handbook_check(&finding.id),
            name: finding.question.clone(),
        },
        _ => Link {
            href: urls::sign(&finding.id),
            name: show::capital(&finding.plain),
        },
    }
}

/// One answer or outcome with the suspects it speaks for.
pub struct Speaks {
    pub phrase: String,
    pub suspects: Vec<Named>,
    pub more: usize,
}

/// A link with a word after it.
pub struct Named {
    pub href: String,
    pub name: String,
    pub word: String,
}

/// Every answer of a finding with whom it speaks for, answers that speak for nobody last.
pub fn speaks(k: &Knowledge, f: FindingId) -> Vec<Speaks> {
    let mut out: Vec<Speaks> = (0..k.finding(f).states.len())
        .map(|state| {
            let all = speaks_for(k, f, state);
            let named = |(c, ratio): &(CauseId, f64)| {
                let Link { href, name } = cause_link(k, *c);
                Named {
                    href,
                    name,
                    word: format!("× {}", show::number((ratio * 10.0).round() / 10.0)),
                }
            };
            Speaks {
                phrase: show::capital(&k.finding(f).states[state].phrase),
                more: all.len().saturating_sub(SUSPECTS_BESIDE),
                suspects: all.iter().take(SUSPECTS_BESIDE).map(named).collect(),
            }
        })
        .collect();
    out.sort_by_key(|s| s.suspects.is_empty());
    out
}

/// Words of the glossary that name an identifier.
pub fn terms(k: &Knowledge, id: &str) -> Vec<Link> {
    let about = k
        .glossary
        .iter()
        .enumerate()
        .filter(|(_, t)| t.see.iter().any(|s| s == id));
    about.map(|(t, _)| link(k, Topic::Term(t))).collect()
}

/// What a step of the handbook takes, in words.
pub struct Takes {
    pub minutes: String,
    pub state: String,
    pub tools: String,
    pub money: String,
    pub cautions: Vec<CautionView>,
    pub steps: Vec<String>,
    /// Who may do it.
    pub who: String,
}

impl Takes {
    pub fn new(k: &Knowledge, work: &Work) -> Self {
        let waiting = if work.waiting > 0.0 {
            format!(", then {} waiting", show::minutes(work.waiting))
        } else {
            String::new()
        };
        let mut money = Vec::new();
        if work.grams > 0.0 {
            money.push(show::grams(work.grams.max(1.0)));
        }
        if work.money > 0.0 {
            money.push(format!("about {} in money", show::number(work.money)));
        }
        Self {
            who: show::capital(&Needs::work(k, work).words()),
            minutes: format!("{} at the machine{waiting}", show::minutes(work.minutes)),
            state: match work.stands.is_empty() {
                true => "any".into(),
                false => words::work::standing(&work.stands),
            },
            tools: if work.tools.is_empty() {
                "none".into()
            } else {
                work.tools.join(", ")
            },
            money: if money.is_empty() {
                "nothing".into()
            } else {
                money.join(", ")
            },
            cautions: cautions(k, &work.cautions),
            steps: work.steps.iter().map(|s| s.text.clone()).collect(),
        }
    }
}
