//! The demo scenario: a made-up workshop, loaded by replaying real events through the core, always
//! the same.

mod files;
mod journal;
mod measured;
pub mod people;
mod pictures;
mod scenario;
mod series;
mod shelf;
mod step;

use anyhow::{Context, Result};
use pictures::read_scene;
use scenario::{DemoCase, Scenario};
use std::collections::BTreeMap;
use step::{observed, read_step};
use suspect_core::case::Event;
use suspect_core::knowledge::Knowledge;
use suspect_core::machine::{Described, MachineEvent};
use suspect_pictures::render::photo;
use suspect_pictures::{Kept, take_in};
use suspect_store::pictures::PictureBytes;
use suspect_store::{DemoState, Stamp, Store, Touch, Uuid};
use time::format_description::well_known::Rfc3339;
use time::{Duration, OffsetDateTime};

const SCENARIO: &str = include_str!("../../demo/lantern-quay.toml");

/// The stand-ins of the demo's machines: name of the stand-in, device and fault.
pub fn stand_ins() -> Result<Vec<(String, String, String)>> {
    let scenario: Scenario = toml::from_str(SCENARIO)?;
    let of = |m: &scenario::DemoMachine| {
        let name = m.name.to_lowercase();
        let one = |(device, fault): (&String, &String)| {
            (
                measured::stand_in(&name, device),
                device.clone(),
                fault.clone(),
            )
        };
        m.stand_ins.iter().map(one).collect::<Vec<_>>()
    };
    Ok(scenario.machine.iter().flat_map(of).collect())
}

/// Loads the demo into an empty database, or finishes one that was broken off. Returns the number
/// of cases, 0 when the database holds something else already.
///
/// Every entry carries an identity that is always the same: what is stored already is not stored
/// twice, so the loading may be broken off and begun again at any time.
pub async fn load(store: &Store, knowledge: &Knowledge) -> Result<usize> {
    let begun = store.demo_state().await? == DemoState::Begun;
    if !begun && !store.is_empty().await? {
        return Ok(0);
    }
    store.set_demo_state(DemoState::Begun).await?;
    let loaded = load_copies(store, knowledge, 1).await?;
    store.set_demo_state(DemoState::Whole).await?;
    Ok(loaded)
}

/// Everything of the demo happened before.
const END: OffsetDateTime = time::macros::datetime!(2027-01-01 00:00 UTC);

/// People of the made-up workshop, who take turns at the screen.
const PEOPLE: [&str; 3] = ["Ida", "Jonas", "Mira"];

/// When, who, and under which identity an entry of the demo is stored.
fn stamp(at: OffsetDateTime, who: u64, touch: u64) -> Stamp {
    Stamp {
        at,
        by: Some(PEOPLE[who as usize % PEOPLE.len()].into()),
        touch: Some(Touch {
            id: id(at, touch),
            after: Vec::new(),
        }),
    }
}

/// Loads the demo's cases several times over the same machines: for measuring with many cases
/// stored.
pub async fn load_copies(store: &Store, knowledge: &Knowledge, copies: usize) -> Result<usize> {
    let scenario: Scenario = toml::from_str(SCENARIO)?;
    let (machines, mut journals) = load_machines(store, knowledge, &scenario).await?;
    let begun = OffsetDateTime::parse("2026-11-20T17:10:00Z", &Rfc3339)?;
    if let Some((machine, _)) = machines.get("Grebe") {
        series::load(store, *machine, begun).await?;
    }
    let mut loaded = 0;
    let mut drawn = BTreeMap::new();
    // Case by case: a case that locks its machine comes after all that is still to be done on it.
    for (n, case) in scenario.case.iter().enumerate() {
        let machine = machines
            .get(&case.machine)
            .with_context(|| format!("no machine {}", case.machine))?;
        // A case finds the journal of its machine as it then was.
        if let Some(journal) = journals.get_mut(&case.machine) {
            let opened = OffsetDateTime::parse(&case.opened, &Rfc3339)?;
            journal.write(store, knowledge, opened).await?;
        }
        for copy in 0..copies {
            let salt = (copy * scenario.case.len() + n) as u64;
            load_case(store, knowledge, case, machine, salt, &mut drawn)
                .await
                .with_context(|| format!("demo case \"{}\"", case.title))?;
            loaded += 1;
        }
    }
    for journal in journals.values_mut() {
        journal.write(store, knowledge, END).await?;
    }
    let ids = machines.iter().map(|(name, (id, _))| (name.clone(), *id));
    shelf::load(store, knowledge, &scenario, &ids.collect()).await?;
    Ok(loaded)
}

/// Machines of the demo by name.
type Machines = BTreeMap<String, (Uuid, Described)>;

/// Adds the machines; what of their journals is still to be written is left for later.
async fn load_machines(
    store: &Store,
    knowledge: &Knowledge,
    scenario: &Scenario,
) -> Result<(Machines, BTreeMap<String, Pending>)> {
    let (mut machines, mut journals) = (BTreeMap::new(), BTreeMap::new());
    for (n, demo) in scenario.machine.iter().enumerate() {
        let at = OffsetDateTime::parse("2025-11-24T09:00:00Z", &Rfc3339)?;
        let machine_id = id(at, n as u64);
        let machine = Described {
            name: demo.name.clone(),
            model: demo.model.clone(),
            profile: demo.profile.clone(),
            place: demo.place.clone(),
            note: String::new(),
        };
        if store.machines().await?.iter().all(|m| m.id != machine_id) {
            let stamp = stamp(at, n as u64, 500 + n as u64);
            store
                .add_machine(knowledge, machine_id, &machine, stamp)
                .await?;
        }
        let pending = Pending {
            machine: machine_id,
            salt: n as u64,
            next: 0,
            told: journal::of(demo, at)?.into_iter(),
        };
        journals.insert(demo.name.clone(), pending);
        if !demo.good_file.is_empty() {
            let at = at + Duration::days(200);
            let (file, name) = files::keep(store, &demo.good_file, at).await?;
            let event = MachineEvent::Filed { file, name };
            let stamp = stamp(at, n as u64, 7_000 + n as u64);
            store
                .append_to_machine(knowledge, machine_id, None, &event, stamp)
                .await?;
        }
        machines.insert(demo.name.clone(), (machine_id, machine));
    }
    Ok((machines, journals))
}

