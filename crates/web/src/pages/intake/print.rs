//! The print map: places to touch, the signs of the chosen one, the height of the fault.

use super::Scene;
use super::sign::{SignCard, card};
use crate::drawing::print_map::{PlaceLink, Ruler, svg};
use crate::drawing::spot::Tally;
use crate::form::{Errors, Fields};
use crate::{show, urls};
use suspect_core::intake::{PLACES, Place, Reach, layer_at, marked_at, place, signs_at};
use suspect_core::knowledge::FindingId;

/// Height taken for a piece while nobody said how tall it is, in millimetres.
const USUAL_PIECE_MM: f64 = 100.0;

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
    pub rest_action: String,
}

pub struct PrintView {
    pub map: String,
    pub chosen: Option<Chosen>,
    pub seen: Vec<String>,
    pub height_action: String,
    pub seq: u32,
    pub fault_mm: String,
    pub piece_mm: String,
    pub reaches: Vec<ReachChoice>,
    pub layer: Option<String>,
    pub fault_error: Option<String>,
    pub piece_error: Option<String>,
}

pub fn view(scene: &Scene, fields: &Fields, errors: &Errors) -> PrintView {
    let (k, case) = (&scene.state.knowledge, &scene.case.state);
    let chosen = place(&scene.at);
    let settings = &case.facts.settings;
    let (fault, piece) = (
        settings.get("fault_height_mm"),
        settings.get("piece_height_mm"),
    );
    let tall = piece.unwrap_or(USUAL_PIECE_MM).max(fault.unwrap_or(0.0));
    let link = |p: &'static Place| PlaceLink {
        id: p.id,
        name: p.name,
        href: urls::intake(scene.case.id, "print", p.id),
        chosen: chosen.is_some_and(|c| c.id == p.id),
        tally: tally(scene, |f| marked_at(k, f).is_some_and(|at| at.id == p.id)),
    };
    let places: Vec<PlaceLink> = PLACES.iter().map(link).collect();
    let ruler = Ruler {
        share: fault.unwrap_or(0.0) / tall,
        piece_mm: tall,
        known: fault.is_some(),
    };
    let zone = k
        .finding_id("height-zone")
        .and_then(|f| case.facts.findings.get(&f).map(|s| s.answer.id(k, f)));
    let layer_mm = settings.get("layer_mm");
    let labels = [
        "only there",
        "from there upward",
        "from the plate up to there",
        "at all heights",
    ];
    let reach = |(r, label): (Reach, &'static str)| ReachChoice {
        value: r.id(),
        label,
        chosen: fault
            .and_then(|h| r.zone(h, layer_mm))
            .is_some_and(|z| zone == Some(z)),
    };
    let typed = |name: &str, known: Option<f64>| match fields.given(name) {
        Some(text) => text.to_string(),
        None => known.map(show::number).unwrap_or_default(),
    };
    let open = |f: &FindingId| !case.facts.findings.contains_key(f) && !case.passed.contains(f);
    PrintView {
        map: svg(&places, &ruler),
        chosen: chosen.map(|c| {
            let signs = signs_at(k, c);
            Chosen {
                id: c.id,
                name: c.name,
                open: signs
                    .iter()
                    .filter(|f| open(f) && k.finding(**f).presence())
                    .count(),
                signs: signs.into_iter().map(|f| card(scene, f)).collect(),
                rest_action: urls::in_case(scene.case.id, "rest"),
            }
        }),
        seen: seen(scene),
        height_action: urls::in_case(scene.case.id, "height"),
        seq: case.last_seq,
        fault_mm: typed("fault_mm", fault),
        piece_mm: typed("piece_mm", piece),
        reaches: Reach::ALL.into_iter().zip(labels).map(reach).collect(),
        layer: fault
            .zip(layer_mm)
            .map(|(h, l)| format!("layer {} at {}\u{a0}mm", layer_at(h, l), show::number(l))),
        fault_error: errors.get("fault_mm").cloned(),
        piece_error: errors.get("piece_mm").cloned(),
    }
}

/// What was answered for findings that belong somewhere.
pub fn tally(scene: &Scene, belongs: impl Fn(FindingId) -> bool) -> Tally {
    let k = &scene.state.knowledge;
    let mut tally = Tally::default();
    for (f, sighting) in scene
        .case
        .state
        .facts
        .findings
        .iter()
        .filter(|(f, _)| belongs(**f))
    {
        match sighting.answer.id(k, *f) {
            "absent" | "none" => tally.not_seen += 1,
            _ => tally.seen += 1,
        }
    }
    tally
}

/// Signs seen on the print, in words.
fn seen(scene: &Scene) -> Vec<String> {
    let k = &scene.state.knowledge;
    let findings = scene.case.state.facts.findings.iter();
    let on_print =
        findings.filter(|(f, _)| k.finding(**f).section == suspect_core::knowledge::Section::Print);
    let present = on_print.filter(|(f, s)| !["absent", "none"].contains(&s.answer.id(k, **f)));
    present
        .map(|(f, s)| show::capital(&s.answer.phrase(k, *f)))
        .collect()
}
