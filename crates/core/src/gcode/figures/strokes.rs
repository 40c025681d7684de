//! Strokes: lines laid without a break, and what they are for where the file does not say.

use super::super::layer::Extent;
use super::super::line_type::LineType;

/// Strokes of one layer that are guessed at; more stay [`LineType::Other`].
pub(crate) const MOST_STROKES: usize = 20_000;

/// A stroke in a few figures.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(crate) struct Stroke {
    /// Where it begins, mm.
    pub start: [f64; 2],
    /// Where it ends, mm.
    pub end: [f64; 2],
    /// Its length, mm.
    pub length: f64,
    /// Seconds without acceleration.
    pub time: f64,
    /// Moves in it.
    pub moves: u32,
    /// The area it goes round, mm²; above 0 counter-clockwise.
    pub area: f64,
    /// Its box.
    pub extent: Extent,
    /// Millimetres of it that hang over nothing.
    pub open: f64,
}

impl Stroke {
    /// A stroke that begins here.
    pub fn begin(x: f64, y: f64) -> Self {
        let mut extent = Extent::default();
        extent.add(x, y);
        let at = [x, y];
        Stroke {
            start: at,
            end: at,
            length: 0.0,
            time: 0.0,
            moves: 0,
            area: 0.0,
            extent,
            open: 0.0,
        }
    }

    /// It goes on to a place.
    #[inline]
    pub fn go(&mut self, to: [f64; 2], length: f64, time: f64, open: f64) {
        let [sx, sy] = self.start;
        let [x0, y0] = [self.end[0] - sx, self.end[1] - sy];
        let [x1, y1] = [to[0] - sx, to[1] - sy];
        self.area += (x0 * y1 - x1 * y0) / 2.0;
        self.length += length;
        self.time += time;
        self.moves += 1;
        self.open += open;
        self.extent.add(to[0], to[1]);
        self.end = to;
    }

    /// How far its end is from its start, mm.
    pub fn gap(&self) -> f64 {
        (self.start[0] - self.end[0]).hypot(self.start[1] - self.end[1])
    }

    /// Whether it closes, but for a gap such as a seam may have.
    pub fn is_loop(&self, width: f64) -> bool {
        self.moves >= 3 && self.length > 8.0 * width && self.gap() < 2.5 * width
    }
}

/// Guesses what the strokes of one layer are for. `first` is the layer on the plate.
pub(crate) fn guess(strokes: &[Stroke], width: f64, first: bool) -> Vec<LineType> {
    let loops: Vec<usize> = (0..strokes.len())
        .filter(|at| strokes[*at].is_loop(width))
        .take(400)
        .collect();
    let mut print = Extent::default();
    strokes
        .iter()
        .filter(|s| !s.is_loop(width))
        .for_each(|s| print.join(&s.extent));
    let mut types = vec![LineType::Other; strokes.len()];
    for &at in &loops {
        types[at] = loop_type(strokes, &loops, at, width);
    }
    if first {
        skirts(strokes, &loops, &mut types, width);
    }
    let walls: Vec<Extent> = loops
        .iter()
        .filter(|at| types[**at] != LineType::Skirt)
        .map(|at| strokes[*at].extent)
        .collect();
    lines(strokes, &walls, &mut types, width);
    types
}

/// A loop is an inner one when another runs round it at the distance of a line or two, or when it
/// runs round a hole's own loop so.
fn loop_type(strokes: &[Stroke], loops: &[usize], at: usize, width: f64) -> LineType {
    let margins = |outer: &Extent, inner: &Extent| {
        let [a, b, c, d] = outer.0;
        let [e, f, g, h] = inner.0;
        [e - a, f - b, c - g, d - h].map(f64::from)
    };
    let beside = |other: usize| {
        let sides = margins(&strokes[other].extent, &strokes[at].extent);
        sides
            .iter()
            .all(|side| (0.4 * width..1.6 * width).contains(side))
    };
    let inner = loops.iter().any(|other| *other != at && beside(*other));
    if inner {
        LineType::InnerLoop
    } else {
        LineType::OuterLoop
    }
}

