//! Members of the made-up workshop, one of every role, and an evening with them: so that signing in
//! and the shift can be tried. Their passphrases are made anew at each start and printed there.

use anyhow::Result;
use suspect_core::case::{Event, Status, WorkId};
use suspect_core::knowledge::Knowledge;
use suspect_core::people::{Role, author, pin};
use suspect_core::shift::{Shift, ShiftEvent, Who};
use suspect_store::{Stamp, Store, Uuid};
use time::{Duration, OffsetDateTime};

/// Who there is.
const MEMBERS: [(&str, Role); 5] = [
    ("Mira", Role::Keeper),
    ("Ida", Role::Technician),
    ("Jonas", Role::Volunteer),
    ("Noor", Role::Member),
    ("Tove", Role::Visitor),
];

/// Words of passphrases.
const WORDS: [&str; 32] = [
    "acorn", "barge", "candle", "dune", "ember", "fjord", "gravel", "harbour", "inkwell", "jetty",
    "kelp", "ladder", "mallet", "nettle", "oar", "pebble", "quarry", "rudder", "saddle", "thimble",
    "umber", "velvet", "walnut", "yarrow", "anchor", "bramble", "cobalt", "drizzle", "easel",
    "flint", "gusset", "hinge",
];
/// Words of one.
const LENGTH: usize = 6;

/// Minutes of the evening, and of the waits that run when it begins.
const EVENING: f64 = 180.0;
const WAITS: [f64; 2] = [35.0, 50.0];

/// A member with what lets them in.
pub struct Introduced {
    /// Name.
    pub name: &'static str,
    /// What they are.
    pub role: Role,
    /// Passphrase.
    pub passphrase: String,
    /// PIN for stations.
    pub pin: String,
}

/// Makes the members, or gives those there are new passphrases, and begins an evening.
pub async fn introduce(
    store: &Store,
    knowledge: &Knowledge,
    now: OffsetDateTime,
) -> Result<Vec<Introduced>> {
    let mut all = Vec::new();
    for (name, role) in MEMBERS {
        let passphrase = words();
        let pin = digits();
        let hash = suspect_web::hashed(&passphrase)?;
        let known = store.members().await?;
        let id = match known.iter().find(|m| m.name == name) {
            Some(member) => {
                store.set_secret(member.id, hash).await?;
                member.id
            }
            None => {
                let link = suspect_web::fresh_secret();
                let by = known.first().map(|m| m.id);
                store.invite(&link, (role, None), by, now).await?;
                store.take_invitation(&link, name, hash, now).await?
            }
        };
        store.set_pin(id, suspect_web::hashed(&pin)?).await?;
        all.push(Introduced {
            name,
            role,
            passphrase,
            pin,
        });
    }
    evening(store, knowledge, now).await?;
    Ok(all)
}

/// Chance without a source of its own: random identifiers are.
fn chance(below: usize) -> usize {
    (Uuid::new_v4().as_u128() % below as u128) as usize
}

fn words() -> String {
    let all: Vec<&str> = (0..LENGTH).map(|_| WORDS[chance(WORDS.len())]).collect();
    all.join(" ")
}

fn digits() -> String {
    loop {
        let text = format!("{:04}", chance(10_000));
        if pin(&text).is_ok() {
            return text;
        }
    }
}

/// An evening that begins now, with waits that run, unless one goes on.
async fn evening(store: &Store, knowledge: &Knowledge, now: OffsetDateTime) -> Result<()> {
    let latest = store.latest_things::<Shift>(1).await?;
    let goes_on = |s: &Shift| s.ended.is_none() && s.until.is_some_and(|until| until > now);
    if latest.first().is_some_and(|s| goes_on(&s.is)) {
        return Ok(());
    }
    let members = store.members().await?;
    let there = members
        .iter()
        .filter(|m| !m.left && m.role >= Role::Volunteer);
    let people = there.map(|m| Who {
        by: author(&m.id.to_string()),
        role: m.role,
    });
    let begun = ShiftEvent::Begun {
        people: people.collect(),
        until: now + Duration::seconds_f64(EVENING * 60.0),
        minutes: EVENING,
    };
    let stamp = Stamp::from(now);
    store
        .append_to_thing::<Shift>(knowledge, Uuid::now_v7(), 0, &[begun], stamp)
        .await?;
    let mut waits = WAITS.into_iter();
    for row in store.open_cases(100).await? {
        let log = store.case_log(row.id).await?;
        let case = suspect_core::case::replay(knowledge, &log);
        if !matches!(case.status, Status::Verifying(_)) || !case.stops.is_empty() {
            continue;
        }
        let Some(minutes) = waits.next() else { break };
        let wait = Event::TimerSet {
            work: WorkId::Proof,
            step: 1,
            minutes,
        };
        store
            .append(knowledge, row.id, row.last_seq, &[wait], Stamp::from(now))
            .await?;
    }
    Ok(())
}
