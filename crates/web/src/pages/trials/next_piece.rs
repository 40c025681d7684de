//! The next piece in words: what to set how, what each grade would then mean, what it costs.

use super::open_series::OpenSeries;
use super::wall::leader;
use crate::show;
use std::ops::RangeInclusive;
use suspect_core::planning::Workshop;
use suspect_core::series::{Piece, Series};
use suspect_core::trials::{Confidence, Course, Grade, Look, Planned, Proposal, Set, Weighing};

/// What a range of grades would mean.
pub struct Meaning {
    pub grades: &'static str,
    pub words: &'static str,
    pub chance: String,
    /// The same as a share of a bar, percent.
    pub width: String,
    pub then: String,
}

/// A piece that could be printed.
pub struct PieceView {
    /// What it is, in a few words.
    pub title: String,
    pub label: String,
    /// Differences back at their good value, as form values.
    pub old: Vec<String>,
    /// What has to be changed after the piece before.
    pub changes: Vec<(String, String)>,
    pub price: String,
    pub to_the_end: String,
    pub bits: String,
    pub meanings: Vec<Meaning>,
    /// How much more it costs to the end than the best.
    pub dearer: Option<String>,
    /// What the piece before was printed with: settings, spool, file.
    pub with: [String; 3],
}

/// Grades that mean the same to a person, their word, and the grade that stands for them.
type Range = (&'static str, &'static str, RangeInclusive<usize>, u8);

/// Good, between, bad.
const RANGES: [Range; 3] = [
    ("4 or 5", "good", 4..=5, 5),
    ("3", "between", 3..=3, 3),
    ("0 to 2", "bad", 0..=2, 1),
];

/// What a value is called where nobody wrote it down.
fn value<'a>(value: Option<&'a str>, otherwise: &'a str) -> &'a str {
    value.filter(|v| !v.is_empty()).unwrap_or(otherwise)
}

/// A set in a few words: what is put back or what is not, whichever is shorter.
pub fn in_words(series: &Series, names: &[String]) -> String {
    let all = series.list.len();
    let missing = || {
        let others = series.list.iter().map(|l| &l.difference.name);
        others
            .filter(|n| !names.contains(n))
            .cloned()
            .collect::<Vec<_>>()
            .join(", ")
    };
    match names.len() {
        0 => "everything at its bad value".into(),
        n if n == all => "everything put back".into(),
        n if n > all - n && all - n <= 3 => format!("everything put back but {}", missing()),
        n if n <= 6 => format!("put back: {}", names.join(", ")),
        n if all - n <= 6 => format!("everything put back but {}", missing()),
        n => format!("{n} of {all} put back"),
    }
}

/// What a list says of a piece: nothing of its settings while it waits for a blind grade.
pub fn what(series: &Series, piece: &Piece) -> String {
    match series.blind && piece.looks.is_empty() {
        true => "graded blind".into(),
        false => in_words(series, &piece.made.old),
    }
}

/// Everything a page says of a piece.
pub fn view(
    open: &OpenSeries,
    planned: &Planned,
    course: &Course,
    proposal: &Proposal,
    workshop: &Workshop,
) -> PieceView {
    let series = &open.now;
    let old = series.names(planned, proposal.old);
    let label = series.next_label(&old);
    let before = course.printed().now;
    let (_, money) = series.price(workshop);
    let mut price = vec![
        show::minutes(proposal.price),
        show::grams(series.printed.grams),
    ];
    price.extend(show::money(money, &workshop.currency));
    PieceView {
        title: show::capital(&in_words(series, &old)),
        label: label.to_string(),
        changes: changes(series, planned, proposal.old, before),
        price: price.join(" · "),
        to_the_end: to_the_end(planned, proposal),
        bits: format!("{} bit", show::tenths(proposal.bits)),
        meanings: meanings(series, planned, course, proposal),
        dearer: None,
        with: before_it(series),
        old,
    }
}

