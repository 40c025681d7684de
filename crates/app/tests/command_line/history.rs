//! A workshop's history out and in by the command line.

use super::gcode::fits;
use serde_json::Value;
use std::path::Path;
use std::process::{Command, Output};
use suspect_store::testing::{Fresh, fresh};

fn run(db: &Fresh, words: &[&str]) -> Output {
    Command::new(env!("CARGO_BIN_EXE_usual-suspect"))
        .args(words)
        .env("DATABASE_URL", &db.url)
        .output()
        .unwrap()
}

fn said(out: &Output) -> (Option<i32>, String, String) {
    let text = |bytes: &[u8]| String::from_utf8_lossy(bytes).into_owned();
    (out.status.code(), text(&out.stdout), text(&out.stderr))
}

const TABLE: &str = "machine,title,opened,closed,outcome,cause,fix,minutes\n\
    Teal,Step to the left,2026-03-01,2026-03-02,believed-fixed,belt-loose,tension-belt,12\n";

#[tokio::test(flavor = "multi_thread")]
async fn a_table_comes_in_a_backup_goes_out_and_is_restored() {
    let (db, other) = (fresh().await, fresh().await);
    let folder = tempfile::tempdir().unwrap();
    let path = |name: &str| folder.path().join(name).to_str().unwrap().to_string();
    std::fs::write(path("cases.csv"), TABLE).unwrap();
    let (status, told, _) = said(&run(&db, &["records", "import", &path("cases.csv")]));
    assert!(
        status == Some(0) && told.contains("1 cases with 3 entries, 1 machines"),
        "{told}"
    );
    assert!(
        db.store.holds_nothing().await.unwrap(),
        "it was only looked through"
    );
    let (status, told, _) = said(&run(
        &db,
        &["records", "import", &path("cases.csv"), "--take"],
    ));
    assert!(status == Some(0) && told.contains("came"), "{told}");

    let (status, told, why) = said(&run(&db, &["backup", &path("all.zip")]));
    assert_eq!(
        (status, told.as_str()),
        (Some(0), "1 cases, 0 pictures, 0 print files\n"),
        "{why}"
    );
    assert!(Path::new(&path("all.zip")).exists() && !Path::new(&path("all.part")).exists());
    let (status, _, why) = said(&run(&db, &["backup", &path("all.zip")]));
    assert!(
        status == Some(1) && why.contains("is there already"),
        "{why}"
    );
    let (status, _, why) = said(&run(&db, &["restore", &path("all.zip")]));
    assert!(status == Some(2) && why.contains("not empty"), "{why}");
    let (status, told, why) = said(&run(&other, &["restore", &path("all.zip")]));
    assert!(
        status == Some(0) && told.contains("1 cases"),
        "{told} {why}"
    );

    let log = |db: &Fresh| said(&run(db, &["records", "export"])).1;
    let cases = |text: &str| text.lines().skip(1).map(str::to_string).collect::<Vec<_>>();
    assert_eq!(
        cases(&log(&db)),
        cases(&log(&other)),
        "the same but for the head"
    );
    assert_eq!(cases(&log(&db)).len(), 2);
    fits_the_schema(&log(&db));
    db.remove().await;
    other.remove().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn what_is_wrong_is_told_with_its_line_and_nothing_comes() {
    let db = fresh().await;
    let folder = tempfile::tempdir().unwrap();
    let file = folder.path().join("cases.csv");
    std::fs::write(&file, TABLE.replace("belt-loose", "belt-lose")).unwrap();
    let file = file.to_str().unwrap();
    let (status, told, why) = said(&run(&db, &["records", "import", file, "--take"]));
    assert_eq!(status, Some(2));
    assert!(
        told.contains("nothing was taken") && why.contains("line 2: cause"),
        "{told} {why}"
    );
    assert!(why.contains("did you mean `belt-loose`"));
    assert!(db.store.holds_nothing().await.unwrap());
    let (status, _, why) = said(&run(&db, &["records", "import", "/nowhere.csv"]));
    assert!(status == Some(1) && why.contains("/nowhere.csv"), "{why}");
    db.remove().await;
}

/// Each line has the one shape of the schema that its name asks for.
fn fits_the_schema(log: &str) {
    let schema = include_str!("../../../../docs/log.schema.json");
    let schema: Value = serde_json::from_str(schema).unwrap();
    let shapes = schema["oneOf"].as_array().unwrap();
    for line in log.lines() {
        let line: Value = serde_json::from_str(line).unwrap();
        let name = line.as_object().unwrap().keys().next().unwrap();
        let shape = shapes.iter().find(|s| s["properties"][name].is_object());
        let shape = shape.unwrap_or_else(|| panic!("no shape for {name}"));
        fits(shape, &line, "");
        fits(&shape["properties"][name], &line[name], "");
    }
}
