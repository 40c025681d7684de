//! Whom something is looked at or measured for, as an address says: a case, a machine, or nobody.

use crate::form::Fields;
use crate::page_error::PageError;
use crate::pages::open_case::{OpenCase, OpenMachine};
use crate::state::AppState;
use suspect_core::evidence::Facts;
use suspect_core::machine::{MachineEntry, build};
use suspect_store::Uuid;
use suspect_store::machines::Machine;

/// A case, a machine, or nobody.
pub struct Whom {
    /// The case.
    pub case: Option<OpenCase>,
    /// The machine: that of the case, or one that was chosen.
    pub machine: Option<Machine>,
    /// The machine's log.
    pub log: Vec<MachineEntry>,
    /// What is known: of the case, or of how the machine is built.
    pub facts: Facts,
}

impl Whom {
    /// Reads what the fields `case` and `machine` name.
    ///
    /// # Errors
    /// When there is no such case or machine, or the database cannot be reached.
    pub async fn read(state: &AppState, fields: &Fields) -> Result<Self, PageError> {
        let id = |name: &'static str| match fields.given(name) {
            Some(text) => text
                .parse::<Uuid>()
                .map(Some)
                .map_err(|_| PageError::NotFound(name)),
            None => Ok(None),
        };
        let case = match id("case")? {
            Some(case) => Some(OpenCase::read(state, case).await?),
            None => None,
        };
        let machine = match (&case, id("machine")?) {
            (Some(case), _) => Some(case.machine.clone()),
            (None, Some(machine)) => Some(OpenMachine::read(state, machine).await?.0),
            (None, None) => None,
        };
        let log = match &machine {
            Some(machine) => state.store.machine_log(machine.id).await?,
            None => Vec::new(),
        };
        let mut facts = Facts::default();
        match (&case, &machine) {
            (Some(case), _) => facts = case.state.facts.clone(),
            (None, Some(machine)) => facts.context = build(&machine.profile),
            (None, None) => {}
        }
        Ok(Self {
            case,
            machine,
            log,
            facts,
        })
    }
}
