//! Filament drawn back and pushed forward again.

use std::collections::{BTreeMap, VecDeque};

/// Less is a wipe's rounding and no retraction, mm.
const LEAST: f64 = 0.02;

/// Retractions whose place on the filament is kept at once.
const KEPT: usize = 4096;

/// Lengths told apart: hundredths of a millimetre, so many at most.
const LENGTHS: usize = 256;

/// Counts retractions. A wipe and the retraction before or after it are one.
#[derive(Debug, Default)]
pub(super) struct Withdraw {
    /// Drawn back and not yet pushed forward, mm.
    drawn: f64,
    /// How fast, mm/s: of the part that moves filament alone, else of the wipe.
    speed: f64,
    alone: bool,
    counted: bool,
    /// Filament that has gone forward, mm.
    fed: f64,
    /// Where on the filament the last retractions began, mm, and how long they were.
    places: VecDeque<f64>,
    lengths: BTreeMap<u32, (u32, f64)>,
    pub count: u32,
    /// The most that one stretch of filament was drawn through the gear.
    pub most: u32,
    /// A place in the file where that happened.
    pub most_line: u64,
    /// Filament pushed forward beyond what was drawn back, in all, mm; below 0 it falls short.
    extra: f64,
    restarts: u32,
}

impl Withdraw {
    /// Filament goes forward in a line.
    #[inline]
    pub fn feed(&mut self, e: f64) {
        if self.drawn > 0.0 {
            self.done();
        }
        self.fed += e;
    }

    /// Filament is pushed forward by itself.
    pub fn push(&mut self, e: f64) {
        if self.drawn > LEAST {
            self.extra += e - self.drawn;
            self.restarts += 1;
        }
        self.fed += (e - self.drawn).max(0.0);
        self.done();
    }

    /// Filament is drawn back, by itself or along a way. Returns whether that begins a retraction.
    pub fn draw(&mut self, e: f64, speed: f64, alone: bool, line: u64) -> bool {
        self.drawn += e;
        if alone || !self.alone {
            (self.speed, self.alone) = (speed, alone);
        }
        let begins = !self.counted && self.drawn > LEAST;
        if begins {
            self.counted = true;
            self.count += 1;
            self.stretch(line);
        }
        begins
    }

    /// A retraction is over.
    fn done(&mut self) {
        if self.counted {
            let key = (self.drawn * 100.0).round().clamp(0.0, 1e6) as u32;
            if self.lengths.len() < LENGTHS || self.lengths.contains_key(&key) {
                let entry = self.lengths.entry(key).or_default();
                entry.0 += 1;
                entry.1 = self.speed;
            }
        }
        (self.drawn, self.counted, self.alone) = (0.0, false, false);
    }

    /// Counts how often the filament that is now at the gear went through it: retractions whose
    /// beginning lies within one length of this.
    fn stretch(&mut self, line: u64) {
        let length = self.usual().0.max(0.4);
        while self
            .places
            .front()
            .is_some_and(|place| *place < self.fed - length)
        {
            self.places.pop_front();
        }
        if self.places.len() == KEPT {
            self.places.pop_front();
        }
        self.places.push_back(self.fed);
        if self.places.len() as u32 > self.most {
            (self.most, self.most_line) = (self.places.len() as u32, line);
        }
    }

    /// The usual length, mm, and its speed, mm/s: the commonest; 0 where there was none.
    pub fn usual(&self) -> (f64, f64) {
        let commonest = self
            .lengths
            .iter()
            .max_by_key(|(length, (count, _))| (*count, **length));
        match commonest {
            Some((length, (_, speed))) => (f64::from(*length) / 100.0, *speed),
            None if self.counted => (self.drawn, self.speed),
            None => (0.0, 0.0),
        }
    }

    /// The file ends, perhaps with the filament drawn back.
    pub fn end(&mut self) {
        if self.lengths.is_empty() {
            self.done();
        }
    }

    /// What is pushed forward beyond what was drawn back, on the mean, mm.
    pub fn extra(&self) -> f64 {
        if self.restarts > 0 {
            self.extra / f64::from(self.restarts)
        } else {
            0.0
        }
    }
}

#[cfg(test)]
mod tests {
    use super::Withdraw;

    #[test]
    fn a_wipe_and_its_retraction_are_one() {
        let mut withdraw = Withdraw::default();
        withdraw.feed(5.0);
        assert!(withdraw.draw(0.2, 60.0, false, 1));
        assert!(!withdraw.draw(0.2, 60.0, false, 2));
        assert!(!withdraw.draw(0.4, 35.0, true, 3));
        withdraw.push(0.8);
        withdraw.feed(5.0);
        assert_eq!(withdraw.count, 1);
        assert_eq!(withdraw.usual(), (0.8, 35.0));
        assert!(withdraw.extra().abs() < 1e-12);
    }

    #[test]
    fn many_on_one_stretch_are_counted_and_filament_ends_the_stretch() {
        let mut withdraw = Withdraw::default();
        for _ in 0..5 {
            withdraw.feed(0.1);
            withdraw.draw(1.0, 35.0, true, 7);
            withdraw.push(1.0);
        }
        assert_eq!((withdraw.most, withdraw.most_line), (5, 7));
        for _ in 0..5 {
            withdraw.feed(3.0);
            withdraw.draw(1.0, 35.0, true, 9);
            withdraw.push(1.0);
        }
        assert_eq!((withdraw.most, withdraw.count), (5, 10));
    }
}
