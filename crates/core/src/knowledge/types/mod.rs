//! What the knowledge is made of, validated: every reference is an index, every chance a
//! probability.

mod around;
mod commissioning;
mod kinds;
mod schools;
mod steps;
mod upkeep;
mod work;

pub use around::{Material, Phrase, Precaution, Stop, StopTerm, Term};
pub use commissioning::{CommissionStep, History};
pub use kinds::{CautionLevel, Family, FixKind, Region, Section};
pub use schools::{School, Side};
pub use steps::{Act, Power, Standing, Stands};
pub use upkeep::{Interval, MachineKind, Quirk, QuirkTime, UpkeepTask, Wrong};
pub use work::{Caution, MachineState, ProcedureStep, Trade, Work};

use crate::profile::Condition;

macro_rules! index {
    ($($(#[$doc:meta])+ $name:ident)+) => { $(
        $(#[$doc])+
        #[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord)]
        pub struct $name(pub u16);
        impl $name {
            /// As a plain index into the knowledge's list.
            pub fn at(self) -> usize { self.0 as usize }
        }
    )+ };
}

index! {
    /// A cause, by its place in knowledge order.
    CauseId
    /// A finding (a sign, a behaviour, a pattern, a number's finding or a check's outcome), by its
    /// place in knowledge order.
    FindingId
    /// A check, by its place in knowledge order.
    CheckId
    /// A fix, by its place in knowledge order.
    FixId
}

/// The fault itself.
#[derive(Debug, Clone)]
pub struct Cause {
    /// Fixed identifier.
    pub id: String,
    /// Short name as under a figure of the line-up: "Loose pulley".
    pub name: String,
    /// Plain phrase: what is wrong, in a beginner's words.
    pub plain: String,
    /// Part of the machine or of the job it belongs to.
    pub family: Family,
    /// How the cause makes the fault, in about three sentences.
    pub mechanism: String,
    /// What would clear it, in words.
    pub clears: String,
    /// Name of the pictogram of its part.
    pub pictogram: String,
    /// Book weight on the five-step scale.
    pub weight: f64,
    /// Factors for the context; 0 makes the cause impossible there.
    pub factors: Vec<(Condition, f64)>,
    /// Groups of causes of which at most one acts.
    pub exclusive: Vec<String>,
    /// Upstream causes with the chance that they bring this one on.
    pub consequence_of: Vec<(CauseId, f64)>,
    /// Its fixes, easy to involved; the first is the one a try "aimed at" the cause means.
    pub fixes: Vec<FixId>,
}

/// One state of a finding.
#[derive(Debug, Clone)]
pub struct State {
    /// Identifier: `present`, `gear-slips`.
    pub id: String,
    /// Phrase for ledger and buttons; for a check, what is seen.
    pub phrase: String,
    /// How often the state is seen in cases whose cause has no link to the finding.
    pub background: f64,
}

/// A state commoner than this where nobody is at fault is no sign of anything.
const ORDINARY: f64 = 0.5;

/// Something that can be observed, with two states or more, at most [`super::MOST_STATES`].
#[derive(Debug, Clone)]
pub struct Finding {
    /// Fixed identifier.
    pub id: String,
    /// Where it belongs.
    pub section: Section,
    /// Where it is found; nothing for patterns, numbers and outcomes of checks.
    pub region: Option<Region>,
    /// The question as a person would ask it.
    pub question: String,
    /// Plain phrase.
    pub plain: String,
    /// The field's term.
    pub term: String,
    /// States, in order. A two-state finding starts with `absent`.
    pub states: Vec<State>,
    /// Answers that stand for several states, each given weight 1: `unsure-which`.
    pub one_of: Vec<(String, Vec<usize>)>,
    /// Group of findings that say the same thing twice.
    pub group: Option<String>,
    /// Conditions of the context under which the finding makes sense.
    pub needs: Vec<Condition>,
    /// The check whose outcome this is.
    pub check: Option<CheckId>,
    /// A check that is at the same time a try of this fix.
    pub also_fix: Option<FixId>,
    /// Several of its states may be seen at one look.
    pub several: bool,
}

impl Finding {
    /// True for `absent` / `present` findings, whose chances combine by noisy-or.
    pub fn presence(&self) -> bool {
        self.states.len() == 2 && self.states[0].id == "absent"
    }

    /// Whether a state is no sign of anything: absent, or what one mostly finds where nothing is
    /// wrong.
    pub fn is_sound(&self, state: usize) -> bool {
        match self.presence() {
            true => state == 0,
            false => self.states[state].background >= ORDINARY,
        }
    }

    /// Index of a state by its identifier.
    pub fn state(&self, id: &str) -> Option<usize> {
        self.states.iter().position(|s| s.id == id)
    }

    /// False when the context contradicts what the finding needs.
    pub fn fits(&self, context: &crate::profile::Context) -> bool {
        self.needs.iter().all(|n| n.holds(context) != Some(false))
    }
}

/// Two signs, each in a state, that hardly stand beside each other.
pub type Clash = ((FindingId, usize), (FindingId, usize));

/// A check: an action with outcomes.
#[derive(Debug, Clone)]
pub struct Check {
    /// The finding its outcome is.
    pub finding: FindingId,
    /// What it takes.
    pub work: Work,
    /// Findings that count nothing once this check has given an answer.
    pub supersedes: Vec<FindingId>,
    /// By outcome, the signs beside which it cannot stand, each in a state.
    pub excludes: Vec<Vec<(FindingId, usize)>>,
    /// Signs that say the same as this check: together they are one piece of evidence.
    pub repeats: Vec<FindingId>,
    /// Signs, each in a state, that make it the first step of all.
    pub first_when: Vec<(FindingId, usize)>,
    /// While it is asked for first, nothing is heated.
    pub before_heat: bool,
    /// Signs, each in a state, that put it among the first three steps.
    pub early_when: Vec<(FindingId, usize)>,
    /// Signs, each in a state, beside which it comes before any cure, where it is worth its time.
    pub before_fixes_when: Vec<(FindingId, usize)>,
    /// Outcomes after which the fault is gone and the case needs no further step.
    pub ends_case: Vec<usize>,
}

impl Fix {
    /// Hands-on minutes, waiting minutes and grams of the whole proof.
    pub fn proof(&self) -> (f64, f64, f64) {
        let prints = f64::from(self.verify_prints);
        (
            prints * self.verify_minutes,
            prints * self.verify_waiting,
            prints * self.verify_grams,
        )
    }
}

/// A repair.
#[derive(Debug, Clone)]
pub struct Fix {
    /// Fixed identifier, verb-object.
    pub id: String,
    /// Easy, involved or work-around.
    pub kind: FixKind,
    /// What it takes, the verification print left out.
    pub work: Work,
    /// Causes it cures with the chance, each within 0.05..0.95.
    pub cures: Vec<(CauseId, f64)>,
    /// Chance that the fault stays away after it though it touches nothing that is at fault.
    pub by_chance: f64,
    /// How the cure is proven: what to print.
    pub verify: String,
    /// How many clean prints prove it, one after the other.
    pub verify_prints: u32,
    /// Hands-on minutes of each of them.
    pub verify_minutes: f64,
    /// Least duration of each in minutes: as long as the fault takes to show.
    pub verify_waiting: f64,
    /// Grams of each.
    pub verify_grams: f64,
    /// The setting or value it changes, to be noted before and offered for putting back; empty when
    /// it changes none.
    pub changes: String,
    /// Findings it may bring on when overdone.
    pub may_bring: Vec<FindingId>,
    /// Said before a change that may void the maker's warranty.
    pub warranty: String,
    /// Conditions of the context under which the fix makes sense.
    pub needs: Vec<Condition>,
}
