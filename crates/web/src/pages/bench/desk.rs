//! The head of a measure's page: what it is, for whom, where to measure.

use crate::form::Fields;
use crate::pages::bench::context::{For, carried};
use crate::pages::open_case::{CaseHead, OpenCase};
use crate::pages::parts::link::Choice;
use crate::words::measure as words;
use crate::{show, urls};
use suspect_core::measures::Measure;

/// What stands about every measure.
pub struct Desk {
    pub title: String,
    pub hold: &'static str,
    pub hold_href: String,
    pub bench: String,
    pub sheet: String,
    pub action: String,
    /// The page without numbers.
    pub anew: String,
    /// The page with the numbers of the example; empty where there is none.
    pub example: String,
    pub drawing: String,
    pub safety: String,
    pub cases: Vec<Choice>,
    pub machines: Vec<Choice>,
    pub case: Option<CaseHead>,
    pub machine: Option<String>,
    /// Case and machine, to be sent along.
    pub carried: Vec<(&'static str, String)>,
    pub error: Option<String>,
}

impl Desk {
    /// Of a measure, for whom the fields name.
    pub fn of(
        measure: &Measure,
        fields: &Fields,
        to: &For,
        (cases, machines): (Vec<Choice>, Vec<Choice>),
        drawing: String,
    ) -> Self {
        let carried = carried(fields);
        let hold = measure.card.hold;
        Self {
            title: show::capital(measure.plain),
            hold: words::hold(hold).0,
            hold_href: format!("{}#{}", urls::with(urls::BENCH, &carried), hold.id()),
            bench: urls::with(urls::BENCH, &carried),
            sheet: format!("{}/sheet", urls::measure(measure.id)),
            action: urls::measure(measure.id),
            anew: urls::with(&urls::measure(measure.id), &carried),
            example: example(measure, &carried),
            drawing,
            safety: show::sentence(measure.safety),
            cases,
            machines,
            case: to.case.as_ref().map(OpenCase::head),
            machine: to.machine.as_ref().map(|m| m.name.clone()),
            carried,
            error: None,
        }
    }
}

fn example(measure: &Measure, carried: &[(&'static str, String)]) -> String {
    let mut all = words::example(measure);
    if all.is_empty() {
        return String::new();
    }
    all.extend(carried.iter().cloned());
    urls::with(&urls::measure(measure.id), &all)
}
