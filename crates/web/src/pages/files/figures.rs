//! Figures of a file as the page shows them: charts by height, values at a height, the whole.

use crate::drawing::print_file::by_height::{ByHeight, Step, svg};
use crate::show;
use crate::words::print_file as words;
use suspect_core::evidence::{Facts, melt_limit};
use suspect_core::gcode::{Figure, Reading, SHORT_LAYER, seam};

/// Figures drawn by height, side by side.
const DRAWN: [Figure; 6] = [
    Figure::LayerTime,
    Figure::Flow,
    Figure::Speed,
    Figure::Fan,
    Figure::Nozzle,
    Figure::Retractions,
];

fn steps(reading: &Reading, figure: Figure) -> Vec<Step> {
    let layers = reading.layers.iter();
    layers
        .filter_map(|l| Some((l.z - l.height, l.z, figure.of(reading, l)?)))
        .collect()
}

/// The charts, the height looked at and that of the fault across them.
pub fn charts(reading: &Reading, facts: &Facts, at: f64, fault: Option<f64>) -> Vec<String> {
    let tall = reading.layers.iter().map(|l| l.z).fold(0.0, f64::max);
    let shown = DRAWN.into_iter().filter_map(|figure| {
        let all = steps(reading, figure);
        if all.is_empty() {
            return None;
        }
        let most = match figure {
            Figure::Flow => steps(reading, Figure::PeakFlow),
            _ => Vec::new(),
        };
        let limit = match figure {
            Figure::LayerTime => Some((SHORT_LAYER, format!("{SHORT_LAYER} s"))),
            Figure::Flow => melt_limit(&facts.context, &facts.settings)
                .map(|(mm3, _)| (mm3, "melt limit".to_string())),
            _ => None,
        };
        let title = match figure.unit() {
            "" => words::figure(figure).to_string(),
            unit => format!("{}, {unit}", words::figure(figure)),
        };
        Some(svg(&ByHeight {
            title: &title,
            figure: figure.id(),
            steps: &all,
            most: &most,
            limit,
            tall,
            fault,
            at,
        }))
    });
    shown.collect()
}

/// A figure at a height: its identifier, name and value.
pub struct Value {
    pub id: &'static str,
    pub name: &'static str,
    pub value: String,
}

/// Every figure of a layer.
pub fn values(reading: &Reading, layer: usize) -> Vec<Value> {
    let Some(layer) = reading.layers.get(layer) else {
        return Vec::new();
    };
    let known = Figure::ALL.into_iter().filter_map(|figure| {
        let value = figure.of(reading, layer)?;
        let (id, name) = (figure.id(), words::figure(figure));
        Some(Value {
            id,
            name,
            value: words::value(figure, value),
        })
    });
    known.collect()
}

/// The whole of a file in a few lines: what, and how much.
pub fn whole(reading: &Reading) -> Vec<(&'static str, String)> {
    let stated = reading.stated_time().map(|(s, _)| s);
    let stated = stated.map_or_else(String::new, |s| format!(", the file says {}", minutes(s)));
    let time = minutes(reading.sum(|l| l.time));
    let metres = reading.sum(|l| l.filament) / 1000.0;
    let filament = format!("{metres:.2} m of {} mm", reading.diameter.0);
    let mut all = vec![
        ("Print time", format!("{time}{stated}")),
        ("Filament", filament),
        ("Mesh", words::mesh(reading).to_string()),
    ];
    all.extend(first_layer(reading).map(|text| ("First layer", text)));
    all.extend(flow(reading).map(|text| ("Flow", text)));
    all.extend(shortest(reading).map(|text| ("Shortest layer", text)));
    let retraction = &reading.retraction;
    if retraction.count > 0 {
        let (count, length) = (retraction.count, retraction.length_mm);
        let most = retraction.most_on_one_stretch;
        let text = format!("{count} of {length} mm; {most} at most on one stretch of filament");
        all.push(("Retractions", text));
    }
    if let Some(seam) = seam::alignment(reading) {
        let word = if seam.aligned() {
            "in line"
        } else {
            "scattered"
        };
        let share = seam.share * 100.0;
        all.push((
            "Seam",
            format!("{word}: {share:.0} % of the starts lie over another"),
        ));
    }
    let air: u32 = reading.layers.iter().map(|l| l.air_starts).sum();
    all.push(("Starts in the air", air.to_string()));
    if !reading.pauses.is_empty() {
        let places = reading.pauses.iter().take(6);
        let places: Vec<String> = places.map(|p| show::with_unit(p.z_mm, "mm")).collect();
        all.push(("Stands still", format!("at {}", places.join(", "))));
    }
    let named = reading.types_named;
    let tell = if named {
        "named by the file"
    } else {
        "guessed from the paths"
    };
    all.push(("Line types", tell.to_string()));
    all
}

fn first_layer(reading: &Reading) -> Option<String> {
    let first = reading.layers.first()?;
    let height = words::value(Figure::Height, first.height);
    let width = words::value(Figure::Width, first.width(reading.area()));
    let speed = words::value(Figure::Speed, first.speed());
    Some(format!("{height} high, {width} wide, {speed}"))
}

fn flow(reading: &Reading) -> Option<String> {
    let (at, layer) = reading.peak()?;
    let peak = words::value(Figure::PeakFlow, reading.flow(layer.peak_rate));
    let usual = words::value(Figure::PeakFlow, reading.flow(reading.rate_95));
    let layer = at + 1;
    Some(format!(
        "95 % of the time up to {usual}; {peak} at most, layer {layer}"
    ))
}

fn shortest(reading: &Reading) -> Option<String> {
    let (at, seconds) = reading.shortest()?;
    let short = reading
        .layers
        .iter()
        .filter(|l| l.time < SHORT_LAYER)
        .count();
    let layer = at + 1;
    Some(format!(
        "{seconds:.1} s, layer {layer}; {short} under {SHORT_LAYER} s"
    ))
}

fn minutes(seconds: f64) -> String {
    show::minutes(seconds / 60.0)
}
