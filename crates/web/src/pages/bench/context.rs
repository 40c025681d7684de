//! What a page of the bench is measured for: a case, a machine, or nobody yet.

use crate::form::Fields;
use crate::page_error::PageError;
use crate::pages::open_case::OpenCase;
use crate::pages::parts::link::Choice;
use crate::pages::parts::whom::Whom;
use crate::show;
use crate::state::AppState;
use suspect_core::evidence::Facts;
use suspect_core::machine::MachineEntry;
use suspect_store::Uuid;
use suspect_store::machines::Machine;
use suspect_store::records::RecordFilter;
use time::OffsetDateTime;

/// Open cases offered.
const MOST_CASES: u64 = 60;
/// Fields that say for whom something is measured.
const FOR: [&str; 2] = ["case", "machine"];

/// Whom something is measured for.
pub struct For {
    /// The case.
    pub case: Option<OpenCase>,
    /// The machine: that of the case, or one that was chosen.
    pub machine: Option<Machine>,
    /// The machine's log.
    pub log: Vec<MachineEntry>,
    /// Fixes that ended its closed cases: when, and which.
    pub fixed: Vec<(OffsetDateTime, String)>,
    /// What is known: of the case, or of how the machine is built.
    pub facts: Facts,
}

impl For {
    /// Reads what the address names.
    ///
    /// # Errors
    /// When there is no such case or machine, or the database cannot be reached.
    pub async fn read(state: &AppState, fields: &Fields) -> Result<Self, PageError> {
        let Whom {
            case,
            machine,
            log,
            facts,
        } = Whom::read(state, fields).await?;
        let fixed = match &machine {
            Some(machine) => fixed(state, machine.id).await?,
            None => Vec::new(),
        };
        Ok(Self {
            case,
            machine,
            log,
            fixed,
            facts,
        })
    }

    /// Case and machine to choose from. The bench is there without the database: then it offers
    /// none.
    pub async fn choices(&self, state: &AppState) -> (Vec<Choice>, Vec<Choice>) {
        let rows = state
            .store
            .latest_cases(MOST_CASES)
            .await
            .unwrap_or_default();
        let own = self.case.as_ref().map(|c| c.id);
        let open = rows
            .iter()
            .filter(|r| r.closed_at.is_none() || Some(r.id) == own);
        let cases = open.map(|r| Choice {
            value: r.id.to_string(),
            label: format!("{} {}", show::case_label(r.number), r.title),
            chosen: Some(r.id) == own,
        });
        let machines = state.store.machines().await.unwrap_or_default();
        let own = self.machine.as_ref().map(|m| m.id);
        let machines = machines.iter().map(|m| Choice {
            value: m.id.to_string(),
            label: m.name.clone(),
            chosen: Some(m.id) == own,
        });
        (cases.collect(), machines.collect())
    }
}

/// Fixes that ended the latest closed cases of a machine.
async fn fixed(
    state: &AppState,
    machine: Uuid,
) -> Result<Vec<(OffsetDateTime, String)>, PageError> {
    let filter = RecordFilter::of_machine(machine);
    let (rows, _) = state.store.records(&filter, 0, MOST_CASES).await?;
    let ended = rows.into_iter();
    Ok(ended.filter_map(|r| r.closed_at.zip(r.fix)).collect())
}

/// Case and machine of a page, to carry along.
pub fn carried(fields: &Fields) -> Vec<(&'static str, String)> {
    let given = FOR.map(|name| (name, fields.get(name).to_string()));
    given.into_iter().filter(|(_, v)| !v.is_empty()).collect()
}
