//! The cards: each a question with answers of which one is right, made from the knowledge.

use super::readings;
use crate::{DRILL, seeded};
use rand::Rng;
use rand::seq::SliceRandom;
use suspect_core::dossier::mistaken_for;
use suspect_core::knowledge::{CauseId, Family, FindingId, Knowledge, Section, Work};

/// Answers a card offers at most.
const OFFERED: usize = 4;

/// What a card trains.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub enum Kind {
    /// Which sign is this?
    Sign,
    /// Fault, or ordinary?
    Ordinary,
    /// Which of two that are mistaken for each other?
    Apart,
    /// Which caution belongs before this step?
    Caution,
    /// Is this reading a slip, and which?
    Reading,
}

impl Kind {
    /// All of them.
    pub const ALL: [Kind; 5] = [
        Kind::Sign,
        Kind::Ordinary,
        Kind::Apart,
        Kind::Caution,
        Kind::Reading,
    ];

    /// Identifier, with which the cards of the kind begin.
    pub fn id(self) -> &'static str {
        ["sign", "ordinary", "apart", "caution", "reading"][self as usize]
    }

    /// The kind of an identifier, or of a card's.
    pub fn from_id(id: &str) -> Option<Self> {
        let word = id.split('/').next().unwrap_or_default();
        Kind::ALL.into_iter().find(|k| k.id() == word)
    }
}

/// A card laid out.
#[derive(Debug, Clone, PartialEq)]
pub struct Card {
    /// Identifier: `sign/ringing`.
    pub id: String,
    /// What it trains.
    pub kind: Kind,
    /// What is asked.
    pub question: String,
    /// The sign to be looked at, where one is drawn.
    pub picture: Option<FindingId>,
    /// Answers in the order in which they are offered: value and words.
    pub answers: Vec<(String, String)>,
    /// The value of the right one.
    pub right: String,
    /// Why it is.
    pub because: String,
    /// The suspect whose page of the handbook says more.
    pub suspect: Option<CauseId>,
}

/// Every card of a kind.
pub fn deck(k: &Knowledge, kind: Kind) -> Vec<String> {
    let named = |ids: Vec<String>| ids.into_iter().map(|id| format!("{}/{id}", kind.id()));
    let ids = match kind {
        Kind::Sign => signs(k).map(|f| k.finding(f).id.clone()).collect(),
        Kind::Ordinary => ordinary(k).map(|c| k.cause(c).id.clone()).collect(),
        Kind::Apart => apart(k),
        Kind::Caution => steps(k),
        Kind::Reading => (0..readings::MANY).map(|n| n.to_string()).collect(),
    };
    named(ids).collect()
}

/// Signs of a print that are there or not.
fn signs(k: &Knowledge) -> impl Iterator<Item = FindingId> + '_ {
    let of = |f: &FindingId| k.finding(*f).section == Section::Print && k.finding(*f).presence();
    k.finding_ids().filter(of)
}

/// Ordinary traits, and as many faults.
fn ordinary(k: &Knowledge) -> impl Iterator<Item = CauseId> + '_ {
    let normal = |c: &CauseId| k.cause(*c).family == Family::Normal;
    let many = k.cause_ids().filter(normal).count();
    let all = k.cause_ids().filter(move |c| !normal(c)).count();
    let every = (all / many.max(1)).max(1);
    let faults = k.cause_ids().filter(move |c| !normal(c)).step_by(every);
    k.cause_ids().filter(normal).chain(faults.take(many))
}

fn apart(k: &Knowledge) -> Vec<String> {
    let pairs = k.cause_ids().flat_map(|c| {
        let alike = mistaken_for(k, c).into_iter().take(1);
        alike.map(move |a| format!("{}/{}", k.cause(c).id, k.cause(a.other).id))
    });
    pairs.collect()
}

/// Work with an identifier: `check/pulley-mark`.
fn works(k: &Knowledge) -> impl Iterator<Item = (String, &Work)> {
    let checks = k.checks.iter();
    let checks = checks.map(|c| (format!("check/{}", k.finding(c.finding).id), &c.work));
    let fixes = k.fixes.iter().map(|x| (format!("fix/{}", x.id), &x.work));
    checks.chain(fixes)
}

/// Steps with a caution of their own: the first such step of a procedure.
fn steps(k: &Knowledge) -> Vec<String> {
    let first = |work: &Work| work.steps.iter().position(|s| !s.cautions.is_empty());
    works(k)
        .filter_map(|(id, work)| Some(format!("{id}/{}", first(work)?)))
        .collect()
}

