//! What the documents say is true: commands, settings, routes, files, functions, dependencies.

use super::source::{files, root};
use std::collections::BTreeSet;
use std::fs;
use std::process::Command;

fn document(name: &str) -> String {
    fs::read_to_string(root().join(name)).unwrap()
}

/// Every document, by path.
fn documents() -> Vec<(String, String)> {
    let own = ["README.md", "CONTRIBUTING.md", "CHANGELOG.md"];
    let own = own.map(|name| (name.to_string(), document(name)));
    own.into_iter().chain(files("docs", &["md"])).collect()
}

/// What stands between backticks.
fn quoted(text: &str) -> Vec<&str> {
    let prose = text.split("```").step_by(2);
    prose
        .flat_map(|p| p.split('`').skip(1).step_by(2))
        .collect()
}

/// Lines between fences.
fn commands(text: &str) -> Vec<&str> {
    let fenced = text.split("```").skip(1).step_by(2);
    fenced
        .filter_map(|f| f.strip_prefix("sh\n"))
        .flat_map(str::lines)
        .collect()
}

fn help(of: &[&str]) -> String {
    let program = env!("CARGO_BIN_EXE_usual-suspect");
    let output = Command::new(program)
        .args(of)
        .arg("--help")
        .output()
        .unwrap();
    String::from_utf8(output.stdout).unwrap()
}

#[test]
fn every_command_and_option_named_is_one_of_the_program() {
    let mut tried = 0;
    for (path, text) in documents() {
        for line in commands(&text) {
            let line = line.split('#').next().unwrap();
            let Some(words) = line.split("usual-suspect ").nth(1) else {
                continue;
            };
            if line.contains("cargo ") {
                continue;
            }
            let words: Vec<&str> = words.split_whitespace().collect();
            let is_command = |w: &&&str| {
                let plain = |c: char| c.is_ascii_lowercase() || c == '-';
                !w.starts_with('-') && w.chars().all(plain)
            };
            let of: Vec<&str> = match words.first() {
                Some(&("knowledge" | "learn" | "records" | "trials" | "piece")) => {
                    words[..2].to_vec()
                }
                Some(&"gcode") if matches!(words[1], "compare" | "ladder") => words[..2].to_vec(),
                _ => words
                    .iter()
                    .take_while(is_command)
                    .take(1)
                    .copied()
                    .collect(),
            };
            let help = help(&of);
            assert!(help.contains("Usage: usual-suspect"), "{path}: {line}");
            for option in words.iter().filter(|w| w.starts_with("--")) {
                assert!(help.contains(option), "{path} names {option}: {line}");
            }
            tried += 1;
        }
    }
    assert!(tried > 8, "only {tried} commands were found");
}

#[test]
fn the_settings_are_those_of_the_program_and_of_start() {
    let readme = document("README.md");
    let table = readme.split("| setting").nth(1).unwrap();
    let table = table.split("\n\n").next().unwrap();
    let told: BTreeSet<String> = table
        .lines()
        .skip(2)
        .flat_map(|row| quoted(row.split('|').nth(1).unwrap_or("")))
        .map(|s| s.trim_end_matches("=1").to_string())
        .collect();
    let start = document("start");
    let serve = document("crates/app/src/serve.rs");
    let known = |name: &String| {
        serve.contains(&format!("env = \"{name}\"")) || start.contains(&format!("{{{name}:-"))
    };
    for name in &told {
        assert!(known(name) || name == "RUST_LOG", "{name} is no setting");
    }
    for (_, rest) in serve
        .match_indices("env = \"")
        .map(|(at, m)| serve.split_at(at + m.len()))
    {
        let name = rest.split('"').next().unwrap();
        assert!(told.contains(name), "README.md does not tell of {name}");
    }
}

