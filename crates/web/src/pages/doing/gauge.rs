//! Outcomes read as numbers: fields with units, what follows from them, and how well each outcome
//! fits.

use crate::form::{Errors, Fields};
use crate::pages::open_case::OpenCase;
use crate::pages::parts::reading::{FitView, InputView, fits, taken};
use crate::show;
use crate::words::{entry, reading, refusal};
use suspect_core::evidence::Answer;
use suspect_core::knowledge::{FindingId, Knowledge};
use suspect_core::measures::{Asked, Gauge, Readings, Told};
use suspect_core::settings::read_list;

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
    /// What is nearly always as usual, folded away.
    pub more: Vec<InputView>,
    /// "calipers good to 0.02 mm": what is taken while nobody says otherwise.
    pub taken: String,
    /// Whether something of it asks to be looked at.
    pub open: bool,
    pub reckoned: Option<ReckonedView>,
}

/// What a form says: the readings, and what was converted.
pub struct Given {
    pub readings: Readings,
    pub converted: Vec<Converted>,
}

impl Given {
    /// As it was read, not yet confirmed by anybody.
    pub fn told(&self) -> Told {
        Told {
            readings: self.readings.clone(),
            confirmed: false,
        }
    }
}

/// A number that was converted when it was read.
pub struct Converted {
    /// As it was typed.
    pub typed: String,
    /// "0.017 in read as 0.432 mm".
    pub words: String,
}

/// Reads the fields. What is no number goes to `errors`, by input.
pub fn read(
    k: &Knowledge,
    case: &OpenCase,
    gauge: &Gauge,
    fields: &Fields,
    errors: &mut Errors,
) -> Given {
    let mut given = Given {
        readings: Readings::new(),
        converted: Vec::new(),
    };
    for input in &gauge.inputs {
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
        && let Err((field, problem)) = gauge.accept(k, &case.state.facts, &given.readings)
    {
        let message = refusal::problem(&field, &problem.into());
        errors.insert(field, message);
    }
    given
}

/// The numbers of a field: several readings may stand in one.
fn texts(text: &str, input: &Asked) -> Vec<String> {
    match input.readings {
        1 => Some(text.trim().to_string())
            .filter(|t| !t.is_empty())
            .into_iter()
            .collect(),
        _ => read_list(text),
    }
}

/// Whether a number is nearly always as usual, or seldom known: neither read nor a setting. Where
/// nothing is needed, several ways to read it stand side by side.
fn folds(gauge: &Gauge, input: &Asked) -> bool {
    let ways = gauge.inputs.iter().all(|i| i.optional);
    input.optional && input.setting.is_none() && !(ways && input.usual.is_none())
}

/// The fields as they were sent, or as the case knows them.
pub fn view(case: &OpenCase, gauge: &Gauge, fields: &Fields, errors: &Errors) -> GaugeView {
    let sent = |id: &str| fields.sent(id).map(str::to_string);
    let known = |input: &Asked| {
        let setting = input
            .setting
            .and_then(|s| case.state.facts.settings.named(s));
        setting.or(input.usual).map(show::exact).unwrap_or_default()
    };
    let one = |input: &Asked| InputView {
        id: input.number.id,
        label: show::capital(input.number.plain),
        unit: input.number.unit,
        value: sent(input.number.id).unwrap_or_else(|| known(input)),
        several: input.readings > 1,
        optional: input.optional,
        error: errors.get(input.number.id).cloned(),
        ..InputView::default()
    };
    let (folded, shown): (Vec<&Asked>, Vec<&Asked>) =
        gauge.inputs.iter().partition(|i| folds(gauge, i));
    let more: Vec<InputView> = folded.into_iter().map(one).collect();
    GaugeView {
        inputs: shown.into_iter().map(one).collect(),
        taken: taken(&more),
        open: more.iter().any(|i| i.error.is_some()),
        more,
        reckoned: None,
    }
}

/// What was reckoned, as it is shown before it is recorded; nothing when the readings make no
/// sense.
pub fn reckoned(
    k: &Knowledge,
    case: &OpenCase,
    gauge: &Gauge,
    finding: FindingId,
    given: &Given,
) -> Option<ReckonedView> {
    let facts = &case.state.facts;
    let told = given.told();
    let out = gauge.reckon(k, facts, &told).ok()?;
    // While a slip is suspected the reading says nothing of anybody.
    let answer = gauge
        .answer(k, facts, finding, &told)
        .filter(|_| !out.slipped);
    let fits = match answer {
        Some(Answer::Read(weights)) => fits(k, finding, &weights),
        _ => Vec::new(),
    };
    Some(ReckonedView {
        lines: reading::lines(&out),
        result: out.result,
        warnings: out.warnings,
        fits,
        notes: given.converted.iter().map(|c| c.words.clone()).collect(),
    })
}
