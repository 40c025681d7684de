//! What a file says of a case, each with the lines, the reason, and whether the case knows it.

use super::open_file::For;
use crate::show;
use crate::words::print_file as words;
use suspect_core::case::Event;
use suspect_core::evidence::{Answer, Confidence};
use suspect_core::gcode::Reading;
use suspect_core::gcode::evidence::{Beside, Found, FoundNumber, Says, says};
use suspect_core::knowledge::{Knowledge, Section};

/// Minutes that a check takes when a file answers it.
const MINUTES: f64 = 0.5;

/// Something that may be taken over.
pub struct Line {
    /// What the form sends.
    pub key: String,
    pub what: String,
    pub said: String,
    pub sure: &'static str,
    pub lines: String,
    pub why: String,
    /// The case says the same already.
    pub known: bool,
    /// Drawn from numbers: taken over with them.
    pub follows: bool,
}

/// What the file says, in words.
pub struct FindingsView {
    pub findings: Vec<Line>,
    pub numbers: Vec<Line>,
    pub signs: Vec<(String, String)>,
    /// Something may be taken over.
    pub open: bool,
}

/// What a file says of whatever it is looked at for.
pub fn of(
    k: &Knowledge,
    reading: &Reading,
    to: &For,
    fault_mm: Option<f64>,
    good: Option<&Reading>,
) -> Says {
    says(
        k,
        reading,
        Beside {
            facts: &to.facts,
            fault_mm,
            good,
        },
    )
}

fn surely(confidence: Confidence) -> &'static str {
    match confidence {
        Confidence::Sure => "surely",
        Confidence::Likely => "likely",
        Confidence::Hunch => "perhaps",
    }
}

/// What it says, in words.
pub fn view(k: &Knowledge, said: &Says, to: &For) -> FindingsView {
    let findings: Vec<Line> = said
        .findings
        .iter()
        .filter_map(|f| finding(k, f, to))
        .collect();
    let numbers: Vec<Line> = said.numbers.iter().map(|n| number(n, to)).collect();
    let signs = said
        .signs
        .iter()
        .map(|s| (show::sentence(&s.why), words::lines(&s.lines)));
    let open = findings.iter().any(|l| !l.known && !l.follows) || numbers.iter().any(|l| !l.known);
    FindingsView {
        signs: signs.collect(),
        open,
        findings,
        numbers,
    }
}

fn finding(k: &Knowledge, found: &Found, to: &For) -> Option<Line> {
    let id = k.finding_id(&found.id)?;
    let state = k.finding(id).state(&found.state)?;
    let known = to.facts.findings.get(&id).map(|s| s.answer);
    let of = k.finding(id);
    Some(Line {
        key: format!("f.{}", found.id),
        what: show::capital(&of.plain),
        said: Answer::State(state).phrase(k, id),
        sure: surely(found.confidence),
        lines: words::lines(&found.lines),
        why: show::sentence(&found.why),
        known: known == Some(Answer::State(state)),
        follows: of.section == Section::Number,
    })
}

fn number(found: &FoundNumber, to: &For) -> Line {
    let number = found.id.number();
    let known = to.facts.settings.get(found.id);
    let said = show::with_unit(found.value, number.unit);
    Line {
        key: format!("n.{}", found.id),
        what: show::capital(number.plain),
        said: match known.filter(|v| (v - found.value).abs() > 1e-9) {
            Some(v) => format!("{said} (the case says {})", show::with_unit(v, number.unit)),
            None => said,
        },
        sure: "",
        lines: words::lines(&found.lines),
        why: show::sentence(&found.why),
        known: known.is_some_and(|v| (v - found.value).abs() <= 1e-9),
        follows: false,
    }
}

/// Events that take over what was chosen; with `all`, everything the case does not say yet.
pub fn events(k: &Knowledge, said: &Says, to: &For, chosen: &[&str]) -> Vec<Event> {
    let all = chosen.contains(&"all");
    let wanted = |line: &Line| {
        !line.follows && (chosen.contains(&line.key.as_str()) || (all && !line.known))
    };
    let mut events = Vec::new();
    for found in &said.findings {
        let Some(line) = finding(k, found, to).filter(&wanted) else {
            continue;
        };
        let (state, confidence) = (found.state.clone(), found.confidence);
        let is_check = k.check_id(&found.id).is_some();
        events.push(if is_check {
            let (check, outcome, minutes) = (found.id.clone(), state, MINUTES);
            Event::Checked {
                check,
                outcome,
                confidence,
                minutes,
            }
        } else {
            Event::Observed {
                finding: line.key[2..].to_string(),
                state,
                confidence,
                asked: false,
            }
        });
    }
    for found in &said.numbers {
        if wanted(&number(found, to)) {
            let (number, value) = (found.id.to_string(), found.value);
            events.push(Event::Measured {
                number,
                value,
                note: None,
            });
        }
    }
    events
}
