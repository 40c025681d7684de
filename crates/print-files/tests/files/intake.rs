//! What comes from outside: plain, packed, broken, hostile.

use flate2::Compression;
use flate2::write::GzEncoder;
use proptest::prelude::*;
use std::io::{Cursor, Read, Write};
use suspect_print_files::intake::{Intake, Limits, Refused, Taken};
use suspect_print_files::made::{Recipe, file};
use suspect_print_files::{Keeper, Kept};
use zip::write::SimpleFileOptions;

fn small() -> String {
    file(&Recipe {
        layers: 6,
        ..Recipe::default()
    })
    .0
}

fn take(bytes: &[u8], limits: Limits) -> Result<(Vec<u8>, Taken), Refused> {
    let mut intake = Intake::new(Vec::new(), limits, None);
    for piece in bytes.chunks(8191) {
        intake.feed(piece)?;
    }
    intake.end()
}

fn keep(bytes: &[u8], chosen: Option<&str>) -> Result<Kept, Refused> {
    let mut keeper = Keeper::new(Limits::default(), chosen.map(str::to_owned))?;
    for piece in bytes.chunks(1000) {
        keeper.feed(piece)?;
    }
    keeper.end()
}

fn gzip(bytes: &[u8]) -> Vec<u8> {
    let mut encoder = GzEncoder::new(Vec::new(), Compression::fast());
    encoder.write_all(bytes).unwrap();
    encoder.finish().unwrap()
}

fn container(entries: &[(&str, &[u8])]) -> Vec<u8> {
    let mut writer = zip::ZipWriter::new(Cursor::new(Vec::new()));
    for (name, bytes) in entries {
        writer
            .start_file(*name, SimpleFileOptions::default())
            .unwrap();
        writer.write_all(bytes).unwrap();
    }
    writer.finish().unwrap().into_inner()
}

#[test]
fn plain_packed_and_contained_the_same_text_is_the_same_file() {
    let text = small();
    let plain = keep(text.as_bytes(), None).unwrap();
    let packed = keep(&gzip(text.as_bytes()), None).unwrap();
    let entries: [(&str, &[u8]); 2] = [
        ("3D/model.xml", b"<model/>"),
        ("plate_1.gcode", text.as_bytes()),
    ];
    let contained = keep(&container(&entries), None).unwrap();
    assert_eq!(
        (plain.taken.packed, packed.taken.packed),
        (None, Some("gzip"))
    );
    assert_eq!(contained.taken.packed, Some("container"));
    assert_eq!(contained.taken.entries, ["plate_1.gcode"]);
    for mut kept in [plain, packed, contained] {
        assert_eq!(kept.reading.layers.len(), 6);
        assert_eq!(kept.taken.text_bytes, text.len() as u64);
        let mut back = String::new();
        kept.text.read_to_string(&mut back).unwrap();
        assert_eq!(back, text, "put aside as it is");
    }
    let sums = [
        keep(text.as_bytes(), None),
        keep(&gzip(text.as_bytes()), None),
    ];
    let [a, b] = sums.map(|kept| kept.unwrap());
    assert_eq!(a.text_sha256, b.text_sha256);
    assert_ne!(a.taken.sha256, b.taken.sha256);
}

#[test]
fn of_a_container_one_file_may_be_chosen_and_tricks_lead_nowhere() {
    let text = small();
    let other = file(&Recipe {
        layers: 9,
        ..Recipe::default()
    })
    .0;
    let bytes = container(&[
        ("../../etc/evil.gcode", b"G1 X1 E1"),
        ("b.gcode", other.as_bytes()),
        ("a.gcode", text.as_bytes()),
    ]);
    assert_eq!(
        keep(&bytes, None).unwrap().taken.entries,
        ["a.gcode", "b.gcode"]
    );
    assert_eq!(
        keep(&bytes, Some("b.gcode")).unwrap().reading.layers.len(),
        9
    );
    let gone = keep(&bytes, Some("c.gcode")).unwrap_err();
    assert_eq!(gone, Refused::NoSuchEntry("c.gcode".into()));
    assert_eq!(
        keep(&container(&[("3D/model.xml", b"<model/>")]), None).unwrap_err(),
        Refused::NoEntry
    );
    let names: Vec<String> = (0..1000).map(|n| format!("{n}.gcode")).collect();
    let many: Vec<(&str, &[u8])> = names.iter().map(|n| (n.as_str(), &b"G28"[..])).collect();
    assert_eq!(
        keep(&container(&many), None).unwrap_err(),
        Refused::ManyEntries(1000)
    );
    let whole = container(&[("a.gcode", text.as_bytes())]);
    assert_eq!(
        keep(&whole[..whole.len() / 2], None).unwrap_err(),
        Refused::Damaged(0)
    );
}

