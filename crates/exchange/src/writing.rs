//! Writing the log and the table.

use crate::ExchangeError;
use serde_json::Value;
use std::collections::BTreeMap;
use std::io::Write;
use suspect_core::case::replay;
use suspect_core::exchange::{
    COLUMNS, CaseLine, HeadLine, LOG_FORMAT, Line, MachineLine, Row, row,
};
use suspect_core::knowledge::Knowledge;
use suspect_core::machine::MachineEntry;
use suspect_core::people::author_of;
use suspect_store::exchange::{Snapshot, StoredCase};
use suspect_store::machines::Machine;
use suspect_store::think;
use time::OffsetDateTime;
use uuid::Uuid;

/// Cases held in memory at once.
const BATCH: u64 = 100;

/// Whether names that people typed leave with what is written.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Names {
    /// As they stand.
    Kept,
    /// Each is "somebody". Numbers of members stay: no name stands beside them.
    LeftOut,
}

/// What a name reads that does not leave.
const SOMEBODY: &str = "somebody";

/// Takes names out of what is said of who did something.
fn nameless(value: &mut Value) {
    match value {
        Value::Object(fields) => {
            for (key, value) in fields {
                match value {
                    Value::String(name) if key == "by" && author_of(name).is_none() => {
                        *name = SOMEBODY.into();
                    }
                    other => nameless(other),
                }
            }
        }
        Value::Array(all) => all.iter_mut().for_each(nameless),
        _ => {}
    }
}

fn line(out: &mut (impl Write + Send), line: &Line, names: Names) -> Result<(), ExchangeError> {
    match names {
        Names::Kept => serde_json::to_writer(&mut *out, line)?,
        Names::LeftOut => {
            let mut value = serde_json::to_value(line)?;
            nameless(&mut value);
            serde_json::to_writer(&mut *out, &value)?;
        }
    }
    out.write_all(b"\n")?;
    Ok(())
}

fn machine(machine: Machine, log: Vec<MachineEntry>) -> Line {
    Line::Machine(MachineLine {
        id: machine.id.to_string(),
        name: machine.name,
        model: machine.model,
        profile: machine.profile,
        position: machine.position,
        place: machine.place,
        note: machine.note,
        out_of_service: machine.out_of_service,
        log,
    })
}

/// Writes everything that was recorded as lines of JSON. Returns how many cases.
///
/// # Errors
/// When the records do not answer, or the file cannot be written.
pub async fn write_log(
    from: &Snapshot,
    out: &mut (impl Write + Send),
    now: OffsetDateTime,
    names: Names,
) -> Result<u64, ExchangeError> {
    let head = HeadLine {
        format: LOG_FORMAT.into(),
        written: now,
        program: env!("CARGO_PKG_VERSION").into(),
    };
    line(out, &Line::Head(head), names)?;
    for (known, log) in from.machines().await? {
        line(out, &machine(known, log), names)?;
    }
    for settings in from.workshop().await? {
        line(out, &Line::Workshop(settings), names)?;
    }
    let (mut after, mut many) = (i64::MIN, 0);
    loop {
        let cases = from.cases(after, BATCH).await?;
        let Some(last) = cases.last() else {
            return Ok(many);
        };
        after = last.number.unwrap_or(i64::MAX);
        many += cases.len() as u64;
        for case in cases {
            let case = CaseLine {
                id: case.id.to_string(),
                number: case.number,
                machine: case.machine.to_string(),
                log: case.log,
            };
            line(out, &Line::Case(case), names)?;
        }
    }
}

/// Writes the table: a row a case. Returns how many.
///
/// # Errors
/// As [`write_log`].
pub async fn write_table(
    from: &Snapshot,
    knowledge: &Knowledge,
    out: &mut (impl Write + Send),
) -> Result<u64, ExchangeError> {
    let machines = from.machines().await?.into_iter();
    let machines: BTreeMap<Uuid, Machine> = machines.map(|(m, _)| (m.id, m)).collect();
    let mut table = csv::WriterBuilder::new()
        .has_headers(false)
        .from_writer(out);
    table.write_record(COLUMNS.map(|(name, _)| name))?;
    let (mut after, mut many) = (i64::MIN, 0);
    loop {
        let cases = from.cases(after, BATCH).await?;
        let Some(last) = cases.last() else {
            table.flush()?;
            return Ok(many);
        };
        after = last.number.unwrap_or(i64::MAX);
        many += cases.len() as u64;
        let rows = think(|| {
            let row = |case: &StoredCase| row_of(knowledge, &machines, case);
            cases.iter().map(row).collect::<Vec<Row>>()
        });
        for row in rows.await {
            table.serialize(row)?;
        }
    }
}

fn row_of(knowledge: &Knowledge, machines: &BTreeMap<Uuid, Machine>, case: &StoredCase) -> Row {
    let machine = machines.get(&case.machine);
    let state = replay(knowledge, &case.log);
    let row = row(
        knowledge,
        (&case.id.to_string(), case.number.unwrap_or(0)),
        machine.map_or(("", ""), |m| (&m.name, &m.model)),
        &case.log,
        &state,
    );
    Row {
        machine: guarded(row.machine),
        kind: guarded(row.kind),
        title: guarded(row.title),
        spool: guarded(row.spool),
        cause: guarded(row.cause),
        fix: guarded(row.fix),
        told: guarded(row.told),
        note: guarded(row.note),
        ..row
    }
}

/// What a program for tables would take for a formula, kept from it by an apostrophe.
fn guarded(text: String) -> String {
    match text.starts_with(['=', '+', '-', '@', '\t', '\r']) {
        true => format!("'{text}"),
        false => text,
    }
}

/// And back.
pub(crate) fn unguarded(text: &str) -> String {
    match text.strip_prefix('\'') {
        Some(rest) if rest.starts_with(['=', '+', '-', '@', '\t', '\r']) => rest.to_string(),
        _ => text.to_string(),
    }
}
