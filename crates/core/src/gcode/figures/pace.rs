//! How long moves take on a machine that must speed up, slow down and go round corners.
//!
//! Each move is a trapezoid of speed: it speeds up, holds, slows down. Where two moves meet, the
//! speed is bounded by what the corner allows. A window of moves is looked ahead over: first
//! backwards, so that every move can still slow down for what follows, then forwards.

use super::super::sink::{Limit, Step};
use super::least;
use super::limits::{Bounds, Limits, ORDINARY};

/// Moves looked ahead over.
const WINDOW: usize = 64;

/// Moves settled at once.
const SETTLED: usize = 32;

/// A move that waits for its time.
#[derive(Debug, Clone, Copy, Default)]
struct Waiting {
    speed: f64,
    /// Its square.
    full: f64,
    /// Seconds at that speed.
    plain: f64,
    acceleration: f64,
    /// The square of the speed that is gained over it from rest.
    reach: f64,
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
    bounds: Bounds,
    waiting: Box<[Waiting; WINDOW]>,
    /// How many wait.
    many: usize,
    /// How many of them have been looked back over.
    looked_over: usize,
    /// Direction of the move before, with the filament to a millimetre of way.
    before: [f64; 4],
    speed_before: f64,
    /// Speed at which the first waiting move begins, squared.
    running: f64,
}

impl Pace {
    pub fn new(limits: Limits) -> Self {
        Pace {
            bounds: Bounds::of(&limits),
            limits,
            waiting: Box::new([Waiting::default(); WINDOW]),
            many: 0,
            looked_over: 0,
            before: [0.0; 4],
            speed_before: 0.0,
            running: 0.0,
        }
    }

    /// Takes over a limit that a file sets.
    pub fn set(&mut self, limit: Limit) {
        self.limits.set(limit);
        self.bounds = Bounds::of(&self.limits);
    }

    /// A move comes. `spend` is given the time of moves that are settled, with their slot.
    #[inline]
    pub fn push(&mut self, step: &Step, slot: u32, spend: impl FnMut(u32, f64)) {
        let [x, y, z] = step.way();
        let unit = [x, y, z, step.e].map(|part| part * step.one);
        let leads = step.length > 0.0;
        let length = if leads { step.length } else { step.e.abs() };
        let limits = &self.limits;
        let mut acceleration = match (leads, step.e > 0.0) {
            (false, _) => limits.filament,
            (true, true) => limits.laying,
            (true, false) => limits.travel,
        };
        let (mut speed, mut plain) = (step.speed, step.plain);
        let bounds = self.bounds;
        let ordinary = z == 0.0 && unit[3].abs() <= ORDINARY;
        if !ordinary || speed > bounds.speed || acceleration > bounds.acceleration {
            (speed, acceleration) = limits.bound(unit, speed, acceleration);
            if speed < step.speed {
                plain = length / speed;
            }
        }
        let corner = self.corner(unit, least(speed, self.speed_before), acceleration, leads);
        self.before = unit;
        self.speed_before = if leads { speed } else { 0.0 };
        if self.many == WINDOW {
            self.settle(SETTLED, spend);
        }
        let corner = corner * corner;
        self.waiting[self.many % WINDOW] = Waiting {
            speed,
            full: speed * speed,
            plain,
            acceleration,
            reach: 2.0 * acceleration * length,
            corner,
            entry: corner,
            slot,
        };
        self.many += 1;
    }

    /// The fastest the corner between the move before and this one may be taken.
    #[inline]
    fn corner(&self, unit: [f64; 4], speed: f64, acceleration: f64, leads: bool) -> f64 {
        if !leads || speed <= 0.0 {
            return 0.0;
        }
        if self.bounds.rounded {
            return self.rounded(unit, speed, acceleration);
        }
        let ways = unit.iter().zip(&self.before).zip(&self.bounds.per_jerk);
        let steps = ways.map(|((here, before), per_jerk)| (here - before).abs() * per_jerk);
        let worst = speed * steps.fold(0.0, |worst, step| if step > worst { step } else { worst });
        if worst > 1.0 { speed / worst } else { speed }
    }

    /// The same where corners may be cut a little.
    fn rounded(&self, unit: [f64; 4], speed: f64, acceleration: f64) -> f64 {
        let deviation = match self.limits.corner {
            Some(corner) => corner * corner * (std::f64::consts::SQRT_2 - 1.0) / acceleration,
            None => self.limits.deviation.unwrap_or(0.0),
        };
        let [a, b] = [self.before, unit];
        let cosine = -(a[0] * b[0] + a[1] * b[1] + a[2] * b[2]);
        let sine = ((1.0 - cosine) / 2.0).max(0.0).sqrt();
        if sine > 0.999_999 {
            return speed;
        }
        speed.min((acceleration * deviation * sine / (1.0 - sine)).sqrt())
    }

