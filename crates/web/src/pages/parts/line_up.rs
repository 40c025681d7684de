//! The line-up as pages show it: drawing, table, bench.

use crate::drawing::line_up::{Figure, svg};
use crate::pages::parts::link::Link;
use crate::{show, urls};
use suspect_core::knowledge::{CauseId, Knowledge};
use suspect_core::ranking::{CauseLine, LineUp, PullsApart};

/// Figures on the wall beside the stranger.
const SHOWN: usize = 5;
/// Rows of the table.
const IN_THE_TABLE: usize = 12;
/// Whoever is not among the causes known here.
const STRANGER: &str = "Someone else";

/// One row of the same as a table.
pub struct TableRow {
    pub name: String,
    pub href: String,
    pub share: String,
    pub before: String,
    pub prior: String,
}

/// The view.
#[derive(Default)]
pub struct LineUpView {
    pub drawing: String,
    pub table: Vec<TableRow>,
    pub bench: Vec<Link>,
    /// "Loose pulley, 46 %".
    pub leader: String,
    /// A question when the evidence does not fit together.
    pub surprise: Option<String>,
    /// "Two suspects" when a pair explains more than each alone.
    pub pair: Option<String>,
}

/// Draws a line-up. `before` is the line-up without the last piece of evidence; `href` leads from a
/// suspect to its reasons.
pub fn view(
    knowledge: &Knowledge,
    line_up: &LineUp,
    before: Option<&LineUp>,
    selected: Option<&str>,
    href: impl Fn(&str) -> String,
) -> LineUpView {
    let wall = Wall {
        knowledge,
        line_up,
        before,
        href,
    };
    let benched = |l: &&CauseLine| l.cleared || l.probability == 0.0;
    let bench = line_up.causes.iter().filter(benched).map(|l| Link {
        href: (wall.href)(&knowledge.cause(l.cause).id),
        name: knowledge.cause(l.cause).name.clone(),
    });
    let bench: Vec<Link> = bench.collect();
    let leader = line_up.leader().map(|l| {
        let name = &knowledge.cause(l.cause).name;
        format!("{name}, {}", show::percent(l.probability))
    });
    LineUpView {
        drawing: svg(&wall.figures(selected), bench.len()),
        table: wall.table(),
        leader: leader.unwrap_or_default(),
        surprise: surprise(knowledge, line_up),
        pair: pair(knowledge, line_up),
        bench,
    }
}

/// What a line-up is drawn from.
struct Wall<'a, F> {
    knowledge: &'a Knowledge,
    line_up: &'a LineUp,
    before: Option<&'a LineUp>,
    href: F,
}

impl<F: Fn(&str) -> String> Wall<'_, F> {
    /// Those who are not on the bench, likeliest first.
    fn standing(&self) -> impl Iterator<Item = &CauseLine> {
        let causes = self.line_up.causes.iter();
        causes.filter(|l| !l.cleared && l.probability > 0.0)
    }

    fn earlier(&self, cause: CauseId) -> Option<f64> {
        let line = self.before?.line(cause)?;
        Some(line.probability)
    }

    /// The likeliest few, the chosen one among them, and the stranger.
    fn figures(&self, selected: Option<&str>) -> Vec<Figure> {
        let id = |l: &CauseLine| self.knowledge.cause(l.cause).id.as_str();
        let mut shown: Vec<&CauseLine> = self.standing().take(SHOWN).collect();
        let chosen = self.standing().find(|l| Some(id(l)) == selected);
        if let Some(line) = chosen.filter(|c| !shown.iter().any(|s| s.cause == c.cause)) {
            shown.pop();
            shown.push(line);
        }
        let figure = |line: &CauseLine| {
            let cause = self.knowledge.cause(line.cause);
            Figure {
                name: cause.name.clone(),
                pictogram: cause.pictogram.clone(),
                probability: line.probability,
                before: self.earlier(line.cause),
                href: (self.href)(&cause.id),
                selected: selected == Some(cause.id.as_str()),
            }
        };
        let stranger = Figure {
            name: STRANGER.into(),
            pictogram: "someone".into(),
            probability: self.line_up.unlisted,
            before: self.before.map(|b| b.unlisted),
            href: urls::SUSPECTS.into(),
            selected: false,
        };
        shown.into_iter().map(figure).chain([stranger]).collect()
    }

    /// The same as a table, with more of them.
    fn table(&self) -> Vec<TableRow> {
        let known = |p: Option<f64>| p.map_or_else(|| "–".into(), show::percent);
        let row = |l: &CauseLine| {
            let cause = self.knowledge.cause(l.cause);
            TableRow {
                name: cause.name.clone(),
                href: (self.href)(&cause.id),
                share: show::percent(l.probability),
                before: known(self.earlier(l.cause)),
                prior: show::percent(l.prior),
            }
        };
        let stranger = TableRow {
            name: STRANGER.into(),
            href: urls::SUSPECTS.into(),
            share: show::percent(self.line_up.unlisted),
            before: known(self.before.map(|b| b.unlisted)),
            prior: show::percent(self.line_up.unlisted_prior),
        };
        let rows = self.standing().take(IN_THE_TABLE).map(row);
        rows.chain([stranger]).collect()
    }
}

/// The evidence asks a question; it gives no verdict.
fn surprise(knowledge: &Knowledge, line_up: &LineUp) -> Option<String> {
    let s = &line_up.surprise;
    let strength = line_up.pulls_apart()?;
    let mut odd: Vec<String> = s
        .disagree
        .iter()
        .chain(&s.unexplained)
        .map(|f| format!("“{}”", knowledge.finding(*f).plain))
        .collect();
    odd.dedup();
    odd.truncate(2);
    let about = if odd.is_empty() {
        String::new()
    } else {
        format!(" Look again at {}.", odd.join(" and "))
    };
    Some(match strength {
        PullsApart::Strongly => {
            format!("Nobody here explains all of this. Perhaps someone we have not met.{about}")
        }
        PullsApart::Somewhat => {
            format!("The facts pull apart. Two suspects, or a misread sign?{about}")
        }
    })
}

fn pair(knowledge: &Knowledge, line_up: &LineUp) -> Option<String> {
    let pair = line_up
        .pairs
        .iter()
        .find(|p| p.two_suspects && p.probability > 0.05)?;
    let [a, b] = pair.causes.map(|c| knowledge.cause(c).name.to_lowercase());
    Some(format!(
        "Perhaps two at once: {a} and {b}, {}.",
        show::percent(pair.probability)
    ))
}
