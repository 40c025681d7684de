//! Ways of going about a case, each played to its end in the same world.

use super::world::{Drawn, World};
use suspect_core::evidence::{Answer, Confidence, Evidence, Facts, Sighting, Tried};
use suspect_core::knowledge::{CauseId, CheckId, FindingId, FixId, Knowledge, TryResult};
use suspect_core::people::{Needs, Role};
use suspect_core::planning::{
    Action, Cost, MAX_FIXES, Out, Plan, Present, Workshop, check_cost, checklist, fix_cost, outline,
};
use suspect_core::ranking::{Seen, posterior};

/// No way goes on for longer than this.
const MOST_STEPS: usize = 60;

/// A way of going about it.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Strategy {
    /// The program's advice, two levels deep.
    Advice,
    /// What common advice says to the signs told, commonest cause first, one fix after the other.
    Checklist,
    /// The likeliest suspect's fix, ranked again after each; no checks.
    ProbabilityOrder,
    /// The advice one level deep.
    OneStep,
    /// Fixes in any order.
    Random,
}

/// All ways, the advice first.
pub const STRATEGIES: [Strategy; 5] = [
    Strategy::Advice,
    Strategy::Checklist,
    Strategy::ProbabilityOrder,
    Strategy::OneStep,
    Strategy::Random,
];

impl Strategy {
    /// Identifier in reports.
    pub fn name(self) -> &'static str {
        [
            "advice",
            "checklist",
            "probability-order",
            "one-step",
            "random",
        ][self as usize]
    }
}

/// What a case cost.
#[derive(Debug, Clone, Copy, Default)]
pub struct Score {
    pub minutes: f64,
    pub money: f64,
    pub steps: usize,
    pub wrong_fixes: usize,
    pub resolved: bool,
}

/// A stretch of a case as it went: hands, then a wait.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Stretch {
    /// Minutes of hands.
    pub hands: f64,
    /// Minutes of waiting.
    pub wait: f64,
    /// Minutes that were expected to the end, before it.
    pub expected: f64,
    /// Somebody without a technician's rights may do it.
    pub easy: bool,
}

pub struct Player<'a> {
    knowledge: &'a Knowledge,
    world: &'a World<'a>,
    workshop: &'a Workshop,
    case: &'a Drawn,
    pub(crate) facts: Facts,
    pub(crate) acting: Vec<CauseId>,
    pub(crate) present: Present,
    fixes: usize,
    pub(crate) score: Score,
}

impl<'a> Player<'a> {
    pub fn new(
        knowledge: &'a Knowledge,
        world: &'a World<'a>,
        workshop: &'a Workshop,
        case: &'a Drawn,
    ) -> Self {
        Self {
            knowledge,
            world,
            workshop,
            case,
            facts: case.facts.clone(),
            acting: case.acting.clone(),
            present: Present::default(),
            fixes: 0,
            score: Score::default(),
        }
    }

    /// Plays the case to its end.
    pub fn play(mut self, strategy: Strategy) -> Score {
        let list = match strategy {
            Strategy::Checklist => checklist(self.knowledge, &self.facts),
            Strategy::Random => self
                .case
                .shuffled
                .iter()
                .map(|x| FixId(*x as u16))
                .collect(),
            _ => Vec::new(),
        };
        let one_level = Workshop {
            second_level: 0,
            ..self.workshop.clone()
        };
        while self.score.steps < MOST_STEPS {
            let action = match strategy {
                Strategy::Advice => self.advised(self.workshop),
                Strategy::OneStep => self.advised(&one_level),
                Strategy::ProbabilityOrder => self.likeliest(),
                Strategy::Checklist | Strategy::Random => self.next_of(&list),
            };
            match action {
                Action::Check(check) => self.check(check),
                Action::Fix(fix) => self.fix(fix),
                Action::GiveUp | Action::ClearStop(_) => break,
            }
            if self.acting.is_empty() {
                self.score.resolved = true;
                return self.score;
            }
        }
        self.score.minutes += self.workshop.give_up;
        self.score
    }

    /// Follows the advice to the end, and tells each stretch of the way; whether it was cured.
    pub fn trail(mut self) -> (Vec<Stretch>, bool) {
        let mut trail = Vec::new();
        while self.score.steps < MOST_STEPS {
            let plan = self.plan(self.workshop);
            let expected = plan.expected_minutes;
            let Some(step) = plan.steps.first() else {
                break;
            };
            match step.action {
                Action::Check(check) => {
                    let known = self.knowledge.check(check);
                    let clock = check_cost(known, self.present, self.workshop).clock;
                    let wait = known.work.waiting;
                    trail.push(Stretch {
                        hands: (clock - wait).max(0.0),
                        wait,
                        expected,
                        easy: Needs::check(self.knowledge, check).met_by(Role::Volunteer),
                    });
                    self.check(check);
                }
                Action::Fix(fix) => {
                    trail.extend(self.stretches(fix, expected));
                    self.fix(fix);
                }
                Action::GiveUp | Action::ClearStop(_) => break,
            }
            if self.acting.is_empty() {
                return (trail, true);
            }
        }
        (trail, false)
    }

