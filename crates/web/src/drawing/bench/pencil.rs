//! What is only reckoned: money, proof, wear.

use super::{Draw, Sheet};

pub fn drawing(measure: &str) -> Option<Draw> {
    Some(match measure {
        "cost-of-failure" => failure,
        "cost-of-fix" => fix,
        "cost-of-trial" => trial,
        "repair-or-retire" => retire,
        "proof-prints" => proof,
        "wear-left" => wear,
        _ => return None,
    })
}

/// A slip of paper, for what has no drawing of its own.
pub fn slip(s: &mut Sheet) {
    s.pen.block("hollow", 90.0, 14.0, 140.0, 142.0, 3.0);
    s.pen.path(
        "faint",
        "M106 40h108M106 62h108M106 84h108M106 106h108M106 128h60",
    );
}

/// A pile of coins.
fn coins(s: &mut Sheet, x: f64, many: u32) {
    for n in 0..many {
        s.pen
            .oval("metal", x, 140.0 - 9.0 * f64::from(n), 24.0, 8.0);
    }
}

fn failure(s: &mut Sheet) {
    s.pen.path(
        "strand thin",
        "M30 120c20-40 30 20 50-10s-40-30-10-40 50 40 20 50-50-10-30-30",
    );
    coins(s, 150.0, 3);
    coins(s, 210.0, 6);
    coins(s, 270.0, 4);
    s.say(60.0, 60.0, "grams");
    s.say(150.0, 104.0, "money_kg");
    s.say(210.0, 74.0, "machine_h");
    s.say(270.0, 92.0, "labour_min");
}

fn fix(s: &mut Sheet) {
    s.pen
        .path("metal", "M40 130L92 78a20 20 0 1 1 16 16L56 146z");
    coins(s, 190.0, 3);
    coins(s, 260.0, 7);
    s.say(60.0, 60.0, "minutes");
    s.say(190.0, 104.0, "parts_money");
    s.say(260.0, 62.0, "saves_print_money");
    s.say(120.0, 158.0, "chance");
}

fn trial(s: &mut Sheet) {
    for n in 0..4 {
        let x = 36.0 + 62.0 * f64::from(n);
        s.pen.block("plastic", x, 90.0, 42.0, 42.0, 2.0);
    }
    s.pen
        .path("bad", "M44 64l10 12 18-24M112 54l18 20M130 54l-18 20");
    s.say(56.0, 116.0, "piece_min");
    s.say(120.0, 150.0, "piece_grams");
    s.point((250.0, 40.0), (240.0, 104.0), "differences");
}

fn retire(s: &mut Sheet) {
    s.pen.path("bold", "M40 140H130M56 140V50H114V140M70 64h30");
    s.pen.path("bad", "M118 76l16-8-4 12 14-4");
    s.pen
        .path("bold", "M200 140H290M216 140V30H274V140M230 46h30");
    s.say(84.0, 36.0, "parts_money");
    s.say(84.0, 104.0, "hours_after");
    s.say(245.0, 20.0, "new_money");
    s.say(245.0, 104.0, "new_hours");
}

fn proof(s: &mut Sheet) {
    for n in 0..6 {
        let x = 26.0 + 46.0 * f64::from(n);
        s.pen.block("plastic", x, 80.0, 34.0, 44.0, 2.0);
        match n {
            1 | 4 => s
                .pen
                .path("bad", &format!("M{:.1} 54l14 14m0-14l-14 14", x + 10.0)),
            _ => s.pen.path("ink", &format!("M{:.1} 62l7 8 12-18", x + 8.0)),
        }
    }
    s.point((90.0, 26.0), (88.0, 50.0), "strikes");
    s.across(26.0, 290.0, 148.0, "prints");
}

fn wear(s: &mut Sheet) {
    s.pen.block("hollow", 30.0, 76.0, 260.0, 30.0, 6.0);
    s.pen.block("plastic", 30.0, 76.0, 150.0, 30.0, 6.0);
    s.pen.path("bad", "M222 68v46");
    s.across(30.0, 180.0, 62.0, "used_h");
    s.across(30.0, 290.0, 134.0, "life_h");
    s.point((262.0, 30.0), (222.0, 70.0), "lives_h");
}
