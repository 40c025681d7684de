//! The sheet a drawing of the bench is made on: strokes, tools, and places for numbers.

use super::{Drawn, letter};
use crate::drawing::escape;
use crate::drawing::sign::Pen;
use std::fmt::Write;

/// Its width and height.
const SIZE: (f64, f64) = (320.0, 170.0);

/// A sheet 320 wide and 170 high.
pub struct Sheet<'a> {
    pub pen: Pen,
    texts: String,
    typed: Option<&'a dyn Fn(&'static str) -> Option<String>>,
    lettered: Vec<&'static str>,
}

impl<'a> Sheet<'a> {
    /// With letters, and the numbers that were typed.
    pub fn with(typed: &'a dyn Fn(&'static str) -> Option<String>) -> Self {
        Self {
            pen: Pen::default(),
            texts: String::new(),
            typed: Some(typed),
            lettered: Vec::new(),
        }
    }

    /// Without.
    pub fn bare() -> Self {
        Self {
            pen: Pen::default(),
            texts: String::new(),
            typed: None,
            lettered: Vec::new(),
        }
    }

    /// The drawing.
    pub fn finish(self, title: &str) -> Drawn {
        let (w, h) = SIZE;
        let role = match title {
            "" => r#"aria-hidden="true""#.to_string(),
            title => format!(r#"role="img" aria-label="{}""#, escape(title)),
        };
        let (strokes, texts) = (self.pen.finish(), self.texts);
        Drawn {
            svg: format!(
                r#"<svg class="sign bench-drawing" viewBox="0 0 {w} {h}"
                    {role}>{strokes}{texts}</svg>"#
            ),
            lettered: self.lettered,
        }
    }

    /// The place of an input: its letter, and the number once it is typed.
    pub fn say(&mut self, x: f64, y: f64, input: &'static str) {
        let Some(typed) = self.typed else {
            return;
        };
        let at = self.lettered.iter().position(|id| *id == input);
        let at = at.unwrap_or_else(|| {
            self.lettered.push(input);
            self.lettered.len() - 1
        });
        let number = typed(input);
        let words = match &number {
            Some(number) => format!("{} {}", letter(at), escape(number)),
            None => letter(at).to_string(),
        };
        let (class, wide) = match number {
            Some(_) => (
                "num typed",
                7.6 * words.chars().count().min(24) as f64 + 8.0,
            ),
            None => ("num", 18.0),
        };
        let x = x.clamp(wide / 2.0 + 1.0, SIZE.0 - wide / 2.0 - 1.0);
        let (left, top) = (x - wide / 2.0, y - 13.0);
        let _ = write!(
            self.texts,
            r#"<rect class="marker" x="{left:.1}" y="{top:.1}" width="{wide:.1}" height="18"
                rx="9"/><text class="{class}" x="{x:.1}" y="{y:.1}">{words}</text>"#
        );
    }

    /// A word of the drawing itself.
    pub fn note(&mut self, x: f64, y: f64, words: &str) {
        if self.typed.is_some() {
            let _ = write!(
                self.texts,
                r#"<text class="note" x="{x:.1}" y="{y:.1}">{words}</text>"#
            );
        }
    }

    /// A length from left to right, its number in the middle.
    pub fn across(&mut self, x1: f64, x2: f64, y: f64, input: &'static str) {
        self.pen.path(
            "dim",
            &format!(
                "M{x1:.1} {:.1}v10M{x2:.1} {:.1}v10M{x1:.1} {y:.1}H{x2:.1}",
                y - 5.0,
                y - 5.0
            ),
        );
        self.say(f64::midpoint(x1, x2), y - 7.0, input);
    }

    /// A length from top to bottom, its number at the right.
    pub fn up(&mut self, x: f64, y1: f64, y2: f64, input: &'static str) {
        self.pen.path(
            "dim",
            &format!(
                "M{:.1} {y1:.1}h10M{:.1} {y2:.1}h10M{x:.1} {y1:.1}V{y2:.1}",
                x - 5.0,
                x - 5.0
            ),
        );
        self.say(x + 14.0, f64::midpoint(y1, y2) + 5.0, input);
    }

    /// A length at a slant.
    pub fn between(&mut self, from: (f64, f64), to: (f64, f64), input: &'static str) {
        self.pen.line("dim", from.0, from.1, to.0, to.1);
        self.pen.round("dim dot", from.0, from.1, 2.5);
        self.pen.round("dim dot", to.0, to.1, 2.5);
        let (x, y) = (f64::midpoint(from.0, to.0), f64::midpoint(from.1, to.1));
        self.say(x, y - 5.0, input);
    }

    /// A thin line from a number to what it belongs to.
    pub fn point(&mut self, from: (f64, f64), to: (f64, f64), input: &'static str) {
        if self.typed.is_none() {
            return;
        }
        self.pen.line("dim", from.0, from.1, to.0, to.1);
        self.pen.round("dim dot", to.0, to.1, 2.5);
        self.say(from.0, from.1 + 4.0, input);
    }

    /// The jaws of calipers about something from `x1` to `x2`, reaching up to `y`.
    pub fn jaws(&mut self, x1: f64, x2: f64, y: f64) {
        let (a, b, base) = (x1 - 12.0, x2 + 12.0, 132.0);
        let d = format!(
            "M{x1:.1} {y:.1}V{base:.1}H{a:.1}V{:.1}ZM{x2:.1} {y:.1}V{base:.1}H{b:.1}V{:.1}Z",
            y + 16.0,
            y + 16.0
        );
        self.pen.path("metal", &d);
        self.pen.block("metal", 20.0, base, 280.0, 14.0, 2.0);
        for n in 0..27 {
            let x = 28.0 + 10.0 * f64::from(n);
            let tall = if n % 5 == 0 { 8.0 } else { 4.0 };
            self.pen
                .line("faint", x, base + 14.0, x, base + 14.0 - tall);
        }
    }

    /// A ruler below something.
    pub fn ruler(&mut self, x1: f64, x2: f64, y: f64) {
        self.pen.block("metal", x1, y, x2 - x1, 16.0, 2.0);
        let many = ((x2 - x1) / 8.0) as u32;
        for n in 1..many {
            let x = x1 + 8.0 * f64::from(n);
            let tall = if n % 5 == 0 { 9.0 } else { 5.0 };
            self.pen.line("ink", x, y, x, y + tall);
        }
    }

    /// The plate below a print.
    pub fn plate(&mut self, y: f64) {
        self.pen.block("metal", 24.0, y, 272.0, 7.0, 1.5);
    }

    /// A hot end whose nozzle ends at a point.
    pub fn nozzle(&mut self, x: f64, y: f64) {
        let l = x - 20.0;
        self.pen.block("metal", l, y - 46.0, 40.0, 24.0, 2.0);
        let (a, b) = (y - 22.0, y - 12.0);
        self.pen.path(
            "metal",
            &format!(
                "M{:.1} {a:.1}H{:.1}V{b:.1}L{:.1} {y:.1}H{:.1}L{:.1} {b:.1}Z",
                x - 11.0,
                x + 11.0,
                x + 3.0,
                x - 3.0,
                x - 11.0
            ),
        );
    }

    /// A thermometer whose tip is at a point.
    pub fn thermometer(&mut self, x: f64, y: f64) {
        self.pen.line("bold", x, y, x + 34.0, y - 34.0);
        self.pen
            .block("hollow", x + 30.0, y - 66.0, 40.0, 34.0, 4.0);
        self.pen.path(
            "ink",
            &format!("M{:.1} {:.1}v12m6 -12v12m6-12v12", x + 42.0, y - 55.0),
        );
        self.pen.round("bad", x, y, 3.0);
    }

    /// A spool from the side.
    pub fn spool(&mut self, x: f64, y: f64, full: f64) {
        self.pen.round("hollow", x, y, 40.0);
        self.pen.round("plastic", x, y, 14.0 + 22.0 * full);
        self.pen.round("hollow", x, y, 12.0);
        self.pen.round("metal", x, y, 5.0);
    }
}
