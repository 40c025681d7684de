//! Brightness along a line that was drawn on a photo.

use crate::take_in::{Refused, upright};
use image::{DynamicImage, GrayImage};

/// Longest line that is read, in pixels.
pub const LONGEST_LINE: usize = 8000;
/// Width of the stripe whose mean is taken, in pixels: dust and single strands weigh little then.
const STRIPE: f64 = 40.0;

/// A place on a picture, in pixels from its upper left corner.
pub type Place = (f64, f64);

/// A picture in shades of grey, upright.
#[derive(Debug, Clone)]
pub struct Grey(GrayImage);

impl Grey {
    /// Decodes a picture within the same limits as those that are kept.
    ///
    /// # Errors
    /// [`Refused`], whose text can be shown as it is.
    pub fn open(bytes: &[u8]) -> Result<Self, Refused> {
        let image = upright(bytes)?;
        Ok(Self(DynamicImage::ImageRgb8(image).into_luma8()))
    }

    /// Width and height in pixels.
    pub fn size(&self) -> (u32, u32) {
        self.0.dimensions()
    }

    /// Brightness along a line, a sample a pixel, between the pixels by bilinear interpolation, the
    /// mean across a stripe about it. Nothing for a line shorter than a pixel or longer than
    /// [`LONGEST_LINE`], or one that leaves the picture.
    pub fn along(&self, from: Place, to: Place) -> Option<Vec<f64>> {
        let (dx, dy) = (to.0 - from.0, to.1 - from.1);
        let length = dx.hypot(dy);
        let inside = |(x, y): Place| {
            let (w, h) = self.size();
            (0.0..=f64::from(w) - 1.0).contains(&x) && (0.0..=f64::from(h) - 1.0).contains(&y)
        };
        let sound = length >= 1.0 && length < LONGEST_LINE as f64;
        if !sound || !inside(from) || !inside(to) {
            return None;
        }
        let (ux, uy) = (dx / length, dy / length);
        let half = (STRIPE / 2.0) as i32;
        let sample = |n: usize| {
            let (x, y) = (from.0 + ux * n as f64, from.1 + uy * n as f64);
            let across = (-half..=half).map(f64::from);
            let there = across.filter_map(|a| self.at(x - uy * a, y + ux * a));
            let (sum, many) = there.fold((0.0, 0u32), |(s, m), v| (s + v, m + 1));
            sum / f64::from(many.max(1))
        };
        Some((0..=length as usize).map(sample).collect())
    }

    /// Brightness at a place between the pixels, 0 to 255; nothing outside of the picture.
    fn at(&self, x: f64, y: f64) -> Option<f64> {
        let (w, h) = self.size();
        if x < 0.0 || y < 0.0 || x > f64::from(w) - 1.0 || y > f64::from(h) - 1.0 {
            return None;
        }
        let (left, top) = (x as u32, y as u32);
        let (right, below) = ((left + 1).min(w - 1), (top + 1).min(h - 1));
        let (fx, fy) = (x - f64::from(left), y - f64::from(top));
        let pixel = |x, y| f64::from(self.0.get_pixel(x, y).0[0]);
        let upper = pixel(left, top) * (1.0 - fx) + pixel(right, top) * fx;
        let lower = pixel(left, below) * (1.0 - fx) + pixel(right, below) * fx;
        Some(upper * (1.0 - fy) + lower * fy)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use image::Luma;

    #[test]
    fn a_ramp_is_read_as_a_ramp_in_any_direction() {
        let ramp = GrayImage::from_fn(200, 200, |x, y| Luma([((x + y) / 2) as u8]));
        let grey = Grey(ramp);
        for (from, to) in [
            ((60.0, 100.0), (140.0, 100.0)),
            ((100.0, 60.0), (100.0, 140.0)),
            ((60.0, 60.0), (140.0, 140.0)),
        ] {
            let line = grey.along(from, to).unwrap();
            let (first, last) = (line[0], line[line.len() - 1]);
            assert!(
                (first - f64::midpoint(from.0, from.1)).abs() < 1.0,
                "{first}"
            );
            assert!((last - f64::midpoint(to.0, to.1)).abs() < 1.5, "{last}");
        }
        assert_eq!(grey.along((0.0, 0.0), (300.0, 0.0)), None);
        assert_eq!(grey.along((5.0, 5.0), (5.0, 5.0)), None);
        assert_eq!(grey.along((f64::NAN, 5.0), (5.0, 5.0)), None);
    }
}
