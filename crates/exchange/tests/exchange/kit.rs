//! A workshop with a story, and files beside it.

use std::io::{Cursor, Write};
use std::sync::LazyLock;
use suspect_core::case::{Entry, Event, HeldAnswer, Lost, Outcome};
use suspect_core::exchange::{CaseLine, HeadLine, LOG_FORMAT, Line};
use suspect_core::knowledge::{Knowledge, TryResult};
use suspect_core::machine::{Described, MachineEvent};
use suspect_core::picture::Judgement;
use suspect_core::planning::Workshop;
use suspect_core::series;
use suspect_core::shelf::{Spool, SpoolEvent, Stock, StockEvent};
use suspect_core::testing::trials::{begun, made};
use suspect_core::testing::{events, noted, observed, opened, printed, strikes_always};
use suspect_exchange::backup;
use suspect_store::pictures::PictureBytes;
use suspect_store::print_files::NewFile;
use suspect_store::testing::{Fresh, fresh};
use suspect_store::{Store, Uuid};
use time::macros::datetime;
use time::{Duration, OffsetDateTime};

pub static K: LazyLock<Knowledge> = LazyLock::new(Knowledge::shipped);
pub const NOW: OffsetDateTime = datetime!(2026-11-20 12:00 UTC);

/// What ends a case of a slack belt.
pub fn mended() -> Vec<Event> {
    let mut all = events("belt-pluck/slack +tension-belt");
    all.push(Event::Lost(Lost {
        hours: Some(2.5),
        grams: Some(31.0),
        first_layer: false,
    }));
    all.push(strikes_always());
    all.push(printed(TryResult::Cured));
    all.push(Event::Resolved {
        outcome: Outcome::FixedAndVerified,
        cause: Some("belt-loose".into()),
        fix: Some("tension-belt".into()),
        note: "=the screw had worked loose".into(),
    });
    all
}

/// Opens a case and records what happens to it, a minute each.
pub async fn case(store: &Store, machine: Uuid, all: &[Event]) -> Uuid {
    let id = Uuid::now_v7();
    let begun = [opened(), observed("layer-step", "present")];
    let mut last = store.open_case(&K, id, machine, &begun, NOW).await.unwrap();
    for (minute, event) in (1..).zip(all) {
        let at = NOW + Duration::minutes(minute);
        let one = std::slice::from_ref(event);
        last = store.append(&K, id, last, one, at).await.unwrap();
    }
    id
}

/// A workshop with two machines, settings, a closed case with a picture, an open one, a print file
/// and a link.
pub async fn workshop() -> Fresh {
    let db = fresh().await;
    let store = &db.store;
    let mut machines = Vec::new();
    for name in ["Teal", "Grebe"] {
        let id = Uuid::now_v7();
        let described = Described {
            name: name.into(),
            model: "Barge 340".into(),
            profile: [("feed".to_string(), "direct".to_string())].into(),
            ..Described::default()
        };
        store.add_machine(&K, id, &described, NOW).await.unwrap();
        machines.push(id);
    }
    let hours = MachineEvent::counter(120.0);
    let read = store.append_to_machine(&K, machines[0], None, &hours, NOW);
    read.await.unwrap();
    let workshop = Workshop {
        money_per_kg: 27.5,
        ..Workshop::default()
    };
    store.set_workshop(0, &workshop, NOW).await.unwrap();
    let closed = case(store, machines[0], &mended()).await;
    let held = Event::AskedAgain {
        answer: HeldAnswer::Held,
    };
    let last = store.case_row(closed).await.unwrap().last_seq;
    let later = NOW + Duration::days(1);
    store
        .append(&K, closed, last, &[held], later)
        .await
        .unwrap();
    let open = case(store, machines[1], &[noted("it squeaks")]).await;
    picture(store, open).await;
    let file = NewFile {
        sha256: "ab".repeat(32),
        bytes: 9,
        text_bytes: 9,
        packed: None,
        reading: "{}".into(),
        at: NOW,
    };
    let text = Cursor::new(b"G28\nG1 X1".to_vec());
    store.keep_print_file(file, text).await.unwrap();
    store.make_help_link(open, NOW).await.unwrap();
    series(store, (machines[1], open)).await;
    shelf(store).await;
    db
}

