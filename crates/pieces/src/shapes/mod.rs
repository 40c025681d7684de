//! The nine pieces. Heights stand on whole layers, so that a feature is a feature on every machine.

mod beacons;
mod bollards;
mod buttress;
mod deck;
mod dock;
mod lintel;
mod pins;
mod quay;
mod sea_wall;

use crate::mesh::{Mesh, mesh};
use crate::settings::{Settings, SettingsProblem};
use crate::stack::{Refused, Solid};
use crate::views::{Side, Spot};

/// A test piece.
#[derive(Clone, Copy)]
pub struct Piece {
    /// Its identifier.
    pub id: &'static str,
    /// What it is called.
    pub name: &'static str,
    /// Its solid for settings.
    pub build: fn(&Settings) -> Solid,
    /// Where its features are looked at.
    pub spots: fn(&Settings) -> Vec<Spot>,
}

/// Why a piece cannot be made.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
pub enum NoPiece {
    /// The settings.
    #[error(transparent)]
    Settings(#[from] SettingsProblem),
    /// The surface.
    #[error(transparent)]
    Surface(#[from] Refused),
}

/// All pieces, in the order they are told.
pub const PIECES: [Piece; 9] = [
    quay::PIECE,
    bollards::PIECE,
    lintel::PIECE,
    buttress::PIECE,
    pins::PIECE,
    deck::PIECE,
    dock::PIECE,
    sea_wall::PIECE,
    beacons::PIECE,
];

/// A piece by its identifier.
pub fn piece(id: &str) -> Option<&'static Piece> {
    static ALL: [Piece; 9] = PIECES;
    ALL.iter().find(|p| p.id == id)
}

impl Piece {
    /// Its surface for settings.
    ///
    /// # Errors
    ///
    /// [`NoPiece`] where no nozzle can print with these settings.
    pub fn mesh(&self, settings: &Settings) -> Result<Mesh, NoPiece> {
        settings.check()?;
        Ok(mesh(&(self.build)(settings))?)
    }
}

/// A spot by two corners.
fn spot(feature: &'static str, side: Side, from: [f64; 3], to: [f64; 3]) -> Spot {
    Spot {
        feature,
        from,
        to,
        side,
    }
}
