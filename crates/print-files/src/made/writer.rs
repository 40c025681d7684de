//! Lines of the file, and a count of what is true of them.

use super::Recipe;
use std::f64::consts::PI;
use std::fmt::Write;

/// Speed of ways without plastic, mm/s.
const TRAVEL: f64 = 150.0;

/// Speed of a retraction, mm/s.
const RETRACT: f64 = 35.0;

/// What is true of a made file.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Truth {
    /// Filament, as written, mm.
    pub filament: f64,
    /// Seconds as if every move had its speed at once.
    pub plain_time: f64,
    /// Retractions.
    pub retractions: u32,
    /// The highest flow in the layers, mm³/s.
    pub peak_flow: f64,
    /// Lines.
    pub lines: u64,
}

pub(super) struct Writer<'a> {
    recipe: &'a Recipe,
    text: String,
    truth: Truth,
    at: [f64; 3],
    /// Filament so far, in hundred-thousandths of a millimetre, as it is written.
    e: i64,
    feed: f64,
    back: bool,
    pub in_layers: bool,
}

impl<'a> Writer<'a> {
    pub fn new(recipe: &'a Recipe) -> Self {
        Writer {
            recipe,
            text: String::new(),
            truth: Truth::default(),
            at: [0.0; 3],
            e: 0,
            feed: 25.0,
            back: false,
            in_layers: false,
        }
    }

    /// A line as it stands.
    pub fn say(&mut self, line: &str) {
        self.text.push_str(line);
        self.text.push('\n');
        self.truth.lines += 1;
    }

    /// A mark, where marks are wanted.
    pub fn mark(&mut self, line: &str) {
        if self.recipe.marked {
            self.say(line);
        }
    }

    fn area(&self) -> f64 {
        PI * self.recipe.diameter * self.recipe.diameter / 4.0
    }

    /// `E` word for so much filament, in hundred-thousandths.
    fn e_word(&mut self, amount: i64) -> String {
        self.e += amount;
        self.truth.filament += amount as f64 / 1e5;
        let value = if self.recipe.relative { amount } else { self.e };
        format!("E{:.5}", value as f64 / 1e5)
    }

    fn f_word(&mut self, speed: f64) -> String {
        if (self.feed - speed).abs() < 1e-9 {
            return String::new();
        }
        self.feed = speed;
        format!(" F{:.0}", speed * 60.0)
    }

    /// Draws the filament back, once.
    pub fn retract(&mut self) {
        self.filament(true);
    }

    fn filament(&mut self, back: bool) {
        if self.back == back {
            return;
        }
        self.back = back;
        self.truth.retractions += u32::from(back);
        let amount = (self.recipe.retract * 1e5).round() as i64;
        let word = self.e_word(if back { -amount } else { amount });
        let feed = self.f_word(RETRACT);
        self.truth.plain_time += self.recipe.retract / RETRACT;
        self.say(&format!("G1 {word}{feed}"));
    }

    /// Up to a height.
    pub fn rise(&mut self, z: f64) {
        let feed = self.f_word(10.0);
        self.truth.plain_time += (z - self.at[2]).abs() / 10.0;
        self.at[2] = z;
        self.say(&format!("G1 Z{z:.3}{feed}"));
    }

    /// To a place without laying; a long way is made with the filament drawn back.
    pub fn go(&mut self, x: f64, y: f64) {
        let [x, y] = round([x, y]);
        let way = (x - self.at[0]).hypot(y - self.at[1]);
        if way < 1e-9 {
            return;
        }
        if way > 2.0 && self.in_layers {
            self.retract();
        }
        let feed = self.f_word(TRAVEL);
        self.truth.plain_time += way / TRAVEL;
        (self.at[0], self.at[1]) = (x, y);
        self.say(&format!("G1 X{x:.3} Y{y:.3}{feed}"));
        self.filament(false);
    }

    /// Lays a line to a place.
    pub fn lay(&mut self, x: f64, y: f64, speed: f64) {
        let [x, y] = round([x, y]);
        let way = (x - self.at[0]).hypot(y - self.at[1]);
        if way < 1e-9 {
            return;
        }
        let volume = way * self.recipe.layer * self.recipe.width;
        let amount = (volume / self.area() * 1e5).round() as i64;
        let word = self.e_word(amount);
        let feed = self.f_word(speed);
        self.truth.plain_time += way / speed;
        if self.in_layers && way >= 0.2 {
            let flow = amount as f64 / 1e5 * self.area() * speed / way;
            self.truth.peak_flow = self.truth.peak_flow.max(flow);
        }
        (self.at[0], self.at[1]) = (x, y);
        let mut line = String::new();
        let _ = write!(line, "G1 X{x:.3} Y{y:.3} {word}{feed}");
        self.say(&line);
    }

    pub fn finish(self) -> (String, Truth) {
        (self.text, self.truth)
    }
}

/// As it is written: thousandths of a millimetre.
fn round(at: [f64; 2]) -> [f64; 2] {
    at.map(|mm| (mm * 1000.0).round() / 1000.0)
}
