//! A number that is read: its field with unit, letter and what was wrong.

use crate::pages::parts::link::Choice;

/// One number or word asked for.
#[derive(Default)]
pub struct InputView {
    pub id: &'static str,
    pub label: String,
    /// Its letter in the drawing.
    pub letter: Option<char>,
    pub unit: &'static str,
    pub value: String,
    pub several: bool,
    pub optional: bool,
    /// How it was understood: "0.018 in read as 0.4572".
    pub note: Option<String>,
    pub error: Option<String>,
    /// Where a reading is taken from a device.
    pub take: Option<String>,
    /// Words to choose from, where it is no number.
    pub choices: Vec<Choice>,
}

/// "calipers good to 0.02 mm": what is taken while nobody says otherwise.
pub fn taken(folded: &[InputView]) -> String {
    let given = folded.iter().filter(|i| !i.value.is_empty());
    let said = given.map(|i| {
        let label = crate::show::lower_first(&i.label);
        format!("{label} {} {}", i.value, i.unit)
            .trim_end()
            .to_string()
    });
    said.collect::<Vec<_>>().join(", ")
}
