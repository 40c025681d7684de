//! The demo scenario: a made-up workshop, loaded by replaying real events through the core, always the same.

use anyhow::{Context, Result, bail};
use serde::Deserialize;
use std::collections::BTreeMap;
use suspect_core::case::{Event, Outcome};
use suspect_core::evidence::Confidence;
use suspect_core::knowledge::{Knowledge, TryResult};
use suspect_core::machine::{Described, MachineEvent};
use suspect_core::picture::{Mark, MarkKind};
use suspect_pictures::render::{Flaw, Scene, photo};
use suspect_pictures::{Kept, take_in};
use suspect_store::pictures::PictureBytes;
use suspect_store::{DemoState, Stamp, Store, Touch, Uuid};
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
    #[serde(default)]
    place: String,
    hours: DemoHours,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct DemoHours {
    counter: f64,
    fitted: BTreeMap<String, f64>,
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
    #[serde(default)]
    told: String,
    #[serde(default)]
    pictures: Vec<String>,
    facts: Vec<String>,
    #[serde(default)]
    tried: Vec<String>,
    steps: Vec<String>,
}

/// Loads the demo into an empty database, or finishes one that was broken off. Returns the number of
/// cases, 0 when the database holds something else already.
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

/// Loads the demo's cases several times over the same machines: for measuring with many cases stored.
pub async fn load_copies(store: &Store, knowledge: &Knowledge, copies: usize) -> Result<usize> {
    let scenario: Scenario = toml::from_str(SCENARIO)?;
    let mut machines = BTreeMap::new();
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
        note_hours(store, knowledge, machine_id, &demo.hours, (at, n as u64)).await?;
        machines.insert(demo.name.clone(), (machine_id, machine));
    }
    let mut loaded = 0;
    let mut drawn = BTreeMap::new();
    // Case by case: a case that locks its machine comes after all that is still to be done on it.
    for (n, case) in scenario.case.iter().enumerate() {
        let machine = machines
            .get(&case.machine)
            .with_context(|| format!("no machine {}", case.machine))?;
        for copy in 0..copies {
            let salt = (copy * scenario.case.len() + n) as u64;
            load_case(store, knowledge, case, machine, salt, &mut drawn)
                .await
                .with_context(|| format!("demo case \"{}\"", case.title))?;
            loaded += 1;
        }
    }
    Ok(loaded)
}

/// Pictures drawn so far: many cases may show the same.
type Drawn = BTreeMap<String, Kept>;

async fn load_case(
    store: &Store,
    knowledge: &Knowledge,
    case: &DemoCase,
    (machine_id, machine): &(Uuid, Described),
    salt: u64,
    drawn: &mut Drawn,
) -> Result<()> {
    let mut at = OffsetDateTime::parse(&case.opened, &Rfc3339)?;
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
            result: TryResult::from_id(result).context("unknown result")?,
        });
    }
    if !case.told.is_empty() {
        events.push(Event::Told {
            text: case.told.clone(),
        });
    }
    let case_id = id(at, 1000 + salt);
    let mut seq = store
        .open_case(
            knowledge,
            case_id,
            *machine_id,
            &events,
            stamp(at, salt, 20_000 + salt),
        )
        .await?;
    let mut pictures = Vec::new();
    for (n, picture) in case.pictures.iter().enumerate() {
        at += Duration::minutes(1);
        let picture_id = id(at, 9000 + 10 * salt + n as u64);
        let kept = match drawn.get(picture) {
            Some(kept) => kept,
            None => drawn
                .entry(picture.clone())
                .or_insert(take_in(&photo(&read_scene(picture)?))?),
        };
        let name = format!("photo-{}.jpg", n + 1);
        let event = Event::Pictured {
            picture: picture_id.to_string(),
            name,
            judgement: kept.judgement,
        };
        let bytes = PictureBytes {
            picture: &kept.picture,
            thumbnail: &kept.thumbnail,
        };
        let stamp = stamp(at, salt, 30_000 + 10 * salt + n as u64);
        let added = store.add_picture(knowledge, case_id, seq, (picture_id, bytes), event, stamp);
        seq = added.await?;
        pictures.push(picture_id);
    }
    for (n, step) in case.steps.iter().enumerate() {
        let told = || format!("step \"{step}\"");
        let (wait, event) = read_step(knowledge, &pictures, step).with_context(told)?;
        at += wait;
        let stamp = stamp(at, salt, 100_000 + 100 * salt + n as u64);
        let events = [event];
        let appended = store.append(knowledge, case_id, seq, &events, stamp);
        seq = appended.await.with_context(told)?;
    }
    Ok(())
}

