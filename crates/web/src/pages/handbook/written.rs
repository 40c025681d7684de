//! What the workshop wrote, found beside the handbook, and what narrows it.

use crate::form::midnight;
use crate::page_error::PageError;
use crate::pages::parts::link::Choice;
use crate::state::AppState;
use crate::words::machine_entry;
use crate::{show, urls};
use std::collections::BTreeMap;
use suspect_core::machine::MachineEntry;
use suspect_core::shelf::{OwnKind, Shelved, Spool, Stock};
use suspect_store::Uuid;
use suspect_store::lists::CaseRow;
use suspect_store::search::Narrow;
use time::Duration;

/// Something the workshop wrote.
pub struct Hit {
    pub href: String,
    pub name: String,
    pub about: String,
}

/// What narrows the finds: answers to choose from, and what was chosen.
pub struct Narrowing {
    pub machines: Vec<Choice>,
    pub causes: Vec<Choice>,
    pub fixes: Vec<Choice>,
    pub from: String,
    pub to: String,
    /// Something narrows it.
    pub on: bool,
    pub narrow: Narrow,
}

impl Narrowing {
    /// As it was sent; a day or a machine that makes no sense narrows nothing.
    pub async fn of(state: &AppState, sent: &BTreeMap<String, String>) -> Result<Self, PageError> {
        let k = &state.knowledge;
        let given = |name: &str| sent.get(name).map_or("", |v| v.trim());
        let chosen = |name: &str| Some(given(name)).filter(|v| !v.is_empty());
        let narrow = Narrow {
            machine: given("machine").parse().ok(),
            cause: chosen("cause").map(str::to_string),
            fix: chosen("fix").map(str::to_string),
            from: midnight(given("from")),
            to: midnight(given("to")).map(|day| day + Duration::DAY),
        };
        let choice = |value: String, label: String, chosen: &str| Choice {
            chosen: value == chosen,
            value,
            label,
        };
        let machines = state.store.machines().await?;
        let machines = machines.into_iter();
        let causes = k.causes.iter();
        let fixes = k.fixes.iter();
        let (machine, cause, fix) = (given("machine"), given("cause"), given("fix"));
        Ok(Self {
            machines: machines
                .map(|m| choice(m.id.to_string(), m.name, machine))
                .collect(),
            causes: causes
                .map(|c| choice(c.id.clone(), c.name.clone(), cause))
                .collect(),
            fixes: fixes
                .map(|f| choice(f.id.clone(), f.work.name.clone(), fix))
                .collect(),
            from: given("from").to_string(),
            to: given("to").to_string(),
            on: narrow != Narrow::default(),
            narrow,
        })
    }
}

/// What the workshop wrote that has these words: cases, journals, spools and spare parts.
pub async fn written(
    state: &AppState,
    query: &str,
    narrow: &Narrow,
) -> Result<(Vec<Hit>, Option<String>), PageError> {
    let k = &state.knowledge;
    let found = state.store.find_written(query, narrow).await?;
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
        about: format!(
            "journal of {}, {}",
            name(*machine),
            show::date(entry.done_at())
        ),
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
                href: urls::in_stock(id),
                about: format!("spare part, {} there", stock.is.pieces),
                name: stock.is.name,
            }
        }
        OwnKind::KIND => {
            let (own, _) = state.store.thing::<OwnKind>(id).await?;
            Hit {
                href: urls::kind(&id.to_string()),
                name: own.is.described.name,
                about: "kind of machine".into(),
            }
        }
        _ => return Ok(None),
    };
    Ok(Some(hit))
}
