//! How good a photo is for judging a print by, reckoned from its pixels, and the marks people put
//! on it.

use crate::identified::identified;
use serde::{Deserialize, Serialize};

/// Long edge, in pixels, of the grey picture everything is measured on, so that figures of
/// different cameras compare.
pub const MEASURED_AT: usize = 1024;
/// Variance of the Laplacian under which layers cannot be told apart. Grey levels run from 0 to
/// 255.
///
/// Measured on rendered and blurred pictures of layered walls: sharp ones lie above 150, those
/// blurred by two pixels of the measured size under 30.
pub const LEAST_SHARPNESS: f64 = 45.0;
/// Grey at or under which a pixel is clipped shadow, at or over which it is clipped light.
const CLIPPED: (u8, u8) = (6, 250);
/// Share of clipped pixels from which a picture is too dark or too light.
const MOST_CLIPPED: f64 = 0.45;
/// Mean grey under which a picture is too dark whatever is clipped.
const LEAST_MEAN: f64 = 32.0;
/// Side of the tiles in which glare is looked for, in measured pixels.
const TILE: usize = 16;
/// A tile this bright on the average is glare where another within two tiles is darker by
/// [`GLARE_DROP`].
const GLARE: f64 = 246.0;
/// See [`GLARE`].
const GLARE_DROP: f64 = 90.0;
/// Share of glaring tiles from which it is worth saying.
const MOST_GLARE: f64 = 0.008;
/// Long edge under which detail is missing, in pixels.
const LEAST_EDGE: u32 = 640;

/// What was measured on a picture.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Judgement {
    /// Width as shown, in pixels.
    pub width: u32,
    /// Height as shown, in pixels.
    pub height: u32,
    /// Variance of the Laplacian at [`MEASURED_AT`].
    pub sharpness: f64,
    /// Mean grey, 0 to 255.
    pub mean: f64,
    /// Share of clipped shadows, 0 to 1.
    pub dark: f64,
    /// Share of clipped lights, 0 to 1.
    pub light: f64,
    /// Share of tiles that glare, 0 to 1.
    pub glare: f64,
}

/// What is wrong with a picture. The picture is kept all the same.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Fault {
    /// Too blurred to judge layers.
    Blurred,
    /// Too dark.
    Dark,
    /// Too light.
    Light,
    /// A lamp mirrors in it.
    Glare,
    /// Too few pixels.
    Small,
}

impl Judgement {
    /// What is wrong, the worst first; empty for a picture that will do.
    pub fn faults(&self) -> Vec<Fault> {
        let too_dark = self.dark > MOST_CLIPPED || self.mean < LEAST_MEAN;
        let checks = [
            (self.width.max(self.height) < LEAST_EDGE, Fault::Small),
            (too_dark, Fault::Dark),
            (self.light > MOST_CLIPPED, Fault::Light),
            (self.sharpness < LEAST_SHARPNESS, Fault::Blurred),
            (
                self.glare > MOST_GLARE && self.light <= MOST_CLIPPED,
                Fault::Glare,
            ),
        ];
        checks
            .into_iter()
            .filter(|(holds, _)| *holds)
            .map(|(_, fault)| fault)
            .collect()
    }
}

/// A decoded picture: three bytes a pixel, red, green, blue, row by row.
#[derive(Debug, Clone, Copy)]
pub struct Pixels<'a> {
    width: usize,
    height: usize,
    rgb: &'a [u8],
}

impl<'a> Pixels<'a> {
    /// Takes decoded pixels.
    ///
    /// # Panics
    /// When there are not exactly three bytes for each pixel, or no pixels.
    pub fn new(width: usize, height: usize, rgb: &'a [u8]) -> Self {
        assert!(
            width > 0 && height > 0 && rgb.len() == width * height * 3,
            "three bytes for each of {width} × {height} pixels"
        );
        Self { width, height, rgb }
    }
}