/// A spool and a spare part, each with more than one entry.
async fn shelf(store: &Store) {
    let spool = [
        SpoolEvent::Described {
            family: "petg".into(),
            maker: "Millrace".into(),
            colour: "green".into(),
            net_g: 1000.0,
            tare_g: Some(180.0),
        },
        SpoolEvent::Opened,
    ];
    let written = store.append_to_thing::<Spool>(&K, Uuid::now_v7(), 0, &spool, NOW);
    written.await.unwrap();
    let stock = [
        StockEvent::Described {
            name: "Nozzle".into(),
            part: "nozzle".into(),
            fits: String::new(),
            reorder_at: Some(1),
            money: Some(1.5),
        },
        StockEvent::Came { pieces: 3 },
    ];
    let written = store.append_to_thing::<Stock>(&K, Uuid::now_v7(), 0, &stock, NOW);
    written.await.unwrap();
}

/// A series for a case, with a piece and its photo.
async fn series(store: &Store, (machine, case): (Uuid, Uuid)) {
    let id = Uuid::now_v7();
    let (begun, made) = (begun(), made("T1-A", &[]));
    store
        .begin_series(id, (machine, Some(case)), &[begun, made], NOW)
        .await
        .unwrap();
    let photo = Uuid::now_v7();
    let bytes = PictureBytes {
        picture: b"large",
        thumbnail: b"small",
    };
    let event = series::Event::Pictured {
        label: "T1-A".into(),
        picture: photo.to_string(),
    };
    store
        .add_series_picture(id, 2, (photo, bytes), event, NOW)
        .await
        .unwrap();
}

async fn picture(store: &Store, case: Uuid) {
    let id = Uuid::now_v7();
    let event = Event::Pictured {
        picture: id.to_string(),
        name: "step.jpg".into(),
        judgement: Judgement {
            width: 800,
            height: 600,
            sharpness: 300.0,
            mean: 120.0,
            dark: 0.0,
            light: 0.0,
            glare: 0.0,
        },
    };
    let last = store.case_row(case).await.unwrap().last_seq;
    let bytes = PictureBytes {
        picture: b"a large picture",
        thumbnail: b"a small one",
    };
    let added = store.add_picture(&K, case, last, (id, bytes), event, NOW);
    added.await.unwrap();
}

/// A backup of a workshop.
pub async fn backed(store: &Store) -> Vec<u8> {
    let mut out = Cursor::new(Vec::new());
    backup(store, &K, &mut out, NOW, true).await.unwrap();
    out.into_inner()
}

/// A file of some text, deleted with it.
pub fn file(text: &str) -> tempfile::NamedTempFile {
    let mut file = tempfile::NamedTempFile::new().unwrap();
    file.write_all(text.as_bytes()).unwrap();
    file
}

/// The log of a workshop as text.
pub async fn log_of(store: &Store) -> String {
    let mut out = Vec::new();
    let from = store.snapshot().await.unwrap();
    suspect_exchange::write_log(&from, &mut out, NOW, suspect_exchange::Names::Kept)
        .await
        .unwrap();
    String::from_utf8(out).unwrap()
}

/// The table of a workshop as text.
pub async fn table_of(store: &Store) -> String {
    let mut out = Vec::new();
    let from = store.snapshot().await.unwrap();
    suspect_exchange::write_table(&from, &K, &mut out)
        .await
        .unwrap();
    String::from_utf8(out).unwrap()
}

/// Lines of a log with its head.
pub fn log(lines: &[Line]) -> String {
    let head = Line::Head(HeadLine {
        format: LOG_FORMAT.into(),
        written: NOW,
        program: String::new(),
    });
    let all = [head].into_iter().chain(lines.iter().cloned());
    let line = |l: Line| serde_json::to_string(&l).unwrap() + "\n";
    all.map(line).collect()
}

/// A line of a case with these entries.
pub fn case_line(machine: &str, log: Vec<Entry>) -> Line {
    Line::Case(CaseLine {
        id: Uuid::now_v7().to_string(),
        number: None,
        machine: machine.into(),
        log,
    })
}
