//! Words for what a print file says.

use crate::show;
use suspect_core::gcode::jumps::{Jump, Jumps};
use suspect_core::gcode::{Figure, LineType, Reading};

/// What a figure is called.
pub fn figure(figure: Figure) -> &'static str {
    match figure {
        Figure::LayerTime => "Layer time",
        Figure::Flow => "Flow",
        Figure::PeakFlow => "Flow at most",
        Figure::Speed => "Speed",
        Figure::OuterSpeed => "Outer loop speed",
        Figure::Fan => "Part fan",
        Figure::Nozzle => "Nozzle",
        Figure::Bed => "Bed",
        Figure::Height => "Layer height",
        Figure::Width => "Line width",
        Figure::Retractions => "Retractions",
        Figure::Acceleration => "Acceleration",
        Figure::Pressure => "Pressure term",
        Figure::FlowFactor => "Flow factor",
        Figure::SpeedFactor => "Speed factor",
        Figure::Laid => "Lines laid",
        Figure::OpenTravel => "Ways over open space",
        Figure::Bridges => "Lines over nothing",
    }
}

/// A figure's value with its unit.
pub fn value(figure: Figure, value: f64) -> String {
    let digits = match value.abs() {
        v if v >= 100.0 => 0,
        v if v >= 10.0 => 1,
        _ => 2,
    };
    let rounded = format!("{value:.digits$}");
    let plain = if rounded.contains('.') {
        rounded
            .trim_end_matches('0')
            .trim_end_matches('.')
            .to_string()
    } else {
        rounded
    };
    match figure.unit() {
        "" => plain,
        unit => format!("{plain} {unit}"),
    }
}

/// What lines are for.
pub fn line_type(line_type: LineType) -> &'static str {
    match line_type {
        LineType::OuterLoop => "outer loops",
        LineType::InnerLoop => "inner loops",
        LineType::OverhangLoop => "overhanging loops",
        LineType::Infill => "infill",
        LineType::Skin => "skin",
        LineType::TopSkin => "top skin",
        LineType::Bridge => "bridges",
        LineType::Support => "support",
        LineType::SupportRoof => "support that meets the print",
        LineType::Skirt => "outline",
        LineType::Tower => "wipe tower",
        LineType::GapFill => "gap filling",
        LineType::Other => "other lines",
    }
}

/// A jump in words: "Part fan 100 % → 60 % at 12.4 mm".
pub fn jump(jump: &Jump) -> String {
    let z = show::with_unit((jump.z * 100.0).round() / 100.0, "mm");
    match jump.what {
        Jumps::Figure(of) => {
            let [from, to] = [jump.from, jump.to].map(|v| value(of, v));
            format!("{} {from} → {to} at {z}", figure(of))
        }
        Jumps::Lines(of) => {
            let verb = if jump.to > jump.from {
                "begins"
            } else {
                "ends"
            };
            let name = line_type(of);
            let verb = if name.ends_with('s') {
                verb.trim_end_matches('s')
            } else {
                verb
            };
            format!("{} {verb} at {z}", show::capital(name))
        }
        Jumps::AirStarts => {
            let many = jump.to as u32;
            let lines = if many == 1 {
                "line begins"
            } else {
                "lines begin"
            };
            format!("{many} {lines} in the air at {z}")
        }
        Jumps::Pauses => format!("The print stands still at {z}"),
    }
}

/// What the file does about the mesh.
pub fn mesh(reading: &Reading) -> &'static str {
    match reading.mesh.word() {
        _ if reading.mesh.homed_after => "homed again afterwards: the mesh may be dropped",
        Some("homes-only") => "only homed",
        Some("measured") => "measured",
        Some("loaded") => "loaded",
        Some(_) => "measured and loaded",
        None => "not in the file",
    }
}

/// Lines of a file: "line 12", "lines 12, 40".
pub fn lines(lines: &[u64]) -> String {
    let all: Vec<String> = lines.iter().map(ToString::to_string).collect();
    match all.len() {
        0 => String::new(),
        1 => format!("line {}", all[0]),
        _ => format!("lines {}", all.join(", ")),
    }
}
