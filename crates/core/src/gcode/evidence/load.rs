//! What a file asks too much of: flow against the melt limit, short layers, chewed filament.

use super::{Answer, Sign};
use crate::evidence::{Facts, demand, melt_limit};
use crate::gcode::reading::{Reading, SHORT_LAYER};
use crate::gcode::report::to;
use crate::profile::FieldId;

/// Filament drawn through the gear more often than this is chewed.
const MANY_ON_ONE_STRETCH: u32 = 8;

/// Flow against the melt limit.
pub(super) fn flow_demand(reading: &Reading, facts: &Facts) -> Option<Answer> {
    let (limit, sure) = melt_limit(&facts.context, &facts.settings)?;
    let flow = to(2, reading.flow(reading.rate_95));
    let (at, layer) = reading.peak()?;
    let peak = to(2, reading.flow(layer.peak_rate));
    let state = demand(flow, limit);
    let why = format!(
        "95 % of the time up to {flow} mm³/s of {limit} mm³/s; the most is {peak} in layer {}",
        at + 1
    );
    Some(("flow-demand", state, sure, vec![layer.peak_line], why))
}

pub(super) fn signs(reading: &Reading, facts: &Facts) -> Vec<Sign> {
    let mut found = Vec::new();
    let mut say = |what: &str, lines: Vec<u64>, why: String| {
        found.push(Sign {
            what: what.to_owned(),
            lines,
            why,
        });
    };
    let limit = melt_limit(&facts.context, &facts.settings);
    if let (Some((limit, _)), Some((at, layer))) = (limit, reading.peak()) {
        let peak = to(2, reading.flow(layer.peak_rate));
        let what = match demand(peak, limit) {
            "over-limit" => Some("over-melt-limit"),
            "near-limit" => Some("near-melt-limit"),
            _ => None,
        };
        if let Some(what) = what {
            let why = format!(
                "layer {} asks for {peak} mm³/s; {limit} can be melted",
                at + 1
            );
            say(what, vec![layer.peak_line], why);
        }
    }
    let short: Vec<u64> = reading
        .layers
        .iter()
        .filter(|l| l.time < SHORT_LAYER)
        .map(|l| l.line)
        .collect();
    if let Some((at, seconds)) = reading.shortest().filter(|_| short.len() > 1) {
        let why = format!(
            "{} layers take less than {SHORT_LAYER} s, the shortest {seconds:.1} s (layer {})",
            short.len(),
            at + 1
        );
        say("short-layers", short.into_iter().take(3).collect(), why);
    }
    let retraction = &reading.retraction;
    if retraction.most_on_one_stretch > MANY_ON_ONE_STRETCH {
        let many = retraction.most_on_one_stretch;
        let why = format!("one stretch of filament goes through the gear {many} times");
        say("one-stretch", vec![retraction.most_line], why);
    }
    if reading.mesh.homed_after && facts.context.id(FieldId::Levelling) != Some("manual") {
        let why = "it homes again after the mesh was measured or loaded".to_owned();
        say(
            "homed-after-mesh",
            reading.mesh.homed.into_iter().collect(),
            why,
        );
    }
    found
}
