//! Taking in what was kept elsewhere: all of it or nothing.

use super::StoredCase;
use super::snapshot::{StoredFile, StoredLink, StoredPicture, UNHURRIED};
use crate::entity::{
    case_entry, case_summary, help_link, machine, machine_entry, picture, print_file,
    print_file_piece, workshop_entry,
};
use crate::machines::Machine;
use crate::{Store, StoreError, projection, settings, think};
use sea_orm::{
    ActiveModelTrait, ActiveValue::Set, ConnectionTrait, DatabaseTransaction, EntityTrait,
    PaginatorTrait, QuerySelect, TransactionTrait,
};
use std::collections::BTreeSet;
use suspect_core::case;
use suspect_core::exchange::WorkshopLine;
use suspect_core::knowledge::Knowledge;
use suspect_core::machine::MachineEntry;
use suspect_core::planning::Workshop;
use uuid::Uuid;

/// Rows of entries written at once: a statement holds so many values and no more.
const ROWS: usize = 4_000;

/// A number wished for above that is none: the next ones would run out.
const LARGEST_NUMBER: i64 = 1_000_000_000;

/// One transaction that takes a history in; undone when it is dropped before [`TakingIn::finish`].
#[derive(Debug)]
pub struct TakingIn {
    pub(super) transaction: DatabaseTransaction,
    numbers: BTreeSet<i64>,
    workshop: Workshop,
}

impl Store {
    /// Whether nothing is kept here yet: no machine, no case, no settings.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn holds_nothing(&self) -> Result<bool, StoreError> {
        let machines = machine::Entity::find().count(&self.db).await?;
        let cases = case_summary::Entity::find().count(&self.db).await?;
        let settings = workshop_entry::Entity::find().count(&self.db).await?;
        Ok(machines + cases + settings == 0)
    }

    /// Begins to take a history in. Others who write to cases wait until it is done.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn taking_in(&self) -> Result<TakingIn, StoreError> {
        let transaction = self.db.begin().await?;
        transaction.execute_unprepared(UNHURRIED).await?;
        settings::own_lock(&transaction).await?;
        let numbers: Vec<i64> = case_summary::Entity::find()
            .select_only()
            .column(case_summary::Column::Number)
            .into_tuple()
            .all(&transaction)
            .await?;
        let (workshop, _) = settings::latest(&transaction).await?;
        Ok(TakingIn {
            transaction,
            numbers: numbers.into_iter().collect(),
            workshop,
        })
    }
}

impl TakingIn {
    /// A machine that is not here, with its log.
    ///
    /// # Errors
    /// When the database refuses: [`StoreError::Taken`] where its name is taken.
    pub async fn machine(&self, machine: &Machine, log: &[MachineEntry]) -> Result<(), StoreError> {
        let profile = serde_json::to_value(&machine.profile).map_err(crate::error::unreadable)?;
        machine::ActiveModel {
            id: Set(machine.id),
            name: Set(machine.name.clone()),
            model: Set(machine.model.clone()),
            profile: Set(profile),
            position: Set(machine.position),
            place: Set(machine.place.clone()),
            note: Set(machine.note.clone()),
            out_of_service: Set(machine.out_of_service.clone()),
        }
        .insert(&self.transaction)
        .await?;
        for entry in log {
            machine_entry::ActiveModel {
                machine_id: Set(machine.id),
                seq: Set(entry.seq as i32),
                at: Set(entry.at),
                by: Set(entry.by.clone()),
                event: Set(serde_json::to_value(&entry.event).map_err(crate::error::unreadable)?),
            }
            .insert(&self.transaction)
            .await?;
        }
        Ok(())
    }

    /// Settings as they were set once. Only into an empty database.
    ///
    /// # Errors
    /// When the database refuses.
    pub async fn workshop(&mut self, line: WorkshopLine) -> Result<(), StoreError> {
        let settings = serde_json::to_value(&line.settings).map_err(crate::error::unreadable)?;
        workshop_entry::ActiveModel {
            seq: Set(line.seq as i32),
            at: Set(line.at),
            by: Set(line.by),
            settings: Set(settings),
        }
        .insert(&self.transaction)
        .await?;
        self.workshop = line.settings;
        Ok(())
    }

