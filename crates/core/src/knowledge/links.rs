//! The likelihood table: P(state | cause) for every cause and finding, made once at load.

use super::build::Built;
use super::load::{Entries, Problem};
use super::raw::Link;
use super::tried::{TryResult, fold, likelihoods};
use super::types::{CauseId, Finding, FindingId, FixId};

/// States less likely than this are raised to it; two-state chances are held this far from 0 and 1.
pub const FLOOR: f64 = 0.005;

/// Flat table of likelihoods.
#[derive(Debug, Clone)]
pub struct Table {
    findings: usize,
    offsets: Vec<usize>,
    width: usize,
    cells: Vec<f64>,
    linked: Vec<bool>,
    unlisted: Vec<f64>,
}

impl Table {
    /// P(state | cause) for all states of the finding.
    pub fn states(&self, cause: CauseId, finding: FindingId) -> &[f64] {
        let row = cause.at() * self.width;
        &self.cells[row + self.offsets[finding.at()]..row + self.offsets[finding.at() + 1]]
    }

    /// Whether the cause says anything of the finding.
    pub fn linked(&self, cause: CauseId, finding: FindingId) -> bool {
        self.linked[cause.at() * self.findings + finding.at()]
    }

    /// P(state | unlisted): the average suspect's.
    pub fn unlisted(&self, finding: FindingId) -> &[f64] {
        &self.unlisted[self.offsets[finding.at()]..self.offsets[finding.at() + 1]]
    }

    /// Writes the states of a cause, linked or not.
    pub(super) fn put(&mut self, cause: CauseId, finding: FindingId, values: &[f64]) {
        let start = cause.at() * self.width + self.offsets[finding.at()];
        self.cells[start..start + values.len()].copy_from_slice(values);
    }

    fn set(&mut self, cause: CauseId, finding: FindingId, values: &[f64]) {
        self.put(cause, finding, values);
        self.linked[cause.at() * self.findings + finding.at()] = true;
    }
}

/// Outcomes of a check that is also a fix, as results.
pub fn results_of(finding: &Finding) -> Vec<TryResult> {
    finding
        .states
        .iter()
        .filter_map(|s| TryResult::from_id(&s.id))
        .collect()
}

pub(super) fn table(entries: &Entries, built: &Built, problems: &mut Vec<Problem>) -> Table {
    let (causes, findings) = (built.causes.len(), built.findings.len());
    let mut offsets = vec![0];
    for finding in &built.findings {
        offsets.push(offsets[offsets.len() - 1] + finding.states.len());
    }
    let width = offsets[findings];
    let background: Vec<f64> = built
        .findings
        .iter()
        .flat_map(|f| f.states.iter().map(|s| s.background))
        .collect();
    let mut table = Table {
        findings,
        offsets,
        width,
        cells: background.repeat(causes),
        linked: vec![false; causes * findings],
        unlisted: vec![0.0; width],
    };

    for (c, (_, entry)) in entries.causes.iter().enumerate() {
        for (id, link) in &entry.raw.links {
            let key = format!("links.{id}");
            let Some(&f) = built.index.findings.get(id) else {
                let hint =
                    crate::nearest::hint(id, built.index.findings.keys().map(String::as_str));
                problems.push(entry.problem(&key, format!("`{id}` is no finding{hint}")));
                continue;
            };
            let finding = &built.findings[f.at()];
            if finding.also_fix.is_some() {
                problems.push(entry.problem(
                    &key,
                    "this check is also a fix: what it tells follows from the fix's chance of cure",
                ));
                continue;
            }
            match distribution(finding, link) {
                Ok(values) => table.set(CauseId(c as u16), f, &values),
                Err(message) => problems.push(entry.problem(&key, message)),
            }
        }
    }
    inherit(entries, built, &mut table, problems);
    for (f, finding) in built.findings.iter().enumerate() {
        if let Some(fix) = finding.also_fix {
            try_as_check(built, FindingId(f as u16), fix, &mut table);
        }
    }
    average(built, &mut table);
    table
}

