//! What bounds the machine's motion, as it is known or as a file sets it.

use super::super::sink::Limit;

/// What the machine's motion is bounded by.
#[derive(Debug, Clone, PartialEq)]
pub struct Limits {
    /// Acceleration of moves that lay plastic, mm/s².
    pub laying: f64,
    /// Acceleration of moves that lay none, mm/s².
    pub travel: f64,
    /// Acceleration of the filament alone, mm/s².
    pub filament: f64,
    /// The most each axis may accelerate, mm/s²: X, Y, Z, E.
    pub axis_acceleration: [f64; 4],
    /// The fastest each axis may go, mm/s.
    pub axis_speed: [f64; 4],
    /// The step of speed each axis may take at a corner, mm/s.
    pub jerk: [f64; 4],
    /// Where corners are bounded by how far they may be cut instead, mm.
    pub deviation: Option<f64>,
    /// Where they are bounded by the speed through a corner of 90° instead, mm/s.
    pub corner: Option<f64>,
}

impl Default for Limits {
    fn default() -> Self {
        Limits {
            laying: 1000.0,
            travel: 1000.0,
            filament: 1500.0,
            axis_acceleration: [f64::INFINITY; 4],
            axis_speed: [f64::INFINITY; 4],
            jerk: [8.0, 8.0, 0.4, 5.0],
            deviation: None,
            corner: None,
        }
    }
}

impl Limits {
    /// Takes over what a file sets. What cannot be is left.
    pub(crate) fn set(&mut self, limit: Limit) {
        let (place, value) = match limit {
            Limit::Laying(value) => (&mut self.laying, value),
            Limit::Travel(value) => (&mut self.travel, value),
            Limit::Filament(value) => (&mut self.filament, value),
            Limit::AxisAcceleration(axis, value) => (&mut self.axis_acceleration[axis], value),
            Limit::AxisSpeed(axis, value) => (&mut self.axis_speed[axis], value),
            Limit::Jerk(axis, value) => {
                if axis < 2 {
                    (self.deviation, self.corner) = (None, None);
                }
                (&mut self.jerk[axis], value)
            }
            Limit::Deviation(value) => {
                self.deviation = (value > 0.0).then_some(value);
                return;
            }
            Limit::Corner(value) => {
                self.corner = (value > 0.0).then_some(value);
                return;
            }
        };
        if value > 0.0 {
            *place = value.clamp(0.01, 1e6);
        }
    }

    /// Speed and acceleration of a move in this direction, as each axis allows.
    #[cold]
    pub(super) fn bound(
        &self,
        unit: [f64; 4],
        mut speed: f64,
        mut acceleration: f64,
    ) -> (f64, f64) {
        for (axis, part) in unit.iter().enumerate() {
            let part = part.abs();
            if speed * part > self.axis_speed[axis] {
                speed = self.axis_speed[axis] / part;
            }
            if acceleration * part > self.axis_acceleration[axis] {
                acceleration = self.axis_acceleration[axis] / part;
            }
        }
        (speed, acceleration)
    }
}

/// Up to so much filament to a millimetre of way, a move is an ordinary one.
pub(super) const ORDINARY: f64 = 0.1;

/// What follows from the limits, so that it need not be reckoned for each move.
#[derive(Debug, Clone, Copy)]
pub(super) struct Bounds {
    /// One by the step of speed of each axis, s/mm.
    pub per_jerk: [f64; 4],
    /// An ordinary move in the plane of the bed is within every axis' limits up to this speed,
    /// mm/s, and this acceleration, mm/s².
    pub speed: f64,
    pub acceleration: f64,
    /// Corners are bounded by how far they may be cut.
    pub rounded: bool,
}

impl Bounds {
    pub fn of(limits: &Limits) -> Self {
        let all = |[x, y, _, e]: [f64; 4]| x.min(y).min(e / ORDINARY);
        Bounds {
            per_jerk: limits.jerk.map(|jerk| 1.0 / jerk),
            speed: all(limits.axis_speed),
            acceleration: all(limits.axis_acceleration),
            rounded: limits.corner.is_some() || limits.deviation.is_some(),
        }
    }
}
