//! What a measure of the bench is called, takes and shows, in words.

use crate::show;
use suspect_core::measures::{Hold, Input, Kind, Measure};

/// What one holds in the hand: its name, and what is taken with it.
pub fn hold(hold: Hold) -> (&'static str, &'static str) {
    match hold {
        Hold::Calipers => ("Calipers", "thickness, width, diameter"),
        Hold::Ruler => ("Ruler", "lengths, spacings, heights"),
        Hold::Thermometer => ("Thermometer", "hot ends, motors, chambers"),
        Hold::Meter => ("Power meter", "watts at the plug"),
        Hold::Scales => ("Scales", "spools and filament"),
        Hold::Ear => ("Ear", "the tone of a belt"),
        Hold::Eye => ("Eye", "marks, layers, what the machine shows"),
        Hold::File => ("File or photo", "settings, traces, pictures"),
        Hold::Pencil => ("Pencil", "money, proof, wear"),
    }
}

/// The words of an input within a formula: without what stands behind a comma, unless that is the
/// axis.
pub fn bare(input: &Input) -> &'static str {
    match input.plain.split_once(", ") {
        Some((words, rest)) if rest.chars().count() > 1 => words,
        _ => input.plain,
    }
}

/// The numbers in a field, as far as they can be read, and how they were understood.
pub fn numbers(input: &Input, text: &str) -> (Vec<f64>, Vec<String>) {
    let mut notes = Vec::new();
    let texts = match input.kind {
        Kind::Readings(..) => Input::parts(text),
        Kind::Number | Kind::Whole => vec![text.trim().to_string()],
        Kind::Choice(_) | Kind::Text => Vec::new(),
    };
    let read = texts.iter().filter_map(|t| input.typed(t, &mut notes).ok());
    (read.collect(), notes)
}

/// "0.48 mm ×4": what a drawing shows of a field.
pub fn in_drawing(input: &Input, text: &str) -> Option<String> {
    if let Kind::Choice(of) = input.kind {
        let word = of.iter().find(|w| **w == text)?;
        return Some(word.replace('-', " "));
    }
    let (numbers, _) = numbers(input, text);
    let many = numbers.len();
    if many == 0 {
        return None;
    }
    let mean = numbers.iter().sum::<f64>() / many as f64;
    let unit = input.unit.shown();
    let said = format!("{} {unit}", show::exact((mean * 1e3).round() / 1e3));
    let said = said.trim_end().replace('-', "\u{2212}");
    Some(match many {
        1 => said,
        many if input.id.ends_with("_px") => format!("{} points", many / 2),
        many => format!("{said} ×{many}"),
    })
}

/// The numbers of the example as parameters of an address; none where they come from a file.
pub fn example(measure: &Measure) -> Vec<(&'static str, String)> {
    let typed = measure.card.example.iter();
    typed.map(|(id, text)| (*id, (*text).to_string())).collect()
}

/// The number in a field that takes one, once it can be read.
pub fn number(measure: &Measure, id: &str, text: &str) -> Option<f64> {
    let (numbers, _) = numbers(measure.input(id)?, text);
    numbers.first().copied()
}
