//! What the links say of one suspect or one sign, for people to read: how a suspect shows itself,
//! what it is mistaken for and what tells the two apart, whom an answer speaks for.

use crate::knowledge::{CauseId, FindingId, Knowledge, Section};
use crate::ranking::decibans;

/// A suspect shows a sign when its telling state is at least this many times likelier than for the
/// average suspect, and is seen at least this often.
const SHOWS: f64 = 1.25;
const SEEN: f64 = 0.05;
/// A check is worth naming in a dossier from this ratio on.
const TELLS: f64 = 1.2;
/// Suspects named as easily mistaken.
const LOOK_ALIKES: usize = 4;
/// A look-alike explains at least this share of what the suspect's own signs weigh.
const ALIKE: f64 = 0.45;
/// An answer speaks for a suspect from this ratio on.
const SPEAKS_FOR: f64 = 1.5;

/// A finding with the state of it that speaks most for a suspect.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Telling {
    /// The finding.
    pub finding: FindingId,
    /// Its telling state.
    pub state: usize,
    /// P(state | suspect).
    pub chance: f64,
    /// The same against the average suspect.
    pub ratio: f64,
}

/// Another suspect with much the same signs.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct LookAlike {
    /// The other suspect.
    pub other: CauseId,
    /// The finding that tells the two apart best.
    pub by: FindingId,
    /// The state that speaks for this suspect rather than the other.
    pub this_state: usize,
    /// The state that speaks for the other.
    pub other_state: usize,
}

fn findings(knowledge: &Knowledge) -> impl Iterator<Item = FindingId> + use<> {
    (0..knowledge.findings.len() as u16).map(FindingId)
}

fn telling(knowledge: &Knowledge, cause: CauseId, finding: FindingId) -> Telling {
    let own = knowledge.table.states(cause, finding);
    let ratios = own
        .iter()
        .zip(knowledge.table.unlisted(finding))
        .map(|(o, u)| o / u)
        .enumerate();
    let (state, ratio) = ratios
        .max_by(|a, b| a.1.total_cmp(&b.1))
        .unwrap_or((0, 1.0));
    Telling {
        finding,
        state,
        chance: own[state],
        ratio,
    }
}

/// How a suspect shows itself without a check, most telling first.
pub fn signs(knowledge: &Knowledge, cause: CauseId) -> Vec<Telling> {
    linked(knowledge, cause, SHOWS, |section| section != Section::Check)
}

/// The checks that tell of a suspect, most telling first.
pub fn checks(knowledge: &Knowledge, cause: CauseId) -> Vec<Telling> {
    linked(knowledge, cause, TELLS, |section| section == Section::Check)
}

fn linked(
    knowledge: &Knowledge,
    cause: CauseId,
    least: f64,
    of: impl Fn(Section) -> bool,
) -> Vec<Telling> {
    let mut rows: Vec<Telling> = findings(knowledge)
        .filter(|f| knowledge.table.linked(cause, *f) && of(knowledge.finding(*f).section))
        .map(|f| telling(knowledge, cause, f))
        .filter(|t| t.ratio > least && t.chance >= SEEN)
        .collect();
    rows.sort_by(|a, b| b.ratio.total_cmp(&a.ratio));
    rows
}