/// P(state | cause) of one link: named states as given, the rest in proportion to the background.
fn distribution(finding: &Finding, link: &Link) -> Result<Vec<f64>, String> {
    let mut named: Vec<Option<f64>> = vec![None; finding.states.len()];
    match link {
        Link::Present(strength) => {
            if !finding.presence() {
                let states: Vec<_> = finding.states.iter().map(|s| s.id.as_str()).collect();
                return Err(format!("say which of its states: {}", states.join(", ")));
            }
            named[1] = Some(strength.against_background(finding.states[1].background)?);
        }
        Link::States(states) => {
            for (state, strength) in states {
                let at = finding.state(state).ok_or_else(|| {
                    format!(
                        "`{state}` is no state of it{}",
                        crate::nearest::hint(state, finding.states.iter().map(|s| s.id.as_str()))
                    )
                })?;
                named[at] = Some(strength.against_background(finding.states[at].background)?);
            }
        }
    }
    let sum: f64 = named.iter().flatten().sum();
    let open: f64 = named
        .iter()
        .zip(&finding.states)
        .filter(|(n, _)| n.is_none())
        .map(|(_, s)| s.background)
        .sum();
    if open > 0.0 && sum > 0.995 {
        return Err(format!(
            "the named states sum to {sum}: at most 0.995 while others are unnamed"
        ));
    }
    if open == 0.0 && (sum - 1.0).abs() > 1e-9 {
        return Err(format!("the states sum to {sum}, not to 1"));
    }
    let mut values: Vec<f64> = named
        .iter()
        .zip(&finding.states)
        .map(|(n, s)| n.unwrap_or_else(|| (1.0 - sum) * s.background / open))
        .collect();
    // States under the floor are raised to it; the others give way in proportion.
    let low = values.iter().filter(|v| **v < FLOOR).count() as f64;
    if low > 0.0 {
        let high: f64 = values.iter().filter(|v| **v >= FLOOR).sum();
        for v in &mut values {
            *v = if *v < FLOOR {
                FLOOR
            } else {
                *v * (1.0 - FLOOR * low) / high
            };
        }
    }
    Ok(values)
}

/// A root inherits the links of what it leads to, consequences of consequences first.
fn inherit(entries: &Entries, built: &Built, table: &mut Table, problems: &mut Vec<Problem>) {
    let mut waiting: Vec<usize> = (0..built.causes.len())
        .filter(|c| !built.causes[*c].consequence_of.is_empty())
        .collect();
    while !waiting.is_empty() {
        // Ready: nothing still waiting has this cause as its root.
        let ready = waiting.iter().position(|c| {
            !waiting.iter().any(|w| {
                built.causes[*w]
                    .consequence_of
                    .iter()
                    .any(|(root, _)| root.at() == *c)
            })
        });
        let Some(ready) = ready else {
            let names: Vec<_> = waiting
                .iter()
                .map(|c| built.causes[*c].id.as_str())
                .collect();
            let entry = &entries.causes[waiting[0]].1;
            problems.push(entry.problem(
                "consequence_of",
                format!(
                    "these lead to one another in a circle: {}",
                    names.join(", ")
                ),
            ));
            return;
        };
        let consequence = waiting.swap_remove(ready);
        waiting.sort_unstable();
        let k = CauseId(consequence as u16);
        for &(root, rho) in &built.causes[consequence].consequence_of {
            for (f, finding) in built.findings.iter().enumerate() {
                let f = FindingId(f as u16);
                if !table.linked(k, f) {
                    continue;
                }
                let own = table.states(root, f).to_vec();
                let theirs = table.states(k, f);
                let values: Vec<f64> = if finding.presence() {
                    let absent =
                        own[0] * (1.0 - rho + rho * theirs[0] / finding.states[0].background);
                    let absent = absent.clamp(FLOOR, 1.0 - FLOOR);
                    vec![absent, 1.0 - absent]
                } else {
                    own.iter()
                        .zip(theirs)
                        .map(|(o, t)| (1.0 - rho) * o + rho * t)
                        .collect()
                };
                table.set(root, f, &values);
            }
        }
    }
}

/// A check that is also a fix tells what a try of that fix tells.
fn try_as_check(built: &Built, f: FindingId, fix: FixId, table: &mut Table) {
    let results = results_of(&built.findings[f.at()]);
    let by_chance = built.fixes[fix.at()].by_chance;
    for &(cause, chance) in &built.fixes[fix.at()].cures {
        table.set(cause, f, &fold(likelihoods(&[chance], by_chance), &results));
    }
    let untouched = fold(likelihoods(&[], by_chance), &results);
    for c in 0..built.causes.len() {
        let cause = CauseId(c as u16);
        if !table.linked(cause, f) {
            table.set(cause, f, &untouched);
            table.linked[c * table.findings + f.at()] = false;
        }
    }
}

/// `unlisted` is the average suspect by book weight; for a try it is simply not touched.
fn average(built: &Built, table: &mut Table) {
    let total: f64 = built.causes.iter().map(|c| c.weight).sum();
    for (f, finding) in built.findings.iter().enumerate() {
        let start = table.offsets[f];
        if let Some(fix) = finding.also_fix {
            let untouched = likelihoods(&[], built.fixes[fix.at()].by_chance);
            let values = fold(untouched, &results_of(finding));
            table.unlisted[start..start + values.len()].copy_from_slice(&values);
            continue;
        }
        for s in 0..finding.states.len() {
            let sum: f64 = built
                .causes
                .iter()
                .enumerate()
                .map(|(c, cause)| cause.weight * table.cells[c * table.width + start + s])
                .sum();
            table.unlisted[start + s] = sum / total;
        }
    }
}
