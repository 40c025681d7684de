//! The facts of a case as a form: signs, behaviours, pattern, numbers, what was tried.

use super::Choice;
use crate::form::{Errors, Fields};
use crate::show;
use suspect_core::case::{CaseState, Event};
use suspect_core::evidence::Confidence;
use suspect_core::knowledge::{Finding, Knowledge, Section, TryResult};
use suspect_core::settings::{self, NUMBERS, Reading};

/// Tried fixes that can be named at once.
const TRIED_ROWS: usize = 3;
/// More states than this are a list to choose from instead of buttons.
const MOST_BUTTONS: usize = 5;

/// Groups of questions in the order a person looks: title, hint, section, regions.
const GROUPS: [(&str, &str, Section, &[&str]); 9] = [
    (
        "First layer",
        "what the first lines and the foot look like",
        Section::Print,
        &["first layer"],
    ),
    (
        "Walls and seam",
        "what the sides look like",
        Section::Print,
        &["wall", "seam"],
    ),
    (
        "Tops, inside and detail",
        "flat tops, slopes, tips, strings, cut open",
        Section::Print,
        &["top", "between islands", "tip", "inside"],
    ),
    (
        "Overhangs and supports",
        "undersides, bridges, what stood beneath",
        Section::Print,
        &["overhang"],
    ),
    (
        "The whole piece",
        "steps, leaning, size and shape",
        Section::Print,
        &["whole"],
    ),
    (
        "Feeder, spool and hot end",
        "what the machine does with filament and heat",
        Section::Machine,
        &["feeder", "spool", "hot end", "chamber"],
    ),
    (
        "Bed and motion",
        "what moves, catches or drifts",
        Section::Machine,
        &["bed", "motion"],
    ),
    (
        "Danger signs",
        "each of these locks the machine",
        Section::Machine,
        &["electrics"],
    ),
    (
        "When and how",
        "the pattern says which family is guilty",
        Section::History,
        &[""],
    ),
];

/// One question with its answers.
pub struct Row {
    pub id: String,
    pub question: String,
    pub term: String,
    /// The sign drawn, good beside faulty; empty where there is nothing to draw.
    pub picture: String,
    pub options: Vec<Choice>,
    pub as_list: bool,
    pub error: Option<String>,
}

/// A folding group of questions.
pub struct Group {
    pub title: &'static str,
    pub hint: &'static str,
    pub answered: usize,
    pub open: bool,
    /// Place of the group, for "nothing else looks wrong here"; `None` where that makes no sense.
    pub rest: Option<usize>,
    pub rest_chosen: bool,
    pub rows: Vec<Row>,
}

/// One number field.
pub struct NumberRow {
    pub id: &'static str,
    pub label: String,
    pub unit: &'static str,
    pub value: String,
    pub error: Option<String>,
}

/// One row of what was tried.
pub struct TriedRow {
    pub n: usize,
    pub fixes: Vec<Choice>,
    pub results: Vec<Choice>,
}

/// The whole form.
pub struct Picker {
    pub groups: Vec<Group>,
    pub numbers: Vec<NumberRow>,
    pub numbers_given: usize,
    pub tried: Vec<TriedRow>,
}

