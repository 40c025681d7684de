//! Moves: straight ones, and arcs as chains of short straight ones.

use super::{Machine, modes};
use crate::gcode::plain_move::Move;
use crate::gcode::sink::Sink;
use crate::gcode::words::{Odd, Words};
use std::f64::consts::TAU;

/// Pieces of an arc are about so long, mm.
const PIECE_MM: f64 = 0.8;

/// No arc is cut into more pieces.
const MOST_PIECES: f64 = 720.0;

impl Machine {
    /// Where the words lead, mm, and the filament they move, mm.
    #[inline]
    fn target(&mut self, words: &Move) -> ([f64; 3], f64) {
        let mut to = self.at;
        let begin = if self.absolute { self.offset } else { self.at };
        for (axis, to) in to.iter_mut().enumerate() {
            if let Some(value) = words.axis(axis) {
                *to = begin[axis] + value * self.unit;
            }
        }
        let mut e = 0.0;
        if let Some(value) = words.filament() {
            e = if self.e_absolute {
                value - self.e
            } else {
                value
            };
            self.e = if self.e_absolute {
                value
            } else {
                self.e + value
            };
            e *= self.unit * self.e_scale * self.flow_factor;
        }
        if let Some(feed) = words.feed()
            && feed > 0.0
        {
            self.feed = feed * self.unit / 60.0;
        }
        (to, e)
    }

    /// `G0`, `G1`.
    #[inline]
    pub(crate) fn straight(&mut self, words: &Move, sink: &mut impl Sink) {
        let before = (self.e, self.feed);
        let (to, e) = self.target(words);
        self.step(to, e, before, sink);
    }

    /// `G2` clockwise, `G3` counter-clockwise, in the plane of the bed; a helix where Z moves too.
    pub(super) fn arc(&mut self, words: &mut Words, sink: &mut impl Sink) {
        let from = self.at;
        let before = (self.e, self.feed);
        let (to, e) = self.target(&Move::of(words));
        let clockwise = words.code == 2;
        let Some(centre) = self.centre(words, from, to, clockwise) else {
            words.say(Odd::Arc);
            self.step(to, e, before, sink);
            return;
        };
        let radius = (from[0] - centre[0]).hypot(from[1] - centre[1]);
        let begin = (from[1] - centre[1]).atan2(from[0] - centre[0]);
        let end = (to[1] - centre[1]).atan2(to[0] - centre[0]);
        let turn = turn(begin, end, clockwise);
        let pieces = (radius * turn.abs() / PIECE_MM)
            .ceil()
            .clamp(1.0, MOST_PIECES);
        let chord = chord_share(turn / pieces);
        self.modes |= modes::ARC;
        for piece in 1..=pieces as u32 {
            let share = f64::from(piece) / pieces;
            let place = if f64::from(piece) < pieces {
                let angle = begin + turn * share;
                let z = from[2] + (to[2] - from[2]) * share;
                [
                    centre[0] + radius * angle.cos(),
                    centre[1] + radius * angle.sin(),
                    z,
                ]
            } else {
                to
            };
            // A chord is a little shorter than its arc: the speed along it is, too, so that the
            // time comes out.
            let feed = self.feed;
            self.feed *= chord;
            self.step(place, e / pieces, before, sink);
            self.feed = feed;
        }
        self.modes &= !modes::ARC;
    }

    /// The centre of an arc, from I and J or from R.
    fn centre(
        &self,
        words: &Words,
        from: [f64; 3],
        to: [f64; 3],
        clockwise: bool,
    ) -> Option<[f64; 2]> {
        if words.any(b"IJ") {
            let [i, j] = [b'I', b'J'].map(|letter| words.get(letter).unwrap_or(0.0) * self.unit);
            return (i.hypot(j) > 1e-6).then_some([from[0] + i, from[1] + j]);
        }
        let radius = words.get(b'R')? * self.unit;
        let (dx, dy) = (to[0] - from[0], to[1] - from[1]);
        let chord = dx.hypot(dy);
        // A radius a hair too small for its chord is a rounded half circle.
        if chord < 1e-9 || radius.abs() < chord / 2.0 * 0.999 {
            return None;
        }
        let height = (radius * radius - chord * chord / 4.0).max(0.0).sqrt();
        // The centre lies left of the chord for a short counter-clockwise arc.
        let left = clockwise == (radius < 0.0);
        let side = if left { height } else { -height };
        let [mx, my] = [f64::midpoint(from[0], to[0]), f64::midpoint(from[1], to[1])];
        Some([mx - dy / chord * side, my + dx / chord * side])
    }
}

/// The angle from `begin` to `end` in the arc's own direction; a whole turn where they are one.
fn turn(begin: f64, end: f64, clockwise: bool) -> f64 {
    let mut turn = (end - begin).rem_euclid(TAU);
    if !(1e-9..=TAU - 1e-9).contains(&turn) {
        turn = if clockwise { 0.0 } else { TAU };
    }
    if clockwise { turn - TAU } else { turn }
}

/// Length of a chord by length of its arc.
fn chord_share(angle: f64) -> f64 {
    let half = angle.abs() / 2.0;
    if half < 1e-6 { 1.0 } else { half.sin() / half }
}
