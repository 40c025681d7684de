//! A series told to those who make a firmware or a profile: Markdown.

use super::state::{Piece, Series};
use crate::planning::Workshop;
use crate::trials::{Finding, Grade, State};
use std::fmt::Write;

/// Words of the trade that Markdown would read as its own signs are kept plain.
fn plain(text: &str) -> String {
    let mut out = String::new();
    for c in text.chars() {
        if matches!(
            c,
            '|' | '*' | '_' | '`' | '[' | ']' | '<' | '>' | '\\' | '#'
        ) {
            out.push('\\');
        }
        out.push(if c.is_control() { ' ' } else { c });
    }
    out
}

/// A grade in a word or two.
fn graded(piece: &Piece) -> String {
    let one = |grade: Grade| match grade {
        Grade::Number(g) => format!("{g} of 5"),
        Grade::Word(word) => word.plain().to_owned(),
    };
    match piece.looks.is_empty() {
        true => "not graded".to_owned(),
        false => piece
            .looks
            .iter()
            .map(|l| one(l.grade))
            .collect::<Vec<_>>()
            .join(", "),
    }
}

/// The report: both configurations, every piece, what was found and how surely. `machine` is the
/// kind of machine in words; names of people stay out.
pub fn report(series: &Series, machine: &str, workshop: &Workshop) -> String {
    let mut out = format!("# {}\n\n", plain(&series.name));
    let _ = writeln!(out, "Machine: {}\n", plain(machine));
    let _ = writeln!(out, "{}\n", found(series, workshop));
    out += "## The two configurations\n\n| What | Good | Bad |\n| --- | --- | --- |\n";
    for listed in &series.list {
        let d = &listed.difference;
        let value = |v: &Option<String>| plain(v.as_deref().unwrap_or("not written down"));
        let _ = writeln!(
            out,
            "| {} | {} | {} |",
            plain(&d.name),
            value(&d.old),
            value(&d.new)
        );
    }
    if !series.baseline.settings.is_empty() {
        let _ = writeln!(
            out,
            "\nThe good piece: {}",
            plain(&series.baseline.settings)
        );
    }
    out += &pieces(series);
    if let Some((_, keep, note)) = &series.ended {
        out += "\n## Kept\n\n";
        for k in keep {
            let _ = writeln!(out, "- {}: {}", plain(&k.name), plain(&k.value));
        }
        if !note.is_empty() {
            let _ = writeln!(out, "\n{}", plain(note));
        }
    }
    out += "\n## Steps to see it\n\n1. Print the piece with everything at its bad value: the fault \
        shows.\n";
    out += "2. Put back only what was found guilty: it is gone.\n3. Put back everything else \
        instead: it stays.\n";
    out
}

/// Every piece with what was old, how it looked, what it was printed with.
fn pieces(series: &Series) -> String {
    let mut out = String::new();
    out += "\n## Pieces, in the order they were made\n\n";
    if !series.printed.piece.is_empty() {
        let _ = writeln!(out, "Piece: {}\n", plain(&series.printed.piece));
    }
    out += "| Piece | At the good value | Look, against the good piece (5) | Printed with |\n\
        | --- | --- | --- | --- |\n";
    for piece in series.standing() {
        let old = match piece.made.old.len() {
            0 => "nothing".to_owned(),
            n if n == series.list.len() => "everything".to_owned(),
            _ => plain(&piece.made.old.join(", ")),
        };
        let with = [&piece.made.settings, &piece.made.spool, &piece.made.file];
        let with: Vec<String> = with
            .into_iter()
            .filter(|w| !w.is_empty())
            .map(|w| plain(w))
            .collect();
        let _ = writeln!(
            out,
            "| {} | {old} | {} | {} |",
            piece.label,
            graded(piece),
            with.join(", ")
        );
    }
    out
}

fn found(series: &Series, workshop: &Workshop) -> String {
    let Ok(planned) = series.planned(workshop) else {
        return "Nothing is listed yet.".to_owned();
    };
    let course = series.course(&planned);
    let verdict = course.verdict(series.goal);
    let sure = format!("{:.0} %", verdict.probability * 100.0);
    let what = match verdict.finding {
        Finding::Set(set) => format!(
            "Putting back {} cures it ({sure})",
            plain(&series.names(&planned, set).join(" and "))
        ),
        Finding::Elsewhere => format!("None of the list is guilty ({sure})"),
        Finding::ComesAndGoes => format!("It comes and goes by itself ({sure})"),
        Finding::Together(i, j) => {
            let both = series.names(&planned, [i, j].into_iter().collect());
            format!("{} act together ({sure})", plain(&both.join(" and ")))
        }
    };
    let state = match verdict.state {
        State::Open => "not yet sure",
        State::Owes(_) => "the piece that shows it is still owed",
        State::Proven => "shown by its own piece",
    };
    let looks = course.said.len();
    format!(
        "{what}: {state}, {looks} look{}.",
        if looks == 1 { "" } else { "s" }
    )
}
