//! Print files of the demo: made by the small slicer, each for one story.

use anyhow::{Context, Result, bail};
use suspect_print_files::made::{Recipe, Start, file};
use suspect_print_files::{Keeper, Limits};
use suspect_store::Store;
use suspect_store::print_files::NewFile;
use time::OffsetDateTime;

/// The recipe of a story.
fn recipe(name: &str) -> Result<Recipe> {
    let plain = Recipe {
        fan: 100.0,
        ..Recipe::default()
    };
    Ok(match name {
        "plain" => plain,
        // A mesh is stored in the machine, and the start never loads it.
        "homes-only" => Recipe {
            start: Start::HomesOnly,
            layers: 60,
            ..plain
        },
        "loads" => Recipe {
            start: Start::Loads,
            layers: 60,
            ..plain
        },
        // Somebody changed three things at once; the fan is the one that shows.
        "fan-change" => Recipe {
            fan_change: Some((24.0, 40.0)),
            nozzle_c: [215.0, 205.0],
            retract: 1.2,
            ..plain
        },
        // 150 mm/s of lines 0.5 wide and 0.28 high are 21 mm³/s.
        "fast" => Recipe {
            layer: 0.28,
            width: 0.5,
            layers: 150,
            nozzle_c: [245.0, 245.0],
            bed_c: 80.0,
            fan: 40.0,
            speeds: [60.0, 90.0, 150.0, 100.0],
            infill: 3.0,
            ..plain
        },
        "hollow" => Recipe {
            hollow: Some(true),
            ..plain
        },
        other => bail!("there is no recipe {other}"),
    })
}

/// Makes the file that `line` names ("NAME RECIPE") and keeps it. Returns its identifier and name.
pub async fn keep(store: &Store, line: &str, at: OffsetDateTime) -> Result<(String, String)> {
    let (name, of) = line.split_once(' ').context("a file is NAME RECIPE")?;
    let (text, _) = file(&recipe(of)?);
    let mut keeper = Keeper::new(Limits::default(), None)?;
    keeper.feed(text.as_bytes())?;
    let kept = keeper.end()?;
    let new = NewFile {
        sha256: kept.text_sha256,
        bytes: kept.taken.bytes,
        text_bytes: kept.taken.text_bytes,
        packed: None,
        reading: kept.reading.to_stored()?,
        at,
    };
    let id = store.keep_print_file(new, kept.text).await?;
    Ok((id.to_string(), name.to_owned()))
}
