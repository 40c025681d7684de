//! What the knowledge is made of, validated: every reference is an index, every chance a probability.

use crate::identified::identified;
use crate::profile::Condition;
use crate::settings::NumberId;

macro_rules! index {
    ($(#[$doc:meta] $name:ident)+) => { $(
        #[$doc]
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
    /// A finding (a sign, a behaviour, a pattern, a number's finding or a check's outcome), by its place in knowledge order.
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

/// Which part of the vocabulary a finding belongs to.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Section {
    /// Seen on the print.
    Print,
    /// Seen or heard on the machine.
    Machine,
    /// Pattern and history.
    History,
    /// Drawn from numbers by the program, never asked.
    Number,
    /// The outcome of a check.
    Check,
}

identified! {
    /// Where a finding is found: places of the print in the order a print is looked over, then parts
    /// of the machine.
    pub enum Region {
        /// First layer and foot.
        FirstLayer = "first layer",
        /// Walls.
        Wall = "wall",
        /// Seam.
        Seam = "seam",
        /// Tops and slopes.
        Top = "top",
        /// Overhangs and supports.
        Overhang = "overhang",
        /// Between separate parts.
        BetweenIslands = "between islands",
        /// Tips and fine detail.
        Tip = "tip",
        /// Inside, cut open.
        Inside = "inside",
        /// The whole piece.
        Whole = "whole",
        /// Feeder.
        Feeder = "feeder",
        /// Spool and the path from it.
        Spool = "spool",
        /// Hot end.
        HotEnd = "hot end",
        /// Bed and plate.
        Bed = "bed",
        /// Motion.
        Motion = "motion",
        /// Chamber.
        Chamber = "chamber",
        /// Electrics: danger signs.
        Electrics = "electrics",
    }
}

impl Region {
    /// Places of the print.
    pub fn of_print() -> impl Iterator<Item = Region> {
        Region::ALL.iter().copied().filter(|r| r.is_of_print())
    }

    /// Parts of the machine.
    pub fn of_machine() -> impl Iterator<Item = Region> {
        Region::ALL.iter().copied().filter(|r| !r.is_of_print())
    }

    fn is_of_print(self) -> bool {
        self <= Region::Whole
    }
}

identified! {
    /// Part of the machine or of the job that a cause belongs to, in the order of lists.
    pub enum Family {
        /// Filament path.
        Path = "path",
        /// Feeder.
        Feeder = "feeder",
        /// Hot end.
        HotEnd = "hotend",
        /// Heat and air.
        Heat = "heat",
        /// Amounts asked for by the slicer.
        Flow = "flow",
        /// Motion settings.
        MotionSettings = "motion-set",
        /// Bed and first layer.
        Bed = "bed",
        /// Mechanics.
        Mechanics = "mechanics",
        /// Electrics.
        Electric = "electric",
        /// Material.
        Material = "material",
        /// Model.
        Model = "model",
        /// No fault: how the process looks.
        Normal = "normal",
    }
}

identified! {
    /// How grave a caution is.
    pub enum CautionLevel {
        /// Something may break or hurt a little.
        Caution = "caution",
        /// Somebody may be hurt badly.
        Warning = "warning",
    }
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
}

impl Finding {
    /// True for `absent` / `present` findings, whose chances combine by noisy-or.
    pub fn presence(&self) -> bool {
        self.states.len() == 2 && self.states[0].id == "absent"
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

/// In which state the machine must be, and in which a step leaves it.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq)]
pub struct MachineState {
    /// `Some(true)` hot, `Some(false)` cold, `None` does not matter.
    pub hot: Option<bool>,
    /// Filament taken out.
    pub unloaded: Option<bool>,
    /// Covers off or hot end open.
    pub open: Option<bool>,
}

/// One step of a procedure, done at a time.
#[derive(Debug, Clone, PartialEq)]
pub struct ProcedureStep {
    /// What to do.
    pub text: String,
    /// Minutes to wait before the next step; 0 for none.
    pub wait: f64,
    /// Cautions to read before it, by index.
    pub cautions: Vec<usize>,
    /// Name of a drawing, where a hand needs one.
    pub drawing: Option<String>,
    /// Parts that come off here and must come back at the end.
    pub keep: Vec<String>,
    /// What may go wrong, and the procedure that leads on.
    pub otherwise: Vec<(String, FixId)>,
}

/// What doing a step takes: shared by checks and fixes.
#[derive(Debug, Clone)]
pub struct Work {
    /// Imperative name: "Mark the pulley and its shaft".
    pub name: String,
    /// Steps in order.
    pub steps: Vec<ProcedureStep>,
    /// Tools needed.
    pub tools: Vec<String>,
    /// Hands-on minutes.
    pub minutes: f64,
    /// Waiting minutes.
    pub waiting: f64,
    /// Grams of filament used.
    pub grams: f64,
    /// Money spent, in the shop's currency.
    pub money: f64,
    /// 0 none, 1 some, 2 much taking apart.
    pub dismantling: u8,
    /// 0 none, 1 some, 2 much risk of making things worse.
    pub risk: u8,
    /// Machine state needed.
    pub state: MachineState,
    /// The words the knowledge uses for that state: "cold", "unloaded".
    pub state_words: Vec<String>,
    /// Ends with a print, which leaves the machine hot, loaded and closed.
    pub prints: bool,
    /// Degrees by which the step raises the nozzle; it is not advised where that leaves the window.
    pub raises_nozzle_c: f64,
    /// Indices of cautions to read before the step.
    pub cautions: Vec<usize>,
}

/// A check: an action with outcomes.
#[derive(Debug, Clone)]
pub struct Check {
    /// The finding its outcome is.
    pub finding: FindingId,
    /// What it takes.
    pub work: Work,
    /// Findings that count nothing once this check has given an answer.
    pub supersedes: Vec<FindingId>,
    /// Outcomes after which the fault is gone and the case needs no further step.
    pub ends_case: Vec<usize>,
}

/// Easy, involved or a way round the fault.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum FixKind {
    /// Done in minutes with little to go wrong.
    Easy,
    /// Takes dismantling, parts or care.
    Involved,
    /// The fault stays, the print succeeds.
    WorkAround,
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
    /// How the cure is proven: what to print.
    pub verify: String,
    /// Hands-on minutes of the verification.
    pub verify_minutes: f64,
    /// Waiting minutes of the verification.
    pub verify_waiting: f64,
    /// Grams of the verification print.
    pub verify_grams: f64,
    /// The setting or value it changes, to be noted before and offered for putting back; empty when it changes none.
    pub changes: String,
    /// Findings it may bring on when overdone.
    pub may_bring: Vec<FindingId>,
    /// Said before a change that may void the maker's warranty.
    pub warranty: String,
    /// The school it belongs to, when practitioners differ.
    pub school: String,
    /// Conditions of the context under which the fix makes sense.
    pub needs: Vec<Condition>,
}

/// A safety caution, read before the step it belongs to.
#[derive(Debug, Clone)]
pub struct Caution {
    /// Identifier.
    pub id: String,
    /// How grave it is.
    pub level: CautionLevel,
    /// What to mind.
    pub text: String,
    /// Contexts in which it is said whatever the step.
    pub when: Vec<Condition>,
    /// Words of the step it is said before; without one it is said before the first.
    pub before: Vec<String>,
}

/// Window of a material family. Temperatures in °C, fan in per cent.
#[derive(Debug, Clone)]
pub struct Material {
    /// Identifier of the family.
    pub id: String,
    /// Nozzle window, low to high.
    pub nozzle_c: (f64, f64),
    /// Bed window.
    pub bed_c: (f64, f64),
    /// Chamber window; the low end is absent where an open machine will do.
    pub chamber_c: (f64, f64),
    /// Part fan window.
    pub fan_percent: (f64, f64),
    /// Whether it wants a closed enclosure.
    pub closed: bool,
    /// Drying: temperature and hours in words.
    pub drying: String,
}

/// One term of a stop's condition.
#[derive(Debug, Clone)]
pub enum StopTerm {
    /// A finding shows a state, with whatever confidence.
    Finding(FindingId, usize),
    /// The context holds.
    Context(Condition),
    /// A setting is at or above a limit: another setting of the case, or where that is not known a value.
    AtLeast(NumberId, Option<NumberId>, f64),
}

/// A stop condition: the machine is locked until a named person clears it.
#[derive(Debug, Clone)]
pub struct Stop {
    /// Identifier.
    pub id: String,
    /// Short name for tag and list.
    pub name: String,
    /// Why the machine must not run.
    pub why: String,
    /// Alternatives, each a list of terms that hold together.
    pub holds: Vec<Vec<StopTerm>>,
    /// Terms that lift it, any one of them.
    pub until: Vec<StopTerm>,
    /// The check that leads to the clearing, when there is one; it may be done under the stop.
    pub check: Option<CheckId>,
    /// The step that clears it.
    pub work: Work,
}

/// A look before a print starts: seconds to minutes, nothing taken apart.
#[derive(Debug, Clone)]
pub struct Precaution {
    /// Identifier.
    pub id: String,
    /// What to look at and how it should be.
    pub text: String,
    /// Minutes it takes.
    pub minutes: f64,
    /// Causes it finds out, each with the chance that it does.
    pub catches: Vec<(CauseId, f64)>,
    /// Done whatever it saves, for safety's sake.
    pub always: bool,
    /// Cautions to read before it, by index.
    pub cautions: Vec<usize>,
    /// Conditions of the context under which it makes sense.
    pub needs: Vec<Condition>,
}

/// A word of the field, for the glossary.
#[derive(Debug, Clone)]
pub struct Term {
    /// Identifier, for links.
    pub id: String,
    /// The word as the field says it.
    pub term: String,
    /// A plain phrase.
    pub plain: String,
    /// What it means, in a sentence or two.
    pub text: String,
    /// What to look at: identifiers of causes, findings, checks or fixes, as they stand.
    pub see: Vec<String>,
}

/// Words by which people tell of a finding's state.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Phrase {
    /// The finding.
    pub finding: FindingId,
    /// Identifier of the state, or of an answer that stands for several.
    pub state: String,
    /// The words.
    pub text: String,
}
