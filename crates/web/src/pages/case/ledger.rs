//! The ledger of a suspect: one row per fact, for or against, and why it does not lead.

use crate::pages::open_case::OpenCase;
use crate::words::{evidence, learned};
use crate::{show, urls};
use suspect_core::case::Analysis;
use suspect_core::evidence::Facts;
use suspect_core::knowledge::{CauseId, Knowledge};
use suspect_core::ranking::{CauseLine, LineUp, PairLine, decibans};

/// Rows of the ledger that weigh less than this many decibans are folded into one.
const SAYS_LITTLE: f64 = 0.25;
/// The widest bar is given to this many decibans, or to the largest row.
const LEAST_SCALE: f64 = 6.0;
/// The widest bar, and the middle line, in units of the drawing.
const WIDEST: f64 = 110.0;
const MIDDLE: f64 = 120.0;
/// Facts named when a suspect stands behind the leader.
const WHY_NOT: usize = 3;

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
    /// The other of two suspects, where pairs hold most of the probability.
    pub with: Option<String>,
    pub rows: Vec<LedgerRow>,
    pub folded: Vec<String>,
    pub starts: String,
    pub total: String,
    /// What outcomes taught of it, as far as the figure it starts at hangs on that.
    pub learned: Option<String>,
    /// The figure of the line-up, taken apart where others stand behind it.
    pub apart: Option<String>,
    /// How it makes the trouble, in a sentence.
    pub mechanism: String,
    pub may_clear: bool,
    /// "Why not this one?": how far it stands behind the leader and which facts put it there.
    pub why_not: Option<String>,
}

/// Whose ledger is the honest one: the suspect's own, or that of its strongest pair.
struct Account<'a> {
    weights: &'a [f64],
    with: Option<CauseId>,
    prior: f64,
    now: f64,
}

impl<'a> Account<'a> {
    /// Where pairs hold over half of a cause, the strongest pair's.
    fn of(line_up: &'a LineUp, line: &'a CauseLine) -> Self {
        let mut pairs = line_up.pairs.iter();
        let pair = pairs.find(|p| p.causes.contains(&line.cause));
        match pair.filter(|_| line.alone < line.probability / 2.0) {
            Some(pair) => Account {
                weights: &pair.ledger,
                with: Some(other(pair, line.cause)),
                prior: pair.prior,
                now: pair.probability,
            },
            None => Account {
                weights: &line.ledger,
                with: None,
                prior: line.prior_alone,
                now: line.alone,
            },
        }
    }

    /// "Alone it starts at 2 % (+3.0 dB against “someone else”), ends at 46 %".
    fn starts(&self, line_up: &LineUp) -> String {
        if self.prior <= 0.0 {
            return "Cannot be on a machine like this".into();
        }
        let who = match self.with {
            Some(_) => "The two together",
            None => "Alone it",
        };
        format!(
            "{who} starts at {} ({} dB against “someone else”), ends at {}",
            show::percent(self.prior),
            show::decibans(decibans(self.prior / line_up.unlisted_prior)),
            show::percent(self.now)
        )
    }
}

fn other(pair: &PairLine, cause: CauseId) -> CauseId {
    let [a, b] = pair.causes;
    if a == cause { b } else { a }
}

