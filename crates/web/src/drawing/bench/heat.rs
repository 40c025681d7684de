//! What is taken with a thermometer or a power meter.

use super::{Draw, Sheet};

pub fn drawing(measure: &str) -> Option<Draw> {
    Some(match measure {
        "second-thermometer" => second,
        "axis-motor-heat" => axis_motor,
        "feeder-heat" => feeder,
        "driver-heat" => driver,
        "chamber-two-sensors" => chamber,
        "heat-up" => heat_up,
        "chamber-watts" => watts,
        _ => return None,
    })
}

fn second(s: &mut Sheet) {
    s.pen.block("metal", 70.0, 70.0, 130.0, 56.0, 4.0);
    s.pen.path("metal", "M114 126H156V138L140 158H130L114 138Z");
    s.pen.round("hollow", 92.0, 98.0, 9.0);
    s.pen.round("hollow", 178.0, 98.0, 9.0);
    s.pen.path("ink", "M92 98C60 98 50 60 40 40");
    s.thermometer(178.0, 98.0);
    s.say(44.0, 34.0, "shown_c");
    s.say(270.0, 72.0, "other_c");
    s.note(20.0, 20.0, "the machine shows");
    s.note(206.0, 20.0, "the other one");
}

/// A motor with its thermometer, and the numbers of all three measures.
fn motor(s: &mut Sheet) {
    s.pen.block("metal", 60.0, 60.0, 80.0, 80.0, 5.0);
    s.pen.round("hollow", 100.0, 100.0, 24.0);
    s.pen.round("metal", 100.0, 100.0, 8.0);
    numbers(s);
}

fn numbers(s: &mut Sheet) {
    s.thermometer(140.0, 84.0);
    s.say(236.0, 58.0, "case_c");
    s.say(250.0, 118.0, "room_c");
    s.note(214.0, 100.0, "the room");
    s.say(38.0, 40.0, "before_c");
    s.note(16.0, 22.0, "before the change");
}

fn axis_motor(s: &mut Sheet) {
    s.pen.path("outline", "M100 94H20M100 106H20");
    motor(s);
}

fn feeder(s: &mut Sheet) {
    s.pen.line("strand edge", 100.0, 136.0, 100.0, 168.0);
    s.pen.line("strand", 100.0, 136.0, 100.0, 168.0);
    motor(s);
    s.pen
        .path("ink", "M84 100h32M100 84v32M89 89l22 22M111 89l-22 22");
}

fn driver(s: &mut Sheet) {
    s.pen.block("hollow", 24.0, 60.0, 150.0, 90.0, 4.0);
    s.pen.block("metal", 66.0, 78.0, 74.0, 54.0, 2.0);
    for n in 0..6 {
        let y = 84.0 + 8.0 * f64::from(n);
        s.pen.path("ink", &format!("M56 {y:.1}h10M140 {y:.1}h10"));
    }
    s.pen
        .path("faint", "M78 84v42M90 84v42M102 84v42M114 84v42M126 84v42");
    numbers(s);
    s.note(60.0, 164.0, "by its own report: no live board");
}

fn chamber(s: &mut Sheet) {
    s.pen.block("hollow", 50.0, 16.0, 220.0, 140.0, 6.0);
    s.pen.block("metal", 80.0, 128.0, 160.0, 8.0, 2.0);
    s.pen.path(
        "bad",
        "M110 120c-6-8 6-12 0-20M160 120c-6-8 6-12 0-20M210 120c-6-8 6-12 0-20",
    );
    s.pen.round("bad", 84.0, 40.0, 4.0);
    s.pen.round("bad", 226.0, 84.0, 4.0);
    s.point((130.0, 50.0), (88.0, 41.0), "shown_c");
    s.point((180.0, 70.0), (222.0, 83.0), "other_c");
    s.note(66.0, 32.0, "the machine's");
}

fn heat_up(s: &mut Sheet) {
    s.pen.path("outline", "M40 14V146H300");
    s.pen
        .path("strand thin", "M40 140C90 90 130 62 190 50S270 42 300 40");
    s.pen.path("faint", "M40 30H300");
    for (x, y) in [(72.0, 108.0), (122.0, 74.0), (172.0, 54.0)] {
        s.pen.round("bad", x, y, 4.0);
    }
    s.point((104.0, 120.0), (122.0, 78.0), "temp_c");
    s.across(122.0, 172.0, 158.0, "every_min");
    s.say(270.0, 26.0, "target_c");
}

fn watts(s: &mut Sheet) {
    s.pen.block("hollow", 30.0, 50.0, 84.0, 76.0, 8.0);
    s.pen.block("metal", 42.0, 60.0, 60.0, 26.0, 3.0);
    s.pen.round("outline", 72.0, 106.0, 12.0);
    s.pen.path("outline", "M114 96c40 0 30 30 70 30h20");
    s.pen.block("hollow", 204.0, 30.0, 90.0, 110.0, 6.0);
    s.pen.path("bad", "M220 118h8l6-14 10 28 10-28 6 14h14");
    s.say(72.0, 78.0, "with_w");
    s.say(72.0, 34.0, "without_w");
    s.say(250.0, 64.0, "rating_w");
    s.note(124.0, 34.0, "heater off");
    s.note(118.0, 78.0, "heater on");
}
