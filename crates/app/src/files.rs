//! Reading what people name on the command line: ordinary files, never more than makes sense.

use anyhow::{Context, Result, bail};
use std::io::Read;
use std::path::Path;

/// The bytes of an ordinary file of at most `most` bytes. What never ends, or waits, is no file.
pub fn read(path: &Path, most: u64) -> Result<Vec<u8>> {
    let shown = shown(path);
    let about = std::fs::metadata(path).with_context(|| format!("cannot read {shown}"))?;
    if !about.is_file() {
        bail!("{shown} is no ordinary file");
    }
    let file = std::fs::File::open(path).with_context(|| format!("cannot open {shown}"))?;
    let mut bytes = Vec::new();
    file.take(most + 1)
        .read_to_end(&mut bytes)
        .with_context(|| format!("cannot read {shown}"))?;
    if bytes.len() as u64 > most {
        bail!("{shown} has more than {most} bytes, which no such file needs");
    }
    Ok(bytes)
}

/// The same as text.
pub fn read_text(path: &Path, most: u64) -> Result<String> {
    let bytes = read(path, most)?;
    String::from_utf8(bytes).with_context(|| format!("{} is not text in UTF-8", shown(path)))
}

/// A path as it may be printed: line breaks and control codes in a name stay out of the terminal.
pub fn shown(path: &Path) -> String {
    let plain = |c: char| if c.is_control() { '?' } else { c };
    path.to_string_lossy().chars().map(plain).collect()
}
