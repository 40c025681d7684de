//! Taking a log or a table in: first looked through, then taken, all of it or nothing.

use crate::ExchangeError;
use crate::reading::{Item, Read1, machine_of, open};
use std::collections::{BTreeMap, BTreeSet};
use std::path::Path;
use suspect_core::exchange::{CaseLine, Line, MachineLine, Row, WorkshopLine, check, entries};
use suspect_core::knowledge::Knowledge;
use suspect_core::machine::{self, Described, MachineEvent};
use suspect_store::Store;
use suspect_store::exchange::{Snapshot, StoredCase, TakingIn};
use suspect_store::machines::Machine;
use time::OffsetDateTime;
use uuid::Uuid;

/// Cases held in memory at once.
const BATCH: usize = 200;
/// Problems told at most; all are counted.
const TOLD: usize = 100;

/// What is done when something is wrong with a line.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Way {
    /// Nothing is taken.
    AllOrNothing,
    /// Everything else is taken.
    LeaveOut,
}

/// Something wrong with a line.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Problem {
    /// The line, from 1.
    pub line: u64,
    /// What was wrong, which value, what would do.
    pub what: String,
}

/// What came of it, or would.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub struct Report {
    /// Machines that are not here.
    pub machines: u64,
    /// Settings of another workshop, taken over into an empty one only.
    pub settings: u64,
    /// Cases that are not here.
    pub cases: u64,
    /// Their entries.
    pub entries: u64,
    /// Cases that are here as they stand there.
    pub known: u64,
    /// Cases that are here and went on otherwise: they stay as they are.
    pub differ: u64,
    /// The first things that are wrong.
    pub problems: Vec<Problem>,
    /// How many there are.
    pub wrong: u64,
    /// It was taken in.
    pub taken: bool,
}

/// Looks a file through without taking anything.
///
/// # Errors
/// When the records do not answer.
pub async fn look(
    store: &Store,
    knowledge: &Knowledge,
    file: &Path,
    now: OffsetDateTime,
) -> Result<Report, ExchangeError> {
    let here = store.snapshot().await?;
    let mut taker = Taker::new(knowledge, &here, now).await?;
    taker.through(file, None).await?;
    Ok(taker.report)
}

/// Takes a file in. With [`Way::AllOrNothing`] nothing is taken when anything is wrong.
///
/// # Errors
/// When the records do not answer. Nothing is taken then.
pub async fn take(
    store: &Store,
    knowledge: &Knowledge,
    file: &Path,
    way: Way,
    now: OffsetDateTime,
) -> Result<Report, ExchangeError> {
    let mut into = store.taking_in().await?;
    let here = store.snapshot().await?;
    let mut taker = Taker::new(knowledge, &here, now).await?;
    taker.through(file, Some(&mut into)).await?;
    let mut report = taker.report;
    if report.wrong == 0 || way == Way::LeaveOut {
        into.finish().await?;
        report.taken = true;
    }
    Ok(report)
}

/// Goes through a file.
struct Taker<'a> {
    knowledge: &'a Knowledge,
    here: &'a Snapshot,
    now: OffsetDateTime,
    /// Machines of the file by their identifier there, and by name.
    machines: BTreeMap<String, Machine>,
    names: BTreeMap<String, Uuid>,
    /// Nothing is kept here: settings are taken over.
    empty: bool,
    seen: BTreeSet<Uuid>,
    waiting: Vec<(u64, StoredCase)>,
    report: Report,
}

impl<'a> Taker<'a> {
    async fn new(
        knowledge: &'a Knowledge,
        here: &'a Snapshot,
        now: OffsetDateTime,
    ) -> Result<Self, ExchangeError> {
        let known = here.machines().await?;
        let known: Vec<Machine> = known.into_iter().map(|(machine, _)| machine).collect();
        let names = known.iter().map(|m| (m.name.clone(), m.id)).collect();
        Ok(Self {
            empty: known.is_empty(),
            names,
            machines: known.into_iter().map(|m| (m.id.to_string(), m)).collect(),
            knowledge,
            here,
            now,
            seen: BTreeSet::new(),
            waiting: Vec::new(),
            report: Report::default(),
        })
    }

