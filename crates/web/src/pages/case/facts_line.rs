//! What a case is about, in one line.

use crate::pages::open_case::OpenCase;
use crate::show;
use suspect_core::profile::{Feed, FieldId, HotEnd};
use suspect_core::settings::NumberId;

/// "Bowden, lined hot end · grey PLA, 205 °C / 55 °C · opened 23 Nov 2026"
pub fn of(case: &OpenCase) -> String {
    let opened = case.state.opened_at;
    let opened = opened.map(|at| format!("opened {}", show::date(at)));
    let parts = [machine(case), filament(case), opened.unwrap_or_default()];
    let parts: Vec<String> = parts.into_iter().filter(|p| !p.is_empty()).collect();
    parts.join(" · ")
}

fn machine(case: &OpenCase) -> String {
    let context = &case.state.facts.context;
    let feed = Feed::of(context).map(|feed| match feed {
        Feed::Bowden => "Bowden",
        Feed::Direct => "direct feed",
    });
    let hot_end = HotEnd::of(context).map(|end| match end {
        HotEnd::Lined => "lined hot end",
        HotEnd::AllMetal => "all-metal hot end",
    });
    let parts: Vec<&str> = feed.into_iter().chain(hot_end).collect();
    parts.join(", ")
}

fn filament(case: &OpenCase) -> String {
    let facts = &case.state.facts;
    let material = facts.context.get(FieldId::Material).map_or("", |m| m.plain);
    let spool = format!("{} {material}", case.state.spool);
    let heat: Vec<String> = [NumberId::NozzleC, NumberId::BedC]
        .into_iter()
        .filter_map(|n| facts.settings.get(n))
        .map(|t| show::with_unit(t, "°C"))
        .collect();
    let parts = [spool.trim().to_string(), heat.join(" / ")];
    let parts: Vec<String> = parts.into_iter().filter(|p| !p.is_empty()).collect();
    parts.join(", ")
}
