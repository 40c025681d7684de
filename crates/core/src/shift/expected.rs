//! What is to be expected of a case: its next steps with hands and waits, as the planner sees them.

use super::Piece;
use crate::case::{Analysis, CaseState, What, WorkId};
use crate::evidence::{Evidence, Facts};
use crate::knowledge::{CheckId, FixId, Knowledge};
use crate::people::{Deed, Needs};
use crate::planning::{Action, Node, Plan, Workshop, course, outline};
use crate::ranking::posterior;
use time::OffsetDateTime;

/// Steps of a course that are looked at.
const DEPTH: usize = 4;
/// Minutes to say what is seen, to compare a piece, to close a case, to ask a maker.
const TELL: f64 = 5.0;
const COMPARE: f64 = 2.0;
const CLOSE: f64 = 2.0;
const ASK: f64 = 10.0;
/// Minutes that a case of which nothing is known takes beyond that.
const UNKNOWN: f64 = 60.0;
/// Of minutes nobody can name a step for, so many are hands; the others wait.
const HANDS: f64 = 0.5;
/// Fewer minutes are not spoken of.
const LEAST: f64 = 1.0;

/// What a piece of a case is.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Act {
    /// Clear a stop, by its place in the knowledge.
    ClearStop(usize),
    /// Say what is seen.
    Tell,
    /// Do a check.
    Check(CheckId),
    /// Apply a fix.
    Fix(FixId),
    /// Print and compare.
    Prove(FixId),
    /// Look at what a wait or a print came to.
    Compare,
    /// Close the case.
    Close,
    /// What may follow where it goes otherwise.
    Further,
    /// Ask the maker.
    AskMaker,
}

/// The course of a case.
#[derive(Debug, Clone, PartialEq)]
pub struct Expected {
    /// Its pieces, in order: what each is.
    pub pieces: Vec<(Act, Piece)>,
    /// Minutes until the first may begin: a wait that runs.
    pub ready: f64,
    /// A stop comes first.
    pub stop: bool,
    /// The machine is back at its end, as far as can be expected.
    pub back: bool,
}

fn piece(deed: Deed, hands: f64, wait: f64) -> Piece {
    Piece {
        hands,
        wait,
        needs: Needs::of(deed),
    }
}

/// What is to be expected of a case at a moment; nothing where nothing can be done in it: it is
/// closed, or something else locks the machine.
///
/// The likeliest way through the planner's course, four steps deep. Where other ways are longer,
/// the expected difference stands at its end.
pub fn expected(
    knowledge: &Knowledge,
    case: &CaseState,
    analysis: &Analysis,
    workshop: &Workshop,
    now: OffsetDateTime,
) -> Option<Expected> {
    let mut all = Course {
        knowledge,
        pieces: Vec::new(),
    };
    let mut back = true;
    match &analysis.next.what {
        What::Closed | What::Locked(_) => return None,
        What::ClearStop(stop) => all.stop(*stop, &case.facts, workshop, case),
        What::Tell => {
            all.add(Act::Tell, piece(Deed::Tell, TELL, 0.0));
            all.further(UNKNOWN);
        }
        What::Prove(fix) => all.prove(*fix),
        What::Close(_) => {}
        What::AskMaker => {
            all.add(Act::AskMaker, piece(Deed::Tell, ASK, 0.0));
            back = false;
        }
        What::Check(_) | What::Fix(_) => all.planned(case, analysis, workshop),
    }
    let ready = all.running(case, now);
    if back {
        all.add(Act::Close, piece(Deed::Close, CLOSE, 0.0));
    }
    Some(Expected {
        stop: matches!(analysis.next.what, What::ClearStop(_)),
        pieces: all.pieces,
        ready,
        back,
    })
}

struct Course<'a> {
    knowledge: &'a Knowledge,
    pieces: Vec<(Act, Piece)>,
}

