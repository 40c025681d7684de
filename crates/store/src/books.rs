//! The book of each machine: what its log says, summed up and kept beside it.

use crate::book_rows::{WAY, log, stale, write};
use crate::entity::{machine, machine_book};
use crate::machines::Machine;
use crate::shelf::{Thing, things};
use crate::{Store, StoreError, think};
use sea_orm::{
    ColumnTrait, ConnectionTrait, DbBackend, EntityTrait, QueryFilter, QueryOrder, Statement,
    TransactionTrait,
};
use std::collections::BTreeMap;
use std::sync::{Arc, Mutex, PoisonError};
use suspect_core::book::{Beside, Book, PartHours, PartState, hours, reasons, states};
use suspect_core::knowledge::{Knowledge, MachineKind};
use suspect_core::learning::learned::Reason;
use suspect_core::machine::build;
use suspect_core::profile::Context;
use suspect_core::shelf::OwnKind;
use suspect_core::text::look;
use time::OffsetDateTime;
use uuid::Uuid;

/// A machine with its book.
#[derive(Debug, Clone)]
pub struct Shelved {
    /// The machine.
    pub machine: Machine,
    /// How it is built.
    pub context: Context,
    /// Its book.
    pub book: Arc<Book>,
    /// The name of its kind, as it looks.
    kind: String,
    /// Hours of its parts.
    hours: Vec<PartHours>,
}

/// Every machine of the floor with its book.
#[derive(Debug, Clone, Default)]
pub struct Books {
    /// In the order of the floor.
    pub all: Vec<Shelved>,
    /// Kinds as the workshop describes them.
    pub own_kinds: Vec<Thing<OwnKind>>,
    /// Every kind that is known: the workshop's own, then those of the knowledge.
    pub kinds: Vec<MachineKind>,
}

impl Shelved {
    /// As the core reads it.
    pub fn beside(&self) -> Beside<'_> {
        Beside {
            kind: &self.kind,
            hours: &self.hours,
            book: &self.book,
        }
    }
}

impl Books {
    /// A machine by its identifier.
    pub fn of(&self, machine: Uuid) -> Option<&Shelved> {
        self.all.iter().find(|s| s.machine.id == machine)
    }

    /// The kind of a machine, where it is known: the workshop's own goes first.
    pub fn kind(&self, model: &str) -> Option<&MachineKind> {
        let name = look(model);
        self.kinds.iter().find(|kind| look(&kind.name) == name)
    }

    /// Parts of a machine as they stand, told by the lives of parts of all machines.
    pub fn states(&self, machine: Uuid, now: OffsetDateTime) -> Vec<PartState> {
        let Some(own) = self.of(machine) else {
            return Vec::new();
        };
        let others = self.all.iter().filter(|s| s.machine.id != machine);
        let others: Vec<Beside<'_>> = others.map(Shelved::beside).collect();
        states(own.beside(), self.kind(&own.machine.model), &others, now)
    }

    /// What the book of a machine says of suspects.
    pub(crate) fn reasons(&self, k: &Knowledge, machine: Uuid, now: OffsetDateTime) -> Vec<Reason> {
        let Some(own) = self.of(machine) else {
            return Vec::new();
        };
        let states = self.states(machine, now);
        reasons(k, &states, self.kind(&own.machine.model), &own.book)
    }
}

impl Store {
    /// Every machine with its book, in the order of the floor.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn books(&self, knowledge: &Knowledge) -> Result<Books, StoreError> {
        let _turn = self.gate.reader().await?;
        read(&self.db, &self.read_before, knowledge).await
    }

    /// The book of one machine.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when there is no such machine.
    pub async fn book(&self, machine: Uuid) -> Result<Book, StoreError> {
        let _turn = self.gate.reader().await?;
        let row = machine_book::Entity::find_by_id(machine)
            .one(&self.db)
            .await?;
        match row.filter(|r| r.made == WAY) {
            Some(row) => serde_json::from_value(row.book).map_err(crate::error::unreadable),
            None => {
                let log = log(&self.db, machine).await?;
                Ok(think(|| Book::of(&log)).await)
            }
        }
    }

    /// Makes books anew that another way of summing up made, or none. Returns how many.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn rebuild_books(&self) -> Result<usize, StoreError> {
        let stale: Vec<Uuid> = {
            let _turn = self.gate.reader().await?;
            stale(&self.db).await?
        };
        for id in &stale {
            let _turn = self.gate.writer().await?;
            let transaction = self.db.begin().await?;
            crate::entries::lock_machine(&transaction, *id).await?;
            let log = log(&transaction, *id).await?;
            write(&transaction, *id, &log).await?;
            transaction.commit().await?;
        }
        Ok(stale.len())
    }
}

