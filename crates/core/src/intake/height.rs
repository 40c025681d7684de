//! The height of a fault: where it begins, how far it reaches, which layer that is.

use crate::case::Event;
use crate::evidence::Confidence;
use crate::identified::identified;

identified! {
    /// How far a fault reaches from its height, in the order it is offered.
    pub enum Reach {
        /// Only there.
        Here = "here",
        /// From there upward.
        Upward = "upward",
        /// From the plate up to there.
        Below = "below",
        /// At all heights.
        Throughout = "throughout",
    }
}

impl Reach {
    /// What it says of `height-zone` for a fault at `height_mm`: nothing when it is only there, as
    /// no zone fits.
    pub fn zone(self, height_mm: f64, layer_mm: Option<f64>) -> Option<&'static str> {
        match self {
            Reach::Here => None,
            Reach::Upward => Some("above-some-height"),
            Reach::Below if layer_at(height_mm, layer_mm.unwrap_or(USUAL_LAYER_MM)) <= 1 => {
                Some("first-layer-only")
            }
            Reach::Below => Some("low"),
            Reach::Throughout => Some("all-heights"),
        }
    }

    /// The same as an event.
    pub fn event(self, height_mm: f64, layer_mm: Option<f64>) -> Option<Event> {
        let state = self.zone(height_mm, layer_mm)?.to_string();
        Some(Event::Observed {
            finding: "height-zone".into(),
            state,
            confidence: Confidence::Sure,
            asked: false,
        })
    }
}

/// Layer height taken where none is known, in millimetres.
const USUAL_LAYER_MM: f64 = 0.2;

/// Number of the layer at a height above the plate, counted from 1.
///
/// # Formula
/// ⌈height / layer⌉, at least 1; a height within a thousandth of a layer above a boundary belongs
/// to the layer below it.
pub fn layer_at(height_mm: f64, layer_mm: f64) -> u32 {
    ((height_mm / layer_mm - 1e-3).ceil() as u32).max(1)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn heights_name_their_layer_and_zone() {
        assert_eq!(
            [0.0, 0.2, 0.21, 24.0].map(|h| layer_at(h, 0.2)),
            [1, 1, 2, 120]
        );
        assert_eq!(Reach::Below.zone(0.2, Some(0.2)), Some("first-layer-only"));
        assert_eq!(Reach::Below.zone(3.0, Some(0.2)), Some("low"));
        assert_eq!(Reach::Upward.zone(3.0, None), Some("above-some-height"));
        assert_eq!(Reach::Here.event(3.0, None), None);
        assert!(
            Reach::ALL
                .iter()
                .all(|r| Reach::from_id(r.id()) == Some(*r))
        );
    }
}