    /// The machine stands still here: all moves before are settled.
    pub fn stop(&mut self, spend: impl FnMut(u32, f64)) {
        self.settle(self.many, spend);
        self.running = 0.0;
        self.speed_before = 0.0;
    }

    fn settle(&mut self, count: usize, mut spend: impl FnMut(u32, f64)) {
        self.look_back();
        let (mut slot, mut time) = (self.waiting[0].slot, 0.0);
        let mut running = self.running;
        for at in 0..count {
            let one = &self.waiting[at % WINDOW];
            if one.slot != slot {
                spend(slot, time);
                (slot, time) = (one.slot, 0.0);
            }
            let next = if at + 1 < self.many {
                self.waiting[(at + 1) % WINDOW].entry
            } else {
                0.0
            };
            if running == one.full && next == one.full {
                // In the middle of a curve nothing speeds up or slows down: no root is drawn.
                time += one.plain;
                continue;
            }
            let exit = least(next, running + one.reach);
            time += trapezoid(one, running.sqrt(), exit.sqrt());
            running = exit;
        }
        spend(slot, time);
        self.running = running;
        self.waiting.copy_within(count..self.many, 0);
        self.many -= count;
        self.looked_over = self.many;
    }

    /// Every waiting move is to begin so that all that follows can still slow down, the last one to
    /// a stop.
    fn look_back(&mut self) {
        let mut end = 0.0;
        for (at, one) in self.waiting[..self.many].iter_mut().enumerate().rev() {
            let entry = least(one.corner, end + one.reach);
            if at < self.looked_over && entry == one.entry {
                // What follows has changed nothing here, so it changes nothing before.
                break;
            }
            one.entry = entry;
            end = entry;
        }
    }
}

/// Seconds of one move that begins and ends at these speeds.
#[inline]
fn trapezoid(one: &Waiting, entry: f64, exit: f64) -> f64 {
    let ends = entry * entry + exit * exit;
    let peak = (one.reach + ends) / 2.0;
    if peak <= one.full {
        (2.0 * peak.sqrt() - entry - exit) / one.acceleration
    } else {
        // What the two ramps take longer than the same way at full speed.
        let lost = (one.full + ends / 2.0) / one.speed - entry - exit;
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
            let moves = if length > 0.0 { length } else { way[3].abs() };
            let step = Step {
                to: [way[0], way[1], way[2]],
                length,
                one: 1.0 / moves,
                e: way[3],
                speed: *speed,
                plain: moves / speed,
                ..Step::default()
            };
            pace.push(&step, 0, |_, t| sum += t);
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

    /// The same looked ahead over to the end, move by move.
    fn looked_over_whole(lengths: &[f64], speeds: &[f64], corners: &[f64], a: f64) -> f64 {
        let many = lengths.len();
        let mut entries = vec![0.0; many + 1];
        for at in (0..many).rev() {
            entries[at] = f64::min(corners[at], entries[at + 1] + 2.0 * a * lengths[at]);
        }
        let (mut sum, mut running) = (0.0, 0.0f64);
        for at in 0..many {
            let exit = f64::min(entries[at + 1], running + 2.0 * a * lengths[at]);
            let peak = f64::midpoint(2.0 * a * lengths[at] + running, exit);
            let peak = f64::min(peak.sqrt(), speeds[at]);
            let ramps = (2.0 * peak - running.sqrt() - exit.sqrt()) / a;
            let held = lengths[at] - (2.0 * peak * peak - running - exit) / (2.0 * a);
            sum += ramps + held / peak;
            running = exit;
        }
        sum
    }

    #[test]
    fn looking_back_no_further_than_anything_changes_loses_nothing() {
        // Zigzags of 2 to 9 mm at 20 to 95 mm/s: a stop is never more than a few moves away.
        let many = 700;
        let lengths: Vec<f64> = (0..many).map(|n| 2.0 + f64::from(n * 5 % 8)).collect();
        let speeds: Vec<f64> = (0..many).map(|n| 20.0 + f64::from(n * 7 % 76)).collect();
        let way = |n: usize| {
            let side = if n.is_multiple_of(2) { 0.6 } else { -0.6 };
            [0.8 * lengths[n], side * lengths[n], 0.0, 0.0]
        };
        let moves: Vec<_> = (0..many as usize).map(|n| (way(n), speeds[n])).collect();
        let limits = Limits::default();
        // A corner turns Y by 1.2 of the speed, of which the jerk lets 8 mm/s through.
        let corner = |n: usize| {
            let slower = f64::min(speeds[n], speeds[n - 1]);
            f64::min(slower, limits.jerk[1] / 1.2).powi(2)
        };
        let corners: Vec<f64> = (0..many as usize)
            .map(|n| if n == 0 { 0.0 } else { corner(n) })
            .collect();
        let whole = looked_over_whole(&lengths, &speeds, &corners, limits.travel);
        let window = time(&moves, limits);
        assert!((whole - window).abs() < 1e-6 * whole, "{whole} {window}");
    }
}
