//! Tram by numbers: how far each levelling screw is turned, and which way.

use super::plane::Plane;
use crate::measures::card::{Card, Hold};
use crate::measures::input::{choice, mm, whole};
use crate::measures::maths::{half, largest, mean, nearest, over, range, show, smallest};
use crate::measures::refused::refuse;
use crate::measures::{Given, Measure, Out, Refused};

pub(super) const MEASURE: Measure = Measure {
    id: "tram",
    plain: "tram by numbers",
    not: "whether gantry or bed is out; turn three screws first",
    safety: "nozzle up before a screw is turned",
    card: Card {
        hold: Hold::Eye,
        words: "level levelling bed mesh screws turns tilt knobs",
        formulas: &[
            "the plane through the heights (least squares) gives the tilt",
            "move of a screw = plane at the screw that stays − plane at this one",
            "turns = move / pitch of the thread",
        ],
        example: &[
            ("x_mm", "10 110 210 10 110 210 10 110 210"),
            ("y_mm", "10 10 10 110 110 110 210 210 210"),
            ("z_mm", "0.05 0.01 -0.05 0.14 0.1 0.06 0.25 0.2 0.15"),
            ("screw_x_mm", "30 190 30 190"),
            ("screw_y_mm", "30 30 190 190"),
        ],
        against: "",
    },
    inputs: &[
        mm("x_mm", "places probed, X")
            .range(-2000.0, 2000.0)
            .list(9, 3, 400)
            .needed(),
        mm("y_mm", "places probed, Y")
            .range(-2000.0, 2000.0)
            .list(9, 3, 400)
            .needed(),
        mm("z_mm", "heights there")
            .range(-20.0, 20.0)
            .list(9, 3, 400)
            .needed(),
        mm("probe_dx_mm", "probe from the nozzle, X")
            .range(-200.0, 200.0)
            .usual(0.0),
        mm("probe_dy_mm", "probe from the nozzle, Y")
            .range(-200.0, 200.0)
            .usual(0.0),
        choice("z_is", "the heights are", &["bed-height", "gap"]),
        mm("screw_x_mm", "screws, X")
            .range(-2000.0, 2000.0)
            .list(4, 2, 6)
            .needed(),
        mm("screw_y_mm", "screws, Y")
            .range(-2000.0, 2000.0)
            .list(4, 2, 6)
            .needed(),
        mm("thread_mm", "pitch of their thread")
            .range(0.2, 3.0)
            .usual(0.7),
        choice("hand", "thread", &["right", "left"]),
        choice("tightening", "tightening", &["lowers", "raises"]),
        choice("knob_side", "knobs", &["below", "above"]),
        choice("seen_from", "looked at from", &["above", "below"]),
        whole("reference", "screw that stays; 0 for none", 0.0, 6.0).usual(1.0),
        mm("probe_mm", "probe good to").usual(0.01),
        mm("limit_mm", "allowed from the mean").usual(0.3),
    ],
    reckon,
};

/// The heights as the bed's, at the places of the nozzle.
struct Probed {
    xs: Vec<f64>,
    ys: Vec<f64>,
    zs: Vec<f64>,
    plane: Plane,
}

fn probed(g: &Given) -> Result<Probed, Refused> {
    let [xs, ys, zs] = g.together(["x_mm", "y_mm", "z_mm"])?;
    let sign = if g.word("z_is") == "gap" { -1.0 } else { 1.0 };
    let xs: Vec<f64> = xs.iter().map(|x| x + g.num("probe_dx_mm")).collect();
    let ys: Vec<f64> = ys.iter().map(|y| y + g.num("probe_dy_mm")).collect();
    let zs: Vec<f64> = zs.iter().map(|z| sign * z).collect();
    let plane = Plane::through(&xs, &ys, &zs)?;
    Ok(Probed { xs, ys, zs, plane })
}

/// How each screw is turned.
struct Turn {
    /// Up is positive.
    move_mm: f64,
    /// Of a clock's face.
    minutes: f64,
    direction: &'static str,
    action: &'static str,
}

/// Which way a screw turns that lowers or raises its place, as it is looked at.
fn turn(g: &Given, move_mm: f64) -> Turn {
    let minutes = nearest(60.0 * move_mm.abs() / g.num("thread_mm"), 1.0);
    let tighten = (move_mm < 0.0) == (g.word("tightening") == "lowers");
    let other_side = g.word("seen_from") != g.word("knob_side");
    let clockwise = tighten ^ (g.word("hand") == "left") ^ other_side;
    let (direction, action) = match (minutes == 0.0, clockwise, move_mm > 0.0) {
        (true, _, _) => ("leave", "leave"),
        (_, true, up) => ("clockwise", if up { "raise" } else { "lower" }),
        (_, false, up) => ("counter-clockwise", if up { "raise" } else { "lower" }),
    };
    Turn {
        move_mm,
        minutes,
        direction,
        action,
    }
}

/// "1 turn 12 min clockwise".
fn told(turn: &Turn) -> String {
    let (turns, minutes) = ((turn.minutes / 60.0).floor(), turn.minutes % 60.0);
    match (turn.direction, turns) {
        ("leave", _) => "leave".into(),
        (way, 0.0) => format!("{minutes} min {way}"),
        (way, 1.0) => format!("1 turn {minutes} min {way}"),
        (way, turns) => format!("{turns} turns {minutes} min {way}"),
    }
}

