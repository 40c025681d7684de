//! The line-up: suspects stand before height rules, as tall as they are likely.

use super::pictogram;
use crate::show;
use std::fmt::Write;

/// One suspect of the drawing.
#[derive(Debug, Clone)]
pub struct Figure {
    /// Name under the floor line.
    pub name: String,
    /// Pictogram of its part.
    pub pictogram: String,
    /// How likely, 0..1.
    pub probability: f64,
    /// How likely before the last piece of evidence.
    pub before: Option<f64>,
    /// Where a touch leads.
    pub href: String,
    /// Its ledger is on show.
    pub selected: bool,
}

/// Measures of a drawing: the wide one and the one for a phone.
struct Wall {
    class: &'static str,
    width: f64,
    height: f64,
    left: f64,
    right: f64,
    floor: f64,
    /// Height of a figure that is certain.
    full: f64,
    figure: f64,
    letters: usize,
}

const WIDE: Wall = Wall {
    class: "wide",
    width: 780.0,
    height: 380.0,
    left: 56.0,
    right: 86.0,
    floor: 318.0,
    full: 296.0,
    figure: 72.0,
    letters: 13,
};
const PHONE: Wall = Wall {
    class: "phone",
    width: 360.0,
    height: 300.0,
    left: 46.0,
    right: 6.0,
    floor: 236.0,
    full: 216.0,
    figure: 46.0,
    letters: 11,
};
/// Figures that fit on a phone.
const PHONE_FIGURES: usize = 4;

/// The scale of the wall is a power of the probability, so that small ones stay visible.
const POWER: f64 = 0.6;
/// Rules drawn on the wall.
const RULES: [f64; 6] = [0.05, 0.10, 0.25, 0.50, 0.75, 0.90];

/// The drawing in both widths; the style sheet shows one. `cleared` is the number of suspects on
/// the bench, with its link.
pub fn svg(figures: &[Figure], cleared: usize) -> String {
    let mut out = draw(&WIDE, figures, cleared);
    // On a phone the least likely of the shown go first, the stranger stays.
    let few: Vec<Figure> = if figures.len() > PHONE_FIGURES {
        figures[..PHONE_FIGURES - 1]
            .iter()
            .chain(figures.last())
            .cloned()
            .collect()
    } else {
        figures.to_vec()
    };
    out.push_str(&draw(&PHONE, &few, cleared));
    out
}

fn draw(wall: &Wall, figures: &[Figure], cleared: usize) -> String {
    let mut s = String::new();
    let _ = write!(
        s,
        r#"<svg class="line-up {}" viewBox="0 0 {} {}" role="group" aria-label="Line-up of
            suspects">"#,
        wall.class, wall.width, wall.height
    );
    for rule in RULES {
        let y = wall.floor - tall(wall, rule);
        let _ = write!(
            s,
            r#"<line class="rule" x1="{}" x2="{}" y1="{y:.1}" y2="{y:.1}"/><text class="rule-label"
                x="{}" y="{:.1}">{}</text>"#,
            wall.left,
            wall.width - 6.0,
            wall.left - 8.0,
            y + 4.5,
            format_args!("{:.0} %", rule * 100.0),
        );
    }
    let _ = write!(
        s,
        r#"<text class="rule-note" x="{}" y="15" text-anchor="end">stretched: small shares stand "#,
        wall.width - wall.right
    );
    s.push_str("taller</text>");
    let space = (wall.width - wall.left - wall.right) / figures.len().max(1) as f64;
    for (n, figure) in figures.iter().enumerate() {
        stand(&mut s, wall, figure, wall.left + space * (n as f64 + 0.5));
    }
    let _ = write!(
        s,
        r#"<line class="floor" x1="{}" x2="{}" y1="{f}" y2="{f}"/>"#,
        wall.left,
        wall.width - wall.right.min(78.0),
        f = wall.floor
    );
    if wall.class == "wide" && cleared > 0 {
        bench(&mut s, wall, cleared);
    }
    s.push_str("</svg>");
    s
}

fn tall(wall: &Wall, p: f64) -> f64 {
    wall.full * p.clamp(0.0, 1.0).powf(POWER)
}

/// An arch of a height on the floor line. Low figures are a flat dome.
fn arch(wall: &Wall, x: f64, height: f64) -> String {
    let half = wall.figure / 2.0;
    let dome = half.min(height);
    format!(
        "M{:.1} {:.1}V{:.1}A{half:.1} {dome:.1} 0 0 1 {:.1} {:.1}V{:.1}Z",
        x - half,
        wall.floor,
        wall.floor - height + dome,
        x + half,
        wall.floor - height + dome,
        wall.floor
    )
}

