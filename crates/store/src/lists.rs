//! What floor, records and machine pages list.

use crate::entity::case_summary;
use crate::{Store, StoreError};
use sea_orm::sea_query::Expr;
use sea_orm::{
    ColumnTrait, Condition, ConnectionTrait, DbBackend, EntityTrait, PaginatorTrait, QueryFilter,
    QueryOrder, QuerySelect, Statement,
};
use std::str::FromStr;
use suspect_core::case::{Outcome, Standing, Timer};
use suspect_core::identified::UnknownId;
use suspect_core::learning::hold::DROPPED_DAYS;
use time::{Duration, OffsetDateTime};
use uuid::Uuid;

/// Cases of one machine that the floor shows.
pub const SHOWN_ON_THE_FLOOR: i64 = 3;

/// A machine that hardly printed since a case was closed puts its question off by so many days.
const PUT_OFF_DAYS: i64 = 14;
/// That it did print, or that nobody knows: the counter was read since, and shows ten hours more
/// than when the case was closed.
const IDLE: &str = "(ask_at <= $1 OR NOT coalesce((
    SELECT max(hours) - max(hours) FILTER (WHERE at <= closed_at) < 10 AND max(at) > closed_at
    FROM (SELECT at, (event ->> 'hours')::float8 AS hours FROM machine_entry
        WHERE machine_id = case_summary.machine_id
        AND event ->> 'kind' IN ('counter', 'fitted')) AS read), false))";

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
    /// Where it stands.
    pub status: Standing,
    /// Material family.
    pub material: Option<String>,
    /// Leading suspect and its probability.
    pub leader: Option<(String, f64)>,
    /// What is to be done next as far as the case itself knows; [`suspect_core::case::What::parse`]
    /// reads it.
    pub next_step: Option<String>,
    /// Left for another day.
    pub resting: bool,
    /// Suggestions nobody answered yet.
    pub hearsay: usize,
    /// The wait that ends last.
    pub wait: Option<Timer>,
    /// Stops that hold.
    pub stops: Vec<String>,
    /// How it ended.
    pub outcome: Option<Outcome>,
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
    /// When a closed case asks whether its fix held.
    pub ask_at: Option<OffsetDateTime>,
}

/// A word of a row by its identifier.
pub(crate) fn word<T: FromStr<Err = UnknownId>>(id: &str) -> Result<T, StoreError> {
    let word = id.parse();
    word.map_err(|e: UnknownId| StoreError::Unreadable(e.to_string()))
}

/// The wait a row tells of; nothing where the present program cannot read it.
fn wait(row: &case_summary::Model) -> Option<Timer> {
    Some(Timer {
        work: row.wait_for.as_deref()?.parse().ok()?,
        step: row.wait_step? as u32,
        from: row.wait_from?,
        until: row.wait_until?,
    })
}

impl TryFrom<case_summary::Model> for CaseRow {
    type Error = StoreError;

    fn try_from(row: case_summary::Model) -> Result<Self, StoreError> {
        Ok(Self {
            id: row.case_id,
            number: row.number,
            machine_id: row.machine_id,
            last_seq: row.last_seq as u32,
            wait: wait(&row),
            hearsay: row.hearsay as usize,
            title: row.title,
            status: word(&row.status)?,
            material: row.material,
            leader: row.leader.zip(row.leader_probability),
            next_step: row.next_step,
            resting: row.resting,
            stops: row.stops.split_whitespace().map(str::to_string).collect(),
            outcome: row.outcome.as_deref().map(word).transpose()?,
            cause: row.cause,
            fix: row.fix,
            minutes: row.minutes,
            grams: row.grams,
            money: row.money,
            opened_at: row.opened_at,
            updated_at: row.updated_at,
            closed_at: row.closed_at,
            ask_at: row.ask_at,
        })
    }
}

