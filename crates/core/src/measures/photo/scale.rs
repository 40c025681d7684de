//! Lines on a photo, and the scale a reference of known length gives it.

use crate::measures::input::{Input, mm, pixels, plain};
use crate::measures::refused::refuse;
use crate::measures::{Given, Refused};
use std::f64::consts::PI;

/// Ends of the reference on the photo.
pub const REFERENCE: Input = pixels("ref_px", "ends of the reference")
    .list(4, 4, 4)
    .needed();
/// Its length.
pub const REF_MM: Input = mm("ref_mm", "length of the reference").needed();
/// How well a touch hits.
pub const CLICK: Input = pixels("click_px", "a touch is good to")
    .range(0.1, 50.0)
    .usual(1.5);
/// Lean of the piece from the plane of the photo.
pub const TILT: Input = plain("tilt_deg", "lean of the piece, °", 0.0, 30.0).usual(5.0);
/// Distance of the camera.
pub const CAMERA: Input = mm("camera_mm", "distance of the camera").usual(300.0);
/// How well the reference is known.
pub const REF_U: Input = mm("ref_u_mm", "reference known to")
    .range(0.0, 20.0)
    .usual(0.1);

/// A line in pixels.
pub struct Line {
    /// Its first end.
    pub from: (f64, f64),
    /// From the first to the second end.
    pub way: (f64, f64),
}

impl Line {
    /// A line of four numbers: x and y of both ends.
    pub fn of(all: &[f64]) -> Self {
        let at = |n: usize| all.get(n).copied().unwrap_or(f64::NAN);
        Self {
            from: (at(0), at(1)),
            way: (at(2) - at(0), at(3) - at(1)),
        }
    }

    /// From one place to another.
    pub fn between(a: (f64, f64), b: (f64, f64)) -> Self {
        Self {
            from: a,
            way: (b.0 - a.0, b.1 - a.1),
        }
    }

    /// How long it is.
    pub fn length(&self) -> f64 {
        self.way.0.hypot(self.way.1)
    }

    /// Its middle.
    pub fn middle(&self) -> (f64, f64) {
        (
            self.from.0 + self.way.0 / 2.0,
            self.from.1 + self.way.1 / 2.0,
        )
    }

    /// Its direction, in radians.
    pub fn direction(&self) -> f64 {
        self.way.1.atan2(self.way.0)
    }
}

/// The angle between two directions, 0 to π/2.
pub fn between(a: f64, b: f64) -> f64 {
    let apart = (a - b).abs() % PI;
    apart.min(PI - apart)
}

/// The reference on a photo.
pub struct Scale {
    /// The line drawn along it.
    pub line: Line,
    /// Its length in pixels.
    pub px: f64,
    /// Pixels a millimetre.
    pub k: f64,
    /// Uncertainty of a length between two touches, in pixels.
    pub touch: f64,
    /// How far the piece may lean from the plane of the photo, in radians.
    pub tilt: f64,
    /// Distance of the camera in millimetres.
    pub camera: f64,
    /// Relative uncertainty of the reference itself.
    known: f64,
}

impl Scale {
    /// Reads the reference.
    ///
    /// # Errors
    /// When it is so short on the photo that touches would swamp it.
    pub fn read(g: &Given) -> Result<Self, Refused> {
        let line = Line::of(g.list("ref_px"));
        let px = line.length();
        if px < 20.0 {
            return refuse("ref_px: the reference is too short on the photo: 20 pixels at least");
        }
        Ok(Self {
            px,
            k: px / g.num("ref_mm"),
            touch: std::f64::consts::SQRT_2 * g.num("click_px"),
            tilt: g.num("tilt_deg").to_radians(),
            camera: g.num("camera_mm"),
            known: g.num("ref_u_mm") / g.num("ref_mm"),
            line,
        })
    }

    /// Relative uncertainties the scale gives a line: touches and length of the reference, what a
    /// lean moves lines apart from it nearer or farther, what it shortens across it.
    pub fn parts(&self, line: &Line, angle: f64) -> [f64; 4] {
        let apart = Line::between(self.line.middle(), line.middle()).length() / self.k;
        [
            self.touch / self.px,
            self.known,
            apart * self.tilt.sin() / self.camera,
            0.5 * (1.0 - self.tilt.cos()) * angle.sin(),
        ]
    }
}
