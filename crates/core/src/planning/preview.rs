//! What the outcomes of a check, or the answers to a question, would do to the line-up.

use crate::evidence::{Answer, Confidence, Evidence, Facts, Item, Sighting};
use crate::knowledge::{CauseId, CheckId, FindingId, Knowledge, MOST_STATES};
use crate::ranking::{Column, Hypothesis, LineUp, Seen, pair_states};

/// What an outcome would do to the line-up: a full re-rank.
#[derive(Debug, Clone)]
pub struct Preview {
    /// State of the check's finding.
    pub state: usize,
    /// How likely the outcome is.
    pub probability: f64,
    /// Who would lead then.
    pub leader: CauseId,
    /// The leader's probability then.
    pub leader_probability: f64,
}

/// P(state | hypothesis) per state, over some hypotheses; ungrouped. Outcomes that what was `seen`
/// rules out have none: the others share it.
pub fn state_likelihoods(
    knowledge: &Knowledge,
    seen: &Seen,
    hypotheses: impl Iterator<Item = Hypothesis>,
    finding: FindingId,
) -> Vec<Vec<f64>> {
    let states = knowledge.finding(finding).states.len();
    let mut columns = vec![Vec::with_capacity(hypotheses.size_hint().0); states];
    let open: Vec<f64> = (0..states)
        .map(|s| f64::from(u8::from(!seen.rules_out(knowledge, finding, s))))
        .collect();
    let all_open = open.iter().all(|o| *o > 0.0) || open.iter().all(|o| *o == 0.0);
    let mut pair = [0.0; MOST_STATES];
    for h in hypotheses {
        let row: &[f64] = match h {
            Hypothesis::Unlisted => knowledge.table.unlisted(finding),
            Hypothesis::One(c) => seen.states(knowledge, c, finding),
            Hypothesis::Two(i, j) => {
                pair_states(knowledge, seen, finding, i, j, &mut pair);
                &pair
            }
        };
        if all_open {
            columns.iter_mut().zip(row).for_each(|(c, p)| c.push(*p));
            continue;
        }
        let left: f64 = row.iter().zip(&open).map(|(p, o)| p * o).sum();
        for (column, (p, o)) in columns.iter_mut().zip(row.iter().zip(&open)) {
            column.push(p * o / left);
        }
    }
    columns
}

/// What each outcome of a check would do to the line-up: probability of the outcome, leader after
/// it.
pub fn preview(
    knowledge: &Knowledge,
    facts: &Facts,
    line_up: &LineUp,
    check: CheckId,
) -> Vec<Preview> {
    preview_answers(knowledge, facts, line_up, knowledge.check(check).finding)
}

/// The same for the answers of any finding.
pub fn preview_answers(
    knowledge: &Knowledge,
    facts: &Facts,
    line_up: &LineUp,
    finding: FindingId,
) -> Vec<Preview> {
    let states = knowledge.finding(finding).states.len();
    let supersedes = knowledge
        .finding(finding)
        .check
        .is_some_and(|c| !knowledge.check(c).supersedes.is_empty());
    let regroups =
        !line_up.plain && (line_up.evidence.shares_group(knowledge, finding) || supersedes);
    let mut previews: Vec<Preview> = (0..states)
        .map(|state| {
            let sighting = Sighting {
                answer: Answer::State(state),
                confidence: Confidence::Sure,
            };
            let item = Item::finding(knowledge, finding, sighting);
            let column = Column::new(knowledge, &item, &line_up.posterior.seen);
            let (ratio, mut involved) = line_up.posterior.after(knowledge, &column);
            let mut probability = ratio * knowledge.table.unlisted(finding)[state];
            if line_up.posterior.seen.rules_out(knowledge, finding, state) {
                probability = 0.0;
            }
            if regroups {
                let mut then = facts.clone();
                then.findings.insert(finding, sighting);
                involved =
                    crate::ranking::posterior(knowledge, &Evidence::of(knowledge, &then), true)
                        .involved();
            }
            let (leader, leader_probability) = leader(knowledge, &involved);
            Preview {
                state,
                probability,
                leader,
                leader_probability,
            }
        })
        .collect();
    let total: f64 = previews.iter().map(|p| p.probability).sum();
    if total > 0.0 {
        previews.iter_mut().for_each(|p| p.probability /= total);
    }
    previews.sort_by(|a, b| {
        b.probability
            .total_cmp(&a.probability)
            .then(a.state.cmp(&b.state))
    });
    previews
}

/// The most involved cause that is not merely a consequence.
fn leader(knowledge: &Knowledge, involved: &[f64]) -> (CauseId, f64) {
    let mut best = (CauseId(0), -1.0);
    for c in knowledge.cause_ids() {
        let only_follows = knowledge
            .cause(c)
            .consequence_of
            .iter()
            .any(|(root, _)| involved[root.at()] > 0.0);
        if involved[c.at()] > best.1 && !only_follows {
            best = (c, involved[c.at()]);
        }
    }
    best
}
