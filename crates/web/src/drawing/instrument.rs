//! Instruments to be read: calipers with a dial, a thermometer, a trace of a tone, a meter.

use super::escape;
use std::f64::consts::TAU;
use std::fmt::Write;

const WIDTH: f64 = 420.0;
const HEIGHT: f64 = 190.0;
/// Millimetres of the rule that are seen, and how far apart they stand.
const SEEN_MM: f64 = 12.0;
/// Longest length calipers take, in millimetres.
const LONGEST_MM: f64 = 150.0;
/// Degrees of a thermometer that are seen.
const SEEN_C: f64 = 24.0;
/// Periods of a tone in its trace, about.
const PERIODS: f64 = 8.0;

/// The instrument that shows a value.
pub fn svg(value: f64, unit: &str) -> String {
    let (name, strokes) = match unit {
        "mm" if value <= LONGEST_MM => ("Calipers with a dial", calipers(value)),
        "°C" | "K" => ("A thermometer", thermometer(value, unit)),
        "Hz" => ("A trace of the tone", trace(value)),
        _ => ("A meter", meter(value, unit)),
    };
    format!(
        r#"<svg class="instrument" viewBox="0 0 {WIDTH} {HEIGHT}" role="img"
            aria-label="{}">{strokes}</svg>"#,
        escape(name)
    )
}

/// The rule shows whole millimetres at the edge of the slide, the dial their hundredths.
fn calipers(value: f64) -> String {
    let mut out = String::new();
    let apart = (WIDTH - 170.0) / SEEN_MM;
    let left = (value - SEEN_MM / 3.0).floor().max(0.0);
    let x = |mm: f64| 16.0 + (mm - left) * apart;
    let edge = x(value);
    let _ = write!(
        out,
        r#"<rect class="steel" x="8" y="96" width="{:.1}" height="44" rx="3"/>"#,
        WIDTH - 160.0
    );
    for n in 0..=(SEEN_MM as u32) {
        let mm = left + f64::from(n);
        let tall = if mm % 5.0 == 0.0 { 20.0 } else { 12.0 };
        let _ = write!(out, r#"<path class="tick" d="M{0:.1} 96v{tall}"/>"#, x(mm));
        if mm % 5.0 == 0.0 || SEEN_MM <= 12.0 && n % 2 == 0 {
            let _ = write!(
                out,
                r#"<text class="number" x="{:.1}" y="132">{mm}</text>"#,
                x(mm)
            );
        }
    }
    let _ = write!(
        out,
        r#"<path class="slide" d="M{edge:.1} 66V152"/><text class="word" x="{:.1}" y="60">mm at
            this edge</text>"#,
        (edge + 4.0).min(WIDTH - 260.0)
    );
    dial(&mut out, value.fract());
    out
}

/// A dial of a hundred divisions: a turn is a millimetre.
fn dial(out: &mut String, share: f64) {
    let (cx, cy, r) = (WIDTH - 76.0, 95.0, 68.0);
    let at = |share: f64, r: f64| {
        let (sin, cos) = (TAU * share).sin_cos();
        (cx + r * sin, cy - r * cos)
    };
    let _ = write!(out, r#"<circle class="face" cx="{cx}" cy="{cy}" r="{r}"/>"#);
    for n in 0..50u32 {
        let share = f64::from(n) / 50.0;
        let long = n % 5 == 0;
        let (a, b) = (
            at(share, r - 3.0),
            at(share, r - if long { 13.0 } else { 8.0 }),
        );
        let _ = write!(
            out,
            r#"<path class="tick" d="M{:.1} {:.1}L{:.1} {:.1}"/>"#,
            a.0, a.1, b.0, b.1
        );
        if long {
            let (x, y) = at(share, r - 23.0);
            let _ = write!(
                out,
                r#"<text class="number small" x="{x:.1}" y="{:.1}">{}</text>"#,
                y + 4.0,
                n * 2
            );
        }
    }
    let (x, y) = at(share, r - 10.0);
    let _ = write!(
        out,
        r#"<path class="hand" d="M{cx} {cy}L{x:.1} {y:.1}"/><circle class="hub" cx="{cx}" cy="{cy}"
            r="4"/><text class="word mid" x="{cx}" y="{:.1}">1/100 mm</text>"#,
        // Where the hand does not lie over it.
        if y < cy { cy + 26.0 } else { cy - 18.0 }
    );
}

fn thermometer(value: f64, unit: &str) -> String {
    let mut out = String::new();
    let low = ((value - SEEN_C / 2.0) / 5.0).floor() * 5.0;
    let x = |v: f64| 30.0 + (v - low) / SEEN_C * (WIDTH - 70.0);
    let _ = write!(
        out,
        r#"<rect class="steel" x="20" y="70" width="{:.1}" height="22" rx="11"/><path class="column"
            d="M24 81H{:.1}"/>"#,
        WIDTH - 40.0,
        x(value)
    );
    for n in 0..=(SEEN_C as u32) {
        let v = low + f64::from(n);
        let five = n % 5 == 0;
        let _ = write!(
            out,
            r#"<path class="tick" d="M{0:.1} 94v{1}"/>"#,
            x(v),
            if five { 16 } else { 9 }
        );
        if five {
            let _ = write!(
                out,
                r#"<text class="number" x="{:.1}" y="126">{v}</text>"#,
                x(v)
            );
        }
    }
    let _ = write!(
        out,
        r#"<text class="word" x="24" y="160">{}</text>"#,
        escape(unit)
    );
    out
}

/// A tone over time: periods to be counted against the scale below.
fn trace(hertz: f64) -> String {
    let mut out = String::new();
    // A round stretch of time that holds some periods.
    let wanted = PERIODS / hertz.max(1.0) * 1000.0;
    let power = 10f64.powf(wanted.log10().floor());
    let steps = [1.0, 2.0, 5.0, 10.0].map(|s| s * power);
    let span = steps.into_iter().find(|s| *s >= wanted).unwrap_or(wanted);
    let x = |ms: f64| 20.0 + ms / span * (WIDTH - 50.0);
    let mut d = String::new();
    for n in 0..=600u32 {
        let ms = span * f64::from(n) / 600.0;
        let y = 74.0 - 48.0 * (TAU * hertz * ms / 1000.0).sin();
        let _ = write!(d, "{}{:.1} {y:.1}", if n == 0 { 'M' } else { 'L' }, x(ms));
    }
    let _ = write!(out, r#"<path class="wave" d="{d}"/>"#);
    for n in 0..=10u32 {
        let ms = span * f64::from(n) / 10.0;
        let _ = write!(
            out,
            r#"<path class="tick" d="M{0:.1} 138v{1}"/>"#,
            x(ms),
            if n % 5 == 0 { 14 } else { 8 }
        );
        if n % 5 == 0 {
            let _ = write!(
                out,
                r#"<text class="number" x="{:.1}" y="168">{}</text>"#,
                x(ms),
                crate::show::exact(ms)
            );
        }
    }
    let _ = write!(
        out,
        r#"<text class="word" x="20" y="186">milliseconds</text>"#
    );
    out
}

fn meter(value: f64, unit: &str) -> String {
    format!(
        r#"<rect class="steel" x="90" y="40" width="240" height="110" rx="12"/><rect class="face"
            x="112" y="62" width="196" height="66" rx="6"/><text class="digits" x="210"
            y="108">{}</text><text class="word mid" x="210" y="144">{}</text>"#,
        crate::show::exact(value),
        escape(unit)
    )
}
