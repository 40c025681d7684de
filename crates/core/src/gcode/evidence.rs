//! What a file says of a case, each with its lines and the reason. What a file cannot know is not
//! claimed.

use super::jumps::{self, Jumps};
use super::line_type::LineType;
use super::numbers;
use super::reading::{Reading, SHORT_LAYER};
use super::report::to;
use super::{differences, seam};
use crate::evidence::{Confidence, Facts};
use crate::knowledge::Knowledge;
use crate::profile::{FieldId, HotEnd, Levelling};
use crate::settings::NumberId;
use serde::Serialize;

/// Skin thinner than this over a sparse filling dips, mm.
const THIN_SKIN: f64 = 0.8;

/// Share of the melt limit from which a flow counts as near it.
const NEAR_LIMIT: f64 = 0.8;

/// Melt limits assumed where none is known, mm³/s: lined, all-metal.
const MELT: [f64; 2] = [10.0, 14.0];

/// Filament drawn through the gear more often than this is chewed.
const MANY_ON_ONE_STRETCH: u32 = 8;

/// The head leaves the print when it goes so far outside of it, mm.
const FAR_OUTSIDE: f32 = 5.0;

/// An answer that a file gives.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct Found {
    /// The finding.
    pub id: String,
    /// Its state.
    pub state: String,
    /// How surely.
    pub confidence: Confidence,
    /// Lines of the file that say so.
    pub lines: Vec<u64>,
    /// Why.
    pub why: String,
}

/// A number of the case that a file tells.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct FoundNumber {
    /// The number.
    pub id: NumberId,
    /// Its value in the number's own unit.
    pub value: f64,
    /// Lines of the file that say so.
    pub lines: Vec<u64>,
    /// Why.
    pub why: String,
}

/// Something that asks much of the machine, and no answer to any question.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct Sign {
    /// `over-melt-limit`, `near-melt-limit`, `short-layers`, `one-stretch` or `homed-after-mesh`.
    pub what: String,
    /// Lines of the file that say so.
    pub lines: Vec<u64>,
    /// In words.
    pub why: String,
}

/// All that a file says of a case.
#[derive(Debug, Clone, Default, PartialEq, Serialize)]
pub struct Says {
    /// Answers.
    pub findings: Vec<Found>,
    /// Numbers.
    pub numbers: Vec<FoundNumber>,
    /// Signs of overload.
    pub signs: Vec<Sign>,
}

/// What is known besides the file.
#[derive(Debug, Clone, Copy)]
pub struct Beside<'a> {
    /// The case.
    pub facts: &'a Facts,
    /// Height of the fault, mm.
    pub fault_mm: Option<f64>,
    /// The last good file of this machine.
    pub good: Option<&'a Reading>,
}

type Answer = (&'static str, &'static str, Confidence, Vec<u64>, String);

/// What a file says of a case.
pub fn says(knowledge: &Knowledge, reading: &Reading, beside: Beside<'_>) -> Says {
    if !reading.lays() {
        return Says::default();
    }
    let answers = [
        mesh(reading, beside.facts),
        diameter(reading, beside.facts),
        nozzle(reading, beside.facts),
        supports(reading),
        top_layers(reading),
        parking(reading),
        seam_direction(reading),
        flow_demand(reading, beside.facts),
        beside.fault_mm.and_then(|z| path_at(reading, z)),
        beside.good.map(|good| against_good(reading, good)),
    ];
    let known = |finding: &Found| {
        let id = knowledge.finding_id(&finding.id);
        id.is_some_and(|id| knowledge.finding(id).state(&finding.state).is_some())
    };
    let findings = answers
        .into_iter()
        .flatten()
        .map(|(id, state, confidence, lines, why)| Found {
            id: id.to_owned(),
            state: state.to_owned(),
            confidence,
            lines,
            why,
        });
    Says {
        findings: findings.filter(known).collect(),
        numbers: numbers::of(reading),
        signs: signs(reading, beside.facts),
    }
}

/// Whether the start loads or measures the mesh. A macro may do it unseen.
fn mesh(reading: &Reading, facts: &Facts) -> Option<Answer> {
    let levelling = Levelling::of(&facts.context);
    if levelling == Some(Levelling::Manual) {
        return None;
    }
    let mesh = &reading.mesh;
    let lines: Vec<u64> = [mesh.homed, mesh.measured, mesh.loaded]
        .into_iter()
        .flatten()
        .collect();
    let (state, confidence, why) = match mesh.word()? {
        "homes-only" if reading.macros => return None,
        "homes-only" => {
            let sure = if levelling.is_some() {
                Confidence::Sure
            } else {
                Confidence::Likely
            };
            (
                "ignores-mesh",
                sure,
                "it homes, and nothing measures or loads a mesh afterwards",
            )
        }
        _ if mesh.homed_after => (
            "ignores-mesh",
            Confidence::Likely,
            "it homes again after the mesh was measured or loaded: many machines then drop it",
        ),
        "measured" => (
            "loads-mesh",
            Confidence::Likely,
            "it measures the bed after homing",
        ),
        _ => (
            "loads-mesh",
            Confidence::Sure,
            "it loads a mesh after homing",
        ),
    };
    Some(("start-code-mesh", state, confidence, lines, why.to_owned()))
}