impl Course<'_> {
    fn add(&mut self, act: Act, piece: Piece) {
        self.pieces.push((act, piece));
    }

    /// Minutes nobody can name a step for.
    fn further(&mut self, minutes: f64) {
        if minutes >= LEAST {
            let (hands, wait) = (minutes * HANDS, minutes * (1.0 - HANDS));
            self.add(Act::Further, piece(Deed::Work, hands, wait));
        }
    }

    /// A stop that is cleared, and the case after it as far as its minutes go: no step of it is
    /// named while the machine is held.
    fn stop(&mut self, stop: usize, facts: &Facts, workshop: &Workshop, case: &CaseState) {
        let work = &self.knowledge.stops[stop].work;
        let cleared = Piece {
            hands: work.minutes,
            wait: work.waiting,
            needs: Needs::stop(self.knowledge, stop),
        };
        self.add(Act::ClearStop(stop), cleared);
        let k = self.knowledge;
        let ranked = posterior(k, &Evidence::of(k, facts), true);
        let after: Plan = outline(k, facts, &ranked, workshop, case.present, &[]);
        self.further(after.expected_minutes.min(workshop.give_up));
    }

    fn prove(&mut self, fix: FixId) {
        let (hands, wait, _) = self.knowledge.fix(fix).proof();
        self.add(Act::Prove(fix), piece(Deed::Work, hands, wait));
        self.add(Act::Compare, piece(Deed::Work, COMPARE, 0.0));
    }

    fn planned(&mut self, case: &CaseState, analysis: &Analysis, workshop: &Workshop) {
        let course = course(
            self.knowledge,
            &case.facts,
            &analysis.line_up.posterior,
            workshop,
            case.present,
            &analysis.plan,
            DEPTH,
        );
        let mut at = course.first.as_ref();
        let mut named = 0.0;
        while let Some(node) = at {
            named += node.minutes;
            self.node(node);
            at = node.branches.first().and_then(|b| b.next.as_deref());
        }
        self.further(analysis.plan.expected_minutes - named);
    }

    fn node(&mut self, node: &Node) {
        match node.action {
            Action::Check(check) => {
                let wait = self.knowledge.check(check).work.waiting;
                let step = Piece {
                    hands: (node.minutes - wait).max(0.0),
                    wait,
                    needs: Needs::check(self.knowledge, check),
                };
                self.add(Act::Check(check), step);
            }
            Action::Fix(fix) => {
                let (hands, waits, _) = self.knowledge.fix(fix).proof();
                let wait = self.knowledge.fix(fix).work.waiting;
                let step = Piece {
                    hands: (node.minutes - wait - hands - waits).max(0.0),
                    wait,
                    needs: Needs::fix(self.knowledge, fix),
                };
                self.add(Act::Fix(fix), step);
                self.prove(fix);
            }
            Action::GiveUp => self.add(Act::AskMaker, piece(Deed::Tell, ASK, 0.0)),
            Action::ClearStop(_) => {}
        }
    }

    /// Minutes until a wait of the case is over. The step it belongs to is under way: its hands
    /// were given, and what is left of it is to look.
    fn running(&mut self, case: &CaseState, now: OffsetDateTime) -> f64 {
        let last = case.timers.iter().max_by_key(|t| t.until);
        let Some(timer) = last else { return 0.0 };
        let of = |act: &Act| match (act, &timer.work) {
            (Act::Prove(_), WorkId::Proof) => true,
            (Act::Check(c), WorkId::Check(id)) => self.knowledge.check_name(*c) == id,
            (Act::Fix(x), WorkId::Fix(id)) => self.knowledge.fix(*x).id == *id,
            (Act::ClearStop(s), WorkId::Stop(id)) => self.knowledge.stops[*s].id == *id,
            _ => false,
        };
        let first = self.pieces.first().is_some_and(|(act, _)| of(act));
        if first {
            let compared = self
                .pieces
                .get(1)
                .is_some_and(|(act, _)| *act == Act::Compare);
            match compared {
                true => {
                    self.pieces.remove(0);
                }
                false => {
                    let (_, piece) = &mut self.pieces[0];
                    (piece.hands, piece.wait) = (piece.hands.min(COMPARE), 0.0);
                }
            }
        }
        (timer.until - now).as_seconds_f64().max(0.0) / 60.0
    }
}
