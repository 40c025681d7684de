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

/// The outlines of one part, mm; those of holes among them.
#[derive(Debug, Clone, PartialEq)]
pub struct Shape {
    /// Outlines.
    pub rings: Vec<Vec<[f64; 2]>>,
    /// It is cut away.
    pub cut: bool,
}

/// Shapes in mm, what lies farthest first. The front view has z upward.
#[derive(Debug, Clone, PartialEq)]
pub struct Views {
    /// Seen from above.
    pub top: Vec<Shape>,
    /// Seen from the front.
    pub front: Vec<Shape>,
}

fn mm(value: i32) -> f64 {
    f64::from(value) / 1000.0
}

/// A part as both views take it.
struct Seen<'a> {
    below: &'a Region,
    above: &'a Region,
    z0: f64,
    z1: f64,
    cut: bool,
}

impl Seen<'_> {
    fn of(part: &Part) -> Seen<'_> {
        let (below, above, z0, z1, cut) = match part {
            Part::Add { z0, z1, region } => (region, region, z0, z1, false),
            Part::Cut { z0, z1, region } => (region, region, z0, z1, true),
            Part::Loft {
                z0,
                z1,
                bottom,
                top,
            } => (bottom, top, z0, z1, false),
        };
        Seen {
            below,
            above,
            z0: *z0,
            z1: *z1,
            cut,
        }
    }

    /// The outline from the front: one shape for each ring that is no hole, the farthest first.
    fn front(&self) -> Vec<(f64, Shape)> {
        let span = |ring: &Vec<[i32; 2]>| {
            let xs = || ring.iter().map(|p| p[0]);
            let near = ring.iter().map(|p| p[1]).min()?;
            Some((mm(xs().min()?), mm(xs().max()?), mm(near)))
        };
        let rings = self.below.rings().iter().zip(self.above.rings());
        let outer = rings.filter(|(_, above)| counter_clockwise(above));
        outer
            .filter_map(|(below, above)| Some((span(below)?, span(above)?)))
            .map(|((a, b, near), (c, d, _))| {
                let ring = vec![[a, self.z0], [b, self.z0], [d, self.z1], [c, self.z1]];
                let shape = Shape {
                    rings: vec![ring],
                    cut: self.cut,
                };
                (near, shape)
            })
            .collect()
    }
}

fn counter_clockwise(ring: &[[i32; 2]]) -> bool {
    let next = ring.iter().cycle().skip(1);
    let twice = |(a, b): (&[i32; 2], &[i32; 2])| {
        i64::from(a[0]) * i64::from(b[1]) - i64::from(b[0]) * i64::from(a[1])
    };
    ring.iter().zip(next).map(twice).sum::<i64>() > 0
}

impl Views {
    /// Of a solid.
    pub fn of(solid: &Solid) -> Views {
        let seen: Vec<Seen> = solid.parts.iter().map(Seen::of).collect();
        let mut from_above: Vec<&Seen> = seen.iter().collect();
        from_above.sort_by(|a, b| a.z1.total_cmp(&b.z1));
        let top = |s: &&Seen| Shape {
            rings: s
                .above
                .rings()
                .iter()
                .map(|r| r.iter().map(|p| p.map(mm)).collect())
                .collect(),
            cut: s.cut,
        };
        let solid_parts = seen.iter().filter(|s| !s.cut);
        let mut front: Vec<(f64, Shape)> = solid_parts.flat_map(Seen::front).collect();
        front.sort_by(|a, b| b.0.total_cmp(&a.0));
        Views {
            // What is cut into the underside is not seen from above.
            top: from_above
                .iter()
                .filter(|s| !s.cut || s.z0 > 0.0)
                .map(top)
                .collect(),
            front: front.into_iter().map(|(_, shape)| shape).collect(),
        }
    }
}
