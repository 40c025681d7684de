//! Steps per millimetre after a new screw, pulley or driver.

use crate::measures::card::{Card, Hold};
use crate::measures::input::{choice, mm, plain, whole};
use crate::measures::maths::show;
use crate::measures::refused::refuse;
use crate::measures::usual::{BELT_PITCH, GEAR_RATIO, MICROSTEPS, MOTOR_STEPS, PULLEY_TEETH};
use crate::measures::{Given, Measure, Out, Refused};

pub(super) const MEASURE: Measure = Measure {
    id: "axis-steps",
    plain: "steps per mm after a new screw, pulley or driver",
    not: "the thread's accuracy: measure the travel",
    safety: "note the old value; before homing lower the bed or lift the switch, hand at the stop; \
             mind a thread of the other hand",
    card: Card {
        hold: Hold::File,
        words: "steps per mm new pulley screw lead driver microsteps",
        formulas: &[
            "[drive=belt] {way_mm} = {belt_pitch_mm} · {pulley_teeth} | {way_mm} = {lead_mm} | \
             {way_mm} = {thread_pitch_mm} · {starts}",
            "{steps_new} = {motor_steps} · {microsteps} · {gear_ratio} / {way_mm}",
            "{travel_of_50_mm} = 50 · {steps_now} / {steps_new}",
        ],
        example: &[
            ("drive", "screw"),
            ("thread_pitch_mm", "2"),
            ("starts", "4"),
            ("steps_now", "2560"),
        ],
        against: "",
    },
    inputs: &[
        choice("drive", "driven by", &["screw", "belt"]),
        mm("lead_mm", "lead of the screw").range(0.2, 60.0),
        mm("thread_pitch_mm", "pitch of the thread"),
        whole("starts", "starts of the thread", 1.0, 12.0).usual(1.0),
        mm("old_lead_mm", "lead of the old screw"),
        MOTOR_STEPS,
        MICROSTEPS,
        GEAR_RATIO,
        BELT_PITCH,
        PULLEY_TEETH,
        plain("steps_now", "steps per mm set now", 1.0, 20_000.0),
    ],
    reckon,
};

/// # Formula
/// steps per mm = full steps·microsteps·gear / way of a turn
fn reckon(_: &'static str, g: &Given, o: &mut Out) -> Result<(), Refused> {
    let by_thread = g.maybe("thread_pitch_mm").map(|p| p * g.num("starts"));
    let lead = g.maybe("lead_mm");
    let way = match (g.word("drive"), lead.or(by_thread)) {
        ("belt", _) => g.num("belt_pitch_mm") * g.num("pulley_teeth"),
        (_, Some(way)) => way,
        (_, None) => return refuse("lead_mm is missing: the lead is thread pitch times starts"),
    };
    if let (Some(lead), Some(thread)) = (lead, by_thread)
        && g.word("drive") != "belt"
        && (lead / thread - 1.0).abs() > 0.01
    {
        o.slip("lead and thread pitch times starts differ: count the starts");
    }
    let new = g.num("motor_steps") * g.num("microsteps") * g.num("gear_ratio") / way;
    o.num("way_mm", way, 0.0001);
    o.num("steps_new", new, 0.01);
    o.result = format!("set {} steps per mm", show(new, 0.01));
    if let Some(now) = g.maybe("steps_now") {
        let travel = 50.0 * now / new;
        o.num("travel_of_50_mm", travel, 0.1);
        o.result += &format!(
            "; with {} a command of 50 mm would travel {} mm",
            show(now, 0.01),
            show(travel, 0.1)
        );
        let agrees = |old: f64| (now * old / way / new - 1.0).abs() <= 0.005;
        if g.maybe("old_lead_mm").is_some_and(|old| !agrees(old)) {
            o.slip("the present value and the old lead disagree with motor, microsteps and gear");
        }
    }
    Ok(())
}
