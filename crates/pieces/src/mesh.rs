//! The surface of a solid: closed, each edge used once in each direction.
//!
//! At each height one overlay of what ends there with what begins there gives the faces that look
//! up and those that look down, and where the outlines were split; the walls between two heights
//! run along the split outlines of both, so that no corner of one triangle lies on an edge of
//! another.

use crate::region::{Point, Region};
use crate::stack::{Levels, Refused, Solid};
use i_overlay::core::extract::BooleanExtractionBuffer;
use i_overlay::core::fill_rule::FillRule;
use i_overlay::core::overlay::{IntOverlayOptions, Overlay, ShapeType};
use i_overlay::core::overlay_rule::OverlayRule;
use i_triangle::int::triangulation::IntTriangulation;
use i_triangle::int::unchecked::IntUncheckedTriangulatable;
use std::collections::HashMap;

/// A surface: points in micrometres, triangles by the numbers of their corners, counter-clockwise
/// seen from outside.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Mesh {
    /// Corners.
    pub points: Vec<[i32; 3]>,
    /// Triangles.
    pub triangles: Vec<[u32; 3]>,
}

/// A corner may have been moved by so much where lines meet within micrometres.
const SWALLOWED: i64 = 20;

/// Makes the surface of a solid.
///
/// # Errors
///
/// [`Refused`] where parts have no height, lofts do not fit, or outlines do not meet.
pub fn mesh(solid: &Solid) -> Result<Mesh, Refused> {
    let levels = solid.levels()?;
    let mut builder = Builder::default();
    let cuts: Vec<Cut> = (0..levels.heights.len())
        .map(|k| builder.cut(&levels, k))
        .collect();
    for (k, slab) in levels.slabs.iter().enumerate() {
        let ends = (levels.heights[k], levels.heights[k + 1]);
        builder.walls((slab, &cuts[k].begins), (slab, &cuts[k + 1].ends), ends)?;
    }
    for loft in &levels.lofts {
        let at = |z: i32| {
            levels
                .heights
                .binary_search(&z)
                .map_err(|_| Refused::Open(z))
        };
        let (low, high) = (&cuts[at(loft.z0)?], &cuts[at(loft.z1)?]);
        let ends = (loft.z0, loft.z1);
        builder.walls((loft.bottom, &low.begins), (loft.top, &high.ends), ends)?;
    }
    Ok(builder.mesh)
}

/// The split outlines at a height: of what ends there and of what begins.
struct Cut {
    ends: Outlines,
    begins: Outlines,
}

/// From each point of an outline to the next ones.
#[derive(Default)]
struct Outlines {
    next: HashMap<Point, Vec<Point>>,
}

impl Outlines {
    fn of(region: &Region) -> Outlines {
        let mut next: HashMap<Point, Vec<Point>> = HashMap::new();
        for ring in region.rings() {
            for (a, b) in ring.iter().zip(ring.iter().cycle().skip(1)) {
                next.entry(*a).or_default().push(*b);
            }
        }
        Outlines { next }
    }

    /// The point itself, or the one it was moved to.
    fn at(&self, point: Point) -> Option<Point> {
        if self.next.contains_key(&point) {
            return Some(point);
        }
        let near = |p: &&Point| (far(**p, point), **p);
        let nearest = self.next.keys().min_by_key(near)?;
        (far(*nearest, point) <= SWALLOWED * SWALLOWED).then_some(*nearest)
    }

    /// The outline from corner to corner, both ends in it.
    fn chain(&self, from: Point, to: Point) -> Option<Vec<Point>> {
        let (from, to) = (self.at(from)?, self.at(to)?);
        let mut chain = vec![from];
        let mut here = from;
        while here != to {
            // Where outlines touch in a point, the one that goes on straight belongs to this edge.
            let nexts = self.next.get(&here)?;
            here = *nexts
                .iter()
                .min_by_key(|n| (off_line(here, to, **n), far(**n, to)))?;
            chain.push(here);
            if chain.len() > self.next.len() + 1 {
                return None;
            }
        }
        Some(chain)
    }
}

fn far(a: Point, b: Point) -> i64 {
    let (x, y) = (i64::from(a[0] - b[0]), i64::from(a[1] - b[1]));
    x * x + y * y
}

/// How far `p` lies off the way from `a` to `b`, as a grade that only orders; behind is farthest.
fn off_line(a: Point, b: Point, p: Point) -> i64 {
    let (x, y) = (i64::from(b[0] - a[0]), i64::from(b[1] - a[1]));
    let (u, v) = (i64::from(p[0] - a[0]), i64::from(p[1] - a[1]));
    let ahead = x * u + y * v;
    let aside = (x * v - y * u).abs();
    let length = ((x * x + y * y) as f64).sqrt().max(1.0);
    if ahead <= 0 {
        i64::MAX
    } else {
        (aside as f64 / length).round() as i64
    }
}

#[derive(Default)]
struct Builder {
    mesh: Mesh,
    numbers: HashMap<[i32; 3], u32>,
}

impl Builder {
    fn point(&mut self, p: Point, z: i32) -> u32 {
        let whole = [p[0], p[1], z];
        let points = &mut self.mesh.points;
        *self.numbers.entry(whole).or_insert_with(|| {
            points.push(whole);
            points.len() as u32 - 1
        })
    }

    fn triangle(&mut self, corners: [(Point, i32); 3]) {
        let numbers = corners.map(|(p, z)| self.point(p, z));
        let [a, b, c] = numbers;
        if a != b && b != c && c != a {
            self.mesh.triangles.push(numbers);
        }
    }

