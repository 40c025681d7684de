//! What the general words of a step mean on one machine with one material: which temperature is
//! "print temperature", which of several values by material is this one's, what a value is changed
//! to.

use super::nozzle_target;
use crate::evidence::{Facts, bed_window, hottest_nozzle, nozzle_window};
use crate::knowledge::{Fix, Knowledge};
use crate::profile::{FieldId, Material};
use crate::settings::NumberId;

/// Words by which a step speaks of the temperature a case prints at.
const AS_PRINTED: [&str; 2] = ["print temperature", "as for printing"];

/// What a step's words mean here, each a few words: "nozzle 205 °C", "bed 60 °C", "90 °C for PLA".
/// Empty where the step says all there is, or nothing is known.
pub fn here(knowledge: &Knowledge, facts: &Facts, text: &str) -> Vec<String> {
    let mut said = Vec::new();
    if AS_PRINTED.iter().any(|words| text.contains(words)) {
        let bed = facts.settings.get(NumberId::BedC);
        if let Some(bed) = bed.filter(|_| text.to_lowercase().contains("bed")) {
            said.push(format!("bed {bed:.0} °C"));
        }
        if let Some(nozzle) = nozzle_target(knowledge, facts) {
            said.push(format!("nozzle {nozzle:.0} °C"));
        }
    }
    let material = Material::of(&facts.context).zip(facts.context.get(FieldId::Material));
    if let Some((material, value)) = material
        && let Some(own) = of_material(text, name(material))
    {
        said.push(format!("{own} for {}", value.plain));
    }
    said
}

/// A material's name as steps list it.
fn name(material: Material) -> &'static str {
    match material {
        Material::Pla => "PLA",
        Material::Petg => "PETG",
        Material::Abs => "ABS",
        Material::Asa => "ASA",
        Material::Tpu => "TPU",
        Material::Pa => "PA",
        Material::Pc => "PC",
        Material::Other => "",
    }
}

/// The one value of "140 °C for PLA, 160 for PETG, 170 for ABS and ASA" that is a material's; only
/// where a text lists several.
fn of_material(text: &str, material: &str) -> Option<String> {
    let parts: Vec<&str> = text.split(" for ").collect();
    let mut units = [" °C", " hours"].into_iter();
    let unit = units.find(|u| text.contains(u)).unwrap_or("");
    // What stands before "for" ends with the value; what stands after begins with the materials.
    let value = |before: &str| {
        let words = before.trim_end().trim_end_matches(unit.trim_start());
        let words = words.trim_end();
        let numbers: Vec<&str> = words.rsplit(' ').take(3).collect();
        let number = |w: &str| w.parse::<f64>().is_ok();
        match numbers.as_slice() {
            [last, "to", first] if number(last) && number(first) => {
                Some(format!("{first} to {last}"))
            }
            [last, ..] if number(last) => Some((*last).to_string()),
            _ => None,
        }
    };
    let named = |after: &str| {
        let list = after.split(|c: char| c.is_ascii_digit() || c == '.').next();
        let mut words = list.unwrap_or("").split(|c: char| !c.is_alphanumeric());
        words.any(|w| w == material)
    };
    let pairs: Vec<(String, bool)> = parts
        .windows(2)
        .filter_map(|w| Some((value(w[0])?, named(w[1]))))
        .collect();
    let own = pairs.iter().find(|(_, named)| *named)?;
    (pairs.len() > 1 && !material.is_empty()).then(|| format!("{}{unit}", own.0))
}

/// A value that a fix is about to change.
#[derive(Debug, Clone, PartialEq)]
pub struct NewValue {
    /// Which.
    pub number: NumberId,
    /// What it is, where the case knows it.
    pub now: Option<f64>,
    /// What the fix sets it to, where it says by how much; never past the window.
    pub then: Option<f64>,
    /// The window of material and hot end, low to high.
    pub window: Option<(f64, f64)>,
}

/// The number a fix changes, as it is in a case and as it will be.
pub fn new_value(knowledge: &Knowledge, facts: &Facts, fix: &Fix) -> Option<NewValue> {
    let number = NumberId::ALL.iter().copied();
    let number = number
        .into_iter()
        .find(|n| n.number().plain == fix.changes)?;
    let (context, settings) = (&facts.context, &facts.settings);
    let window = match number {
        NumberId::NozzleC => nozzle_window(knowledge, context, settings),
        NumberId::BedC => bed_window(knowledge, context, settings),
        _ => None,
    };
    let window = window.filter(|(low, _)| *low > 0.0);
    let now = settings.get(number);
    let by = fix.work.raises_nozzle_c;
    let then = now
        .filter(|_| number == NumberId::NozzleC && by != 0.0)
        .map(|t| {
            let low = window.map_or(0.0, |(low, _)| low);
            let high = hottest_nozzle(knowledge, context, settings);
            (t + by).min(high).max(low.min(t))
        });
    Some(NewValue {
        number,
        now,
        then: then.filter(|t| now != Some(*t)),
        window,
    })
}

#[cfg(test)]
mod tests {
    use super::of_material;

    #[test]
    fn the_own_value_is_taken_from_a_list_by_material() {
        let wipe = "Let it cool: about 140 °C for PLA, 160 for PETG, 170 for ABS and ASA.";
        assert_eq!(of_material(wipe, "PLA").as_deref(), Some("140 °C"));
        assert_eq!(of_material(wipe, "PETG").as_deref(), Some("160 °C"));
        assert_eq!(of_material(wipe, "ASA").as_deref(), Some("170 °C"));
        assert_eq!(of_material(wipe, "TPU"), None);
        let pull = "(90 °C for PLA, 110 to 120 for PETG, 130 to 140 for ABS, ASA and PA) and pull";
        assert_eq!(of_material(pull, "PETG").as_deref(), Some("110 to 120 °C"));
        assert_eq!(of_material(pull, "PA").as_deref(), Some("130 to 140 °C"));
        assert_eq!(of_material(pull, "P"), None);
        assert_eq!(
            of_material("Wait 5 for PLA.", "PLA"),
            None,
            "one value is no list"
        );
        assert_eq!(of_material("", "PLA"), None);
    }
}
