//! Files of known truth: what the reader finds in them is what was put in.

use crate::kit::{made, recipes, small};
use suspect_core::gcode::Reader;
use suspect_print_files::made::Recipe;

#[test]
fn filament_time_retractions_flow_and_lines_are_as_they_were_written() {
    for recipe in recipes() {
        let (_, mut reading, truth) = made(&recipe);
        assert_eq!(reading.lines, truth.lines);
        assert_eq!(reading.retraction.count, truth.retractions);
        assert!(
            (reading.sum(|l| l.filament) - truth.filament).abs() < 1e-6,
            "{recipe:?}"
        );
        let plain = reading.sum(|l| l.plain_time);
        assert!(
            (plain - truth.plain_time).abs() < 1e-6 * plain,
            "{plain} {truth:?}"
        );
        if !recipe.settings {
            // Nothing in the file tells the diameter then.
            reading.diameter = (recipe.diameter, 0);
        }
        let peak = reading
            .peak()
            .map(|(_, l)| reading.flow(l.peak_rate))
            .unwrap();
        assert!(
            (peak - truth.peak_flow).abs() < 1e-6 * peak,
            "{peak} {truth:?}"
        );
        assert_eq!(reading.layers.len(), recipe.layers as usize);
        assert_eq!(reading.typical_height(), Some(recipe.layer));
        assert_eq!(reading.problem_count, 0);
        let width = reading.layers[20].width(reading.area());
        assert!((width - recipe.width).abs() < 0.002, "{width}");
    }
}

#[test]
fn odd_pieces_give_what_the_whole_gives() {
    for recipe in recipes() {
        let (text, whole, _) = made(&Recipe {
            layers: 12,
            ..recipe
        });
        for length in [1, 7, 4096, 65_537] {
            let mut reader = Reader::new();
            text.as_bytes()
                .chunks(length)
                .for_each(|piece| reader.feed(piece));
            assert_eq!(reader.finish(), whole, "pieces of {length}");
        }
    }
}

#[test]
fn the_time_is_near_that_of_a_careful_simulation() {
    // A second way of reckoning: all moves at once, not a window of them.
    let (text, reading, _) = made(&Recipe {
        layers: 20,
        ..small()
    });
    let careful = careful_time(&text, 1500.0, 8.0);
    let time = reading.sum(|l| l.time);
    assert!(
        (time - careful).abs() < 0.03 * careful,
        "{time} is not {careful}"
    );
}

/// Time by passes over the whole list of moves, in the plane: filament alone stands still.
fn careful_time(text: &str, acceleration: f64, jerk: f64) -> f64 {
    let (moves, still) = moves_of(text);
    let corner = |n: usize| -> f64 {
        let (before, after) = (&moves[n - 1], &moves[n]);
        if before.0[0] > 1.0 || after.0[0] > 1.0 {
            return 0.0;
        }
        let speed = before.2.min(after.2);
        let turn = (0..2)
            .map(|i| (after.0[i] - before.0[i]).abs())
            .fold(0.0, f64::max);
        if turn * speed > jerk {
            jerk / turn
        } else {
            speed
        }
    };
    let mut ends = vec![0.0; moves.len() + 1];
    (1..moves.len()).for_each(|n| ends[n] = corner(n));
    for n in (0..moves.len()).rev() {
        ends[n] = f64::min(
            ends[n],
            (ends[n + 1] * ends[n + 1] + 2.0 * acceleration * moves[n].1).sqrt(),
        );
    }
    for n in 0..moves.len() {
        ends[n + 1] = f64::min(
            ends[n + 1],
            (ends[n] * ends[n] + 2.0 * acceleration * moves[n].1).sqrt(),
        );
    }
    let each = moves.iter().enumerate().map(|(n, (_, length, speed))| {
        let (a, b) = (ends[n], ends[n + 1]);
        let peak = ((2.0 * acceleration * length + a * a + b * b) / 2.0)
            .sqrt()
            .min(*speed);
        let ramps = (2.0 * peak * peak - a * a - b * b) / (2.0 * acceleration);
        (2.0 * peak - a - b) / acceleration + (length - ramps).max(0.0) / peak
    });
    still + each.sum::<f64>()
}

/// A move: its direction (9, 9 for filament alone), length and speed.
type Move = ([f64; 2], f64, f64);

/// The moves of a made file, and the seconds of those that only rise.
fn moves_of(text: &str) -> (Vec<Move>, f64) {
    let mut moves: Vec<Move> = Vec::new();
    let (mut at, mut feed, mut still) = ([0.0, 0.0], 25.0, 0.0);
    let word = |line: &str, letter: char| -> Option<f64> {
        line.split_whitespace()
            .find_map(|w| w.strip_prefix(letter)?.parse().ok())
    };
    for line in text.lines().filter(|l| l.starts_with("G1 ")) {
        feed = word(line, 'F').map_or(feed, |f| f / 60.0);
        let to = [
            word(line, 'X').unwrap_or(at[0]),
            word(line, 'Y').unwrap_or(at[1]),
        ];
        let way = [to[0] - at[0], to[1] - at[1]];
        let length = way[0].hypot(way[1]);
        if length > 0.0 {
            moves.push((way.map(|w| w / length), length, feed));
        } else if let Some(e) = word(line, 'E') {
            moves.push(([9.0, 9.0], e.abs(), feed));
        } else {
            still += 0.2 / 10.0;
        }
        at = to;
    }
    (moves, still)
}
