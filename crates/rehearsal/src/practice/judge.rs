//! What each step cost: against the advice at that moment, and over all against the advice and the
//! checklist with the same luck.

use super::case::PracticeCase;
use super::play::{Act, Answered, Desk, Play};
use crate::player::{Player, Strategy};
use serde::{Deserialize, Serialize};
use suspect_core::evidence::Evidence;
use suspect_core::knowledge::{CauseId, Family, Knowledge};
use suspect_core::planning::{Action, outline, worth_of};
use suspect_core::ranking::posterior;
use suspect_core::safety;

/// Suspects named beside a step.
const NAMED: usize = 3;

/// A step, judged when it was done.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Judged {
    /// What the advice would have done: `check/x`, `fix/x`, `stop`, `give-up`.
    pub advised: String,
    /// Expected minutes that the choice cost against that; 0 for a question.
    pub cost: f64,
    /// Who led then, with which chance, the likeliest first.
    pub leaders: Vec<(String, f64)>,
}

/// What a case came to.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Result {
    /// Counted minutes paid.
    pub minutes: f64,
    /// Money paid.
    pub money: f64,
    /// Fixes that cured nothing.
    pub wrong_fixes: usize,
    /// Instruments read wrongly.
    pub misread: usize,
    /// What the advice would have paid, with the same luck.
    pub advice: Paid,
    /// And the checklist.
    pub checklist: Paid,
}

/// What a known way pays for a case.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Paid {
    /// Counted minutes.
    pub minutes: f64,
    /// Money.
    pub money: f64,
    /// Fixes that cure nothing.
    pub wrong_fixes: usize,
}

impl Result {
    /// Minutes above the advice; 0 is as good as it, below 0 better.
    pub fn score(&self) -> f64 {
        self.minutes - self.advice.minutes
    }
}

/// What a play came to so far.
pub fn result(desk: &Desk<'_>, play: &Play<'_>) -> Result {
    let (minutes, money, wrong_fixes) = play.spent();
    Result {
        minutes,
        money,
        wrong_fixes,
        misread: play.misread,
        advice: of_way(desk, Strategy::Advice),
        checklist: of_way(desk, Strategy::Checklist),
    }
}

/// An action as reports name it.
pub fn action_id(k: &Knowledge, action: Action) -> String {
    match action {
        Action::Check(check) => format!("check/{}", k.check_name(check)),
        Action::Fix(fix) => format!("fix/{}", k.fix(fix).id),
        Action::ClearStop(_) => "stop".into(),
        Action::GiveUp => "give-up".into(),
    }
}

/// Does something: what came of it, and how it is judged where it changed anything or ended the
/// case. What was known or done before, or is not there, is no step.
pub fn step(desk: &Desk<'_>, play: &mut Play<'_>, act: &Act) -> (Answered, Option<Judged>) {
    let stands = |p: &Play<'_>| (p.facts().clone(), p.spent(), p.waits.is_some());
    let before = stands(play);
    let judged = judge(desk, play, act);
    let answered = play.act(act);
    let said = matches!(act, Act::Believe(_));
    let new = said || before != stands(play) || play.end.is_some();
    (answered, new.then_some(judged))
}

/// Judges a step before it is done.
pub fn judge(desk: &Desk<'_>, play: &Play<'_>, act: &Act) -> Judged {
    let (k, workshop, facts) = (desk.knowledge, desk.workshop, play.facts());
    let ranked = posterior(k, &Evidence::of(k, facts), true);
    let involved = ranked.involved();
    let leaders = leaders(k, &involved);
    if play.held().is_some() {
        let harm = !matches!(
            act,
            Act::Stop | Act::Ask(_) | Act::Believe(_) | Act::Read(_)
        );
        return Judged {
            advised: "stop".into(),
            cost: if harm { workshop.give_up } else { 0.0 },
            leaders,
        };
    }
    let plan = outline(k, facts, &ranked, workshop, play.present(), &[]);
    let first = plan.steps.first();
    let advised = first.map_or(Action::GiveUp, |s| s.action);
    let best = first.map_or(workshop.give_up, |s| s.value);
    let value = |a: Action| {
        let planned = plan.steps.iter().find(|s| s.action == a).map(|s| s.value);
        planned.unwrap_or_else(|| worth_of(k, facts, &ranked, workshop, play.present(), a))
    };
    let chosen = match act {
        Act::Check(id, _) => k.check_id(id).map(|c| value(Action::Check(c))),
        Act::Fix(id, _) => k.fix_id(id).map(|x| value(Action::Fix(x))),
        Act::GiveUp => Some(workshop.give_up),
        Act::Ordinary => {
            let normal = k
                .cause_ids()
                .filter(|c| k.cause(*c).family == Family::Normal);
            let sure: f64 = normal.map(|c| involved[c.at()]).sum();
            Some((1.0 - sure.min(1.0)) * workshop.give_up)
        }
        Act::Ask(_) | Act::Read(_) | Act::Believe(_) | Act::Stop => None,
    };
    Judged {
        advised: action_id(k, advised),
        cost: chosen.map_or(0.0, |v| (v - best).max(0.0)),
        leaders,
    }
}

fn leaders(k: &Knowledge, involved: &[f64]) -> Vec<(String, f64)> {
    let mut all: Vec<CauseId> = k.cause_ids().collect();
    all.sort_by(|a, b| involved[b.at()].total_cmp(&involved[a.at()]).then(a.cmp(b)));
    let named = all.iter().take(NAMED);
    named
        .map(|c| (k.cause(*c).id.clone(), involved[c.at()]))
        .collect()
}

/// What a known way pays with the same luck. The advice clears a stop; whoever goes by a list does
/// not see it, and harms.
pub(super) fn of_way(desk: &Desk<'_>, way: Strategy) -> Paid {
    let PracticeCase { told, .. } = desk.case;
    let stop = safety::stops(desk.knowledge, told).first().copied();
    let ended = |minutes: f64| Paid {
        minutes,
        money: 0.0,
        wrong_fixes: 0,
    };
    match (stop, way) {
        (Some(stop), Strategy::Advice) => ended(desk.knowledge.stops[stop].work.minutes),
        (Some(_), _) => ended(desk.workshop.give_up),
        (None, way) => {
            let player = Player::new(desk.knowledge, &desk.world, desk.workshop, desk.drawn());
            let score = player.play(way);
            Paid {
                minutes: score.minutes,
                money: score.money,
                wrong_fixes: score.wrong_fixes,
            }
        }
    }
}