/// What the latest piece was printed with: the next one most likely is too.
fn before_it(series: &Series) -> [String; 3] {
    let last = series.standing().last();
    last.map_or_else(Default::default, |p| {
        let made = &p.made;
        [made.settings.clone(), made.spool.clone(), made.file.clone()]
    })
}

fn to_the_end(planned: &Planned, proposal: &Proposal) -> String {
    let pieces = proposal.expected_minutes / planned.plan.terms.piece_minutes.max(1.0);
    let pieces = pieces.round().max(1.0);
    let word = if pieces > 1.0 { "pieces" } else { "piece" };
    format!(
        "about {pieces} {word}, {}",
        show::minutes(proposal.expected_minutes)
    )
}

fn changes(series: &Series, planned: &Planned, old: Set, before: Set) -> Vec<(String, String)> {
    let changed = planned.differences(old.differs(before)).into_iter();
    changed
        .map(|d| {
            let difference = &series.list[d].difference;
            let (good, bad) = (
                value(difference.old.as_deref(), "its good value"),
                value(difference.new.as_deref(), "its bad value"),
            );
            let to_good = old.has(planned.unit_of[d]);
            let way = match to_good {
                true => format!("{bad} → {good}"),
                false => format!("{good} → {bad}"),
            };
            (difference.name.clone(), way)
        })
        .collect()
}

fn meanings(
    series: &Series,
    planned: &Planned,
    course: &Course,
    proposal: &Proposal,
) -> Vec<Meaning> {
    let of = |(grades, words, range, stands): &Range| {
        let chance: f64 = range.clone().map(|g| proposal.after[g].chance).sum();
        let mut then = course.clone();
        then.add(&Look {
            piece: "next".into(),
            old: proposal.old,
            grade: Grade::Number(*stands),
            confidence: Confidence::Sure,
        });
        Meaning {
            grades,
            words,
            chance: show::percent(chance),
            width: format!("{:.0}", chance * 100.0),
            then: leader(series, planned, &then),
        }
    };
    RANGES.iter().map(of).collect()
}

/// Pieces that are always on show beside the best: each group in one go, everything put back.
pub fn others(
    open: &OpenSeries,
    planned: &Planned,
    course: &Course,
    (weighing, best): (&Weighing, &Proposal),
    workshop: &Workshop,
) -> Vec<PieceView> {
    let plan = &planned.plan;
    let groups = plan.groups.iter().filter(|g| g.units.count() > 1);
    let mut sets: Vec<(String, Set)> = groups
        .map(|g| {
            (
                format!("All of “{}” in one go", g.name),
                plan.close(g.units),
            )
        })
        .collect();
    sets.push(("Everything put back".into(), plan.all()));
    let mut seen = vec![best.old];
    let mut views = Vec::new();
    for (title, set) in sets {
        if seen.contains(&set) {
            continue;
        }
        seen.push(set);
        let proposal = weighing.of(set);
        let mut piece = view(open, planned, course, &proposal, workshop);
        piece.title = title;
        piece.dearer = Some(dearer(&proposal, best));
        views.push(piece);
    }
    views
}

/// How much more a piece costs to the end than the best.
pub fn dearer(proposal: &Proposal, best: &Proposal) -> String {
    let more = proposal.expected_minutes - best.expected_minutes;
    match more < 0.5 {
        true => "no dearer than the best".into(),
        false => format!("{} more to the end than the best", show::minutes(more)),
    }
}

/// The optional features of motion in one go are the first offer where nothing but the two ends was
/// printed and they cost hardly more than the best.
pub fn first_offer(course: &Course, weighing: &Weighing, planned: &Planned) -> Option<Proposal> {
    let plan = &planned.plan;
    let ends = [Set::NONE, plan.all()];
    if course.printed().earlier.iter().any(|s| !ends.contains(s)) {
        return None;
    }
    let motion = plan
        .groups
        .iter()
        .find(|g| g.name == "motion" && g.units.count() > 1)?;
    let (whole, best) = (weighing.of(motion.units), weighing.best());
    (whole.expected_minutes <= 1.15 * best.expected_minutes).then_some(whole)
}
