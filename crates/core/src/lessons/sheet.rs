//! Outcomes as lines, and what they teach as one sheet: the open formats of learning.

use super::lesson::LookLine;
use super::worth;
use crate::case::Outcome;
use crate::knowledge::Knowledge;
use crate::learning::cures::Use;
use crate::learning::learned::{Counted, Learned, LearnedCause};
use crate::learning::rates::{Cell, Counts, Rates, credit, fading, of_levels};
use crate::learning::tally::{TallyLook, links};
use crate::nearest::hint;
use crate::profile::Context;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use std::sync::Arc;

/// Name and version of the sheet.
pub const FORMAT: &str = "usual-suspect-learned/1";

/// How one case ended, as far as rates are learned from it.
#[derive(Debug, Clone, Deserialize)]
pub struct OutcomeLine {
    /// The machine's name.
    pub machine: String,
    /// Its kind.
    #[serde(default)]
    pub kind: String,
    /// The cause recorded; none where none was.
    #[serde(default, alias = "cause")]
    pub recorded: Option<String>,
    /// How it ended.
    pub outcome: Outcome,
    /// Its proof was complete, or it was compared with the reference piece.
    #[serde(default = "yes")]
    pub proven: bool,
    /// Days since.
    #[serde(default)]
    pub days: f64,
    /// How much of the record counts, 0 to 1. Without it, all.
    #[serde(default = "all")]
    pub credit: f64,
    /// The book's probabilities at closing: the credit follows from them where they are given.
    #[serde(default)]
    pub posterior: Option<BTreeMap<String, f64>>,
    /// Weight × factor of each cause there. Without it, by the machine's build and the material.
    #[serde(default)]
    pub book: Option<BTreeMap<String, f64>>,
    /// The machine's build, and the material, by field.
    #[serde(default)]
    pub context: BTreeMap<String, String>,
    /// Fixes used.
    #[serde(default)]
    pub uses: Vec<UseLine>,
    /// Looks that were asked for.
    #[serde(default)]
    pub looks: Vec<LookLine>,
}

/// A fix used in a case, for one cause.
#[derive(Debug, Clone, Serialize, Deserialize, PartialEq)]
pub struct UseLine {
    /// The fix.
    pub fix: String,
    /// The cause.
    pub cause: String,
    /// Chance at the case's end that it was this cause.
    pub weight: f64,
    /// 1 cured with proof, ½ improved, else 0.
    pub success: f64,
}

fn yes() -> bool {
    true
}

fn all() -> f64 {
    1.0
}

/// What was counted for a cause and expected, and what its weight is multiplied by.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct CauseCount {
    /// Counted.
    pub n: f64,
    /// Expected by the levels above.
    pub expected: f64,
    /// Factor on this machine or kind, or in this shop, all levels counted.
    #[serde(default = "all")]
    pub factor: f64,
    /// Its share here, as the outcomes' own books have it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub rate: Option<f64>,
}

/// Causes of a level.
pub type Level = BTreeMap<String, CauseCount>;

/// A machine's own counts.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct MachineLevel {
    /// Its kind.
    pub kind: String,
    /// Its causes.
    pub causes: Level,
}

/// What outcomes teach.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Sheet {
    /// [`FORMAT`].
    pub format: String,
    /// Outcomes that counted.
    pub cases: usize,
    /// The whole shop.
    pub shop: Level,
    /// By kind of machine.
    #[serde(default)]
    pub kinds: BTreeMap<String, Level>,
    /// By machine.
    #[serde(default)]
    pub machines: BTreeMap<String, MachineLevel>,
    /// Uses of fixes.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub uses: Vec<UseLine>,
    /// Looks by cause, finding and state: they move links from a hundred outcomes on.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub looks: Vec<TallyLook>,
}

/// Names as numbers, in the order of the names.
fn numbered<'a>(names: impl Iterator<Item = &'a str>) -> BTreeMap<&'a str, u32> {
    let names: std::collections::BTreeSet<&str> = names.collect();
    names.into_iter().zip(0..).collect()
}

/// A line that counted.
struct Counting<'l> {
    line: &'l OutcomeLine,
    book: Vec<f64>,
    counts: f64,
    cause: usize,
}

