//! Whether something may happen in a series now.

use super::event::{Event, Listed, Made};
use super::label::Label;
use super::state::Series;
use crate::nearest::short;
use crate::text::{TextProblem, optional, required};
use crate::trials::{GRADES, Grade, List, ListProblem};
use std::collections::HashSet;

/// Longest text of a series, characters.
pub const LONGEST: usize = 500;

/// Why an event is refused.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
pub enum Refused {
    /// The list.
    #[error("{0}")]
    List(#[from] ListProblem),
    /// A text.
    #[error("{field}: {problem}")]
    Text {
        /// Which.
        field: &'static str,
        /// What is wrong.
        problem: TextProblem,
    },
    /// A number out of range.
    #[error("{what} is {value}, it must be from {least} to {most}")]
    Number {
        /// Which.
        what: &'static str,
        /// What was given.
        value: f64,
        /// From.
        least: f64,
        /// To.
        most: f64,
    },
    /// A label that is none.
    #[error("\"{0}\" is no label: {help}", help = super::LABEL_HELP)]
    NoLabel(String),
    /// A label was used before.
    #[error("the label {0} was used before; a label is never used twice, the next free one is {1}")]
    Used(String, String),
    /// No such piece.
    #[error("there is no piece {0} in this series: make its label before it is graded")]
    NotMade(String),
    /// A difference that pieces were made with would go or change.
    #[error(
        "piece {label} was made with \"{name}\"; it stays on the list as it is. Take the piece \
        back first, or begin another series"
    )]
    InUse {
        /// A piece.
        label: String,
        /// The difference.
        name: String,
    },
    /// A piece names what is not on the list.
    #[error("\"{0}\" is not on the list of differences")]
    NotListed(String),
    /// A piece that cannot be made.
    #[error(
        "this piece cannot be made: \"{needing}\" at its old value needs \"{needed}\" at its \
        old value too"
    )]
    CannotBe {
        /// What lacks something.
        needing: String,
        /// What it lacks.
        needed: String,
    },
    /// A grade beyond 5.
    #[error("a grade is 0 to 5, not {0}")]
    Grade(u8),
    /// The series has ended.
    #[error("this series has ended; take its end back first")]
    Ended,
    /// A series begins once.
    #[error("this series was begun before")]
    BegunBefore,
    /// What is to be taken back is not there.
    #[error("entry {0} cannot be taken back: pieces, looks, photos, places and the end can, once")]
    NoEntry(u32),
}

/// Whether an event may happen now.
///
/// # Errors
///
/// [`Refused`] with what was wrong and what would do.
pub fn accept(series: &Series, event: &Event) -> Result<(), Refused> {
    if series.ended.is_some() && !matches!(event, Event::Retracted { .. }) {
        return Err(Refused::Ended);
    }
    match event {
        Event::Begun { .. } if series.seq > 0 => Err(Refused::BegunBefore),
        Event::Begun { .. } => begun(event),
        Event::Listed {
            list,
            fights,
            group_minutes,
        } => listed(series, list, fights, group_minutes),
        Event::Aimed { .. } => Ok(()),
        Event::Made { label, made } => may_make(series, label, made),
        Event::Graded {
            label,
            grade,
            reading,
            note,
            ..
        } => {
            there(series, label)?;
            text("reading", reading, 0)?;
            text("note", note, 0)?;
            match grade {
                Grade::Number(g) if usize::from(*g) >= GRADES => Err(Refused::Grade(*g)),
                _ => Ok(()),
            }
        }
        Event::Pictured { label, .. } if label.is_empty() => Ok(()),
        Event::Pictured { label, .. } => there(series, label),
        Event::Placed { label, place } => {
            text("place", place, 0)?;
            there(series, label)
        }
        Event::Retracted { entry } if !series.may_go.contains(entry) => {
            Err(Refused::NoEntry(*entry))
        }
        Event::Retracted { .. } => Ok(()),
        Event::Ended { keep, note, .. } => {
            text("note", note, 0)?;
            keep.iter().try_for_each(|k| text("value", &k.value, 0))
        }
    }
}