/// Measures a picture.
pub fn judge(pixels: Pixels) -> Judgement {
    let grey = Grey::measured(pixels);
    let count = grey.levels.len() as f64;
    let share =
        |test: &dyn Fn(u8) -> bool| grey.levels.iter().filter(|l| test(**l)).count() as f64 / count;
    Judgement {
        width: pixels.width as u32,
        height: pixels.height as u32,
        sharpness: grey.laplacian_variance(),
        mean: grey.levels.iter().map(|l| f64::from(*l)).sum::<f64>() / count,
        dark: share(&|l| l <= CLIPPED.0),
        light: share(&|l| l >= CLIPPED.1),
        glare: grey.glare(),
    }
}

/// A grey picture at the measured size.
struct Grey {
    width: usize,
    height: usize,
    levels: Vec<u8>,
}

impl Grey {
    /// Shrinks by averaging: each pixel goes into exactly one cell. Small pictures stay as they
    /// are.
    fn measured(pixels: Pixels) -> Self {
        let Pixels { width, height, rgb } = pixels;
        let long = width.max(height);
        let shrink = |edge: usize| {
            if long <= MEASURED_AT {
                edge
            } else {
                (edge * MEASURED_AT / long).max(1)
            }
        };
        let (w, h) = (shrink(width), shrink(height));
        let starts: Vec<usize> = (0..=w).map(|x| x * width / w).collect();
        let mut levels = Vec::with_capacity(w * h);
        let mut sums = vec![0u32; w];
        for y in 0..h {
            sums.fill(0);
            let rows = y * height / h..(y + 1) * height / h;
            for row in rows.clone() {
                let line = &rgb[row * width * 3..(row + 1) * width * 3];
                for (sum, edges) in sums.iter_mut().zip(starts.windows(2)) {
                    for pixel in line[edges[0] * 3..edges[1] * 3].chunks_exact(3) {
                        // Luma of ITU-R BT.601 in 1/256.
                        *sum += (77 * u32::from(pixel[0])
                            + 150 * u32::from(pixel[1])
                            + 29 * u32::from(pixel[2]))
                            >> 8;
                    }
                }
            }
            let cells = sums.iter().zip(starts.windows(2));
            levels.extend(
                cells.map(|(sum, edges)| (sum / (rows.len() * (edges[1] - edges[0])) as u32) as u8),
            );
        }
        Self {
            width: w,
            height: h,
            levels,
        }
    }

    /// Variance of the response to the kernel 0 1 0 / 1 −4 1 / 0 1 0.
    fn laplacian_variance(&self) -> f64 {
        let w = self.width;
        if w < 3 || self.height < 3 {
            return 0.0;
        }
        let (mut sum, mut squares) = (0i64, 0i64);
        for y in 1..self.height - 1 {
            let (above, row, below) = (
                &self.levels[(y - 1) * w..],
                &self.levels[y * w..],
                &self.levels[(y + 1) * w..],
            );
            for x in 1..w - 1 {
                let around = i32::from(above[x])
                    + i32::from(below[x])
                    + i32::from(row[x - 1])
                    + i32::from(row[x + 1]);
                let response = i64::from(around - 4 * i32::from(row[x]));
                sum += response;
                squares += response * response;
            }
        }
        let count = ((w - 2) * (self.height - 2)) as f64;
        let mean = sum as f64 / count;
        squares as f64 / count - mean * mean
    }

    /// Share of tiles that are all but white with something much darker close by: a lamp's mirror
    /// image, not a white table.
    fn glare(&self) -> f64 {
        let (columns, rows) = (self.width / TILE, self.height / TILE);
        if columns == 0 || rows == 0 {
            return 0.0;
        }
        let mean = |column: usize, row: usize| {
            let lines = (0..TILE).map(|y| (row * TILE + y) * self.width + column * TILE);
            let sum: u32 = lines
                .map(|start| {
                    self.levels[start..start + TILE]
                        .iter()
                        .map(|l| u32::from(*l))
                        .sum::<u32>()
                })
                .sum();
            f64::from(sum) / (TILE * TILE) as f64
        };
        let means: Vec<f64> = (0..rows * columns)
            .map(|at| mean(at % columns, at / columns))
            .collect();
        let glares = |at: &usize| {
            let (column, row) = (at % columns, at / columns);
            let near = |r: usize, c: usize| means[r * columns + c] < means[*at] - GLARE_DROP;
            let (rows, columns) = (
                row.saturating_sub(2)..(row + 3).min(rows),
                column.saturating_sub(2)..(column + 3).min(columns),
            );
            means[*at] >= GLARE
                && rows
                    .into_iter()
                    .any(|r| columns.clone().any(|c| near(r, c)))
        };
        (0..means.len()).filter(glares).count() as f64 / means.len() as f64
    }
}