    /// A fix, and the print that proves it.
    fn stretches(&self, fix: FixId, expected: f64) -> [Stretch; 2] {
        let known = self.knowledge.fix(fix);
        let clock = fix_cost(known, self.present, self.workshop).clock;
        let (hands, waits, _) = known.proof();
        let wait = known.work.waiting;
        let own = Stretch {
            hands: (clock - hands - waits - wait).max(0.0),
            wait,
            expected,
            easy: Needs::fix(self.knowledge, fix).met_by(Role::Volunteer),
        };
        let proof = Stretch {
            hands,
            wait: waits,
            expected: (expected - own.hands - own.wait).max(0.0),
            easy: true,
        };
        [own, proof]
    }

    fn advised(&self, workshop: &Workshop) -> Action {
        let plan = self.plan(workshop);
        plan.steps.first().map_or(Action::GiveUp, |s| s.action)
    }

    fn plan(&self, workshop: &Workshop) -> Plan {
        let ranked = posterior(
            self.knowledge,
            &Evidence::of(self.knowledge, &self.facts),
            true,
        );
        // The locks are not rehearsed: how a stop is cleared is not a matter of choice.
        outline(
            self.knowledge,
            &self.facts,
            &ranked,
            workshop,
            self.present,
            &[],
        )
    }

    /// The first open fix of the likeliest suspect that has one.
    fn likeliest(&self) -> Action {
        let k = self.knowledge;
        let involved = posterior(k, &Evidence::of(k, &self.facts), true).involved();
        let mut suspects: Vec<CauseId> = k.cause_ids().filter(|c| involved[c.at()] > 0.0).collect();
        suspects.sort_by(|a, b| involved[b.at()].total_cmp(&involved[a.at()]).then(a.cmp(b)));
        let fixes: Vec<FixId> = suspects
            .iter()
            .flat_map(|c| k.cause(*c).fixes.iter().copied())
            .collect();
        self.next_of(&fixes)
    }

    /// The first fix of a list that is open; giving up where the list or the patience ends.
    fn next_of(&self, list: &[FixId]) -> Action {
        let out = Out::of(self.knowledge, &self.facts, self.workshop);
        let open = list.iter().find(|x| !out.fixes[x.at()]);
        match open {
            Some(fix) if self.fixes < MAX_FIXES => Action::Fix(*fix),
            _ => Action::GiveUp,
        }
    }

    fn pay(&mut self, cost: &Cost) {
        self.score.steps += 1;
        self.score.minutes += cost.counted;
        self.score.money += cost.money;
        self.present = cost.after;
    }

    /// What is seen of a finding, by a chance.
    pub(crate) fn seen(&self, finding: FindingId, chance: f64) -> usize {
        self.world.look(&self.acting, finding, chance)
    }

    pub(crate) fn check(&mut self, check: CheckId) {
        let known = self.knowledge.check(check);
        let finding = self.knowledge.finding(known.finding);
        self.pay(&check_cost(known, self.present, self.workshop));
        let state = match finding.also_fix {
            Some(fix) => {
                let result = self.apply(fix);
                finding
                    .state(result.id())
                    .or_else(|| finding.state("same"))
                    .unwrap_or(0)
            }
            None => self.world.look(
                &self.acting,
                known.finding,
                self.case.luck_of_checks[check.at()],
            ),
        };
        self.facts.findings.insert(
            known.finding,
            Sighting {
                answer: Answer::State(state),
                confidence: Confidence::Sure,
            },
        );
    }

    pub(crate) fn fix(&mut self, fix: FixId) {
        self.pay(&fix_cost(
            self.knowledge.fix(fix),
            self.present,
            self.workshop,
        ));
        self.fixes += 1;
        let before = self.acting.len();
        let result = self.apply(fix);
        if self.acting.len() == before {
            self.score.wrong_fixes += 1;
        }
        self.facts.tried.push(Tried::of(fix, result));
    }

    /// Applies a fix to what acts, and says how it looks. The shares of cured, better and worse are
    /// those of the tried table. Where one of two is mended and the other shows nothing of what was
    /// seen, the fault is gone for whoever looks, and the case ends.
    fn apply(&mut self, fix: FixId) -> TryResult {
        let world = self.world.knowledge();
        let luck = self.case.luck_of_fixes[fix.at()];
        let before = self.acting.clone();
        let touched = before.iter().any(|c| world.cure(fix, *c) > 0.0);
        let case = self.case;
        self.acting.retain(|c| {
            let which = usize::from(case.acting.first() != Some(c));
            luck[which] >= world.cure(fix, *c)
        });
        let mended = before.iter().find(|c| !self.acting.contains(c));
        let (cured, better) = match (mended, self.acting.first(), touched) {
            (_, None, _) => return TryResult::Cured,
            (Some(mended), Some(left), _) => {
                let evidence = Evidence::of(self.knowledge, &self.facts);
                let q = Seen::of(self.knowledge, &evidence).shown_by(world, *mended, *left);
                ((1.0 - q) * (1.0 - q), 2.0 * q * (1.0 - q))
            }
            (None, _, true) => (0.0, 0.15),
            (None, _, false) => (0.0, 0.015),
        };
        match luck[2] {
            x if x < cured => {
                self.acting.clear();
                TryResult::Cured
            }
            x if x < cured + better => TryResult::Better,
            x if x > 0.995 => TryResult::Worse,
            _ => TryResult::Same,
        }
    }
}
