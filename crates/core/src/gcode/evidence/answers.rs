//! Checks that a file answers by itself, with the right uncertainty.

use super::Answer;
use crate::evidence::{Confidence, Facts};
use crate::gcode::jumps::{self, Jumps};
use crate::gcode::line_type::LineType;
use crate::gcode::reading::Reading;
use crate::gcode::report::to;
use crate::gcode::{Figure, Layer, differences, numbers, seam};
use crate::profile::Levelling;
use crate::settings::NumberId;

/// Skin thinner than this over a sparse filling dips, mm.
const THIN_SKIN: f64 = 0.8;

/// The head leaves the print when it goes so far outside of it, mm.
const FAR_OUTSIDE: f32 = 5.0;

/// Whether the start loads or measures the mesh. A macro may do it unseen.
pub(super) fn mesh(reading: &Reading, facts: &Facts) -> Option<Answer> {
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
pub(super) fn diameter(reading: &Reading, facts: &Facts) -> Option<Answer> {
    let (set, line) = Some(reading.diameter).filter(|(_, line)| *line > 0)?;
    let spool = facts.settings.get(NumberId::FilamentMm)?;
    let differs = (set - spool).abs() > 0.1;
    let why = format!("the file is made for {set} mm, the spool measures {spool} mm");
    let state = if differs { "differs" } else { "matches" };
    Some(("slicer-diameter", state, Confidence::Sure, vec![line], why))
}

/// The nozzle in the file against the one that is told. Only the stamp on the nozzle proves it.
pub(super) fn nozzle(reading: &Reading, facts: &Facts) -> Option<Answer> {
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
        "the file is made for a nozzle of {set} mm, {told} mm is told; the stamp on it decides"
    );
    Some(("nozzle-size-set", state, confidence, vec![line], why))
}

/// Whether anything begins in the air. How far edges lean is not looked at.
pub(super) fn supports(reading: &Reading) -> Option<Answer> {
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
pub(super) fn top_layers(reading: &Reading) -> Option<Answer> {
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
pub(in crate::gcode) fn top_skin(reading: &Reading) -> Option<u32> {
    let skin = |l: &Layer| {
        let share = l.share_of(LineType::TopSkin) + l.share_of(LineType::Skin);
        share > 0.2 && l.share_of(LineType::Infill) < share
    };
    let count = reading.layers.iter().rev().take_while(|l| skin(l)).count();
    (count > 0 && count < reading.layers.len()).then_some(count as u32)
}

/// Whether the head leaves the print at each layer: outside of it, or for a tower.
pub(super) fn parking(reading: &Reading) -> Option<Answer> {
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
pub(super) fn seam_direction(reading: &Reading) -> Option<Answer> {
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

/// What the path itself shows at the height of the fault.
pub(super) fn path_at(reading: &Reading, z: f64) -> Option<Answer> {
    let at = reading.layer_at(z)?;
    let top = reading.layers.last()?.z;
    if z > top + 1.0 {
        return None;
    }
    let shows = |what: Jumps| {
        matches!(what, Jumps::AirStarts | Jumps::Pauses)
            || matches!(what, Jumps::Figure(Figure::Width | Figure::Height))
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
pub(super) fn against_good(reading: &Reading, good: &Reading) -> Answer {
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
