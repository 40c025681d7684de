//! Marks over a picture: rings, arrows, words.

use super::escape;
use std::fmt::Write;
use suspect_core::picture::{Mark, MarkKind};

/// The marks as a drawing that lies over a picture of this size. Each is drawn twice: a light edge
/// keeps it visible on any colour.
pub fn svg(marks: &[Mark], width: u32, height: u32) -> String {
    let (w, h) = (f64::from(width), f64::from(height));
    let thick = w.max(h) / 220.0;
    let mut out = format!(
        r#"<svg class="marks" viewBox="0 0 {width} {height}" preserveAspectRatio="xMidYMid slice"
            aria-hidden="true">"#
    );
    for mark in marks {
        let (x, y, to_x, to_y) = (mark.x * w, mark.y * h, mark.to_x * w, mark.to_y * h);
        let shape = match mark.kind {
            MarkKind::Circle => {
                let r = (to_x - x).hypot(to_y - y).max(thick * 3.0);
                format!(
                    "M{:.1} {y:.1}a{r:.1} {r:.1} 0 1 0 {:.1} 0a{r:.1} {r:.1} 0 1 0 {:.1} 0",
                    x - r,
                    2.0 * r,
                    -2.0 * r
                )
            }
            MarkKind::Arrow => {
                let angle = (to_y - y).atan2(to_x - x);
                let barb = |turn: f64| {
                    (
                        x + thick * 9.0 * (angle + turn).cos(),
                        y + thick * 9.0 * (angle + turn).sin(),
                    )
                };
                let ((ax, ay), (bx, by)) = (barb(0.45), barb(-0.45));
                format!(
                    "M{to_x:.1} {to_y:.1}L{x:.1} {y:.1}M{ax:.1} {ay:.1}L{x:.1} {y:.1}L{bx:.1} \
                        {by:.1}"
                )
            }
            MarkKind::Text => String::new(),
        };
        for (class, factor) in [("mark-edge", 2.4), ("mark-line", 1.0)] {
            if !shape.is_empty() {
                let _ = write!(
                    out,
                    r#"<path class="{class}" stroke-width="{:.1}" d="{shape}"/>"#,
                    thick * factor
                );
            }
        }
        if !mark.text.is_empty() {
            let size = thick * 7.0;
            let (tx, ty) = if mark.kind == MarkKind::Text {
                (x, y)
            } else {
                (to_x + thick * 2.0, to_y - thick * 2.0)
            };
            let end = if tx > w * 0.7 {
                r#" text-anchor="end""#
            } else {
                ""
            };
            let text = escape(&mark.text);
            let _ = write!(
                out,
                r#"<text class="mark-text" x="{tx:.1}" y="{ty:.1}" font-size="{size:.1}"
                    stroke-width="{:.1}"{end}>{text}</text>"#,
                thick * 1.6
            );
        }
    }
    out.push_str("</svg>");
    out
}
