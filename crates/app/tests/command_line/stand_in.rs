//! Stand-ins on the command line: found by what they print, asked over TCP.

use super::run;
use std::io::{BufRead, BufReader, Write};
use std::net::TcpStream;
use std::process::{Child, Command, Stdio};

/// A stand-in that is ended with the test, and where it answers.
struct Standing(Child, String);

impl Drop for Standing {
    fn drop(&mut self) {
        let _ = self.0.kill();
        let _ = self.0.wait();
    }
}

fn standing(kind: &str, fault: &str) -> Standing {
    let mut child = Command::new(env!("CARGO_BIN_EXE_usual-suspect"))
        .args([
            "stand-in", kind, "--fault", fault, "--seed", "3", "--port", "0",
        ])
        .stdout(Stdio::piped())
        .spawn()
        .unwrap();
    let mut said = String::new();
    let mut out = BufReader::new(child.stdout.take().unwrap());
    out.read_line(&mut said).unwrap();
    let at = said.trim().rsplit(' ').next().unwrap().to_string();
    Standing(child, at)
}

#[test]
fn each_stands_in_on_a_free_port_and_answers() {
    for (kind, asked, begins) in [
        ("printer", "M105\n", "ok T:2"),
        ("power-meter", "READ?\n", "4"),
        ("caliper", "", "0.4"),
    ] {
        let standing = standing(kind, "none");
        let mut line = TcpStream::connect(&standing.1).unwrap();
        line.write_all(asked.as_bytes()).unwrap();
        let mut said = String::new();
        BufReader::new(line).read_line(&mut said).unwrap();
        assert!(said.starts_with(begins), "{kind}: {said}");
    }
}

#[test]
fn faults_are_listed_and_what_is_none_is_refused_with_what_would_do() {
    let listed = run(&["stand-in", "printer", "--fault", "list"], "");
    let listed = String::from_utf8(listed.stdout).unwrap();
    assert!(listed.contains("hunts") && listed.contains("tilted") && !listed.contains("inches"));
    for (arguments, told) in [
        (
            ["stand-in", "kettle", "--fault", "none"],
            "printer, power-meter or caliper",
        ),
        (["stand-in", "caliper", "--fault", "hunts"], "inches"),
    ] {
        let out = run(&arguments, "");
        assert!(!out.status.success());
        assert!(String::from_utf8(out.stderr).unwrap().contains(told));
    }
}
