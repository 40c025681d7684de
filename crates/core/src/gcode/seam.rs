//! Where outer loops start, and whether the starts line up.

use super::layer::Layer;
use super::reading::Reading;
use super::report::to;
use serde_json::{Value, json};

/// A start lines up with one of the layer beneath that is no farther away, mm.
const BESIDE: f32 = 2.0;

/// Starts line up when this share of them does.
const ALIGNED: f64 = 0.7;

/// A file speaks of its seams from so many starts on.
const LEAST: usize = 3;

/// How the starts of a file line up.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Alignment {
    /// Share of the starts that have one beneath them.
    pub share: f64,
    /// Starts looked at.
    pub starts: usize,
    /// Share of outer loops that end more than a line before they close.
    pub short: f64,
}

impl Alignment {
    /// Whether the seam is one line up the wall.
    pub fn aligned(&self) -> bool {
        self.share >= ALIGNED
    }
}

/// How the starts of outer loops line up; none where there are too few.
pub fn alignment(reading: &Reading) -> Option<Alignment> {
    let (mut starts, mut beside) = (0, 0);
    for pair in reading.layers.windows(2) {
        for seam in &pair[1].seams {
            starts += 1;
            beside += usize::from(has_beside(&pair[0], *seam));
        }
    }
    let loops: u32 = reading.layers.iter().map(|l| l.loops).sum();
    let short: u32 = reading.layers.iter().map(|l| l.short_loops).sum();
    (starts >= LEAST).then(|| Alignment {
        share: f64::from(beside as u32) / f64::from(starts as u32),
        starts,
        short: f64::from(short) / f64::from(loops.max(1)),
    })
}

fn has_beside(layer: &Layer, at: [f32; 2]) -> bool {
    layer
        .seams
        .iter()
        .any(|other| (other[0] - at[0]).hypot(other[1] - at[1]) <= BESIDE)
}

pub(super) fn json(reading: &Reading) -> Value {
    let found = alignment(reading);
    json!({
        "aligned": found.map(|a| a.aligned()),
        "share": found.map(|a| to(3, a.share)),
        "starts": reading.layers.iter().map(|l| l.seams.len()).sum::<usize>(),
        "short_loops_share": found.map(|a| to(3, a.short)),
    })
}
