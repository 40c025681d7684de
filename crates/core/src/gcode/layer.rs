//! What a file does in one layer.

use super::line_type::{LINE_TYPES, LineType};
use super::machine::Machine;
use serde::{Deserialize, Serialize};

/// Seams kept of one layer.
pub const SEAMS_KEPT: usize = 12;

/// A value and how long it held: the one that held longest wins, in one pass and without a list.
#[derive(Debug, Clone, Copy, Default, PartialEq, Serialize, Deserialize)]
pub struct Held {
    /// The value.
    pub value: f32,
    #[serde(skip)]
    lead: f32,
}

impl Held {
    /// The value held for so long.
    #[inline]
    pub(crate) fn hold(&mut self, value: f32, long: f32) {
        if self.value == value {
            self.lead += long;
        } else if self.lead >= long {
            self.lead -= long;
        } else {
            *self = Held {
                value,
                lead: long - self.lead,
            };
        }
    }
}

/// A box on the plate, mm: left, front, right, back. Empty while left is right of right.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Extent(pub [f32; 4]);

impl Default for Extent {
    fn default() -> Self {
        Extent([f32::MAX, f32::MAX, f32::MIN, f32::MIN])
    }
}

impl Extent {
    /// Takes in a place.
    #[inline]
    pub(crate) fn add(&mut self, x: f64, y: f64) {
        let (x, y) = (x as f32, y as f32);
        let [left, front, right, back] = self.0;
        self.0 = [
            if x < left { x } else { left },
            if y < front { y } else { front },
            if x > right { x } else { right },
            if y > back { y } else { back },
        ];
    }

    /// Takes in another box.
    pub fn join(&mut self, other: &Extent) {
        let [a, b, c, d] = self.0;
        let [e, f, g, h] = other.0;
        self.0 = [a.min(e), b.min(f), c.max(g), d.max(h)];
    }

    /// Width and depth, mm.
    pub fn size(&self) -> Option<[f32; 2]> {
        let [left, front, right, back] = self.0;
        (left <= right).then_some([right - left, back - front])
    }

    /// How far the other box sticks out of this one, mm.
    pub fn outside(&self, other: &Extent) -> f32 {
        let [a, b, c, d] = self.0;
        let [e, f, g, h] = other.0;
        (a - e).max(b - f).max(g - c).max(h - d)
    }
}

/// One layer in figures. Lengths in mm, times in s, volumes in mm³, temperatures in °C.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize)]
pub struct Layer {
    /// Line at which it begins, from 1.
    pub line: u64,
    /// Where that line begins, in bytes.
    pub offset: u64,
    /// Height of the nozzle.
    pub z: f64,
    /// Its own height, as the file says or from the layer beneath.
    pub height: f64,
    /// The file says its height.
    pub height_stated: bool,
    /// Filament in it, what is drawn back subtracted.
    pub filament: f64,
    /// With acceleration.
    pub time: f64,
    /// As if every move had its speed from the first millimetre.
    pub plain_time: f64,
    /// Filament laid in lines.
    pub laid_filament: f64,
    /// Length of the lines laid.
    pub laid: f64,
    /// Time of the lines laid, without acceleration.
    pub laid_time: f64,
    /// The most filament a second in any line longer than a fifth of a millimetre.
    pub peak_rate: f64,
    /// Line of the file with that.
    pub peak_line: u64,
    /// Length laid by line type.
    pub laid_by_type: [f32; LINE_TYPES],
    /// Time of it by line type, without acceleration.
    pub time_by_type: [f32; LINE_TYPES],
    /// Width as the file states it, over the length; 0 where it does not.
    pub width_stated: f32,
    /// Part fan, 0 to 1, that held longest.
    pub fan: Held,
    /// The fastest the part fan ran, 0 to 1.
    pub fan_most: f32,
    /// Nozzle as asked, that held longest.
    pub nozzle: Held,
    /// Bed as asked, that held longest.
    pub bed: Held,
    /// Acceleration of laying moves that held longest, mm/s².
    pub acceleration: Held,
    /// Pressure term that held longest; below 0 where the file sets none.
    pub pressure: Held,
    /// Flow factor that held longest.
    pub flow_factor: Held,
    /// Speed factor that held longest.
    pub speed_factor: Held,
    /// Times filament was drawn back.
    pub retractions: u32,
    /// Ways without plastic.
    pub travel: f64,
    /// Of them over places where nothing stands.
    pub open_travel: f64,
    /// Lines that hang over nothing for more than a bridge's least span.
    pub bridges: f64,
    /// Starts in the air.
    pub air_starts: u32,
    /// The first of them: X, Y.
    pub air_at: [f32; 2],
    /// Its line in the file.
    pub air_line: u64,
    /// Where outer loops start: X, Y.
    pub seams: Vec<[f32; 2]>,
    /// Outer loops that end more than a line's width before they close.
    pub short_loops: u32,
    /// Outer loops.
    pub loops: u32,
    /// Direction of the longest outer loop: its area, above 0 counter-clockwise, mm².
    pub loop_area: f32,
    /// Box of what is laid.
    pub extent: Extent,
    /// Box of where the head goes without laying.
    pub roamed: Extent,
    /// Times it stands still for somebody, or the filament is changed.
    pub pauses: u32,
    /// State at its beginning, to read it again.
    pub(crate) start: Option<Box<Start>>,
}

