//! A reading as JSON: the open format `usual-suspect-gcode/1`.

use super::evidence::Says;
use super::jumps;
use super::layer::Layer;
use super::line_type::LineType;
use super::reading::{Reading, SHORT_LAYER};
use super::seam;
use super::series::{Figure, percent};
use serde_json::{Map, Value, json};

/// Name and version of the format.
pub const FORMAT: &str = "usual-suspect-gcode/1";

/// The file as it came.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct FileFacts {
    /// Its bytes, as it came.
    pub bytes: u64,
    /// Sum over them, in hexadecimal.
    pub sha256: String,
    /// How it was packed: `gzip`, `container`; nothing for plain text.
    pub packed: Option<&'static str>,
    /// Bytes of the text.
    pub text_bytes: u64,
}

/// What is asked of a report besides the figures.
#[derive(Debug, Clone, Copy, Default)]
pub struct Wanted<'a> {
    /// Every layer.
    pub layers: bool,
    /// What happens at a height, mm.
    pub at: Option<f64>,
    /// What the file says of a case.
    pub says: Option<&'a Says>,
}

pub use super::report_words::words;

/// Rounded to so many digits behind the point: what a figure is good for.
pub(crate) fn to(digits: i32, value: f64) -> f64 {
    let factor = 10f64.powi(digits);
    let rounded = (value * factor).round() / factor;
    if rounded == 0.0 { 0.0 } else { rounded }
}

/// A reading as JSON.
pub fn json(file: &FileFacts, reading: &Reading, wanted: Wanted<'_>) -> Value {
    let mut all = Map::new();
    let mut put = |name: &str, value: Value| {
        all.insert(name.to_owned(), value);
    };
    put("format", json!(FORMAT));
    put("file", file_json(file, reading));
    put("extrusion", json!(extrusion(reading)));
    put("units", json!(if reading.inch { "inch" } else { "mm" }));
    put("arcs", json!(reading.arcs));
    put("firmware_retraction", json!(reading.firmware_retraction));
    put("sequential", json!(reading.sequential()));
    put("layers", layers_json(reading));
    put("line_types", types_json(reading));
    put("filament_mm", json!(to(4, reading.sum(|l| l.filament))));
    put("filament_diameter_mm", json!(reading.diameter.0));
    put("time_s", json!(to(2, reading.sum(|l| l.time))));
    put(
        "time_without_acceleration_s",
        json!(to(2, reading.sum(|l| l.plain_time))),
    );
    put(
        "time_stated_s",
        json!(reading.stated_time().map(|(s, _)| s)),
    );
    put("mesh", json!(reading.mesh.word()));
    put("temperatures", temperatures_json(reading));
    put("fan", fan_json(reading));
    put("retraction", retraction_json(reading));
    put("flow", flow_json(reading));
    put("first_layer", first_layer_json(reading));
    put("layer_time", layer_time_json(reading));
    put("seam", seam::json(reading));
    whole_json(reading, &mut all);
    let mut put = |name: &str, value: Value| {
        all.insert(name.to_owned(), value);
    };
    if let Some(z) = wanted.at {
        put("at", at_json(reading, z));
    }
    if let Some(says) = wanted.says {
        put("findings", json!(says.findings));
        put("numbers", json!(says.numbers));
        put("signs", json!(says.signs));
    }
    if wanted.layers {
        let rows = reading
            .layers
            .iter()
            .enumerate()
            .map(|(at, l)| layer_json(reading, at, l));
        put("layer_list", rows.collect());
    }
    Value::Object(all)
}

/// Figures of the whole file that need no block of their own, and what is odd.
fn whole_json(reading: &Reading, all: &mut Map<String, Value>) {
    let mut put = |name: &str, value: Value| {
        all.insert(name.to_owned(), value);
    };
    put(
        "travel",
        json!({
            "mm": to(1, reading.sum(|l| l.travel)),
            "open_mm": to(1, reading.sum(|l| l.open_travel)),
        }),
    );
    put("bridges_mm", json!(to(1, reading.sum(|l| l.bridges))));
    put(
        "unsupported_starts",
        json!(reading.layers.iter().map(|l| l.air_starts).sum::<u32>()),
    );
    put("pauses", json!(reading.pauses));
    put("settings", json!(reading.settings));
    put("problems", json!(reading.problems));
    put("problem_count", json!(reading.problem_count));
}

fn file_json(file: &FileFacts, reading: &Reading) -> Value {
    json!({
        "bytes": file.bytes,
        "lines": reading.lines,
        "sha256": file.sha256,
        "compressed": file.packed.is_some(),
        "packed": file.packed,
        "text_bytes": file.text_bytes,
    })
}

fn extrusion(reading: &Reading) -> &'static str {
    match (reading.absolute, reading.relative) {
        (true, true) => "mixed",
        (false, true) => "relative",
        _ => "absolute",
    }
}

fn layers_json(reading: &Reading) -> Value {
    let z = |layer: Option<&Layer>| layer.map(|l| to(4, l.z));
    json!({
        "count": reading.layers.len(),
        "first_z_mm": z(reading.layers.first()),
        "last_z_mm": z(reading.layers.last()),
        "typical_height_mm": reading.typical_height(),
        "marked": reading.layers_marked,
    })
}

fn types_json(reading: &Reading) -> Value {
    let list = reading.types().map(|line_type| {
        let (laid, time) = reading.by_type(line_type);
        let speed = if time > 0.0 { laid / time } else { 0.0 };
        json!({ "type": line_type, "laid_mm": to(1, laid), "speed_mm_s": to(2, speed) })
    });
    json!({ "named": reading.types_named, "list": list.collect::<Vec<_>>() })
}

