//! The line-up: every suspect with its probability and its ledger.

use super::weigh::sum;
use super::{Hypothesis, Posterior, columns, decibans, ledger, weigh};
use crate::evidence::{Evidence, Facts, Source};
use crate::knowledge::{CauseId, FindingId, Knowledge};
use crate::learning::Learned;

/// Most pairs that are named, and the probability above which they are.
const PAIRS_SHOWN: (usize, f64) = (10, 0.001);
/// A pair is offered as "two suspects" when its evidence beats each member's alone by this many
/// decibans.
const TWO_SUSPECTS: f64 = 3.0;
/// A cleared suspect: under this probability and this many decibans of evidence below the leader.
const BENCH: (f64, f64) = (0.01, 10.0);

/// Surprise, in decibans, from which facts are said to pull apart, and to do so strongly.
const SURPRISED: (f64, f64) = (3.0, 10.0);
/// Items of evidence it takes to be surprised.
const SURPRISED_BY: usize = 3;

/// One suspect.
#[derive(Debug, Clone)]
pub struct CauseLine {
    /// The cause.
    pub cause: CauseId,
    /// It is involved, alone or in a pair.
    pub probability: f64,
    /// The same before evidence.
    pub prior: f64,
    /// It acts alone.
    pub alone: f64,
    /// The same before evidence.
    pub prior_alone: f64,
    /// What outcomes taught moved that prior by so many decibans; none where the book speaks.
    pub learned: Option<f64>,
    /// Decibans per item of the evidence, for the cause alone.
    pub ledger: Vec<f64>,
    /// Cleared: sits on the bench at the side.
    pub cleared: bool,
}

impl CauseLine {
    /// Sum of the ledger in decibans.
    pub fn evidence_total(&self) -> f64 {
        self.ledger.iter().sum()
    }
}

/// Two suspects together.
#[derive(Debug, Clone)]
pub struct PairLine {
    /// The two, in knowledge order.
    pub causes: [CauseId; 2],
    /// Posterior probability.
    pub probability: f64,
    /// Prior probability.
    pub prior: f64,
    /// Decibans per item.
    pub ledger: Vec<f64>,
    /// Its evidence beats each member's alone by 3 dB.
    pub two_suspects: bool,
}

/// Does the evidence fit together? A question, not a verdict.
#[derive(Debug, Clone, Default)]
pub struct Surprise {
    /// How much `unlisted` has risen.
    pub decibans: f64,
    /// One or two findings that disagree most with the rest (below −3 dB).
    pub disagree: Vec<FindingId>,
    /// Findings the leader does not explain although someone could.
    pub unexplained: Vec<FindingId>,
}

/// How strongly the facts of a case pull apart.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum PullsApart {
    /// Two suspects, or a misread sign?
    Somewhat,
    /// Nobody known explains all of it.
    Strongly,
}

/// The ranking of a case with its reasons.
#[derive(Debug, Clone)]
pub struct LineUp {
    /// The evidence weighed; ledgers are in its order.
    pub evidence: Evidence,
    /// Every cause, most probable first. A consequence stands below its likeliest root.
    pub causes: Vec<CauseLine>,
    /// Pairs above 0.1 %, at most 10.
    pub pairs: Vec<PairLine>,
    /// Probability of all pairs together.
    pub pairs_total: f64,
    /// Posterior of `unlisted`.
    pub unlisted: f64,
    /// Prior of `unlisted`.
    pub unlisted_prior: f64,
    /// Does the evidence fit together?
    pub surprise: Surprise,
    /// Ranked with single causes only, without groups and superseding.
    pub plain: bool,
    /// All hypotheses, for planning.
    pub posterior: Posterior,
}

impl LineUp {
    /// The leading suspect: never a consequence while one of its roots is possible.
    pub fn leader(&self) -> Option<&CauseLine> {
        self.causes.first()
    }

