//! Two files compared: settings, figures, and by height.

use super::evidence::FoundNumber;
use super::numbers;
use super::reading::Reading;
use super::report::to;
use super::seam;
use super::series::Figure;
use crate::settings::NumberId;
use serde::{Deserialize, Serialize};

/// Name and version of the list of differences.
pub const FORMAT: &str = "usual-suspect-differences/1";

/// Figures by height differ when they do by this share of the larger value.
const LEAST_SHARE: f64 = 0.05;

/// Stretches of height told of one figure.
const MOST_STRETCHES: usize = 8;

/// One thing that differs.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Difference {
    /// What it is called.
    pub name: String,
    /// What it belongs to: `temperature`, `cooling`, `flow`, `speed`, `retraction`, `layers`,
    /// `start`, `figure` or `setting`.
    pub group: String,
    /// In the first file; nothing where it has none.
    pub before: Option<String>,
    /// In the second file.
    pub after: Option<String>,
}

/// A stretch of height in which a figure differs.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct Stretch {
    /// The figure.
    pub figure: Figure,
    /// From this height, mm.
    pub from_mm: f64,
    /// To this height, mm.
    pub to_mm: f64,
    /// The mean in the first file.
    pub before: f64,
    /// The mean in the second.
    pub after: f64,
}

/// All that differs between two files.
#[derive(Debug, Clone, Default, PartialEq, Serialize)]
pub struct Compared {
    /// Name and version of the format.
    pub format: &'static str,
    /// What differs as a list.
    pub differences: Vec<Difference>,
    /// What differs by height.
    pub by_height: Vec<Stretch>,
}

/// Compares two files: the first is `before`, the second `after`.
pub fn compare(before: &Reading, after: &Reading) -> Compared {
    let mut differences = that_matter(before, after);
    differences.extend(figures(before, after));
    differences.extend(settings(before, after));
    Compared {
        format: FORMAT,
        differences,
        by_height: by_height(before, after),
    }
}

fn group(id: NumberId) -> &'static str {
    match id {
        NumberId::NozzleC | NumberId::BedC | NumberId::ChamberC => "temperature",
        NumberId::FanPercent | NumberId::LayerS => "cooling",
        NumberId::FlowRatio | NumberId::FilamentSetMm | NumberId::NozzleMm => "flow",
        NumberId::SpeedMmS | NumberId::AccelMmS2 | NumberId::TravelMmS => "speed",
        NumberId::RetractMm | NumberId::RetractMmS => "retraction",
        _ => "layers",
    }
}

fn said(number: &FoundNumber) -> String {
    let unit = number.id.number().unit;
    let space = if unit.is_empty() { "" } else { " " };
    format!("{}{space}{unit}", number.value)
}

/// Numbers of the case and the start code, where they differ. A layer's time differs with the model
/// and is none of them.
pub(super) fn that_matter(before: &Reading, after: &Reading) -> Vec<Difference> {
    let [old, new] = [before, after].map(numbers::of);
    let of = |list: &[FoundNumber], id| list.iter().find(|n| n.id == id).cloned();
    let mut found = Vec::new();
    for id in NumberId::ALL
        .into_iter()
        .filter(|id| *id != NumberId::LayerS)
    {
        let pair = (of(&old, id), of(&new, id));
        if let (None, None) = pair {
            continue;
        }
        // A figure from E differs by a rounding's hair.
        let same = |a: f64, b: f64| (a - b).abs() <= 0.005 * a.abs().max(b.abs()) + 1e-9;
        if let (Some(a), Some(b)) = &pair
            && same(a.value, b.value)
        {
            continue;
        }
        found.push(Difference {
            name: id.number().plain.to_owned(),
            group: group(id).to_owned(),
            before: pair.0.as_ref().map(said),
            after: pair.1.as_ref().map(said),
        });
    }
    let mesh = [before, after].map(|r| r.mesh.word().map(str::to_owned));
    push(&mut found, "mesh", "start", mesh);
    let first = |r: &Reading, of: fn(&super::Layer) -> f64| r.layers.first().map(of);
    for (name, group, of) in FIRST_LAYER {
        let values = [before, after].map(|r| first(r, of).map(|v| to(2, v)));
        let far = |a: f64, b: f64| (a - b).abs() > 0.01 * a.abs().max(b.abs());
        if let [Some(a), Some(b)] = values
            && far(a, b)
        {
            push(&mut found, name, group, [a, b].map(|v| Some(v.to_string())));
        }
    }
    found
}

/// Figures of the first layer that are compared.
type FirstLayer = (&'static str, &'static str, fn(&super::Layer) -> f64);
const FIRST_LAYER: [FirstLayer; 4] = [
    ("first layer height, mm", "layers", |l| l.height),
    ("first layer speed, mm/s", "speed", |l| l.speed()),
    ("first layer nozzle, °C", "temperature", |l| {
        l.nozzle.value.into()
    }),
    ("first layer bed, °C", "temperature", |l| {
        l.bed.value.into()
    }),
];

