//! One layer of a print file as a drawing, for pages without scripts and for printers.

use std::fmt::Write;
use suspect_core::gcode::trace::{Trace, Way};
use suspect_core::gcode::{Extent, LineType};

/// Pieces drawn; the script's own view draws all.
const MOST: usize = 12_000;

/// Margin around the layer, mm.
const MARGIN: f32 = 3.0;

/// The drawing, in millimetres. `within` is the box of the whole print, so that layers lie over
/// each other.
pub fn svg(trace: &Trace, within: Extent, label: &str) -> String {
    let [left, front, right, back] = within.0;
    let (left, front) = (left - MARGIN, front - MARGIN);
    let (wide, deep) = (right + MARGIN - left, back + MARGIN - front);
    let mut svg = format!(
        r#"<svg class="layer-drawing" viewBox="0 0 {wide:.2} {deep:.2}" role="img"
            aria-label="{}">"#,
        crate::drawing::escape(label)
    );
    let place = |at: [f32; 2]| (at[0] - left, deep - (at[1] - front));
    for (class, path) in paths(trace, place) {
        let _ = write!(svg, r#"<path class="{class}" d="{path}"/>"#);
    }
    for at in trace.seams.iter().take(200) {
        let (x, y) = place(*at);
        let _ = write!(
            svg,
            r#"<path class="seam" d="M{x:.2} {y:.2}m0-.9l.9.9-.9.9-.9-.9z"/>"#
        );
    }
    for at in trace.retractions.iter().take(400) {
        let (x, y) = place(*at);
        let _ = write!(
            svg,
            r#"<path class="drawn-back" d="M{x:.2} {y:.2}m-.5-.5l1 1m0-1l-1 1"/>"#
        );
    }
    svg + "</svg>"
}

/// A path for each thing that pieces do.
fn paths(trace: &Trace, place: impl Fn([f32; 2]) -> (f32, f32)) -> Vec<(String, String)> {
    let mut all: Vec<(Way, String, [f32; 2])> = Vec::new();
    for piece in trace.pieces.iter().take(MOST) {
        let at = match all.iter().position(|(way, ..)| *way == piece.way) {
            Some(at) => at,
            None => {
                all.push((piece.way, String::new(), [f32::NAN; 2]));
                all.len() - 1
            }
        };
        let (_, path, end) = &mut all[at];
        if *end != piece.from {
            let (x, y) = place(piece.from);
            let _ = write!(path, "M{x:.2} {y:.2}");
        }
        let (x, y) = place(piece.to);
        let _ = write!(path, "L{x:.2} {y:.2}");
        *end = piece.to;
    }
    // What is laid lies over the ways between.
    all.sort_by_key(|(way, ..)| matches!(way, Way::Lays(_)));
    all.into_iter()
        .map(|(way, path, _)| (class(way), path))
        .collect()
}

/// The class of what a piece does, which the style sheet colours and dashes.
pub fn class(way: Way) -> String {
    match way {
        Way::Lays(line_type) => format!("laid {}", type_class(line_type)),
        Way::Travels => "travel".into(),
        Way::Wipes => "wipe".into(),
    }
}

/// The class of a line type.
pub fn type_class(line_type: LineType) -> &'static str {
    line_type.id()
}