    /// Whether the evidence fits together badly enough to ask about it: from 3 dB of surprise on
    /// with three items or more, strongly from 10 dB on.
    pub fn pulls_apart(&self) -> Option<PullsApart> {
        let surprise = self.surprise.decibans;
        if surprise < SURPRISED.0 || self.evidence.items.len() < SURPRISED_BY {
            return None;
        }
        Some(match surprise >= SURPRISED.1 {
            true => PullsApart::Strongly,
            false => PullsApart::Somewhat,
        })
    }

    /// The line of a cause.
    pub fn line(&self, cause: CauseId) -> Option<&CauseLine> {
        self.causes.iter().find(|l| l.cause == cause)
    }
}

/// Ranks with pairs, groups and superseding: what pages and command line show.
pub fn rank(knowledge: &Knowledge, facts: &Facts) -> LineUp {
    line_up(knowledge, Evidence::of(knowledge, facts), true)
}

/// Ranks with single causes only, so that outside software can check the figures.
pub fn rank_plain(knowledge: &Knowledge, facts: &Facts) -> LineUp {
    line_up(knowledge, Evidence::plain(knowledge, facts), false)
}

fn line_up(knowledge: &Knowledge, evidence: Evidence, with_pairs: bool) -> LineUp {
    let columns = columns(knowledge, &evidence);
    let posterior = weigh(knowledge, &evidence, &columns, with_pairs, true);
    let ledger = |h| ledger(knowledge, &evidence, &columns, h);
    let mut causes = cause_lines(knowledge, &posterior, ledger);
    let totals: Vec<f64> = causes.iter().map(CauseLine::evidence_total).collect();
    causes.sort_by(|a, b| {
        b.probability
            .total_cmp(&a.probability)
            .then(a.cause.cmp(&b.cause))
    });
    below_their_roots(knowledge, &mut causes);
    let leader_total = causes.first().map_or(0.0, |l| totals[l.cause.at()]);
    for line in &mut causes {
        line.cleared =
            line.probability < BENCH.0 && totals[line.cause.at()] <= leader_total - BENCH.1;
    }
    let (pairs, pairs_total) = pair_lines(&posterior, &totals, ledger);
    let surprise = surprise(&posterior, &evidence, &causes);
    LineUp {
        unlisted: posterior.probability[0],
        unlisted_prior: posterior.prior[0],
        evidence,
        causes,
        pairs,
        pairs_total,
        surprise,
        plain: !with_pairs,
        posterior,
    }
}

/// Hypotheses with their prior and posterior.
fn masses(posterior: &Posterior) -> impl Iterator<Item = (Hypothesis, f64, f64)> + '_ {
    let masses = posterior.prior.iter().zip(&posterior.probability);
    let all = posterior.hypotheses.iter().zip(masses);
    all.map(|(h, (prior, p))| (*h, *prior, *p))
}

/// Every cause in knowledge order.
fn cause_lines(
    knowledge: &Knowledge,
    posterior: &Posterior,
    ledger: impl Fn(Hypothesis) -> Vec<f64>,
) -> Vec<CauseLine> {
    let (involved, before) = (posterior.involved(), posterior.involved_before());
    let mut alone = vec![(0.0, 0.0); knowledge.causes.len()];
    for (h, prior, p) in masses(posterior).take(posterior.first_pair()) {
        if let Hypothesis::One(c) = h {
            alone[c.at()] = (p, prior);
        }
    }
    let moved = posterior.learned.as_deref();
    let moved = moved.map(|l| (l, against_book(l, alone.iter().map(|(_, prior)| *prior))));
    let line = |cause: CauseId| {
        let (alone, prior_alone) = alone[cause.at()];
        CauseLine {
            cause,
            probability: involved[cause.at()],
            prior: before[cause.at()],
            alone,
            prior_alone,
            learned: moved
                .filter(|_| prior_alone > 0.0)
                .map(|(l, scale)| decibans(l.factor(cause) * scale)),
            ledger: ledger(Hypothesis::One(cause)),
            cleared: false,
        }
    };
    knowledge.cause_ids().map(line).collect()
}

