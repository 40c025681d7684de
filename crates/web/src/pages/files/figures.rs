//! Figures of a file as the page shows them: charts by height, values at a height, the whole.

use crate::drawing::print_file::by_height::{ByHeight, Step, svg};
use crate::show;
use crate::words::print_file as words;
use suspect_core::evidence::Facts;
use suspect_core::gcode::{Figure, Reading, SHORT_LAYER, seam};
use suspect_core::profile::HotEnd;
use suspect_core::settings::NumberId;

/// Figures drawn by height, side by side.
const DRAWN: [Figure; 6] = [
    Figure::LayerTime,
    Figure::Flow,
    Figure::Speed,
    Figure::Fan,
    Figure::Nozzle,
    Figure::Retractions,
];

/// Melt limits assumed where none is told, mm³/s: lined, all-metal.
const MELT: [f64; 2] = [10.0, 14.0];

/// The melt limit told, or the usual one of the hot end.
fn melt_limit(facts: &Facts) -> Option<f64> {
    let told = facts.settings.get(NumberId::MeltLimitMm3S);
    told.or(HotEnd::of(&facts.context).map(|h| MELT[usize::from(h != HotEnd::Lined)]))
}

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
            Figure::Flow => melt_limit(facts).map(|mm3| (mm3, "melt limit".to_string())),
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
    let mut all: Vec<(&'static str, String)> = Vec::new();
    let mut say = |name, text: String| all.push((name, text));
    let time = reading.sum(|l| l.time);
    let stated = reading
        .stated_time()
        .map(|(s, _)| format!(", the file says {}", minutes(s)));
    say(
        "Print time",
        format!("{}{}", minutes(time), stated.unwrap_or_default()),
    );
    let filament = reading.sum(|l| l.filament);
    say(
        "Filament",
        format!("{:.2} m of {} mm", filament / 1000.0, reading.diameter.0),
    );
    say("Mesh", words::mesh(reading).to_string());
    if let Some(first) = reading.layers.first() {
        let [height, speed, width] = [
            words::value(Figure::Height, first.height),
            words::value(Figure::Speed, first.speed()),
            words::value(Figure::Width, first.width(reading.area())),
        ];
        say(
            "First layer",
            format!("{height} high, {width} wide, {speed}"),
        );
    }
    if let Some((at, layer)) = reading.peak() {
        let peak = words::value(Figure::PeakFlow, reading.flow(layer.peak_rate));
        let usual = words::value(Figure::PeakFlow, reading.flow(reading.rate_95));
        say(
            "Flow",
            format!(
                "95 % of the time up to {usual}; {peak} at most, layer {}",
                at + 1
            ),
        );
    }
    if let Some((at, seconds)) = reading.shortest() {
        let short = reading
            .layers
            .iter()
            .filter(|l| l.time < SHORT_LAYER)
            .count();
        let short = format!("; {short} under {SHORT_LAYER} s");
        say(
            "Shortest layer",
            format!("{seconds:.1} s, layer {}{short}", at + 1),
        );
    }
    let retraction = &reading.retraction;
    if retraction.count > 0 {
        let (count, length, most) = (
            retraction.count,
            retraction.length_mm,
            retraction.most_on_one_stretch,
        );
        say(
            "Retractions",
            format!("{count} of {length} mm; {most} at most on one stretch of filament"),
        );
    }
    if let Some(seam) = seam::alignment(reading) {
        let word = if seam.aligned() {
            "in line"
        } else {
            "scattered"
        };
        say(
            "Seam",
            format!(
                "{word}: {:.0} % of the starts lie over another",
                seam.share * 100.0
            ),
        );
    }
    let air: u32 = reading.layers.iter().map(|l| l.air_starts).sum();
    say("Starts in the air", air.to_string());
    if !reading.pauses.is_empty() {
        let places: Vec<String> = reading
            .pauses
            .iter()
            .take(6)
            .map(|p| format!("{} mm", show::number(p.z_mm)))
            .collect();
        say("Stands still", format!("at {}", places.join(", ")));
    }
    let tell = if reading.types_named {
        "named by the file"
    } else {
        "guessed from the paths"
    };
    say("Line types", tell.to_string());
    all
}

fn minutes(seconds: f64) -> String {
    show::minutes(seconds / 60.0)
}
