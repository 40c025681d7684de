//! What a print has used by the time it reaches a height.

use super::reading::Reading;

/// Hours and plastic up to a height.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Spent {
    /// Hours of printing.
    pub hours: f64,
    /// Volume of filament pushed through, mm³.
    pub volume_mm3: f64,
    /// No layer above the first is in it.
    pub first_layer: bool,
}

impl Spent {
    /// Grams of a filament of so many g/cm³, to a tenth.
    pub fn grams(&self, density: f64) -> f64 {
        (self.volume_mm3 * density / 100.0).round() / 10.0
    }
}

/// What a print has used up to a height in mm, or whole; None of a file without a layer.
///
/// `filament_mm` is the diameter, of 1.75 mm where nobody says otherwise.
pub fn spent(reading: &Reading, up_to: Option<f64>, filament_mm: f64) -> Option<Spent> {
    let first = reading.layers.first()?;
    let top = up_to.unwrap_or(f64::INFINITY).max(first.z);
    let below = reading.layers.iter().filter(|l| l.z <= top + 1e-6);
    let (layers, seconds, filament) = below.fold((0, 0.0, 0.0), |(n, time, e), l| {
        (n + 1, time + l.time, e + l.filament)
    });
    let area = std::f64::consts::PI * filament_mm * filament_mm / 4.0;
    Some(Spent {
        hours: seconds / 3600.0,
        volume_mm3: filament.max(0.0) * area,
        first_layer: layers <= 1,
    })
}