/// Learns from outcomes. Lines that teach nothing are passed over.
///
/// # Errors
/// The first line that makes no sense: its number, from 1, and why.
pub fn learn(knowledge: &Knowledge, lines: &[OutcomeLine]) -> Result<Sheet, (usize, String)> {
    let own = lines.iter().filter_map(|l| l.book.as_ref());
    let own = own.flat_map(BTreeMap::keys).map(String::as_str);
    let known = knowledge.causes.iter().map(|c| c.id.as_str());
    let causes = numbered(own.chain(known));
    let mut counting = Vec::new();
    for (at, line) in lines.iter().enumerate() {
        let counts = counts(knowledge, &causes, line).map_err(|why| (at + 1, why))?;
        counting.extend(counts);
    }
    let machines = numbered(counting.iter().map(|c| c.line.machine.as_str()));
    let kinds = numbered(counting.iter().map(|c| c.line.kind.as_str()));
    let cells: Vec<Cell> = counting
        .iter()
        .map(|c| Cell {
            machine: machines[c.line.machine.as_str()],
            kind: kinds[c.line.kind.as_str()],
            book: &c.book,
            recorded: vec![(c.cause, c.counts)],
        })
        .collect();
    let rates = Rates::learn(&cells);
    Ok(sheet(&causes, &counting, &rates, (&machines, &kinds)))
}

fn sheet(
    causes: &BTreeMap<&str, u32>,
    counting: &[Counting<'_>],
    rates: &Rates,
    (machines, kinds): (&BTreeMap<&str, u32>, &BTreeMap<&str, u32>),
) -> Sheet {
    const NOBODY: u32 = u32::MAX;
    let level = |counts: &Counts, machine: u32, kind: u32, book: Option<&[f64]>| -> Level {
        let factor = |c: usize| rates.factor(c, machine, kind, false);
        let total = book.map(|b| (0..b.len()).map(|c| b[c] * factor(c)).sum::<f64>());
        let one = |(name, at): (&&str, &u32)| {
            let at = *at as usize;
            let (n, expected) = (counts.n.get(at)?, counts.expected.get(at)?);
            let rate = book.zip(total).map(|(b, t)| b[at] * factor(at) / t);
            let count = CauseCount {
                n: *n,
                expected: *expected,
                factor: factor(at),
                rate,
            };
            (*n > 0.0 || *expected > 0.0).then(|| ((*name).to_string(), count))
        };
        causes.iter().filter_map(one).collect()
    };
    let machine = |(name, at): (&&str, &u32)| {
        let last = counting.iter().rev().find(|c| c.line.machine == **name)?;
        let kind = kinds[last.line.kind.as_str()];
        let counts = level(rates.machines.get(at)?, *at, kind, Some(&last.book));
        let level = MachineLevel {
            kind: last.line.kind.clone(),
            causes: counts,
        };
        Some(((*name).to_string(), level))
    };
    let kind = |(name, at): (&&str, &u32)| {
        let counts = level(rates.kinds.get(at)?, NOBODY, *at, None);
        Some(((*name).to_string(), counts))
    };
    Sheet {
        format: FORMAT.to_string(),
        cases: counting.len(),
        shop: level(&rates.shop, NOBODY, NOBODY, None),
        kinds: kinds.iter().filter_map(kind).collect(),
        machines: machines.iter().filter_map(machine).collect(),
        uses: counting
            .iter()
            .flat_map(|c| c.line.uses.iter().cloned())
            .collect(),
        looks: counting.iter().flat_map(looks).collect(),
    }
}

/// The looks of a line, under its cause.
fn looks(counting: &Counting<'_>) -> Vec<TallyLook> {
    let cause = counting.line.recorded.clone().unwrap_or_default();
    let look = |l: &LookLine| TallyLook {
        cause: cause.clone(),
        finding: l.finding.clone(),
        state: l.state.clone(),
        looks: l.weight.clamp(0.0, 1.0),
    };
    counting.line.looks.iter().map(look).collect()
}

/// What a line counts, and for whom; nothing where it teaches nothing.
fn counts<'l>(
    knowledge: &Knowledge,
    causes: &BTreeMap<&str, u32>,
    line: &'l OutcomeLine,
) -> Result<Option<Counting<'l>>, String> {
    let within = |what: &str, value: f64, most: f64| match (0.0..=most).contains(&value) {
        true => Ok(value),
        false => Err(format!(
            "`{what}`: {value} does not lie between 0 and {most}"
        )),
    };
    let days = within("days", line.days, 1e6)?;
    let mut credited = within("credit", line.credit, 1.0)?;
    let book = book(knowledge, causes, line)?;
    let Some(recorded) = &line.recorded else {
        return Ok(None);
    };
    let Some(cause) = causes.get(recorded.as_str()) else {
        let known = causes.keys().copied();
        return Err(format!(
            "`recorded`: no cause `{recorded}`{}",
            hint(recorded, known)
        ));
    };
    if let Some(posterior) = &line.posterior {
        for p in posterior.values() {
            within("posterior", *p, 1.0)?;
        }
        let own = posterior.get(recorded).copied().unwrap_or(0.0);
        let others = posterior.iter().filter(|(c, _)| *c != recorded);
        credited = credit(own, others.map(|(_, p)| *p));
    }
    let counts = worth(line.outcome, line.proven) * credited * fading(days);
    Ok((counts > 0.0).then_some(Counting {
        line,
        book,
        counts,
        cause: *cause as usize,
    }))
}

