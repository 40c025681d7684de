//! How long moves take on a machine that must speed up, slow down and go round corners.
//!
//! Each move is a trapezoid of speed: it speeds up, holds, slows down. Where two moves meet, the
//! speed is bounded by what the corner allows. A window of moves is looked ahead over: first
//! backwards, so that every move can still slow down for what follows, then forwards.

use super::super::sink::Limit;

/// Moves looked ahead over.
const WINDOW: usize = 64;

/// Moves settled at once.
const SETTLED: usize = 32;

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
}

/// A move that waits for its time.
#[derive(Debug, Clone, Copy, Default)]
struct Waiting {
    length: f64,
    speed: f64,
    /// Seconds at that speed.
    plain: f64,
    acceleration: f64,
    /// The fastest the corner before it may be taken, squared.
    corner: f64,
    /// The fastest it may begin so that all that follows can still slow down, squared.
    entry: f64,
    slot: u32,
}

/// Hands out the time of moves, a window behind.
#[derive(Debug)]
pub(super) struct Pace {
    pub limits: Limits,
    waiting: Vec<Waiting>,
    /// Direction of the move before, with the filament to a millimetre of way.
    before: [f64; 4],
    speed_before: f64,
    /// Speed at which the first waiting move begins, squared.
    running: f64,
}

impl Pace {
    pub fn new(limits: Limits) -> Self {
        Pace {
            limits,
            waiting: Vec::with_capacity(WINDOW),
            before: [0.0; 4],
            speed_before: 0.0,
            running: 0.0,
        }
    }

    /// A move along `way` (X, Y, Z, E in mm), with its length, one by it, the speed asked
    /// for and the seconds at that speed. `spend` is given the time of moves
    /// that are settled, with their slot.
    #[inline]
    pub fn push(
        &mut self,
        way: [f64; 4],
        (length, one, speed, plain): (f64, f64, f64, f64),
        slot: u32,
        mut spend: impl FnMut(u32, f64),
    ) {
        let limits = &self.limits;
        let unit = way.map(|part| part * one);
        let flat = way[0] != 0.0 || way[1] != 0.0 || way[2] != 0.0;
        let mut acceleration = match (flat, way[3] > 0.0) {
            (false, _) => limits.filament,
            (true, true) => limits.laying,
            (true, false) => limits.travel,
        };
        let (asked, mut plain) = (speed, plain);
        let mut speed = speed;
        for (axis, part) in unit.iter().enumerate() {
            let part = part.abs();
            if speed * part > limits.axis_speed[axis] {
                speed = limits.axis_speed[axis] / part;
            }
            if acceleration * part > limits.axis_acceleration[axis] {
                acceleration = limits.axis_acceleration[axis] / part;
            }
        }
        if speed < asked {
            plain = length / speed;
        }
        let corner = self.corner(unit, speed.min(self.speed_before), acceleration, flat);
        self.before = unit;
        self.speed_before = if flat { speed } else { 0.0 };
        if self.waiting.len() == WINDOW {
            self.settle(SETTLED, &mut spend);
        }
        let corner = corner * corner;
        self.waiting.push(Waiting {
            length,
            speed,
            plain,
            acceleration,
            corner,
            entry: corner,
            slot,
        });
    }

    /// The fastest the corner between the move before and this one may be taken.
    #[inline]
    fn corner(&self, unit: [f64; 4], speed: f64, acceleration: f64, flat: bool) -> f64 {
        let limits = &self.limits;
        if !flat || speed <= 0.0 {
            return 0.0;
        }
        let deviation = match limits.corner {
            Some(corner) => Some(corner * corner * (std::f64::consts::SQRT_2 - 1.0) / acceleration),
            None => limits.deviation,
        };
        if let Some(deviation) = deviation {
            let [a, b] = [self.before, unit];
            let cosine = -(a[0] * b[0] + a[1] * b[1] + a[2] * b[2]);
            let sine = ((1.0 - cosine) / 2.0).max(0.0).sqrt();
            if sine > 0.999_999 {
                return speed;
            }
            return speed.min((acceleration * deviation * sine / (1.0 - sine)).sqrt());
        }
        let mut worst: f64 = 1.0;
        let ways = unit.iter().zip(&self.before).zip(&limits.jerk);
        for ((here, before), jerk) in ways {
            let change = (here - before).abs() * speed;
            if change > worst * jerk {
                worst = change / jerk;
            }
        }
        if worst > 1.0 { speed / worst } else { speed }
    }

    /// The machine stands still here: all moves before are settled.
    pub fn stop(&mut self, mut spend: impl FnMut(u32, f64)) {
        self.settle(self.waiting.len(), &mut spend);
        self.running = 0.0;
        self.speed_before = 0.0;
    }