/// A version of a book's row: PostgreSQL never gives the number of a transaction to another one, so
/// that a row with both as they were is the row as it was.
type Version = (i32, String);

/// Books that were read before, by the version of their row. A row that is the same is not read
/// again: it costs as much to read as all else of a page.
#[derive(Debug, Clone, Default)]
pub(crate) struct ReadBefore(Arc<Mutex<Versions>>);

type Versions = BTreeMap<Uuid, (Version, Arc<Book>)>;

impl ReadBefore {
    fn known(&self, machine: Uuid, version: &Version) -> Option<Arc<Book>> {
        let known = self.0.lock().unwrap_or_else(PoisonError::into_inner);
        let (as_it_was, book) = known.get(&machine)?;
        (as_it_was == version).then(|| Arc::clone(book))
    }

    fn keep(&self, machine: Uuid, version: Version, book: &Arc<Book>) {
        let mut known = self.0.lock().unwrap_or_else(PoisonError::into_inner);
        known.insert(machine, (version, Arc::clone(book)));
    }
}

/// Books of all machines, those that did not change since from memory.
async fn books_by_machine(
    db: &impl ConnectionTrait,
    before: &ReadBefore,
) -> Result<BTreeMap<Uuid, Arc<Book>>, StoreError> {
    const VERSIONS: &str = "SELECT machine_id, seq, xmin::text FROM machine_book WHERE made = $1";
    let sql = Statement::from_sql_and_values(DbBackend::Postgres, VERSIONS, [WAY.into()]);
    let mut books = BTreeMap::new();
    let mut unread = BTreeMap::new();
    for row in db.query_all_raw(sql).await? {
        let id: Uuid = row.try_get_by_index(0)?;
        let version = (row.try_get_by_index(1)?, row.try_get_by_index(2)?);
        if let Some(book) = before.known(id, &version) {
            books.insert(id, book);
        } else {
            unread.insert(id, version);
        }
    }
    if unread.is_empty() {
        return Ok(books);
    }
    let rows = machine_book::Entity::find()
        .filter(machine_book::Column::MachineId.is_in(unread.keys().copied()))
        .filter(machine_book::Column::Made.eq(WAY))
        .all(db)
        .await?;
    for row in rows {
        let book: Book = serde_json::from_value(row.book).map_err(crate::error::unreadable)?;
        let book = Arc::new(book);
        // Written again between the two looks: read, and not kept under the version before.
        if let Some(version) = unread.remove(&row.machine_id).filter(|v| v.0 == row.seq) {
            before.keep(row.machine_id, version, &book);
        }
        books.insert(row.machine_id, book);
    }
    Ok(books)
}

/// All books on a connection or within a transaction; one that is missing is read from its log.
pub(crate) async fn read(
    db: &impl ConnectionTrait,
    before: &ReadBefore,
    knowledge: &Knowledge,
) -> Result<Books, StoreError> {
    let machines = machine::Entity::find()
        .order_by_asc(machine::Column::Position)
        .order_by_asc(machine::Column::Name)
        .all(db)
        .await?;
    let mut books = books_by_machine(db, before).await?;
    let mut all = Vec::with_capacity(machines.len());
    for row in machines {
        let book = match books.remove(&row.id) {
            Some(book) => book,
            None => {
                let log = log(db, row.id).await?;
                Arc::new(think(|| Book::of(&log)).await)
            }
        };
        let machine = Machine::from(row);
        let context = build(&machine.profile);
        all.push(Shelved {
            kind: look(&machine.model),
            hours: hours(&context, &book),
            machine,
            context,
            book,
        });
    }
    let own_kinds = things::<OwnKind>(db).await?;
    let own = own_kinds.iter().filter(|own| !own.is.removed);
    let own = own.map(|own| own.is.as_kind(knowledge, &own.id.to_string()));
    Ok(Books {
        kinds: own.chain(knowledge.machine_kinds.iter().cloned()).collect(),
        all,
        own_kinds,
    })
}
