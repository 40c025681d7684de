//! Ripples at two speeds: a resonance grows with speed, a tooth does not.

use crate::measures::card::{Card, Hold};
use crate::measures::input::{mm, mm_s, whole};
use crate::measures::maths::{normal, rss, show};
use crate::measures::refused::refuse;
use crate::measures::{Given, Measure, Out, Refused};

pub(super) const MEASURE: Measure = Measure {
    id: "ripple-two-speeds",
    plain: "ripple spacing at two speeds",
    not: "which part it is",
    safety: "",
    card: Card {
        hold: Hold::Ruler,
        words: "ringing ghosting ripple echo speed resonance",
        formulas: &[
            "{slow_hz} = {slow_mm_s} / {slow_spacing_mm}",
            "{fast_hz} = {fast_mm_s} / {fast_spacing_mm}",
            "{exponent} = ln({fast_spacing_mm} / {slow_spacing_mm}) / ln({fast_mm_s} / \
             {slow_mm_s})",
        ],
        example: &[
            ("slow_mm_s", "50"),
            ("slow_spacing_mm", "1.3"),
            ("fast_mm_s", "100"),
            ("fast_spacing_mm", "2.5"),
        ],
        against: "1",
    },
    inputs: &[
        mm_s("slow_mm_s", "slower speed").needed(),
        mm("slow_spacing_mm", "spacing at it").needed(),
        mm_s("fast_mm_s", "faster speed").needed(),
        mm("fast_spacing_mm", "spacing at it").needed(),
        mm("spacing_uncertainty_mm", "read to").usual(0.1),
        whole("slow_count", "ripples measured over, slow", 1.0, 20.0).usual(1.0),
        whole("fast_count", "ripples measured over, fast", 1.0, 20.0).usual(1.0),
    ],
    reckon,
};

/// Any growth at all, where a spacing was misread.
const MISREAD: f64 = 0.003;

/// # Formula
/// exponent = ln(λ₂/λ₁) / ln(v₂/v₁): 1 for a resonance, 0 for a tooth
fn reckon(_: &'static str, g: &Given, o: &mut Out) -> Result<(), Refused> {
    let (slow, fast) = (g.num("slow_mm_s"), g.num("fast_mm_s"));
    let (near, wide) = (g.num("slow_spacing_mm"), g.num("fast_spacing_mm"));
    if slow == fast {
        return refuse("slow_mm_s, fast_mm_s: the two speeds are the same");
    }
    let read = g.num("spacing_uncertainty_mm");
    let s = rss([
        read / g.num("slow_count") / near,
        read / g.num("fast_count") / wide,
        0.05,
    ]);
    let (grows, by) = ((wide / near).ln(), (fast / slow).ln());
    if fast < slow {
        o.slip("the faster speed is the lower number: are the two swapped?");
    } else if by.abs() < 2.0 * s {
        o.warn("the speeds are too near each other to tell: print one twice as fast");
    }
    let exponent = grows / by;
    o.num("slow_hz", slow / near, 0.1);
    o.num("fast_hz", fast / wide, 0.1);
    o.pair("exponent", "", (exponent, s / by.abs()), 0.01);
    if exponent > 0.5 {
        o.num("frequency_hz", (slow / near + fast / wide) / 2.0, 0.1);
    }
    o.result = format!(
        "the spacing grows by {} while the speed grows by {}: exponent {} ± {}",
        show(wide / near, 0.01),
        show(fast / slow, 0.01),
        show(exponent, 0.01),
        show(s / by.abs(), 0.01)
    );
    let states = [
        ("grows-with-speed", normal(grows, by, s) + MISREAD),
        ("fixed-spacing", normal(grows, 0.0, s) + MISREAD),
    ];
    o.find("ripple-two-speeds", &states);
    Ok(())
}