/// Parts fitted and the counter as it stands now.
async fn note_hours(
    store: &Store,
    knowledge: &Knowledge,
    machine: Uuid,
    hours: &DemoHours,
    (at, n): (OffsetDateTime, u64),
) -> Result<()> {
    let mut fitted: Vec<_> = hours.fitted.iter().collect();
    fitted.sort_by(|a, b| a.1.total_cmp(b.1));
    let fitted = fitted.into_iter().zip(1i64..).map(|((part, hours), k)| {
        let part = part.clone();
        (
            at + Duration::days(60 * k),
            MachineEvent::Fitted {
                part,
                hours: *hours,
            },
        )
    });
    let hours = hours.counter;
    let counted = (at + Duration::days(350), MachineEvent::Counter { hours });
    for ((at, event), k) in fitted.chain([counted]).zip(0u64..) {
        let stamp = stamp(at, n, 700 + 20 * n + k);
        store
            .append_to_machine(knowledge, machine, None, &event, stamp)
            .await?;
    }
    Ok(())
}

/// "step blue blurred"
fn read_scene(text: &str) -> Result<Scene> {
    let words: Vec<&str> = text.split_whitespace().collect();
    let flaw = match words.first().copied() {
        Some("step") => Flaw::Step(0.5, 0.08),
        Some("strings") => Flaw::Strings,
        Some("pits") => Flaw::Pits,
        Some("bands") => Flaw::Bands,
        Some("lifted") => Flaw::Lifted,
        Some("starved") => Flaw::Starved,
        _ => bail!("unknown flaw in \"{text}\""),
    };
    let colour = match words.get(1).copied() {
        Some("blue") => [60, 110, 160],
        Some("green") => [70, 130, 84],
        Some("red") => [176, 62, 48],
        _ => bail!("unknown colour in \"{text}\""),
    };
    Ok(Scene {
        colour,
        flaw,
        lamp: 1.0,
        blur: if words.contains(&"blurred") { 6 } else { 0 },
    })
}

fn observed(fact: &str) -> Result<Event> {
    let (finding, state) = fact.split_once('=').context("a fact is FINDING=STATE")?;
    let (state, confidence) = match state.split_once(':') {
        Some((state, word)) => (
            state,
            Confidence::from_id(word).context("unknown confidence")?,
        ),
        None => (state, Confidence::Sure),
    };
    Ok(Event::Observed {
        finding: finding.into(),
        state: state.into(),
        confidence,
    })
}

/// "+6 check watch-gear both-turn"
fn read_step(knowledge: &Knowledge, pictures: &[Uuid], step: &str) -> Result<(Duration, Event)> {
    let mut words = step.split_whitespace();
    let mut word = || {
        words
            .next()
            .map(str::to_string)
            .context("a word is missing")
    };
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
            Event::Checked {
                outcome: word()?,
                check,
                confidence: Confidence::Sure,
                minutes: hands_on,
            }
        }
        "fix" => {
            let fix = word()?;
            let id = knowledge.fix_id(&fix).context("unknown fix")?;
            let work = &knowledge.fix(id).work;
            let values = rest(words);
            let mut values = values
                .split('|')
                .map(str::trim)
                .filter(|v| !v.is_empty())
                .map(str::to_string);
            let (before, after) = (values.next(), values.next());
            Event::Fixed {
                minutes: minutes.min(work.minutes + 5.0),
                money: work.money,
                fix,
                before,
                after,
            }
        }
        "print" => {
            let result = TryResult::from_id(&word()?).context("unknown result")?;
            Event::Printed {
                result,
                grams: word()?.parse()?,
                minutes: 4.0,
            }
        }
        "observe" => {
            let finding = word()?;
            Event::Observed {
                finding,
                state: word()?,
                confidence: Confidence::Sure,
            }
        }
        "mark" => {
            let picture = word()?
                .parse::<usize>()?
                .checked_sub(1)
                .and_then(|n| pictures.get(n))
                .context("no such picture")?
                .to_string();
            let kind = match word()?.as_str() {
                "circle" => MarkKind::Circle,
                "arrow" => MarkKind::Arrow,
                "text" => MarkKind::Text,
                other => bail!("unknown mark {other}"),
            };
            let mut place = || anyhow::Ok(word()?.parse::<f64>()?);
            let (x, y, to_x, to_y) = (place()?, place()?, place()?, place()?);
            Event::Marked {
                picture,
                marks: vec![Mark {
                    kind,
                    x,
                    y,
                    to_x,
                    to_y,
                    text: rest(words),
                }],
            }
        }
        "suggest" => Event::Suggested {
            by: word()?.replace('-', " "),
            cause: None,
            check: Some(word()?),
            text: rest(words),
        },
        "note" => Event::Noted { text: rest(words) },
        "reopen" => Event::Reopened {
            reason: rest(words),
        },
        "close" => {
            let outcome = Outcome::from_id(&word()?).context("unknown outcome")?;
            let (cause, fix) = (word()?, word()?);
            Event::Resolved {
                outcome,
                cause: Some(cause),
                fix: Some(fix),
                note: rest(words),
            }
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
