//! What closed cases teach: kept in the transaction that closes or opens one, summed up in whole
//! numbers, and read as numbers of a machine.

pub mod figures;
mod sums;

use crate::books::ReadBefore;
use crate::entity::{lesson, machine};
use crate::outdated::{Whose, outdated};
use crate::{Store, StoreError, think};
use figures::Figures;
use sea_orm::{
    ActiveModelTrait, ActiveValue::Set, ConnectionTrait, DatabaseTransaction, EntityTrait,
    QuerySelect,
};
use std::collections::BTreeMap;
use std::sync::{Arc, Mutex, PoisonError};
use sums::Sums;
use suspect_core::case::{self, CaseState, Entry};
use suspect_core::knowledge::Knowledge;
use suspect_core::learning::Learned;
use suspect_core::learning::hold::Holding;
use suspect_core::learning::tally::Shop;
use suspect_core::lessons::lesson::{HoldRecord, Lesson, holds, lesson};
use suspect_core::planning::Workshop;
use time::OffsetDateTime;
use uuid::Uuid;

/// What a shop had learned, by the version of its sums, the day and the knowledge.
type Key = (i64, i32, String);

/// The last shop that was reckoned, with the numbers of machines asked for since.
#[derive(Debug, Default)]
struct Known {
    key: Option<Key>,
    shop: Arc<Shop>,
    machines: BTreeMap<(Uuid, String), Option<Arc<Learned>>>,
}

/// Numbers read before are kept until a case is closed or opened, or a day passes.
#[derive(Debug, Clone, Default)]
pub(crate) struct Memory(Arc<Mutex<Known>>);

impl Memory {
    fn with<T>(&self, of: impl FnOnce(&mut Known) -> T) -> T {
        of(&mut self.0.lock().unwrap_or_else(PoisonError::into_inner))
    }
}

/// A lesson as its row has it.
#[derive(Debug, Clone, PartialEq, Default)]
pub(crate) struct Kept {
    machine: Uuid,
    lesson: Option<Lesson>,
    holds: Vec<HoldRecord>,
}

impl Kept {
    fn read(row: lesson::Model) -> Result<Self, StoreError> {
        let lesson = row.lesson.map(serde_json::from_value).transpose();
        Ok(Self {
            machine: row.machine_id,
            lesson: lesson.map_err(crate::error::unreadable)?,
            holds: serde_json::from_value(row.holds).map_err(crate::error::unreadable)?,
        })
    }
}

/// What a case teaches as its log stands.
#[derive(Debug)]
pub(crate) struct Taught {
    /// Its words, for whoever looks for them.
    pub words: String,
    lesson: Option<Lesson>,
    holds: Vec<HoldRecord>,
}

impl Taught {
    pub fn by(knowledge: &Knowledge, log: &[Entry], case: &CaseState) -> Self {
        Self {
            words: case::words(knowledge, log),
            lesson: lesson(knowledge, log, case),
            holds: holds(knowledge, log, case),
        }
    }
}

/// Keeps what a case teaches, and the sums over all. Returns whether that changed anything.
pub(crate) async fn keep(
    transaction: &DatabaseTransaction,
    id: Uuid,
    machine: Uuid,
    taught: Taught,
) -> Result<bool, StoreError> {
    let row = lesson::Entity::find_by_id(id)
        .lock_exclusive()
        .one(transaction)
        .await?;
    let there = row.is_some();
    let before = row.map(Kept::read).transpose()?.unwrap_or_default();
    let mut lesson = taught.lesson;
    if let (Some(lesson), Some(before)) = (&mut lesson, &before.lesson) {
        lesson.as_advised(before);
    }
    let now = Kept {
        machine,
        lesson,
        holds: taught.holds,
    };
    let nothing = now.lesson.is_none() && now.holds.is_empty();
    if before == now || (!there && nothing) {
        return Ok(false);
    }
    let json =
        |value: serde_json::Result<serde_json::Value>| value.map_err(crate::error::unreadable);
    let row = lesson::ActiveModel {
        case_id: Set(id),
        machine_id: Set(machine),
        lesson: Set(now
            .lesson
            .as_ref()
            .map(serde_json::to_value)
            .map(json)
            .transpose()?),
        holds: Set(json(serde_json::to_value(&now.holds))?),
    };
    match there {
        true => row.update(transaction).await.map(|_| ())?,
        false => row.insert(transaction).await.map(|_| ())?,
    }
    let mut sums = Sums::default();
    sums.add(&before, -1)?;
    sums.add(&now, 1)?;
    sums.write(transaction).await?;
    let mut figures = Figures::default();
    figures.add(&before, -1);
    figures.add(&now, 1);
    figures.write(transaction).await?;
    outdated(transaction, Whose::AllBut(id)).await?;
    Ok(true)
}