fn stand(s: &mut String, wall: &Wall, figure: &Figure, x: f64) {
    let height = tall(wall, figure.probability).max(3.0);
    let top = wall.floor - height;
    let chosen = if figure.selected { " chosen" } else { "" };
    let share = show::percent(figure.probability);
    let _ = write!(
        s,
        r#"<a class="figure{chosen}" href="{}">"#,
        escape(&figure.href)
    );
    if let Some(before) = figure
        .before
        .map(|b| tall(wall, b))
        .filter(|b| (b - height).abs() > 3.0 && *b > 3.0)
    {
        let _ = write!(s, r#"<path class="ghost" d="{}"/>"#, arch(wall, x, before));
    }
    let _ = write!(s, r#"<path class="body" d="{}"/>"#, arch(wall, x, height));
    let size = if wall.class == "phone" { 22.0 } else { 28.0 };
    // A figure too low to wear its pictogram carries it above its head.
    let inside = height > size * 2.0;
    let (icon_y, label_y) = if inside {
        (top + size * 0.62, top - 9.0)
    } else {
        (top - size - 7.0, top - size - 14.0)
    };
    let _ = write!(
        s,
        r#"<g class="badge{}" transform="translate({:.1} {:.1}) scale({:.3})">{}</g>"#,
        if inside { "" } else { " above" },
        x - size / 2.0,
        icon_y,
        size / 24.0,
        pictogram::strokes(&figure.pictogram)
    );
    let ghost_top = figure
        .before
        .map_or(f64::MAX, |b| wall.floor - tall(wall, b));
    // The number keeps clear of the ghost's dome just above it.
    let label_y = if (ghost_top - label_y).abs() < 14.0 {
        ghost_top - 9.0
    } else {
        label_y
    };
    let _ = write!(
        s,
        r#"<text class="share" x="{x:.1}" y="{label_y:.1}">{}</text> "#,
        short_share(wall, &share)
    );
    for (n, line) in wrap(&figure.name, wall.letters).iter().take(3).enumerate() {
        let step = if wall.class == "phone" { 14.5 } else { 17.0 };
        let _ = write!(
            s,
            r#"<text class="name" x="{x:.1}" y="{:.1}">{}</text>"#,
            wall.floor + 19.0 + step * n as f64,
            escape(line)
        );
    }
    s.push_str("</a>");
}

fn short_share(wall: &Wall, share: &str) -> String {
    let share = share.replace("under ", "<").replace("over ", ">");
    let share = if wall.class == "phone" {
        share.replace('\u{a0}', "")
    } else {
        share
    };
    share.replace('<', "&lt;").replace('>', "&gt;")
}

/// Cleared suspects sit at the side.
fn bench(s: &mut String, wall: &Wall, cleared: usize) {
    let (left, right, seat) = (wall.width - 76.0, wall.width - 8.0, wall.floor - 18.0);
    let _ = write!(s, r##"<a class="bench" href="#bench">"##);
    for n in 0..cleared.min(3) {
        let x = left + 14.0 + 20.0 * n as f64;
        let _ = write!(
            s,
            r#"<path class="sitting" d="M{:.1} {seat}v-14a8 8 0 0 1 16 0v14z"/>"#,
            x - 8.0
        );
    }
    let _ = write!(
        s,
        r#"<path class="seat" d="M{left} {seat}H{right}M{:.1} {seat}v18M{:.1} {seat}v18"/><text
            class="name" x="{:.1}" y="{:.1}">{cleared}</text> <text class="name" x="{:.1}"
            y="{:.1}">cleared</text></a>"#,
        left + 6.0,
        right - 6.0,
        (left + right) / 2.0,
        wall.floor + 19.0,
        (left + right) / 2.0,
        wall.floor + 36.0
    );
}

/// Breaks a name into lines of about so many letters, at blanks.
fn wrap(text: &str, letters: usize) -> Vec<String> {
    let mut lines: Vec<String> = Vec::new();
    for word in text.split_whitespace() {
        match lines.last_mut() {
            Some(line) if line.chars().count() + 1 + word.chars().count() <= letters => {
                line.push(' ');
                line.push_str(word);
            }
            _ => lines.push(word.to_string()),
        }
    }
    lines
}

fn escape(text: &str) -> String {
    text.replace('&', "&amp;")
        .replace('<', "&lt;")
        .replace('>', "&gt;")
        .replace('"', "&quot;")
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn names_are_escaped_and_the_likelier_suspect_stands_taller() {
        assert!(tall(&WIDE, 0.5) > tall(&WIDE, 0.2));
        let figure = Figure {
            name: "<b>".into(),
            pictogram: "gear".into(),
            probability: 0.4,
            before: Some(0.1),
            href: "/x\"y".into(),
            selected: true,
        };
        let drawn = svg(&[figure], 2);
        assert!(
            drawn.contains("&lt;b&gt;") && !drawn.contains("<b>") && drawn.contains("/x&quot;y")
        );
        assert_eq!(wrap("Idler too loose", 9), ["Idler too", "loose"]);
    }
}