/// The form with what was sent in it, each message beside its field.
pub fn picker(knowledge: &Knowledge, fields: &Fields, errors: &Errors) -> Picker {
    let mut groups: Vec<Group> = GROUPS
        .iter()
        .enumerate()
        .map(|(n, (title, hint, section, regions))| {
            let mut rows: Vec<Row> = asked(knowledge, n)
                .map(|f| row(knowledge, f, fields, errors))
                .collect();
            rows.sort_by_key(|r| {
                regions.iter().position(|g| {
                    knowledge
                        .finding_id(&r.id)
                        .is_some_and(|f| knowledge.finding(f).region == *g)
                })
            });
            let answered = rows
                .iter()
                .filter(|r| r.options.iter().any(|o| o.chosen && !o.value.is_empty()))
                .count();
            let wrong = rows.iter().any(|r| r.error.is_some());
            let rest = (*section != Section::History).then_some(n);
            let rest_chosen = fields.get(&format!("rest.{n}")) == "yes";
            Group {
                title,
                hint,
                answered,
                open: answered > 0 || wrong || rest_chosen,
                rest,
                rest_chosen,
                rows,
            }
        })
        .collect();
    if groups.iter().all(|g| !g.open) {
        groups[0].open = true;
    }
    let numbers: Vec<NumberRow> = NUMBERS
        .iter()
        .map(|n| NumberRow {
            id: n.id,
            label: show::capital(n.plain),
            unit: n.unit,
            value: fields.get(&format!("n.{}", n.id)).to_string(),
            error: errors.get(&format!("n.{}", n.id)).cloned(),
        })
        .collect();
    let numbers_given = numbers.iter().filter(|n| !n.value.is_empty()).count();
    let tried = (0..TRIED_ROWS)
        .map(|n| tried_row(knowledge, n, fields))
        .collect();
    Picker {
        groups,
        numbers,
        numbers_given,
        tried,
    }
}

/// The questions of a group.
fn asked(knowledge: &Knowledge, group: usize) -> impl Iterator<Item = &Finding> {
    let (_, _, section, regions) = GROUPS[group];
    knowledge.findings.iter().filter(move |f| {
        f.section == section
            && (regions.contains(&f.region.as_str()) || section == Section::History)
    })
}

fn row(knowledge: &Knowledge, f: &Finding, fields: &Fields, errors: &Errors) -> Row {
    let name = format!("f.{}", f.id);
    let given = fields.get(&name);
    let choice = |value: &str, label: &str| Choice {
        value: value.to_string(),
        label: label.to_string(),
        chosen: given == value,
    };
    let mut options = Vec::new();
    if f.presence() {
        options.push(choice("present", "Yes"));
        options.push(choice("present:likely", "Probably"));
        options.push(choice("absent", "No"));
        // Answers given elsewhere with another confidence stay as they are.
        if !given.is_empty()
            && !["present", "present:likely", "absent"].contains(&given)
            && given.contains(':')
        {
            let word = if given.starts_with("absent") {
                "No"
            } else {
                "Yes"
            };
            options.push(choice(
                given,
                &format!("{word}, {}", given.rsplit(':').next().unwrap_or("")),
            ));
        }
    } else {
        options.extend(
            f.states
                .iter()
                .map(|s| choice(&s.id, &show::capital(&s.phrase))),
        );
        if given.contains(':')
            && let Some(state) = given.split(':').next().and_then(|s| f.state(s))
        {
            options.push(choice(
                given,
                &format!(
                    "{} ({})",
                    show::capital(&f.states[state].phrase),
                    given.rsplit(':').next().unwrap_or("")
                ),
            ));
        }
        options.extend(f.one_of.iter().map(|(id, _)| choice(id, "One of these")));
    }
    options.push(choice("", "Not known"));
    Row {
        question: f.question.clone(),
        term: f.term.clone(),
        picture: knowledge
            .finding_id(&f.id)
            .map(|id| super::handbook::picture(knowledge, id))
            .unwrap_or_default(),
        as_list: f.states.len() > MOST_BUTTONS,
        options,
        error: errors.get(&name).cloned(),
        id: f.id.clone(),
    }
}

/// An empty row of what was tried.
pub fn tried_row(knowledge: &Knowledge, n: usize, fields: &Fields) -> TriedRow {
    let (fix, result) = (
        fields.get(&format!("t.{n}.fix")),
        fields.get(&format!("t.{n}.result")),
    );
    let mut fixes: Vec<Choice> = knowledge
        .fixes
        .iter()
        .map(|x| Choice {
            value: x.id.clone(),
            label: x.work.name.clone(),
            chosen: x.id == fix,
        })
        .collect();
    fixes.sort_by(|a, b| a.label.cmp(&b.label));
    let results = TryResult::ALL
        .iter()
        .map(|r| Choice {
            value: r.id().into(),
            label: show::capital(super::recording::result_words(*r)),
            chosen: r.id() == result,
        })
        .collect();
    TriedRow { n, fixes, results }
}