    #[inline]
    fn settle(&mut self, count: usize, spend: &mut impl FnMut(u32, f64)) {
        let mut end = 0.0;
        for one in self.waiting.iter_mut().rev() {
            one.entry = one.corner.min(end + 2.0 * one.acceleration * one.length);
            end = one.entry;
        }
        for at in 0..count {
            let one = self.waiting[at];
            let next = self.waiting.get(at + 1).map_or(0.0, |next| next.entry);
            let full = one.speed * one.speed;
            if self.running == full && next == full {
                // In the middle of a curve nothing speeds up or slows down: no root is drawn.
                spend(one.slot, one.plain);
                continue;
            }
            let reach = 2.0 * one.acceleration * one.length;
            let exit_squared = next.min(self.running + reach);
            let (entry, exit) = (self.running.sqrt(), exit_squared.sqrt());
            spend(one.slot, trapezoid(&one, entry, exit, reach));
            self.running = exit_squared;
        }
        self.waiting.copy_within(count.., 0);
        self.waiting.truncate(self.waiting.len() - count);
    }
}

/// Seconds of one move that begins and ends at these speeds.
#[inline]
fn trapezoid(one: &Waiting, entry: f64, exit: f64, reach: f64) -> f64 {
    let ends = entry * entry + exit * exit;
    let peak = (reach + ends) / 2.0;
    let full = one.speed * one.speed;
    if peak <= full {
        (2.0 * peak.sqrt() - entry - exit) / one.acceleration
    } else {
        // What the two ramps take longer than the same way at full speed.
        let lost = (full + ends / 2.0) / one.speed - entry - exit;
        one.plain + lost / one.acceleration
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn time(moves: &[([f64; 4], f64)], limits: Limits) -> f64 {
        let mut pace = Pace::new(limits);
        let mut sum = 0.0;
        for (way, speed) in moves {
            let length = way[..3].iter().map(|w| w * w).sum::<f64>().sqrt();
            let length = if length > 0.0 { length } else { way[3].abs() };
            let all = (length, 1.0 / length, *speed, length / speed);
            pace.push(*way, all, 0, |_, t| sum += t);
        }
        pace.stop(|_, t| sum += t);
        sum
    }

    #[test]
    fn a_move_alone_speeds_up_and_slows_down() {
        let limits = Limits {
            travel: 1000.0,
            ..Limits::default()
        };
        // 100 mm at 100 mm/s and 1000 mm/s²: 0.1 s up over 5 mm, 90 mm held, 0.1 s down.
        let held = time(&[([100.0, 0.0, 0.0, 0.0], 100.0)], limits.clone());
        assert!((held - (0.1 + 0.9 + 0.1)).abs() < 1e-9, "{held}");
        // 4 mm never reach it: twice the time over 2 mm.
        let short = time(&[([4.0, 0.0, 0.0, 0.0], 100.0)], limits);
        assert!(
            (short - 2.0 * (2.0 * 2.0 / 1000.0f64).sqrt()).abs() < 1e-9,
            "{short}"
        );
    }

    #[test]
    fn a_straight_line_in_pieces_takes_as_long_as_whole() {
        let whole = time(&[([100.0, 0.0, 0.0, 3.0], 80.0)], Limits::default());
        let pieces = time(&[([0.5, 0.0, 0.0, 0.015], 80.0); 200], Limits::default());
        assert!((whole - pieces).abs() < 1e-6, "{whole} {pieces}");
    }

    #[test]
    fn a_corner_costs_time_and_a_milder_corner_less() {
        let legs = |x: f64, y: f64| [([50.0, 0.0, 0.0, 1.0], 80.0), ([x, y, 0.0, 1.0], 80.0)];
        let [straight, mild, sharp] = [legs(50.0, 0.0), legs(49.0, 9.949_874_371), legs(0.0, 50.0)]
            .map(|moves| time(&moves, Limits::default()));
        assert!(straight < mild && mild < sharp, "{straight} {mild} {sharp}");
        // Round a right angle a jerk of 8 mm/s lets 8 mm/s through: (80 - 8) / 1000 s lost twice,
        // less the way that is made meanwhile.
        let lost = 2.0 * (72.0f64 * 72.0 / (2.0 * 1000.0)) / 80.0;
        assert!(
            (sharp - straight - lost).abs() < 1e-6,
            "{}",
            sharp - straight
        );
    }

    #[test]
    fn limits_of_an_axis_hold() {
        let mut limits = Limits::default();
        limits.set(Limit::AxisSpeed(2, 5.0));
        limits.set(Limit::AxisAcceleration(2, 100.0));
        let up = time(&[([0.0, 0.0, 10.0, 0.0], 100.0)], limits.clone());
        assert!(
            (up - (0.05 + 0.05 + (10.0 - 0.25) / 5.0)).abs() < 1e-9,
            "{up}"
        );
        limits.set(Limit::Laying(-3.0));
        assert!(limits.laying > 0.0);
    }
}