#[test]
fn what_is_something_else_is_said_to_be() {
    let mut photo = b"\xff\xd8\xff\xe0".to_vec();
    photo.extend(std::iter::repeat_n(7, 5000));
    assert_eq!(
        keep(&photo, None).unwrap_err(),
        Refused::Other("a photo (JPEG)")
    );
    assert_eq!(keep(b"", None).unwrap_err(), Refused::Empty);
    let prose = "Dear all,\nthe printer is broken again and nobody did it.\n".repeat(40);
    assert!(matches!(
        keep(prose.as_bytes(), None).unwrap_err(),
        Refused::NoCommands { .. }
    ));
    assert_eq!(
        keep(b"G28\nG1 X10 F600\nM84\n", None).unwrap_err(),
        Refused::NoPlastic
    );
    assert!(matches!(
        keep(&[0; 4000], None).unwrap_err(),
        Refused::Other("a binary file")
    ));
}

#[test]
fn bombs_and_endless_streams_end_at_the_limit() {
    let limits = Limits {
        bytes: 1 << 20,
        text: 4 << 20,
        entries: 8,
    };
    let bomb = gzip(&vec![b'G'; 64 << 20]);
    assert!(bomb.len() < 1 << 20);
    assert_eq!(take(&bomb, limits).unwrap_err(), Refused::LargeUnpacked(4));
    let inside = container(&[("a.gcode", &vec![b'G'; 64 << 20][..])]);
    assert_eq!(
        take(&inside, limits).unwrap_err(),
        Refused::LargeUnpacked(4)
    );
    assert_eq!(
        take(&vec![b'G'; 2 << 20], limits).unwrap_err(),
        Refused::Large(1)
    );
    let packed = gzip(small().as_bytes());
    let torn = take(&packed[..packed.len() - 20], Limits::default()).unwrap_err();
    assert!(matches!(torn, Refused::Damaged(_)), "{torn}");
    let mut wrong = packed;
    let middle = wrong.len() / 2;
    wrong[middle] ^= 0x55;
    assert!(matches!(
        take(&wrong, Limits::default()).unwrap_err(),
        Refused::Damaged(_)
    ));
}

#[test]
fn long_lines_and_many_short_ones_are_read_in_bounds() {
    let mut long = small().into_bytes();
    long.extend(vec![b'x'; 10 << 20]);
    long.extend(b"\nG1 X1\n");
    let kept = keep(&long, None).unwrap();
    assert!(
        kept.reading
            .problems
            .iter()
            .any(|p| p.what.contains("64 KiB"))
    );
    let mut short = small().into_bytes();
    short.extend(vec![b'\n'; 10_000_000]);
    assert!(keep(&short, None).unwrap().reading.lines > 10_000_000);
}

proptest! {
    #![proptest_config(ProptestConfig {
        failure_persistence: None,
        cases: 64,
        ..ProptestConfig::default()
    })]

    #[test]
    fn any_bytes_under_any_head_end_in_an_answer(
        head in prop::sample::select(vec![&b""[..], b"\x1f\x8b\x08", b"PK\x03\x04", b"PK\x05\x06"]),
        bytes in prop::collection::vec(any::<u8>(), 0..3000),
    ) {
        let mut all = head.to_vec();
        all.extend(bytes);
        let _ = keep(&all, None);
    }
}
