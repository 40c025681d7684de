//! Ten minutes of temperature: jumps, swing with its period, drop with the fan.

use crate::measures::card::{Card, Hold};
use crate::measures::input::{celsius, seconds};
use crate::measures::maths::{half, mean, median, over, percentile, sd, show, smallest};
use crate::measures::refused::refuse;
use crate::measures::{Given, Measure, Out, Refused};

pub(super) const MEASURE: Measure = Measure {
    id: "temperature-trace",
    plain: "ten minutes of temperature",
    not: "the true value",
    safety: "jumps together with a heating error: stop and unplug",
    card: Card {
        hold: Hold::File,
        words: "temperature log graph hunts jumps swing fan drop trace",
        formulas: &[
            "{off_c} = {mean_c} − {set_c}",
            "swing = 95th − 5th percentile of the smoothed trace",
        ],
        example: &[],
        against: "",
    },
    inputs: &[
        seconds("time_s", "seconds").list(600, 30, 20_000).needed(),
        celsius("temp_c", "temperature")
            .range(-50.0, 1000.0)
            .list(600, 30, 20_000)
            .needed(),
        celsius("set_c", "set").needed(),
        seconds("fan_from_s", "the fan came on at"),
    ],
    reckon,
};

/// A step between neighbours that no heater block can make: degrees, and degrees a second.
const JUMP: (f64, f64) = (3.0, 2.0);
/// Jumps expected a minute of a sound sensor.
const CALM: f64 = 0.05;

/// What a trace shows.
struct Trace {
    minutes: f64,
    jumps: f64,
    mean: f64,
    swing: f64,
    period: Option<f64>,
    drop: Option<f64>,
}

impl Trace {
    fn says(&self) -> &'static str {
        if self.jumps / self.minutes >= 0.3 {
            "jumps"
        } else if self.drop.is_some_and(|d| d > 5.0) {
            "drops-with-fan"
        } else if self.swing > 4.0 {
            "hunts"
        } else {
            "steady"
        }
    }

    fn states(&self) -> [(&'static str, f64); 4] {
        let (jumps, minutes) = (self.jumps, self.minutes);
        let usual = CALM * minutes;
        let many = (1..=jumps.min(100.0) as u32)
            .map(f64::from)
            .product::<f64>();
        let calm = (-usual).exp() * usual.powf(jumps) / many;
        let wild = (minutes / (1.0 + minutes)).powf(jumps) / (1.0 + minutes);
        let (still, jumping, dropping) = match self.drop {
            Some(drop) => (
                half(drop.max(0.0), 1.5),
                1.0 / 20.0,
                over(drop, 5.0, 20.0, 1.0),
            ),
            None => (1.0, 1.0, 1.0),
        };
        let rhythm = if self.period.is_some() { 0.9 } else { 0.3 };
        let swing = self.swing;
        [
            ("steady", calm * half(swing, 1.5) * still),
            ("hunts", calm * over(swing, 4.0, 20.0, 0.5) * still * rhythm),
            ("jumps", wild / 30.0 * jumping),
            ("drops-with-fan", calm * half(swing, 2.0) * dropping),
        ]
    }
}

/// Mean time between upward passages through the middle, a quarter of the swing apart; nothing
/// where they are few or uneven.
fn period(points: &[(f64, f64)], middle: f64, swing: f64) -> Option<f64> {
    let (mut passes, mut low) = (Vec::new(), false);
    for (t, y) in points {
        if y - middle < -swing / 4.0 {
            low = true;
        } else if y - middle > swing / 4.0 && low {
            passes.push(*t);
            low = false;
        }
    }
    let gaps: Vec<f64> = passes.windows(2).map(|w| w[1] - w[0]).collect();
    let even = gaps.len() >= 2 && swing >= 1.5 && sd(&gaps) < 0.35 * mean(&gaps);
    even.then(|| mean(&gaps))
}

/// When a trace stepped as no heater block can.
pub fn jump_times(times: &[f64], temps: &[f64]) -> Vec<f64> {
    let jumped = |n: &usize| {
        let step = (temps[*n] - temps[n - 1]).abs();
        step >= JUMP.0 && step / (times[*n] - times[n - 1]) >= JUMP.1
    };
    (1..times.len()).filter(jumped).map(|n| times[n]).collect()
}

fn read(g: &Given) -> Result<Trace, Refused> {
    let [t, temps] = g.together(["time_s", "temp_c"])?;
    if t.windows(2).any(|w| w[1] <= w[0]) {
        return refuse("time_s: the time must rise from sample to sample");
    }
    let span = t[t.len() - 1] - t[0];
    if span < 60.0 {
        return refuse("time_s: too short a trace: log ten minutes");
    }
    let smooth = |n: usize| median(&temps[n.saturating_sub(2)..(n + 3).min(temps.len())]);
    let points: Vec<(f64, f64)> = (0..t.len()).map(|n| (t[n], smooth(n))).collect();
    let fan = g.maybe("fan_from_s").unwrap_or(f64::INFINITY);
    let (still, after) = points.split_at(points.partition_point(|(t, _)| *t < fan));
    if still.is_empty() || still[still.len() - 1].0 - still[0].0 < 30.0 {
        return refuse("fan_from_s: too short a part before the fan");
    }
    let of = |part: &[(f64, f64)]| -> Vec<f64> { part.iter().map(|(_, y)| *y).collect() };
    let (ys, later) = (of(still), of(after));
    let swing = percentile(&ys, 0.95) - percentile(&ys, 0.05);
    Ok(Trace {
        minutes: span / 60.0,
        jumps: jump_times(t, temps).len() as f64,
        mean: mean(&ys),
        swing,
        period: period(still, mean(&ys), swing),
        drop: (!later.is_empty()).then(|| smallest(&ys) - smallest(&later)),
    })
}

fn reckon(_: &'static str, g: &Given, o: &mut Out) -> Result<(), Refused> {
    let trace = read(g)?;
    let set = g.num("set_c");
    if trace.minutes < 5.0 {
        o.warn("a short trace: log ten minutes");
    }
    if trace.mean < set - 10.0 {
        o.warn("far below the set value: was it still heating up?");
    }
    let rate = trace.jumps / trace.minutes;
    o.num("mean_c", trace.mean, 0.1);
    o.num("off_c", trace.mean - set, 0.1);
    o.num("swing_c", trace.swing, 0.1);
    o.num("jumps_per_min", rate, 0.01);
    o.maybe("period_s", trace.period, 1.0);
    o.maybe("drop_c", trace.drop, 0.1);
    o.word("says", trace.says());
    let every = trace.period.map(|p| format!(" every {} s", show(p, 1.0)));
    o.result = format!(
        "{} °C, swing {} °C{}, {} jumps a minute: {}",
        show(trace.mean, 0.1),
        show(trace.swing, 0.1),
        every.unwrap_or_default(),
        show(rate, 0.01),
        trace.says()
    );
    o.find("temperature-trace", &trace.states());
    Ok(())
}
