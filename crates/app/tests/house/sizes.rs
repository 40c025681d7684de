//! No file and no function grows beyond what one can take in.

use super::source::{code, files, root};

const LONGEST_FILE: usize = 400;
const LONGEST_FUNCTION: usize = 60;
const LONGEST_LINE: usize = 100;
/// Steps of the database are never edited once shipped, drawings are as long as what they draw, and
/// a bench lists what it measures.
const EXEMPT: [&str; 3] = ["/migration/", "/drawing/", "/benches/"];

#[test]
fn files_are_short_and_lines_narrow() {
    let sources = files("crates", &["rs", "html"]);
    let own = files("assets/styles", &["css"]).into_iter();
    let scripts = files("assets/scripts", &["js"]);
    let shell = [
        "start",
        "test",
        "scripts/postgres",
        "bench/measure",
        "assets/vendor.sh",
    ]
    .map(|path| {
        (
            path.to_string(),
            std::fs::read_to_string(root().join(path)).unwrap(),
        )
    });
    let mut beyond = Vec::new();
    for (path, text) in sources.into_iter().chain(own).chain(scripts).chain(shell) {
        let many = text.lines().count();
        if many > LONGEST_FILE {
            beyond.push(format!("{path} has {many} lines"));
        }
        for (n, line) in text.lines().enumerate() {
            let wide = line.chars().count();
            // rustfmt leaves a literal that it cannot break; an address in a comment is one word.
            let word = line.trim().split(' ').count() == 1;
            if wide > LONGEST_LINE && !word {
                beyond.push(format!("{path}:{} has {wide} characters", n + 1));
            }
        }
    }
    assert!(beyond.is_empty(), "{}", beyond.join("\n"));
}

#[test]
fn functions_are_short() {
    let mut beyond = Vec::new();
    for (path, text) in files("crates", &["rs"]) {
        if EXEMPT.iter().any(|part| path.contains(part)) {
            continue;
        }
        let text = code(&text);
        let lines: Vec<&str> = text.lines().collect();
        for (at, line) in lines.iter().enumerate() {
            let indent = line.len() - line.trim_start().len();
            let head = line
                .trim_start()
                .trim_start_matches("pub ")
                .trim_start_matches("async ");
            let head = head
                .trim_start_matches("pub(super) ")
                .trim_start_matches("pub(crate) ");
            if !head.trim_start_matches("async ").starts_with("fn ") {
                continue;
            }
            let end = format!("{}}}", " ".repeat(indent));
            let many = lines[at..].iter().position(|l| *l == end).unwrap_or(0) + 1;
            if many > LONGEST_FUNCTION {
                beyond.push(format!("{path}:{} has {many} lines: {line}", at + 1));
            }
        }
    }
    assert!(beyond.is_empty(), "{}", beyond.join("\n"));
}
