//! What a series is after its log.

use super::end::{How, Keep};
use super::event::{Baseline, Entry, Event, Listed, Made, Printed};
use super::label::Label;
use crate::planning::Workshop;
use crate::trials::{
    self, Confidence, Course, Goal, Grade, List, ListProblem, Planned, Set, Word, slip_of_the_shop,
};
use std::collections::{BTreeMap, BTreeSet};
use time::OffsetDateTime;

/// One look at a piece.
#[derive(Debug, Clone, PartialEq)]
pub struct Look {
    /// Number of its entry.
    pub seq: u32,
    /// When.
    pub at: OffsetDateTime,
    /// Who.
    pub by: Option<String>,
    /// How it looked.
    pub grade: Grade,
    /// How surely.
    pub confidence: Confidence,
    /// A reading it rests on.
    pub reading: String,
    /// Seen without the settings.
    pub blind: bool,
    /// What else was seen.
    pub note: String,
}

/// A piece.
#[derive(Debug, Clone, PartialEq)]
pub struct Piece {
    /// Its label.
    pub label: Label,
    /// Number of the entry that made it.
    pub seq: u32,
    /// When it was made.
    pub at: OffsetDateTime,
    /// How it is made.
    pub made: Made,
    /// Looks, in order.
    pub looks: Vec<Look>,
    /// Pictures, in order.
    pub pictures: Vec<String>,
    /// It was taken back: its label stays used.
    pub gone: bool,
}

/// A series as it now is.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Series {
    /// What is looked for.
    pub name: String,
    /// The good piece.
    pub baseline: Baseline,
    /// Pictures of the good piece.
    pub baseline_pictures: Vec<String>,
    /// Grade of the bad piece.
    pub bad_grade: u8,
    /// What a piece costs.
    pub printed: Printed,
    /// Graders see letters.
    pub blind: bool,
    /// What differs.
    pub list: Vec<Listed>,
    /// Pairs known to disturb each other.
    pub fights: Vec<(String, String)>,
    /// Minutes once a group.
    pub group_minutes: BTreeMap<String, f64>,
    /// What is enough to find out.
    pub goal: Goal,
    /// Pieces in the order of their labels' making.
    pub pieces: Vec<Piece>,
    /// How it ended.
    pub ended: Option<(How, Vec<Keep>, String)>,
    /// Number of the last entry.
    pub seq: u32,
    /// Entries that may be taken back: pieces, looks, photos, places, the end. What a series is and
    /// what its pieces hang on stays.
    pub(super) may_go: BTreeSet<u32>,
}

/// What a series is after its log.
pub fn replay(log: &[Entry]) -> Series {
    let retracted = |seq: u32| {
        log.iter()
            .any(|e| matches!(e.event, Event::Retracted { entry } if entry == seq))
    };
    let mut series = Series::default();
    for entry in log {
        series.advance(entry, retracted(entry.seq));
    }
    series
}

impl Series {
    fn advance(&mut self, entry: &Entry, gone: bool) {
        self.seq = entry.seq;
        let stays = matches!(
            entry.event,
            Event::Begun { .. } | Event::Listed { .. } | Event::Retracted { .. }
        );
        if !gone && !stays {
            self.may_go.insert(entry.seq);
        }
        // A label stays used when its piece is taken back.
        if gone && !matches!(entry.event, Event::Made { .. }) {
            return;
        }
        match &entry.event {
            Event::Begun {
                name,
                baseline,
                bad_grade,
                printed,
                blind,
            } => {
                self.name.clone_from(name);
                self.baseline.clone_from(baseline);
                self.printed.clone_from(printed);
                (self.bad_grade, self.blind) = (*bad_grade, *blind);
            }
            Event::Listed {
                list,
                fights,
                group_minutes,
            } => {
                self.list.clone_from(list);
                self.fights.clone_from(fights);
                self.group_minutes.clone_from(group_minutes);
            }
            Event::Aimed { goal } => self.goal = *goal,
            Event::Made { label, made } => self.made(entry, label, made, gone),
            Event::Graded { label, .. }
            | Event::Pictured { label, .. }
            | Event::Placed { label, .. } => self.of_piece(entry, label),
            Event::Retracted { .. } => {}
            Event::Ended { how, keep, note } => {
                self.ended = Some((*how, keep.clone(), note.clone()));
            }
        }
    }

    fn made(&mut self, entry: &Entry, label: &str, made: &Made, gone: bool) {
        self.pieces.extend(Label::parse(label).map(|label| Piece {
            label,
            seq: entry.seq,
            at: entry.at,
            made: made.clone(),
            looks: Vec::new(),
            pictures: Vec::new(),
            gone,
        }));
    }

    fn of_piece(&mut self, entry: &Entry, label: &str) {
        if let (Event::Pictured { picture, .. }, "") = (&entry.event, label) {
            self.baseline_pictures.push(picture.clone());
            return;
        }
        let Some(piece) = self
            .pieces
            .iter_mut()
            .find(|p| p.label.to_string() == label)
        else {
            return;
        };
        match &entry.event {
            Event::Graded {
                grade,
                confidence,
                reading,
                blind,
                note,
                ..
            } => piece.looks.push(Look {
                seq: entry.seq,
                at: entry.at,
                by: entry.by.clone(),
                grade: *grade,
                confidence: *confidence,
                reading: reading.clone(),
                blind: *blind,
                note: note.clone(),
            }),
            Event::Pictured { picture, .. } => piece.pictures.push(picture.clone()),
            Event::Placed { place, .. } => piece.made.place.clone_from(place),
            _ => {}
        }
    }

