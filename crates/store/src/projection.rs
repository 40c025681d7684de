//! What lists, floor and statistics read instead of replaying logs: one row a case, written in the
//! transaction of the entry, stamped with what made it and rebuilt from the log when that changed.

use crate::entity::{case_summary, machine};
use crate::log::{read_log, tell, tell_machine};
use crate::{Store, StoreError, settings, think};
use sea_orm::{
    ActiveModelTrait, ActiveValue::NotSet, ColumnTrait, Condition, ConnectionTrait,
    DatabaseTransaction, DbBackend, EntityTrait, PaginatorTrait, QueryFilter, QueryOrder,
    QuerySelect, Set, Statement, TransactionTrait,
};
use suspect_core::case::{self, Holder, Lock, Outcome, Summary};
use suspect_core::knowledge::Knowledge;
use suspect_core::{machine as core_machine, safety};
use time::OffsetDateTime;
use uuid::Uuid;

/// Grows whenever a row is reckoned otherwise or holds more: every row is then rebuilt.
const VERSION: u32 = 2;
/// Cases looked up at a time by a rebuild; between them others write.
const BATCH: u64 = 50;
/// Cases of one machine that the floor shows.
pub const SHOWN_ON_THE_FLOOR: i64 = 3;

/// What made a row: this program's way of reckoning, and the knowledge.
fn made_by(knowledge: &Knowledge) -> String {
    format!("{VERSION}/{}", knowledge.sha256)
}

/// A line of floor or records.
#[derive(Debug, Clone, PartialEq)]
pub struct CaseRow {
    /// Identifier.
    pub id: Uuid,
    /// Running number of the workshop, for talking about a case.
    pub number: i64,
    /// Machine.
    pub machine_id: Uuid,
    /// Last event.
    pub last_seq: u32,
    /// Title.
    pub title: String,
    /// `open`, `verifying`, `cured`, `resolved`.
    pub status: String,
    /// Material family.
    pub material: Option<String>,
    /// Leading suspect and its probability.
    pub leader: Option<(String, f64)>,
    /// What is to be done next as far as the case itself knows; [`suspect_core::case::What::parse`]
    /// reads it.
    pub next_step: Option<String>,
    /// Left for another day.
    pub resting: bool,
    /// Stops that hold.
    pub stops: Vec<String>,
    /// How it ended.
    pub outcome: Option<String>,
    /// The cause it was.
    pub cause: Option<String>,
    /// The fix that did it.
    pub fix: Option<String>,
    /// Minutes spent.
    pub minutes: f64,
    /// Grams used.
    pub grams: f64,
    /// Money spent.
    pub money: f64,
    /// Opened.
    pub opened_at: OffsetDateTime,
    /// Last event.
    pub updated_at: OffsetDateTime,
    /// Closed.
    pub closed_at: Option<OffsetDateTime>,
}

impl From<case_summary::Model> for CaseRow {
    fn from(row: case_summary::Model) -> Self {
        Self {
            id: row.case_id,
            number: row.number,
            machine_id: row.machine_id,
            last_seq: row.last_seq as u32,
            title: row.title,
            status: row.status,
            material: row.material,
            leader: row.leader.zip(row.leader_probability),
            next_step: row.next_step,
            resting: row.resting,
            stops: row.stops.split_whitespace().map(str::to_string).collect(),
            outcome: row.outcome,
            cause: row.cause,
            fix: row.fix,
            minutes: row.minutes,
            grams: row.grams,
            money: row.money,
            opened_at: row.opened_at,
            updated_at: row.updated_at,
            closed_at: row.closed_at,
        }
    }
}

/// Which closed cases are asked for.
#[derive(Debug, Clone, Default)]
pub struct RecordFilter {
    /// Only this machine.
    pub machine: Option<Uuid>,
    /// Only this cause.
    pub cause: Option<String>,
    /// Only this outcome.
    pub outcome: Option<String>,
}

impl RecordFilter {
    fn condition(&self) -> Condition {
        let outcome = match &self.outcome {
            Some(outcome) => Condition::all().add(case_summary::Column::Outcome.eq(outcome)),
            None => counted(),
        };
        let machine = self.machine.map(|m| case_summary::Column::MachineId.eq(m));
        let cause = self
            .cause
            .as_ref()
            .map(|c| case_summary::Column::Cause.eq(c));
        Condition::all()
            .add(case_summary::Column::Status.eq("resolved"))
            .add(outcome)
            .add_option(machine)
            .add_option(cause)
    }
}

/// Cases that count: those opened by error are kept and counted nowhere.
pub(crate) fn counted() -> Condition {
    Condition::any()
        .add(case_summary::Column::Outcome.is_null())
        .add(case_summary::Column::Outcome.ne(Outcome::OpenedByError.id()))
}

/// Open cases of the floor: the most urgent of each machine, and how many there are.
#[derive(Debug, Clone, Default)]
pub struct FloorCases {
    /// The most urgent cases of each machine, most urgent first.
    pub shown: Vec<CaseRow>,
    /// Cases of each machine that are open or hold a stop.
    pub many: Vec<(Uuid, i64)>,
}

impl FloorCases {
    /// How many cases of a machine are open or hold a stop.
    pub fn of(&self, machine: Uuid) -> i64 {
        let of = self.many.iter().find(|(m, _)| *m == machine);
        of.map_or(0, |(_, many)| *many)
    }
}