    /// The faces at a height, and the split outlines.
    fn cut(&mut self, levels: &Levels, k: usize) -> Cut {
        let z = levels.heights[k];
        let (below, above) = levels.at(k);
        let options = IntOverlayOptions::keep_all_points();
        let mut overlay = Overlay::<i32>::new_custom(512, options, Default::default());
        below
            .iter()
            .for_each(|r| r.add_to(&mut overlay, ShapeType::Subject));
        above
            .iter()
            .for_each(|r| r.add_to(&mut overlay, ShapeType::Clip));
        let mut buffer = BooleanExtractionBuffer::default();
        let Some(graph) = overlay.build_graph_view(FillRule::NonZero) else {
            return Cut {
                ends: Outlines::default(),
                begins: Outlines::default(),
            };
        };
        let faces = [
            (OverlayRule::Difference, true),
            (OverlayRule::InverseDifference, false),
        ];
        for (rule, up) in faces {
            let shapes = graph.extract_shapes(rule, &mut buffer);
            let flat: IntTriangulation<i32, u32> =
                shapes.uncheck_triangulate().into_triangulation();
            for corners in flat.indices.chunks_exact(3) {
                let at = |k: usize| {
                    let p = flat.points[corners[k] as usize];
                    [p.x, p.y]
                };
                self.face([at(0), at(1), at(2)], z, up);
            }
        }
        let mut outlines =
            |rule| Outlines::of(&Region::of(&graph.extract_shapes(rule, &mut buffer)));
        Cut {
            ends: outlines(OverlayRule::Subject),
            begins: outlines(OverlayRule::Clip),
        }
    }

    fn face(&mut self, [a, b, c]: [Point; 3], z: i32, up: bool) {
        let (x, y) = (i64::from(b[0] - a[0]), i64::from(b[1] - a[1]));
        let (u, v) = (i64::from(c[0] - a[0]), i64::from(c[1] - a[1]));
        let counter_clockwise = x * v - y * u > 0;
        let corners = if counter_clockwise == up {
            [a, b, c]
        } else {
            [a, c, b]
        };
        self.triangle(corners.map(|p| (p, z)));
    }

    /// The walls between two heights, along the outlines of both ends.
    fn walls(
        &mut self,
        (bottom, low): (&Region, &Outlines),
        (top, high): (&Region, &Outlines),
        (z0, z1): (i32, i32),
    ) -> Result<(), Refused> {
        for (under, over) in bottom.rings().iter().zip(top.rings()) {
            let n = under.len();
            for k in 0..n {
                let next = (k + 1) % n;
                let chain = |outlines: &Outlines, ring: &[Point], z| {
                    outlines.chain(ring[k], ring[next]).ok_or(Refused::Open(z))
                };
                let below = chain(low, under, z0)?;
                let above = chain(high, over, z1)?;
                self.zip((&below, z0), (&above, z1));
            }
        }
        Ok(())
    }

    /// Two chains along the same edge, closed with triangles.
    fn zip(&mut self, (low, z0): (&[Point], i32), (high, z1): (&[Point], i32)) {
        let along = |chain: &[Point], k: usize| {
            let whole = far(chain[0], chain[chain.len() - 1]) as f64;
            if whole > 0.0 {
                far(chain[0], chain[k]) as f64 / whole
            } else {
                1.0
            }
        };
        let (mut i, mut j) = (0, 0);
        while i + 1 < low.len() || j + 1 < high.len() {
            let below = i + 1 < low.len()
                && (j + 1 == high.len() || along(low, i + 1) <= along(high, j + 1));
            if below {
                self.triangle([(low[i], z0), (low[i + 1], z0), (high[j], z1)]);
                i += 1;
            } else {
                self.triangle([(low[i], z0), (high[j + 1], z1), (high[j], z1)]);
                j += 1;
            }
        }
    }
}

impl Mesh {
    /// Whether each edge is used once in each direction.
    pub fn is_closed(&self) -> bool {
        let mut edges: HashMap<(u32, u32), u32> = HashMap::new();
        for [a, b, c] in &self.triangles {
            for edge in [(*a, *b), (*b, *c), (*c, *a)] {
                *edges.entry(edge).or_default() += 1;
            }
        }
        edges
            .iter()
            .all(|(&(a, b), &n)| n == 1 && edges.get(&(b, a)) == Some(&1))
    }

    /// Volume, mm³.
    pub fn volume(&self) -> f64 {
        let corner = |k: u32| self.points[k as usize].map(f64::from);
        let sixfold: f64 = self
            .triangles
            .iter()
            .map(|t| {
                let [a, b, c] = t.map(corner);
                a[0] * (b[1] * c[2] - b[2] * c[1]) - a[1] * (b[0] * c[2] - b[2] * c[0])
                    + a[2] * (b[0] * c[1] - b[1] * c[0])
            })
            .sum();
        sixfold / 6.0 / 1e9
    }

    /// Least and greatest corner, mm.
    pub fn bounds(&self) -> ([f64; 3], [f64; 3]) {
        let (mut least, mut most) = ([i32::MAX; 3], [i32::MIN; 3]);
        for point in &self.points {
            for axis in 0..3 {
                least[axis] = least[axis].min(point[axis]);
                most[axis] = most[axis].max(point[axis]);
            }
        }
        (
            least.map(|v| f64::from(v) / 1000.0),
            most.map(|v| f64::from(v) / 1000.0),
        )
    }

    /// Length, width, height, mm.
    pub fn size(&self) -> [f64; 3] {
        let (least, most) = self.bounds();
        [0, 1, 2].map(|axis| most[axis] - least[axis])
    }
}
