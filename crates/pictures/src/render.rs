//! Made-up photos: a piece printed in layers, seen from the front on its plate, with a fault.
//!
//! No photo of a real print ships with the program, so the demo draws its own. Each pixel is shaded
//! by the round of its layer, a lamp from the upper left and a little grain; the fault bends,
//! shifts, pits or lifts the layers. The same scene always gives the same bytes.

use image::codecs::jpeg::JpegEncoder;
use image::{Rgb, RgbImage};

/// What is wrong with the piece.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Flaw {
    /// One step sideways at a share of the height, by a share of the width.
    Step(f64, f64),
    /// Strings between two towers.
    Strings,
    /// Craters all over.
    Pits,
    /// Waves in evenly spaced bands.
    Bands,
    /// Corners lifted off the plate.
    Lifted,
    /// Layers missing half way up.
    Starved,
    /// Nothing.
    Clean,
}

/// A photo to be drawn.
#[derive(Debug, Clone, Copy)]
pub struct Scene {
    /// Colour of the filament.
    pub colour: [u8; 3],
    /// What is wrong.
    pub flaw: Flaw,
    /// Brightness of the lamp, 1 as usual.
    pub lamp: f64,
    /// Radius of the blur in pixels, 0 for a steady hand.
    pub blur: u32,
}

/// Size of the photo, in pixels.
const SIZE: (u32, u32) = (1600, 1200);
/// Height of the plate's edge and of one layer, in pixels.
const PLATE: f64 = 1010.0;
const LAYER: f64 = 13.0;

/// Draws a scene as JPEG.
pub fn photo(scene: &Scene) -> Vec<u8> {
    let mut image = RgbImage::from_fn(SIZE.0, SIZE.1, |x, y| {
        shade(scene, f64::from(x), f64::from(y))
    });
    if scene.blur > 0 {
        image = image::imageops::fast_blur(&image, scene.blur as f32);
    }
    let mut out = Vec::new();
    // Writing to memory cannot fail, and the size is one the format knows.
    let _ = JpegEncoder::new_with_quality(&mut out, 88).encode_image(&image);
    out
}

/// The colour of one pixel.
fn shade(scene: &Scene, x: f64, y: f64) -> Rgb<u8> {
    let piece = towers(scene)
        .into_iter()
        .find_map(|tower| tower.hit(scene, x, y));
    let grain = 5.0 * (noise(x as u64, y as u64) - 0.5);
    let lit = |colour: [f64; 3], light: f64| {
        Rgb(colour.map(|c| (c * light * scene.lamp + grain).clamp(0.0, 255.0) as u8))
    };
    // The lamp stands at the upper left.
    let lamp = 1.05 - 0.25 * (x / f64::from(SIZE.0)) - 0.12 * (y / f64::from(SIZE.1));
    if let Some(light) = piece {
        return lit(scene.colour.map(f64::from), lamp * light);
    }
    if scene.flaw == Flaw::Strings
        && let Some(light) = string(x, y)
    {
        return lit(scene.colour.map(f64::from), lamp * light);
    }
    if y > PLATE {
        let speckle = 0.92 + 0.16 * noise((x / 3.0) as u64, (y / 3.0) as u64);
        let under = |t: &Tower| {
            let beside = (t.left - x).max(x - t.right - 60.0).max(0.0) + 0.8 * (y - PLATE);
            1.0 - (beside / 110.0).min(1.0)
        };
        let shadow = 1.0 - 0.45 * towers(scene).iter().map(under).fold(0.0, f64::max);
        return lit([74.0, 78.0, 84.0], lamp * speckle * shadow);
    }
    lit([206.0, 200.0, 188.0], lamp * (1.0 - 0.25 * (y / PLATE)))
}

/// One upright body.
struct Tower {
    left: f64,
    right: f64,
    top: f64,
}

fn towers(scene: &Scene) -> Vec<Tower> {
    match scene.flaw {
        Flaw::Strings => vec![
            Tower {
                left: 380.0,
                right: 620.0,
                top: 250.0,
            },
            Tower {
                left: 980.0,
                right: 1220.0,
                top: 250.0,
            },
        ],
        Flaw::Lifted => vec![Tower {
            left: 300.0,
            right: 1300.0,
            top: 560.0,
        }],
        _ => vec![Tower {
            left: 470.0,
            right: 1130.0,
            top: 210.0,
        }],
    }
}