/// Cases that count: those opened by error and those joined with another are kept and counted
/// nowhere.
pub(crate) fn counted() -> Condition {
    let never = [Outcome::OpenedByError.id(), Outcome::Joined.id()];
    Condition::any()
        .add(case_summary::Column::Outcome.is_null())
        .add(case_summary::Column::Outcome.is_not_in(never))
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
            .ok_or(StoreError::NotFound)
            .and_then(CaseRow::try_from)
    }

    /// Cases not yet closed, and closed ones under which a stop still holds: of each machine the
    /// most urgent few. A stop comes first, then what only waits to be closed or proved, then the
    /// latest.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn floor_cases(&self) -> Result<FloorCases, StoreError> {
        // In the order of the index `case_summary_on_the_floor`: a few rows of each machine are
        // read.
        const URGENT: &str = "SELECT urgent.* FROM machine CROSS JOIN LATERAL (
            SELECT * FROM case_summary
            WHERE machine_id = machine.id AND (status <> 'resolved' OR stops <> '')
            ORDER BY stops = '', resting, status NOT IN ('cured', 'verifying'),
                updated_at DESC, number DESC LIMIT $1) AS urgent";
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
            shown: all(rows)?,
            many,
        })
    }

    /// The cases last worked on, whatever became of them.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn latest_cases(&self, most: u64) -> Result<Vec<CaseRow>, StoreError> {
        let _turn = self.gate.reader().await?;
        let rows = case_summary::Entity::find()
            .order_by_desc(case_summary::Column::UpdatedAt)
            .order_by_desc(case_summary::Column::Number)
            .limit(most)
            .all(&self.db)
            .await?;
        all(rows)
    }

    /// What wants to be seen: open cases with a stop, and waits that are over.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn attention(&self, now: OffsetDateTime) -> Result<(i64, i64), StoreError> {
        const SEEN: &str = "SELECT count(*) FILTER (WHERE stops <> ''),
            count(*) FILTER (WHERE wait_until <= $1) FROM case_summary WHERE status <> 'resolved'";
        let _turn = self.gate.reader().await?;
        let values: [sea_orm::Value; 1] = [now.into()];
        let seen = Statement::from_sql_and_values(DbBackend::Postgres, SEEN, values);
        let Some(row) = self.db.query_one_raw(seen).await? else {
            return Ok((0, 0));
        };
        Ok((row.try_get_by_index(0)?, row.try_get_by_index(1)?))
    }

    /// All open cases, the longest open first.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn open_cases(&self, most: u64) -> Result<Vec<CaseRow>, StoreError> {
        let _turn = self.gate.reader().await?;
        let rows = case_summary::Entity::find()
            .filter(case_summary::Column::Status.ne(Standing::Resolved.id()))
            .order_by_asc(case_summary::Column::OpenedAt)
            .order_by_asc(case_summary::Column::Number)
            .limit(most)
            .all(&self.db)
            .await?;
        all(rows)
    }

    /// Cases in which something was written since a moment, the latest last.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn cases_since(
        &self,
        since: OffsetDateTime,
        most: u64,
    ) -> Result<Vec<CaseRow>, StoreError> {
        let _turn = self.gate.reader().await?;
        let rows = case_summary::Entity::find()
            .filter(case_summary::Column::UpdatedAt.gte(since))
            .order_by_asc(case_summary::Column::UpdatedAt)
            .limit(most)
            .all(&self.db)
            .await?;
        all(rows)
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
        all(rows)
    }

    /// How many cases a machine had since a moment, closed or not.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn cases_of_since(
        &self,
        machine: Uuid,
        since: OffsetDateTime,
    ) -> Result<u64, StoreError> {
        let _turn = self.gate.reader().await?;
        Ok(case_summary::Entity::find()
            .filter(case_summary::Column::MachineId.eq(machine))
            .filter(case_summary::Column::OpenedAt.gte(since))
            .count(&self.db)
            .await?)
    }

    /// Closed cases that ask, or will ask, whether their fix held, the longest waiting first. Those
    /// that asked too long ago are left out.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn asking(&self, now: OffsetDateTime, most: u64) -> Result<Vec<CaseRow>, StoreError> {
        let _turn = self.gate.reader().await?;
        let dropped = now - Duration::days(DROPPED_DAYS);
        let rows = case_summary::Entity::find()
            .filter(case_summary::Column::AskAt.gt(dropped))
            .filter(Expr::cust_with_values(
                IDLE,
                [now - Duration::days(PUT_OFF_DAYS)],
            ))
            .order_by_asc(case_summary::Column::AskAt)
            .order_by_asc(case_summary::Column::Number)
            .limit(most)
            .all(&self.db)
            .await?;
        all(rows)
    }
}

pub(crate) fn all(rows: Vec<case_summary::Model>) -> Result<Vec<CaseRow>, StoreError> {
    rows.into_iter().map(CaseRow::try_from).collect()
}

fn on_the_floor() -> Condition {
    Condition::any()
        .add(case_summary::Column::Status.ne(Standing::Resolved.id()))
        .add(case_summary::Column::Stops.ne(""))
}