fn begun(event: &Event) -> Result<(), Refused> {
    let Event::Begun {
        name,
        baseline,
        bad_grade,
        printed,
        ..
    } = event
    else {
        return Ok(());
    };
    text("name", name, 1)?;
    text("baseline", &baseline.settings, 0)?;
    text("file", &baseline.file, 0)?;
    text("place", &baseline.place, 0)?;
    text("piece", &printed.piece, 0)?;
    number(
        "the grade of the bad piece",
        f64::from(*bad_grade),
        0.0,
        4.0,
    )?;
    number("minutes of print", printed.print_minutes, 1.0, 10_000.0)?;
    number("minutes of hands", printed.hands_minutes, 0.0, 1000.0)?;
    number("grams", printed.grams, 0.0, 5000.0)
}

fn text(field: &'static str, value: &str, least: usize) -> Result<(), Refused> {
    let checked = if least > 0 {
        required(value, LONGEST)
    } else {
        optional(value, LONGEST)
    };
    checked.map_err(|problem| Refused::Text { field, problem })
}

fn number(what: &'static str, value: f64, least: f64, most: f64) -> Result<(), Refused> {
    if value.is_finite() && (least..=most).contains(&value) {
        return Ok(());
    }
    Err(Refused::Number {
        what,
        value,
        least,
        most,
    })
}

fn listed(
    series: &Series,
    list: &[Listed],
    fights: &[(String, String)],
    group_minutes: &std::collections::BTreeMap<String, f64>,
) -> Result<(), Refused> {
    for listed in list {
        let difference = &listed.difference;
        text("name", &difference.name, 1)?;
        for value in [&difference.old, &difference.new].into_iter().flatten() {
            text("value", value, 0)?;
        }
    }
    let whole = List {
        differences: list.iter().map(|l| l.difference.clone()).collect(),
        fights: fights.to_vec(),
        group_minutes: group_minutes.clone(),
        ..List::default()
    };
    whole.plan()?;
    for piece in series.standing() {
        for before in &series.list {
            let d = &before.difference;
            let stays = list.iter().any(|l| {
                let now = &l.difference;
                (&now.name, &now.old, &now.new) == (&d.name, &d.old, &d.new)
            });
            if !stays {
                return Err(Refused::InUse {
                    label: piece.label.to_string(),
                    name: short(&d.name),
                });
            }
        }
    }
    Ok(())
}

fn may_make(series: &Series, label: &str, made: &Made) -> Result<(), Refused> {
    let parsed = Label::parse(label).ok_or_else(|| Refused::NoLabel(short(label)))?;
    for value in [&made.settings, &made.spool, &made.file, &made.place] {
        text("the piece", value, 0)?;
    }
    let mut seen = HashSet::new();
    for name in &made.old {
        let known = series.list.iter().any(|l| l.difference.name == *name);
        if !known || !seen.insert(name) {
            return Err(Refused::NotListed(short(name)));
        }
    }
    let free = series.next_label(&made.old);
    if parsed != free || parsed.to_string() != label {
        return Err(Refused::Used(short(label), free.to_string()));
    }
    let old: HashSet<&String> = made.old.iter().collect();
    for listed in &series.list {
        let d = &listed.difference;
        let lacks = d
            .needs
            .iter()
            .find(|n| old.contains(&d.name) && !old.contains(n));
        if let Some(needed) = lacks {
            return Err(Refused::CannotBe {
                needing: short(&d.name),
                needed: short(needed),
            });
        }
    }
    Ok(())
}

fn there(series: &Series, label: &str) -> Result<(), Refused> {
    let parsed = Label::parse(label).ok_or_else(|| Refused::NoLabel(short(label)))?;
    match series.piece(parsed) {
        Some(_) => Ok(()),
        None => Err(Refused::NotMade(parsed.to_string())),
    }
}
