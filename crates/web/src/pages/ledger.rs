//! The ledger of a suspect: one row per fact, for or against, and why it does not lead.

use super::Opened;
use crate::state::AppState;
use crate::{show, urls};
use suspect_core::case::Analysis;
use suspect_core::evidence::Source;
use suspect_core::knowledge::CauseId;
use suspect_core::ranking::decibans;

/// Rows of the ledger that weigh less than this are folded into one.
const SAYS_LITTLE: f64 = 0.25;
/// Widest bar of the ledger, as a share of half the field, is given to this many decibans or the largest row.
const LEAST_SCALE: f64 = 6.0;
/// One fact with its weight.
pub struct LedgerRow {
    pub text: String,
    pub value: String,
    pub speaks: &'static str,
    pub bar: f64,
    pub bar_at: f64,
}

/// The rows with their sum.
pub struct Ledger {
    pub cause: String,
    pub cause_id: String,
    pub href: String,
    pub with: Option<String>,
    pub rows: Vec<LedgerRow>,
    pub folded: Vec<String>,
    pub starts: String,
    pub total: String,
    pub may_clear: bool,
    /// "Why not this one?": how far it stands behind the leader and which facts put it there.
    pub why_not: Option<String>,
}

/// What one piece of evidence says, in words.
pub fn row_text(state: &AppState, source: &Source) -> String {
    let k = &state.knowledge;
    match source {
        Source::Finding(f, sighting) => {
            let phrase = match k.finding(*f).check {
                Some(check) => format!(
                    "{}: {}",
                    k.check(check).work.name,
                    sighting.answer.phrase(k, *f)
                ),
                None => show::capital(&sighting.answer.phrase(k, *f)),
            };
            match sighting.confidence.id() {
                "sure" => phrase,
                word => format!("{phrase} ({word})"),
            }
        }
        Source::Tried(_, tried) => format!(
            "{}: {}",
            k.fix(tried.fix).work.name,
            super::recording::result_words(tried.result)
        ),
        Source::Cleared(cause, _) => {
            format!("Found sound: {}", k.cause(*cause).name.to_lowercase())
        }
    }
}

/// The ledger of a suspect: what speaks for and against it, and how far it stands behind the leader.
pub fn ledger(
    state: &AppState,
    case: &Opened,
    analysis: &Analysis,
    cause: CauseId,
) -> Option<Ledger> {
    let k = &state.knowledge;
    let line_up = &analysis.line_up;
    let line = line_up.line(cause)?;
    // Where pairs hold over half of a cause, the strongest pair's ledger is the honest one.
    let pair = line_up
        .pairs
        .iter()
        .find(|p| p.causes.contains(&cause))
        .filter(|_| line.alone < line.probability / 2.0);
    let (weights, with, prior, now) = match pair {
        Some(p) => {
            let other = if p.causes[0] == cause {
                p.causes[1]
            } else {
                p.causes[0]
            };
            (
                &p.ledger,
                Some(k.cause(other).name.to_lowercase()),
                p.prior,
                p.probability,
            )
        }
        None => (&line.ledger, None, line.prior_alone, line.alone),
    };
    let largest = weights.iter().fold(LEAST_SCALE, |m, d| m.max(d.abs()));
    let mut said: Vec<(f64, String)> = line_up
        .evidence
        .items
        .iter()
        .zip(weights)
        .map(|(item, d)| (*d, row_text(state, &item.source)))
        .collect();
    said.sort_by(|a, b| b.0.total_cmp(&a.0));
    let (rows, little): (Vec<_>, Vec<_>) =
        said.into_iter().partition(|(d, _)| d.abs() >= SAYS_LITTLE);
    let mut rows: Vec<LedgerRow> = rows
        .into_iter()
        .map(|(d, text)| {
            let bar = 110.0 * d.abs() / largest;
            LedgerRow {
                text,
                value: show::decibans(d),
                speaks: if d > 0.0 { "for" } else { "against" },
                bar,
                bar_at: if d > 0.0 { 120.0 } else { 120.0 - bar },
            }
        })
        .collect();
    let little_sum: f64 = little.iter().map(|(d, _)| d).sum();
    if !little.is_empty() {
        let text = if little.len() == 1 {
            "One fact that says little".into()
        } else {
            format!("{} facts that say little", little.len())
        };
        let bar = 110.0 * little_sum.abs() / largest;
        rows.push(LedgerRow {
            text,
            value: show::decibans(little_sum),
            speaks: if little_sum >= 0.0 { "for" } else { "against" },
            bar,
            bar_at: if little_sum >= 0.0 {
                120.0
            } else {
                120.0 - bar
            },
        });
    }
    let total: f64 = weights.iter().sum();
    let c = k.cause(cause);
    Some(Ledger {
        cause: c.name.clone(),
        cause_id: c.id.clone(),
        href: urls::suspect(&c.id),
        with,
        rows,
        folded: little
            .into_iter()
            .map(|(d, text)| format!("{text}: {}", show::decibans(d)))
            .collect(),
        starts: if prior > 0.0 {
            format!(
                "{} starts at {} ({} dB against “someone else”), ends at {}",
                if pair.is_some() {
                    "The two together"
                } else {
                    "Alone it"
                },
                show::percent(prior),
                show::decibans(decibans(prior / line_up.unlisted_prior)),
                show::percent(now)
            )
        } else {
            "Cannot be on a machine like this".into()
        },
        total: format!("{} dB", show::decibans(total)),
        why_not: why_not(state, analysis, cause),
        may_clear: !case.state.resolved()
            && !case.state.facts.cleared.iter().any(|(x, _)| *x == cause),
    })
}

/// The difference of two ledgers: the leader's and this suspect's.
fn why_not(state: &AppState, analysis: &Analysis, cause: CauseId) -> Option<String> {
    let line_up = &analysis.line_up;
    let (leader, line) = (line_up.leader()?, line_up.line(cause)?);
    if leader.cause == cause || line.prior_alone <= 0.0 {
        return None;
    }
    let start = decibans(leader.prior_alone / line.prior_alone);
    let behind = start + leader.evidence_total() - line.evidence_total();
    let items = line_up
        .evidence
        .items
        .iter()
        .zip(leader.ledger.iter().zip(&line.ledger));
    let mut told: Vec<(f64, String)> = items
        .map(|(item, (a, b))| (a - b, row_text(state, &item.source)))
        .filter(|(d, _)| *d >= 1.0)
        .collect();
    told.sort_by(|a, b| b.0.total_cmp(&a.0));
    let facts: Vec<String> = told
        .into_iter()
        .take(3)
        .map(|(d, text)| format!("{text} ({})", show::decibans(d)))
        .collect();
    let by = if facts.is_empty() {
        String::new()
    } else {
        format!(", most of all by: {}", facts.join("; "))
    };
    let name = state.knowledge.cause(leader.cause).name.to_lowercase();
    Some(if behind >= 0.0 {
        format!(
            "It stands {} dB behind {name}{by}.",
            show::decibans(behind).trim_start_matches('+')
        )
    } else {
        format!("Alone it stands before {name}; together with others it falls behind.")
    })
}