/// What must be known to read a layer again from its place in the file.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub(crate) struct Start {
    pub machine: Machine,
    pub line_type: LineType,
    pub width: f64,
}

impl Layer {
    /// Whether anything is laid in it.
    pub fn is_laid(&self) -> bool {
        self.laid > 0.0
    }

    /// Counts in what was done in another one that is no layer of its own.
    pub(crate) fn count_in(&mut self, other: &Layer) {
        self.filament += other.filament;
        self.time += other.time;
        self.plain_time += other.plain_time;
        self.laid += other.laid;
        self.laid_time += other.laid_time;
        self.laid_filament += other.laid_filament;
        self.travel += other.travel;
        self.open_travel += other.open_travel;
        self.retractions += other.retractions;
        self.pauses += other.pauses;
    }

    /// Filament a second where plastic is laid, on the mean, mm/s.
    pub fn rate(&self) -> f64 {
        if self.laid_time > 0.0 {
            self.laid_filament / self.laid_time
        } else {
            0.0
        }
    }

    /// Speed at which plastic is laid, on the mean, mm/s.
    pub fn speed(&self) -> f64 {
        if self.laid_time > 0.0 {
            self.laid / self.laid_time
        } else {
            0.0
        }
    }

    /// Speed of one line type, on the mean, mm/s.
    pub fn speed_of(&self, line_type: LineType) -> Option<f64> {
        let at = line_type.index();
        let time = f64::from(self.time_by_type[at]);
        (time > 0.0).then(|| f64::from(self.laid_by_type[at]) / time)
    }

    /// Share of the laid length that a line type has.
    pub fn share_of(&self, line_type: LineType) -> f64 {
        if self.laid > 0.0 {
            f64::from(self.laid_by_type[line_type.index()]) / self.laid
        } else {
            0.0
        }
    }

    /// Width of its lines, mm: as stated, else from the filament of cross-section `area` mm² that
    /// is laid along its length at its height.
    pub fn width(&self, area: f64) -> f64 {
        let stated = f64::from(self.width_stated);
        if stated > 0.0 {
            stated
        } else if self.laid > 0.0 && self.height > 0.0 {
            self.laid_filament * area / (self.laid * self.height)
        } else {
            0.0
        }
    }
}

#[cfg(test)]
mod tests {
    use super::{Extent, Held};

    #[test]
    fn what_held_longest_wins() {
        let mut held = Held::default();
        for (value, long) in [(1.0, 1.0), (0.5, 5.0), (0.0, 2.0), (0.5, 1.0), (1.0, 1.0)] {
            held.hold(value, long);
        }
        assert_eq!(held.value, 0.5);
    }

    #[test]
    fn a_box_knows_what_sticks_out() {
        let mut inner = Extent::default();
        assert_eq!(inner.size(), None);
        inner.add(0.0, 0.0);
        inner.add(10.0, 5.0);
        let mut other = Extent::default();
        other.add(12.0, 2.0);
        assert_eq!(inner.outside(&other), 2.0);
        assert_eq!(inner.size(), Some([10.0, 5.0]));
    }
}
