//! The machine map: parts to touch for what they do, and the hours of what wears on them.

use super::scene::Scene;
use super::sign::{SignCard, card};
use crate::drawing::machine_map::{PartLink, svg};
use crate::form::{Errors, Fields};
use crate::page_error::PageError;
use crate::pages::parts::print_map::tally;
use crate::words::region;
use crate::{show, urls};
use suspect_core::book::{Book, PartHours, hours};
use suspect_core::knowledge::{FindingId, Region};
use suspect_core::machine::counter;

pub struct PartRow {
    pub id: &'static str,
    pub name: &'static str,
    pub hours: String,
    pub fitted: String,
}

pub struct Chosen {
    pub name: &'static str,
    pub signs: Vec<SignCard>,
    pub parts: Vec<PartRow>,
    pub open: usize,
}

pub struct MachineView {
    pub map: String,
    pub profile: Vec<String>,
    pub chosen: Option<Chosen>,
    pub counter: Option<String>,
    pub at: String,
    pub typed: String,
    pub error: Option<String>,
}

pub async fn view(
    scene: &Scene<'_>,
    fields: &Fields,
    errors: &Errors,
) -> Result<MachineView, PageError> {
    let (k, context) = (&scene.state.knowledge, &scene.case.state.facts.context);
    let log = scene.state.store.machine_log(scene.case.row.machine_id);
    let log = log.await?;
    let hours = hours(context, &Book::of(&log));
    let chosen = Region::from_id(&scene.at);
    let chosen = chosen.filter(|r| Region::of_machine().any(|of| of == *r));
    let link = |region: Region| PartLink {
        region,
        name: region::title(region),
        href: urls::intake(scene.case.id, "machine", region.id()),
        chosen: chosen == Some(region),
        tally: tally(&scene.state.knowledge, scene.case, |f| {
            k.finding(f).region == Some(region)
        }),
    };
    // An open machine has no chamber to touch.
    let there = |region: &Region| {
        let wears = hours.iter().any(|p| p.part.region == *region);
        wears || !behaviours(scene, *region).is_empty()
    };
    let links: Vec<PartLink> = Region::of_machine().filter(there).map(link).collect();
    Ok(MachineView {
        map: svg(context, &links),
        profile: context
            .known()
            .filter(|(f, _)| f.id != "material")
            .map(|(f, v)| format!("{}: {}", f.plain, v.plain))
            .collect(),
        chosen: chosen.map(|region| part(scene, region, &hours)),
        counter: counter(&log).map(|h| format!("{}\u{a0}h", show::number(h))),
        at: scene.at.clone(),
        typed: fields.get("hours").into(),
        error: errors.get("hours").cloned(),
    })
}

/// What a part does that this machine may do.
fn behaviours(scene: &Scene, region: Region) -> Vec<FindingId> {
    let (k, context) = (&scene.state.knowledge, &scene.case.state.facts.context);
    let of_region = k.findings_of(region);
    of_region.filter(|f| k.finding(*f).fits(context)).collect()
}

/// The part on show, with what it does and what wears on it.
fn part(scene: &Scene, region: Region, hours: &[PartHours]) -> Chosen {
    let (k, case) = (&scene.state.knowledge, &scene.case.state);
    let signs = behaviours(scene, region);
    let open = |f: &&FindingId| {
        let answered = case.facts.findings.contains_key(f) || case.passed.contains(f);
        !answered && k.finding(**f).presence()
    };
    let wears = hours.iter().filter(|p| p.part.region == region);
    Chosen {
        name: region::title(region),
        open: signs.iter().filter(open).count(),
        signs: signs.iter().map(|f| card(scene, *f)).collect(),
        parts: wears.map(part_row).collect(),
    }
}

fn part_row(p: &PartHours) -> PartRow {
    let hours = p
        .hours
        .map(|h| format!("{}\u{a0}h", show::number(h.round())));
    let fitted = p.fitted.map(|at| format!("fitted {}", show::date(at)));
    PartRow {
        id: p.part.id,
        name: p.part.name,
        hours: hours.unwrap_or_else(|| "hours not known".into()),
        fitted: fitted.unwrap_or_default(),
    }
}
