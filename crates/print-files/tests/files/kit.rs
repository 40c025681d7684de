//! Made files, facts of a case, and what a file says of it.

use suspect_core::case::file as case_file;
use suspect_core::evidence::Facts;
use suspect_core::gcode::evidence::{Beside, Found, Says, says};
use suspect_core::gcode::{Reading, read};
use suspect_core::knowledge::Knowledge;
use suspect_print_files::made::{Recipe, Truth, file};

pub fn made(recipe: &Recipe) -> (String, Reading, Truth) {
    let (text, truth) = file(recipe);
    let reading = read(text.as_bytes());
    (text, reading, truth)
}

pub fn small() -> Recipe {
    Recipe {
        layers: 80,
        ..Recipe::default()
    }
}

pub fn facts(machine: &str, settings: &str) -> Facts {
    let text = format!(
        r#"{{ "format": "usual-suspect-case/1", "machine": {{ {machine} }}, "material": "pla",
            "settings": {{ {settings} }} }}"#
    );
    case_file::read(&Knowledge::shipped(), &text).unwrap()
}

pub fn asked(
    reading: &Reading,
    facts: &Facts,
    fault_mm: Option<f64>,
    good: Option<&Reading>,
) -> Says {
    says(
        &Knowledge::shipped(),
        reading,
        Beside {
            facts,
            fault_mm,
            good,
        },
    )
}

pub fn found<'a>(says: &'a Says, id: &str) -> Option<&'a Found> {
    says.findings.iter().find(|f| f.id == id)
}

/// Every kind of file that is made.
pub fn recipes() -> Vec<Recipe> {
    let plain = small();
    vec![
        plain.clone(),
        Recipe {
            relative: false,
            ..plain.clone()
        },
        Recipe {
            marked: false,
            ..plain.clone()
        },
        Recipe {
            marked: false,
            relative: false,
            settings: false,
            ..plain.clone()
        },
        Recipe {
            hollow: Some(true),
            ..plain.clone()
        },
        Recipe {
            layer: 0.28,
            width: 0.5,
            diameter: 2.85,
            speeds: [60.0, 90.0, 150.0, 100.0],
            ..plain
        },
    ]
}