/// On the plate, loops well outside of everything else are outlines that hold or prime.
fn skirts(strokes: &[Stroke], loops: &[usize], types: &mut [LineType], width: f64) {
    for &at in loops {
        let [left, front, right, back] = strokes[at].extent.0;
        let far = (2.5 * width) as f32;
        let mut others = strokes.iter().enumerate().filter(|(other, s)| {
            let wider = s.extent.size().zip(strokes[at].extent.size());
            *other != at && wider.is_some_and(|(other, own)| other[0] < own[0] - far)
        });
        let within = |s: &Stroke| {
            let [a, b, c, d] = s.extent.0;
            a - left > far && b - front > far && right - c > far && back - d > far
        };
        let any = others.clone().next().is_some();
        if any && others.all(|(_, s)| within(s)) {
            types[at] = LineType::Skirt;
        }
    }
}

/// Open strokes: bridges hang, support stands beside the walls, dense filling is skin.
fn lines(strokes: &[Stroke], walls: &[Extent], types: &mut [LineType], width: f64) {
    let open: Vec<usize> = (0..strokes.len())
        .filter(|at| types[*at] == LineType::Other)
        .collect();
    let inside = |s: &Stroke| {
        walls
            .iter()
            .any(|wall| wall.outside(&s.extent) < width as f32)
    };
    let mut groups = [(Extent::default(), 0.0), (Extent::default(), 0.0)];
    for &at in &open {
        let group = &mut groups[usize::from(inside(&strokes[at]))];
        group.0.join(&strokes[at].extent);
        group.1 += strokes[at].length;
    }
    let dense = |(extent, length): &(Extent, f64)| {
        let area = extent
            .size()
            .map_or(0.0, |[w, d]| f64::from(w.max(0.1)) * f64::from(d.max(0.1)));
        area > 0.0 && length * width / area > 0.6
    };
    let skin = dense(&groups[1]);
    for &at in &open {
        let stroke = &strokes[at];
        types[at] = match () {
            () if stroke.moves <= 3 && stroke.open > 3.0 && stroke.open > 0.6 * stroke.length => {
                LineType::Bridge
            }
            () if walls.is_empty() => LineType::Other,
            () if !inside(stroke) => LineType::Support,
            () if skin => LineType::Skin,
            () => LineType::Infill,
        };
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn square(x: f64, side: f64) -> Stroke {
        let mut stroke = Stroke::begin(x, x);
        for to in [[x + side, x], [x + side, x + side], [x, x + side], [x, x]] {
            stroke.go(to, side, 1.0, 0.0);
        }
        stroke
    }

    fn line(x: f64, y: f64, long: f64, open: f64) -> Stroke {
        let mut stroke = Stroke::begin(x, y);
        stroke.go([x + long, y], long, 1.0, open);
        stroke
    }

    #[test]
    fn loops_within_loops_are_inner_ones_and_far_ones_are_skirts() {
        let strokes = [square(0.0, 40.0), square(10.0, 20.0), square(10.45, 19.1)];
        let types = guess(&strokes, 0.45, true);
        assert_eq!(
            types,
            [LineType::Skirt, LineType::OuterLoop, LineType::InnerLoop]
        );
        assert_eq!(
            guess(&strokes[1..], 0.45, false),
            [LineType::OuterLoop, LineType::InnerLoop]
        );
    }

    #[test]
    fn lines_are_told_apart_by_density_place_and_what_is_beneath() {
        let mut strokes = vec![square(0.0, 20.0)];
        strokes.extend((1..5).map(|i| line(1.0, f64::from(i) * 4.0, 18.0, 0.0)));
        strokes.push(line(40.0, 5.0, 8.0, 0.0));
        let types = guess(&strokes, 0.45, false);
        assert_eq!(types[1], LineType::Infill);
        assert_eq!(types[5], LineType::Support);
        let mut strokes = vec![square(0.0, 20.0)];
        strokes.extend((1..43).map(|i| line(0.5, f64::from(i) * 0.45, 19.0, 0.0)));
        strokes.push(line(1.0, 5.0, 10.0, 9.0));
        let types = guess(&strokes, 0.45, false);
        assert_eq!((types[1], types[43]), (LineType::Skin, LineType::Bridge));
    }
}
