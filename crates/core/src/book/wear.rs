//! How worn the parts of a machine are, and what that makes likelier.

use super::{Book, PartHours};
use crate::knowledge::parts::{PARTS, Part};
use crate::knowledge::{Knowledge, MachineKind};
use crate::learning::learned::{Reason, Why};
use crate::learning::wear::Life;
use crate::machine::QuirkNow;
use time::{Duration, OffsetDateTime};

/// Hours read longer ago than this say nothing of how worn a part is today.
const READ_WITHIN: Duration = Duration::days(30);

/// Lives of one part in the shop: on machines of a kind, and on others. Ended worn, and running or
/// replaced early.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Lives {
    /// Ended worn, on this kind.
    pub ended: Vec<f64>,
    /// Running or replaced early, on this kind.
    pub running: Vec<f64>,
    /// Ended worn, on other kinds.
    pub ended_elsewhere: Vec<f64>,
    /// Running or replaced early, on other kinds.
    pub running_elsewhere: Vec<f64>,
}

impl Lives {
    /// Adds what a machine's book says of a part. `running`: hours of the one that runs, for other
    /// machines than the one asked about.
    pub fn add(&mut self, book: &Book, part: &str, same_kind: bool, running: Option<f64>) {
        let (ended, mut early) = book.lives(part);
        early.extend(running.filter(|h| *h > 0.0));
        let (to_ended, to_running) = match same_kind {
            true => (&mut self.ended, &mut self.running),
            false => (&mut self.ended_elsewhere, &mut self.running_elsewhere),
        };
        to_ended.extend(ended);
        to_running.extend(early);
    }

    /// How long the part lives, from its usual life and these.
    pub fn life(&self, usual: f64) -> Life {
        let here = (&self.ended[..], &self.running[..]);
        Life::of(
            usual,
            here,
            (&self.ended_elsewhere, &self.running_elsewhere),
        )
    }
}

/// One part of a machine as it stands.
#[derive(Debug, Clone, Copy)]
pub struct PartState {
    /// The part with its hours.
    pub hours: PartHours,
    /// Its usual life: the maker's where the kind says so; none where nobody knows.
    pub usual: Option<f64>,
    /// How long it lives here, its own hours left out.
    pub life: Option<Life>,
    /// Lives that ended in the workshop.
    pub ended: usize,
    /// Chance that it is worn by now.
    pub worn: Option<f64>,
    /// What its hours multiply the weight of its cause by.
    pub factor: f64,
}

impl PartState {
    /// Hours left until it is worn with chances 0.2, 0.5 and 0.8, given that it is sound now.
    pub fn left(&self) -> Option<[f64; 3]> {
        let (life, hours) = self.life.zip(self.hours.hours)?;
        Some([0.2, 0.5, 0.8].map(|q| life.due(hours, q) - hours))
    }
}

/// A machine among others: the name of its kind as it looks ([`crate::text::look`]), the hours of
/// its parts ([`super::hours`]), its book. Names and hours are made once a floor, not once a part.
#[derive(Debug, Clone, Copy)]
pub struct Beside<'a> {
    /// The name of its kind, as it looks.
    pub kind: &'a str,
    /// Hours of its parts.
    pub hours: &'a [PartHours],
    /// Its book.
    pub book: &'a Book,
}

impl Beside<'_> {
    /// Hours of one of its parts; nothing where it has no such part.
    pub fn part(&self, id: &str) -> Option<&PartHours> {
        self.hours.iter().find(|h| h.part.id == id)
    }
}

/// Every part of a machine as it stands. `others` are the other machines of the shop.
pub fn states(
    own: Beside<'_>,
    known: Option<&MachineKind>,
    others: &[Beside<'_>],
    now: OffsetDateTime,
) -> Vec<PartState> {
    let last = own.book.readings.last();
    let fresh = last.is_some_and(|r| now - r.at <= READ_WITHIN);
    let of = |hours: PartHours| {
        let usual = usual(hours.part, known);
        let mut lives = Lives::default();
        lives.add(own.book, hours.part.id, true, None);
        for other in others {
            if let Some(running) = other.part(hours.part.id) {
                let same = own.kind == other.kind;
                lives.add(other.book, hours.part.id, same, running.hours);
            }
        }
        let life = usual.map(|usual| lives.life(usual));
        PartState {
            hours,
            usual,
            life,
            ended: lives.ended.len() + lives.ended_elsewhere.len(),
            worn: life.zip(hours.hours).map(|(l, t)| l.worn(t)),
            factor: life.map_or(1.0, |l| l.factor(hours.hours.filter(|_| fresh))),
        }
    };
    own.hours.iter().copied().map(of).collect()
}

fn usual(part: &Part, known: Option<&MachineKind>) -> Option<f64> {
    let makers = known.and_then(|k| k.lives.get(part.id).copied());
    makers.or(part.usual.map(|(hours, _)| hours))
}

/// What the book of a machine says of suspects: hours of its parts, quirks that are not mended.
pub fn reasons(
    knowledge: &Knowledge,
    states: &[PartState],
    known: Option<&MachineKind>,
    book: &Book,
) -> Vec<Reason> {
    let worn = states.iter().filter_map(|s| {
        let (_, cause) = s.hours.part.usual?;
        let cause = knowledge.cause_id(cause)?;
        // A factor of 1 says nothing: hours unknown, or read too long ago.
        let says = (s.factor - 1.0).abs() > 1e-9;
        let why = Why::Part {
            part: s.hours.part.id,
            hours: s.hours.hours.filter(|_| says)?,
            usual: s.usual?,
        };
        let factor = s.factor;
        Some(Reason { cause, factor, why })
    });
    let open = |quirk: &str| {
        let now = book.quirks.get(quirk).map_or(QuirkNow::Open, |q| q.now);
        matches!(now, QuirkNow::Open | QuirkNow::Postponed)
    };
    let quirks = known.map_or(&[][..], |k| &k.quirks).iter();
    let quirks = quirks.filter(|q| open(&q.id)).flat_map(|q| {
        q.raises.iter().map(|(cause, factor)| Reason {
            cause: *cause,
            factor: *factor,
            why: Why::Quirk(q.name.clone()),
        })
    });
    worn.chain(quirks).collect()
}

/// Lives that ended in the shop before one may tell how long a part lives there.
const LEAST_ENDED: usize = 2;

/// How long a part lives in this shop.
#[derive(Debug, Clone, Copy)]
pub struct ShopLife {
    /// The part.
    pub part: &'static Part,
    /// Lives that ended worn.
    pub ended: usize,
    /// Its usual life by the book.
    pub usual: f64,
    /// Hours by which two, five and eight in ten are worn.
    pub worn_by: [f64; 3],
}

/// How long parts live over all machines of the shop: those of which two lives ended, by their
/// place on a machine.
pub fn shop_lives(machines: &[Beside<'_>]) -> Vec<ShopLife> {
    let of = |part: &'static Part| {
        let (usual, _) = part.usual?;
        let mut lives = Lives::default();
        for machine in machines {
            let running = machine.part(part.id).filter(|h| h.fitted.is_some());
            lives.add(machine.book, part.id, true, running.and_then(|h| h.hours));
        }
        let life = lives.life(usual);
        (lives.ended.len() >= LEAST_ENDED).then(|| ShopLife {
            part,
            ended: lives.ended.len(),
            usual,
            worn_by: [0.2, 0.5, 0.8].map(|q| life.due(0.0, q)),
        })
    };
    PARTS.iter().filter_map(of).collect()
}
