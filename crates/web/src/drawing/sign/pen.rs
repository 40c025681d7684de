//! The few strokes every sign is made of. A panel is 120 wide and 90 high; the plate's surface lies
//! at [`PLATE`].
//!
//! Colours are roles (`plastic`, `ink`, `bad` …) that the style sheet fills, so that dark theme and
//! print need no other drawing.

use std::fmt::Write;

/// Height of the plate's surface.
pub const PLATE: f64 = 80.0;

/// Collects strokes. Writing to a `String` cannot fail, so the results of `write!` are dropped.
#[derive(Default)]
pub struct Pen(String);

impl Pen {
    /// The drawing so far.
    pub fn finish(self) -> String {
        self.0
    }

    /// Any path.
    pub fn path(&mut self, class: &str, d: &str) {
        let _ = write!(self.0, r#"<path class="{class}" d="{d}"/>"#);
    }

    /// A straight stroke.
    pub fn line(&mut self, class: &str, x1: f64, y1: f64, x2: f64, y2: f64) {
        self.path(class, &format!("M{x1:.1} {y1:.1}L{x2:.1} {y2:.1}"));
    }

    /// A stroke through points, rounded by the style's line join.
    pub fn through(&mut self, class: &str, points: impl IntoIterator<Item = (f64, f64)>) {
        let mut d = String::new();
        for (x, y) in points {
            let _ = write!(d, "{}{x:.1} {y:.1}", if d.is_empty() { 'M' } else { 'L' });
        }
        self.path(class, &d);
    }

    /// A rectangle with rounded corners.
    pub fn block(&mut self, class: &str, x: f64, y: f64, w: f64, h: f64, r: f64) {
        let _ = write!(
            self.0,
            r#"<rect class="{class}" x="{x:.1}" y="{y:.1}" width="{w:.1}" height="{h:.1}"
                rx="{r:.1}"/>"#
        );
    }

    /// A dot or ring.
    pub fn round(&mut self, class: &str, x: f64, y: f64, r: f64) {
        self.oval(class, x, y, r, r);
    }

    /// An ellipse.
    pub fn oval(&mut self, class: &str, x: f64, y: f64, rx: f64, ry: f64) {
        let _ = write!(
            self.0,
            r#"<ellipse class="{class}" cx="{x:.1}" cy="{y:.1}" rx="{rx:.1}" ry="{ry:.1}"/>"#
        );
    }

    /// The build plate, seen from the side.
    pub fn plate(&mut self) {
        self.block("metal", 6.0, PLATE, 108.0, 5.0, 1.0);
    }

    /// A piece seen from the side: layers from the plate up, each from a left to a right edge;
    /// `None` is a layer that is not there.
    pub fn layers(
        &mut self,
        count: usize,
        thick: f64,
        edges: impl Fn(usize) -> Option<(f64, f64)>,
    ) {
        for n in 0..count {
            if let Some((left, right)) = edges(n) {
                self.block(
                    "plastic",
                    left,
                    PLATE - thick * (n + 1) as f64,
                    right - left,
                    thick,
                    thick / 2.0,
                );
            }
        }
    }

    /// A plain wall from the side.
    pub fn wall(&mut self) {
        self.layers(10, 6.0, |_| Some((34.0, 86.0)));
    }

    /// A flat face seen from the front, with faint layer lines.
    pub fn face(&mut self) {
        self.block("plastic", 14.0, 16.0, 92.0, PLATE - 16.0, 2.0);
        for n in 1..11 {
            let y = 16.0 + 5.8 * f64::from(n);
            self.line("faint", 15.0, y, 105.0, y);
        }
    }

    /// A flat top seen from above: outline and skin lines at the given heights, each as wide as
    /// `width`.
    pub fn top(&mut self, rows: impl IntoIterator<Item = f64>, width: f64) {
        self.block("hollow", 16.0, 10.0, 88.0, 70.0, 3.0);
        for y in rows {
            self.block("plastic", 20.0, y - width / 2.0, 80.0, width, width / 2.0);
        }
        self.block("outline", 16.0, 10.0, 88.0, 70.0, 3.0);
    }

    /// A nozzle whose tip is at a point.
    pub fn nozzle(&mut self, x: f64, y: f64) {
        let (a, b, c, top, neck) = (x - 14.0, x + 14.0, x - 4.0, y - 26.0, y - 12.0);
        let d = x + 4.0;
        self.path(
            "metal",
            &format!("M{a:.1} {top:.1}H{b:.1}V{neck:.1}L{d:.1} {y:.1}H{c:.1}L{a:.1} {neck:.1}Z"),
        );
    }

    /// The shape as it should be, dashed.
    pub fn designed(&mut self, x: f64, y: f64, w: f64, h: f64) {
        self.block("wanted", x, y, w, h, 1.0);
    }
}
