//! A case as it is played: each question, check and fix has its answer, always the same.

use super::case::{Luck, Past, PracticeCase, sighting};
use super::reading::{Reading, reading};
use crate::player::Player;
use crate::world::{Drawn, World};
use serde::{Deserialize, Serialize};
use suspect_core::evidence::Facts;
use suspect_core::knowledge::{
    CauseId, CheckId, Family, FindingId, FixId, Knowledge, Stands, TryResult, Work,
};
use suspect_core::planning::{Action, Present, Workshop};
use suspect_core::safety;

/// Minutes a question takes.
pub(super) const QUESTION: f64 = 0.3;

/// Something a trainee does.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Act {
    /// Asks whether something is seen.
    Ask(String),
    /// Does a check, with the machine as it stands or switched off and unplugged before.
    Check(String, Begun),
    /// Reads the instrument of the check just done.
    Read(f64),
    /// Applies a fix.
    Fix(String, Begun),
    /// Says what one believes: shares of the suspects asked for, and of somebody else.
    Believe(Vec<f64>),
    /// Stops the machine and does what clears the danger.
    Stop,
    /// Says that nothing is wrong: that is how the process looks.
    Ordinary,
    /// Gives up.
    GiveUp,
}

/// How the machine stands when work on it begins.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Begun {
    /// As it stands: plugged in, hot where it just printed.
    AsItStands,
    /// Switched off, the plug out.
    Off,
}

/// What came of it.
#[derive(Debug, Clone, PartialEq)]
pub enum Answered {
    /// A sign or a check is in this state.
    State(FindingId, usize),
    /// An instrument shows something: it is to be read.
    Instrument(CheckId),
    /// The instrument was read, rightly or not.
    Read(Reading, bool),
    /// A fix did that.
    Fixed(FixId, TryResult),
    /// What one believes is kept.
    Believed,
    /// The case ended.
    Ended,
    /// It was known or done already: nothing is paid for.
    Again,
    /// There is no such thing, or nothing more may be done.
    No(&'static str),
}

/// How a case ended.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum End {
    /// The fault is gone, or there was none and that was said.
    Solved,
    /// The danger was seen and the machine made safe.
    MadeSafe,
    /// Something was heated, moved or taken in hand on a machine that a stop holds: which, by its
    /// place in the knowledge.
    Harm(usize),
    /// Hands in a machine under power, at work that wants it unplugged.
    Hands(Action),
    /// The case was left with a machine that a stop holds.
    Overlooked(usize),
    /// It was called ordinary, and was not.
    Mistaken,
    /// Given up.
    GaveUp,
}

impl End {
    /// Whether it was solved.
    pub fn passed(self) -> bool {
        matches!(self, End::Solved | End::MadeSafe)
    }

    /// Whether somebody would have been hurt or something burnt.
    pub fn unsafe_end(self) -> bool {
        matches!(self, End::Harm(_) | End::Hands(_) | End::Overlooked(_))
    }

    /// Identifier: `solved`, `made-safe`.
    pub fn id(self) -> &'static str {
        match self {
            End::Solved => "solved",
            End::MadeSafe => "made-safe",
            End::Harm(_) => "harm",
            End::Hands(_) => "hands",
            End::Overlooked(_) => "overlooked",
            End::Mistaken => "mistaken",
            End::GaveUp => "gave-up",
        }
    }
}

/// A case as it stands open on a desk: world, luck and settings of a play.
pub struct Desk<'a> {
    pub(super) knowledge: &'a Knowledge,
    pub(super) workshop: &'a Workshop,
    pub(super) case: &'a PracticeCase,
    pub(super) world: World<'a>,
    pub(super) luck: Luck,
}

impl<'a> Desk<'a> {
    /// Opens a case.
    pub fn new(knowledge: &'a Knowledge, workshop: &'a Workshop, case: &'a PracticeCase) -> Self {
        let world = World::new(knowledge, case.seed, case.perturb);
        Desk {
            luck: case.luck(&world),
            knowledge,
            workshop,
            case,
            world,
        }
    }

    pub(super) fn drawn(&self) -> &Drawn {
        &self.luck.drawn
    }
}

