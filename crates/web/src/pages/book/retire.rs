//! Repair a machine or keep it for parts: the sum with its tipping point, both schools told.

use super::open_book::Floor;
use crate::form::Errors;
use crate::pages::Page;
use crate::pages::open_case::OpenMachine;
use crate::state::AppState;
use crate::words::refusal;
use crate::{show, urls};
use askama::Template;
use axum::extract::{Query, State};
use axum::response::Html;
use std::collections::BTreeMap;
use suspect_core::book::{Repair, repair_or_retire};
use suspect_core::settings::read_number;

/// Fields with their words, unit, largest value and what stands in them at first.
const FIELDS: [(&str, &str, f64); 6] = [
    ("parts", "Parts for the repair", 100_000.0),
    ("hours", "Hours of work", 1_000.0),
    ("risk", "Chance that it has to be done once more", 100.0),
    (
        "learning",
        "Of the hours, worth giving to learn it",
        1_000.0,
    ),
    ("price", "A machine in its place", 100_000.0),
    ("reuse", "Worth of the parts kept", 100_000.0),
];

struct Given {
    id: &'static str,
    label: &'static str,
    value: String,
    unit: String,
    error: Option<String>,
}

#[derive(Template)]
#[template(path = "book/retire.html")]
struct RetirePage {
    name: String,
    back: String,
    action: String,
    service: String,
    seq: u32,
    given: Vec<Given>,
    repair: String,
    replace: String,
    repairs: bool,
    /// Somebody said, or the kind says, what a new one costs.
    priced: bool,
    tips: Option<String>,
    /// Widths of the two bars.
    bars: (u32, u32),
    /// Both sides of the question, as the handbook has them.
    schools: Vec<(String, String)>,
    school_href: &'static str,
    locked: bool,
}

/// `GET /machines/{id}/retire?parts=…&hours=…`
pub async fn show(
    State(state): State<AppState>,
    OpenMachine(machine): OpenMachine,
    Query(query): Query<BTreeMap<String, String>>,
) -> Page {
    let k = &state.knowledge;
    let floor = Floor::read(&state).await?;
    let open = floor.open(k, machine.id)?;
    let (workshop, _) = state.workshop().await?;
    let price = open.kind.map_or(0.0, |kind| kind.price);
    let usual = [20.0, 3.0, 20.0, 0.0, price, price * 0.15];
    let (values, errors) = read(&query, usual);
    let [parts, hours, risk, learning, price, reuse] = values;
    let of = Repair {
        parts,
        hours,
        wage: workshop.money_per_hour,
        risk: risk / 100.0,
        learning,
        price,
        reuse,
    };
    let sum = repair_or_retire(of);
    let money = |amount: f64| format!("{:.0}\u{a0}{}", amount, workshop.currency);
    let widest = sum.repair.max(sum.replace).max(1.0);
    let bar = |amount: f64| (amount.max(0.0) / widest * 300.0).round() as u32;
    let school = k.schools.iter().find(|s| s.id == SCHOOL);
    let sides = school.map_or(&[][..], |s| &s.sides);
    let lock = state
        .store
        .lock_of(k, machine.id, suspect_store::Uuid::nil())
        .await?;
    let page = RetirePage {
        back: urls::machine(machine.id),
        action: urls::in_machine(machine.id, "retire"),
        service: urls::in_machine(machine.id, "service"),
        seq: state
            .store
            .machine_log(machine.id)
            .await?
            .last()
            .map_or(0, |e| e.seq),
        given: given(&query, values, &errors, &workshop.currency),
        repair: money(sum.repair),
        replace: money(sum.replace),
        repairs: sum.repairs(),
        priced: of.price > 0.0,
        tips: sum.tips_at_hours.map(tips),
        bars: (bar(sum.repair), bar(sum.replace)),
        schools: sides
            .iter()
            .map(|s| (s.name.clone(), s.when.clone()))
            .collect(),
        school_href: urls::SCHOOLS,
        locked: lock.is_some(),
        name: machine.name,
    };
    Ok(Html(page.render()?))
}

/// Where the handbook tells both sides.
const SCHOOL: &str = "repair-or-retire";

/// Where both ways cost the same.
fn tips(hours: f64) -> String {
    match hours > 0.0 {
        true => format!(
            "Both cost the same at {} hours of work.",
            show::tenths(hours)
        ),
        false => "The parts alone cost more than a machine in its place.".into(),
    }
}

/// What was typed; what makes no sense is said, and the usual stands in its place.
fn read(query: &BTreeMap<String, String>, usual: [f64; 6]) -> ([f64; 6], Errors) {
    let (mut values, mut errors) = (usual, Errors::new());
    for (value, (id, plain, most)) in values.iter_mut().zip(FIELDS) {
        let text = query.get(id).map_or("", |v| v.trim());
        if text.is_empty() {
            continue;
        }
        match read_number(plain, text) {
            Ok(given) if (0.0..=most).contains(&given) => *value = given,
            Ok(given) => {
                let words = format!("{} makes no sense: 0 to {most}.", show::number(given));
                errors.insert(id.to_string(), words);
            }
            Err(problem) => {
                errors.insert(id.to_string(), refusal::number(&problem));
            }
        }
    }
    (values, errors)
}

fn given(
    query: &BTreeMap<String, String>,
    values: [f64; 6],
    errors: &Errors,
    currency: &str,
) -> Vec<Given> {
    let unit = |id: &str| match id {
        "hours" | "learning" => "hours".to_string(),
        "risk" => "%".into(),
        _ => currency.to_string(),
    };
    let one = |((id, label, _), value): ((&'static str, &'static str, f64), f64)| Given {
        id,
        label,
        value: query
            .get(id)
            .cloned()
            .unwrap_or_else(|| show::number(value)),
        unit: unit(id),
        error: errors.get(id).cloned(),
    };
    FIELDS.into_iter().zip(values).map(one).collect()
}