fn push(found: &mut Vec<Difference>, name: &str, group: &str, values: [Option<String>; 2]) {
    let [before, after] = values;
    if before != after {
        found.push(Difference {
            name: name.to_owned(),
            group: group.to_owned(),
            before,
            after,
        });
    }
}

/// Figures of the whole, where they differ by more than a hair.
fn figures(before: &Reading, after: &Reading) -> Vec<Difference> {
    let mut found = Vec::new();
    let mut both = |name: &str, of: &dyn Fn(&Reading) -> Option<f64>, unit: &str| {
        let [a, b] = [before, after].map(of);
        let same = match (a, b) {
            (Some(a), Some(b)) => (a - b).abs() <= 0.02 * a.abs().max(b.abs()),
            (a, b) => a.is_none() && b.is_none(),
        };
        if !same {
            let said = |v: Option<f64>| v.map(|v| format!("{} {unit}", to(2, v)).trim().to_owned());
            push(&mut found, name, "figure", [said(a), said(b)]);
        }
    };
    both("print time", &|r| Some(r.sum(|l| l.time)), "s");
    both("filament", &|r| Some(r.sum(|l| l.filament)), "mm");
    both("layers", &|r| Some(r.layers.len() as f64), "");
    both(
        "peak flow",
        &|r| r.peak().map(|(_, l)| r.flow(l.peak_rate)),
        "mm³/s",
    );
    both("shortest layer", &|r| r.shortest().map(|(_, s)| s), "s");
    both("retractions", &|r| Some(f64::from(r.retraction.count)), "");
    both(
        "starts in the air",
        &|r| Some(r.layers.iter().map(|l| f64::from(l.air_starts)).sum()),
        "",
    );
    let seam = [before, after].map(|r| {
        seam::alignment(r).map(|a| if a.aligned() { "in line" } else { "scattered" }.to_owned())
    });
    push(&mut found, "seam", "figure", seam);
    found
}

/// Settings in the comments, as written; what one file lacks is told as nothing. What a file says
/// of itself, its time or name, is no setting.
fn settings(before: &Reading, after: &Reading) -> Vec<Difference> {
    let mut names: Vec<&String> = before
        .settings
        .keys()
        .chain(after.settings.keys())
        .collect();
    names.sort();
    names.dedup();
    let mut found = Vec::new();
    for name in names {
        let lower = name.to_lowercase();
        let own = [
            "time",
            "used",
            "date",
            "generated",
            "min",
            "max",
            "cost",
            "weight",
            "thumbnail",
        ];
        if own
            .iter()
            .any(|word| lower.split([' ', '_', '.']).any(|part| part == *word))
        {
            continue;
        }
        let values = [before, after].map(|r| r.settings.get(name).cloned());
        push(&mut found, name, "setting", values);
    }
    found
}

/// Figures aligned by height: stretches in which they differ.
fn by_height(before: &Reading, after: &Reading) -> Vec<Stretch> {
    let mut found = Vec::new();
    for figure in Figure::ALL {
        let mut open: Option<(Stretch, f64)> = None;
        let mut stretches = Vec::new();
        for layer in &before.layers {
            let pair = layer_beside(after, layer.z, layer.height)
                .and_then(|other| Some((figure.of(before, layer)?, figure.of(after, other)?)));
            let differs = pair.filter(|(a, b)| {
                (a - b).abs() > LEAST_SHARE * a.abs().max(b.abs()) && (a - b).abs() > 1e-6
            });
            match (&mut open, differs) {
                (Some((stretch, count)), Some((a, b))) => {
                    stretch.to_mm = to(3, layer.z);
                    stretch.before += a;
                    stretch.after += b;
                    *count += 1.0;
                }
                (None, Some((before, after))) => {
                    let (from_mm, to_mm) = (to(3, layer.z - layer.height), to(3, layer.z));
                    open = Some((
                        Stretch {
                            figure,
                            from_mm,
                            to_mm,
                            before,
                            after,
                        },
                        1.0,
                    ));
                }
                (_, None) => stretches.extend(open.take().map(mean)),
            }
        }
        stretches.extend(open.take().map(mean));
        stretches.sort_by(|a, b| (b.to_mm - b.from_mm).total_cmp(&(a.to_mm - a.from_mm)));
        stretches.truncate(MOST_STRETCHES);
        stretches.sort_by(|a, b| a.from_mm.total_cmp(&b.from_mm));
        found.extend(stretches);
    }
    found
}

fn mean((stretch, count): (Stretch, f64)) -> Stretch {
    let of = |sum: f64| to(3, sum / count);
    Stretch {
        before: of(stretch.before),
        after: of(stretch.after),
        ..stretch
    }
}

/// The layer of another file whose middle is nearest to the middle of this one, if it overlaps.
fn layer_beside(reading: &Reading, z: f64, height: f64) -> Option<&super::Layer> {
    let middle = z - height / 2.0;
    let layers = &reading.layers;
    let at = layers.partition_point(|l| l.z < middle);
    let near = layers.get(at)?;
    (near.z - near.height <= middle).then_some(near)
}
