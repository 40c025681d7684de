//! Pictures of the demo, drawn by the program.

use anyhow::{Result, bail};
use suspect_pictures::render::{Flaw, Scene};

/// "step blue blurred"
pub fn read_scene(text: &str) -> Result<Scene> {
    let words: Vec<&str> = text.split_whitespace().collect();
    let flaw = match words.first().copied() {
        Some("step") => Flaw::Step(0.5, 0.08),
        Some("strings") => Flaw::Strings,
        Some("pits") => Flaw::Pits,
        Some("bands") => Flaw::Bands,
        Some("lifted") => Flaw::Lifted,
        Some("starved") => Flaw::Starved,
        _ => bail!("unknown flaw in \"{text}\""),
    };
    let colour = match words.get(1).copied() {
        Some("blue") => [60, 110, 160],
        Some("green") => [70, 130, 84],
        Some("red") => [176, 62, 48],
        _ => bail!("unknown colour in \"{text}\""),
    };
    Ok(Scene {
        colour,
        flaw,
        lamp: 1.0,
        blur: if words.contains(&"blurred") { 6 } else { 0 },
    })
}
