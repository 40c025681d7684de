//! A list of differences as people paste it: one a line, `name: old -> new`, or as data.

use super::event::Listed;
use crate::gcode::differences as files;
use crate::knowledge::Knowledge;
use crate::settings::NumberId;
use crate::trials::Difference;
use serde::Deserialize;

/// Reads a list: `usual-suspect-differences/1`, or a line for each difference in any of the shapes
/// `name: old -> new`, `name = old / new`, `name` with tabs between. Lines without two values keep
/// the name alone. Of what two files differ in, figures that follow from settings are left out.
pub fn pasted(text: &str) -> Vec<Listed> {
    #[derive(Deserialize)]
    struct File {
        differences: Vec<files::Difference>,
    }
    if let Ok(file) = serde_json::from_str::<File>(text) {
        return file
            .differences
            .into_iter()
            .filter(|d| d.group != "figure")
            .map(of_file)
            .collect();
    }
    text.lines().filter_map(line).collect()
}

fn of_file(difference: files::Difference) -> Listed {
    let value = |v: Option<String>| v.or_else(|| Some("not said".to_owned()));
    Listed {
        difference: Difference {
            name: difference.name,
            old: value(difference.before),
            new: value(difference.after),
            group: Some(difference.group),
            ..Difference::default()
        },
        causes: Vec::new(),
    }
}

/// Between the old value and the new one.
const ARROWS: [&str; 5] = ["->", "→", "=>", " to ", "\t"];

fn line(line: &str) -> Option<Listed> {
    let line = line.trim().trim_start_matches(['-', '*', '•']).trim();
    if line.is_empty() || line.starts_with('#') {
        return None;
    }
    let (name, values) = line
        .split_once('\t')
        .or_else(|| line.split_once(": "))
        .or_else(|| line.split_once(" = "))
        .unwrap_or((line, ""));
    let (old, new) = ARROWS
        .iter()
        .find_map(|arrow| values.split_once(arrow))
        .map_or((None, None), |(old, new)| (Some(old), Some(new)));
    let tidy = |v: Option<&str>| v.map(|v| v.trim().to_owned()).filter(|v| !v.is_empty());
    Some(Listed {
        difference: Difference {
            name: name.trim().to_owned(),
            old: tidy(old),
            new: tidy(new),
            ..Difference::default()
        },
        causes: Vec::new(),
    })
}

/// Words of a difference and the causes that act through it: a first guess, to be mended.
const SPEAK: [(&[&str], &[&str]); 10] = [
    (
        &["smoothing", "input shap", "corner", "jerk"],
        &["corner-handling", "features-conflict"],
    ),
    (
        &["pressure", "advance"],
        &["pressure-advance-off", "features-conflict"],
    ),
    (&["firmware", "planner", "buffer"], &["firmware-regression"]),
    (&["acceleration", "accel"], &["accel-too-high"]),
    (&["segment", "resolution"], &["segments-too-fine"]),
    (
        &["retract"],
        &["retraction-too-small", "retraction-too-large"],
    ),
    (
        &["fan", "cooling"],
        &["cooling-too-weak", "cooling-too-strong"],
    ),
    (&["flow"], &["flow-too-high", "flow-too-low"]),
    (
        &["nozzle temperature", "nozzle °c"],
        &["nozzle-too-hot", "nozzle-too-cold"],
    ),
    (&["speed"], &["speed-too-high"]),
];

/// The causes of the knowledge that a difference of this name speaks of, as a first guess.
pub fn suspects_of(knowledge: &Knowledge, name: &str) -> Vec<String> {
    let name = name.to_lowercase();
    let number = |id: NumberId| id.number().plain.to_lowercase() == name;
    let temperature = number(NumberId::NozzleC);
    let hit = |words: &[&str]| {
        words
            .iter()
            .any(|w| name.contains(w) || (temperature && *w == "nozzle temperature"))
    };
    let named = SPEAK
        .iter()
        .filter(|(words, _)| hit(words))
        .flat_map(|(_, causes)| *causes);
    let known = |id: &&&str| knowledge.cause_id(id).is_some();
    named.filter(known).map(|id| (*id).to_owned()).collect()
}
