//! `pins`: captive pins with gaps from small to large, and one without relief at its foot.
//! Clearances, what fuses and where.

use super::{Piece, spot};
use crate::region::{Region, sides, um};
use crate::settings::Settings;
use crate::stack::Solid;
use crate::strokes::{figures, stroke};
use crate::views::{Side, Spot};

pub(super) const PIECE: Piece = Piece {
    id: "pins",
    name: "Captive pins",
    build,
    spots,
};

const RADIUS: f64 = 3.5;
const WAIST: f64 = 2.3;
/// How much wider the hole is at the foot.
const RELIEF: f64 = 0.4;
/// The gap of the pin without relief, unless a gap is near it.
const BARRED: f64 = 0.40;

/// A pin: its centre, its gap, whether its foot is relieved.
struct Pin {
    x: f64,
    y: f64,
    gap: f64,
    relieved: bool,
}

fn pins(s: &Settings) -> Vec<Pin> {
    let near = |gap: &&f64| um((*gap - BARRED).abs());
    let barred = s
        .clearances
        .iter()
        .min_by_key(near)
        .copied()
        .unwrap_or(BARRED);
    let gaps = s
        .clearances
        .iter()
        .map(|g| (*g, true))
        .chain([(barred, false)]);
    gaps.enumerate()
        .map(|(k, (gap, relieved))| Pin {
            x: 6.0 + 12.0 * (k % 4) as f64,
            y: if k < 4 { 8.5 } else { 22.5 },
            gap,
            relieved,
        })
        .collect()
}

fn build(s: &Settings) -> Solid {
    let mut solid = Solid::default();
    let pins = pins(s);
    let plate = Region::rect(0.0, 0.0, 48.0, 28.0);
    // Foot, straight, in to the waist, out again, straight, the pin alone.
    let [foot, low, waist, wide, top] = [0.4, 0.8, 2.0, 3.2, 4.0].map(|z| s.z(z));
    let around = |p: &Pin| sides(RADIUS + p.gap + RELIEF);
    let round = |p: &Pin, radius: f64| Region::circle_of(p.x, p.y, radius, around(p));
    let holes = |radius: &dyn Fn(&Pin) -> f64| -> Vec<Region> {
        pins.iter().map(|p| round(p, radius(p))).collect()
    };
    let relief = |p: &Pin| if p.relieved { RELIEF } else { 0.0 };
    let at_foot = plate.with_holes(&holes(&|p| RADIUS + p.gap + relief(p)));
    let at_wide = plate.with_holes(&holes(&|p| RADIUS + p.gap));
    let at_waist = plate.with_holes(&holes(&|p| WAIST + p.gap));
    solid.add(0.0, foot, at_foot);
    solid.add(foot, low, at_wide.clone());
    solid.loft(low, waist, at_wide.clone(), at_waist.clone());
    solid.loft(waist, wide, at_waist, at_wide.clone());
    solid.add(wide, top, at_wide);
    for pin in &pins {
        let (thick, thin) = (round(pin, RADIUS), round(pin, WAIST));
        solid.add(0.0, low, thick.clone());
        solid.loft(low, waist, thick.clone(), thin.clone());
        solid.loft(waist, wide, thin, thick.clone());
        solid.add(wide, s.z(8.0), thick);
        // A slot for a blade, to turn it.
        let slot = Region::rect(pin.x - 2.2, pin.y - 0.6, pin.x + 2.2, pin.y + 0.6);
        solid.cut(s.z(6.6), s.z(8.0), slot);
        sign(&mut solid, s, pin, top);
    }
    solid
}

/// The gap in hundredths beside the pin; a bar for the one without relief.
fn sign(solid: &mut Solid, s: &Settings, pin: &Pin, top: f64) {
    let pen = 0.6;
    let y = pin.y - RADIUS - 4.6;
    let over = s.above(top, 2);
    let hundredths = (pin.gap * 100.0).round() as u32;
    solid.add(top, over, figures(hundredths, [pin.x - 2.6, y], 2.8, pen));
    if !pin.relieved {
        let bar = stroke(&[[pin.x - 3.2, y + 3.4], [pin.x + 3.2, y + 3.4]], pen);
        solid.add(top, over, bar);
    }
}

fn spots(s: &Settings) -> Vec<Spot> {
    let all = pins(s);
    let top = s.z(8.0);
    let around = |feature, p: &Pin| {
        let r = RADIUS + p.gap;
        spot(
            feature,
            Side::Top,
            [p.x - r, p.y - r, 0.0],
            [p.x + r, p.y + r, top],
        )
    };
    let mut spots = vec![spot("pins", Side::Top, [0.0, 0.0, 0.0], [48.0, 28.0, top])];
    spots.extend(all.last().map(|p| around("barred", p)));
    spots
}
