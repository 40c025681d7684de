//! The knowledge: causes, findings, checks, fixes, cautions, materials and stops.
//!
//! It is data (TOML files), loaded into typed, validated structures with dense indices: a cause is
//! an index, a finding is an index, likelihoods are a flat table. A bad folder is refused with
//! every problem at once.

mod build;
mod contradictions;
mod links;
mod load;
mod order;
mod perturb;
mod raw;
mod scrutiny;
mod strength;
mod tried;
mod types;
mod work;

pub mod parts;

pub use build::MOST_STATES;
pub use links::{FLOOR, Table, results_of};
pub use load::Problem;
pub use order::{Belongs, standings};
pub use strength::{WEIGHTS, WORDS};
pub(crate) use tried::touched as tried_touched;
pub use tried::{TryResult, UNTOUCHED, fold, half_mended, likelihoods as tried_likelihoods};
pub use types::*;

use crate::work_id::WorkId;
use include_dir::{Dir, include_dir};
use sha2::{Digest, Sha256};
use std::collections::BTreeMap;

static SHIPPED: Dir = include_dir!("$CARGO_MANIFEST_DIR/../../knowledge");

/// The whole checked set.
#[derive(Debug, Clone)]
pub struct Knowledge {
    /// Version as the folder states it.
    pub version: String,
    /// SHA-256 over names and contents of all files, in hexadecimal.
    pub sha256: String,
    /// Causes, in knowledge order.
    pub causes: Vec<Cause>,
    /// Findings: print, machine, history, numbers, then the checks' outcomes.
    pub findings: Vec<Finding>,
    /// Checks, in knowledge order.
    pub checks: Vec<Check>,
    /// Fixes, in knowledge order.
    pub fixes: Vec<Fix>,
    /// Cautions.
    pub cautions: Vec<Caution>,
    /// Material windows.
    pub materials: Vec<Material>,
    /// Stop conditions.
    pub stops: Vec<Stop>,
    /// What is looked at before a print.
    pub precautions: Vec<Precaution>,
    /// What keeps machines running, in the order in which a person goes round one.
    pub upkeep: Vec<UpkeepTask>,
    /// What brings a machine into service, in its order.
    pub commissioning: Vec<CommissionStep>,
    /// Kinds of machines that are known.
    pub machine_kinds: Vec<MachineKind>,
    /// Words of the field.
    pub glossary: Vec<Term>,
    /// Groups of words that mean the same to a person who searches.
    pub synonyms: Vec<Vec<String>>,
    /// Words by which people tell of findings.
    pub phrases: Vec<Phrase>,
    /// Signs that hardly stand beside each other.
    pub clashes: Vec<Clash>,
    /// Where practice differs.
    pub schools: Vec<School>,
    /// P(state | cause).
    pub table: Table,
    /// Pairs of causes that may act together, `i < j`.
    pub pairs: Vec<(CauseId, CauseId)>,
    /// Chance of cure by fix and cause.
    cures: Vec<f64>,
    index: build::Index,
}

impl Knowledge {
    /// Loads and validates the files of a knowledge folder, named relative to it
    /// (`causes/path.toml`).
    ///
    /// # Errors
    /// Every problem found, sorted by file and line.
    pub fn load(files: &BTreeMap<String, String>) -> Result<Self, Vec<Problem>> {
        let mut problems = Vec::new();
        let entries = load::read(files, &mut problems);
        let built = build::build(&entries, &mut problems);
        let table = links::table(&entries, &built, &mut problems);
        if problems.is_empty() {
            scrutiny::scrutinise(&entries, &built, &table, &mut problems);
            contradictions::find(&entries, &built, &table, &mut problems);
        }
        if !problems.is_empty() {
            problems.sort();
            problems.dedup();
            return Err(problems);
        }
        let mut hash = Sha256::new();
        for (name, text) in files {
            hash.update((name.len() as u64).to_be_bytes());
            hash.update(name);
            hash.update((text.len() as u64).to_be_bytes());
            hash.update(text);
        }
        let pairs = may_pair(&built.causes);
        let mut cures = vec![0.0; built.fixes.len() * built.causes.len()];
        for (x, fix) in built.fixes.iter().enumerate() {
            for (cause, chance) in &fix.cures {
                cures[x * built.causes.len() + cause.at()] = *chance;
            }
        }
        Ok(Self {
            version: entries.version,
            sha256: hash.finalize().iter().map(|b| format!("{b:02x}")).collect(),
            causes: built.causes,
            findings: built.findings,
            checks: built.checks,
            fixes: built.fixes,
            cautions: built.cautions,
            materials: built.materials,
            stops: built.stops,
            precautions: built.precautions,
            upkeep: built.upkeep,
            commissioning: built.commissioning,
            machine_kinds: built.machine_kinds,
            clashes: built.clashes,
            schools: built.schools,
            glossary: built.glossary,
            synonyms: entries.synonyms.into_iter().map(|e| e.raw.words).collect(),
            phrases: built.phrases,
            table,
            pairs,
            cures,
            index: built.index,
        })
    }