/// The ledger of a suspect: what speaks for and against it, and how far it stands behind the
/// leader.
pub fn ledger(
    k: &Knowledge,
    case: &OpenCase,
    analysis: &Analysis,
    cause: CauseId,
) -> Option<Ledger> {
    let (line_up, facts) = (&analysis.line_up, &case.state.facts);
    let line = line_up.line(cause)?;
    let account = Account::of(line_up, line);
    let items = line_up.evidence.items.iter().zip(account.weights);
    let mut said: Vec<(f64, String)> = items
        .map(|(item, d)| (*d, evidence::source(k, facts, &item.source)))
        .collect();
    said.sort_by(|a, b| b.0.total_cmp(&a.0));
    let (rows, little): (Vec<_>, Vec<_>) =
        said.into_iter().partition(|(d, _)| d.abs() >= SAYS_LITTLE);
    let largest = account.weights.iter().map(|d| d.abs());
    let largest = largest.fold(LEAST_SCALE, f64::max);
    let mut rows: Vec<LedgerRow> = rows
        .into_iter()
        .map(|(d, text)| row(text, d, largest))
        .collect();
    if !little.is_empty() {
        let sum = little.iter().map(|(d, _)| d).sum();
        let text = match little.len() {
            1 => "One fact that says little".into(),
            n => format!("{n} facts that say little"),
        };
        rows.push(row(text, sum, largest));
    }
    let cleared = &case.state.facts.cleared;
    Some(Ledger {
        cause: k.cause(cause).name.clone(),
        cause_id: k.cause(cause).id.clone(),
        href: urls::suspect(&k.cause(cause).id),
        with: account.with.map(|c| show::lower_first(&k.cause(c).name)),
        rows,
        folded: little
            .into_iter()
            .map(|(d, text)| format!("{text}: {}", show::decibans(d)))
            .collect(),
        apart: apart(line),
        mechanism: k.cause(cause).mechanism.clone(),
        starts: account.starts(line_up),
        learned: learned::words(facts, line),
        total: format!("{} dB", show::decibans(account.weights.iter().sum())),
        why_not: why_not(k, facts, line_up, cause),
        may_clear: !case.state.resolved() && !cleared.iter().any(|(x, _)| *x == cause),
    })
}

/// "48 % in all: alone 40 %, together with another suspect 8 %."
fn apart(line: &CauseLine) -> Option<String> {
    let (all, alone) = (show::percent(line.probability), show::percent(line.alone));
    (all != alone).then(|| {
        format!(
            "{all} in all: alone {alone}, together with another suspect {}.",
            show::percent(line.probability - line.alone)
        )
    })
}

/// A bar to the right of the middle speaks for, one to the left against.
fn row(text: String, d: f64, largest: f64) -> LedgerRow {
    let bar = WIDEST * d.abs() / largest;
    let speaks_for = d >= 0.0;
    LedgerRow {
        text,
        value: show::decibans(d),
        speaks: if speaks_for { "for" } else { "against" },
        bar,
        bar_at: if speaks_for { MIDDLE } else { MIDDLE - bar },
    }
}

/// The difference of two ledgers: the leader's and this suspect's.
fn why_not(k: &Knowledge, facts: &Facts, line_up: &LineUp, cause: CauseId) -> Option<String> {
    let (leader, line) = (line_up.leader()?, line_up.line(cause)?);
    if leader.cause == cause || line.prior_alone <= 0.0 {
        return None;
    }
    let start = decibans(leader.prior_alone / line.prior_alone);
    let behind = start + leader.evidence_total() - line.evidence_total();
    let name = show::lower_first(&k.cause(leader.cause).name);
    if behind < 0.0 {
        return Some(format!(
            "Alone it stands before {name}; together with others it falls behind."
        ));
    }
    let both = leader.ledger.iter().zip(&line.ledger);
    let items = line_up.evidence.items.iter().zip(both);
    let mut told: Vec<(f64, String)> = items
        .map(|(item, (a, b))| (a - b, evidence::source(k, facts, &item.source)))
        .filter(|(d, _)| *d >= 1.0)
        .collect();
    told.sort_by(|a, b| b.0.total_cmp(&a.0));
    told.truncate(WHY_NOT);
    let facts: Vec<String> = told
        .into_iter()
        .map(|(d, text)| format!("{text} ({})", show::decibans(d)))
        .collect();
    let by = match facts.is_empty() {
        true => String::new(),
        false => format!(", most of all by: {}", facts.join("; ")),
    };
    let behind = show::decibans(behind);
    let behind = behind.trim_start_matches('+');
    Some(format!("It stands {behind} dB behind {name}{by}."))
}