    async fn through(
        &mut self,
        file: &Path,
        mut into: Option<&mut TakingIn>,
    ) -> Result<(), ExchangeError> {
        let source = match open(file) {
            Ok(source) => source,
            Err(problem) => {
                self.wrong(1, problem);
                return Ok(());
            }
        };
        let mut headed = false;
        for (line, read) in source {
            if let (false, Ok(Item::Line(first))) = (headed, &read)
                && !matches!(**first, Line::Head(_))
            {
                self.wrong(line, "the first line of a log says its format".into());
                return Ok(());
            }
            headed = true;
            self.one((line, read), &mut into).await?;
            if self.waiting.len() >= BATCH {
                self.settle(&mut into).await?;
            }
        }
        self.settle(&mut into).await
    }

    fn wrong(&mut self, line: u64, what: String) {
        self.report.wrong += 1;
        if self.report.problems.len() < TOLD {
            self.report.problems.push(Problem { line, what });
        }
    }

    async fn one(
        &mut self,
        (line, read): Read1,
        into: &mut Option<&mut TakingIn>,
    ) -> Result<(), ExchangeError> {
        match read {
            Err(problem) => self.wrong(line, problem),
            Ok(Item::Row(row)) => self.row(line, &row, into).await?,
            Ok(Item::Line(read)) => match *read {
                Line::Head(_) => {}
                Line::Machine(machine) => self.machine(line, machine, into).await?,
                Line::Workshop(settings) => self.workshop(settings, into).await?,
                Line::Case(case) => self.case(line, case),
            },
        }
        Ok(())
    }

    /// A machine of a log: the one here by its identifier, else the one of its name, else a new
    /// one.
    async fn machine(
        &mut self,
        line: u64,
        told: MachineLine,
        into: &mut Option<&mut TakingIn>,
    ) -> Result<(), ExchangeError> {
        if self.machines.contains_key(&told.id) {
            return Ok(());
        }
        if let Some(here) = self.names.get(&told.name) {
            let here = self.machines.get(&here.to_string()).cloned();
            self.machines.extend(here.map(|m| (told.id.clone(), m)));
            return Ok(());
        }
        match machine_of(told) {
            Ok((machine, log)) => self.add(line, machine, log, into).await,
            Err(problem) => {
                self.wrong(line, problem);
                Ok(())
            }
        }
    }

    async fn add(
        &mut self,
        line: u64,
        machine: Machine,
        log: Vec<machine::MachineEntry>,
        into: &mut Option<&mut TakingIn>,
    ) -> Result<(), ExchangeError> {
        let described = MachineEvent::Described {
            machine: Described {
                // What an earlier program knew of its build is kept.
                profile: BTreeMap::new(),
                ..machine.described()
            },
            lifts: None,
        };
        if let Err(refused) = machine::accept(self.knowledge, None, &[], &described) {
            self.wrong(line, format!("machine: {refused}"));
            return Ok(());
        }
        self.report.machines += 1;
        if let Some(into) = into {
            into.machine(&machine, &log).await?;
        }
        self.names.insert(machine.name.clone(), machine.id);
        self.machines.insert(machine.id.to_string(), machine);
        Ok(())
    }

    /// Settings go with a workshop that moves, and never over those that are here.
    async fn workshop(
        &mut self,
        settings: WorkshopLine,
        into: &mut Option<&mut TakingIn>,
    ) -> Result<(), ExchangeError> {
        if self.empty {
            self.report.settings += 1;
            if let Some(into) = into {
                into.workshop(settings).await?;
            }
        }
        Ok(())
    }

