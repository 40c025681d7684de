//! Reading sheets: what a piece tests, where to look, what good looks like, what each deviation
//! speaks for.

use serde::Deserialize;
use std::sync::LazyLock;
use suspect_core::knowledge::Knowledge;

/// The sheets shipped with the program.
const SHIPPED: &str = include_str!("../sheets.toml");

/// The sheet of a piece.
#[derive(Debug, Clone, PartialEq, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Sheet {
    /// The piece.
    pub piece: String,
    /// What it tests.
    pub tests: String,
    /// Minutes it prints at usual settings.
    pub minutes: f64,
    /// Grams of it.
    pub grams: f64,
    /// What it is not meant to show.
    pub not_for: Vec<String>,
    /// Checks and fixes of the knowledge that it serves.
    #[serde(default)]
    pub works: Vec<String>,
    /// When to stop the print.
    #[serde(default)]
    pub stop: Option<String>,
    /// What is looked at.
    #[serde(rename = "feature")]
    pub features: Vec<Feature>,
}

/// A place of a piece that is looked at.
#[derive(Debug, Clone, PartialEq, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Feature {
    /// Its identifier; the piece's drawing shows a spot of this name.
    pub id: String,
    /// Where it is.
    pub place: String,
    /// How to look.
    pub look: String,
    /// What good looks like.
    pub good: String,
    /// Deviations.
    pub readings: Vec<Reading>,
}

/// A deviation: a sign in a state, or an outcome of a check.
#[derive(Debug, Clone, PartialEq, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Reading {
    /// In plain words.
    pub plain: String,
    /// The sign.
    #[serde(default)]
    pub finding: Option<String>,
    /// Its state.
    #[serde(default)]
    pub state: Option<String>,
    /// The check.
    #[serde(default)]
    pub check: Option<String>,
    /// Its outcome.
    #[serde(default)]
    pub outcome: Option<String>,
    /// Suspects it speaks for.
    #[serde(rename = "for")]
    pub causes: Vec<String>,
}

#[derive(Deserialize)]
struct File {
    sheet: Vec<Sheet>,
}

static SHEETS: LazyLock<Vec<Sheet>> = LazyLock::new(|| {
    toml::from_str::<File>(SHIPPED)
        .map(|f| f.sheet)
        .unwrap_or_default()
});

/// All sheets, in the order of the pieces.
pub fn sheets() -> &'static [Sheet] {
    &SHEETS
}

/// The sheet of a piece.
pub fn sheet(piece: &str) -> Option<&'static Sheet> {
    SHEETS.iter().find(|s| s.piece == piece)
}

/// The sheet of the piece that serves a check or a fix.
pub fn for_work(id: &str) -> Option<&'static Sheet> {
    SHEETS.iter().find(|s| s.works.iter().any(|w| w == id))
}

impl Sheet {
    /// A feature by its identifier.
    pub fn feature(&self, id: &str) -> Option<&Feature> {
        self.features.iter().find(|f| f.id == id)
    }
}

impl Feature {
    /// The sign or the outcome of a reading, by identifiers: `strings=hairs`.
    pub fn reading(&self, id: &str) -> Option<&Reading> {
        self.readings.iter().find(|r| r.id() == id)
    }

    /// Every sign that "looks normal" denies, with the state that says so. A sign that is itself
    /// ordinary, or one of several places, is not denied.
    pub fn denied(&self, knowledge: &Knowledge) -> Vec<(String, String)> {
        let mut denied: Vec<(String, String)> = Vec::new();
        for reading in &self.readings {
            let ordinary = reading.causes.iter().all(|c| c.starts_with("normal-"));
            let Some(f) = reading
                .finding
                .as_deref()
                .and_then(|id| knowledge.finding_id(id))
            else {
                continue;
            };
            let finding = knowledge.finding(f);
            let none = finding.states.iter().map(|s| s.id.as_str());
            let none = none.into_iter().find(|s| matches!(*s, "absent" | "none"));
            let known = denied.iter().any(|(id, _)| *id == finding.id);
            if let (Some(state), false, false) = (none, ordinary, known) {
                denied.push((finding.id.clone(), state.to_owned()));
            }
        }
        denied
    }
}

impl Reading {
    /// `strings=hairs`, `diagonals=unequal`.
    pub fn id(&self) -> String {
        let what = self
            .finding
            .as_deref()
            .or(self.check.as_deref())
            .unwrap_or_default();
        let how = self
            .state
            .as_deref()
            .or(self.outcome.as_deref())
            .unwrap_or_default();
        format!("{what}={how}")
    }
}

/// What is wrong with the sheets beside a knowledge: an identifier nobody knows, a feature that the
/// drawing does not show.
pub fn problems(knowledge: &Knowledge) -> Vec<String> {
    let mut problems = Vec::new();
    if let Err(e) = toml::from_str::<File>(SHIPPED) {
        problems.push(format!("sheets.toml: {}", e.message()));
    }
    for sheet in sheets() {
        let known =
            |id: &&String| knowledge.check_id(id).is_some() || knowledge.fix_id(id).is_some();
        let unknown = sheet.works.iter().filter(|id| !known(id));
        problems.extend(unknown.map(|id| format!("{}: `{id}` is no work", sheet.piece)));
        for feature in &sheet.features {
            for reading in &feature.readings {
                let at = format!("{} {} {}", sheet.piece, feature.id, reading.id());
                problems.extend(wrong(knowledge, reading).map(|what| format!("{at}: {what}")));
            }
        }
    }
    problems
}

fn wrong(knowledge: &Knowledge, reading: &Reading) -> Option<String> {
    let id = reading.finding.as_deref().or(reading.check.as_deref())?;
    let how = reading.state.as_deref().or(reading.outcome.as_deref())?;
    let Some(f) = knowledge.finding_id(id) else {
        return Some(format!("`{id}` is no known sign or check"));
    };
    let states = &knowledge.finding(f).states;
    if !states.iter().any(|s| s.id == how) {
        return Some(format!("`{how}` is no state of `{id}`"));
    }
    let unknown = reading
        .causes
        .iter()
        .find(|c| knowledge.cause_id(c).is_none());
    unknown.map(|c| format!("`{c}` is no known suspect"))
}
