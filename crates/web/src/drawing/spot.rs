//! Places to touch on a drawing: each a link with its label, a leader to the spot, and what was
//! answered there.

use super::escape;
use std::fmt::Write;

/// What was answered at a place.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq)]
pub struct Tally {
    /// Signs seen.
    pub seen: usize,
    /// Signs looked for and not seen.
    pub not_seen: usize,
    /// Tasks that are due there, on the page of a machine.
    pub due: usize,
}

/// A place to touch.
pub struct Spot<'a> {
    pub name: &'a str,
    pub href: String,
    pub chosen: bool,
    pub tally: Tally,
    /// Where its label stands.
    pub label: (f64, f64),
    /// Where its leader ends and its mark is drawn.
    pub target: (f64, f64),
    /// The shape that answers to touch, drawn as an outline.
    pub shape: &'a str,
    /// Width of the whole drawing: labels on its right half end at their place.
    pub width: f64,
}

impl Spot<'_> {
    /// The link with everything that belongs to it.
    pub fn draw(&self, out: &mut String) {
        let (x, y) = self.label;
        let (tx, ty) = self.target;
        let pointed = self.target != self.label;
        let right = x > self.width / 2.0;
        let anchor = if right { "end" } else { "start" };
        let said = match self.tally {
            Tally { due: 1.., .. } => format!(", {} due", self.tally.due),
            Tally {
                seen: 0,
                not_seen: 0,
                ..
            } => String::new(),
            Tally {
                seen: 0, not_seen, ..
            } => format!(", {not_seen} not seen"),
            Tally { seen, .. } => format!(", {seen} seen"),
        };
        let name = escape(self.name);
        let chosen = if self.chosen {
            r#" aria-current="true""#
        } else {
            ""
        };
        let label = escape(&format!("{}{said}", self.name));
        let _ = write!(
            out,
            r#"<a class="spot" href="{}" aria-label="{label}"{chosen}>"#,
            escape(&self.href)
        );
        let _ = write!(out, r#"<path class="touch" d="{}"/>"#, self.shape);
        // About the width of the letters, so that the label answers to touch as a whole.
        let wide = 10.0 + 8.2 * self.name.chars().count() as f64;
        let left = if right { x - wide + 4.0 } else { x - 4.0 };
        let _ = write!(
            out,
            r#"<rect class="hit" x="{left:.0}" y="{:.0}" width="{wide:.0}" height="52"/>"#,
            y - 31.0
        );
        let from = if right {
            x - wide + 2.0
        } else {
            x + wide - 6.0
        };
        if pointed {
            let _ = write!(
                out,
                r#"<path class="leader" d="M{from:.0} {:.0}L{tx:.0} {ty:.0}"/>"#,
                y - 5.0
            );
        }
        let _ = write!(
            out,
            r#"<text class="spot-name" x="{x:.0}" y="{y:.0}" text-anchor="{anchor}">{name}</text>"#
        );
        // What has no place on the drawing is marked behind its name.
        self.mark(
            out,
            if pointed {
                self.target
            } else {
                (x + wide + 8.0, y - 5.0)
            },
            pointed,
        );
        out.push_str("</a>");
    }

    fn mark(&self, out: &mut String, (x, y): (f64, f64), pointed: bool) {
        match self.tally {
            // A clock: its number is said, not drawn, for it is no part of the label.
            Tally { due: 1.., .. } => {
                let _ = write!(
                    out,
                    r#"<circle class="spot-due" cx="{x:.0}" cy="{y:.0}" r="11"/>"#
                );
                let _ = write!(
                    out,
                    r#"<path class="spot-hands" d="M{x:.0} {:.0}v6h5"/>"#,
                    y - 6.0
                );
            }
            Tally {
                seen: 0,
                not_seen: 0,
                ..
            } if !pointed => {}
            Tally {
                seen: 0,
                not_seen: 0,
                ..
            } => {
                let _ = write!(
                    out,
                    r#"<circle class="spot-dot" cx="{x:.0}" cy="{y:.0}" r="3.500"/>"#
                );
            }
            Tally { seen: 0, .. } => {
                let _ = write!(
                    out,
                    r#"<circle class="spot-none" cx="{x:.0}" cy="{y:.0}" r="10"/>"#
                );
                let _ = write!(
                    out,
                    r#"<path class="spot-dash" d="M{:.0} {y:.0}h9"/>"#,
                    x - 4.5
                );
            }
            Tally { .. } => {
                let _ = write!(
                    out,
                    r#"<circle class="spot-seen" cx="{x:.0}" cy="{y:.0}" r="12"/>"#
                );
                let _ = write!(
                    out,
                    r#"<path class="spot-check" d="M{:.0} {y:.0}l4 5 8 -9"/>"#,
                    x - 6.0
                );
            }
        }
    }
}