/// Events for what the form says beyond what the case already holds. Messages go to `errors`, by field.
pub fn events(
    knowledge: &Knowledge,
    fields: &Fields,
    case: &CaseState,
    errors: &mut Errors,
) -> Vec<Event> {
    let mut events = Vec::new();
    for (id, text) in fields.with_prefix("n.") {
        let known = case.facts.settings.get(id);
        if text.is_empty() {
            continue;
        }
        match settings::position(id).and_then(|at| NUMBERS[at].read(text)) {
            Ok(reading) if known == Some(reading.value) => {}
            Ok(Reading { value, note }) => events.push(Event::Measured {
                number: id.to_string(),
                value,
                note,
            }),
            Err(message) => {
                errors.insert(format!("n.{id}"), show::sentence(&message));
            }
        }
    }
    for (id, text) in fields.with_prefix("f.") {
        let Some(finding) = knowledge.finding_id(id) else {
            errors.insert(
                "form".into(),
                format!("`{}` is no known sign.", suspect_core::nearest::short(id)),
            );
            continue;
        };
        let (state, confidence) = match text.split_once(':') {
            Some((state, word)) => (state, Confidence::from_id(word)),
            None => (text, Some(Confidence::Sure)),
        };
        let Some(confidence) = confidence else {
            errors.insert(
                format!("f.{id}"),
                "How sure is one of sure, likely, hunch.".into(),
            );
            continue;
        };
        let known = case.facts.findings.get(&finding);
        let same = known.is_some_and(|s| {
            s.answer.id(knowledge, finding) == state && s.confidence == confidence
        });
        if same || (state.is_empty() && known.is_none()) {
            continue;
        }
        let state = if state.is_empty() { "unknown" } else { state };
        let event = Event::Observed {
            finding: id.to_string(),
            state: state.to_string(),
            confidence,
        };
        match suspect_core::evidence::answer(knowledge, finding, state) {
            Ok(_) => events.push(event),
            Err(message) => {
                errors.insert(format!("f.{id}"), show::sentence(&message));
            }
        }
    }
    // "Nothing else looks wrong here": the group's unanswered signs are absent, as a hunch.
    for (group, _) in fields.with_prefix("rest.").filter(|(_, v)| *v == "yes") {
        let Some(group) = group.parse().ok().filter(|g| *g < GROUPS.len()) else {
            continue;
        };
        for f in asked(knowledge, group).filter(|f| f.presence()) {
            let known = knowledge
                .finding_id(&f.id)
                .is_some_and(|id| case.facts.findings.contains_key(&id));
            if !known && fields.given(&format!("f.{}", f.id)).is_none() {
                events.push(Event::Observed {
                    finding: f.id.clone(),
                    state: "absent".into(),
                    confidence: Confidence::Hunch,
                });
            }
        }
    }
    for n in 0..TRIED_ROWS {
        let (fix, result) = (
            fields.get(&format!("t.{n}.fix")),
            fields.get(&format!("t.{n}.result")),
        );
        if fix.is_empty() && result.is_empty() {
            continue;
        }
        match (knowledge.fix_id(fix), TryResult::from_id(result)) {
            (Some(_), Some(result)) => events.push(Event::Tried {
                fix: fix.to_string(),
                result,
            }),
            _ => {
                errors.insert(
                    "tried".into(),
                    "Choose both what was tried and what came of it.".into(),
                );
            }
        }
    }
    events
}

/// The fields that show what a case already holds.
pub fn filled(knowledge: &Knowledge, case: &CaseState) -> Fields {
    let mut fields = Vec::new();
    for (number, value) in case.facts.settings.known() {
        fields.push((format!("n.{}", number.id), show::exact(value)));
    }
    for (f, sighting) in &case.facts.findings {
        let state = sighting.answer.id(knowledge, *f);
        let value = match sighting.confidence {
            Confidence::Sure => state.to_string(),
            other => format!("{state}:{}", other.id()),
        };
        fields.push((format!("f.{}", knowledge.finding(*f).id), value));
    }
    Fields::of(fields)
}