/// What a factor is multiplied by to be the prior over the book's, from the priors of all causes
/// alone: both sum to the same.
fn against_book(learned: &Learned, priors: impl Iterator<Item = f64>) -> f64 {
    let (mut book, mut now) = (0.0, 0.0);
    for (cause, prior) in (0..).map(CauseId).zip(priors) {
        book += prior / learned.factor(cause);
        now += prior;
    }
    book / now
}

/// The likeliest pairs, and the probability of all pairs together. `totals` are the decibans of
/// each cause alone.
fn pair_lines(
    posterior: &Posterior,
    totals: &[f64],
    ledger: impl Fn(Hypothesis) -> Vec<f64>,
) -> (Vec<PairLine>, f64) {
    let first = posterior.first_pair();
    let of_pairs = &posterior.probability[first..];
    let all = sum(of_pairs.len(), |at| of_pairs[at]);
    let mut pairs = Vec::new();
    for (at, p) in of_pairs.iter().enumerate() {
        if *p > PAIRS_SHOWN.1
            && let Hypothesis::Two(i, j) = posterior.hypotheses[first + at]
        {
            pairs.push(([i, j], *p, posterior.prior[first + at]));
        }
    }
    pairs.sort_by(|a, b| b.1.total_cmp(&a.1).then(a.0.cmp(&b.0)));
    pairs.truncate(PAIRS_SHOWN.0);
    let line = |(causes, probability, prior): ([CauseId; 2], f64, f64)| {
        let ledger = ledger(Hypothesis::Two(causes[0], causes[1]));
        let total: f64 = ledger.iter().sum();
        let beats = |c: &CauseId| total >= totals[c.at()] + TWO_SUSPECTS;
        PairLine {
            causes,
            probability,
            prior,
            two_suspects: causes.iter().all(beats),
            ledger,
        }
    };
    (pairs.into_iter().map(line).collect(), all)
}

/// A consequence that would stand above all its roots moves just beneath the likeliest of them.
fn below_their_roots(knowledge: &Knowledge, causes: &mut Vec<CauseLine>) {
    for cause in knowledge.cause_ids() {
        let roots = &knowledge.cause(cause).consequence_of;
        let Some(at) = causes.iter().position(|l| l.cause == cause) else {
            continue;
        };
        let first_root = causes
            .iter()
            .position(|l| l.probability > 0.0 && roots.iter().any(|(r, _)| *r == l.cause));
        if let Some(root) = first_root.filter(|root| at < *root) {
            let line = causes.remove(at);
            causes.insert(root, line);
        }
    }
}

fn surprise(posterior: &Posterior, evidence: &Evidence, causes: &[CauseLine]) -> Surprise {
    let finding = |i: usize| match evidence.items[i].source {
        Source::Finding(f, _) => Some(f),
        _ => None,
    };
    let mut low: Vec<(f64, FindingId)> = posterior
        .agreement
        .iter()
        .enumerate()
        .filter(|(_, r)| **r < -3.0)
        .filter_map(|(i, r)| Some((*r, finding(i)?)))
        .collect();
    low.sort_by(|a, b| a.0.total_cmp(&b.0).then(a.1.cmp(&b.1)));
    let unexplained = (0..evidence.items.len())
        .filter(|i| causes.first().is_some_and(|l| l.ledger[*i] <= 0.0))
        .filter(|i| causes.iter().any(|l| l.prior > 0.0 && l.ledger[*i] >= 6.0))
        .filter_map(finding)
        .collect();
    Surprise {
        decibans: decibans(posterior.probability[0] / posterior.prior[0]),
        disagree: low.into_iter().take(2).map(|(_, f)| f).collect(),
        unexplained,
    }
}
