//! What lists, floor and statistics read instead of replaying logs: one row a case, written in the
//! transaction of the entry, stamped with what made it and rebuilt from the log when that changed.

use crate::entity::{case_summary, machine};
use crate::entries::{read_log, tell, tell_machine};
use crate::lessons::{self, Taught};
use crate::{Store, StoreError, records, settings, think};
use sea_orm::{
    ActiveModelTrait, ActiveValue::NotSet, ColumnTrait, ConnectionTrait, DatabaseTransaction,
    EntityTrait, QueryFilter, QueryOrder, QuerySelect, Set, TransactionTrait,
};
use suspect_core::case::{self, Event, Holder, Lock, Standing, Summary};
use suspect_core::knowledge::Knowledge;
use suspect_core::{machine as core_machine, safety};
use time::OffsetDateTime;
use uuid::Uuid;

/// Grows whenever a row is reckoned otherwise or holds more: every row is then rebuilt.
const VERSION: u32 = 5;
/// Cases looked up at a time by a rebuild; between them others write.
const BATCH: u64 = 50;
/// What made a row: this program's way of reckoning, and the knowledge.
fn made_by(knowledge: &Knowledge) -> String {
    format!("{VERSION}/{}", knowledge.sha256)
}

/// What locks a machine besides one of its cases: stops of the others, and of how it is built. The
/// most severe one is told.
pub(crate) async fn find_lock(
    db: &impl ConnectionTrait,
    knowledge: &Knowledge,
    machine: Uuid,
    besides: Uuid,
) -> Result<Option<Lock>, StoreError> {
    let row = case_summary::Entity::find()
        .filter(case_summary::Column::MachineId.eq(machine))
        .filter(case_summary::Column::CaseId.ne(besides))
        .filter(case_summary::Column::Stops.ne(""))
        .order_by_asc(case_summary::Column::Number)
        .one(db)
        .await?;
    let of_case = row.map(|row| {
        let mut known = row.stops.split_whitespace();
        let stop = known.find_map(|id| knowledge.stop_at(id));
        Lock {
            holder: Holder::Case {
                id: row.case_id.to_string(),
                number: row.number,
            },
            // A stop the present knowledge does not know any more still locks; it goes by the
            // first one's name.
            stop: stop.unwrap_or(0),
        }
    });
    let row = machine::Entity::find_by_id(machine).one(db).await?;
    let profile = row
        .and_then(|m| serde_json::from_value(m.profile).ok())
        .unwrap_or_default();
    let build = safety::stops_of_build(knowledge, &core_machine::build(&profile));
    let of_build = build.first().map(|stop| Lock {
        holder: Holder::Build,
        stop: *stop,
    });
    Ok(of_case
        .into_iter()
        .chain(of_build)
        .min_by_key(|lock| lock.stop))
}

/// Writes the row of a new case.
pub(crate) async fn insert(
    transaction: &DatabaseTransaction,
    knowledge: &Knowledge,
    id: Uuid,
    machine: Uuid,
    summary: &Summary,
    last_seq: u32,
) -> Result<(), StoreError> {
    let mut row = row(knowledge, id, summary, last_seq);
    row.machine_id = Set(machine);
    case_summary::Entity::insert(row)
        .exec_without_returning(transaction)
        .await?;
    Ok(())
}

/// Writes the row of a case anew.
pub(crate) async fn update(
    transaction: &DatabaseTransaction,
    knowledge: &Knowledge,
    id: Uuid,
    summary: &Summary,
    last_seq: u32,
) -> Result<(), StoreError> {
    row(knowledge, id, summary, last_seq)
        .update(transaction)
        .await?;
    Ok(())
}

/// Puts a case on another machine.
pub(crate) async fn move_to(
    transaction: &DatabaseTransaction,
    id: Uuid,
    machine: Uuid,
) -> Result<(), StoreError> {
    let row = case_summary::ActiveModel {
        case_id: Set(id),
        machine_id: Set(machine),
        ..Default::default()
    };
    row.update(transaction).await?;
    Ok(())
}

