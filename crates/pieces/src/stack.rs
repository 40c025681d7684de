//! A solid as a stack of parts, and what fills each height.

use crate::region::{Region, um};

/// One part. Heights are millimetres above the plate.
#[derive(Debug, Clone, PartialEq)]
pub enum Part {
    /// Adds a region between two heights.
    Add {
        /// From.
        z0: f64,
        /// To.
        z1: f64,
        /// What.
        region: Region,
    },
    /// Cuts a region between two heights out of what was added before.
    Cut {
        /// From.
        z0: f64,
        /// To.
        z1: f64,
        /// What.
        region: Region,
    },
    /// Goes over from one outline to another: as many rings and points below as above. It keeps
    /// clear of all else at its heights.
    Loft {
        /// From.
        z0: f64,
        /// To.
        z1: f64,
        /// At the lower end.
        bottom: Region,
        /// At the upper end.
        top: Region,
    },
}

/// Parts in their order.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Solid {
    /// The parts.
    pub parts: Vec<Part>,
}

/// Why no surface can be made of a solid.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
pub enum Refused {
    /// A part of no height.
    #[error("part {0} ends where it begins or below")]
    NoHeight(usize),
    /// A loft whose ends do not fit each other.
    #[error("loft {0} has other rings or points above than below")]
    Unlike(usize),
    /// A loft that touches something at its heights.
    #[error("loft {0} touches another part at its heights")]
    NotClear(usize),
    /// The surface does not close.
    #[error("the outlines at {0} µm do not meet")]
    Open(i32),
}

/// A loft in micrometres.
pub(crate) struct Loft<'a> {
    pub z0: i32,
    pub z1: i32,
    pub bottom: &'a Region,
    pub top: &'a Region,
}

/// What fills each height.
pub(crate) struct Levels<'a> {
    /// Heights at which something begins or ends, rising, µm.
    pub heights: Vec<i32>,
    /// What is solid between each height and the next.
    pub slabs: Vec<Region>,
    /// Lofts.
    pub lofts: Vec<Loft<'a>>,
}

impl Solid {
    /// Adds a region between two heights, mm.
    pub fn add(&mut self, z0: f64, z1: f64, region: Region) {
        self.parts.push(Part::Add { z0, z1, region });
    }

    /// Cuts a region between two heights, mm.
    pub fn cut(&mut self, z0: f64, z1: f64, region: Region) {
        self.parts.push(Part::Cut { z0, z1, region });
    }

    /// Goes over from one outline to another, mm.
    pub fn loft(&mut self, z0: f64, z1: f64, bottom: Region, top: Region) {
        self.parts.push(Part::Loft {
            z0,
            z1,
            bottom,
            top,
        });
    }

    pub(crate) fn levels(&self) -> Result<Levels<'_>, Refused> {
        let mut heights = Vec::new();
        let mut lofts = Vec::new();
        for (n, part) in self.parts.iter().enumerate() {
            let (z0, z1) = part.heights();
            if z1 <= z0 {
                return Err(Refused::NoHeight(n));
            }
            heights.extend([z0, z1]);
            if let Part::Loft { bottom, top, .. } = part {
                let counts = |r: &Region| r.rings().iter().map(Vec::len).collect::<Vec<_>>();
                if counts(bottom) != counts(top) {
                    return Err(Refused::Unlike(n));
                }
                lofts.push(Loft {
                    z0,
                    z1,
                    bottom,
                    top,
                });
            }
        }
        heights.sort_unstable();
        heights.dedup();
        let slabs: Vec<Region> = heights
            .windows(2)
            .map(|pair| self.slab(pair[0], pair[1]))
            .collect();
        let levels = Levels {
            heights,
            slabs,
            lofts,
        };
        levels.keep_clear()?;
        Ok(levels)
    }

    /// What is solid between two neighbouring heights.
    fn slab(&self, low: i32, high: i32) -> Region {
        let mut whole = Region::default();
        for part in &self.parts {
            let (z0, z1) = part.heights();
            if z0 > low || z1 < high {
                continue;
            }
            match part {
                Part::Add { region, .. } => whole = whole.union(region),
                Part::Cut { region, .. } => whole = whole.minus(region),
                Part::Loft { .. } => {}
            }
        }
        whole
    }
}

impl Part {
    fn heights(&self) -> (i32, i32) {
        let (Part::Add { z0, z1, .. } | Part::Cut { z0, z1, .. } | Part::Loft { z0, z1, .. }) =
            self;
        (um(*z0), um(*z1))
    }
}

impl Levels<'_> {
    /// Lofts keep clear of slabs, and of each other: two that run side by side touch at neither
    /// end, others nowhere.
    fn keep_clear(&self) -> Result<(), Refused> {
        let meet = |a: &Region, b: &Region| !a.common(b).is_empty();
        for (n, loft) in self.lofts.iter().enumerate() {
            for (slab, ends) in self.slabs.iter().zip(self.heights.windows(2)) {
                let beside = ends[0] < loft.z1 && ends[1] > loft.z0;
                if beside && (meet(slab, loft.bottom) || meet(slab, loft.top)) {
                    return Err(Refused::NotClear(n));
                }
            }
            for other in &self.lofts[..n] {
                let beside = other.z0 < loft.z1 && other.z1 > loft.z0;
                let same = (other.z0, other.z1) == (loft.z0, loft.z1);
                let touch = if same {
                    meet(other.bottom, loft.bottom) || meet(other.top, loft.top)
                } else {
                    let whole = |l: &Loft| l.bottom.union(l.top);
                    meet(&whole(other), &whole(loft))
                };
                if beside && touch {
                    return Err(Refused::NotClear(n));
                }
            }
        }
        Ok(())
    }

    /// What ends at a height (slab below and tops of lofts), and what begins there.
    pub(crate) fn at(&self, k: usize) -> (Vec<&Region>, Vec<&Region>) {
        let z = self.heights[k];
        let below = k.checked_sub(1).map(|b| &self.slabs[b]);
        let above = self.slabs.get(k);
        let tops = self.lofts.iter().filter(|l| l.z1 == z).map(|l| l.top);
        let bottoms = self.lofts.iter().filter(|l| l.z0 == z).map(|l| l.bottom);
        (
            below.into_iter().chain(tops).collect(),
            above.into_iter().chain(bottoms).collect(),
        )
    }
}
