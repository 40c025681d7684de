//! Measures on the command line: requests from standard input, tables and recordings from files.

use super::{json, run};
use suspect_pictures::render::{Flaw, Scene, photo};

#[test]
fn a_measure_answers_in_json_and_refuses_in_one_line_with_status_2() {
    let listed = String::from_utf8(run(&["measure", "list"], "").stdout).unwrap();
    assert_eq!(listed.lines().filter(|l| !l.starts_with(' ')).count(), 52);
    assert!(listed.contains("wall-thickness") && listed.contains("wall_mm: 4 readings"));

    let ask = |id: &str, text: &str| run(&["measure", id, "--json", "-"], text);
    let out = json(&ask(
        "wall-thickness",
        r#"{"inputs": {"wall_mm": ["0,44", "0.0181 in", 0.45, 0.46]}}"#,
    ));
    assert_eq!(out["outputs"]["flow_new"], 0.995);
    assert!(out["warnings"].to_string().contains("read as 0.4597"));
    let sum: f64 = out["findings"]["wall-thickness"]
        .as_object()
        .unwrap()
        .values()
        .map(|l| l.as_f64().unwrap())
        .sum();
    assert!((sum - 1.0).abs() < 1e-4);

    for (id, text, told) in [
        ("wall-thicknes", "{}", "did you mean `wall-thickness`"),
        ("wall-thickness", "{}", "wall_mm is missing"),
        (
            "wall-thickness",
            r#"{"inputs": {"wall": 1}}"#,
            "no input of",
        ),
        (
            "wall-thickness",
            r#"{"inputs": {"wall_mm": [1e400]}}"#,
            "not understood",
        ),
        (
            "wall-thickness",
            r#"{"inputs": {"wall_mm": "a\nb"}}"#,
            "wall_mm",
        ),
        ("wall-thickness", "not json", "not understood"),
        ("wall-thickness", "[]", "must be an object"),
    ] {
        let out = ask(id, text);
        let why = String::from_utf8(out.stderr).unwrap();
        assert_eq!(out.status.code(), Some(2), "{text}: {why}");
        assert!(
            why.contains(told) && why.lines().count() == 1,
            "{text}: {why}"
        );
        assert!(out.stdout.is_empty());
    }
}

#[test]
fn a_measure_reads_tables_and_recordings_from_files() {
    let folder = std::env::temp_dir().join(format!("suspect-measure-{}", std::process::id()));
    std::fs::create_dir_all(&folder).unwrap();
    let path = |name: &str| folder.join(name).to_str().unwrap().to_string();
    let mut table = "time;temperature\n".to_string();
    for second in 0..400 {
        table += &format!("{second};{},2\n", 209 + second % 3);
    }
    std::fs::write(path("trace.csv"), table).unwrap();
    std::fs::write(path("no.wav"), b"RIFF....WAVE").unwrap();

    let trace = [
        "measure",
        "temperature-trace",
        &path("trace.csv"),
        "--json",
        "--input",
    ];
    let out = json(&run(&[&trace[..], &["set_c=210"]].concat(), ""));
    assert_eq!(out["outputs"]["says"], "steady");
    let told = run(
        &[
            "measure",
            "temperature-trace",
            &path("trace.csv"),
            "--input",
            "set_c=210",
        ],
        "",
    );
    assert!(String::from_utf8(told.stdout).unwrap().contains("steady"));

    for (arguments, why) in [
        (vec!["tone", &path("no.wav")], "not a WAV"),
        (vec!["tone", &path("missing.wav")], "cannot"),
        (vec!["tone", folder.to_str().unwrap()], "no ordinary file"),
        (vec!["tram", &path("trace.csv")], "reads no file"),
        (vec!["tone", "--input", "wav"], "NAME=VALUE"),
    ] {
        let out = run(&[&["measure"], &arguments[..]].concat(), "");
        let told = String::from_utf8(out.stderr).unwrap();
        assert_eq!(out.status.code(), Some(2), "{told}");
        assert!(told.contains(why) && told.lines().count() == 1, "{told}");
    }
    std::fs::remove_dir_all(&folder).unwrap();
}

#[test]
fn the_bands_of_a_photo_are_found_along_a_line() {
    let folder = std::env::temp_dir().join(format!("suspect-photo-{}", std::process::id()));
    std::fs::create_dir_all(&folder).unwrap();
    let path = folder.join("bands.jpg").to_str().unwrap().to_string();
    let scene = Scene {
        colour: [70, 130, 84],
        flaw: Flaw::Bands,
        lamp: 1.0,
        blur: 0,
    };
    std::fs::write(&path, photo(&scene)).unwrap();
    let asked = |line: &str, more: &[&str]| {
        let base = ["measure", "photo-rhythm", &path, "--line", line];
        run(&[&base[..], more].concat(), "")
    };
    let scale = [
        "--scale-px",
        "650",
        "--scale-mm",
        "10",
        "--input",
        "layer_mm=0.2",
        "--json",
    ];
    let out = json(&asked("700,260,700,980", &scale));
    let spacing = out["outputs"]["spacing_mm"].as_f64().unwrap();
    assert!((spacing - 1.396).abs() < 0.02, "{spacing}");
    assert_eq!(out["outputs"]["rhythm"], "yes");
    for (line, more, told) in [
        ("1,2,3", &scale[..], "four numbers"),
        ("0,0,99999,0", &scale[..], "within the photo of 1600"),
        ("700,260,700,980", &[][..], "scale_px is missing"),
    ] {
        let out = asked(line, more);
        let why = String::from_utf8(out.stderr).unwrap();
        assert_eq!(out.status.code(), Some(2), "{why}");
        assert!(why.contains(told) && why.lines().count() == 1, "{why}");
    }
    std::fs::remove_dir_all(&folder).unwrap();
}
