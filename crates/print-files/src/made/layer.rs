//! One layer of the lighthouse: loops, then filling, then posts.

use super::Recipe;
use super::shape::{HOLLOW, LEDGE, POST_AT, POSTS, is_hollow, radius};
use super::writer::Writer;
use std::f64::consts::TAU;

/// The middle of the piece on the plate.
const MIDDLE: [f64; 2] = [110.0, 110.0];

/// Corners of a loop.
const CORNERS: u32 = 48;

/// Layers of skin at the bottom.
const BOTTOM: u32 = 4;

struct Here<'r> {
    recipe: &'r Recipe,
    z: f64,
    at: u32,
}

impl Here<'_> {
    /// A speed of the recipe; in the first layer all is slow.
    fn speed(&self, which: usize) -> f64 {
        if self.at == 0 {
            self.recipe.first_speed
        } else {
            self.recipe.speeds[which]
        }
    }
}

pub(super) fn lay(out: &mut Writer<'_>, recipe: &Recipe, at: u32) {
    let tall = f64::from(recipe.layers) * recipe.layer;
    let z = f64::from(at + 1) * recipe.layer;
    let here = Here { recipe, z, at };
    out.in_layers = true;
    out.retract();
    out.mark(";LAYER_CHANGE");
    out.mark(&format!(";Z:{z:.3}"));
    out.mark(&format!(";HEIGHT:{:.3}", recipe.layer));
    out.rise(z);
    asks(out, &here);
    let outer = radius(z, tall) - recipe.width / 2.0;
    ring(out, &here, outer);
    let hole = recipe.hollow.is_some() && is_hollow(z);
    let inner_hole = HOLLOW.2;
    if hole {
        out.mark(";TYPE:outer loop");
        circle(out, MIDDLE, inner_hole + recipe.width / 2.0, here.speed(0));
    }
    let bottom = at < BOTTOM;
    let top = at + recipe.top_layers >= recipe.layers;
    // Where the piece narrows above, what is then open to the sky is skin as well.
    let above = radius(z + f64::from(recipe.top_layers) * recipe.layer, tall);
    let narrows = above < radius(z, tall) - 1.0;
    let (name, distance, which) = match () {
        () if top || narrows => (";TYPE:top skin", recipe.width, 3),
        () if bottom => (";TYPE:solid skin", recipe.width, 3),
        () => (";TYPE:infill", recipe.infill, 2),
    };
    out.mark(name);
    let reach = outer - 1.5 * recipe.width;
    let within = if hole {
        Some(inner_hole + recipe.width)
    } else {
        None
    };
    lines(out, &here, reach, within, (distance, here.speed(which)));
    if hole {
        hollow(out, &here);
    }
    posts(out, &here);
}

/// Temperatures and fan that change with height.
fn asks(out: &mut Writer<'_>, here: &Here<'_>) {
    let recipe = here.recipe;
    if here.at == 1 {
        out.say(&format!("M104 S{:.0}", recipe.nozzle_c[1]));
        out.say(&format!("M106 S{:.0}", recipe.fan * 2.55));
    }
    if let Some((height, fan)) = recipe.fan_change {
        let bottom = here.z - recipe.layer;
        if (0.0..recipe.layer).contains(&(height - bottom + 1e-9)) {
            out.say(&format!("M106 S{:.0}", fan * 2.55));
        }
    }
}

/// An inner loop, then the outer one.
fn ring(out: &mut Writer<'_>, here: &Here<'_>, outer: f64) {
    let width = here.recipe.width;
    out.mark(&format!(";WIDTH:{width:.3}"));
    out.mark(";TYPE:inner loop");
    circle(out, MIDDLE, outer - width, here.speed(1));
    out.mark(";TYPE:outer loop");
    circle(out, MIDDLE, outer, here.speed(0));
}

fn circle(out: &mut Writer<'_>, middle: [f64; 2], radius: f64, speed: f64) {
    let place = |corner: u32| {
        let angle = TAU * f64::from(corner % CORNERS) / f64::from(CORNERS);
        [
            middle[0] + radius * angle.sin(),
            middle[1] - radius * angle.cos(),
        ]
    };
    let [x, y] = place(0);
    out.go(x, y);
    for corner in 1..=CORNERS {
        let [x, y] = place(corner);
        out.lay(x, y, speed);
    }
}

/// Parallel lines over a disc, or over a ring around a hole; their direction changes by layer.
fn lines(
    out: &mut Writer<'_>,
    here: &Here<'_>,
    reach: f64,
    hole: Option<f64>,
    (distance, speed): (f64, f64),
) {
    let turned = here.at % 2 == 1;
    let place = |across: f64, along: f64| {
        let [x, y] = if turned {
            [across, along]
        } else {
            [along, across]
        };
        [MIDDLE[0] + x, MIDDLE[1] + y]
    };
    let mut across = -reach + distance / 2.0;
    let mut forth = true;
    while across < reach {
        let half = (reach * reach - across * across).max(0.0).sqrt();
        let gap = hole.map_or(0.0, |h| (h * h - across * across).max(0.0).sqrt());
        let mut pieces = if gap > 0.0 {
            vec![(-half, -gap), (gap, half)]
        } else {
            vec![(-half, half)]
        };
        if !forth {
            pieces = pieces.into_iter().rev().map(|(a, b)| (b, a)).collect();
        }
        for (from, to) in pieces {
            if (to - from).abs() > 0.5 {
                let [x, y] = place(across, from);
                out.go(x, y);
                let [x, y] = place(across, to);
                out.lay(x, y, speed);
            }
        }
        forth = !forth;
        across += distance;
    }
}

/// The ledge that hangs in the hollow, and the support beneath it.
fn hollow(out: &mut Writer<'_>, here: &Here<'_>) {
    let (from, to, half) = LEDGE;
    let z = here.z;
    let ledge = z > from + 1e-9 && z <= to + 1e-9;
    let support = here.recipe.hollow == Some(true) && z <= from + 1e-9;
    if !ledge && !support {
        return;
    }
    let (name, distance) = if ledge {
        (";TYPE:solid skin", here.recipe.width)
    } else {
        (";TYPE:support", 1.2)
    };
    out.mark(name);
    let mut y = -half;
    let mut forth = 1.0;
    out.go(MIDDLE[0] - half, MIDDLE[1] + y);
    while y <= half + 1e-9 {
        out.lay(MIDDLE[0] + forth * half, MIDDLE[1] + y, here.speed(3));
        y += distance;
        if y <= half + 1e-9 {
            out.lay(MIDDLE[0] + forth * half, MIDDLE[1] + y, here.speed(3));
        }
        forth = -forth;
    }
}

fn posts(out: &mut Writer<'_>, here: &Here<'_>) {
    let (high, radius) = POSTS;
    if here.z > high + 1e-9 {
        return;
    }
    for [x, y] in POST_AT {
        let middle = [MIDDLE[0] + x, MIDDLE[1] + y];
        out.mark(";TYPE:outer loop");
        circle(out, middle, radius - here.recipe.width / 2.0, here.speed(0));
        out.mark(";TYPE:inner loop");
        circle(out, middle, radius - 1.5 * here.recipe.width, here.speed(1));
    }
}
