//! Reading what people name on the command line: ordinary files, never more than makes sense.

use anyhow::{Context, Result, bail};
use std::io::Read;
use std::path::Path;

/// The first bytes of an ordinary file, at most `most`. What never ends, or waits, is no file.
pub fn head(path: &Path, most: u64) -> Result<Vec<u8>> {
    let shown = shown(path);
    let about = std::fs::metadata(path).with_context(|| format!("cannot read {shown}"))?;
    if !about.is_file() {
        bail!("{shown} is no ordinary file");
    }
    let file = std::fs::File::open(path).with_context(|| format!("cannot open {shown}"))?;
    let mut bytes = Vec::new();
    file.take(most)
        .read_to_end(&mut bytes)
        .with_context(|| format!("cannot read {shown}"))?;
    Ok(bytes)
}

/// The text of an ordinary file of at most `most` bytes.
pub fn read_text(path: &Path, most: u64) -> Result<String> {
    let bytes = head(path, most + 1)?;
    if bytes.len() as u64 > most {
        bail!(
            "{} has more than {most} bytes, which no such file needs",
            shown(path)
        );
    }
    String::from_utf8(bytes).with_context(|| format!("{} is not text in UTF-8", shown(path)))
}

/// A path as it may be printed: line breaks and control codes in a name stay out of the terminal.
pub fn shown(path: &Path) -> String {
    let plain = |c: char| if c.is_control() { '?' } else { c };
    path.to_string_lossy().chars().map(plain).collect()
}
