//! Drawing a case by its seed: the same for everyone.

use super::case::{ASKED, Level, PracticeCase, in_vain, sighting};
use crate::world::World;
use crate::{PRACTICE, pick_of, seeded};
use rand::seq::SliceRandom;
use rand::{Rng, RngExt};
use suspect_core::evidence::{Evidence, Facts};
use suspect_core::knowledge::{CauseId, Family, FindingId, FixId, Knowledge, Section};
use suspect_core::learning::Learned;
use suspect_core::planning::checklist;
use suspect_core::profile::{Context, FIELDS};
use suspect_core::ranking::posterior;
use suspect_core::safety;

/// What is wanted of a case.
#[derive(Debug, Clone, Copy)]
pub struct Wanted<'a> {
    /// The same seed is the same case for everyone.
    pub seed: u64,
    /// What is to be hard about it.
    pub level: Level,
    /// Only culprits of this family; not minded where nothing is wrong.
    pub family: Option<Family>,
    /// The machine it stands on; any where none is given.
    pub machine: Option<&'a Context>,
    /// Culprits as often as a floor meets them.
    pub rates: Option<&'a Learned>,
    /// Standard deviation, in log-odds, by which the world differs from the knowledge.
    pub perturb: f64,
}

impl Wanted<'_> {
    /// Of a seed and level, and nothing else asked.
    pub fn of(seed: u64, level: Level) -> Self {
        Self {
            seed,
            level,
            family: None,
            machine: None,
            rates: None,
            perturb: 0.0,
        }
    }
}

/// The seed of a text of digits of any length; nothing where it is no whole number.
pub fn seed_of(text: &str) -> Option<u64> {
    let text = text.trim();
    let digits = !text.is_empty() && text.bytes().all(|b| b.is_ascii_digit());
    // Longer ones than a machine counts go round: they are seeds, too.
    let fold = |sum: u64, b: u8| sum.wrapping_mul(10).wrapping_add(u64::from(b - b'0'));
    digits.then(|| text.bytes().fold(0, fold))
}

/// Levels of a case whose level is not known before: most are as a floor's are, not all.
const SURPRISES: [Level; 10] = [
    Level::Clear,
    Level::Clear,
    Level::Messy,
    Level::Messy,
    Level::Messy,
    Level::PopularWrong,
    Level::PopularWrong,
    Level::TwoCauses,
    Level::NothingWrong,
    Level::Dangerous,
];

/// The level of a seed, for whoever does not want to know it before.
pub fn any_level(seed: u64) -> Level {
    SURPRISES[seeded(seed, PRACTICE, usize::MAX).random_range(0..SURPRISES.len())]
}

/// No case of a level could be drawn.
#[derive(Debug, Clone, Copy, PartialEq, Eq, thiserror::Error)]
#[error(
    "no case of level `{}` was found with this machine and family: choose another of them",
    .0.id()
)]
pub struct NoCase(pub Level);

/// Cases drawn and looked at until one is of the level.
const TRIES: usize = 4_000;
/// Of a messy telling so many odd signs are left.
const LEFT: f64 = 0.6;
/// Who acts leads a clear case with so much.
const CLEAR: f64 = 0.5;
/// Signs that a member tells at most.
const MOST_SAID: usize = 6;
/// How often something was tried in vain before somebody asks, where a case is not clear.
const TRIED: f64 = 0.6;

/// Draws a case. The same wishes and knowledge give the same case.
///
/// # Errors
/// [`NoCase`] where the knowledge holds none of that level.
pub fn draw(knowledge: &Knowledge, wanted: &Wanted<'_>) -> Result<PracticeCase, NoCase> {
    let level = wanted.level;
    let world = World::new(knowledge, wanted.seed, wanted.perturb);
    for n in 0..TRIES {
        let rng = &mut seeded(wanted.seed, PRACTICE, n * 8 + level as usize);
        let Some((acting, mut told)) = of_level(&world, wanted, rng) else {
            continue;
        };
        let wrong = match level {
            Level::Messy => match muddle(knowledge, &mut told, rng) {
                Some(sign) => Some(sign),
                None => continue,
            },
            _ => None,
        };
        let unclear = !matches!(level, Level::Clear | Level::Dangerous);
        if unclear && rng.random::<f64>() < TRIED {
            told.tried = in_vain(&popular(&world, &told, &acting));
        }
        if let Some(asked) = fits(knowledge, level, &acting, &told) {
            return Ok(PracticeCase {
                seed: wanted.seed,
                level,
                perturb: wanted.perturb,
                words: said(knowledge, &told, rng),
                acting,
                told,
                wrong,
                asked,
                past: None,
                surprise: false,
            });
        }
    }
    Err(NoCase(level))
}