#[test]
fn every_route_named_is_served() {
    let routes = ["routes.rs", "routes/people.rs", "routes/practice.rs"]
        .map(|f| document(&format!("crates/web/src/{f}")));
    let routes = routes.concat();
    let served: Vec<&str> = routes
        .split(".route(")
        .skip(1)
        .filter_map(|r| r.split('"').nth(1))
        .collect();
    let shape = |path: &str| -> Vec<String> {
        let path = path.split(['?', '#']).next().unwrap();
        let part = |p: &str| match p.starts_with('{') || p.chars().any(char::is_uppercase) {
            true => "*".to_string(),
            false => p.to_string(),
        };
        path.split('/').map(part).collect()
    };
    let mut tried = 0;
    for (path, text) in documents() {
        for word in quoted(&text) {
            let word = word.trim_start_matches("GET ").trim_start_matches("POST ");
            if !word.starts_with('/') || word.contains(' ') || word.starts_with("/static/") {
                continue;
            }
            // A device of the computer is no page.
            if word.starts_with("/dev/") {
                continue;
            }
            let there = served.iter().any(|s| shape(s) == shape(word));
            assert!(there, "{path} names {word}, which is not served");
            tried += 1;
        }
    }
    assert!(tried > 2, "only {tried} routes were found");
}

#[test]
fn every_file_named_exists() {
    let roots = ["", "docs/", "crates/web/src/", "crates/app/", "knowledge/"];
    let endings = [
        ".rs", ".md", ".js", ".css", ".html", ".sh", ".json", ".toml",
    ];
    for (path, text) in documents() {
        for word in quoted(&text) {
            let file = endings.iter().any(|e| word.ends_with(e)) && !word.contains([' ', '{', '*']);
            let whole = word.contains('/') || word.ends_with(".md");
            let made_up = word.chars().any(char::is_uppercase) && !word.ends_with(".md");
            if !file || !whole || made_up || word.contains("NAME") || word.contains("/cases/") {
                continue;
            }
            let there = roots
                .iter()
                .any(|r| root().join(format!("{r}{word}")).exists());
            assert!(there, "{path} names {word}");
        }
        for link in text
            .split("](")
            .skip(1)
            .map(|l| l.split(')').next().unwrap())
        {
            let folder = path.rsplit_once('/').map_or("", |(folder, _)| folder);
            let file = link.split('#').next().unwrap();
            let outside = link.contains("://") || file.is_empty();
            let there = outside || root().join(folder).join(file).exists();
            assert!(there, "{path} leads to {link}");
        }
    }
}

#[test]
fn the_walk_of_a_touch_names_real_functions() {
    let text = document("docs/ARCHITECTURE.md");
    let walk = text.split("## A touch").nth(1).unwrap();
    let walk = walk.split("\n## ").next().unwrap();
    let mut file: Option<String> = None;
    let mut found = 0;
    for word in quoted(walk) {
        let is_name = word.chars().all(|c| c.is_ascii_alphanumeric() || c == '_');
        if word.contains('/') && word.contains('.') {
            file = Some(word.to_string());
        } else if is_name {
            // "`name` in `file`" names the function first.
            let after = walk.split(&format!("`{word}` in `")).nth(1);
            let named = after.and_then(|a| a.split('`').next()).map(str::to_string);
            let file = named
                .or_else(|| file.clone())
                .expect("a file before its function");
            let source = document(&file);
            let declared = ["fn ", "function "].iter().any(|f| {
                ["(", "<"]
                    .iter()
                    .any(|end| source.contains(&format!("{f}{word}{end}")))
            });
            assert!(declared, "{file} has no function {word}");
            found += 1;
        }
    }
    assert!(found >= 18, "only {found} functions were found");
}

#[test]
fn every_dependency_has_its_reason_and_nothing_else_has() {
    let told = document("docs/DEPENDENCIES.md");
    let rows = told.lines().filter(|l| l.starts_with("| `"));
    let mut told: BTreeSet<String> = rows
        .flat_map(|row| quoted(row.split('|').nth(1).unwrap()))
        .map(str::to_string)
        .collect();
    let mut used = BTreeSet::new();
    for (path, text) in files("crates", &["toml"]) {
        if !path.ends_with("Cargo.toml") {
            continue;
        }
        let manifest: toml::Table = text.parse().unwrap();
        for section in ["dependencies", "dev-dependencies"] {
            let section = manifest.get(section).and_then(toml::Value::as_table);
            used.extend(section.into_iter().flat_map(|s| s.keys().cloned()));
        }
    }
    used.retain(|name| !name.starts_with("suspect-"));
    let package: serde_json::Value =
        serde_json::from_str(&document("assets/package.json")).unwrap();
    for section in ["dependencies", "devDependencies"] {
        used.extend(package[section].as_object().unwrap().keys().cloned());
    }
    for name in &used {
        assert!(
            told.remove(name),
            "docs/DEPENDENCIES.md gives no reason for {name}"
        );
    }
    assert!(told.is_empty(), "not used: {told:?}");
}
