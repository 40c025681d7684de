//! The demo scenario: a made-up workshop, loaded by replaying real events through the core, always the same.

use anyhow::{Context, Result, bail};
use serde::Deserialize;
use std::collections::BTreeMap;
use suspect_core::case::{Event, Outcome};
use suspect_core::evidence::Confidence;
use suspect_core::knowledge::{Knowledge, TryResult};
use suspect_store::machines::Machine;
use suspect_store::{Store, Uuid};
use time::format_description::well_known::Rfc3339;
use time::{Duration, OffsetDateTime};

const SCENARIO: &str = include_str!("../demo/lantern-quay.toml");

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct Scenario {
    machine: Vec<DemoMachine>,
    case: Vec<DemoCase>,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct DemoMachine {
    name: String,
    model: String,
    profile: BTreeMap<String, String>,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct DemoCase {
    machine: String,
    title: String,
    opened: String,
    material: String,
    spool: String,
    #[serde(default)]
    numbers: BTreeMap<String, f64>,
    facts: Vec<String>,
    #[serde(default)]
    tried: Vec<String>,
    steps: Vec<String>,
}

/// Loads the demo into an empty database. Returns the number of cases, 0 when the database holds something already.
pub async fn load(store: &Store, knowledge: &Knowledge) -> Result<usize> {
    if !store.is_empty().await? {
        return Ok(0);
    }
    load_copies(store, knowledge, 1).await
}

/// Loads the demo's cases several times over the same machines: for measuring with many cases stored.
pub async fn load_copies(store: &Store, knowledge: &Knowledge, copies: usize) -> Result<usize> {
    let scenario: Scenario = toml::from_str(SCENARIO)?;
    let mut machines = BTreeMap::new();
    for (n, demo) in scenario.machine.iter().enumerate() {
        let at = OffsetDateTime::parse("2025-11-24T09:00:00Z", &Rfc3339)?;
        let machine = Machine {
            id: id(at, n as u64),
            name: demo.name.clone(),
            model: demo.model.clone(),
            profile: demo.profile.clone(),
            position: n as i32,
        };
        if store.machines().await?.iter().all(|m| m.name != machine.name) {
            store.add_machine(&machine).await?;
        }
        machines.insert(demo.name.clone(), machine);
    }
    let mut loaded = 0;
    for copy in 0..copies {
        for (n, case) in scenario.case.iter().enumerate() {
            let machine = machines.get(&case.machine).with_context(|| format!("no machine {}", case.machine))?;
            let salt = (copy * scenario.case.len() + n) as u64;
            load_case(store, knowledge, case, machine, salt).await.with_context(|| format!("demo case \"{}\"", case.title))?;
            loaded += 1;
        }
    }
    Ok(loaded)
}

async fn load_case(store: &Store, knowledge: &Knowledge, case: &DemoCase, machine: &Machine, salt: u64) -> Result<()> {
    let mut at = OffsetDateTime::parse(&case.opened, &Rfc3339)?;
    let mut events = vec![Event::Opened {
        title: case.title.clone(),
        machine_name: machine.name.clone(),
        machine: machine.profile.clone(),
        material: Some(case.material.clone()),
        spool: case.spool.clone(),
    }];
    events.extend(case.numbers.iter().map(|(number, value)| Event::Measured { number: number.clone(), value: *value }));
    for fact in &case.facts {
        events.push(observed(fact)?);
    }
    for tried in &case.tried {
        let (fix, result) = tried.split_once('=').context("tried is FIX=RESULT")?;
        events.push(Event::Tried { fix: fix.into(), result: TryResult::from_id(result).context("unknown result")? });
    }
    let id = id(at, 1000 + salt);
    let mut seq = store.open_case(knowledge, id, machine.id, &events, at).await?;
    for step in &case.steps {
        let (wait, event) = read_step(knowledge, step).with_context(|| format!("step \"{step}\""))?;
        at += wait;
        seq = store.append(knowledge, id, seq, &[event], at).await.with_context(|| format!("step \"{step}\""))?;
    }
    Ok(())
}

fn observed(fact: &str) -> Result<Event> {
    let (finding, state) = fact.split_once('=').context("a fact is FINDING=STATE")?;
    let (state, confidence) = match state.split_once(':') {
        Some((state, word)) => (state, Confidence::from_id(word).context("unknown confidence")?),
        None => (state, Confidence::Sure),
    };
    Ok(Event::Observed { finding: finding.into(), state: state.into(), confidence })
}

/// "+6 check watch-gear both-turn"
fn read_step(knowledge: &Knowledge, step: &str) -> Result<(Duration, Event)> {
    let mut words = step.split_whitespace();
    let mut word = || words.next().map(str::to_string).context("a word is missing");
    let wait = word()?;
    let wait = wait.trim_start_matches('+');
    let (wait, minutes) = match wait.strip_suffix('d') {
        Some(days) => (Duration::days(days.parse()?), 0.0),
        None => (Duration::minutes(wait.parse()?), wait.parse::<f64>()?),
    };
    let event = match word()?.as_str() {
        "check" => {
            let check = word()?;
            let id = knowledge.check_id(&check).context("unknown check")?;
            let hands_on = minutes.min(knowledge.check(id).work.minutes.max(1.0));
            Event::Checked { outcome: word()?, check, confidence: Confidence::Sure, minutes: hands_on }
        }
        "fix" => {
            let fix = word()?;
            let id = knowledge.fix_id(&fix).context("unknown fix")?;
            Event::Fixed { minutes: minutes.min(knowledge.fix(id).work.minutes + 5.0), money: knowledge.fix(id).work.money, fix }
        }
        "print" => {
            let result = TryResult::from_id(&word()?).context("unknown result")?;
            Event::Printed { result, grams: word()?.parse()?, minutes: 4.0 }
        }
        "observe" => {
            let finding = word()?;
            Event::Observed { finding, state: word()?, confidence: Confidence::Sure }
        }
        "note" => Event::Noted { text: rest(words) },
        "reopen" => Event::Reopened { reason: rest(words) },
        "close" => {
            let outcome = Outcome::from_id(&word()?).context("unknown outcome")?;
            let (cause, fix) = (word()?, word()?);
            Event::Resolved { outcome, cause: Some(cause), fix: Some(fix), note: rest(words) }
        }
        other => bail!("unknown step {other}"),
    };
    Ok((wait, event))
}

fn rest<'a>(words: impl Iterator<Item = &'a str>) -> String {
    words.collect::<Vec<_>>().join(" ")
}

/// A UUID of version 7 made from a moment and a number instead of chance, so that the demo is always the same.
fn id(at: OffsetDateTime, salt: u64) -> Uuid {
    let millis = (at.unix_timestamp_nanos() / 1_000_000) as u64 & 0xffff_ffff_ffff;
    let random = (u128::from(salt) * 0x9e37_79b9_7f4a_7c15_f39c_0d5b) & ((1 << 74) - 1);
    let value = (u128::from(millis) << 80) | (0x7 << 76) | ((random >> 62) << 64) | (0b10 << 62) | (random & ((1 << 62) - 1));
    Uuid::from_u128(value)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn demo_identifiers_are_version_7_and_differ() {
        let at = OffsetDateTime::UNIX_EPOCH + Duration::days(20_000);
        let ids: std::collections::BTreeSet<_> = (0..2000).map(|n| id(at, n)).collect();
        assert_eq!(ids.len(), 2000);
        assert!(ids.iter().all(|i| i.get_version_num() == 7 && i.get_variant() == uuid::Variant::RFC4122));
    }
}
