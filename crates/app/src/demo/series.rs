//! A trial series of the demo: after a new firmware curved walls are rough; five pieces in, one
//! difference leads.

use super::{id, stamp};
use anyhow::{Context, Result};
use std::collections::BTreeMap;
use suspect_core::series::{Baseline, Event, Label, Listed, Made, Printed, Series, replay};
use suspect_core::trials::{Confidence, Difference, Grade, Suspicion};
use suspect_pictures::render::{Flaw, Scene, photo};
use suspect_pictures::take_in;
use suspect_store::pictures::PictureBytes;
use suspect_store::series::SeriesError;
use suspect_store::{Store, StoreError, Uuid};
use time::{Duration, OffsetDateTime};

/// Name, good value, bad value, suspicion, group, minutes, suspects it speaks of.
type Line = (
    &'static str,
    &'static str,
    &'static str,
    Suspicion,
    &'static str,
    f64,
    &'static [&'static str],
);

const LIST: [Line; 9] = [
    (
        "corner smoothing",
        "off",
        "on",
        Suspicion::Likely,
        "motion",
        0.0,
        &["corner-handling", "features-conflict"],
    ),
    (
        "pressure compensation",
        "0",
        "0.045",
        Suspicion::Likely,
        "motion",
        0.0,
        &["features-conflict"],
    ),
    (
        "acceleration",
        "1500 mm/s²",
        "4000 mm/s²",
        Suspicion::Possible,
        "motion",
        0.0,
        &["accel-too-high"],
    ),
    (
        "arc segments",
        "0.4 mm",
        "0.05 mm",
        Suspicion::Possible,
        "motion",
        0.0,
        &["segments-too-fine"],
    ),
    (
        "firmware",
        "kept build",
        "new build",
        Suspicion::Possible,
        "firmware",
        0.0,
        &["firmware-regression"],
    ),
    (
        "planner buffer",
        "16 moves",
        "64 moves",
        Suspicion::Unlikely,
        "firmware",
        0.0,
        &[],
    ),
    (
        "outer wall speed",
        "35 mm/s",
        "60 mm/s",
        Suspicion::Possible,
        "speed",
        0.0,
        &["speed-too-high"],
    ),
    (
        "fan",
        "100 %",
        "60 %",
        Suspicion::Unlikely,
        "cooling",
        0.0,
        &[],
    ),
    (
        "nozzle temperature",
        "205 °C",
        "215 °C",
        Suspicion::Unlikely,
        "temperature",
        0.0,
        &[],
    ),
];

/// Pieces as they were made and graded: what was old, the grade, where the piece lies.
const PIECES: [(&[&str], u8, &str); 5] = [
    (&[], 1, "tray, left"),
    (
        &[
            "corner smoothing",
            "pressure compensation",
            "acceleration",
            "arc segments",
        ],
        5,
        "tray, left",
    ),
    (
        &["corner smoothing", "pressure compensation"],
        1,
        "tray, middle",
    ),
    (
        &["acceleration", "pressure compensation", "fan"],
        1,
        "tray, middle",
    ),
    (&["arc segments", "acceleration"], 4, "tray, right"),
];

fn begun() -> Event {
    Event::Begun {
        name: "Rough curves since the new firmware".into(),
        baseline: Baseline {
            settings: "sea wall of last spring, kept build, profile of then".into(),
            file: "sea-wall-spring.gcode".into(),
            place: "shelf above the bench".into(),
        },
        bad_grade: 1,
        printed: Printed {
            piece: "sea-wall".into(),
            print_minutes: 19.0,
            hands_minutes: 4.0,
            grams: 4.0,
        },
        blind: false,
    }
}

fn listed() -> Event {
    let listed = |(name, old, new, suspicion, group, swap, causes): &Line| Listed {
        difference: Difference {
            name: (*name).into(),
            old: Some((*old).into()),
            new: Some((*new).into()),
            suspicion: *suspicion,
            group: Some((*group).into()),
            swap_minutes: *swap,
            needs: match *name {
                "planner buffer" => vec!["firmware".into()],
                _ => Vec::new(),
            },
            ..Difference::default()
        },
        causes: causes.iter().map(|c| (*c).into()).collect(),
    };
    Event::Listed {
        list: LIST.iter().map(listed).collect(),
        fights: vec![("corner smoothing".into(), "pressure compensation".into())],
        group_minutes: BTreeMap::from([("firmware".into(), 15.0)]),
    }
}

/// Loads the series on a machine. What is stored already is not stored twice.
pub async fn load(store: &Store, machine: Uuid, at: OffsetDateTime) -> Result<()> {
    let series = id(at, 8_000);
    let stamped = |n: u64| stamp(at + Duration::minutes(n as i64 * 25), n, 8_001 + n);
    match store
        .begin_series(series, (machine, None), &[begun(), listed()], stamped(0))
        .await
    {
        Ok(_) | Err(SeriesError::Store(StoreError::OtherTouch)) => {}
        Err(e) => return Err(e).context("demo series"),
    }
    for (n, (old, grade, place)) in PIECES.iter().enumerate() {
        let old: Vec<String> = old.iter().map(|o| (*o).to_owned()).collect();
        let (_, log) = store.series(series).await?;
        let now: Series = replay(&log);
        // Broken off and begun again: this piece is there already.
        if now.pieces.len() > n {
            continue;
        }
        let label: Label = now.next_label(&old);
        let events = [
            Event::Made {
                label: label.to_string(),
                made: Made {
                    old,
                    settings: "60 mm/s, bed 60 °C".into(),
                    spool: "grey, opened in October".into(),
                    file: String::new(),
                    place: (*place).into(),
                    earlier: false,
                },
            },
            Event::Graded {
                label: label.to_string(),
                grade: Grade::Number(*grade),
                confidence: Confidence::Sure,
                reading: String::new(),
                blind: false,
                note: String::new(),
            },
        ];
        let seq = store
            .append_to_series(series, now.seq, &events, stamped(n as u64 + 1))
            .await?;
        let of = (series, label.to_string(), *grade);
        pictured(store, at, of, seq, n as u64 + 1).await?;
    }
    let (_, log) = store.series(series).await?;
    let now = replay(&log);
    if now.baseline_pictures.is_empty() {
        let baseline = (series, String::new(), 5);
        pictured(store, at, baseline, now.seq, 0).await?;
    }
    Ok(())
}

/// A photo of a piece as it came out, drawn by the program; of the baseline where the label is
/// empty.
async fn pictured(
    store: &Store,
    at: OffsetDateTime,
    (series, label, grade): (Uuid, String, u8),
    seq: u32,
    n: u64,
) -> Result<()> {
    let flaw = if grade < 4 { Flaw::Bands } else { Flaw::Clean };
    let scene = Scene {
        colour: [120, 124, 128],
        flaw,
        lamp: 1.0,
        blur: 0,
    };
    let kept = take_in(&photo(&scene))?;
    let picture = id(at, 8_100 + n);
    let event = Event::Pictured {
        label,
        picture: picture.to_string(),
    };
    let bytes = PictureBytes {
        picture: &kept.picture,
        thumbnail: &kept.thumbnail,
    };
    let stamp = stamp(at + Duration::minutes(n as i64 * 25 + 1), n, 8_201 + n);
    store
        .add_series_picture(series, seq, (picture, bytes), event, stamp)
        .await?;
    Ok(())
}