    /// The files shipped with the program, by name.
    pub fn shipped_files() -> BTreeMap<String, String> {
        fn collect(dir: &Dir, into: &mut BTreeMap<String, String>) {
            for file in dir
                .files()
                .filter(|f| f.path().extension().is_some_and(|e| e == "toml"))
            {
                if let Some(text) = file.contents_utf8() {
                    into.insert(
                        file.path().to_string_lossy().replace('\\', "/"),
                        text.to_string(),
                    );
                }
            }
            for sub in dir.dirs() {
                collect(sub, into);
            }
        }
        let mut files = BTreeMap::new();
        collect(&SHIPPED, &mut files);
        files
    }

    /// The knowledge shipped with the program.
    ///
    /// # Panics
    /// When the shipped files do not validate; a test keeps them valid.
    pub fn shipped() -> Self {
        Self::load(&Self::shipped_files()).unwrap_or_else(|problems| {
            let lines: Vec<_> = problems.iter().map(Problem::to_string).collect();
            panic!("the shipped knowledge has problems:\n{}", lines.join("\n"))
        })
    }

    /// The cause with this identifier.
    pub fn cause_id(&self, id: &str) -> Option<CauseId> {
        self.index.causes.get(id).copied()
    }

    /// The finding with this identifier.
    pub fn finding_id(&self, id: &str) -> Option<FindingId> {
        self.index.findings.get(id).copied()
    }

    /// The check with this identifier.
    pub fn check_id(&self, id: &str) -> Option<CheckId> {
        self.index.checks.get(id).copied()
    }

    /// The fix with this identifier.
    pub fn fix_id(&self, id: &str) -> Option<FixId> {
        self.index.fixes.get(id).copied()
    }

    /// A cause by index.
    pub fn cause(&self, id: CauseId) -> &Cause {
        &self.causes[id.at()]
    }

    /// A finding by index.
    pub fn finding(&self, id: FindingId) -> &Finding {
        &self.findings[id.at()]
    }

    /// A check by index.
    pub fn check(&self, id: CheckId) -> &Check {
        &self.checks[id.at()]
    }

    /// The identifier of a check: that of its finding.
    pub fn check_name(&self, id: CheckId) -> &str {
        &self.finding(self.check(id).finding).id
    }

    /// A fix by index.
    pub fn fix(&self, id: FixId) -> &Fix {
        &self.fixes[id.at()]
    }

    /// All finding indices in knowledge order.
    pub fn finding_ids(&self) -> impl Iterator<Item = FindingId> + use<> {
        (0..self.findings.len() as u16).map(FindingId)
    }

    /// Findings of a place of the print, or of a part of the machine, in knowledge order.
    pub fn findings_of(&self, region: Region) -> impl Iterator<Item = FindingId> + '_ {
        let all = self.findings.iter().enumerate();
        all.filter(move |(_, f)| f.region == Some(region))
            .map(|(at, _)| FindingId(at as u16))
    }

    /// The place of the stop with this identifier.
    pub fn stop_at(&self, id: &str) -> Option<usize> {
        self.stops.iter().position(|s| s.id == id)
    }

    /// What a piece of work takes; nothing for a proof by printing, which hangs on its fix.
    pub fn work(&self, work: &WorkId) -> Option<&Work> {
        match work {
            WorkId::Check(id) => self.check_id(id).map(|c| &self.check(c).work),
            WorkId::Fix(id) => self.fix_id(id).map(|x| &self.fix(x).work),
            WorkId::Stop(id) => self.stop_at(id).map(|s| &self.stops[s].work),
            WorkId::Proof => None,
        }
    }

    /// Every fix.
    pub fn fix_ids(&self) -> impl Iterator<Item = FixId> + use<> {
        (0..self.fixes.len() as u16).map(FixId)
    }

    /// All cause indices in knowledge order.
    pub fn cause_ids(&self) -> impl Iterator<Item = CauseId> + use<> {
        (0..self.causes.len() as u16).map(CauseId)
    }

    /// The material window of a family.
    pub fn material(&self, id: &str) -> Option<&Material> {
        self.materials.iter().find(|m| m.id == id)
    }

    /// Chance that a fix cures a cause: 0 when it does not touch it, else 0.05..0.95.
    pub fn cure(&self, fix: FixId, cause: CauseId) -> f64 {
        self.cures[fix.at() * self.causes.len() + cause.at()]
    }

    /// Weight of a cause in a context: book weight times the factors that are known to hold. 0:
    /// impossible there.
    pub fn weight(&self, cause: CauseId, context: &crate::profile::Context) -> f64 {
        let cause = self.cause(cause);
        cause
            .factors
            .iter()
            .filter(|(c, _)| c.holds(context) == Some(true))
            .fold(cause.weight, |w, (_, f)| w * f)
    }
}

/// Never paired: causes of one exclusive group, `normal` causes, a cause with its own consequence.
fn may_pair(causes: &[Cause]) -> Vec<(CauseId, CauseId)> {
    let leads_to = |root: usize, to: &Cause| to.consequence_of.iter().any(|(r, _)| r.at() == root);
    let mut pairs = Vec::new();
    for (i, a) in causes.iter().enumerate() {
        for (j, b) in causes.iter().enumerate().skip(i + 1) {
            let normal = a.family == Family::Normal || b.family == Family::Normal;
            let exclusive = a.exclusive.iter().any(|g| b.exclusive.contains(g));
            if !normal && !exclusive && !leads_to(i, b) && !leads_to(j, a) {
                pairs.push((CauseId(i as u16), CauseId(j as u16)));
            }
        }
    }
    pairs
}