/// The diameter in the file against the spool's.
fn diameter(reading: &Reading, facts: &Facts) -> Option<Answer> {
    let (set, line) = Some(reading.diameter).filter(|(_, line)| *line > 0)?;
    let spool = facts.settings.get(NumberId::FilamentMm)?;
    let differs = (set - spool).abs() > 0.1;
    let why = format!("the file is made for {set} mm, the spool measures {spool} mm");
    let state = if differs { "differs" } else { "matches" };
    Some(("slicer-diameter", state, Confidence::Sure, vec![line], why))
}

/// The nozzle in the file against the one that is told. Only the stamp on the nozzle proves it.
fn nozzle(reading: &Reading, facts: &Facts) -> Option<Answer> {
    let (set, line) = reading.setting(&numbers::NOZZLE)?;
    let told = facts.settings.get(NumberId::NozzleMm)?;
    let differs = (set - told).abs() > 0.02;
    let state = if differs { "differs" } else { "matches" };
    let confidence = if differs {
        Confidence::Likely
    } else {
        Confidence::Hunch
    };
    let why = format!(
        "the file is made for a nozzle of {set} mm, {told} mm is told; the stamp on the nozzle decides"
    );
    Some(("nozzle-size-set", state, confidence, vec![line], why))
}

/// Whether anything begins in the air. How far edges lean is not looked at.
fn supports(reading: &Reading) -> Option<Answer> {
    let starts: u32 = reading.layers.iter().map(|l| l.air_starts).sum();
    let Some(first) = reading.layers.iter().find(|l| l.air_starts > 0) else {
        let why = "no line begins with nothing beneath it; how far edges lean is not judged";
        return Some((
            "support-look",
            "supported",
            Confidence::Hunch,
            vec![],
            why.to_owned(),
        ));
    };
    let (z, [x, y]) = (to(2, first.z), first.air_at);
    let why = format!(
        "{starts} lines begin with nothing beneath them, the first at {z} mm, X {x:.1} Y {y:.1}"
    );
    let lines = reading
        .layers
        .iter()
        .filter(|l| l.air_starts > 0)
        .map(|l| l.air_line);
    let lines = lines.take(5).collect();
    Some(("support-look", "unsupported", Confidence::Sure, lines, why))
}

/// Thickness of the skin at the top: as the settings say, else counted from above.
fn top_layers(reading: &Reading) -> Option<Answer> {
    let height = reading.typical_height()?;
    let (count, lines, how) = match reading.setting(&numbers::TOP_LAYERS) {
        Some((count, line)) => (count, vec![line], "the settings say"),
        None if reading.types_named => (f64::from(top_skin(reading)?), vec![], "the file lays"),
        None => return None,
    };
    let thick = to(2, count * height);
    let state = if thick >= THIN_SKIN - 1e-9 {
        "enough"
    } else {
        "few"
    };
    let why = format!("{how} {count} top layers of {height} mm: {thick} mm of skin");
    Some(("top-layers-count", state, Confidence::Sure, lines, why))
}

/// Layers at the top of the print that are mostly skin, counted from above.
pub(super) fn top_skin(reading: &Reading) -> Option<u32> {
    let skin = |l: &super::Layer| {
        let share = l.share_of(LineType::TopSkin) + l.share_of(LineType::Skin);
        share > 0.2 && l.share_of(LineType::Infill) < share
    };
    let count = reading.layers.iter().rev().take_while(|l| skin(l)).count();
    (count > 0 && count < reading.layers.len()).then_some(count as u32)
}

/// Whether the head leaves the print at each layer: outside of it, or for a tower.
fn parking(reading: &Reading) -> Option<Answer> {
    let layers = &reading.layers;
    if layers.len() < 5 {
        return None;
    }
    let print = reading.extent();
    let away = layers
        .iter()
        .filter(|l| print.outside(&l.roamed) > FAR_OUTSIDE);
    let tower = layers
        .iter()
        .filter(|l| l.share_of(LineType::Tower) > 0.0)
        .count();
    let (away, lines): (usize, Vec<u64>) =
        (away.clone().count(), away.map(|l| l.line).take(3).collect());
    let often = |count: usize| count as f64 > 0.8 * layers.len() as f64;
    Some(if often(away) {
        let why = format!(
            "the head leaves the print in {away} of {} layers",
            layers.len()
        );
        ("layer-parking", "on", Confidence::Sure, lines, why)
    } else if often(tower) {
        let why = format!("it goes to a tower in {tower} of {} layers", layers.len());
        ("layer-parking", "on", Confidence::Sure, vec![], why)
    } else {
        let why = format!(
            "the head leaves the print in {away} of {} layers",
            layers.len()
        );
        // What a macro does at a layer's end is not in the file.
        let sure = if reading.macros {
            Confidence::Hunch
        } else {
            Confidence::Likely
        };
        ("layer-parking", "off", sure, vec![], why)
    })
}

