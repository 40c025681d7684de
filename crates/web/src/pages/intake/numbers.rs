//! Spool, material, numbers with their windows, what can be carried over, what was tried before.

use super::carried::{self, CarriedView, last_case};
use super::found::{self, FoundView};
use super::picker::{TriedRow, tried_row};
use super::scene::Scene;
use crate::form::{Errors, Fields};
use crate::page_error::PageError;
use crate::pages::parts::link::Choice;
use crate::show;
use crate::words::{entry, outcome};
use suspect_core::evidence::window_for;
use suspect_core::profile::{FIELDS, Field, FieldId, HotEnd, MATERIAL, Value};
use suspect_core::settings::NumberId;
use suspect_core::shelf::Spool;
use suspect_store::shelf::Thing;

pub struct NumberRow {
    pub id: &'static str,
    pub label: String,
    pub unit: &'static str,
    pub value: String,
    /// "PETG 225 to 250 °C".
    pub window: Option<String>,
    /// Where it lies outside: "above", "below".
    pub outside: Option<&'static str>,
    /// What was converted when it was read.
    pub note: Option<String>,
    pub error: Option<String>,
}

impl NumberRow {
    /// Classes beside its own: what was typed makes no sense, or lies outside the window.
    pub fn class(&self) -> String {
        let wrong = if self.error.is_some() { " wrong" } else { "" };
        let outside = if self.outside.is_some() {
            " outside"
        } else {
            ""
        };
        format!("{wrong}{outside}")
    }
}

pub struct ProfileRow {
    pub id: &'static str,
    pub label: &'static str,
    pub options: Vec<Choice>,
}

pub struct NumbersView {
    pub title: String,
    pub spool: String,
    pub materials: Vec<Choice>,
    pub numbers: Vec<NumberRow>,
    /// Fields of the machine's profile that are not known.
    pub profile: Vec<ProfileRow>,
    pub carried: Option<CarriedView>,
    /// What was found for this machine and material.
    pub found: Option<FoundView>,
    /// Spools on the shelf, those on this machine first.
    pub spools: Vec<String>,
    pub tried: Vec<String>,
    pub tried_row: TriedRow,
    pub errors: Errors,
}

pub async fn view(
    scene: &Scene<'_>,
    fields: &Fields,
    errors: &Errors,
) -> Result<NumbersView, PageError> {
    let (k, case) = (&scene.state.knowledge, &scene.case.state);
    let context = &case.facts.context;
    let sent = |name: &str, known: &str| fields.sent(name).unwrap_or(known).to_string();
    let material = sent("material", context.id(FieldId::Material).unwrap_or(""));
    // Only a lined hot end has a liner to spare.
    let lined = HotEnd::of(context) == Some(HotEnd::Lined);
    let asked = |n: &NumberId| !n.is_height() && (*n != NumberId::LinedLimitC || lined);
    let numbers = NumberId::ALL.into_iter().filter(asked);
    let unknown = FieldId::ALL.into_iter().zip(&FIELDS[..MATERIAL]);
    let unknown = unknown.filter(|(id, _)| context.id(*id).is_none());
    let machine = scene.case.row.machine_id;
    let last = last_case(scene.state, machine, Some(scene.case.id)).await?;
    let tried = case.facts.tried.iter().map(|t| outcome::tried_line(k, t));
    Ok(NumbersView {
        title: sent("title", &case.title),
        spool: sent("spool", &case.spool),
        materials: FIELDS[MATERIAL]
            .values
            .iter()
            .map(|v| Choice {
                value: v.id.into(),
                label: v.plain.into(),
                chosen: v.id == material,
            })
            .collect(),
        numbers: numbers.map(|n| number(scene, n, fields, errors)).collect(),
        profile: unknown.map(|(_, f)| profile(f, fields)).collect(),
        carried: last.and_then(|last| carried::view(&last, &last.kept.beyond(case))),
        found: found::view(scene.state, scene.case).await?,
        spools: spools(scene).await?,
        tried: tried.collect(),
        tried_row: tried_row(k, 0, fields),
        errors: errors.clone(),
    })
}

/// Spools on the shelf by label and name, those on the case's machine first.
async fn spools(scene: &Scene<'_>) -> Result<Vec<String>, PageError> {
    let machine = scene.case.machine.id.to_string();
    let mut all = scene.state.store.things::<Spool>().await?;
    all.retain(|s| !s.is.finished);
    all.sort_by_key(|s| s.is.machine != machine);
    let name = |s: &Thing<Spool>| format!("{} {}", show::spool_label(s.number), s.is.name());
    Ok(all.iter().map(name).collect())
}

/// A number with its window for this material in this machine.
fn number(scene: &Scene, id: NumberId, fields: &Fields, errors: &Errors) -> NumberRow {
    let (n, case) = (id.number(), &scene.case.state);
    let name = format!("n.{}", n.id);
    let context = &case.facts.context;
    let known = case.facts.settings.get(id);
    let window = window_for(&scene.state.knowledge, context, &case.facts.settings, id);
    let material = context.id(FieldId::Material).unwrap_or("").to_uppercase();
    let outside = |v: f64, (low, high): (f64, f64)| match v {
        v if v > high => Some("above"),
        v if v < low => Some("below"),
        _ => None,
    };
    let note = case.converted.get(n.id).zip(known);
    NumberRow {
        id: n.id,
        label: show::capital(n.plain),
        unit: n.unit,
        value: match fields.sent(&name) {
            Some(sent) => sent.to_string(),
            None => known.map(show::exact).unwrap_or_default(),
        },
        window: window.map(|(low, high)| {
            format!(
                "{material} {} to {}\u{a0}{}",
                show::number(low.max(0.0)),
                show::number(high),
                n.unit
            )
        }),
        outside: known.zip(window).and_then(|(v, w)| outside(v, w)),
        note: note.map(|(note, value)| entry::converted(note, value, n.unit)),
        error: errors.get(&name).cloned(),
    }
}

/// A field of the machine's profile that is not known.
fn profile(field: &'static Field, fields: &Fields) -> ProfileRow {
    let given = fields.get(&format!("m.{}", field.id));
    let option = |v: &Value| Choice {
        value: v.id.into(),
        label: show::capital(v.plain),
        chosen: given == v.id,
    };
    ProfileRow {
        id: field.id,
        label: field.plain,
        options: field.values.iter().map(option).collect(),
    }
}
