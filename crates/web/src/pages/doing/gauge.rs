//! Outcomes read as numbers: fields with units, what follows from them, and how well each outcome
//! fits.

use crate::form::{Errors, Fields};
use crate::pages::open_case::OpenCase;
use crate::show;
use crate::words::{entry, refusal};
use suspect_core::evidence::Answer;
use suspect_core::knowledge::{FindingId, Knowledge};
use suspect_core::measures::{Gauge, Input, Readings, Reckoned};
use suspect_core::settings::read_list;

/// One number asked for.
pub struct InputView {
    pub id: &'static str,
    pub label: String,
    pub unit: &'static str,
    pub value: String,
    pub several: bool,
    pub error: Option<String>,
}

/// How well an outcome fits what was read.
pub struct FitView {
    pub phrase: String,
    pub share: String,
    pub width: f64,
}

/// What follows from the numbers, to be looked at before it is recorded.
pub struct ReckonedView {
    pub result: String,
    pub lines: Vec<String>,
    pub warnings: Vec<String>,
    pub fits: Vec<FitView>,
    pub notes: Vec<String>,
}

/// The fields of a gauge, and what was reckoned from them.
pub struct GaugeView {
    pub inputs: Vec<InputView>,
    pub reckoned: Option<ReckonedView>,
}

/// What a form says: the readings, and what was converted.
pub struct Given {
    pub readings: Readings,
    pub converted: Vec<Converted>,
}

/// A number that was converted when it was read.
pub struct Converted {
    /// As it was typed.
    pub typed: String,
    /// "0.017 in read as 0.432 mm".
    pub words: String,
}

/// Reads the fields. What is no number goes to `errors`, by input.
pub fn read(gauge: &Gauge, fields: &Fields, errors: &mut Errors) -> Given {
    let mut given = Given {
        readings: Readings::new(),
        converted: Vec::new(),
    };
    for input in gauge.inputs {
        let id = input.number.id;
        for token in texts(fields.get(id), input) {
            match input.number.read(&token) {
                Ok(reading) => {
                    let (value, unit) = (reading.value, input.number.unit);
                    let readings = given.readings.entry(id.to_string()).or_default();
                    readings.push(value);
                    given.converted.extend(reading.note.map(|note| Converted {
                        words: entry::converted(&note, value, unit),
                        typed: token,
                    }));
                }
                Err(problem) => {
                    errors.insert(id.to_string(), refusal::number(&problem));
                }
            }
        }
    }
    if errors.is_empty()
        && let Err((field, problem)) = gauge.accept(&given.readings)
    {
        let message = refusal::problem(&field, &problem.into());
        errors.insert(field, message);
    }
    given
}

/// The numbers of a field: several readings may stand in one.
fn texts(text: &str, input: &Input) -> Vec<String> {
    match input.readings {
        1 => Some(text.trim().to_string())
            .filter(|t| !t.is_empty())
            .into_iter()
            .collect(),
        _ => read_list(text),
    }
}

/// The fields as they were sent, or as the case knows them.
pub fn view(case: &OpenCase, gauge: &Gauge, fields: &Fields, errors: &Errors) -> GaugeView {
    let sent = |id: &str| fields.sent(id).map(str::to_string);
    let known = |input: &Input| {
        let setting = input
            .setting
            .and_then(|s| case.state.facts.settings.named(s));
        setting.or(input.usual).map(show::exact).unwrap_or_default()
    };
    let inputs = gauge.inputs.iter().map(|input| InputView {
        id: input.number.id,
        label: show::capital(input.number.plain),
        unit: input.number.unit,
        value: sent(input.number.id).unwrap_or_else(|| known(input)),
        several: input.readings > 1,
        error: errors.get(input.number.id).cloned(),
    });
    GaugeView {
        inputs: inputs.collect(),
        reckoned: None,
    }
}

/// What was reckoned, as it is shown before it is recorded.
pub fn reckoned(
    k: &Knowledge,
    case: &OpenCase,
    gauge: &Gauge,
    finding: FindingId,
    given: &Given,
) -> ReckonedView {
    let Reckoned {
        result,
        lines,
        warnings,
        ..
    } = gauge.reckon(k, &case.state.facts, &given.readings);
    let mut fits: Vec<FitView> = Vec::new();
    if let Some(Answer::Read(weights)) =
        gauge.answer(k, &case.state.facts, finding, &given.readings)
    {
        let mut states: Vec<(f64, &str)> = weights
            .iter()
            .zip(&k.finding(finding).states)
            .map(|(w, s)| (*w, s.phrase.as_str()))
            .collect();
        states.sort_by(|a, b| b.0.total_cmp(&a.0));
        fits = states
            .into_iter()
            .map(|(w, phrase)| FitView {
                phrase: show::capital(phrase),
                share: show::percent(w),
                width: (w * 100.0).max(0.5),
            })
            .collect();
    }
    ReckonedView {
        result,
        lines,
        warnings,
        fits,
        notes: given.converted.iter().map(|c| c.words.clone()).collect(),
    }
}