/// Numbers learned of a machine at a moment, or of the shop as a machine unknown to it would have
/// them; none where nothing was learned.
pub(crate) async fn of_machine(
    db: &impl ConnectionTrait,
    (memory, books): (&Memory, &ReadBefore),
    knowledge: &Knowledge,
    machine: Option<Uuid>,
    now: OffsetDateTime,
) -> Result<Option<Arc<Learned>>, StoreError> {
    let version = sums::version(db).await?;
    let row = match machine {
        Some(id) => machine::Entity::find_by_id(id).one(db).await?,
        None => None,
    };
    let kind = row.map(|m| m.model).unwrap_or_default();
    // Nobody's numbers are those of the shop.
    let machine = machine.unwrap_or_default();
    let key = (version, now.to_julian_day(), knowledge.sha256.clone());
    let asked = (machine, kind);
    let known = memory.with(|known| {
        let fits = known.key.as_ref() == Some(&key);
        fits.then(|| (Arc::clone(&known.shop), known.machines.get(&asked).cloned()))
    });
    let shop = match known {
        Some((_, Some(numbers))) => return Ok(numbers),
        Some((shop, None)) => shop,
        None => Arc::new(shop(db, knowledge, now).await?),
    };
    let reasons = crate::books::read(db, books, knowledge)
        .await?
        .reasons(knowledge, machine, now);
    let numbers = think(|| match (shop.is_empty(), reasons.is_empty()) {
        (true, true) => None,
        (true, false) => Some(Learned::default().with_reasons(knowledge, reasons)),
        (false, _) => {
            let learned = shop.for_machine(knowledge, &asked.0.to_string(), &asked.1);
            let learned = learned.with_reasons(knowledge, reasons);
            Some(match shop.rests() {
                true => learned.at_rest(knowledge),
                false => learned,
            })
        }
    });
    let numbers = numbers.await.map(Arc::new);
    memory.with(|known| {
        if known.key.as_ref() != Some(&key) {
            *known = Known {
                key: Some(key),
                shop,
                machines: BTreeMap::new(),
            };
        }
        known.machines.insert(asked, numbers.clone());
    });
    Ok(numbers)
}

/// Everything learned, reckoned from the sums.
async fn shop(
    db: &impl ConnectionTrait,
    knowledge: &Knowledge,
    now: OffsetDateTime,
) -> Result<Shop, StoreError> {
    let tally = sums::read(db).await?;
    let machines = machine::Entity::find().all(db).await?;
    let kinds = machines.into_iter().map(|m| (m.id.to_string(), m.model));
    let kinds: BTreeMap<String, String> = kinds.collect();
    Ok(think(|| tally.learn(knowledge, &kinds, now)).await)
}

impl Store {
    fn kept(&self) -> (&Memory, &ReadBefore) {
        (&self.memory, &self.read_before)
    }

    /// Numbers learned of a machine at a moment; none where nothing was learned or learning is
    /// switched off: the book speaks.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn learned(
        &self,
        knowledge: &Knowledge,
        machine: Uuid,
        now: OffsetDateTime,
    ) -> Result<Option<Arc<Learned>>, StoreError> {
        let _turn = self.gate.reader().await?;
        let (workshop, _) = crate::settings::latest(&self.db).await?;
        self.learned_within(&self.db, knowledge, &workshop, machine, now)
            .await
    }

    /// The same with settings already read, on a connection or within a transaction.
    pub(crate) async fn learned_within(
        &self,
        db: &impl ConnectionTrait,
        knowledge: &Knowledge,
        workshop: &Workshop,
        machine: Uuid,
        now: OffsetDateTime,
    ) -> Result<Option<Arc<Learned>>, StoreError> {
        match workshop.learns_on(&machine.to_string()) {
            true => of_machine(db, self.kept(), knowledge, Some(machine), now).await,
            false => Ok(None),
        }
    }

    /// Numbers learned of a machine, whether or not they are used.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn machine_learned(
        &self,
        knowledge: &Knowledge,
        machine: Uuid,
        now: OffsetDateTime,
    ) -> Result<Option<Arc<Learned>>, StoreError> {
        let _turn = self.gate.reader().await?;
        of_machine(&self.db, self.kept(), knowledge, Some(machine), now).await
    }

    /// Numbers learned of the whole shop, whether or not they are used.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn shop_learned(
        &self,
        knowledge: &Knowledge,
        now: OffsetDateTime,
    ) -> Result<Option<Arc<Learned>>, StoreError> {
        let _turn = self.gate.reader().await?;
        of_machine(&self.db, self.kept(), knowledge, None, now).await
    }

    /// How fixes hold in the whole shop, and how many answers that rests on.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn holding(&self) -> Result<(Holding, i64), StoreError> {
        let _turn = self.gate.reader().await?;
        sums::holding(&self.db).await
    }

    /// Every lesson as it is kept: case, machine, what it teaches.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn lessons(&self) -> Result<Vec<(Uuid, Uuid, Lesson)>, StoreError> {
        let _turn = self.gate.reader().await?;
        let rows = lesson::Entity::find().all(&self.db).await?;
        let mut all = Vec::new();
        for row in rows {
            let (id, kept) = (row.case_id, Kept::read(row)?);
            all.extend(kept.lesson.map(|lesson| (id, kept.machine, lesson)));
        }
        Ok(all)
    }
}
