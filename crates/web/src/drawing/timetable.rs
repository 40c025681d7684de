//! An evening as a timetable: a row for each person and each machine, hands solid, waits hatched.
//! What it shows stands in the lists beside it, which is what a screen reader reads.

use super::escape;
use std::fmt::Write;

const WIDTH: f64 = 960.0;
/// Room for the names at the left, and for words above.
const NAMES: f64 = 132.0;
/// Room for half a time at the right.
const RIGHT: f64 = 22.0;
const HEAD: f64 = 30.0;
const ROW: f64 = 34.0;
/// Between people and machines.
const GAP: f64 = 22.0;
/// A block is at least so wide, and takes its word from so much on a character.
const LEAST: f64 = 3.0;
const CHARACTER: f64 = 7.4;
/// Minutes between the rules, for an evening up to so many.
const RULES: [(f64, f64); 3] = [(240.0, 30.0), (600.0, 60.0), (f64::INFINITY, 120.0)];

/// What a block is.
#[derive(Clone, Copy, PartialEq, Eq)]
pub enum Look {
    /// Somebody's hands.
    Hands,
    /// A stop is cleared.
    Stop,
    /// A wait that needs nobody.
    Wait,
}

/// A block of a row, in minutes from now.
pub struct Block {
    pub from: f64,
    pub to: f64,
    pub look: Look,
    /// In it, where there is room: "C-031".
    pub short: String,
    /// What it is, for whoever points at it.
    pub words: String,
    /// Address on the same page.
    pub href: String,
}

/// A row.
pub struct Row {
    pub name: String,
    pub blocks: Vec<Block>,
}

/// A timetable.
pub struct Timetable<'a> {
    pub title: &'a str,
    /// Minutes it shows.
    pub minutes: f64,
    pub people: &'a [Row],
    pub machines: &'a [Row],
    /// Minutes until the clock shows a round half hour.
    pub round: f64,
    /// Words of a rule at a minute: its time.
    pub clock: &'a dyn Fn(f64) -> String,
}

impl Timetable<'_> {
    fn at(&self, minute: f64) -> f64 {
        let share = (minute / self.minutes.max(1.0)).clamp(0.0, 1.0);
        NAMES + share * (WIDTH - NAMES - RIGHT)
    }

    /// The drawing.
    pub fn svg(&self) -> String {
        let machines = HEAD + self.people.len() as f64 * ROW + GAP;
        let height = machines + self.machines.len() as f64 * ROW + 6.0;
        let mut svg = format!(
            r#"<svg class="timetable" viewBox="0 0 {WIDTH} {height}" role="group"
                aria-label="{}"><defs><pattern id="tt-hatch" width="7" height="7"
                patternUnits="userSpaceOnUse" patternTransform="rotate(45)"><rect class="tt-ground"
                width="7" height="7"/><path class="tt-line" d="M0 0V7"/></pattern></defs>"#,
            escape(self.title)
        );
        self.rules(&mut svg, height);
        let rows = self
            .people
            .iter()
            .enumerate()
            .map(|(n, row)| (HEAD, n, row));
        let below = self
            .machines
            .iter()
            .enumerate()
            .map(|(n, row)| (machines, n, row));
        for (top, n, row) in rows.chain(below) {
            self.row(&mut svg, top + n as f64 * ROW, row);
        }
        let line = machines - GAP / 2.0;
        let _ = write!(
            svg,
            r#"<path class="tt-between" d="M0 {line}H{WIDTH}"/></svg>"#
        );
        svg
    }

    fn rules(&self, svg: &mut String, height: f64) {
        let fits = RULES.iter().find(|(most, _)| self.minutes <= *most);
        let step = fits.map_or(120.0, |(_, step)| *step);
        let mut minute = self.round;
        while minute <= self.minutes + 1e-9 {
            let x = self.at(minute);
            let _ = write!(
                svg,
                r#"<path class="tt-rule" d="M{x:.1} {HEAD}V{height}"/><text class="tt-time"
                    x="{x:.1}" y="18">{}</text>"#,
                escape(&(self.clock)(minute))
            );
            minute += step;
        }
    }

    fn row(&self, svg: &mut String, top: f64, row: &Row) {
        let middle = top + ROW / 2.0;
        let _ = write!(
            svg,
            r#"<text class="tt-name" x="{:.1}" y="{:.1}">{}</text>"#,
            NAMES - 10.0,
            middle + 5.0,
            escape(&short(&row.name, 16))
        );
        for block in row.blocks.iter().filter(|b| b.from < self.minutes) {
            self.block(svg, top, block);
        }
    }

    fn block(&self, svg: &mut String, top: f64, block: &Block) {
        let (x, to) = (self.at(block.from), self.at(block.to));
        let width = (to - x).max(LEAST);
        let (class, fill) = match block.look {
            Look::Hands => ("tt-hands", ""),
            Look::Stop => ("tt-stop", ""),
            Look::Wait => ("tt-wait", r#" fill="url(#tt-hatch)""#),
        };
        let word = match block.short.chars().count() as f64 * CHARACTER + 8.0 < width {
            true => format!(
                r#"<text class="tt-word" x="{:.1}" y="{:.1}">{}</text>"#,
                x + width / 2.0,
                top + ROW / 2.0 + 4.5,
                escape(&block.short)
            ),
            false => String::new(),
        };
        let _ = write!(
            svg,
            r#"<a href="{}" tabindex="-1"><title>{}</title><rect class="{class}" x="{x:.1}"
                y="{:.1}" width="{width:.1}" height="{:.1}" rx="3"{fill}/>{word}</a>"#,
            escape(&block.href),
            escape(&block.words),
            top + 4.0,
            ROW - 8.0
        );
    }
}

/// A name cut to so many characters.
fn short(name: &str, most: usize) -> String {
    match name.chars().count() > most {
        true => format!("{}…", name.chars().take(most - 1).collect::<String>()),
        false => name.to_string(),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_block_lies_in_its_minutes_and_is_cut_at_the_end_of_the_evening() {
        let row = Row {
            name: "A very long name of a person".into(),
            blocks: vec![Block {
                from: 60.0,
                to: 500.0,
                look: Look::Wait,
                short: "C-001".into(),
                words: "Dries <slowly>".into(),
                href: "#x".into(),
            }],
        };
        let clock = |m: f64| format!("{m}");
        let svg = Timetable {
            title: "Evening",
            minutes: 120.0,
            people: &[row],
            machines: &[],
            round: 0.0,
            clock: &clock,
        }
        .svg();
        assert!(
            svg.contains(r#"x="535.0""#) && svg.contains(r#"width="403.0""#),
            "{svg}"
        );
        assert!(svg.contains("Dries &#60;slowly&#62;") && svg.contains("…</text>"));
    }
}
