//! What the workshop named in its own words before, to be offered again.

use crate::{Store, StoreError};
use sea_orm::{ConnectionTrait, DbBackend, Statement};
use std::collections::BTreeMap;

/// Names offered at most, the latest first.
const OFFERED: i64 = 200;

/// What was named in own words, the latest first, each once.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct OwnWords {
    /// Checks with the outcomes they were last given.
    pub checks: Vec<(String, Vec<String>)>,
    /// Fixes.
    pub fixes: Vec<String>,
    /// Suspects.
    pub suspects: Vec<String>,
}

const LATEST: &str = "
    SELECT event->>'kind' AS kind, event->>'name' AS name,
        (array_agg(event->'outcomes' ORDER BY at DESC))[1] AS outcomes
    FROM case_entry
    WHERE event->>'kind' IN ('own-checked', 'own-fixed', 'own-suspected')
    GROUP BY 1, 2 ORDER BY max(at) DESC LIMIT $1";

impl Store {
    /// What was named in own words in any case.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn own_words(&self) -> Result<OwnWords, StoreError> {
        let _turn = self.gate.reader().await?;
        let query = Statement::from_sql_and_values(DbBackend::Postgres, LATEST, [OFFERED.into()]);
        let mut words = OwnWords::default();
        for row in self.db.query_all_raw(query).await? {
            let name: String = row.try_get("", "name")?;
            let kind: String = row.try_get("", "kind")?;
            match kind.as_str() {
                "own-checked" => {
                    let outcomes: Option<serde_json::Value> = row.try_get("", "outcomes")?;
                    let outcomes = outcomes.and_then(|o| serde_json::from_value(o).ok());
                    words.checks.push((name, outcomes.unwrap_or_default()));
                }
                "own-fixed" => words.fixes.push(name),
                _ => words.suspects.push(name),
            }
        }
        Ok(words)
    }

    /// How often each cause named in own words was what it was, by name.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn own_causes(&self) -> Result<BTreeMap<String, i64>, StoreError> {
        let causes = self.recorded_causes().await?;
        let own = |(id, many): (String, i64)| {
            let name = suspect_core::own::own_name(&id)?;
            Some((name.to_string(), many))
        };
        Ok(causes.into_iter().filter_map(own).collect())
    }
}