/// Somebody who could be the culprit of such a case, with what is seen of them.
fn of_level(
    world: &World<'_>,
    wanted: &Wanted<'_>,
    rng: &mut impl Rng,
) -> Option<(Vec<CauseId>, Facts)> {
    let k = world.knowledge();
    let mut facts = Facts::default();
    for field in FIELDS {
        let value = &field.values[rng.random_range(0..field.values.len())];
        let value = match wanted.machine {
            Some(machine) if field.id != "material" => machine.named(field.id),
            _ => Some(value.id),
        };
        if let Some(value) = value {
            // Field and value are of the table itself.
            let _ = facts.context.set(field.id, value);
        }
    }
    let nothing_wrong = wanted.level == Level::NothingWrong;
    let weight = |c: CauseId| {
        let family = k.cause(c).family;
        let may = match nothing_wrong {
            true => family == Family::Normal,
            false => family != Family::Normal && wanted.family.is_none_or(|f| f == family),
        };
        let met = wanted.rates.map_or(1.0, |learned| learned.factor(c));
        if may {
            k.weight(c, &facts.context) * met
        } else {
            0.0
        }
    };
    let weights: Vec<f64> = k.cause_ids().map(weight).collect();
    if weights.iter().sum::<f64>() <= 0.0 {
        return None;
    }
    let cause = |rng: &mut _| CauseId(pick_of(&weights, rng) as u16);
    let first = cause(rng);
    let mut acting = vec![first];
    if wanted.level == Level::TwoCauses {
        let second = cause(rng);
        let apart = |g: &String| k.cause(second).exclusive.contains(g);
        if second == first || k.cause(first).exclusive.iter().any(apart) {
            return None;
        }
        acting.push(second);
    }
    let odd = world.tell(&acting, &mut facts, rng);
    odd.then_some((acting, facts))
}

/// Whether what is told makes it a case of its level; then of whom beliefs are asked: the likeliest
/// by what is told, in the order of the knowledge.
fn fits(k: &Knowledge, level: Level, acting: &[CauseId], told: &Facts) -> Option<Vec<CauseId>> {
    let held = !safety::stops(k, told).is_empty();
    if held != (level == Level::Dangerous) {
        return None;
    }
    let (asked, involved) = likeliest(k, told);
    let (lead, truth) = (*asked.first()?, acting[0]);
    let is = match level {
        Level::Clear => lead == truth && involved[truth.at()] >= CLEAR,
        Level::PopularWrong => lead != truth && k.cause(lead).weight >= k.cause(truth).weight,
        _ => true,
    };
    is.then(|| in_order(asked))
}

/// The few likeliest by what is told, the likeliest first, and what each of all has.
pub(super) fn likeliest(k: &Knowledge, told: &Facts) -> (Vec<CauseId>, Vec<f64>) {
    let involved = posterior(k, &Evidence::of(k, told), true).involved();
    let mut all: Vec<CauseId> = k.cause_ids().collect();
    all.sort_by(|a, b| involved[b.at()].total_cmp(&involved[a.at()]).then(a.cmp(b)));
    all.truncate(ASKED);
    (all, involved)
}

/// An order that says nothing of who is likelier.
pub(super) fn in_order(mut causes: Vec<CauseId>) -> Vec<CauseId> {
    causes.sort();
    causes
}

/// What common advice says first to what is told, where it mends nothing here.
fn popular(world: &World<'_>, told: &Facts, acting: &[CauseId]) -> Vec<FixId> {
    let k = world.knowledge();
    let mends = |x: &FixId| acting.iter().any(|c| k.cure(*x, *c) > 0.0);
    let first = checklist(k, told).into_iter().find(|x| !mends(x));
    first.into_iter().collect()
}

/// Leaves out part of what is told, and turns one sign over; which one.
fn muddle(k: &Knowledge, facts: &mut Facts, rng: &mut impl Rng) -> Option<FindingId> {
    facts
        .findings
        .retain(|f, _| k.finding(*f).section == Section::History || rng.random::<f64>() < LEFT);
    let mut signs: Vec<FindingId> = facts.findings.keys().copied().collect();
    signs.retain(|f| k.finding(*f).presence());
    signs.shuffle(rng);
    let chosen = *signs.first()?;
    let state = facts.findings.get(&chosen)?.answer.state()?;
    facts.findings.insert(chosen, sighting(1 - state, true));
    Some(chosen)
}

/// What a member says: the odd signs, in plain phrases.
pub(super) fn said(k: &Knowledge, facts: &Facts, rng: &mut impl Rng) -> Vec<String> {
    let mut lines = Vec::new();
    for (f, sighting) in &facts.findings {
        let Some(state) = sighting.answer.state() else {
            continue;
        };
        let finding = k.finding(*f);
        if finding.is_sound(state) {
            continue;
        }
        let id = &finding.states[state].id;
        let ways: Vec<&str> = k
            .phrases
            .iter()
            .filter(|p| p.finding == *f && p.state == *id)
            .map(|p| p.text.as_str())
            .collect();
        lines.push(match ways.is_empty() {
            true => finding.states[state].phrase.clone(),
            false => ways[rng.random_range(0..ways.len())].to_string(),
        });
    }
    lines.truncate(MOST_SAID);
    lines
}