    /// A piece that stands, by its label.
    pub fn piece(&self, label: Label) -> Option<&Piece> {
        self.pieces.iter().find(|p| p.label == label && !p.gone)
    }

    /// Pieces that stand.
    pub fn standing(&self) -> impl Iterator<Item = &Piece> {
        self.pieces.iter().filter(|p| !p.gone)
    }

    /// The label that the next piece with these differences old gets.
    pub fn next_label(&self, old: &[String]) -> Label {
        let same = |made: &Made| {
            made.old.len() == old.len() && made.old.iter().all(|name| old.contains(name))
        };
        let first = self.pieces.iter().find(|p| same(&p.made));
        // A list that has grown has another "all old": the number 0 stays with the first.
        let zero_is_free = self.pieces.iter().all(|p| p.label.set != 0);
        let set = match (first, old.len()) {
            (Some(piece), _) => piece.label.set,
            (None, 0) => 1,
            (None, n) if n == self.list.len() && zero_is_free => 0,
            (None, _) => self.fresh_set(),
        };
        let copy = self
            .pieces
            .iter()
            .filter(|p| p.label.set == set)
            .map(|p| p.label.copy + 1);
        Label::new(set, copy.max().unwrap_or(0))
    }

    fn fresh_set(&self) -> u32 {
        self.pieces
            .iter()
            .map(|p| p.label.set + 1)
            .max()
            .unwrap_or(2)
            .max(2)
    }

    /// What a piece costs before change-overs, counted minutes, and in money.
    pub fn price(&self, workshop: &Workshop) -> (f64, f64) {
        let money = self.printed.grams / 1000.0 * workshop.money_per_kg
            + self.printed.print_minutes / 60.0 * workshop.money_per_machine_hour;
        let per_minute = (workshop.money_per_hour / 60.0).max(1e-9);
        let waiting = workshop.waiting * self.printed.print_minutes;
        (
            self.printed.hands_minutes + waiting + money / per_minute,
            money,
        )
    }

    /// The list as it is planned with.
    ///
    /// # Errors
    ///
    /// [`ListProblem`] where no plan can be made of it.
    pub fn planned(&self, workshop: &Workshop) -> Result<Planned, ListProblem> {
        let (repeats, disagreements) = self.repeats();
        List {
            piece_minutes: self.price(workshop).0.max(0.1),
            bad_grade: f64::from(self.bad_grade),
            slip: slip_of_the_shop(repeats, disagreements),
            give_up_minutes: workshop.give_up,
            differences: self.list.iter().map(|l| l.difference.clone()).collect(),
            fights: self.fights.clone(),
            group_minutes: self.group_minutes.clone(),
            ..List::default()
        }
        .plan()
    }

    /// Looks after the first at one set, and how many of them say the opposite.
    fn repeats(&self) -> (u32, u32) {
        let mut by_set: BTreeMap<u32, Vec<bool>> = BTreeMap::new();
        for piece in self.standing() {
            let clear = piece.looks.iter().filter_map(|l| clean(l.grade));
            by_set.entry(piece.label.set).or_default().extend(clear);
        }
        let mut sum = (0, 0);
        for looks in by_set.values().filter(|l| l.len() > 1) {
            sum.0 += looks.len() as u32 - 1;
            let odd = looks[1..].iter().filter(|l| **l != looks[0]).count();
            sum.1 += odd as u32;
        }
        sum
    }

    /// The looks in their order, as the reckoning takes them.
    pub fn looks(&self, planned: &Planned) -> Vec<trials::Look> {
        let mut looks: Vec<(u32, trials::Look)> = Vec::new();
        for piece in self.standing() {
            let old = self.set(planned, &piece.made.old);
            looks.extend(piece.looks.iter().map(|look| {
                let confidence = match piece.made.earlier {
                    true => Confidence::Hunch,
                    false => look.confidence,
                };
                let said = trials::Look {
                    piece: piece.label.to_string(),
                    old,
                    grade: look.grade,
                    confidence,
                };
                (look.seq, said)
            }));
        }
        looks.sort_by_key(|(seq, _)| *seq);
        looks.into_iter().map(|(_, look)| look).collect()
    }

    /// The units of names.
    pub fn set(&self, planned: &Planned, names: &[String]) -> Set {
        let at = |name: &String| self.list.iter().position(|l| l.difference.name == *name);
        planned.units(names.iter().filter_map(at))
    }

    /// The names of units, every difference of a unit by itself.
    pub fn names(&self, planned: &Planned, set: Set) -> Vec<String> {
        let all = planned.differences(set).into_iter();
        all.map(|d| self.list[d].difference.name.clone()).collect()
    }

    /// What is known after all looks.
    pub fn course<'a>(&self, planned: &'a Planned) -> Course<'a> {
        Course::of(&planned.plan, &self.looks(planned))
    }
}

/// Whether a grade is nearer to clean than to the fault; nothing where it says neither.
fn clean(grade: Grade) -> Option<bool> {
    match grade {
        Grade::Number(g) => Some(g > 3).filter(|_| g != 3),
        Grade::Word(Word::Cured) => Some(true),
        Grade::Word(Word::Same | Word::Worse) => Some(false),
        Grade::Word(_) => None,
    }
}