fn book(
    knowledge: &Knowledge,
    causes: &BTreeMap<&str, u32>,
    line: &OutcomeLine,
) -> Result<Vec<f64>, String> {
    let mut book = vec![0.0; causes.len()];
    if let Some(own) = &line.book {
        for (cause, weight) in own {
            if !(0.0..=1e9).contains(weight) {
                return Err(format!("`book.{cause}`: {weight} is no weight"));
            }
            book[causes[cause.as_str()] as usize] = *weight;
        }
    } else {
        let mut context = Context::default();
        for (field, value) in &line.context {
            context
                .set(field, value)
                .map_err(|e| format!("`context.{field}`: {e}"))?;
        }
        for cause in knowledge.cause_ids() {
            let at = causes[knowledge.cause(cause).id.as_str()] as usize;
            book[at] = knowledge.weight(cause, &context);
        }
    }
    match book.iter().any(|w| *w > 0.0) {
        true => Ok(book),
        false => Err("`book`: no cause has any weight".into()),
    }
}

/// Why a sheet is not read.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
pub enum SheetError {
    /// No JSON, or of another shape.
    #[error("{0}")]
    Shape(String),
    /// Another format or version.
    #[error("`format` is `{0}`, but {FORMAT} is read")]
    Format(String),
}

impl Sheet {
    /// Reads a sheet.
    ///
    /// # Errors
    /// When it is none.
    pub fn read(text: &str) -> Result<Self, SheetError> {
        let mut json = serde_json::Deserializer::from_str(text);
        let sheet: Sheet = serde_path_to_error::deserialize(&mut json)
            .map_err(|e| SheetError::Shape(format!("`{}`: {}", e.path(), e.inner())))?;
        match sheet.format == FORMAT {
            true => Ok(sheet),
            false => Err(SheetError::Format(sheet.format.chars().take(60).collect())),
        }
    }

    /// The numbers for a machine: by its name, else those of its kind, else of the shop. What the
    /// knowledge does not know is passed over.
    pub fn for_machine(&self, knowledge: &Knowledge, machine: &str, kind: &str) -> Learned {
        let own = self.machines.get(machine);
        let kind = own.map_or(kind, |own| own.kind.as_str());
        let levels = [
            Some(&self.shop),
            self.kinds.get(kind),
            own.map(|own| &own.causes),
        ];
        let counted = |level: Option<&Level>, id: &str| {
            let count = level.and_then(|l| l.get(id));
            count.map_or(Counted::default(), |c| Counted {
                n: c.n.max(0.0),
                expected: c.expected.max(0.0),
            })
        };
        let of = |id: &str| {
            let [shop, kind, machine] = levels.map(|level| counted(level, id));
            LearnedCause {
                factor: of_levels([shop, kind, machine]),
                wear: 1.0,
                quirk: 1.0,
                machine,
                kind,
                shop,
            }
        };
        let causes = knowledge.causes.iter().map(|c| of(&c.id)).collect();
        let uses = self.uses.iter().filter_map(|u| {
            let (fix, cause) = (knowledge.fix_id(&u.fix)?, knowledge.cause_id(&u.cause)?);
            let used = Use {
                weight: u.weight.clamp(0.0, 1.0),
                success: u.success.clamp(0.0, 1.0),
            };
            Some((fix, cause, used))
        });
        Learned::new(knowledge, causes, self.cases)
            .with_uses(knowledge, uses)
            .with_links(Arc::new(links(knowledge, &self.looks)))
    }
}