/// Suspects this one is mistaken for: those that the signs it usually shows, on print and machine,
/// speak for as well.
pub fn mistaken_for(knowledge: &Knowledge, cause: CauseId) -> Vec<LookAlike> {
    let seen: Vec<Telling> = signs(knowledge, cause)
        .into_iter()
        .filter(|t| {
            matches!(
                knowledge.finding(t.finding).section,
                Section::Print | Section::Machine
            ) && t.ratio > SPEAKS_FOR
        })
        .collect();
    // Expected decibans that the suspect's own signs put on somebody.
    let weight = |other: CauseId| -> f64 {
        let on = |t: &Telling| {
            t.chance
                * decibans(
                    knowledge.table.states(other, t.finding)[t.state]
                        / knowledge.table.unlisted(t.finding)[t.state],
                )
        };
        seen.iter().map(on).sum()
    };
    let own = weight(cause);
    let consequence = |of: CauseId, root: CauseId| {
        knowledge
            .cause(of)
            .consequence_of
            .iter()
            .any(|(r, _)| *r == root)
    };
    let mut alike: Vec<(f64, CauseId)> = knowledge
        .cause_ids()
        .filter(|other| {
            *other != cause && !consequence(*other, cause) && !consequence(cause, *other)
        })
        .map(|other| (weight(other), other))
        .filter(|(w, _)| own > 0.0 && *w >= ALIKE * own)
        .collect();
    // A common suspect is the likelier mistake.
    let commonness = |c: CauseId| decibans(knowledge.cause(c).weight);
    alike.sort_by(|a, b| {
        (b.0 + commonness(b.1))
            .total_cmp(&(a.0 + commonness(a.1)))
            .then(a.1.cmp(&b.1))
    });
    alike
        .into_iter()
        .take(LOOK_ALIKES)
        .map(|(_, other)| apart(knowledge, cause, other))
        .collect()
}

/// The finding that tells two suspects apart best: the largest expected weight of evidence either
/// way.
fn apart(knowledge: &Knowledge, this: CauseId, other: CauseId) -> LookAlike {
    let rows = |f: FindingId| {
        knowledge
            .table
            .states(this, f)
            .iter()
            .zip(knowledge.table.states(other, f))
    };
    let divergence =
        |f: FindingId| -> f64 { rows(f).map(|(a, b)| (a - b) * decibans(a / b)).sum() };
    let asked = findings(knowledge).filter(|f| knowledge.finding(*f).section != Section::Number);
    let by = asked
        .max_by(|a, b| divergence(*a).total_cmp(&divergence(*b)).then(b.cmp(a)))
        .unwrap_or(FindingId(0));
    let most = |ratio: fn(f64, f64) -> f64| {
        rows(by)
            .enumerate()
            .max_by(|a, b| ratio(*a.1.0, *a.1.1).total_cmp(&ratio(*b.1.0, *b.1.1)))
            .map_or(0, |(state, _)| state)
    };
    LookAlike {
        other,
        by,
        this_state: most(|a, b| a / b),
        other_state: most(|a, b| b / a),
    }
}

/// Suspects a state speaks for, most first, with how many times likelier it is under each than
/// under the average suspect.
pub fn speaks_for(knowledge: &Knowledge, finding: FindingId, state: usize) -> Vec<(CauseId, f64)> {
    let average = knowledge.table.unlisted(finding)[state];
    let mut out: Vec<(CauseId, f64)> = knowledge
        .cause_ids()
        .filter(|c| knowledge.table.linked(*c, finding))
        .map(|c| (c, knowledge.table.states(c, finding)[state] / average))
        .filter(|(_, ratio)| *ratio >= SPEAKS_FOR)
        .collect();
    out.sort_by(|a, b| b.1.total_cmp(&a.1).then(a.0.cmp(&b.0)));
    out
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_dossier_names_the_usual_mistake_and_what_settles_it() {
        let k = Knowledge::shipped();
        let id = |c: &str| k.cause_id(c).unwrap();
        let alike = mistaken_for(&k, id("pulley-slips"));
        let belt = alike
            .iter()
            .find(|l| l.other == id("belt-loose"))
            .expect("a slack belt shows much the same");
        // Told apart by something that speaks for either.
        assert_ne!(belt.this_state, belt.other_state);
        let states = |c: CauseId| k.table.states(c, belt.by);
        assert!(
            states(id("pulley-slips"))[belt.this_state]
                > 2.0 * states(id("belt-loose"))[belt.this_state]
        );
        for c in k.cause_ids() {
            assert!(
                mistaken_for(&k, c)
                    .iter()
                    .all(|l| l.other != c && l.this_state != l.other_state),
                "{}",
                k.cause(c).id
            );
        }
    }

    #[test]
    fn a_state_names_whom_it_speaks_for() {
        let k = Knowledge::shipped();
        let mark = k.finding_id("pulley-mark").unwrap();
        let slips = k.finding(mark).state("slips").unwrap();
        assert_eq!(
            speaks_for(&k, mark, slips)[0].0,
            k.cause_id("pulley-slips").unwrap()
        );
    }
}
