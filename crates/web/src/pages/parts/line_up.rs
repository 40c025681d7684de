//! The line-up as pages show it: drawing, table, bench.

use crate::drawing::line_up::{Figure, svg};
use crate::pages::parts::link::Link;
use crate::{show, urls};
use suspect_core::knowledge::Knowledge;
use suspect_core::ranking::{LineUp, PullsApart};

/// Figures on the wall beside the stranger.
const SHOWN: usize = 5;

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

/// Draws a line-up. `before` is the line-up without the last piece of evidence; `href` leads from a suspect to its reasons.
pub fn view(
    knowledge: &Knowledge,
    line_up: &LineUp,
    before: Option<&LineUp>,
    selected: Option<&str>,
    href: impl Fn(&str) -> String,
) -> LineUpView {
    let earlier = |cause| before.and_then(|b| b.line(cause)).map(|l| l.probability);
    let standing: Vec<_> = line_up
        .causes
        .iter()
        .filter(|l| !l.cleared && l.probability > 0.0)
        .collect();
    let mut figures: Vec<Figure> = Vec::new();
    let chosen = selected.and_then(|s| standing.iter().find(|l| knowledge.cause(l.cause).id == s));
    let mut shown: Vec<_> = standing.iter().take(SHOWN).copied().collect();
    if let Some(line) = chosen.filter(|c| !shown.iter().any(|s| s.cause == c.cause)) {
        shown.pop();
        shown.push(line);
    }
    for line in &shown {
        let cause = knowledge.cause(line.cause);
        figures.push(Figure {
            name: cause.name.clone(),
            pictogram: cause.pictogram.clone(),
            probability: line.probability,
            before: earlier(line.cause),
            href: href(&cause.id),
            selected: selected == Some(cause.id.as_str()),
        });
    }
    figures.push(Figure {
        name: "Someone else".into(),
        pictogram: "someone".into(),
        probability: line_up.unlisted,
        before: before.map(|b| b.unlisted),
        href: urls::SUSPECTS.into(),
        selected: false,
    });
    let bench: Vec<Link> = line_up
        .causes
        .iter()
        .filter(|l| l.cleared || l.probability == 0.0)
        .map(|l| knowledge.cause(l.cause))
        .map(|c| Link {
            href: href(&c.id),
            name: c.name.clone(),
        })
        .collect();
    let table = standing
        .iter()
        .take(12)
        .map(|l| {
            let cause = knowledge.cause(l.cause);
            TableRow {
                name: cause.name.clone(),
                href: href(&cause.id),
                share: show::percent(l.probability),
                before: earlier(l.cause).map_or_else(|| "–".into(), show::percent),
                prior: show::percent(l.prior),
            }
        })
        .chain(std::iter::once(TableRow {
            name: "Someone else".into(),
            href: urls::SUSPECTS.into(),
            share: show::percent(line_up.unlisted),
            before: before.map_or_else(|| "–".into(), |b| show::percent(b.unlisted)),
            prior: show::percent(line_up.unlisted_prior),
        }))
        .collect();
    LineUpView {
        drawing: svg(&figures, bench.len()),
        table,
        leader: line_up.leader().map_or_else(String::new, |l| {
            format!(
                "{}, {}",
                knowledge.cause(l.cause).name,
                show::percent(l.probability)
            )
        }),
        surprise: surprise(knowledge, line_up),
        pair: pair(knowledge, line_up),
        bench,
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
