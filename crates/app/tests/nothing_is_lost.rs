//! The server killed between two posts and PostgreSQL stopped hard: every acknowledged event is
//! there afterwards.

use std::io::{BufRead, BufReader, Read, Write};
use std::net::TcpStream;
use std::path::{Path, PathBuf};
use std::process::{Child, Command, Stdio};

const SCRIPT: &str = concat!(env!("CARGO_MANIFEST_DIR"), "/../../scripts/postgres");

/// A PostgreSQL cluster of its own, with its safety on.
struct Cluster(PathBuf);

impl Cluster {
    fn start(&self) -> String {
        let out = Command::new(SCRIPT)
            .arg("start")
            .arg(&self.0)
            .output()
            .unwrap();
        assert!(
            out.status.success(),
            "{}",
            String::from_utf8_lossy(&out.stderr)
        );
        String::from_utf8(out.stdout).unwrap().trim().to_string()
    }

    fn kill(&self) {
        Command::new(SCRIPT)
            .arg("kill")
            .arg(&self.0)
            .status()
            .unwrap();
    }
}

impl Drop for Cluster {
    fn drop(&mut self) {
        self.kill();
        let _ = std::fs::remove_dir_all(&self.0);
    }
}

struct Server {
    child: Child,
    address: String,
}

impl Server {
    fn start(database: &str) -> Self {
        let mut child = Command::new(env!("CARGO_BIN_EXE_usual-suspect"))
            .args(["serve", "--demo", "--port", "0"])
            .env("DATABASE_URL", database)
            .stdout(Stdio::piped())
            .spawn()
            .unwrap();
        let mut line = String::new();
        BufReader::new(child.stdout.take().unwrap())
            .read_line(&mut line)
            .unwrap();
        let address = line.trim().rsplit("http://").next().unwrap().to_string();
        Self { child, address }
    }

    /// One request over a plain connection: status line and headers, then body.
    fn ask(&self, request: &str) -> (String, String) {
        let mut stream = TcpStream::connect(&self.address).unwrap();
        stream.write_all(request.as_bytes()).unwrap();
        let mut answer = Vec::new();
        stream.read_to_end(&mut answer).unwrap();
        let answer = String::from_utf8_lossy(&answer).into_owned();
        let (head, body) = answer.split_once("\r\n\r\n").unwrap();
        (head.to_string(), body.to_string())
    }

    fn get(&self, path: &str) -> String {
        self.ask(&format!(
            "GET {path} HTTP/1.1\r\nHost: localhost\r\nConnection: close\r\n\r\n"
        ))
        .1
    }

    fn post(&self, path: &str, body: &str) -> String {
        let request = format!(
            "POST {path} HTTP/1.1\r\nHost: localhost\r\nConnection: close\r\nContent-Type: \
                application/x-www-form-urlencoded\r\nContent-Length: {}\r\n\r\n{body}",
            body.len()
        );
        self.ask(&request).0
    }
}

impl Drop for Server {
    fn drop(&mut self) {
        // SIGKILL: no time to tidy up.
        let _ = self.child.kill();
        let _ = self.child.wait();
    }
}

/// The value of the first hidden `seq` field.
fn seq(page: &str) -> u32 {
    page.split("name=\"seq\" value=\"")
        .nth(1)
        .unwrap()
        .split('"')
        .next()
        .unwrap()
        .parse()
        .unwrap()
}

#[test]
fn every_acknowledged_event_survives_kill_and_restart() {
    let folder = Path::new("/tmp").join(format!("us-kill-{}", std::process::id()));
    let cluster = Cluster(folder);
    let server = Server::start(&cluster.start());
    let floor = server.get("/");
    let case = floor
        .split("href=\"/cases/0")
        .nth(1)
        .unwrap()
        .split('"')
        .next()
        .unwrap();
    let case = format!("/cases/0{case}");
    let first = seq(&server.get(&case));
    for n in 0..5 {
        let answer = server.post(
            &format!("{case}/note"),
            &format!("seq={}&text=acknowledged+{n}", first + n),
        );
        assert!(answer.starts_with("HTTP/1.1 303"), "{answer}");
    }
    drop(server);
    cluster.kill();
    let server = Server::start(&cluster.start());
    let page = server.get(&case);
    for n in 0..5 {
        assert!(
            page.contains(&format!("acknowledged {n}")),
            "note {n} is lost"
        );
    }
    assert_eq!(seq(&page), first + 5);
    // The demo is loaded into an empty database only.
    assert_eq!(
        server.get("/").matches("class=\"case-strip").count(),
        floor.matches("class=\"case-strip").count()
    );
}