impl Tower {
    /// How brightly the tower is lit at a pixel, or nothing where it is not.
    fn hit(&self, scene: &Scene, x: f64, y: f64) -> Option<f64> {
        // Lifted corners: the foot rises towards both ends.
        let along = (x - self.left) / (self.right - self.left);
        let lift = if scene.flaw == Flaw::Lifted {
            95.0 * ((along - 0.5).abs() * 2.0).powi(4)
        } else {
            0.0
        };
        let height = PLATE - lift - y;
        if height < 0.0 || y < self.top - lift {
            return None;
        }
        let layer = (height / LAYER).floor();
        let within = height / LAYER - layer;
        let share = height / (PLATE - self.top);
        let mut shift = 1.6 * (noise(layer as u64, 7) - 0.5);
        let mut light = 1.0;
        match scene.flaw {
            Flaw::Step(at, by) if share > at => shift += by * (self.right - self.left),
            Flaw::Bands => shift += 9.0 * (layer * 0.9).sin(),
            Flaw::Starved if (0.42..0.52).contains(&share) => {
                light = if noise(layer as u64, (x / 46.0) as u64) > 0.55 {
                    0.25
                } else {
                    0.72
                };
            }
            _ => {}
        }
        let (left, right) = (self.left + shift, self.right + shift);
        // A layer's edge is round, so it is a little narrower where two layers meet.
        let round = 5.0 * (1.0 - (1.0 - (2.0 * within - 1.0).powi(2)).sqrt());
        if x < left + round || x > right - round {
            return None;
        }
        if scene.flaw == Flaw::Pits {
            let (cell_x, cell_y) = ((x / 26.0).floor(), (y / 26.0).floor());
            let centre =
                |salt: u64| 26.0 * (0.3 + 0.4 * noise(cell_x as u64 * 31 + salt, cell_y as u64));
            let (dx, dy) = (x - cell_x * 26.0 - centre(1), y - cell_y * 26.0 - centre(2));
            if noise(cell_x as u64, cell_y as u64 + 99) > 0.62 && dx * dx + dy * dy < 42.0 {
                light *= if dx + dy < 0.0 { 0.45 } else { 1.2 };
            }
        }
        if scene.flaw == Flaw::Bands {
            light *= 1.0 + 0.14 * (layer * 0.9).cos();
        }
        // The lamp shines from above: the upper half of each layer is lighter, the joint between
        // two dark.
        let roundness = 0.62 + 0.5 * (within * std::f64::consts::PI).sin() * (0.6 + 0.6 * within);
        let turn = 1.0 - 0.35 * ((x - left) / (right - left) - 0.35).powi(2) * 2.0;
        Some(light * roundness * turn)
    }
}

/// Hairs that sag between the two towers.
fn string(x: f64, y: f64) -> Option<f64> {
    if !(620.0..980.0).contains(&x) {
        return None;
    }
    let along = (x - 620.0) / 360.0;
    (0..26).find_map(|n| {
        let at = 275.0 + 27.0 * n as f64 + 14.0 * (noise(n, 3) - 0.5);
        let sag = (8.0 + 46.0 * noise(n, 5)) * 4.0 * along * (1.0 - along);
        let slope = 26.0 * (noise(n, 11) - 0.5) * along;
        let broken = noise(n, 17) > 0.75 && along > noise(n, 23);
        let thick = 0.9 + 1.5 * noise(n, 29);
        ((y - at - sag - slope).abs() < thick && !broken).then_some(1.15)
    })
}

/// A number from 0 to 1 that looks like chance and is always the same for the same place.
fn noise(x: u64, y: u64) -> f64 {
    let mut h = x.wrapping_mul(0x9e37_79b9_7f4a_7c15) ^ y.wrapping_mul(0xc2b2_ae3d_27d4_eb4f);
    h = (h ^ (h >> 29)).wrapping_mul(0xbf58_476d_1ce4_e5b9);
    h ^= h >> 32;
    (h >> 11) as f64 / (1u64 << 53) as f64
}
