//! The print map: places to touch, the signs of the chosen one, the height of the fault.

use super::scene::Scene;
use super::sign::{SignCard, card};
use crate::form::{Errors, Fields};
use crate::pages::parts::print_map;
use crate::show;
use suspect_core::intake::{Place, Reach, layer_at, place, signs_at};
use suspect_core::knowledge::{FindingId, Section};
use suspect_core::settings::NumberId;

pub struct ReachChoice {
    pub value: &'static str,
    pub label: &'static str,
    pub chosen: bool,
}

pub struct Chosen {
    pub id: &'static str,
    pub name: &'static str,
    pub signs: Vec<SignCard>,
    /// Signs left open here, for "nothing else looks wrong here".
    pub open: usize,
}

pub struct PrintView {
    pub map: String,
    pub chosen: Option<Chosen>,
    pub seen: Vec<String>,
    pub fault_mm: String,
    pub piece_mm: String,
    pub reaches: Vec<ReachChoice>,
    pub layer: Option<String>,
    pub fault_error: Option<String>,
    pub piece_error: Option<String>,
}

pub fn view(scene: &Scene, fields: &Fields, errors: &Errors) -> PrintView {
    let settings = &scene.case.state.facts.settings;
    let fault = settings.get(NumberId::FaultHeightMm);
    let piece = settings.get(NumberId::PieceHeightMm);
    let layer = settings.get(NumberId::LayerMm);
    let chosen = place(&scene.at);
    let typed = |name: &str, known: Option<f64>| match fields.given(name) {
        Some(text) => text.to_string(),
        None => known.map(show::number).unwrap_or_default(),
    };
    PrintView {
        map: print_map::map(&scene.state.knowledge, scene.case, chosen),
        chosen: chosen.map(|c| place_chosen(scene, c)),
        seen: seen(scene),
        fault_mm: typed("fault_mm", fault),
        piece_mm: typed("piece_mm", piece),
        reaches: reaches(scene, fault, layer),
        layer: fault
            .zip(layer)
            .map(|(h, l)| format!("layer {} at {}\u{a0}mm", layer_at(h, l), show::number(l))),
        fault_error: errors.get("fault_mm").cloned(),
        piece_error: errors.get("piece_mm").cloned(),
    }
}

/// The place on show with its signs.
fn place_chosen(scene: &Scene, place: &'static Place) -> Chosen {
    let (k, case) = (&scene.state.knowledge, &scene.case.state);
    let signs = signs_at(k, place);
    let open = |f: &&FindingId| {
        let answered = case.facts.findings.contains_key(f) || case.passed.contains(f);
        !answered && k.finding(**f).presence()
    };
    Chosen {
        id: place.id,
        name: place.name,
        open: signs.iter().filter(open).count(),
        signs: signs.into_iter().map(|f| card(scene, f)).collect(),
    }
}

/// How far the fault may reach, with what is known of it.
fn reaches(scene: &Scene, fault: Option<f64>, layer: Option<f64>) -> Vec<ReachChoice> {
    let k = &scene.state.knowledge;
    let findings = &scene.case.state.facts.findings;
    let zone = k.finding_id("height-zone");
    let zone = zone.and_then(|f| findings.get(&f).map(|s| s.answer.id(k, f)));
    let choice = |r: Reach| ReachChoice {
        value: r.id(),
        label: match r {
            Reach::Here => "only there",
            Reach::Upward => "from there upward",
            Reach::Below => "from the plate up to there",
            Reach::Throughout => "at all heights",
        },
        chosen: fault
            .and_then(|h| r.zone(h, layer))
            .is_some_and(|z| zone.as_deref() == Some(z)),
    };
    Reach::ALL.into_iter().map(choice).collect()
}

/// Signs seen on the print, in words.
fn seen(scene: &Scene) -> Vec<String> {
    let k = &scene.state.knowledge;
    let findings = scene.case.state.facts.findings.iter();
    let on_print = findings.filter(|(f, _)| k.finding(**f).section == Section::Print);
    on_print
        .filter(|(f, s)| !s.answer.is_denial(k, **f))
        .map(|(f, s)| show::capital(&s.answer.phrase(k, *f)))
        .collect()
}
