//! Cards of drills: what is remembered of each, and when it is due.

use crate::{Store, StoreError};
use sea_orm::{QueryResult, Value};
use serde_json::Value as Json;
use time::OffsetDateTime;

/// A card that was answered.
#[derive(Debug, Clone, PartialEq)]
pub struct CardRow {
    /// Identifier.
    pub card: String,
    /// What is remembered of it.
    pub memory: Json,
    /// When it comes again.
    pub due_at: OffsetDateTime,
    /// How often it was answered.
    pub turns: i32,
    /// How often wrongly.
    pub wrong: i32,
}

impl Store {
    /// An owner's cards, the first due first.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn practice_cards(&self, owner: &str) -> Result<Vec<CardRow>, StoreError> {
        const ALL: &str = "SELECT card, memory, due_at, turns, wrong FROM practice_card
            WHERE owner = $1 ORDER BY due_at, card";
        let rows = self.practice_read(ALL, [owner.into()]).await?;
        let of = |r: &QueryResult| {
            Ok(CardRow {
                card: r.try_get_by_index(0)?,
                memory: r.try_get_by_index(1)?,
                due_at: r.try_get_by_index(2)?,
                turns: r.try_get_by_index(3)?,
                wrong: r.try_get_by_index(4)?,
            })
        };
        rows.iter().map(of).collect()
    }

    /// Keeps an answer to a card that was answered one time less before; false where it was not:
    /// the answer came twice.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn answer_card(&self, owner: &str, row: &CardRow) -> Result<bool, StoreError> {
        const ANSWER: &str = "INSERT INTO practice_card AS c
            (owner, card, memory, due_at, turns, wrong) SELECT $1, $2, $3, $4, $5, $6
            WHERE $5 = 1 OR EXISTS (SELECT 1 FROM practice_card WHERE owner = $1 AND card = $2)
            ON CONFLICT (owner, card) DO UPDATE SET memory = $3, due_at = $4, turns = $5, wrong = $6
            WHERE c.turns = $5 - 1";
        let values: [Value; 6] = [
            owner.into(),
            row.card.clone().into(),
            row.memory.clone().into(),
            row.due_at.into(),
            row.turns.into(),
            row.wrong.into(),
        ];
        Ok(self.practice_write(ANSWER, values).await? == 1)
    }
}