impl Store {
    /// Rebuilds every row that another program or another knowledge made, or that a change of the
    /// settings marked. Goes in small steps, each whole in itself: it may be broken off and begun
    /// again at any time, and others write meanwhile. One process at a time; another returns at
    /// once.
    ///
    /// Returns how many rows were written.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn rebuild(&self, knowledge: &Knowledge) -> Result<usize, StoreError> {
        let Some(held) = self.try_hold(crate::start::REBUILD).await? else {
            return Ok(0);
        };
        let mut many = self.rebuild_books().await?;
        // What is open first: a stop that the knowledge gained must lock its machine soon.
        for open in [true, false] {
            many += self.rebuild_some(knowledge, open).await?;
        }
        held.release().await;
        Ok(many)
    }

    async fn rebuild_some(&self, knowledge: &Knowledge, open: bool) -> Result<usize, StoreError> {
        let (mut after, mut many) = (Uuid::nil(), 0);
        loop {
            let stale: Vec<Uuid> = {
                let _turn = self.gate.reader().await?;
                case_summary::Entity::find()
                    .select_only()
                    .column(case_summary::Column::CaseId)
                    .filter(case_summary::Column::Stamp.ne(made_by(knowledge)))
                    .filter(match open {
                        true => case_summary::Column::Status.ne(Standing::Resolved.id()),
                        false => case_summary::Column::Status.eq(Standing::Resolved.id()),
                    })
                    .filter(case_summary::Column::CaseId.gt(after))
                    .order_by_asc(case_summary::Column::CaseId)
                    .limit(BATCH)
                    .into_tuple()
                    .all(&self.db)
                    .await?
            };
            let Some(last) = stale.last() else {
                return Ok(many);
            };
            after = *last;
            for id in stale {
                match self.rebuild_one(knowledge, id).await {
                    Ok(()) => many += 1,
                    // Somebody works on that machine: it is written by them, or the next time.
                    Err(StoreError::Busy) => {}
                    Err(e) => return Err(e),
                }
            }
        }
    }

    async fn rebuild_one(&self, knowledge: &Knowledge, id: Uuid) -> Result<(), StoreError> {
        let _turn = self.gate.writer().await?;
        let transaction = self.db.begin().await?;
        settings::shared_lock(&transaction).await?;
        let query = case_summary::Entity::find_by_id(id);
        let Some(head) = query.lock_exclusive().one(&transaction).await? else {
            return Ok(());
        };
        let log = read_log(&transaction, id).await?;
        let (workshop, _) = settings::latest(&transaction).await?;
        // What had been learned when it was closed: its lesson compares that with the book.
        let closed = log
            .iter()
            .rev()
            .find(|e| matches!(e.event, Event::Resolved { .. }));
        let at = closed.map_or_else(OffsetDateTime::now_utc, |e| e.at);
        let learned = self.learned_within(&transaction, knowledge, &workshop, head.machine_id, at);
        let learned = learned.await?;
        let sum = || {
            let mut state = case::replay(knowledge, &log);
            state.facts.learned = learned;
            let summary = case::summary(knowledge, &state, &workshop);
            (summary, Taught::by(knowledge, &log, &state))
        };
        let (summary, taught) = think(sum).await;
        records::keep_words(&transaction, id, &taught.words).await?;
        lessons::keep(&transaction, id, head.machine_id, taught).await?;
        update(&transaction, knowledge, id, &summary, head.last_seq as u32).await?;
        if summary.stops.join(" ") != head.stops {
            tell(&transaction, id, head.last_seq as u32).await?;
            tell_machine(&transaction, head.machine_id, id).await?;
        }
        Ok(transaction.commit().await?)
    }
}

/// The row of a case whose lessons are still to be reckoned.
pub(crate) fn stale_row(
    knowledge: &Knowledge,
    id: Uuid,
    summary: &Summary,
    last_seq: u32,
) -> case_summary::ActiveModel {
    case_summary::ActiveModel {
        stamp: Set(String::new()),
        ..row(knowledge, id, summary, last_seq)
    }
}

fn row(
    knowledge: &Knowledge,
    id: Uuid,
    summary: &Summary,
    last_seq: u32,
) -> case_summary::ActiveModel {
    let (leader, leader_probability) = summary.leader.clone().unzip();
    case_summary::ActiveModel {
        case_id: Set(id),
        number: NotSet,
        machine_id: NotSet,
        last_seq: Set(last_seq as i32),
        title: Set(summary.title.clone()),
        status: Set(summary.status.to_string()),
        material: Set(summary.material.clone()),
        leader: Set(leader),
        leader_probability: Set(leader_probability),
        next_step: Set(summary.next_step.clone()),
        stops: Set(summary.stops.join(" ")),
        outcome: Set(summary.outcome.map(|o| o.to_string())),
        cause: Set(summary.cause.clone()),
        fix: Set(summary.fix.clone()),
        minutes: Set(summary.minutes),
        grams: Set(summary.grams),
        money: Set(summary.money),
        opened_at: Set(summary.opened_at),
        updated_at: Set(summary.updated_at),
        closed_at: Set(summary.closed_at),
        stamp: Set(made_by(knowledge)),
        resting: Set(summary.resting),
        hearsay: Set(summary.hearsay as i32),
        wait_for: Set(summary.wait.as_ref().map(|t| t.work.to_string())),
        wait_step: Set(summary.wait.as_ref().map(|t| t.step as i32)),
        wait_from: Set(summary.wait.as_ref().map(|t| t.from)),
        wait_until: Set(summary.wait.as_ref().map(|t| t.until)),
        answers: Set(Some(serde_json::json!(summary.answers))),
        ask_at: Set(summary.ask_at),
    }
}