/// Pictures drawn so far: many cases may show the same.
type Drawn = BTreeMap<String, Kept>;

/// What opens a case: title and machine, numbers, facts, what was tried, what was told.
fn opening(case: &DemoCase, machine: &Described) -> Result<Vec<Event>> {
    let mut events = vec![Event::Opened {
        title: case.title.clone(),
        machine_name: machine.name.clone(),
        machine: machine.profile.clone(),
        material: Some(case.material.clone()),
        spool: case.spool.clone(),
    }];
    events.extend(case.numbers.iter().map(|(number, value)| Event::Measured {
        number: number.clone(),
        value: *value,
        note: None,
    }));
    for fact in &case.facts {
        events.push(observed(fact)?);
    }
    for tried in &case.tried {
        let (fix, result) = tried.split_once('=').context("tried is FIX=RESULT")?;
        events.push(Event::Tried {
            fix: fix.into(),
            result: result.parse()?,
        });
    }
    if !case.told.is_empty() {
        let text = case.told.clone();
        events.push(Event::Told { text });
    }
    Ok(events)
}

async fn load_case(
    store: &Store,
    knowledge: &Knowledge,
    case: &DemoCase,
    (machine_id, machine): &(Uuid, Described),
    salt: u64,
    drawn: &mut Drawn,
) -> Result<()> {
    let mut at = OffsetDateTime::parse(&case.opened, &Rfc3339)?;
    let case_id = id(at, 1000 + salt);
    let events = opening(case, machine)?;
    let opened = stamp(at, salt, 20_000 + salt);
    let opened = store.open_case(knowledge, case_id, *machine_id, &events, opened);
    let mut seq = opened.await?;
    let mut pictures = Vec::new();
    for (n, picture) in (0..).zip(&case.pictures) {
        at += Duration::minutes(1);
        let picture_id = id(at, 9000 + 10 * salt + n);
        let kept = match drawn.get(picture) {
            Some(kept) => kept,
            None => drawn
                .entry(picture.clone())
                .or_insert(take_in(&photo(&read_scene(picture)?))?),
        };
        let event = Event::Pictured {
            picture: picture_id.to_string(),
            name: format!("photo-{}.jpg", n + 1),
            judgement: kept.judgement,
        };
        let bytes = PictureBytes {
            picture: &kept.picture,
            thumbnail: &kept.thumbnail,
        };
        let stamp = stamp(at, salt, 30_000 + 10 * salt + n);
        let added = store.add_picture(knowledge, case_id, seq, (picture_id, bytes), event, stamp);
        seq = added.await?;
        pictures.push(picture_id);
    }
    for (n, file) in (0..).zip(&case.files) {
        at += Duration::minutes(2);
        let (file, name) = files::keep(store, file, at).await?;
        let stamp = stamp(at, salt, 60_000 + 10 * salt + n);
        let events = [Event::Filed { file, name }];
        seq = store
            .append(knowledge, case_id, seq, &events, stamp)
            .await?;
    }
    for (n, step) in (0..).zip(&case.steps) {
        let told = || format!("step \"{step}\"");
        let (wait, event) = read_step(knowledge, &pictures, step).with_context(told)?;
        at += wait;
        let stamp = stamp(at, salt, 100_000 + 100 * salt + n);
        let events = [event];
        let appended = store.append(knowledge, case_id, seq, &events, stamp);
        seq = appended.await.with_context(told)?;
    }
    Ok(())
}

/// What of a machine's journal is still to be written, with the number of its next entry.
struct Pending {
    machine: Uuid,
    salt: u64,
    next: u64,
    told: std::vec::IntoIter<journal::Told>,
}

impl Pending {
    /// Writes what was told before a moment.
    async fn write(
        &mut self,
        store: &Store,
        knowledge: &Knowledge,
        before: OffsetDateTime,
    ) -> Result<()> {
        while let Some((at, event)) = self.told.as_slice().first().cloned() {
            if at >= before {
                break;
            }
            self.told.next();
            let stamp = stamp(
                at,
                self.salt + self.next,
                5_000 + 100 * self.salt + self.next,
            );
            self.next += 1;
            store
                .append_to_machine(knowledge, self.machine, None, &event, stamp)
                .await
                .with_context(|| format!("{event:?}"))?;
        }
        Ok(())
    }
}

/// A UUID of version 7 made from a moment and a number instead of chance, so that the demo is
/// always the same.
fn id(at: OffsetDateTime, salt: u64) -> Uuid {
    let millis = (at.unix_timestamp_nanos() / 1_000_000) as u64 & 0xffff_ffff_ffff;
    let random = (u128::from(salt) * 0x9e37_79b9_7f4a_7c15_f39c_0d5b) & ((1 << 74) - 1);
    let value = (u128::from(millis) << 80)
        | (0x7 << 76)
        | ((random >> 62) << 64)
        | (0b10 << 62)
        | (random & ((1 << 62) - 1));
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
        assert!(
            ids.iter()
                .all(|i| i.get_version_num() == 7 && i.get_variant() == uuid::Variant::RFC4122)
        );
    }
}
