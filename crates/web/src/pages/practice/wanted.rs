//! What the form of a new practice case asks for.

use crate::form::{Errors, Fields};
use crate::page_error::PageError;
use crate::pages::parts::link::Choice;
use crate::state::AppState;
use std::collections::BTreeMap;
use std::sync::Arc;
use suspect_core::kinds::KINDS;
use suspect_core::knowledge::Family;
use suspect_core::learning::Learned;
use suspect_core::machine::build;
use suspect_core::profile::Context;
use suspect_rehearsal::practice::{LEVELS, Level, Wanted, any_level, seed_of};
use suspect_store::machines::Machine;

/// How far a world that differs from the book does so, in log-odds.
const DIFFERS: f64 = 0.5;
/// A level that is not known before.
pub const ANY: &str = "any";
/// Where a kind stands among machines: before its identifier.
const KIND: &str = "kind:";

/// What was asked for, to be drawn.
pub struct Asked {
    pub seed: u64,
    pub level: Level,
    pub family: Option<Family>,
    pub surprise: bool,
    machine: Option<Context>,
    rates: Option<Arc<Learned>>,
    perturb: f64,
}

impl Asked {
    pub fn wanted(&self) -> Wanted<'_> {
        Wanted {
            family: self.family,
            machine: self.machine.as_ref(),
            rates: self.rates.as_deref(),
            perturb: self.perturb,
            ..Wanted::of(self.seed, self.level)
        }
    }
}

/// How the machine is built that was chosen: one that stands here, or a kind.
fn built(stands: Option<&Machine>, chosen: &str) -> Result<Option<Context>, PageError> {
    Ok(match (stands, chosen.strip_prefix(KIND)) {
        (Some(machine), _) => Some(build(&machine.profile)),
        (None, Some(id)) => {
            let kind = KINDS.iter().find(|k| k.id == id);
            let profile = kind.ok_or(PageError::NotAForm)?.profile;
            let profile = profile.iter().map(|(f, v)| (f.to_string(), v.to_string()));
            Some(build(&profile.collect::<BTreeMap<_, _>>()))
        }
        (None, None) => None,
    })
}

/// Reads the form; what makes no sense goes to `errors`.
pub async fn read(
    state: &AppState,
    machines: &[Machine],
    fields: &Fields,
    errors: &mut Errors,
) -> Result<Option<Asked>, PageError> {
    let seed = seed_of(fields.get("seed"));
    if seed.is_none() {
        let words = format!(
            "“{}” is no seed: a whole number of any length is one.",
            suspect_core::nearest::short(fields.get("seed"))
        );
        errors.insert("seed".into(), words);
    }
    let surprise = fields.get("level") == ANY;
    let level = match (surprise, seed) {
        (true, Some(seed)) => Some(any_level(seed)),
        _ => Level::from_id(fields.get("level")),
    };
    if level.is_none() && !surprise {
        errors.insert("level".into(), "Choose how hard it is to be.".into());
    }
    let family = match fields.given("family") {
        None => None,
        Some(id) => Some(Family::from_id(id).ok_or(PageError::NotAForm)?),
    };
    let chosen = fields.get("machine");
    let stands = machines.iter().find(|m| m.id.to_string() == chosen);
    let machine = built(stands, chosen)?;
    let rates = match (fields.get("rates"), stands.or(machines.first())) {
        ("yes", Some(m)) => {
            let store = &state.store;
            store.learned(&state.knowledge, m.id, state.now()).await?
        }
        _ => None,
    };
    let perturb = match fields.get("differs") {
        "yes" => DIFFERS,
        _ => 0.0,
    };
    let (Some(seed), Some(level)) = (seed, level) else {
        return Ok(None);
    };
    Ok(Some(Asked {
        seed,
        level,
        family,
        surprise,
        machine,
        rates,
        perturb,
    }))
}

/// Levels to choose from.
pub fn levels(chosen: &str) -> Vec<Choice> {
    let of = |l: Level| Choice {
        value: l.id().into(),
        label: crate::words::practice::level(l).into(),
        chosen: chosen == l.id(),
    };
    LEVELS.map(of).into()
}

/// The same, and one that is not known before.
pub fn any_levels(chosen: &str) -> Vec<Choice> {
    let any = Choice {
        value: ANY.into(),
        label: "Surprise: it is said at the end".into(),
        chosen: chosen == ANY,
    };
    std::iter::once(any).chain(levels(chosen)).collect()
}

/// Families to choose from.
pub fn families(chosen: &str) -> Vec<Choice> {
    let faults = Family::ALL.into_iter().filter(|f| *f != Family::Normal);
    let of = |f: Family| Choice {
        value: f.id().into(),
        label: crate::words::outcome::family(f).into(),
        chosen: chosen == f.id(),
    };
    faults.map(of).collect()
}

/// Machines of the floor, and kinds.
pub fn machines(floor: &[Machine], chosen: &str) -> Vec<Choice> {
    let stands = floor.iter().map(|m| (m.id.to_string(), m.name.clone()));
    let kinds = KINDS.iter().map(|k| {
        let plain = format!("Any: {}", k.plain);
        (format!("{KIND}{}", k.id), plain)
    });
    let of = |(value, label): (String, String)| Choice {
        chosen: chosen == value,
        value,
        label,
    };
    stands.chain(kinds).map(of).collect()
}