fn temperatures_json(reading: &Reading) -> Value {
    let heaters = ["nozzle", "bed", "chamber"];
    let changes: Vec<Value> = reading
        .changes
        .iter()
        .filter(|change| heaters.contains(&change.what.as_str()))
        .map(|change| json!(change))
        .collect();
    let first = reading.layers.first();
    let some = |value: f32| (value > 0.0).then(|| to(2, f64::from(value)));
    json!({
        "nozzle_first_layer_c": first.and_then(|l| some(l.nozzle.value)),
        "nozzle_c": reading.most_held(|l| l.nozzle.value),
        "bed_first_layer_c": first.and_then(|l| some(l.bed.value)),
        "bed_c": reading.most_held(|l| l.bed.value),
        "chamber_c": reading.chamber(),
        "changes": changes,
    })
}

fn fan_json(reading: &Reading) -> Value {
    let most = reading
        .layers
        .iter()
        .map(|l| l.fan_most)
        .fold(0.0, f32::max);
    let on = reading.layers.iter().position(|l| l.fan_most > 0.0);
    json!({
        "first_layer_percent": reading.layers.first().map(|l| percent(l.fan.value)),
        "max_percent": percent(most),
        "on_from_layer": on.map(|at| at + 1),
    })
}

fn retraction_json(reading: &Reading) -> Value {
    let retraction = &reading.retraction;
    let metres = reading.sum(|l| l.filament) / 1000.0;
    let dense = (metres > 0.0).then(|| to(2, f64::from(retraction.count) / metres));
    let some = retraction.count > 0;
    json!({
        "count": retraction.count,
        "length_mm": some.then_some(retraction.length_mm),
        "speed_mm_s": some.then(|| to(3, retraction.speed_mm_s)),
        "per_metre": dense,
        "most_on_one_stretch": retraction.most_on_one_stretch,
        "restart_extra_mm": to(3, retraction.extra_mm),
    })
}

fn flow_json(reading: &Reading) -> Value {
    let peak = reading.peak();
    json!({
        "peak_mm3_s": peak.map(|(_, l)| to(4, reading.flow(l.peak_rate))),
        "p95_mm3_s": to(4, reading.flow(reading.rate_95)),
        "peak_layer": peak.map(|(at, _)| at + 1),
        "peak_line": peak.map(|(_, l)| l.peak_line),
    })
}

fn first_layer_json(reading: &Reading) -> Value {
    let first = reading.layers.first();
    json!({
        "height_mm": first.map(|l| to(4, l.height)),
        "speed_mm_s": first.map(|l| to(3, l.speed())),
        "line_width_mm": first.map(|l| to(4, l.width(reading.area()))),
    })
}

fn layer_time_json(reading: &Reading) -> Value {
    let shortest = reading.shortest();
    let short = reading
        .layers
        .iter()
        .filter(|l| l.time < SHORT_LAYER)
        .count();
    json!({
        "shortest_s": shortest.map(|(_, s)| to(3, s)),
        "shortest_layer": shortest.map(|(at, _)| at + 1),
        "under_8_s": short,
    })
}

/// Every figure of a layer under its own name.
fn figures_json(reading: &Reading, layer: &Layer) -> Map<String, Value> {
    let known = Figure::ALL.into_iter().filter_map(|figure| {
        figure
            .of(reading, layer)
            .map(|value| (figure.id().to_owned(), json!(to(4, value))))
    });
    known.collect()
}

fn layer_json(reading: &Reading, at: usize, layer: &Layer) -> Value {
    let mut all = Map::new();
    all.insert("layer".to_owned(), json!(at + 1));
    all.insert("line".to_owned(), json!(layer.line));
    all.insert("z_mm".to_owned(), json!(to(4, layer.z)));
    all.insert("filament_mm".to_owned(), json!(to(5, layer.filament)));
    all.insert("time_s".to_owned(), json!(to(4, layer.time)));
    all.insert(
        "time_without_acceleration_s".to_owned(),
        json!(to(4, layer.plain_time)),
    );
    all.insert("unsupported_starts".to_owned(), json!(layer.air_starts));
    let types = LineType::ALL
        .into_iter()
        .filter(|t| layer.laid_by_type[t.index()] > 0.0);
    let laid: Map<String, Value> = types
        .map(|t| {
            (
                t.id().to_owned(),
                json!(to(2, f64::from(layer.laid_by_type[t.index()]))),
            )
        })
        .collect();
    all.insert("laid_by_type_mm".to_owned(), Value::Object(laid));
    all.extend(figures_json(reading, layer));
    Value::Object(all)
}

fn at_json(reading: &Reading, z: f64) -> Value {
    let Some(at) = reading.layer_at(z) else {
        return Value::Null;
    };
    let layer = &reading.layers[at];
    let jumps = jumps::at(reading, z).into_iter().map(|jump| {
        json!({
            "what": jump.what.id(),
            "from": to(4, jump.from),
            "to": to(4, jump.to),
            "z_mm": to(3, jump.z),
            "layer": jump.layer + 1,
            "line": jump.line,
        })
    });
    json!({
        "layer": at + 1,
        "z_mm": to(4, layer.z),
        "asked_mm": z,
        "line": layer.line,
        "figures": figures_json(reading, layer),
        "jumps": jumps.collect::<Vec<_>>(),
    })
}
