//! Machines of the workshop.

use crate::entity::machine;
use crate::{Store, StoreError};
use sea_orm::{ActiveModelTrait, EntityTrait, PaginatorTrait, QueryOrder, Set};
use std::collections::BTreeMap;
use uuid::Uuid;

/// A machine as pages see it.
#[derive(Debug, Clone, PartialEq)]
pub struct Machine {
    /// Identifier.
    pub id: Uuid,
    /// Its name on the floor.
    pub name: String,
    /// Its model.
    pub model: String,
    /// Profile fields by identifier.
    pub profile: BTreeMap<String, String>,
    /// Place on the floor.
    pub position: i32,
}

impl From<machine::Model> for Machine {
    fn from(row: machine::Model) -> Self {
        Self {
            id: row.id,
            name: row.name,
            model: row.model,
            profile: serde_json::from_value(row.profile).unwrap_or_default(),
            position: row.position,
        }
    }
}

impl Store {
    /// All machines in the order of the floor.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn machines(&self) -> Result<Vec<Machine>, StoreError> {
        let rows = machine::Entity::find()
            .order_by_asc(machine::Column::Position)
            .order_by_asc(machine::Column::Name)
            .all(&self.db)
            .await?;
        Ok(rows.into_iter().map(Machine::from).collect())
    }

    /// One machine.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when there is none with this identifier.
    pub async fn machine(&self, id: Uuid) -> Result<Machine, StoreError> {
        machine::Entity::find_by_id(id)
            .one(&self.db)
            .await?
            .map(Machine::from)
            .ok_or(StoreError::NotFound)
    }

    /// Adds a machine.
    ///
    /// # Errors
    /// When the database refuses, for instance because the name is taken.
    pub async fn add_machine(&self, machine: &Machine) -> Result<(), StoreError> {
        machine::ActiveModel {
            id: Set(machine.id),
            name: Set(machine.name.clone()),
            model: Set(machine.model.clone()),
            profile: Set(serde_json::json!(machine.profile)),
            position: Set(machine.position),
        }
        .insert(&self.db)
        .await?;
        Ok(())
    }

    /// Whether nothing is stored yet.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn is_empty(&self) -> Result<bool, StoreError> {
        Ok(machine::Entity::find().count(&self.db).await? == 0)
    }
}