impl Store {
    /// The summary of a case.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when there is no such case.
    pub async fn case_row(&self, id: Uuid) -> Result<CaseRow, StoreError> {
        let _turn = self.gate.reader().await?;
        case_summary::Entity::find_by_id(id)
            .one(&self.db)
            .await?
            .map(CaseRow::from)
            .ok_or(StoreError::NotFound)
    }

    /// Cases not yet closed, and closed ones under which a stop still holds: of each machine the most
    /// urgent few. A stop comes first, then what only waits to be closed or proved, then the latest.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn floor_cases(&self) -> Result<FloorCases, StoreError> {
        const URGENT: &str = "SELECT * FROM (
            SELECT *, row_number() OVER (PARTITION BY machine_id ORDER BY stops = '', resting,
                status NOT IN ('cured', 'verifying'), updated_at DESC, number DESC) AS place
            FROM case_summary WHERE status <> 'resolved' OR stops <> '') AS ranked
            WHERE place <= $1 ORDER BY machine_id, place";
        let _turn = self.gate.reader().await?;
        let most = [SHOWN_ON_THE_FLOOR.into()];
        let urgent = Statement::from_sql_and_values(DbBackend::Postgres, URGENT, most);
        let rows = case_summary::Entity::find()
            .from_raw_sql(urgent)
            .all(&self.db)
            .await?;
        let many = case_summary::Entity::find()
            .select_only()
            .column(case_summary::Column::MachineId)
            .column_as(case_summary::Column::CaseId.count(), "many")
            .filter(on_the_floor())
            .group_by(case_summary::Column::MachineId)
            .into_tuple()
            .all(&self.db)
            .await?;
        Ok(FloorCases {
            shown: rows.into_iter().map(CaseRow::from).collect(),
            many,
        })
    }

    /// One page of a machine's cases that are open or hold a stop, latest first.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn open_cases_of(
        &self,
        machine: Uuid,
        page: u64,
        per_page: u64,
    ) -> Result<Vec<CaseRow>, StoreError> {
        let _turn = self.gate.reader().await?;
        let rows = case_summary::Entity::find()
            .filter(on_the_floor())
            .filter(case_summary::Column::MachineId.eq(machine))
            .order_by_asc(case_summary::Column::Stops.eq(""))
            .order_by_desc(case_summary::Column::UpdatedAt)
            .order_by_desc(case_summary::Column::Number)
            .paginate(&self.db, per_page)
            .fetch_page(page)
            .await?;
        Ok(rows.into_iter().map(CaseRow::from).collect())
    }

    /// One page of closed cases, latest first, and how many there are in all.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn records(
        &self,
        filter: &RecordFilter,
        page: u64,
        per_page: u64,
    ) -> Result<(Vec<CaseRow>, u64), StoreError> {
        let _turn = self.gate.reader().await?;
        let query = case_summary::Entity::find()
            .filter(filter.condition())
            .order_by_desc(case_summary::Column::ClosedAt)
            .order_by_desc(case_summary::Column::CaseId);
        let pages = query.paginate(&self.db, per_page);
        let total = pages.num_items().await?;
        let rows = pages.fetch_page(page).await?;
        Ok((rows.into_iter().map(CaseRow::from).collect(), total))
    }

    /// Causes that closed cases name, each with its number of cases, most frequent first.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn recorded_causes(&self) -> Result<Vec<(String, i64)>, StoreError> {
        let _turn = self.gate.reader().await?;
        let rows: Vec<(Option<String>, i64)> = case_summary::Entity::find()
            .select_only()
            .column(case_summary::Column::Cause)
            .column_as(case_summary::Column::CaseId.count(), "cases")
            .filter(case_summary::Column::Status.eq("resolved"))
            .filter(counted())
            .group_by(case_summary::Column::Cause)
            .order_by_desc(case_summary::Column::CaseId.count())
            .order_by_asc(case_summary::Column::Cause)
            .into_tuple()
            .all(&self.db)
            .await?;
        Ok(rows
            .into_iter()
            .filter_map(|(cause, n)| Some((cause?, n)))
            .collect())
    }
}

fn on_the_floor() -> Condition {
    Condition::any()
        .add(case_summary::Column::Status.ne("resolved"))
        .add(case_summary::Column::Stops.ne(""))
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
        let stop = known.find_map(|id| knowledge.stops.iter().position(|s| s.id == id));
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
    /// again at any time, and others write meanwhile. One process at a time; another returns at once.
    ///
    /// Returns how many rows were written.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn rebuild(&self, knowledge: &Knowledge) -> Result<usize, StoreError> {
        let Some(held) = self.try_hold(crate::start::REBUILD).await? else {
            return Ok(0);
        };
        let mut many = 0;
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
                        true => case_summary::Column::Status.ne("resolved"),
                        false => case_summary::Column::Status.eq("resolved"),
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
        let sum = || case::summary(knowledge, &case::replay(knowledge, &log), &workshop);
        let summary = think(sum).await;
        update(&transaction, knowledge, id, &summary, head.last_seq as u32).await?;
        if summary.stops.join(" ") != head.stops {
            tell(&transaction, id, head.last_seq as u32).await?;
            tell_machine(&transaction, head.machine_id, id).await?;
        }
        Ok(transaction.commit().await?)
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
        outcome: Set(summary.outcome.map(str::to_string)),
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
        answers: Set(Some(serde_json::json!(summary.answers))),
    }
}