fn reckon(_: &'static str, g: &Given, o: &mut Out) -> Result<(), Refused> {
    let p = probed(g)?;
    let [sx, sy] = g.together(["screw_x_mm", "screw_y_mm"])?;
    let reference = g.num("reference") as usize;
    if reference > sx.len() {
        return refuse(format!(
            "reference must be 0 (the mean) or a screw from 1 to {}",
            sx.len()
        ));
    }
    let (n, plane) = (p.xs.len(), &p.plane);
    let fitted: Vec<f64> =
        p.xs.iter()
            .zip(&p.ys)
            .map(|(x, y)| plane.at(*x, *y))
            .collect();
    let left: Vec<f64> = p.zs.iter().zip(&fitted).map(|(z, f)| z - f).collect();
    let squares: f64 = left.iter().map(|e| e * e).sum();
    let rms = (n > 3).then(|| (squares / (n as f64 - 3.0)).sqrt());
    let s = g.num("probe_mm").max(rms.unwrap_or(0.0));
    let heights: Vec<f64> = sx.iter().zip(sy).map(|(x, y)| plane.at(*x, *y)).collect();
    let (target, rx, ry) = match reference.checked_sub(1) {
        Some(k) => (heights[k], sx[k], sy[k]),
        None => (mean(&heights), mean(sx), mean(sy)),
    };
    let turns: Vec<Turn> = heights.iter().map(|h| turn(g, target - h)).collect();
    let screws = sx.iter().zip(sy);
    let levers = screws.map(|(x, y)| s * plane.lever((x - rx, y - ry)));
    tell(g, o, &turns, &levers.collect::<Vec<_>>());
    let (a, b) = plane.rise();
    o.num("tilt_x_mm_100", 100.0 * a, 0.001);
    o.num("tilt_y_mm_100", 100.0 * b, 0.001);
    let warp = range(&left);
    o.num("warp_mm", warp, 0.001);
    o.maybe("rms_mm", rms, 0.001);
    warn(g, o, &p, (warp, sx, sy));
    let screws = turns.iter().enumerate();
    let screws = screws.map(|(n, t)| format!("screw {}: {}", n + 1, told(t)));
    o.result = format!(
        "{} (seen from {}); {} mm of warp remain",
        screws.collect::<Vec<_>>().join("; "),
        g.word("seen_from"),
        show(warp, 0.01)
    );
    find(o, &p, &fitted, warp);
    Ok(())
}

/// The turn of each screw, one value a screw.
fn tell(g: &Given, o: &mut Out, turns: &[Turn], uncertain: &[f64]) {
    let of = |f: &dyn Fn(&Turn) -> f64| -> Vec<f64> { turns.iter().map(f).collect() };
    let thread = g.num("thread_mm");
    o.list("move_mm", &of(&|t| t.move_mm), 0.001);
    o.list("move_u", uncertain, 0.001);
    o.list("turns", &of(&|t| t.move_mm.abs() / thread), 0.01);
    o.list("minutes", &of(&|t| t.minutes), 0.0);
    let words = |f: fn(&Turn) -> &'static str| -> Vec<&str> { turns.iter().map(f).collect() };
    o.words("direction", &words(|t| t.direction));
    o.words("action", &words(|t| t.action));
}

fn warn(g: &Given, o: &mut Out, p: &Probed, (warp, sx, sy): (f64, &[f64], &[f64])) {
    let limit = g.num("limit_mm") + 1e-12;
    let middle = mean(&p.zs);
    let within = p.zs.iter().all(|z| (z - middle).abs() <= limit);
    o.word("within_limit", if within { "yes" } else { "no" });
    if largest(&p.zs) - smallest(&p.zs) > 5.0 {
        o.slip("the heights span more than 5 mm: a slipped decimal?");
    }
    if sx.iter().zip(sy).any(|(x, y)| p.plane.outside(*x, *y)) {
        o.warn("a screw lies far outside the probed points: probe nearer to it");
    }
    if p.xs.len() == 3 {
        o.warn("with three points the warp is unknown");
    }
    if warp > 0.2 {
        o.warn("the warp that remains is no work for screws: mesh or shim");
    }
}

/// How likely flat, tilted, bowed and noisy are: by the tilt of the plane, the bow beside it and
/// the noise beside that.
fn find(o: &mut Out, p: &Probed, fitted: &[f64], warp: f64) {
    let n = p.xs.len();
    let curved = p.plane.quadratic(&p.xs, &p.ys, &p.zs);
    let bow_noise = curved.map(|q| {
        let beside: Vec<f64> = q.iter().zip(fitted).map(|(q, f)| q - f).collect();
        let off: f64 = q.iter().zip(&p.zs).map(|(q, z)| (z - q).powi(2)).sum();
        (range(&beside), (off / (n as f64 - 6.0)).sqrt())
    });
    o.maybe("bow_mm", bow_noise.map(|(bow, _)| bow), 0.001);
    o.maybe("noise_mm", bow_noise.map(|(_, noise)| noise), 0.001);
    let tilt = range(fitted);
    let bow = bow_noise.map(|(bow, _)| bow).or((n >= 5).then_some(warp));
    let noise = bow_noise.map(|(_, noise)| noise);
    let little_bow = |s: f64| bow.map_or(1.0, |b| half(b, s));
    let calm = noise.map_or(1.0, |q| half(q, 0.015));
    let (flat, tilted) = (half(tilt, 0.05), over(tilt, 0.15, 2.0, 0.03));
    let either = (flat + tilted) / 2.0;
    let much_bow = bow.map_or(1.0, |b| over(b, 0.2, 1.0, 0.03));
    let much_noise = noise.map_or(1.0, |q| over(q, 0.04, 0.3, 0.01));
    let states = [
        ("flat", flat * little_bow(0.08) * calm),
        ("tilted", tilted * little_bow(0.08) * calm),
        ("bowed", either * much_bow * calm),
        ("noisy", either * little_bow(0.15) * much_noise),
    ];
    o.find("mesh-readout", &states);
}
