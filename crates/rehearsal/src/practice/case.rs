//! A practice case: who acts, what is told of it, and how it is kept.

use crate::world::{Drawn, World};
use crate::{LUCK, seeded};
use rand::RngExt;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use suspect_core::evidence::{Answer, Confidence, Facts, Sighting, Tried};
use suspect_core::knowledge::{CauseId, FindingId, FixId, Knowledge, TryResult};

/// What is hard about a case.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Level {
    /// What is told speaks for who it is.
    Clear,
    /// Little is told, and one thing of it is wrong.
    Messy,
    /// What is told speaks for somebody more popular.
    PopularWrong,
    /// Two act at once.
    TwoCauses,
    /// Nothing is wrong at all: that is how the process looks.
    NothingWrong,
    /// The machine must be stopped first.
    Dangerous,
}

/// Every level, the easiest first.
pub const LEVELS: [Level; 6] = [
    Level::Clear,
    Level::Messy,
    Level::PopularWrong,
    Level::TwoCauses,
    Level::NothingWrong,
    Level::Dangerous,
];

impl Level {
    /// Identifier: `popular-wrong`.
    pub fn id(self) -> &'static str {
        [
            "clear",
            "messy",
            "popular-wrong",
            "two-causes",
            "nothing-wrong",
            "dangerous",
        ][self as usize]
    }

    /// The level of an identifier.
    pub fn from_id(id: &str) -> Option<Self> {
        LEVELS.into_iter().find(|l| l.id() == id)
    }
}

/// What a closed case of the workshop's own past adds: how it really went.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
pub struct Past {
    /// "C-031".
    pub label: String,
    /// States of signs and checks as they were really found, by identifier.
    pub found: BTreeMap<String, String>,
    /// The fix that did it.
    pub fix: Option<String>,
    /// What was really done, in order, without names.
    pub done: Vec<String>,
}

/// Suspects whose shares are asked for, beside somebody else.
pub const ASKED: usize = 4;

/// A case to practise on.
#[derive(Debug, Clone)]
pub struct PracticeCase {
    /// What it was drawn from.
    pub seed: u64,
    /// What is hard about it.
    pub level: Level,
    /// Standard deviation, in log-odds, by which its world differs from the knowledge.
    pub perturb: f64,
    /// What acts: known at the end.
    pub acting: Vec<CauseId>,
    /// What is told at the beginning, with the machine, the material and what was tried in vain.
    pub told: Facts,
    /// The sign that is told wrong.
    pub wrong: Option<FindingId>,
    /// What a member says.
    pub words: Vec<String>,
    /// Of whom one is asked what one believes.
    pub asked: Vec<CauseId>,
    /// How it really went, where it did.
    pub past: Option<Past>,
    /// How hard it is, is said at the end alone.
    pub surprise: bool,
}

/// The luck of a case: of every look and fix, and of answers to questions.
pub(super) struct Luck {
    pub drawn: Drawn,
    pub answers: Vec<f64>,
}

impl PracticeCase {
    /// The luck of it: the same whenever it is asked for.
    pub(super) fn luck(&self, world: &World<'_>) -> Luck {
        let k = world.knowledge();
        let rng = &mut seeded(self.seed, LUCK, self.level as usize);
        let answers = (0..k.findings.len()).map(|_| rng.random()).collect();
        let mut drawn = world.with_luck(self.acting.clone(), self.told.clone(), rng);
        let cure = self.past.as_ref().and_then(|p| p.fix.as_deref());
        if let Some(fix) = cure.and_then(|id| k.fix_id(id)) {
            drawn.luck_of_fixes[fix.at()] = [0.0; 3];
        }
        Luck { drawn, answers }
    }

    /// What is kept of it: enough to open it again, whatever is learned meanwhile.
    pub fn kept(&self, k: &Knowledge) -> Kept {
        let cause = |c: &CauseId| k.cause(*c).id.clone();
        let told = self.told.findings.iter().filter_map(|(f, s)| {
            let finding = k.finding(*f);
            Some((
                finding.id.clone(),
                finding.states[s.answer.state()?].id.clone(),
            ))
        });
        let known = self.told.context.known();
        Kept {
            seed: self.seed,
            level: self.level,
            perturb: self.perturb,
            acting: self.acting.iter().map(cause).collect(),
            context: known.map(|(f, v)| (f.id.into(), v.id.into())).collect(),
            told: told.collect(),
            tried: self
                .told
                .tried
                .iter()
                .map(|t| k.fix(t.fix).id.clone())
                .collect(),
            wrong: self.wrong.map(|f| k.finding(f).id.clone()),
            words: self.words.clone(),
            asked: self.asked.iter().map(cause).collect(),
            past: self.past.clone(),
            surprise: self.surprise,
        }
    }
}

/// A practice case as it is kept: every thing by its identifier.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Kept {
    seed: u64,
    level: Level,
    perturb: f64,
    acting: Vec<String>,
    context: BTreeMap<String, String>,
    told: BTreeMap<String, String>,
    tried: Vec<String>,
    wrong: Option<String>,
    words: Vec<String>,
    asked: Vec<String>,
    past: Option<Past>,
    surprise: bool,
}

/// A case was drawn from knowledge that named things otherwise.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
#[error("this case was drawn from knowledge that had `{0}`, which is there no more: draw another")]
pub struct OtherKnowledge(pub String);

impl Kept {
    /// The case.
    ///
    /// # Errors
    /// [`OtherKnowledge`] with the identifier that is unknown.
    pub fn open(&self, k: &Knowledge) -> Result<PracticeCase, OtherKnowledge> {
        let none = |id: &str| OtherKnowledge(id.to_string());
        let finding = |id: &str| k.finding_id(id).ok_or_else(|| none(id));
        let cause = |id: &String| k.cause_id(id).ok_or_else(|| none(id));
        let fix = |id: &String| k.fix_id(id).ok_or_else(|| none(id));
        let mut told = Facts::default();
        for (field, value) in &self.context {
            told.context.set(field, value).map_err(|_| none(field))?;
        }
        let wrong = self.wrong.as_deref().map(finding).transpose()?;
        for (id, state) in &self.told {
            let f = finding(id)?;
            let state = k.finding(f).state(state).ok_or_else(|| none(state))?;
            told.findings.insert(f, sighting(state, wrong == Some(f)));
        }
        let tried: Result<Vec<FixId>, _> = self.tried.iter().map(fix).collect();
        told.tried = in_vain(&tried?);
        let all = |ids: &[String]| ids.iter().map(cause).collect::<Result<Vec<_>, _>>();
        Ok(PracticeCase {
            seed: self.seed,
            level: self.level,
            perturb: self.perturb,
            acting: all(&self.acting)?,
            told,
            wrong,
            words: self.words.clone(),
            asked: all(&self.asked)?,
            past: self.past.clone(),
            surprise: self.surprise,
        })
    }
}

/// Something as it is told: what is told wrong is told with less certainty.
pub(super) fn sighting(state: usize, wrong: bool) -> Sighting {
    Sighting {
        answer: Answer::State(state),
        confidence: match wrong {
            true => Confidence::Likely,
            false => Confidence::Sure,
        },
    }
}

/// Fixes that were tried and changed nothing.
pub(super) fn in_vain(fixes: &[FixId]) -> Vec<Tried> {
    let same = |fix: &FixId| Tried::of(*fix, TryResult::Same);
    fixes.iter().map(same).collect()
}
