//! Numbers of a case that a file tells.

use super::evidence::{FoundNumber, top_skin};
use super::line_type::LineType;
use super::reading::Reading;
use super::report::to;
use super::series::percent;
use crate::settings::NumberId;

/// Names under which writers of files keep a setting.
pub(super) const NOZZLE: [&str; 3] = ["nozzle_diameter", "nozzle_size", "machine_nozzle_size"];
pub(super) const TOP_LAYERS: [&str; 4] = [
    "top_solid_layers",
    "top_shell_layers",
    "top_layers",
    "top_layer_count",
];
const INFILL: [&str; 5] = [
    "fill_density",
    "infill_density",
    "sparse_infill_density",
    "infill_sparse_density",
    "infill",
];
const WALLS: [&str; 5] = [
    "perimeters",
    "wall_loops",
    "wall_line_count",
    "walls",
    "perimeter_count",
];
const FLOW: [&str; 5] = [
    "extrusion_multiplier",
    "filament_flow_ratio",
    "flow_ratio",
    "material_flow",
    "flow",
];
const TRAVEL: [&str; 2] = ["travel_speed", "speed_travel"];

/// A line type with less of the laid length says nothing about the print's speed.
const LEAST_SHARE: f64 = 0.1;

/// The numbers that a file tells, except the nozzle's size: the file knows which one it was made
/// for, and only the nozzle which one is fitted. Each in its own unit and within its sense.
pub fn of(reading: &Reading) -> Vec<FoundNumber> {
    let mut found = Vec::new();
    let mut say = |id: NumberId, value: Option<f64>, lines: Vec<u64>, why: String| {
        let value = value
            .map(|v| to(3, v))
            .filter(|v| id.number().accept(*v).is_ok());
        if let Some(value) = value {
            found.push(FoundNumber {
                id,
                value,
                lines,
                why,
            });
        }
    };
    let line_of = |what: &str, value: f64| -> Vec<u64> {
        let all = reading.changes.iter().filter(|c| c.what == what);
        all.filter(|c| (c.value - value).abs() < 0.51)
            .map(|c| c.line)
            .take(2)
            .collect()
    };
    for (id, names) in [
        (NumberId::TravelMmS, &TRAVEL[..]),
        (NumberId::InfillPercent, &INFILL),
        (NumberId::Walls, &WALLS),
    ] {
        if let Some((value, line)) = reading.setting(names) {
            say(
                id,
                Some(value),
                vec![line],
                "as its settings say".to_owned(),
            );
        }
    }
    if let Some((value, line)) = reading.setting(&FLOW) {
        let ratio = if value > 3.0 { value / 100.0 } else { value };
        say(
            NumberId::FlowRatio,
            Some(ratio),
            vec![line],
            "as its settings say".to_owned(),
        );
    }
    let (diameter, line) = reading.diameter;
    if line > 0 {
        let why = "as its settings say".to_owned();
        say(NumberId::FilamentSetMm, Some(diameter), vec![line], why);
    }
    for (id, what, value) in [
        (
            NumberId::NozzleC,
            "nozzle",
            reading.most_held(|l| l.nozzle.value),
        ),
        (NumberId::BedC, "bed", reading.most_held(|l| l.bed.value)),
        (NumberId::ChamberC, "chamber", reading.chamber()),
    ] {
        let lines = value.map(|v| line_of(what, v)).unwrap_or_default();
        say(
            id,
            value,
            lines,
            "asked for during most of the print".to_owned(),
        );
    }
    let fan = fan(reading);
    say(
        NumberId::FanPercent,
        fan,
        line_of("fan", fan.unwrap_or(0.0)),
        most_of(),
    );
    let (speed, line_type) = fastest(reading);
    let of = line_type
        .map(LineType::id)
        .unwrap_or("line")
        .replace('-', " ");
    say(
        NumberId::SpeedMmS,
        speed,
        vec![],
        format!("the fastest lines that are many: {of}"),
    );
    let acceleration = reading
        .limits
        .then(|| reading.most_held(|l| l.acceleration.value));
    say(
        NumberId::AccelMmS2,
        acceleration.flatten(),
        vec![],
        most_of(),
    );
    say(
        NumberId::LayerMm,
        reading.typical_height(),
        vec![],
        "the commonest".to_owned(),
    );
    say(
        NumberId::LineWidthMm,
        width(reading),
        vec![],
        "the mean above the first layer".to_owned(),
    );
    let retraction = &reading.retraction;
    let some = retraction.count > 1;
    let usual = || "the commonest".to_owned();
    say(
        NumberId::RetractMm,
        some.then_some(retraction.length_mm),
        vec![],
        usual(),
    );
    say(
        NumberId::RetractMmS,
        some.then_some(retraction.speed_mm_s),
        vec![],
        usual(),
    );
    match reading.setting(&TOP_LAYERS) {
        Some((count, line)) => {
            say(
                NumberId::TopLayers,
                Some(count),
                vec![line],
                "as its settings say".to_owned(),
            );
        }
        None if reading.types_named => {
            let counted = top_skin(reading).map(f64::from);
            say(
                NumberId::TopLayers,
                counted,
                vec![],
                "counted from above".to_owned(),
            );
        }
        None => {}
    }
    if let Some((at, seconds)) = reading.shortest() {
        let line = vec![reading.layers[at].line];
        say(
            NumberId::LayerS,
            Some(to(1, seconds)),
            line,
            format!("layer {}", at + 1),
        );
    }
    found
}

fn most_of() -> String {
    "during most of the print".to_owned()
}

/// The part fan during most of the print above the first layer, per cent; off counts, too.
fn fan(reading: &Reading) -> Option<f64> {
    let asked = reading.changes.iter().any(|change| change.what == "fan");
    let shifted = reading.most_held(|l| 1.0 + l.fan.value)?;
    asked.then(|| percent((shifted - 1.0) as f32))
}

/// Speed of the fastest line type that is a good part of the print, mm/s.
fn fastest(reading: &Reading) -> (Option<f64>, Option<LineType>) {
    let laid: f64 = reading.layers.iter().map(|l| l.laid).sum();
    let speeds = reading.types().filter_map(|line_type| {
        let (of_type, time) = reading.by_type(line_type);
        (of_type > LEAST_SHARE * laid && time > 0.0).then(|| (of_type / time, line_type))
    });
    match speeds.max_by(|a, b| a.0.total_cmp(&b.0)) {
        Some((speed, line_type)) => (Some(to(1, speed)), Some(line_type)),
        None => (None, None),
    }
}

/// The mean width of lines above the first layer, mm.
fn width(reading: &Reading) -> Option<f64> {
    let above = reading
        .layers
        .iter()
        .skip(usize::from(reading.layers.len() > 1));
    let (sum, laid) = above.fold((0.0, 0.0), |(sum, laid), layer| {
        (
            sum + layer.width(reading.area()) * layer.laid,
            laid + layer.laid,
        )
    });
    (laid > 0.0).then(|| to(2, sum / laid))
}
