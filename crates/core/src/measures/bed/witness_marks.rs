//! Drift of the levelling screws, from a pen dot across each.

use crate::measures::card::{Card, Hold};
use crate::measures::input::{minutes, mm};
use crate::measures::maths::{half, largest, over, range, rss, show};
use crate::measures::{Given, Measure, Out, Refused};

pub(super) const MEASURE: Measure = Measure {
    id: "witness-marks",
    plain: "drift of the levelling screws",
    not: "why they moved",
    safety: "",
    card: Card {
        hold: Hold::Eye,
        words: "levelling screw drift pen mark knob turned loose spring",
        formulas: &["drift = minutes turned / 60 · pitch of the thread"],
        example: &[("turned_min", "0 9 -1 0")],
        against: "",
    },
    inputs: &[
        minutes("turned_min", "turned, minutes of a clock's face")
            .range(-600.0, 600.0)
            .readings(4)
            .needed(),
        mm("thread_mm", "pitch of their thread")
            .range(0.2, 3.0)
            .usual(0.7),
        minutes("read_min", "read to").range(0.5, 10.0).usual(2.0),
    ],
    reckon,
};

fn reckon(_: &'static str, g: &Given, o: &mut Out) -> Result<(), Refused> {
    let turned = g.list("turned_min");
    let (read, thread) = (g.num("read_min"), g.num("thread_mm"));
    let sizes: Vec<f64> = turned.iter().map(|t| t.abs()).collect();
    let drift: Vec<f64> = sizes.iter().map(|t| t / 60.0 * thread).collect();
    let most = largest(&sizes);
    o.list("drift_mm", &drift, 0.001);
    o.num("drift_u", read / 60.0 * thread, 0.001);
    o.num("worst_mm", most / 60.0 * thread, 0.001);
    if turned.len() > 2 && most > 2.0 * read && range(turned) <= 2.0 * read {
        o.warn("all moved alike: did someone turn them?");
    }
    let worst = show(most / 60.0 * thread, 0.001);
    o.result = format!("up to {} min = {worst} mm", show(most, 1.0));
    let states = [
        ("stayed", half(most, rss([read, 1.5]))),
        ("moved", over(most, 4.0, 30.0, read)),
    ];
    o.find("witness-marks", &states);
    Ok(())
}
