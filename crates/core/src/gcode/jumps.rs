//! What a file does at a height: the layer there, and what jumps near it.

use super::line_type::LineType;
use super::reading::Reading;
use super::series::Figure;
use crate::measures::maths;

/// A jump is looked for so far below and above, mm.
pub const NEAR: f64 = 1.0;

/// Layers on each side that say what is usual.
const SIDE: usize = 5;

/// Layers on each side that say how much a figure wavers.
const NOISE_SIDE: usize = 15;

/// A figure that wavers jumps when it changes by this share of the larger value …
const LEAST_SHARE: f64 = 0.15;

/// … and by so many times its usual change from layer to layer.
const LEAST_TIMES: f64 = 5.0;

/// A line type begins or ends when it lays at least so much in a layer, mm.
const LEAST_LAID: f64 = 10.0;

/// What jumps.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Jumps {
    /// A figure changes.
    Figure(Figure),
    /// Lines of a type begin or end: mm laid before and after.
    Lines(LineType),
    /// Lines begin in the air: how many, before and after.
    AirStarts,
    /// The print stands still: how often.
    Pauses,
}

impl Jumps {
    /// Its name in the open format.
    pub fn id(self) -> &'static str {
        match self {
            Jumps::Figure(figure) => figure.id(),
            Jumps::Lines(line_type) => line_type.id(),
            Jumps::AirStarts => "starts_in_air",
            Jumps::Pauses => "pauses",
        }
    }
}

/// A jump between two layers that follow each other.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Jump {
    /// What jumps.
    pub what: Jumps,
    /// The layer in which the new value holds, by index.
    pub layer: usize,
    /// Value before.
    pub from: f64,
    /// Value after.
    pub to: f64,
    /// Height at which it changes: where the layer begins, mm.
    pub z: f64,
    /// Line of the file there.
    pub line: u64,
}

/// Everything that jumps within [`NEAR`] of a height, nearest first.
pub fn at(reading: &Reading, z: f64) -> Vec<Jump> {
    let layers = &reading.layers;
    let bottom = |at: usize| layers[at].z - layers[at].height;
    let near: Vec<usize> = (1..layers.len())
        .filter(|at| (bottom(*at) - z).abs() <= NEAR + 1e-6)
        .collect();
    let mut found = Vec::new();
    for figure in Figure::ALL {
        let values: Vec<Option<f64>> = layers.iter().map(|l| figure.of(reading, l)).collect();
        for &layer in &near {
            let change = if figure.is_set() {
                set(&values, layer)
            } else {
                wavers(&values, layer)
            };
            let told = change.filter(|(from, to)| (to - from).abs() >= figure.least_jump());
            if let Some((from, to)) = told {
                found.push(jump(reading, Jumps::Figure(figure), layer, from, to));
            }
        }
    }
    for &layer in &near {
        events(reading, layer, &mut found);
    }
    tidy(&mut found);
    let distance = |jump: &Jump| (jump.z - z).abs();
    found.sort_by(|a, b| distance(a).total_cmp(&distance(b)));
    found
}

fn jump(reading: &Reading, what: Jumps, layer: usize, from: f64, to: f64) -> Jump {
    let at = &reading.layers[layer];
    let z = at.z - at.height;
    let line = line_of(reading, what, layer).unwrap_or(at.line);
    Jump {
        what,
        layer,
        from,
        to,
        z,
        line,
    }
}

/// The line that sets a figure anew, near the layer where it shows.
fn line_of(reading: &Reading, what: Jumps, layer: usize) -> Option<u64> {
    let name = match what {
        Jumps::Figure(Figure::Fan) => "fan",
        Jumps::Figure(Figure::Nozzle) => "nozzle",
        Jumps::Figure(Figure::Bed) => "bed",
        Jumps::Figure(Figure::Pressure) => "pressure",
        Jumps::Figure(Figure::FlowFactor) => "flow-factor",
        Jumps::Figure(Figure::SpeedFactor) => "speed-factor",
        Jumps::AirStarts => return Some(reading.layers[layer].air_line),
        Jumps::Figure(Figure::PeakFlow) => return Some(reading.layers[layer].peak_line),
        _ => return None,
    };
    let from = reading.layers[layer.checked_sub(1)?].line;
    let until = reading
        .layers
        .get(layer + 1)
        .map_or(u64::MAX, |next| next.line);
    let within = |line: u64| (from..until).contains(&line);
    let all = reading
        .changes
        .iter()
        .filter(|change| change.what == name && within(change.line));
    all.map(|change| change.line).next_back()
}

/// A figure that is set changes when it is set anew.
fn set(values: &[Option<f64>], layer: usize) -> Option<(f64, f64)> {
    let (from, to) = (values[layer - 1]?, values[layer]?);
    ((to - from).abs() > 1e-3 * from.abs().max(to.abs()) + 1e-6).then_some((from, to))
}