    /// Cases that are not here. A number that is taken becomes the next free one. What they teach
    /// is reckoned by [`Store::rebuild`].
    ///
    /// # Errors
    /// When the database refuses.
    pub async fn cases(
        &mut self,
        knowledge: &Knowledge,
        cases: &[StoredCase],
    ) -> Result<(), StoreError> {
        if cases.is_empty() {
            return Ok(());
        }
        let workshop = &self.workshop;
        let summaries = think(|| {
            let summary = |c: &StoredCase| {
                let state = case::replay(knowledge, &c.log);
                case::summary(knowledge, &state, workshop)
            };
            cases.iter().map(summary).collect::<Vec<_>>()
        })
        .await;
        let mut heads = Vec::new();
        let mut entries = Vec::new();
        for (case, summary) in cases.iter().zip(&summaries) {
            let number = self.free(case.number);
            let last = case.log.len() as u32;
            let row = projection::stale_row(knowledge, case.id, summary, last);
            heads.push(case_summary::ActiveModel {
                number: Set(number),
                machine_id: Set(case.machine),
                ..row
            });
            for entry in &case.log {
                let event = serde_json::to_value(&entry.event);
                entries.push(case_entry::ActiveModel {
                    case_id: Set(case.id),
                    seq: Set(entry.seq as i32),
                    at: Set(entry.at),
                    by: Set(entry.by.clone()),
                    event: Set(event.map_err(crate::error::unreadable)?),
                });
            }
        }
        case_summary::Entity::insert_many(heads)
            .exec_without_returning(&self.transaction)
            .await?;
        while !entries.is_empty() {
            let rest = entries.split_off(entries.len().min(ROWS));
            case_entry::Entity::insert_many(entries)
                .exec_without_returning(&self.transaction)
                .await?;
            entries = rest;
        }
        Ok(())
    }

    /// A number nobody has: the one wished for, else the next.
    fn free(&mut self, wished: Option<i64>) -> i64 {
        let next = self.numbers.last().map_or(1, |last| last + 1);
        let free = |n: &i64| (1..=LARGEST_NUMBER).contains(n) && !self.numbers.contains(n);
        let number = wished.filter(free);
        let number = number.unwrap_or(next);
        self.numbers.insert(number);
        number
    }

    /// A picture of a case that is here.
    ///
    /// # Errors
    /// When the database refuses.
    pub async fn picture(&self, picture: StoredPicture) -> Result<(), StoreError> {
        let row = picture::ActiveModel {
            id: Set(picture.id),
            case_id: Set(picture.case),
            bytes: Set(picture.bytes),
            thumbnail: Set(picture.thumbnail),
        };
        picture::Entity::insert(row)
            .exec_without_returning(&self.transaction)
            .await?;
        Ok(())
    }

    /// A print file without its text.
    ///
    /// # Errors
    /// When the database refuses.
    pub async fn file(&self, file: StoredFile) -> Result<(), StoreError> {
        let (at, by, reason) = match file.removed {
            Some((at, by, reason)) => (Some(at), Some(by), Some(reason)),
            None => (None, None, None),
        };
        let row = print_file::ActiveModel {
            id: Set(file.id),
            sha256: Set(file.sha256),
            bytes: Set(file.bytes),
            text_bytes: Set(file.text_bytes),
            packed: Set(file.packed),
            reading: Set(file.reading),
            kept_at: Set(file.kept_at),
            removed_at: Set(at),
            removed_by: Set(by),
            removed_reason: Set(reason),
        };
        print_file::Entity::insert(row)
            .exec_without_returning(&self.transaction)
            .await?;
        Ok(())
    }

    /// A piece of a print file's text.
    ///
    /// # Errors
    /// When the database refuses.
    pub async fn piece(&self, file: Uuid, number: i32, bytes: Vec<u8>) -> Result<(), StoreError> {
        let row = print_file_piece::ActiveModel {
            file_id: Set(file),
            number: Set(number),
            bytes: Set(bytes),
        };
        print_file_piece::Entity::insert(row)
            .exec_without_returning(&self.transaction)
            .await?;
        Ok(())
    }

    /// A link for a helper.
    ///
    /// # Errors
    /// When the database refuses.
    pub async fn link(&self, link: StoredLink) -> Result<(), StoreError> {
        let row = help_link::ActiveModel {
            token: Set(link.token),
            case_id: Set(link.case),
            made_at: Set(link.made_at),
            by: Set(link.by),
            revoked_at: Set(link.revoked_at),
        };
        help_link::Entity::insert(row)
            .exec_without_returning(&self.transaction)
            .await?;
        Ok(())
    }

    /// Everything stands.
    ///
    /// # Errors
    /// When the database refuses; nothing stands then.
    pub async fn finish(self) -> Result<(), StoreError> {
        if let Some(last) = self.numbers.last() {
            let next =
                format!("SELECT setval(pg_get_serial_sequence('case_summary', 'number'), {last})");
            self.transaction.execute_unprepared(&next).await?;
        }
        self.count_series_on().await?;
        Ok(self.transaction.commit().await?)
    }
}
