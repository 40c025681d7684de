//! The facts of a case as a form: signs, behaviours, pattern, numbers, what was tried.

use crate::drawing::finding;
use crate::form::{Errors, Fields};
use crate::pages::parts::link::Choice;
use crate::show;
use crate::words::outcome;
use suspect_core::knowledge::{Finding, FindingId, Knowledge, Region, Section, TryResult};
use suspect_core::settings::{NUMBERS, Number};

/// Tried fixes that can be named at once.
pub const TRIED_ROWS: usize = 3;
/// More states than this are a list to choose from instead of buttons.
const MOST_BUTTONS: usize = 5;

/// A group of questions: those found at some regions, or those about the pattern.
struct Questions {
    title: &'static str,
    hint: &'static str,
    /// Empty for the pattern.
    regions: &'static [Region],
}

/// Groups of questions in the order a person looks.
const GROUPS: [Questions; 9] = [
    Questions {
        title: "First layer",
        hint: "what the first lines and the foot look like",
        regions: &[Region::FirstLayer],
    },
    Questions {
        title: "Walls and seam",
        hint: "what the sides look like",
        regions: &[Region::Wall, Region::Seam],
    },
    Questions {
        title: "Tops, inside and detail",
        hint: "flat tops, slopes, tips, strings, cut open",
        regions: &[
            Region::Top,
            Region::BetweenIslands,
            Region::Tip,
            Region::Inside,
        ],
    },
    Questions {
        title: "Overhangs and supports",
        hint: "undersides, bridges, what stood beneath",
        regions: &[Region::Overhang],
    },
    Questions {
        title: "The whole piece",
        hint: "steps, leaning, size and shape",
        regions: &[Region::Whole],
    },
    Questions {
        title: "Feeder, spool and hot end",
        hint: "what the machine does with filament and heat",
        regions: &[
            Region::Feeder,
            Region::Spool,
            Region::HotEnd,
            Region::Chamber,
        ],
    },
    Questions {
        title: "Bed and motion",
        hint: "what moves, catches or drifts",
        regions: &[Region::Bed, Region::Motion],
    },
    Questions {
        title: "Danger signs",
        hint: "each of these locks the machine",
        regions: &[Region::Electrics],
    },
    Questions {
        title: "When and how",
        hint: "the pattern says which family is guilty",
        regions: &[],
    },
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
    let groups = 0..GROUPS.len();
    let mut groups: Vec<Group> = groups
        .map(|n| group(knowledge, n, fields, errors))
        .collect();
    if groups.iter().all(|g| !g.open) {
        groups[0].open = true;
    }
    let number = |n: &Number| NumberRow {
        id: n.id,
        label: show::capital(n.plain),
        unit: n.unit,
        value: fields.get(&format!("n.{}", n.id)).to_string(),
        error: errors.get(&format!("n.{}", n.id)).cloned(),
    };
    let numbers: Vec<NumberRow> = NUMBERS.iter().map(number).collect();
    let rows = 0..TRIED_ROWS;
    Picker {
        groups,
        numbers_given: numbers.iter().filter(|n| !n.value.is_empty()).count(),
        numbers,
        tried: rows.map(|n| tried_row(knowledge, n, fields)).collect(),
    }
}

fn group(knowledge: &Knowledge, n: usize, fields: &Fields, errors: &Errors) -> Group {
    let Questions {
        title,
        hint,
        regions,
    } = GROUPS[n];
    let asked = asked(knowledge, n).into_iter().flatten();
    let rows: Vec<Row> = asked.map(|f| row(knowledge, f, fields, errors)).collect();
    let answered = |r: &&Row| r.options.iter().any(|o| o.chosen && !o.value.is_empty());
    let answered = rows.iter().filter(answered).count();
    let wrong = rows.iter().any(|r| r.error.is_some());
    let rest_chosen = fields.get(&format!("rest.{n}")) == "yes";
    Group {
        title,
        hint,
        answered,
        open: answered > 0 || wrong || rest_chosen,
        rest: (!regions.is_empty()).then_some(n),
        rest_chosen,
        rows,
    }
}

/// The questions of a group, in the order of its regions; nothing when there is no such group.
pub fn asked(knowledge: &Knowledge, group: usize) -> Option<Vec<FindingId>> {
    let regions = GROUPS.get(group)?.regions;
    let of_pattern = |f: &FindingId| knowledge.finding(*f).section == Section::History;
    Some(match regions {
        [] => knowledge.finding_ids().filter(of_pattern).collect(),
        regions => {
            let of = |region: &Region| knowledge.findings_of(*region);
            regions.iter().flat_map(of).collect()
        }
    })
}

/// Answers of a sign that is there or not. One given elsewhere with another confidence stays.
fn yes_and_no(given: &str) -> Vec<(String, String)> {
    let usual = [
        ("present", "Yes"),
        ("present:likely", "Probably"),
        ("absent", "No"),
    ];
    let mut options: Vec<(String, String)> = usual.map(|(v, l)| (v.into(), l.into())).to_vec();
    if let Some((state, confidence)) = given.split_once(':')
        && given != "present:likely"
    {
        let word = if state == "absent" { "No" } else { "Yes" };
        options.push((given.into(), format!("{word}, {confidence}")));
    }
    options
}

/// Answers of a question with several states.
fn states(f: &Finding, given: &str) -> Vec<(String, String)> {
    let states = f.states.iter();
    let mut options: Vec<(String, String)> = states
        .map(|s| (s.id.clone(), show::capital(&s.phrase)))
        .collect();
    if let Some((state, confidence)) = given.split_once(':')
        && let Some(at) = f.state(state)
    {
        let phrase = show::capital(&f.states[at].phrase);
        options.push((given.into(), format!("{phrase} ({confidence})")));
    }
    let several = f.one_of.iter();
    options.extend(several.map(|(id, _)| (id.clone(), "One of these".into())));
    options
}

fn row(knowledge: &Knowledge, id: FindingId, fields: &Fields, errors: &Errors) -> Row {
    let f = knowledge.finding(id);
    let name = format!("f.{}", f.id);
    let given = fields.get(&name);
    let mut options = match f.presence() {
        true => yes_and_no(given),
        false => states(f, given),
    };
    options.push((String::new(), "Not known".into()));
    let choice = |(value, label): (String, String)| Choice {
        chosen: given == value,
        value,
        label,
    };
    Row {
        question: f.question.clone(),
        term: f.term.clone(),
        picture: finding::svg(knowledge, id),
        as_list: f.states.len() > MOST_BUTTONS,
        options: options.into_iter().map(choice).collect(),
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
            label: show::capital(outcome::result(*r)),
            chosen: r.id() == result,
        })
        .collect();
    TriedRow { n, fixes, results }
}