/// The file itself leaves the seam open: loops end early, or begin with too little plastic. Where
/// the hollow is on the piece the file does not know.
fn seam_direction(reading: &Reading) -> Option<Answer> {
    let short = seam::alignment(reading).map_or(0.0, |a| a.short);
    let extra = reading.retraction.extra_mm;
    if short > 0.5 {
        let why = format!(
            "{:.0} % of the outer loops end before they close",
            short * 100.0
        );
        Some((
            "seam-direction",
            "gap-at-end",
            Confidence::Likely,
            vec![],
            why,
        ))
    } else if extra < -0.02 && reading.retraction.count > 5 {
        let why = format!(
            "after a retraction {:.2} mm less comes forward than went back",
            -extra
        );
        Some((
            "seam-direction",
            "gap-at-start",
            Confidence::Likely,
            vec![],
            why,
        ))
    } else {
        None
    }
}

/// The melt limit told, or the usual one of the hot end.
fn melt_limit(facts: &Facts) -> Option<f64> {
    let told = facts.settings.get(NumberId::MeltLimitMm3S);
    told.or(HotEnd::of(&facts.context).map(|h| MELT[usize::from(h != HotEnd::Lined)]))
}

/// Flow against the melt limit.
fn flow_demand(reading: &Reading, facts: &Facts) -> Option<Answer> {
    let limit = melt_limit(facts)?;
    let flow = to(2, reading.flow(reading.rate_95));
    let (at, layer) = reading.peak()?;
    let peak = to(2, reading.flow(layer.peak_rate));
    let state = match flow / limit {
        share if share > 1.0 => "over-limit",
        share if share >= NEAR_LIMIT => "near-limit",
        _ => "easy",
    };
    let told = facts.settings.get(NumberId::MeltLimitMm3S).is_some();
    let sure = if told {
        Confidence::Sure
    } else {
        Confidence::Likely
    };
    let why = format!(
        "95 % of the time up to {flow} mm³/s of {limit} mm³/s; the most is {peak} in layer {}",
        at + 1
    );
    Some(("flow-demand", state, sure, vec![layer.peak_line], why))
}

/// What the path itself shows at the height of the fault.
fn path_at(reading: &Reading, z: f64) -> Option<Answer> {
    let at = reading.layer_at(z)?;
    let top = reading.layers.last()?.z;
    if z > top + 1.0 {
        return None;
    }
    let shows = |what: Jumps| {
        matches!(what, Jumps::AirStarts | Jumps::Pauses)
            || matches!(
                what,
                Jumps::Figure(super::Figure::Width | super::Figure::Height)
            )
    };
    let found: Vec<jumps::Jump> = jumps::at(reading, z)
        .into_iter()
        .filter(|jump| shows(jump.what))
        .collect();
    let Some(first) = found.first() else {
        let why = format!(
            "layer {} and its neighbours are laid like those around them",
            at + 1
        );
        let line = reading.layers[at].line;
        return Some((
            "layer-view",
            "path-normal",
            Confidence::Likely,
            vec![line],
            why,
        ));
    };
    let hard = found
        .iter()
        .any(|j| matches!(j.what, Jumps::AirStarts | Jumps::Pauses));
    let sure = if hard {
        Confidence::Sure
    } else {
        Confidence::Likely
    };
    let why = format!(
        "{} goes from {} to {} at {} mm",
        first.what.id().replace('_', " "),
        to(2, first.from),
        to(2, first.to),
        to(2, first.z)
    );
    let lines = found.iter().map(|jump| jump.line).take(5).collect();
    Some(("layer-view", "path-shows-it", sure, lines, why))
}

/// Settings that matter against those of the last good file.
fn against_good(reading: &Reading, good: &Reading) -> Answer {
    let differ = differences::that_matter(good, reading);
    let names: Vec<&str> = differ.iter().map(|d| d.name.as_str()).take(6).collect();
    if names.is_empty() {
        let why =
            "temperatures, flow, diameter, speeds and retraction are as in the last good file";
        (
            "settings-review",
            "unchanged",
            Confidence::Likely,
            vec![],
            why.to_owned(),
        )
    } else {
        let more = if differ.len() > names.len() {
            " and more"
        } else {
            ""
        };
        let why = format!(
            "against the last good file differ: {}{more}",
            names.join(", ")
        );
        ("settings-review", "changed", Confidence::Sure, vec![], why)
    }
}

fn signs(reading: &Reading, facts: &Facts) -> Vec<Sign> {
    let mut found = Vec::new();
    let mut say = |what: &str, lines: Vec<u64>, why: String| {
        found.push(Sign {
            what: what.to_owned(),
            lines,
            why,
        });
    };
    if let (Some(limit), Some((at, layer))) = (melt_limit(facts), reading.peak()) {
        let peak = to(2, reading.flow(layer.peak_rate));
        let over = peak > limit;
        if peak >= NEAR_LIMIT * limit {
            let what = if over {
                "over-melt-limit"
            } else {
                "near-melt-limit"
            };
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
