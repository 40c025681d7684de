//! What stands beside a measure: the result, what it says, where it may be kept.

use crate::pages::bench::context::For;
use crate::pages::bench::form::in_words;
use crate::pages::bench::over_time::{OverTime, over_time};
use crate::pages::bench::says::{Moves, Says, moves, says};
use crate::{show, urls};
use std::collections::BTreeMap;
use suspect_core::knowledge::Knowledge;
use suspect_core::measures::{Bench, Measure, Out, Refused};

/// Where a reading may be kept.
pub struct Keeping {
    pub action: String,
    /// "Record it in C-029".
    pub label: String,
    /// Whether it is the main thing to do.
    pub main: bool,
    pub seq: u32,
    /// Minutes it usually takes, where a check of this name says so.
    pub minutes: Option<String>,
}

/// Fields that bring the same page again.
pub type Sent = Vec<(&'static str, String)>;

/// What follows, as every page of a measure shows it.
pub struct Follows {
    /// Where the page is sent to be reckoned again.
    pub action: String,
    pub sent: Sent,
    pub sure: bool,
    pub says: Option<Says>,
    pub moves: Option<Moves>,
    pub keepings: Vec<Keeping>,
    /// Neither case nor machine is chosen.
    pub for_nobody: bool,
    pub past: Option<OverTime>,
    /// What is still to be read, in words.
    pub missing: Option<String>,
    pub wrong: Option<String>,
    pub not: String,
    pub handbook: String,
    /// What follows, as data.
    pub out: Option<Out>,
    /// What makes no sense, by input.
    pub by_input: BTreeMap<&'static str, Refused>,
}

impl Follows {
    /// What came of a measure's numbers.
    pub fn of(
        k: &Knowledge,
        measure: &'static Measure,
        bench: Bench,
        (sent, sure): (Sent, bool),
        to: &For,
    ) -> Self {
        let mut follows = Self {
            action: urls::measure(measure.id),
            sent,
            sure,
            says: None,
            moves: None,
            keepings: Vec::new(),
            for_nobody: to.machine.is_none(),
            past: over_time(k, measure, to),
            missing: None,
            wrong: None,
            not: show::sentence(measure.not),
            handbook: urls::handbook_measure(measure.id),
            out: None,
            by_input: BTreeMap::new(),
        };
        match bench {
            Bench::Missing(all) => {
                let names: Vec<&str> = all.iter().map(|i| i.plain).collect();
                follows.missing = Some(names.join("; "));
            }
            Bench::Wrong(by_input, together) => {
                follows.by_input = by_input;
                follows.wrong = together.map(|why| in_words(measure, &why));
            }
            Bench::Says(given, out) => {
                let says = says(k, measure, (&given, &out), sure);
                follows.moves = moves(k, measure, &out, to);
                follows.keepings = keepings(k, measure, &says, to);
                follows.says = Some(says);
                follows.out = Some(out);
            }
        }
        follows
    }
}

/// Where what follows may be kept.
fn keepings(k: &Knowledge, measure: &Measure, says: &Says, to: &For) -> Vec<Keeping> {
    let mut all = Vec::new();
    if says.asks {
        return all;
    }
    if let Some(case) = to
        .case
        .as_ref()
        .filter(|c| !c.state.resolved() && says.speaks)
    {
        let check = k.check_id(measure.id).map(|c| &k.check(c).work);
        all.push(Keeping {
            action: case.below(&format!("bench/{}", measure.id)),
            label: format!("Record it in {}", show::case_label(case.row.number)),
            main: true,
            seq: case.state.last_seq,
            minutes: check.map(|w| show::number(w.whole_minutes())),
        });
    }
    if let Some(machine) = &to.machine {
        all.push(Keeping {
            action: urls::in_machine(machine.id, &format!("bench/{}", measure.id)),
            label: match measure.calibrates() {
                true => format!("Keep it as {}'s value", machine.name),
                false => format!("Keep it in {}'s log", machine.name),
            },
            main: all.is_empty(),
            seq: to.log.last().map_or(0, |e| e.seq),
            minutes: None,
        });
    }
    all
}
