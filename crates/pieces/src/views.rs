//! What a drawing of a piece shows: outlines from above and from the front, and where to look.

use crate::region::Region;
use crate::stack::{Part, Solid};

/// From which side a spot is looked at.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Side {
    /// From above.
    Top,
    /// From the front.
    Front,
    /// From beneath.
    Under,
}

/// Where a feature is looked at: a box in mm on the piece.
#[derive(Debug, Clone, PartialEq)]
pub struct Spot {
    /// The feature's identifier, as in the reading sheet.
    pub feature: &'static str,
    /// Least corner.
    pub from: [f64; 3],
    /// Greatest corner.
    pub to: [f64; 3],
    /// From where.
    pub side: Side,
}

/// Outlines in mm. The front view has z upward.
#[derive(Debug, Clone, PartialEq)]
pub struct Views {
    /// Seen from above, what lies lowest first.
    pub top: Vec<Vec<[f64; 2]>>,
    /// Seen from the front.
    pub front: Vec<Vec<[f64; 2]>>,
}

fn mm(value: i32) -> f64 {
    f64::from(value) / 1000.0
}

/// Least and greatest x of each ring that is no hole.
fn spans(region: &Region) -> Vec<(f64, f64)> {
    let span = |ring: &Vec<[i32; 2]>| {
        let xs = || ring.iter().map(|p| p[0]);
        Some((mm(xs().min()?), mm(xs().max()?)))
    };
    region.rings().iter().filter_map(span).collect()
}

impl Views {
    /// Of a solid.
    pub fn of(solid: &Solid) -> Views {
        let (mut top, mut front) = (Vec::new(), Vec::new());
        for part in &solid.parts {
            let (below, above, z0, z1) = match part {
                Part::Add { z0, z1, region } => (region, region, *z0, *z1),
                Part::Loft {
                    z0,
                    z1,
                    bottom,
                    top,
                } => (bottom, top, *z0, *z1),
                Part::Cut { region, .. } => {
                    top.extend(rings(region));
                    continue;
                }
            };
            top.extend(rings(above));
            for ((a, b), (c, d)) in spans(below).into_iter().zip(spans(above)) {
                front.push(vec![[a, z0], [b, z0], [d, z1], [c, z1]]);
            }
        }
        Views { top, front }
    }
}

fn rings(region: &Region) -> impl Iterator<Item = Vec<[f64; 2]>> {
    region
        .rings()
        .iter()
        .map(|r| r.iter().map(|p| p.map(mm)).collect())
}
