//! What is taken with calipers.

use super::{Draw, Sheet};

pub fn drawing(measure: &str) -> Option<Draw> {
    Some(match measure {
        "wall-thickness" => wall,
        "measure-filament" => filament,
        "first-layer-thickness" => first_layer,
        "insert-length" => insert,
        "fit-lengths" => lengths,
        "round-four-ways" => round,
        "diagonals" => diagonals,
        _ => return None,
    })
}

fn wall(s: &mut Sheet) {
    s.pen
        .path("plastic", "M60 20H260V32H72V118H60ZM248 32H260V118H248Z");
    s.jaws(150.0, 162.0, 62.0);
    s.pen.block("plastic", 150.0, 32.0, 12.0, 62.0, 1.0);
    s.pen.path("dim", "M120 76h28M192 76h-28");
    s.say(88.0, 106.0, "wall_mm");
    s.point((226.0, 60.0), (255.0, 74.0), "set_width_mm");
    s.point((98.0, 52.0), (66.0, 66.0), "nominal_mm");
    s.note(20.0, 164.0, "from above, off the seam, above the foot");
}

fn filament(s: &mut Sheet) {
    s.pen.line("strand edge", 20.0, 44.0, 300.0, 62.0);
    s.pen.line("strand", 20.0, 44.0, 300.0, 62.0);
    s.jaws(148.0, 172.0, 60.0);
    s.pen.round("plastic", 160.0, 84.0, 12.0);
    s.pen.path("dim", "M118 84h28M202 84h-28");
    s.say(84.0, 112.0, "diameter_mm");
    s.point((236.0, 96.0), (172.0, 84.0), "nominal_mm");
    s.note(
        20.0,
        164.0,
        "two ways at each place, places half a metre apart",
    );
}

fn first_layer(s: &mut Sheet) {
    s.pen.path("plastic", "M40 30H280V52H40Z");
    for n in 0..14 {
        let x = 48.0 + 17.0 * f64::from(n);
        s.pen.line("faint", x, 32.0, x, 50.0);
    }
    s.jaws(152.0, 166.0, 62.0);
    s.pen.block("plastic", 152.0, 62.0, 14.0, 40.0, 1.0);
    s.pen.path("dim", "M120 84h30M198 84h-30");
    s.say(84.0, 112.0, "thickness_mm");
    s.point((236.0, 84.0), (166.0, 70.0), "set_mm");
    s.note(20.0, 20.0, "peeled off the plate, from five places");
}

fn insert(s: &mut Sheet) {
    s.pen.path(
        "metal",
        "M120 30H150V110H136L146 140H174L184 110H170V30H200V110L180 150H140L120 110Z",
    );
    s.pen.path("hollow", "M150 54h20v50h-20z");
    s.pen.block("plastic", 150.0, 44.0, 20.0, 10.0, 1.0);
    s.pen.block("metal", 112.0, 16.0, 96.0, 14.0, 2.0);
    s.up(226.0, 30.0, 138.0, "depth_mm");
    s.point((70.0, 60.0), (152.0, 49.0), "washer_mm");
    s.point((70.0, 26.0), (116.0, 23.0), "thread_mm");
    s.note(214.0, 164.0, "cold, nozzle in");
}

fn lengths(s: &mut Sheet) {
    s.plate(122.0);
    for (x, w, h) in [(40.0, 40.0, 26.0), (100.0, 74.0, 52.0), (196.0, 92.0, 84.0)] {
        s.pen.block("plastic", x, 122.0 - h, w, h, 1.0);
    }
    s.across(196.0, 288.0, 30.0, "measured_mm");
    s.pen.path(
        "dim",
        "M100 62v10M174 62v10M100 66h74M40 88v10M80 88v10M40 92h40",
    );
    s.point((60.0, 44.0), (60.0, 92.0), "nominal_mm");
    s.note(20.0, 158.0, "short, middle and long, all along one axis");
}

fn round(s: &mut Sheet) {
    s.pen.round("plastic", 160.0, 84.0, 62.0);
    s.between((92.0, 84.0), (228.0, 84.0), "d0_mm");
    s.pen
        .path("dim", "M160 16V152M112 36L208 132M112 132L208 36");
    s.say(160.0, 34.0, "d90_mm");
    s.say(206.0, 134.0, "d135_mm");
    s.say(206.0, 40.0, "d45_mm");
    s.note(268.0, 88.0, "X");
    s.note(156.0, 12.0, "Y");
}

fn diagonals(s: &mut Sheet) {
    s.pen.path("plastic", "M84 138L98 26H240L226 138Z");
    s.between((84.0, 138.0), (240.0, 26.0), "d1_mm");
    s.pen.line("dim", 226.0, 138.0, 98.0, 26.0);
    s.say(196.0, 116.0, "d2_mm");
    s.across(84.0, 226.0, 152.0, "side_a_mm");
    s.note(30.0, 142.0, "front left");
}
