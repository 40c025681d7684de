//! What is believed of the list, on the same wall as the suspects of a case.

use crate::drawing::line_up::{self, Figure};
use crate::show;
use suspect_core::series::Series;
use suspect_core::trials::{Belief, Course, Finding, Planned, State};

/// Figures on the wall beside "elsewhere" and "by itself".
const SHOWN: usize = 5;
/// From this probability on "it comes and goes" stands on the wall.
const WORTH_A_PLACE: f64 = 0.02;

/// The wall, and what the last look moved.
pub struct Wall {
    pub svg: String,
    pub moved: Option<String>,
}

fn pictogram(group: Option<&str>) -> &'static str {
    match group.unwrap_or_default() {
        "temperature" => "thermometer",
        "cooling" => "fan",
        "flow" | "retraction" => "feeder",
        "speed" | "motion" => "wave",
        "firmware" => "chip",
        "hardware" => "screw",
        "layers" => "layers",
        _ => "slider",
    }
}

/// Draws what is believed; `href` leads from a figure to the list.
pub fn wall(series: &Series, planned: &Planned, course: &Course, href: &str) -> Wall {
    let before = earlier(series, planned);
    let cures = course.belief.cures();
    let mut order: Vec<usize> = (0..cures.len()).collect();
    order.sort_by(|&i, &j| cures[j].total_cmp(&cures[i]));
    let units = order.iter().take(SHOWN).map(|&i| Figure {
        name: planned.plan.units[i].name.clone(),
        pictogram: pictogram(group_of(series, planned, i)).into(),
        probability: cures[i],
        before: before.as_ref().map(|b| b.cures()[i]),
        href: href.to_owned(),
        selected: false,
    });
    let mut figures: Vec<Figure> = units.collect();
    let others = [
        (
            "elsewhere",
            "someone",
            course.belief.elsewhere,
            before.as_ref().map(|b| b.elsewhere),
        ),
        (
            "comes and goes",
            "waves",
            course.belief.comes_and_goes,
            before.as_ref().map(|b| b.comes_and_goes),
        ),
    ];
    for (name, pictogram, probability, before) in others {
        if name == "elsewhere" || probability >= WORTH_A_PLACE {
            figures.push(Figure {
                name: name.into(),
                pictogram: pictogram.into(),
                probability,
                before,
                href: href.to_owned(),
                selected: false,
            });
        }
    }
    Wall {
        svg: line_up::svg(&figures, 0),
        moved: before.map(|b| moved(series, planned, &b, course)),
    }
}

fn group_of<'a>(series: &'a Series, planned: &Planned, unit: usize) -> Option<&'a str> {
    let d = planned.unit_of.iter().position(|u| *u == unit)?;
    series.list[d].difference.group.as_deref()
}

/// What was believed before the last look.
fn earlier(series: &Series, planned: &Planned) -> Option<Belief> {
    let mut looks = series.looks(planned);
    looks.pop()?;
    Some(Course::of(&planned.plan, &looks).belief)
}

/// What the last look moved most.
fn moved(series: &Series, planned: &Planned, before: &Belief, course: &Course) -> String {
    let (was, now) = (before.cures(), course.belief.cures());
    let by = |i: &usize| (now[*i] - was[*i]).abs();
    let most = (0..now.len())
        .max_by(|i, j| by(i).total_cmp(&by(j)))
        .unwrap_or(0);
    let piece = series
        .looks(planned)
        .pop()
        .map_or_else(String::new, |l| l.piece);
    format!(
        "{piece} moved “{}” from {} to {}",
        planned.plan.units[most].name,
        show::percent(was[most]),
        show::percent(now[most])
    )
}

/// What leads after some looks, in a few words.
pub fn leader(series: &Series, planned: &Planned, course: &Course) -> String {
    let verdict = course.verdict(series.goal);
    let what = match verdict.finding {
        Finding::Set(set) => format!("“{}”", series.names(planned, set).join("” and “")),
        Finding::Elsewhere => "none of the list".into(),
        Finding::ComesAndGoes => "it comes and goes".into(),
        Finding::Together(..) => "two together".into(),
    };
    let sure = show::percent(verdict.probability);
    match verdict.state {
        State::Open => format!("{what} {sure}"),
        State::Owes(_) => format!("{what} {sure}, its own piece still owed"),
        State::Proven => format!("{what} {sure}, proven"),
    }
}