/// A case under way.
pub struct Play<'a> {
    desk: &'a Desk<'a>,
    pub(super) player: Player<'a>,
    /// An instrument that waits to be read: its check, what it finds, what it shows.
    pub waits: Option<(CheckId, usize, Reading)>,
    /// Readings that were read wrongly.
    pub misread: usize,
    /// How it ended.
    pub end: Option<End>,
}

impl<'a> Play<'a> {
    /// A case at its beginning.
    pub fn new(desk: &'a Desk<'a>) -> Self {
        Self {
            player: Player::new(desk.knowledge, &desk.world, desk.workshop, desk.drawn()),
            desk,
            waits: None,
            misread: 0,
            end: None,
        }
    }

    /// A case after what was done in it.
    pub fn after<'b>(desk: &'a Desk<'a>, acts: impl IntoIterator<Item = &'b Act>) -> Self {
        let mut play = Self::new(desk);
        for act in acts {
            play.act(act);
        }
        play
    }

    /// What is known by now.
    pub fn facts(&self) -> &Facts {
        &self.player.facts
    }

    /// State of the machine.
    pub fn present(&self) -> Present {
        self.player.present
    }

    /// Minutes and money paid, fixes that cured nothing.
    pub fn spent(&self) -> (f64, f64, usize) {
        let score = &self.player.score;
        (score.minutes, score.money, score.wrong_fixes)
    }

    /// What still acts: for whoever judges.
    pub fn acting(&self) -> &[CauseId] {
        &self.player.acting
    }

    /// The stop that holds, by its place in the knowledge.
    pub fn held(&self) -> Option<usize> {
        safety::stops(self.desk.knowledge, self.facts())
            .first()
            .copied()
    }

    /// Does something. Nothing happens after the end, and what was done already happens once.
    pub fn act(&mut self, act: &Act) -> Answered {
        if self.end.is_some() {
            return Answered::No("the case is over");
        }
        let k = self.desk.knowledge;
        match act {
            Act::Ask(id) => self.ask(id),
            Act::Check(id, begun) => match k.check_id(id) {
                Some(check) => self.check(check, *begun),
                None => Answered::No("there is no such check"),
            },
            Act::Read(value) => self.read(*value),
            Act::Fix(id, begun) => match k.fix_id(id) {
                Some(fix) => self.fix(fix, *begun),
                None => Answered::No("there is no such fix"),
            },
            Act::Believe(_) => Answered::Believed,
            Act::Stop => match self.held() {
                Some(stop) => {
                    self.player.score.minutes += k.stops[stop].work.minutes;
                    self.ends(End::MadeSafe)
                }
                None => Answered::No("nothing that is known calls for a stop"),
            },
            Act::Ordinary => {
                let normal = |c: &CauseId| k.cause(*c).family == Family::Normal;
                match (self.held(), self.acting().iter().all(normal)) {
                    (Some(stop), _) => self.lost(End::Overlooked(stop)),
                    (None, true) => self.ends(End::Solved),
                    (None, false) => self.lost(End::Mistaken),
                }
            }
            Act::GiveUp => match self.held() {
                Some(stop) => self.lost(End::Overlooked(stop)),
                None => self.lost(End::GaveUp),
            },
        }
    }

    fn ends(&mut self, end: End) -> Answered {
        self.end = Some(end);
        Answered::Ended
    }

    /// Ends without a cure: what giving up costs is paid.
    fn lost(&mut self, end: End) -> Answered {
        self.player.score.minutes += self.desk.workshop.give_up;
        self.ends(end)
    }

    /// The state in which something is known.
    fn known(&self, f: FindingId) -> Option<usize> {
        self.facts().findings.get(&f)?.answer.state()
    }

    /// The state in which something was really found, where the case was.
    fn found(&self, f: FindingId) -> Option<usize> {
        let Past { found, .. } = self.desk.case.past.as_ref()?;
        let finding = self.desk.knowledge.finding(f);
        let unmended = self.acting().len() == self.desk.case.acting.len();
        finding.state(found.get(&finding.id).filter(|_| unmended)?)
    }

    fn ask(&mut self, id: &str) -> Answered {
        let k = self.desk.knowledge;
        let Some(f) = k.finding_id(id) else {
            return Answered::No("there is no such sign");
        };
        if k.finding(f).check.is_some() {
            return Answered::No("that takes a check");
        }
        // What was told wrong is seen for what it is by whoever looks.
        let told_wrong = self.desk.case.wrong == Some(f)
            && self.facts().findings.get(&f) == self.desk.case.told.findings.get(&f);
        if let Some(state) = self.known(f).filter(|_| !told_wrong) {
            return Answered::State(f, state);
        }
        let luck = self.desk.luck.answers[f.at()];
        let state = match self.found(f) {
            Some(state) => state,
            None => self.player.seen(f, luck),
        };
        self.player.score.minutes += QUESTION;
        self.player.facts.findings.insert(f, sighting(state, false));
        Answered::State(f, state)
    }

    /// What would hurt ends the case: heat, motion and hands on a machine that a stop holds; hands
    /// in a machine under power at work that wants it unplugged.
    fn harm(&mut self, action: Action, begun: Begun) -> bool {
        let Some(work) = action.work(self.desk.knowledge) else {
            return false;
        };
        let runs = work.heats || work.prints || matches!(action, Action::Fix(_));
        let held = self.held().filter(|_| runs);
        let end = match held {
            Some(stop) => Some(End::Harm(stop)),
            None => (wants_off(work) && begun == Begun::AsItStands).then_some(End::Hands(action)),
        };
        if let Some(end) = end {
            self.lost(end);
        }
        end.is_some()
    }

    fn check(&mut self, check: CheckId, begun: Begun) -> Answered {
        let k = self.desk.knowledge;
        let f = k.check(check).finding;
        if let Some((waiting, ..)) = self.waits {
            return match waiting == check {
                true => Answered::Instrument(check),
                false => Answered::No("an instrument waits to be read first"),
            };
        }
        if let Some(state) = self.known(f) {
            return Answered::State(f, state);
        }
        if self.harm(Action::Check(check), begun) {
            return Answered::Ended;
        }
        let found = self.found(f).filter(|_| k.finding(f).also_fix.is_none());
        self.player.check(check);
        if let Some(state) = found {
            self.player.facts.findings.insert(f, sighting(state, false));
        }
        self.over();
        let state = self.known(f).unwrap_or(0);
        let chance = self.desk.luck.answers[f.at()];
        match reading(k, &self.desk.case.told, check, (state, chance)) {
            Some(shown) => {
                // Nobody knows what it says before it is read.
                self.player.facts.findings.remove(&f);
                self.waits = Some((check, state, shown));
                Answered::Instrument(check)
            }
            None => Answered::State(f, state),
        }
    }

    fn read(&mut self, value: f64) -> Answered {
        let Some((check, state, shown)) = self.waits.take() else {
            return Answered::No("no instrument waits to be read");
        };
        let f = self.desk.knowledge.check(check).finding;
        let right = shown.is(value);
        self.misread += usize::from(!right);
        self.player.facts.findings.insert(f, sighting(state, false));
        Answered::Read(shown, right)
    }

    fn fix(&mut self, fix: FixId, begun: Begun) -> Answered {
        if self.waits.is_some() {
            return Answered::No("an instrument waits to be read first");
        }
        if self.facts().tried.iter().any(|t| t.tries(fix)) {
            return Answered::Again;
        }
        if self.harm(Action::Fix(fix), begun) {
            return Answered::Ended;
        }
        self.player.fix(fix);
        self.over();
        match self.facts().tried.last() {
            Some(tried) => Answered::Fixed(fix, tried.result),
            None => Answered::Again,
        }
    }

    fn over(&mut self) {
        if self.player.acting.is_empty() {
            self.end = Some(End::Solved);
        }
    }
}

/// Whether work wants the machine switched off or unplugged before it begins.
pub fn wants_off(work: &Work) -> bool {
    let off = |s: &Stands| matches!(s, Stands::Off | Stands::Unplugged);
    work.stands.iter().any(off)
}
