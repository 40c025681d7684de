//! Regions of the plate plane: outlines in whole micrometres.

use i_overlay::core::fill_rule::FillRule;
use i_overlay::core::overlay::Overlay;
use i_overlay::core::overlay_rule::OverlayRule;
use i_overlay::i_float::int::point::IntPoint;
use i_overlay::mesh::int::outline::offset::IntOutlineOffset;
use i_overlay::mesh::int::style::IntOutlineStyle;

/// A point of the plane, micrometres.
pub type Point = [i32; 2];

type Shapes = Vec<Vec<Vec<IntPoint<i32>>>>;

/// An area with holes: outer outlines run counter-clockwise, those of holes clockwise.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Region {
    rings: Vec<Vec<Point>>,
}

/// Whole micrometres of a length in millimetres.
pub(crate) fn um(mm: f64) -> i32 {
    (mm * 1000.0).round() as i32
}

impl Region {
    /// A rectangle from corner to corner, mm.
    pub fn rect(x0: f64, y0: f64, x1: f64, y1: f64) -> Region {
        Region::polygon(&[[x0, y0], [x1, y0], [x1, y1], [x0, y1]])
    }

    /// A polygon by its corners, counter-clockwise, mm.
    pub fn polygon(corners: &[[f64; 2]]) -> Region {
        Region {
            rings: vec![corners.iter().map(|c| c.map(um)).collect()],
        }
    }

    /// A circle round a centre, mm; as many sides as keep it within 5 µm of the circle.
    pub fn circle(x: f64, y: f64, radius: f64) -> Region {
        Region::circle_of(x, y, radius, sides(radius))
    }

    /// A circle with so many sides.
    pub fn circle_of(x: f64, y: f64, radius: f64, sides: usize) -> Region {
        let corner = |k: usize| {
            let angle = std::f64::consts::TAU * k as f64 / sides as f64;
            [x + radius * angle.cos(), y + radius * angle.sin()]
        };
        Region::polygon(&(0..sides).map(corner).collect::<Vec<_>>())
    }

    /// Both.
    #[must_use]
    pub fn union(&self, other: &Region) -> Region {
        self.combined(other, OverlayRule::Union)
    }

    /// Without the other.
    #[must_use]
    pub fn minus(&self, other: &Region) -> Region {
        self.combined(other, OverlayRule::Difference)
    }

    /// What is in both.
    #[must_use]
    pub fn common(&self, other: &Region) -> Region {
        self.combined(other, OverlayRule::Intersect)
    }

    fn combined(&self, other: &Region, rule: OverlayRule) -> Region {
        let mut overlay = Overlay::<i32>::new(self.points() + other.points());
        self.add_to(&mut overlay, i_overlay::core::overlay::ShapeType::Subject);
        other.add_to(&mut overlay, i_overlay::core::overlay::ShapeType::Clip);
        Region::of(&overlay.overlay(rule, FillRule::NonZero))
    }

    /// Grown by a distance to all sides, mm; shrunk where it is negative.
    #[must_use]
    pub fn grown(&self, by: f64) -> Region {
        let paths: Vec<Vec<IntPoint<i32>>> = self.rings.iter().map(|r| ints(r)).collect();
        let style = IntOutlineStyle::new(um(by));
        Region::of(&paths.outline(&style).unwrap_or_default())
    }

    /// Moved, mm.
    #[must_use]
    pub fn moved(&self, x: f64, y: f64) -> Region {
        let (x, y) = (um(x), um(y));
        self.each(|[a, b]| [a + x, b + y])
    }

    /// Mirrored on the line x = `at` mm, to be read from beneath.
    #[must_use]
    pub fn mirrored(&self, at: f64) -> Region {
        let twice = um(2.0 * at);
        let mut turned = self.each(|[a, b]| [twice - a, b]);
        turned.rings.iter_mut().for_each(|r| r.reverse());
        turned
    }

    /// Another region as a hole, its rings turned round, kept in their order.
    #[must_use]
    pub fn with_holes(&self, holes: &[Region]) -> Region {
        let mut whole = self.clone();
        for ring in holes.iter().flat_map(|h| &h.rings) {
            let mut hole = ring.clone();
            hole.reverse();
            whole.rings.push(hole);
        }
        whole
    }

    fn each(&self, f: impl Fn(Point) -> Point) -> Region {
        let ring = |r: &Vec<Point>| r.iter().map(|&p| f(p)).collect();
        Region {
            rings: self.rings.iter().map(ring).collect(),
        }
    }

    /// The outlines.
    pub fn rings(&self) -> &[Vec<Point>] {
        &self.rings
    }

    /// Whether there is nothing.
    pub fn is_empty(&self) -> bool {
        self.rings.is_empty()
    }

    fn points(&self) -> usize {
        self.rings.iter().map(Vec::len).sum()
    }

    /// Area, mm².
    pub fn area(&self) -> f64 {
        let twice: i64 = self.rings.iter().map(|r| twice_area(r)).sum();
        twice as f64 / 2e6
    }

    pub(crate) fn add_to(
        &self,
        overlay: &mut Overlay<i32>,
        side: i_overlay::core::overlay::ShapeType,
    ) {
        for ring in &self.rings {
            overlay.add_contour(&ints(ring), side);
        }
    }

    pub(crate) fn of(shapes: &Shapes) -> Region {
        let ring = |c: &Vec<IntPoint<i32>>| c.iter().map(|p| [p.x, p.y]).collect();
        Region {
            rings: shapes.iter().flatten().map(ring).collect(),
        }
    }
}

fn ints(ring: &[Point]) -> Vec<IntPoint<i32>> {
    ring.iter().map(|p| IntPoint::new(p[0], p[1])).collect()
}

fn twice_area(ring: &[Point]) -> i64 {
    let next = ring.iter().cycle().skip(1);
    ring.iter()
        .zip(next)
        .map(|(a, b)| i64::from(a[0]) * i64::from(b[1]) - i64::from(b[0]) * i64::from(a[1]))
        .sum()
}

/// Sides of a circle, mm: a multiple of eight, its chords at most 5 µm from the arc.
pub(crate) fn sides(radius: f64) -> usize {
    let half = (1.0 - 0.005 / radius.max(0.01)).max(0.0).acos();
    let least = (std::f64::consts::PI / half.max(1e-3)).ceil() as usize;
    least.clamp(16, 360).next_multiple_of(8)
}