/// A figure that wavers jumps when it changes far more than it usually does from layer to layer,
/// to stay or for one layer.
fn wavers(values: &[Option<f64>], layer: usize) -> Option<(f64, f64)> {
    let change = values[layer]? - values[layer - 1]?;
    let around = layer.saturating_sub(NOISE_SIDE).max(1)..(layer + NOISE_SIDE).min(values.len());
    let steps = around.filter(|at| *at != layer);
    let usual = median(steps.filter_map(|at| Some((values[at]? - values[at - 1]?).abs())));
    let side = |range: std::ops::Range<usize>| median(range.filter_map(|at| values[at]));
    let before = side(layer.saturating_sub(SIDE)..layer)?;
    let after = side(layer..(layer + SIDE).min(values.len()))?;
    let stays = (after - before).abs() > 0.6 * change.abs();
    let (from, to) = if stays {
        (before, after)
    } else {
        (before, values[layer]?)
    };
    // Back to what was usual after one odd layer: told with that layer.
    if !stays && (to - before).abs() < 0.6 * change.abs() {
        return None;
    }
    let large = change.abs() > LEAST_TIMES * usual.unwrap_or(0.0)
        && change.abs() > LEAST_SHARE * from.abs().max(to.abs());
    (large && (from - to).abs() > 1e-6).then_some((from, to))
}

/// The middle value; none of nothing.
fn median(values: impl Iterator<Item = f64>) -> Option<f64> {
    let values: Vec<f64> = values.collect();
    (!values.is_empty()).then(|| maths::median(&values))
}

/// Lines that begin or end, starts in the air, places where the print stands still.
fn events(reading: &Reading, layer: usize, found: &mut Vec<Jump>) {
    let [below, here] = [layer - 1, layer].map(|at| &reading.layers[at]);
    for line_type in LineType::ALL.into_iter().filter(|t| *t != LineType::Other) {
        let [from, to] = [below, here].map(|l| f64::from(l.laid_by_type[line_type.index()]));
        let begins = from == 0.0 && to > LEAST_LAID;
        let ends = to == 0.0 && from > LEAST_LAID;
        if begins || ends {
            found.push(jump(reading, Jumps::Lines(line_type), layer, from, to));
        }
    }
    let [from, to] = [below, here].map(|l| f64::from(l.air_starts));
    if to > 0.0 && to != from {
        found.push(jump(reading, Jumps::AirStarts, layer, from, to));
    }
    if here.pauses > 0 {
        found.push(jump(
            reading,
            Jumps::Pauses,
            layer,
            0.0,
            f64::from(here.pauses),
        ));
    }
}

/// A figure that jumps in two layers next to each other jumps once: where the change is largest.
fn tidy(found: &mut Vec<Jump>) {
    let size = |jump: &Jump| (jump.to - jump.from).abs();
    let all = found.clone();
    found.retain(|one| {
        let wavers = matches!(one.what, Jumps::Figure(figure) if !figure.is_set());
        let beside = |other: &&Jump| {
            other.what == one.what
                && other.layer.abs_diff(one.layer) == 1
                && (other.to > other.from) == (one.to > one.from)
        };
        !wavers
            || !all
                .iter()
                .filter(beside)
                .any(|other| size(other) > size(one) + 1e-9)
    });
}

#[cfg(test)]
mod tests {
    use super::*;

    fn values(list: &[f64]) -> Vec<Option<f64>> {
        list.iter().copied().map(Some).collect()
    }

    #[test]
    fn a_step_is_found_where_it_is_and_a_slope_is_none() {
        let step: Vec<f64> = (0..30).map(|i| if i < 15 { 31.0 } else { 9.0 }).collect();
        let found: Vec<usize> = (1..30)
            .filter(|i| wavers(&values(&step), *i).is_some())
            .collect();
        assert_eq!(found, [15]);
        assert_eq!(wavers(&values(&step), 15), Some((31.0, 9.0)));
        let slope: Vec<f64> = (0..30).map(|i| 100.0 - 3.0 * f64::from(i)).collect();
        assert!((1..30).all(|i| wavers(&values(&slope), i).is_none()));
    }

    #[test]
    fn one_odd_layer_is_told_once() {
        let mut odd = vec![20.0; 30];
        odd[12] = 6.0;
        let found: Vec<usize> = (1..30)
            .filter(|i| wavers(&values(&odd), *i).is_some())
            .collect();
        assert_eq!(found, [12]);
    }

    #[test]
    fn what_wavers_by_nature_does_not_jump() {
        let noisy: Vec<f64> = (0..40).map(|i| 20.0 + f64::from((i * 7) % 5)).collect();
        assert!((1..40).all(|i| wavers(&values(&noisy), i).is_none()));
    }
}