/// Lays a card out; the order of its answers, and which of two is shown, go by the turn: the same
/// turn is the same card. Nothing where there is no such card.
pub fn lay(k: &Knowledge, id: &str, turn: u32) -> Option<Card> {
    let kind = Kind::from_id(id)?;
    let (_, rest) = id.split_once('/')?;
    let seed = id.bytes().fold(u64::from(turn), |sum, b| {
        sum.wrapping_mul(31).wrapping_add(u64::from(b))
    });
    let rng = &mut seeded(seed, DRILL, turn as usize);
    let mut card = match kind {
        Kind::Sign => sign(k, rest, rng),
        Kind::Ordinary => fault_or_not(k, rest),
        Kind::Apart => one_of_two(k, rest, turn),
        Kind::Caution => before_a_step(k, rest, rng),
        Kind::Reading => readings::card(rest.parse().ok()?),
    }?;
    if matches!(kind, Kind::Sign | Kind::Caution) {
        card.answers.shuffle(rng);
    }
    card.id = id.to_string();
    Some(card)
}

/// A card of a kind, not yet named.
pub(super) fn blank(kind: Kind, question: String, right: &str) -> Card {
    Card {
        id: String::new(),
        kind,
        question,
        picture: None,
        answers: Vec::new(),
        right: right.to_string(),
        because: String::new(),
        suspect: None,
    }
}

fn sign(k: &Knowledge, id: &str, rng: &mut impl Rng) -> Option<Card> {
    let f = k.finding_id(id)?;
    let own = k.finding(f);
    let words = |f: FindingId| {
        let finding = k.finding(f);
        (finding.id.clone(), finding.plain.clone())
    };
    // Those at the same place are the ones it is mistaken for.
    let mut others: Vec<FindingId> = signs(k).filter(|o| *o != f).collect();
    others.shuffle(rng);
    others.sort_by_key(|o| k.finding(*o).region != own.region);
    others.truncate(OFFERED - 1);
    let mut card = blank(Kind::Sign, "Which sign is this?".into(), &own.id);
    card.picture = Some(f);
    card.answers = std::iter::once(f).chain(others).map(words).collect();
    card.because = match own.term.is_empty() {
        true => own.plain.clone(),
        false => format!("{}: {}", own.term, own.plain),
    };
    Some(card)
}

fn fault_or_not(k: &Knowledge, id: &str) -> Option<Card> {
    let c = k.cause_id(id)?;
    let cause = k.cause(c);
    let right = match cause.family {
        Family::Normal => "ordinary",
        _ => "fault",
    };
    let question = format!("“{}.” Is that a fault?", cause.plain);
    let mut card = blank(Kind::Ordinary, question, right);
    card.answers = [
        ("fault", "A fault: look for it"),
        ("ordinary", "Ordinary: how the process looks"),
    ]
    .map(|(v, w)| (v.to_string(), w.to_string()))
    .to_vec();
    card.because = cause.mechanism.clone();
    card.suspect = Some(c);
    Some(card)
}

fn one_of_two(k: &Knowledge, rest: &str, turn: u32) -> Option<Card> {
    let (this, other) = rest.split_once('/')?;
    let (this, other) = (k.cause_id(this)?, k.cause_id(other)?);
    let alike = mistaken_for(k, this)
        .into_iter()
        .find(|a| a.other == other)?;
    let finding = k.finding(alike.by);
    let (who, state) = match turn.is_multiple_of(2) {
        true => (this, alike.this_state),
        false => (other, alike.other_state),
    };
    let seen = &finding.states[state].phrase;
    let asked = match finding.check {
        Some(check) => k.check(check).work.name.clone(),
        None => finding.question.clone(),
    };
    let question = format!("One of these two it is. {asked} — what is found: {seen}. Who?");
    let mut card = blank(Kind::Apart, question, &k.cause(who).id);
    let mut two = [this, other];
    two.sort();
    card.answers = two
        .map(|c| (k.cause(c).id.clone(), k.cause(c).name.clone()))
        .to_vec();
    card.because = format!(
        "That speaks for {}: {}",
        k.cause(who).name.to_lowercase(),
        k.cause(who).mechanism
    );
    card.suspect = Some(who);
    Some(card)
}

fn before_a_step(k: &Knowledge, rest: &str, rng: &mut impl Rng) -> Option<Card> {
    let (id, at) = rest.rsplit_once('/')?;
    let (_, work) = works(k).find(|(known, _)| known == id)?;
    let step = work.steps.get(at.parse::<usize>().ok()?)?;
    let own = *step.cautions.first()?;
    let mut others: Vec<usize> = (0..k.cautions.len())
        .filter(|c| !step.cautions.contains(c) && !work.cautions.contains(c))
        .collect();
    others.shuffle(rng);
    others.truncate(OFFERED - 1);
    let question = format!(
        "{}. The next step: “{}” What must be minded before it?",
        work.name, step.text
    );
    let mut card = blank(Kind::Caution, question, &k.cautions[own].id);
    let words = |c: usize| (k.cautions[c].id.clone(), k.cautions[c].text.clone());
    card.answers = std::iter::once(own).chain(others).map(words).collect();
    card.because = k.cautions[own].text.clone();
    Some(card)
}
