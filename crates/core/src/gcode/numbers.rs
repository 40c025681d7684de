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

/// Gathers numbers that make sense.
#[derive(Default)]
struct Gathered(Vec<FoundNumber>);

impl Gathered {
    fn say(&mut self, id: NumberId, value: Option<f64>, lines: Vec<u64>, why: &str) {
        let value = value.map(|v| to(3, v));
        if let Some(value) = value.filter(|v| id.number().accept(*v).is_ok()) {
            let why = why.to_owned();
            self.0.push(FoundNumber {
                id,
                value,
                lines,
                why,
            });
        }
    }
}

/// The numbers that a file tells, except the nozzle's size: the file knows which one it was made
/// for, and only the nozzle which one is fitted. Each in its own unit and within its sense.
pub fn of(reading: &Reading) -> Vec<FoundNumber> {
    let mut all = Gathered::default();
    written(reading, &mut all);
    asked(reading, &mut all);
    found(reading, &mut all);
    top(reading, &mut all);
    if let Some((at, seconds)) = reading.shortest() {
        let line = vec![reading.layers[at].line];
        let why = format!("layer {}", at + 1);
        all.say(NumberId::LayerS, Some(to(1, seconds)), line, &why);
    }
    all.0
}

/// What its settings say.
fn written(reading: &Reading, all: &mut Gathered) {
    const WHY: &str = "as its settings say";
    for (id, names) in [
        (NumberId::TravelMmS, &TRAVEL[..]),
        (NumberId::InfillPercent, &INFILL),
        (NumberId::Walls, &WALLS),
    ] {
        if let Some((value, line)) = reading.setting(names) {
            all.say(id, Some(value), vec![line], WHY);
        }
    }
    if let Some((value, line)) = reading.setting(&FLOW) {
        let ratio = if value > 3.0 { value / 100.0 } else { value };
        all.say(NumberId::FlowRatio, Some(ratio), vec![line], WHY);
    }
    let (diameter, line) = reading.diameter;
    if line > 0 {
        all.say(NumberId::FilamentSetMm, Some(diameter), vec![line], WHY);
    }
}

/// What it asks the machine to hold during most of the print.
fn asked(reading: &Reading, all: &mut Gathered) {
    const WHY: &str = "asked for during most of the print";
    let lines = |what: &str, value: Option<f64>| -> Vec<u64> {
        let near = |asked: f64| value.is_some_and(|v| (asked - v).abs() < 0.51);
        let changes = reading.changes.iter();
        let lines = changes.filter(|c| c.what == what && near(c.value));
        lines.map(|c| c.line).take(2).collect()
    };
    for (id, what, value) in [
        (
            NumberId::NozzleC,
            "nozzle",
            reading.most_held(|l| l.nozzle.value),
        ),
        (NumberId::BedC, "bed", reading.most_held(|l| l.bed.value)),
        (NumberId::ChamberC, "chamber", reading.chamber()),
        (NumberId::FanPercent, "fan", fan(reading)),
    ] {
        all.say(id, value, lines(what, value), WHY);
    }
    let acceleration = reading
        .limits
        .then(|| reading.most_held(|l| l.acceleration.value));
    all.say(NumberId::AccelMmS2, acceleration.flatten(), vec![], WHY);
}

/// What its moves show.
fn found(reading: &Reading, all: &mut Gathered) {
    let (speed, line_type) = fastest(reading);
    let of = line_type.map_or("line", LineType::id).replace('-', " ");
    let why = format!("the fastest lines that are many: {of}");
    all.say(NumberId::SpeedMmS, speed, vec![], &why);
    let height = reading.typical_height();
    all.say(NumberId::LayerMm, height, vec![], "the commonest");
    let why = "the mean above the first layer";
    all.say(NumberId::LineWidthMm, width(reading), vec![], why);
    let retraction = &reading.retraction;
    if retraction.count > 1 {
        let [length, speed] = [retraction.length_mm, retraction.speed_mm_s].map(Some);
        all.say(NumberId::RetractMm, length, vec![], "the commonest");
        all.say(NumberId::RetractMmS, speed, vec![], "the commonest");
    }
}

/// Layers of skin at the top, as the settings say or counted from above.
fn top(reading: &Reading, all: &mut Gathered) {
    match reading.setting(&TOP_LAYERS) {
        Some((count, line)) => {
            let why = "as its settings say";
            all.say(NumberId::TopLayers, Some(count), vec![line], why);
        }
        None if reading.types_named => {
            let counted = top_skin(reading).map(f64::from);
            all.say(NumberId::TopLayers, counted, vec![], "counted from above");
        }
        None => {}
    }
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