identified! {
    /// What a mark is.
    pub enum MarkKind {
        /// A ring around something.
        Circle = "circle",
        /// An arrow that points at something.
        Arrow = "arrow",
        /// Words beside something.
        Text = "text",
    }
}

/// A mark on a picture. Places are shares of its width and height, from the upper left corner.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Mark {
    /// What it is.
    pub kind: MarkKind,
    /// Centre of a ring, tip of an arrow, beginning of words.
    pub x: f64,
    /// See `x`.
    pub y: f64,
    /// A point on the ring, tail of the arrow; for words the same as the beginning.
    pub to_x: f64,
    /// See `to_x`.
    pub to_y: f64,
    /// Words; may be empty for ring and arrow.
    #[serde(default)]
    pub text: String,
}

impl Mark {
    /// All its places.
    pub fn places(&self) -> [f64; 4] {
        [self.x, self.y, self.to_x, self.to_y]
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Fine stripes, blurred by averaging over `blur` columns on either side.
    fn stripes(width: usize, height: usize, blur: usize) -> Vec<u8> {
        let stripe = |x: usize| {
            if (x / 4).is_multiple_of(2) {
                70.0
            } else {
                180.0
            }
        };
        let level = |x: usize| {
            let near = x.saturating_sub(blur)..(x + blur + 1).min(width);
            (near.clone().map(stripe).sum::<f64>() / near.len() as f64) as u8
        };
        (0..width * height)
            .flat_map(|at| [level(at % width); 3])
            .collect()
    }

    #[test]
    fn blur_lowers_sharpness_and_is_named() {
        let judged = |blur| judge(Pixels::new(1000, 700, &stripes(1000, 700, blur)));
        assert!(judged(0).faults().is_empty(), "{:?}", judged(0));
        let sharpness: Vec<f64> = [0, 1, 2, 6]
            .into_iter()
            .map(|b| judged(b).sharpness)
            .collect();
        assert!(sharpness.windows(2).all(|w| w[0] >= w[1]), "{sharpness:?}");
        assert_eq!(judged(20).faults(), [Fault::Blurred]);
    }

    #[test]
    fn sharpness_does_not_depend_on_the_camera() {
        // The same scene with twice the pixels: stripes twice as wide.
        let small = stripes(1024, 700, 0);
        let large: Vec<u8> = (0..2048 * 1400)
            .flat_map(|at| [small[(at / 2048 / 2 * 1024 + at % 2048 / 2) * 3]; 3])
            .collect();
        let sharpness = |w, h, rgb: &[u8]| judge(Pixels::new(w, h, rgb)).sharpness;
        assert_eq!(sharpness(1024, 700, &small), sharpness(2048, 1400, &large));
    }

    #[test]
    fn dark_light_glaring_and_small_pictures_are_named() {
        let plain = |level: u8| vec![level; 800 * 600 * 3];
        assert!(
            judge(Pixels::new(800, 600, &plain(3)))
                .faults()
                .contains(&Fault::Dark)
        );
        assert!(
            judge(Pixels::new(800, 600, &plain(255)))
                .faults()
                .contains(&Fault::Light)
        );
        assert!(
            !judge(Pixels::new(800, 600, &plain(255)))
                .faults()
                .contains(&Fault::Glare),
            "a white table does not glare"
        );
        let mut lamp = stripes(800, 600, 0);
        for y in 200..280 {
            lamp[(y * 800 + 300) * 3..(y * 800 + 420) * 3].fill(255);
        }
        assert_eq!(judge(Pixels::new(800, 600, &lamp)).faults(), [Fault::Glare]);
        assert!(
            judge(Pixels::new(200, 100, &stripes(200, 100, 0)))
                .faults()
                .contains(&Fault::Small)
        );
        assert_eq!(judge(Pixels::new(1, 1, &[9, 9, 9])).sharpness, 0.0);
    }
}