    fn case(&mut self, line: u64, case: CaseLine) {
        let Ok(id) = case.id.parse() else {
            return self.wrong(line, format!("case: `{}` is no identifier", case.id));
        };
        let Some(machine) = self.machines.get(&case.machine) else {
            let what = format!(
                "case: machine `{}` is neither here nor in a line above",
                case.machine
            );
            return self.wrong(line, what);
        };
        let case = StoredCase {
            id,
            number: case.number,
            machine: machine.id,
            log: case.log,
        };
        self.wait(line, case);
    }

    async fn row(
        &mut self,
        line: u64,
        row: &Row,
        into: &mut Option<&mut TakingIn>,
    ) -> Result<(), ExchangeError> {
        let id = match row.id.trim() {
            "" => Ok(id_of(row)),
            id => id
                .parse()
                .map_err(|_| format!("id: `{id}` is no identifier")),
        };
        let name = row.machine.trim();
        let known = self.names.get(name).map(ToString::to_string);
        let known = known.and_then(|id| self.machines.get(&id)).cloned();
        let profile = known.as_ref().map(|m| m.profile.clone());
        let log = entries(self.knowledge, row, &profile.unwrap_or_default());
        let (id, log) = match (id, log) {
            (Ok(id), Ok(log)) => (id, log),
            (Err(problem), _) => {
                self.wrong(line, problem);
                return Ok(());
            }
            (_, Err(fault)) => {
                self.wrong(line, fault.to_string());
                return Ok(());
            }
        };
        let machine = match known {
            Some(machine) => machine.id,
            None => {
                let machine = Machine {
                    id: Uuid::now_v7(),
                    name: name.into(),
                    model: row.kind.trim().into(),
                    profile: BTreeMap::new(),
                    position: self.names.len() as i32,
                    place: String::new(),
                    note: String::new(),
                    out_of_service: None,
                };
                let id = machine.id;
                let wrong = self.report.wrong;
                self.add(line, machine, Vec::new(), into).await?;
                if self.report.wrong > wrong {
                    return Ok(());
                }
                id
            }
        };
        let case = StoredCase {
            id,
            number: row.number.trim().parse().ok(),
            machine,
            log,
        };
        self.wait(line, case);
        Ok(())
    }

    /// Keeps a case until enough of them are looked up together.
    fn wait(&mut self, line: u64, case: StoredCase) {
        if !self.seen.insert(case.id) {
            return self.wrong(line, format!("case: `{}` stands above already", case.id));
        }
        match check(self.knowledge, &case.log, self.now) {
            Ok(()) => self.waiting.push((line, case)),
            Err(fault) => self.wrong(line, fault.to_string()),
        }
    }

    /// Looks up those that wait, and takes those in that are not here.
    async fn settle(&mut self, into: &mut Option<&mut TakingIn>) -> Result<(), ExchangeError> {
        let waiting = std::mem::take(&mut self.waiting);
        let ids = waiting.iter().map(|(_, case)| case.id).collect();
        let here = self.here.logs(ids).await?;
        let mut fresh = Vec::new();
        for (_, case) in waiting {
            match here.get(&case.id) {
                None => {
                    self.report.cases += 1;
                    self.report.entries += case.log.len() as u64;
                    fresh.push(case);
                }
                // Here it may have gone on since: that is no other case.
                Some(log) if log.starts_with(&case.log) => self.report.known += 1,
                Some(_) => self.report.differ += 1,
            }
        }
        if let Some(into) = into {
            into.cases(self.knowledge, &fresh).await?;
        }
        Ok(())
    }
}

/// The identifier of a row that has none: the same row is the same case.
fn id_of(row: &Row) -> Uuid {
    let text = serde_json::to_vec(row).unwrap_or_default();
    let sum = crate::sums::of(&text);
    let mut bytes = [0u8; 16];
    bytes.copy_from_slice(&sum[..16]);
    uuid::Builder::from_custom_bytes(bytes).into_uuid()
}
