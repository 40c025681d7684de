//! Odd input on the command line: one clear line, and an end.

use crate::{run, started};
use std::io::{Read, Write};
use std::os::unix::fs::symlink;
use std::path::PathBuf;
use std::process::Command;

const CASE: &str = r#"{ "format": "usual-suspect-case/1", "findings": [] }"#;

#[test]
fn a_line_that_is_no_text_or_without_end_stops_no_other() {
    let one_line = CASE.replace('\n', " ");
    let long = "x".repeat(9 * 1024 * 1024);
    let mut input = one_line.clone().into_bytes();
    input.extend(b"\n\xff\xfe not text\n");
    input.extend(long.bytes());
    input.extend(format!("\n{one_line}\n").bytes());
    let out = run(&["rank", "--lines", "-"], &input);
    assert_eq!(out.status.code(), Some(2));
    let answers: Vec<serde_json::Value> = String::from_utf8(out.stdout)
        .unwrap()
        .lines()
        .map(|l| serde_json::from_str(l).unwrap())
        .collect();
    assert_eq!(answers.len(), 4);
    assert!(answers[0]["line_up"].is_array() && answers[3]["line_up"].is_array());
    for (n, part) in [
        (1, "not text in UTF-8"),
        (2, "longer than a case file may be"),
    ] {
        assert_eq!(answers[n]["line"], n + 1);
        assert!(answers[n]["error"].as_str().unwrap().contains(part));
    }
}

#[test]
fn whoever_stops_reading_is_no_failure_and_messages_stay_readable() {
    let many = format!("{}\n", CASE.replace('\n', " ")).repeat(300);
    let mut child = started(&["rank", "--lines", "-"]);
    let mut stdin = child.stdin.take().unwrap();
    let writing = std::thread::spawn(move || drop(stdin.write_all(many.as_bytes())));
    let mut first = [0; 100];
    child.stdout.take().unwrap().read_exact(&mut first).unwrap();
    let out = child.wait_with_output().unwrap();
    writing.join().unwrap();
    assert!(
        out.status.success(),
        "{}",
        String::from_utf8_lossy(&out.stderr)
    );
    let huge = format!(
        r#"{{ "format": "usual-suspect-case/1", "{}": 1 }}"#,
        "k".repeat(200_000)
    );
    let out = run(&["rank", "-"], huge.as_bytes());
    assert_eq!(out.status.code(), Some(2));
    assert!(out.stderr.len() < 1_000, "{} bytes", out.stderr.len());
    let tries = vec![r#"{ "fix": "tighten-pulley", "result": "same" }"#; 101].join(",");
    let tried = format!(r#"{{ "format": "usual-suspect-case/1", "tried": [{tries}] }}"#);
    let out = run(&["rank", "-"], tried.as_bytes());
    assert!(String::from_utf8_lossy(&out.stderr).contains("101 tries are too many"));
}

#[test]
fn numbers_of_a_rehearsal_have_bounds() {
    for (option, value) in [
        ("--cases", "18446744073709551615"),
        ("--networks", "18446744073709551615"),
        ("--cases", "1000000000"),
        ("--cases", "0"),
    ] {
        let out = run(&["rehearse", option, value], b"");
        let error = String::from_utf8(out.stderr).unwrap();
        assert_eq!(
            (out.status.code(), error.lines().count()),
            (Some(1), 1),
            "{error}"
        );
        assert!(error.contains(option) && error.contains(value), "{error}");
    }
}

/// A folder of its own, gone afterwards.
struct Folder(PathBuf);

impl Drop for Folder {
    fn drop(&mut self) {
        let _ = std::fs::remove_dir_all(&self.0);
    }
}

#[test]
fn a_knowledge_folder_with_links_upwards_pipes_and_devices_is_read_to_its_end() {
    let folder = Folder(std::env::temp_dir().join(format!("us-links-{}", std::process::id())));
    std::fs::create_dir_all(folder.0.join("causes")).unwrap();
    symlink(".", folder.0.join("here")).unwrap();
    symlink(".", folder.0.join("again")).unwrap();
    let check = || run(&["knowledge", "check", folder.0.to_str().unwrap()], b"");
    assert_eq!(
        check().status.code(),
        Some(2),
        "a folder that is not whole, and no endless walk"
    );
    for odd in ["pipe.toml", "zero.toml"] {
        let path = folder.0.join(odd);
        match odd {
            "pipe.toml" => assert!(
                Command::new("mkfifo")
                    .arg(&path)
                    .status()
                    .unwrap()
                    .success()
            ),
            _ => symlink("/dev/zero", &path).unwrap(),
        }
        let out = check();
        let error = String::from_utf8_lossy(&out.stderr).into_owned();
        assert!(
            !out.status.success() && error.contains("no ordinary file"),
            "{odd}: {error}"
        );
        std::fs::remove_file(&path).unwrap();
    }
    std::fs::write(folder.0.join("causes/a\n\u{1b}[31m.toml"), "x = 1").unwrap();
    let out = check();
    let told = [out.stdout, out.stderr].concat();
    assert!(
        !told.contains(&0x1b),
        "codes of a file name stay out of the terminal"
    );
    let out = run(
        &[
            "knowledge",
            "export",
            "--format",
            "json",
            "--case",
            "/dev/zero",
        ],
        b"",
    );
    assert!(String::from_utf8_lossy(&out.stderr).contains("no ordinary file"));
}
